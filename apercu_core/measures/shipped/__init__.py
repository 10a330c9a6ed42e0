"""The measures of the catalogue, a room for each thing that they are measured on."""
