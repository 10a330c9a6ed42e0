"""REML of many balanced trials at once: variances of the strata, held at zero where they would fall below it.

In a balanced design the restricted likelihood is that of independent mean squares, each a scaled χ²:
−½ Σ fₖ (log λₖ + MSₖ/λₖ), with the expected mean squares λ = Aθ linear in the variance components θ ≥ 0. Where no
component falls below zero, λₖ = MSₖ: Searle, Casella and McCulloch (1992), *Variance Components*, section 4.3.
"""

from __future__ import annotations

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.model import LinearModel

_STEPS = 150


def expectations(model: LinearModel, rests: list[Floats]) -> Floats:
    """A, shape (strata, components): how much of each component an expected mean square holds; plots' own come last."""
    groupings = [np.eye(int(s.codes.max()) + 1)[s.codes] for s in model.strata]
    columns = [[float(np.square(z.T @ rest).sum() / rest.shape[1]) for rest in rests] for z in groupings]
    return np.column_stack([*[np.array(column) for column in columns], np.ones(len(rests))])


def held_squares(squares: Floats, dfs: Floats, expected: Floats) -> Floats:
    """λ at the REML estimates, shape (strata, runs); `squares`: mean squares, shape (strata, runs).

    Where a component would be below zero, the likelihood is climbed by steps that never leave θ ≥ 0: Zhou, Hu, Zhou and
    Lange (2019), Journal of Computational and Graphical Statistics 28, 350–361.
    """
    out = squares.copy()
    free = np.linalg.solve(expected, squares)
    wrong = np.flatnonzero((free < 0).any(axis=0))
    if not len(wrong):
        return out
    seen, weight = squares[:, wrong], dfs[:, None]
    theta = np.maximum(free[:, wrong], 0.02 * seen[-1])
    for _ in range(_STEPS):
        fitted = expected @ theta
        theta = theta * np.sqrt((expected.T @ (weight * seen / fitted**2)) / (expected.T @ (weight / fitted)))
    out[:, wrong] = expected @ theta
    return out
