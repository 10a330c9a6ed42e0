"""A table of daily weather → days, with what only a person can settle."""
