"""`./apercu plan`: a plan file in, its plots as CSV and GeoJSON out."""
