"""What is common to analyses whose models have a link and whose comparisons are on the scale of the measure."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Bools, Floats
from apercu_core.statistics.comparisons import Pairs, chosen_pairs
from apercu_core.statistics.diagnostics import Diagnostics
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.fitted import percent_of
from apercu_core.statistics.generalised import LinkFit, LinkInference
from apercu_core.statistics.inference import FTest, Inference
from apercu_core.statistics.means import Family
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.plots import Plots
from apercu_core.statistics.response_scale import ResponseMeans, equivalence_in_response
from apercu_core.statistics.scales import Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence, Specification


@dataclass(frozen=True, slots=True, kw_only=True)
class ResponseAnalysis(ABC):
    """As `Analysis`, with one stratum of error, in the unit of the measure.

    `df`: of every comparison; `dispersion`: the variance over what the family expects. `none_found`: treatment → what
    was searched (area, or how many were examined), where the model has no interval of its own.
    """

    specification: Specification
    plots: Plots
    fit: LinkFit
    means: ResponseMeans
    df: float
    dispersion: float
    anova: dict[str, FTest]
    families: tuple[Family, ...]
    pairs: tuple[Pairs, ...]
    letters: tuple[tuple[str, ...], ...]
    diagnostics: Diagnostics
    none_found: dict[str, float]

    @property
    @abstractmethod
    def grand_mean(self) -> float:
        """The mean over all plots, in the measure's unit."""

    @abstractmethod
    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        """The pairs by another method."""

    @property
    @abstractmethod
    def assumed(self) -> str:
        """The distribution that was said to hold, empty where how much plots vary is estimated."""

    @property
    def model(self) -> LinearModel:
        return self.fit.model

    @property
    def scale(self) -> Scale:
        return self.means.scale

    @property
    def coefficients(self) -> Floats:
        return self.fit.beta

    @property
    def inference(self) -> Inference:
        return LinkInference(self.fit.phi, self.fit.beta, self.df)

    @property
    def residual_sd(self) -> float:
        n, p = self.model.x.shape
        return float(np.sqrt((self.diagnostics.residuals**2).sum() / (n - p)))

    @property
    def cv_percent(self) -> float:
        return percent_of(self.residual_sd, self.grand_mean)

    @property
    def converged(self) -> bool:
        return True

    @property
    def variance_components(self) -> dict[str, float]:
        return {}

    def value_without_interval(self, treatment: str) -> float:
        return 0.0

    def anova_by_stratum(self, term: str) -> dict[str, FTest]:
        return {}

    def interval_with(self, pair: int, plots: float, critical: float) -> tuple[float, float]:
        pairs = self.pairs[0]
        return self.means.with_plots(plots).difference(int(pairs.a[pair]), int(pairs.b[pair]), critical)

    def mean_intervals(self, critical: Floats) -> tuple[Floats, Floats]:
        return self.means.intervals(critical)

    def equivalence_with(self, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
        """Planned tests of each mean against the control that `asked` names."""
        others, _ = chosen_pairs(self.means.in_response(), asked.control)
        return equivalence_in_response(self.means, np.full(len(others), self.df), asked)


def without_treatments(model: LinearModel) -> tuple[Bools, int]:
    """Which columns of the model are left without its treatments, (p,), and how many are gone."""
    term = next(t for t in model.terms if t.name == model.treatments[0])
    left = np.array([j not in range(term.columns.start, term.columns.stop) for j in range(model.x.shape[1])])
    return left, term.columns.stop - term.columns.start
