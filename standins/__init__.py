"""Simulated outside services and devices. The application knows only their protocols (docs/), never these rooms."""
