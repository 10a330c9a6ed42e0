"""Seed, sowing and timing: the calculations of a season, each its own module."""
