"""What brings an operation on: stage, degree days, height, biomass or soil temperature, and when that is expected."""
