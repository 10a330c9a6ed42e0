"""Readings in plain words."""
