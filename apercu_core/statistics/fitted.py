"""What the analysis of every family answers: the interface that readings rest on."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Protocol

from apercu_core.arrays import Floats
from apercu_core.statistics.comparisons import Pairs
from apercu_core.statistics.diagnostics import Diagnostics
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.inference import FTest, Inference
from apercu_core.statistics.means import Family
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.plots import Plots
from apercu_core.statistics.scales import Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence, Specification


class FittedAnalysis(Protocol):
    """A fitted model with its means, comparisons and tests; means and pairs are in the measure's unit.

    `coefficients`: shape (p,), on `scale`, which leads from the measure to the scale that the model is fitted on and
    back; `inference`: of their linear functions. `residual_sd`: how much plots vary beyond treatments, blocks and
    strata, in the measure's unit. `none_found`: treatment → what was searched (an area, or how many were examined),
    where nothing (or, of k of n, everything) was found and the model has no interval. `assumed`: the distribution that
    counts were said to have, empty where how much they vary is estimated. `variance_components`: those that have the
    unit of the measure.
    """

    @property
    def specification(self) -> Specification: ...
    @property
    def plots(self) -> Plots: ...
    @property
    def model(self) -> LinearModel: ...
    @property
    def scale(self) -> Scale: ...
    @property
    def coefficients(self) -> Floats: ...
    @property
    def inference(self) -> Inference: ...
    @property
    def residual_sd(self) -> float: ...
    @property
    def diagnostics(self) -> Diagnostics:
        """Residuals among them, on the scale that they are best judged on."""

    @property
    def converged(self) -> bool:
        """Whether the likelihood was at its highest when the search ended. Fits by scoring refuse where it wasn't."""

    @property
    def families(self) -> tuple[Family, ...]: ...
    @property
    def pairs(self) -> tuple[Pairs, ...]: ...
    @property
    def letters(self) -> tuple[tuple[str, ...], ...]: ...
    @property
    def anova(self) -> Mapping[str, FTest]: ...
    @property
    def grand_mean(self) -> float: ...
    @property
    def cv_percent(self) -> float: ...
    @property
    def none_found(self) -> dict[str, float]: ...
    @property
    def assumed(self) -> str: ...
    @property
    def variance_components(self) -> dict[str, float]: ...
    def value_without_interval(self, treatment: str) -> float:
        """Of a treatment in `none_found`, in the measure's unit: 0, or 100 % where all were found."""

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        """The pairs of the first family by another method."""

    def equivalence_with(self, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
        """Planned tests of each mean of the first family against the control that `asked` names."""

    def interval_with(self, pair: int, plots: float, critical: float) -> tuple[float, float]:
        """The interval of a pair of the first family as `plots` times as many plots would have it."""

    def mean_intervals(self, critical: Floats) -> tuple[Floats, Floats]:
        """Ends of each mean's interval, shape (m,) each; `critical`: (m,), half-widths in standard errors."""

    def anova_by_stratum(self, term: str) -> dict[str, FTest]:
        """Tests of a term in each stratum that it lies in, empty where one test is all."""


class NoneSetApart:
    """Of analyses in which every treatment has an interval, and no distribution is assumed."""

    __slots__ = ()

    @property
    def none_found(self) -> dict[str, float]:
        return {}

    def value_without_interval(self, treatment: str) -> float:
        raise KeyError(treatment)

    @property
    def assumed(self) -> str:
        return ""


def percent_of(sd: float, mean: float) -> float:
    """Coefficient of variation, %; meaningless (infinite) about a mean of zero."""
    return 100 * sd / mean if mean else float("inf")


def residual_df(analysis: FittedAnalysis) -> int:
    """How many degrees of freedom the plots leave beyond the fixed effects."""
    n, p = analysis.model.x.shape
    return int(n - p)
