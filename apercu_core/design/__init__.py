"""Planning a trial: randomisation, layout on the ground, and what the plan will be able to see."""
