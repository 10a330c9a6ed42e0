"""Every numeric trigger of a doubt, in one place."""

OUTLIER_P = 0.05
"""Bonferroni p of an externally studentized residual below which a plot stands out."""

TEN_FOLD_WITHIN = 0.1
"""|log₁₀(value / median of its treatment)| within this of 1 looks like a slipped decimal point."""

SPREAD_SLOPE = 0.7
"""Slope of log standard deviation on log mean over treatments (Taylor, 1961, Nature 189, 732–735)."""

SPREAD_RATIO = 3.0
"""Largest over smallest standard deviation of a treatment."""

SPREAD_MEAN_RATIO = 1.5
"""Largest over smallest treatment mean: below it, spread can't be told to grow with the mean."""

LOSS_AT_LEAST = 2
"""Plots that one treatment must have lost."""

LOSS_SHARE = 2 / 3
"""Share of all lost plots that belong to that treatment."""

UNEVEN_SUBSAMPLES = 2 / 3
"""Fewest over most subsamples per plot, at or below which plots are sampled unevenly."""

SAME_ORDER_BLOCKS = 3
"""Blocks with one and the same order of treatments that chance would hardly give (with 3 treatments, 1 in 36)."""
