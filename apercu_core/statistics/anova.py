"""Tests of whole terms, contrasts and covariate slopes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.distributions import t_quantile, t_two_sided
from apercu_core.statistics.inference import FTest, Inference
from apercu_core.statistics.means import Family
from apercu_core.statistics.model import Fitted, LinearModel, Term, sum_to_zero
from apercu_core.statistics.reml import RemlFit
from apercu_core.statistics.specification import Contrast, JointContrast


@dataclass(frozen=True, slots=True)
class Estimate:
    """A linear function with its t test and 1 − α interval, in the response's unit (a slope: per covariate unit)."""

    name: str
    estimate: float
    se: float
    df: float
    t: float
    p: float
    lower: float
    upper: float


def type_three(fit: RemlFit, inference: Inference) -> dict[str, FTest]:
    """Each fixed term adjusted for all others (sum-to-zero coding: its own coefficients are zero)."""
    return {term.name: inference.f_test(term_functions(fit.model, term)) for term in fit.model.terms}


def term_functions(model: LinearModel, term: Term) -> Floats:
    """Rows, shape (q, p), that a term makes zero: differences from the first plot's level, crossed.

    Any basis gives the same F by least squares or Kenward–Roger. Satterthwaite's pooled df depend on it a little
    (third digit): the reference numbers take differences from the level that is listed first.
    """
    rows = np.zeros((term.columns.stop - term.columns.start, model.x.shape[1]))
    own = np.ones((1, 1))
    for name in term.factors:
        factor = model.factors[name]
        coding, first = sum_to_zero(len(factor)), factor.codes[0]
        own = np.kron(own, np.delete(coding, first, axis=0) - coding[first])
    rows[:, term.columns] = own
    return rows


def interaction_of_all(fit: RemlFit, inference: Inference) -> dict[str, FTest]:
    """Everything beyond the main effects, tested at once: what an incomplete crossing can still be asked."""
    model = fit.model
    main = [0]
    for term in model.terms:
        if len(term.factors) < 2:
            main += range(term.columns.start, term.columns.stop)
    within, *_ = np.linalg.lstsq(model.x, model.coded[:, main], rcond=None)
    left, singular, _ = np.linalg.svd(within, full_matrices=True)
    outside = left[:, int((singular > 1e-9 * singular[0]).sum()) :].T
    return {":".join(model.crossed): inference.f_test(outside)} if len(outside) else {}


def estimate_function(name: str, row: Floats, fit: Fitted, inference: Inference, alpha: float) -> Estimate:
    value = float(row @ fit.beta)
    se = float(np.sqrt(row @ inference.covariance @ row))
    df = float(inference.df(row[None, :])[0])
    half = float(t_quantile(alpha / 2, df)) * se
    return Estimate(name, value, se, df, value / se, float(t_two_sided(value / se, df)), value - half, value + half)


def contrast(asked: Contrast, cells: Family, fit: Fitted, inference: Inference, alpha: float) -> Estimate:
    """A weighted sum of treatment cells. Raises `Refused` for a label that isn't a cell."""
    return estimate_function(asked.name, _contrast_function(asked, cells), fit, inference, alpha)


def joint_contrast(asked: JointContrast, cells: Family, inference: Inference) -> FTest:
    """Whether all parts are zero. Parts that say the same are counted once."""
    rows = np.array([_contrast_function(part, cells) for part in asked.parts])
    _, singular, right = np.linalg.svd(rows, full_matrices=False)
    return inference.f_test(right[singular > 1e-9 * singular[0]])


def _contrast_function(asked: Contrast, cells: Family) -> Floats:
    row = np.zeros(cells.functions.shape[1])
    for label, weight in asked.weights.items():
        if label not in cells.labels:
            raise Refused(
                "bad-specification",
                f"Contrast {asked.name!r} weighs {label!r}, which isn’t a treatment: {', '.join(cells.labels)}.",
            )
        at = cells.labels.index(label)
        if weight and at not in cells.estimable:
            raise Refused("bad-specification", f"Contrast {asked.name!r} weighs {label!r}, which has no plot.")
        row += weight * cells.functions[at]
    if not row.any():
        raise Refused("bad-specification", f"All weights of contrast {asked.name!r} are zero.")
    return row


def slopes(fit: Fitted, inference: Inference, alpha: float) -> tuple[Estimate, ...]:
    """The covariates' slopes."""
    identity = np.eye(fit.model.x.shape[1])
    return tuple(
        estimate_function(term.name, identity[term.columns.start], fit, inference, alpha)
        for term in fit.model.terms
        if not term.factors
    )
