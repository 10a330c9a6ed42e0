"""The command `cover`."""
