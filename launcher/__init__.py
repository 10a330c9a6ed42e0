"""Sets up and starts Apercu. Standard library only: it runs before anything is installed."""
