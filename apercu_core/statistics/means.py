"""Estimated marginal means: equal weights over the other factors, covariates at their mean."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations, product

import numpy as np

from apercu_core.arrays import Bools, Floats, Ints
from apercu_core.statistics.inference import Inference
from apercu_core.statistics.model import Fitted, LinearModel, codes_of, sum_to_zero


@dataclass(frozen=True, slots=True)
class Family:
    """Means that are compared with each other, best estimates first to last in the order of `levels`.

    `factors`: (f,) names; `levels`: m tuples of levels; `within`: the site (and year) that all of them are at, if any;
    `functions`: (m, p) rows applied to the fixed effects; `mean`, `se`, `df`: (m,), NaN where an empty cell leaves a
    mean without an answer; `covariance`: (m, m), of the means, from the method's covariance of fixed effects.
    """

    factors: tuple[str, ...]
    levels: tuple[tuple[str, ...], ...]
    functions: Floats
    mean: Floats
    se: Floats
    df: Floats
    covariance: Floats
    within: tuple[tuple[str, str], ...] = ()

    @property
    def name(self) -> str:
        inside = ":".join(name for name, _ in self.within)
        return ":".join(self.factors) + (f"|{inside}" if inside else "")

    @property
    def estimable(self) -> Ints:
        """Indices of the means that have an answer."""
        return np.flatnonzero(np.isfinite(self.mean))

    @property
    def labels(self) -> tuple[str, ...]:
        return tuple(":".join(level) for level in self.levels)


def families_of(fit: Fitted, inference: Inference) -> tuple[Family, ...]:
    """One family for each treatment factor, each two-way table, and the full cells; then fixed sites, years, and the
    cells within each of them.
    """
    model = fit.model
    names = model.treatments
    sizes = sorted({1, min(2, len(names)), len(names)})
    families = [family_of(fit, inference, factors) for size in sizes for factors in combinations(names, size)]
    places = model.crossed[len(names) :]
    families += [family_of(fit, inference, (place,)) for place in places]
    if places:
        for levels in product(*(model.factors[place].levels for place in places)):
            families.append(family_of(fit, inference, names, tuple(zip(places, levels, strict=True))))
    return tuple(families)


def family_of(
    fit: Fitted, inference: Inference, factors: tuple[str, ...], within: tuple[tuple[str, str], ...] = ()
) -> Family:
    model = fit.model
    coded = mean_functions(model, factors, within)
    functions = coded[:, model.kept]
    has_answer = _estimable(model, coded)
    mean, se, df = (np.full(len(coded), np.nan) for _ in range(3))
    covariance = functions @ inference.covariance @ functions.T
    mean[has_answer] = functions[has_answer] @ fit.beta
    se[has_answer] = np.sqrt(np.diagonal(covariance)[has_answer])
    df[has_answer] = inference.df(functions[has_answer])
    levels = tuple(product(*(model.factors[name].levels for name in factors)))
    return Family(factors, levels, functions, mean, se, df, covariance, within)


def _estimable(model: LinearModel, coded: Floats) -> Bools:
    """Whether each row is a sum of rows of the model matrix, so that every way of estimating it agrees."""
    if not model.has_empty_cells:
        return np.ones(len(coded), dtype=bool)
    _, singular, right = np.linalg.svd(model.coded, full_matrices=False)
    space = right[singular > 1e-9 * singular[0]]
    outside = coded - (coded @ space.T) @ space
    out: Bools = np.linalg.norm(outside, axis=1) < 1e-8 * np.linalg.norm(coded, axis=1)
    return out


def mean_functions(model: LinearModel, factors: tuple[str, ...], within: tuple[tuple[str, str], ...] = ()) -> Floats:
    """Rows over all coded columns, shape (m, P), that turn fixed effects into means of the crossed levels of `factors`.

    With sum-to-zero coding a term whose factors aren't all in the family averages to nothing.
    """
    sizes = [len(model.factors[name]) for name in factors]
    here = [model.factors[name].levels.index(level) for name, level in within]
    grid = np.array([[*cell, *here] for cell in product(*(range(size) for size in sizes))])
    names = (*factors, *(name for name, _ in within))
    rows = np.zeros((len(grid), model.coded.shape[1]))
    rows[:, 0] = 1
    for term in model.terms:
        if not term.factors:
            rows[:, term.columns] = model.covariate_means[term.name]
        elif set(term.factors) <= set(names):
            at = [(names.index(name), len(model.factors[name])) for name in term.factors]
            rows[:, term.columns] = codes_of([sum_to_zero(size)[grid[:, i]] for i, size in at])
    return rows
