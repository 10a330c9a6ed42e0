"""What ships with the guide, as tables: a line per species, a bar between fields, - where it isn't known."""
