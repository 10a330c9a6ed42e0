"""Green cover of the ground, from a photograph straight down."""
