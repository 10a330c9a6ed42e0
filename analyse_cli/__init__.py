"""`./apercu analyse`: files in, JSON out. The only place where files meet the core without a server."""
