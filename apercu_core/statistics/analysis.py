"""The whole analysis of one response: the recipe, and its result as a value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.statistics.anova import Estimate, contrast, slopes, type_three
from apercu_core.statistics.comparisons import Pairs, compare
from apercu_core.statistics.diagnostics import Diagnostics, diagnose
from apercu_core.statistics.equivalence import EquivalenceTest, equivalence_tests
from apercu_core.statistics.inference import FTest, Inference, choose_inference
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import Family, families_of
from apercu_core.statistics.model import build_model
from apercu_core.statistics.plots import Plots, Row, plots_of
from apercu_core.statistics.reml import Fit, fit_reml
from apercu_core.statistics.specification import Specification


@dataclass(frozen=True, slots=True)
class Analysis:
    """Everything that was computed. `pairs` and `letters` run beside `families`; letters are empty for Dunnett."""

    specification: Specification
    plots: Plots
    fit: Fit
    inference: Inference
    anova: dict[str, FTest]
    families: tuple[Family, ...]
    pairs: tuple[Pairs, ...]
    letters: tuple[tuple[str, ...], ...]
    contrasts: tuple[Estimate, ...]
    covariates: tuple[Estimate, ...]
    equivalence: tuple[EquivalenceTest, ...]
    diagnostics: Diagnostics

    @property
    def grand_mean(self) -> float:
        return float(self.plots.response.mean())

    @property
    def cv_percent(self) -> float:
        """Coefficient of variation of plots, %; meaningless (infinite) about a mean of zero."""
        mean = self.grand_mean
        return float(100 * np.sqrt(self.fit.theta[-1]) / mean) if mean else float("inf")

    @property
    def at_zero(self) -> tuple[str, ...]:
        """Variance components that were estimated at zero."""
        return tuple(name for name, value in self.fit.variance_components.items() if value <= 0)


def analyse(rows: Sequence[Row], spec: Specification) -> Analysis:
    """Analyse rows as the design says. Raises `Refused` with the reason when no honest answer exists."""
    plots = plots_of(rows, spec)
    fit = fit_reml(build_model(plots, spec))
    inference = choose_inference(fit, spec.df_method)
    families = families_of(fit, inference)
    with_letters = spec.comparison.method != "dunnett"
    against = None if with_letters else spec.comparison.control
    pairs = tuple(compare(f, inference, spec.comparison, against=against) for f in families)
    alpha = spec.comparison.alpha
    return Analysis(
        specification=spec,
        plots=plots,
        fit=fit,
        inference=inference,
        anova=type_three(fit, inference),
        families=families,
        pairs=pairs,
        letters=tuple(letters(p) for p in pairs) if with_letters else (),
        contrasts=tuple(contrast(c, families[-1], fit, inference, alpha) for c in spec.contrasts),
        covariates=slopes(fit, inference, alpha),
        equivalence=equivalence_tests(families[0], inference, spec.equivalence) if spec.equivalence else (),
        diagnostics=diagnose(fit),
    )
