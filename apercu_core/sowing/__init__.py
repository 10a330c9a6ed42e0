"""Seed into plots: what each plot gets, what is ordered, in which order it is drilled, and what was really sown."""
