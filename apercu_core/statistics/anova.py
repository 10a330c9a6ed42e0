"""Tests of whole terms, contrasts and covariate slopes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.distributions import t_quantile, t_two_sided
from apercu_core.statistics.inference import FTest, Inference
from apercu_core.statistics.means import Family
from apercu_core.statistics.model import LinearModel, Term, sum_to_zero
from apercu_core.statistics.reml import Fit
from apercu_core.statistics.specification import Contrast


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


def type_three(fit: Fit, inference: Inference) -> dict[str, FTest]:
    """Each fixed term adjusted for all others (sum-to-zero coding: its own coefficients are zero)."""
    return {term.name: inference.f_test(_term_functions(fit.model, term)) for term in fit.model.terms}


def _term_functions(model: LinearModel, term: Term) -> Floats:
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


def estimate_function(name: str, row: Floats, fit: Fit, inference: Inference, alpha: float) -> Estimate:
    value = float(row @ fit.beta)
    se = float(np.sqrt(row @ inference.covariance @ row))
    df = float(inference.df(row[None, :])[0])
    half = float(t_quantile(alpha / 2, df)) * se
    return Estimate(name, value, se, df, value / se, float(t_two_sided(value / se, df)), value - half, value + half)


def contrast(asked: Contrast, cells: Family, fit: Fit, inference: Inference, alpha: float) -> Estimate:
    """A weighted sum of treatment cells. Raises `Refused` for a label that isn't a cell."""
    for label in asked.weights:
        if label not in cells.labels:
            raise Refused(
                "bad-specification",
                f"Contrast {asked.name!r} weighs {label!r}, which isn't a treatment: {', '.join(cells.labels)}.",
            )
    row = np.zeros(fit.model.x.shape[1])
    for label, weight in asked.weights.items():
        row += weight * cells.functions[cells.labels.index(label)]
    if not row.any():
        raise Refused("bad-specification", f"All weights of contrast {asked.name!r} are zero.")
    return estimate_function(asked.name, row, fit, inference, alpha)


def slopes(fit: Fit, inference: Inference, alpha: float) -> tuple[Estimate, ...]:
    """The covariates' slopes."""
    identity = np.eye(fit.model.x.shape[1])
    return tuple(
        estimate_function(term.name, identity[term.columns.start], fit, inference, alpha)
        for term in fit.model.terms
        if not term.factors
    )
