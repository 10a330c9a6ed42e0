"""The whole analysis of one response: the recipe, and its result as a value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.anova import (
    Estimate,
    contrast,
    interaction_of_all,
    joint_contrast,
    slopes,
    term_functions,
    type_three,
)
from apercu_core.statistics.classical import ClassicalStrata, fit_strata
from apercu_core.statistics.comparisons import Pairs, compare
from apercu_core.statistics.diagnostics import NOT_DIAGNOSED, Diagnostics, diagnose
from apercu_core.statistics.equivalence import EquivalenceTest, equivalence_tests
from apercu_core.statistics.fitted import NoneSetApart, percent_of
from apercu_core.statistics.inference import FTest, Inference, choose_inference
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import Family, families_of, family_of
from apercu_core.statistics.model import LinearModel, build_model
from apercu_core.statistics.plots import Plots, Row, plots_of
from apercu_core.statistics.reml import RemlFit, fit_reml
from apercu_core.statistics.scales import IDENTITY, SCALES, Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence, Specification


@dataclass(frozen=True, slots=True)
class Analysis(NoneSetApart):
    """Everything that was computed. `pairs` and `letters` run beside `families`; letters are empty for Dunnett.

    `anova_additive`: the main effects without interaction, where empty cells leave them no other test.
    """

    specification: Specification
    plots: Plots
    fit: RemlFit
    inference: Inference
    anova: dict[str, FTest]
    anova_additive: dict[str, FTest]
    families: tuple[Family, ...]
    pairs: tuple[Pairs, ...]
    letters: tuple[tuple[str, ...], ...]
    contrasts: tuple[Estimate, ...]
    joint_contrasts: dict[str, FTest]
    covariates: tuple[Estimate, ...]
    equivalence: tuple[EquivalenceTest, ...]
    diagnostics: Diagnostics

    @property
    def grand_mean(self) -> float:
        return float(self.plots.response.mean())

    @property
    def cv_percent(self) -> float:
        return percent_of(self.residual_sd, self.grand_mean)

    @property
    def scale(self) -> Scale:
        """On which scale the numbers are, and the way back to the response."""
        name = self.specification.transform
        return IDENTITY if name == "none" else SCALES[name]

    @property
    def model(self) -> LinearModel:
        return self.fit.model

    @property
    def coefficients(self) -> Floats:
        return self.fit.beta

    @property
    def residual_sd(self) -> float:
        return self.fit.residual_sd

    @property
    def converged(self) -> bool:
        return self.fit.converged

    @property
    def variance_components(self) -> dict[str, float]:
        return self.fit.variance_components

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        """The pairs of the first family by another method."""
        return compare(self.families[0], self.inference, comparison, against=against)

    def equivalence_with(self, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
        """Planned tests against a control of the first family."""
        return equivalence_tests(self.families[0], self.inference, asked)

    def interval_with(self, pair: int, plots: float, critical: float) -> tuple[float, float]:
        pairs = self.pairs[0]
        estimate, half = float(pairs.estimate[pair]), critical * float(pairs.se[pair]) / np.sqrt(plots)
        return estimate - half, estimate + half

    def mean_intervals(self, critical: Floats) -> tuple[Floats, Floats]:
        family = self.families[0]
        return family.mean - critical * family.se, family.mean + critical * family.se

    def anova_by_stratum(self, term: str) -> dict[str, FTest]:
        """By classical strata, treatments have a test in each stratum that they differ in."""
        if not isinstance(self.inference, ClassicalStrata):
            return {}
        found = next(one for one in self.model.terms if one.name == term)
        return self.inference.by_stratum(term_functions(self.model, found))

    @property
    def at_zero(self) -> tuple[str, ...]:
        """Variance components that were estimated at zero."""
        return tuple(name for name, value in self.fit.variance_components.items() if value <= 0)


def analyse(rows: Sequence[Row], spec: Specification) -> Analysis:
    """Analyse rows as the design says. Raises `Refused` with the reason when no honest answer exists."""
    return analyse_plots(plots_of(rows, spec), spec)


def analyse_plots(plots: Plots, spec: Specification, *, diagnosed: bool = True) -> Analysis:
    """As `analyse`, of plots; without letters and diagnostics, which take half of the time, where nobody asks for them.

    Raises `Refused` as `analyse` does.
    """
    plots = transformed(plots, spec)
    fit, inference = _fitted(plots, spec)
    families = families_of(fit, inference)
    with_letters = spec.comparison.method != "dunnett"
    control = None if with_letters else spec.comparison.control
    _require_level(control, families, "comparison.control")
    pairs = tuple(compare(f, inference, spec.comparison, against=control) for f in families)
    with_letters &= diagnosed
    alpha = spec.comparison.alpha
    empty = fit.model.has_empty_cells
    cells = family_of(fit, inference, fit.model.treatments)
    return Analysis(
        specification=spec,
        plots=plots,
        fit=fit,
        inference=inference,
        anova=interaction_of_all(fit, inference) if empty else type_three(fit, inference),
        anova_additive=_additive(plots, spec) if empty else {},
        families=families,
        pairs=pairs,
        letters=tuple(letters(p) for p in pairs) if with_letters else (),
        contrasts=tuple(contrast(c, cells, fit, inference, alpha) for c in spec.contrasts),
        joint_contrasts={joint.name: joint_contrast(joint, cells, inference) for joint in spec.joint_contrasts},
        covariates=slopes(fit, inference, alpha),
        equivalence=_equivalence(spec.equivalence, families, inference) if spec.equivalence else (),
        diagnostics=diagnose(fit) if diagnosed else NOT_DIAGNOSED,
    )


def transformed(plots: Plots, spec: Specification) -> Plots:
    """The plots on the scale of the analysis. Raises `Refused` for a value that the transform can't take."""
    if spec.transform == "none":
        return plots
    least, most, said = _DOMAIN[spec.transform]
    y = plots.response
    outside = (y < least) | (y > most) | ((y == least) & (spec.transform in ("log", "logit", "log1p")))
    if spec.transform == "logit":
        outside |= y == most
    if outside.any():
        at = int(np.flatnonzero(outside)[0])
        raise Refused(
            "bad-value",
            f"Row {int(plots.row_of[at]) + 2}: {spec.response!r} is {y[at]:g}, but the {spec.transform} transform "
            f"takes {said}.",
        )
    return replace(plots, response=SCALES[spec.transform].forward(y))


_DOMAIN = {
    "log": (0.0, np.inf, "values above 0"),
    "log1p": (-1.0, np.inf, "values above -1"),
    "sqrt": (0.0, np.inf, "values from 0"),
    "arcsine_sqrt": (0.0, 1.0, "proportions from 0 to 1"),
    "logit": (0.0, 1.0, "proportions between 0 and 1"),
}


def _fitted(plots: Plots, spec: Specification) -> tuple[RemlFit, Inference]:
    model = build_model(plots, spec)
    if spec.df_method == "containment_anova" and model.strata:
        return fit_strata(model)
    fit = fit_reml(model)
    return fit, choose_inference(fit, spec.df_method)


def _additive(plots: Plots, spec: Specification) -> dict[str, FTest]:
    return type_three(*_fitted(plots, replace(spec, max_interaction=1)))


def _require_level(label: Against | None, families: Sequence[Family], what: str) -> None:
    if isinstance(label, str) and not any(label in family.labels for family in families):
        there = ", ".join(families[0].labels)
        raise Refused("bad-specification", f"{what} {label!r} isn’t among the levels of {families[0].name}: {there}.")


def _equivalence(asked: Equivalence, families: Sequence[Family], inference: Inference) -> tuple[EquivalenceTest, ...]:
    _require_level(asked.control, families, "equivalence.control")
    return equivalence_tests(next(f for f in families if asked.control in f.labels), inference, asked)
