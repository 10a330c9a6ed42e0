"""`./apercu table`: a file in, JSON out, without a server."""
