"""The rules by which the guide judges a species for a wish: a small module for each subject."""
