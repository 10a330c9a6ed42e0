"""Every numeric trigger of a doubt, in one place."""

OUTLIER_P = 0.05
"""Bonferroni p of an externally studentized residual, plots and measures allowed for: below it, a plot stands out."""

TEN_FOLD_WITHIN = 0.1
"""|log₁₀(value / median of its treatment)| within this of 1 looks like a slipped decimal point."""

TEN_FOLD_P = 0.2
"""Bonferroni p over the plots, below which the fit doesn't explain the value: plots that vary much have small ones."""

SPREAD_P = 0.035
"""One-sided p of a variance that grows with the mean, measures allowed for. Means are estimates, which makes the test
find a little too much: at 0.05 it would be raised on 6 to 7 % of clean boards of six measures whose means differ.
"""

LOSS_P = 0.05
"""Hypergeometric tail of a treatment's lost plots, treatments and measures allowed for."""

BEYOND_SHARE = 0.1
"""Share of plots beyond what was measured, above which no mean of the measure can be trusted."""

FEW_DF = 30
"""Degrees of freedom below which a distribution of counts that is assumed finds too many differences."""

UNEVEN_SUBSAMPLES = 2 / 3
"""Fewest over most subsamples per plot, at or below which plots are sampled unevenly."""

SAME_ORDER_BLOCKS = 3
"""Blocks with one and the same order of treatments that chance would hardly give (with 3 treatments, 1 in 36)."""

SOWN_OFF = 0.10
"""Share off the intended rate from which a sowing is another rate; thumb."""
SOWN_DEPTHS_APART_CM = 1.5
"""Between the shallowest and the deepest sowing; thumb."""
KILL_INCOMPLETE = 0.10
"""Share of a cover that lives after its kill, above which a second pass is wanted and a doubt raised, as long as a
trial sets no other; thumb.
"""
