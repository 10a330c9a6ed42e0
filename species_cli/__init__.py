"""`./apercu species`: a wish in, species out, without a server."""
