"""Counting on a photograph of a frame: straightened to its corners, marked plant by plant, counted again, suggested."""
