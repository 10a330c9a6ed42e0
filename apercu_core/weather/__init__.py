"""Daily weather at a station: what is missing, what earlier years were like, and what a period had."""
