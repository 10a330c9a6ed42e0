"""When things are due: dates that hang on other operations."""
