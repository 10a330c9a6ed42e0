"""Margins in per cent of the control: by the contrast ȳ_t − (1 ± m) ȳ_c with its own standard error.

The control's mean is estimated too. Taken as fixed, a trial would call a difference at the margin clear more often than
it promises (Hauschke, Kieser and Hothorn 1999, Biometrical Journal 41, 295–304).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from apercu_core.reading.controls import Controls
from apercu_core.statistics.analysis import Analysis
from apercu_core.statistics.comparisons import Pairs
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.statistics.response_scale import ResponseMeans
from apercu_core.verdicts.verdict import AgainstMargin


@dataclass(frozen=True, slots=True)
class PercentMargin:
    """`share`: of the control's mean, above 0."""

    share: float
    controls: Controls

    def ends(
        self, analysis: FittedAnalysis, pairs: Pairs, i: int, sign: int, critical: float, plots: float = 1.0
    ) -> AgainstMargin | None:  # fmt: skip
        """Where the contrasts of pair `i` lie, `plots` times as many plots given. None where the comparison is of
        ratios, in which the margin has no error, or where means on another scale have several controls.
        """
        treatment, control = (pairs.a[i], pairs.b[i]) if sign > 0 else (pairs.b[i], pairs.a[i])
        if isinstance(analysis, Analysis):
            low, high = (self._linear(analysis, int(treatment), int(control), s, plots) for s in (-1, 1))
            (at_low, se_low), (at_high, se_high) = low, high
            return AgainstMargin(
                below=at_low + critical * se_low <= 0,
                above=at_high - critical * se_high >= 0,
                within=at_low - critical * se_low >= 0 and at_high + critical * se_high <= 0,
            )
        means: ResponseMeans | None = getattr(analysis, "means", None)
        if means is None or getattr(analysis, "ratios_to", None) or self.controls.per_level:
            return None
        means = means.with_plots(plots)
        t, c = int(treatment), int(control)
        above, below_top = means.difference(t, c, critical, 1 + self.share)
        if self.share >= 1:  # what can't be below zero can't fall by so much
            return AgainstMargin(below=False, above=above >= 0, within=below_top <= 0)
        bottom, below = means.difference(t, c, critical, 1 - self.share)
        return AgainstMargin(below=below <= 0, above=above >= 0, within=bottom >= 0 and below_top <= 0)

    def _linear(self, analysis: Analysis, treatment: int, control: int, side: int, plots: float) -> tuple[float, float]:
        """Estimate and standard error of ȳ_t − ȳ_c ∓ m ȳ, ȳ of the control or the mean of several."""
        family = analysis.families[0]
        of = [family.labels.index(one) for one in self.controls.all if one in family.labels]
        margin = self.share * family.functions[of].mean(0)
        function = family.functions[treatment] - family.functions[control] - side * margin
        estimate = float(family.mean[treatment] - family.mean[control] - side * self.share * family.mean[of].mean())
        variance = float(function @ analysis.inference.covariance @ function)
        return estimate, float(np.sqrt(max(variance, 0.0) / plots))
