"""A camera over a quadrat: photographs of made-up ground whose cover and plants are known."""
