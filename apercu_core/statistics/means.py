"""Estimated marginal means: equal weights over the other factors, covariates at their mean."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations, product

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.inference import Inference
from apercu_core.statistics.model import LinearModel, codes_of, sum_to_zero
from apercu_core.statistics.reml import Fit


@dataclass(frozen=True, slots=True)
class Family:
    """Means that are compared with each other, best estimates first to last in the order of `levels`.

    `factors`: (f,) names; `levels`: m tuples of levels; `functions`: (m, p) rows applied to the fixed effects;
    `mean`, `se`, `df`: (m,); `covariance`: (m, m), of the means, from the method's covariance of fixed effects.
    """

    factors: tuple[str, ...]
    levels: tuple[tuple[str, ...], ...]
    functions: Floats
    mean: Floats
    se: Floats
    df: Floats
    covariance: Floats

    @property
    def name(self) -> str:
        return ":".join(self.factors)

    @property
    def labels(self) -> tuple[str, ...]:
        return tuple(":".join(level) for level in self.levels)


def families_of(fit: Fit, inference: Inference) -> tuple[Family, ...]:
    """One family for each treatment factor, each two-way table, and the full cells."""
    names = fit.model.treatments
    sizes = sorted({1, min(2, len(names)), len(names)})
    return tuple(family_of(fit, inference, factors) for size in sizes for factors in combinations(names, size))


def family_of(fit: Fit, inference: Inference, factors: tuple[str, ...]) -> Family:
    functions = mean_functions(fit.model, factors)
    covariance = functions @ inference.covariance @ functions.T
    return Family(
        factors,
        tuple(product(*(fit.model.factors[name].levels for name in factors))),
        functions,
        functions @ fit.beta,
        np.sqrt(np.diagonal(covariance)),
        inference.df(functions),
        covariance,
    )


def mean_functions(model: LinearModel, factors: tuple[str, ...]) -> Floats:
    """Rows, shape (m, p), that turn fixed effects into means of the crossed levels of `factors`.

    With sum-to-zero coding a term whose factors aren't all in the family averages to nothing.
    """
    sizes = [len(model.factors[name]) for name in factors]
    grid = np.array(list(product(*(range(size) for size in sizes))))
    rows = np.zeros((len(grid), model.x.shape[1]))
    rows[:, 0] = 1
    for term in model.terms:
        if not term.factors:
            rows[:, term.columns] = model.covariate_means[term.name]
        elif set(term.factors) <= set(factors):
            at = [factors.index(name) for name in term.factors]
            rows[:, term.columns] = codes_of([sum_to_zero(sizes[i])[grid[:, i]] for i in at])
    return rows
