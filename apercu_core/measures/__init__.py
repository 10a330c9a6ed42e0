"""What is counted and weighed: sheets that turn entries into values, and the catalogue of measures that use them."""
