"""Growth stages of covers and crops: what they are called, which a plant has, and when the next ones come."""
