"""What is known of cover crop species, what fits a purpose and a place, and what a mix of them is."""
