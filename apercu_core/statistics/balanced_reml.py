"""REML of many balanced trials at once: variances of the strata, held at zero where they would fall below it.

In a balanced design the restricted likelihood is that of independent mean squares, each a scaled χ²:
−½ Σ fₖ (log λₖ + MSₖ/λₖ), with the expected mean squares λ = Aθ linear in the variance components θ ≥ 0. Where no
component falls below zero, λₖ = MSₖ: Searle, Casella and McCulloch (1992), *Variance Components*, section 4.3.
"""

from __future__ import annotations

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.model import LinearModel

_MOST_STEPS = 100
_HALVINGS = 12
_TOLERANCE = 1e-12


def expectations(model: LinearModel, rests: list[Floats]) -> Floats:
    """A, shape (strata, components): how much of each component an expected mean square holds; plots' own come last."""
    groupings = [np.eye(int(s.codes.max()) + 1)[s.codes] for s in model.strata]
    columns = [[float(np.square(z.T @ rest).sum() / rest.shape[1]) for rest in rests] for z in groupings]
    return np.column_stack([*[np.array(column) for column in columns], np.ones(len(rests))])


def held_squares(squares: Floats, dfs: Floats, expected: Floats) -> Floats:
    """λ at the REML estimates, shape (strata, runs); `squares`: mean squares, shape (strata, runs)."""
    wrong = np.flatnonzero((np.linalg.solve(expected, squares) < 0).any(axis=0))
    if not len(wrong):
        return squares
    out = squares.copy()
    held = _pooled if _is_nested(expected) else _scored
    out[:, wrong] = held(squares[:, wrong], dfs, expected)
    return out


def _is_nested(expected: Floats) -> bool:
    """Whether each stratum holds all that the next one holds, so that θ ≥ 0 says λ₁ ≥ λ₂ ≥ …"""
    k = len(expected)
    inside = np.triu(np.ones((k, k)))  # component j is in the strata up to its own
    return bool(np.allclose(expected, inside * expected[0], rtol=1e-9, atol=1e-9 * expected.max()))


def _pooled(squares: Floats, dfs: Floats, expected: Floats) -> Floats:
    """Mean squares that violate their order are pooled with their neighbours: the exact maximum.

    Robertson, Wright and Dykstra (1988), *Order Restricted Statistical Inference*, section 1.5: λ at rank i is the
    least, over starts up to i, of the greatest pooled square over ends from i on.
    """
    sums = np.vstack([np.zeros(squares.shape[1]), np.cumsum(dfs[:, None] * squares, axis=0)])
    weights = np.concatenate([[0.0], np.cumsum(dfs)])
    k = len(dfs)
    out = np.empty_like(squares)
    for i in range(k):
        over_ends = [
            np.max([(sums[end] - sums[start]) / (weights[end] - weights[start]) for end in range(i + 1, k + 1)], axis=0)
            for start in range(i + 1)
        ]
        out[i] = np.min(over_ends, axis=0)
    return out


def _scored(squares: Floats, dfs: Floats, expected: Floats) -> Floats:
    """Crossed strata: projected scoring, all runs at once; a step that doesn't climb is halved."""
    weight = dfs[:, None]
    theta = np.maximum(np.linalg.solve(expected, squares), 0.02 * squares[-1])
    reached = _likelihood(expected @ theta, squares, weight)
    for _ in range(_MOST_STEPS):
        fitted = expected @ theta
        score = expected.T @ (weight * (squares - fitted) / fitted**2)
        free = (theta > 0) | (score > 0)
        if np.abs(np.where(free, score * theta, 0.0)).max() < _TOLERANCE * dfs.sum():
            break
        information = np.einsum("ki,kr,kj->rij", expected, weight / fitted**2, expected)
        both = free.T[:, :, None] & free.T[:, None, :]
        information = np.where(both, information, np.eye(len(theta)))
        step = np.linalg.solve(information, np.where(free, score, 0.0).T[:, :, None])[:, :, 0].T
        share = np.ones(theta.shape[1])
        for _ in range(_HALVINGS):
            moved = np.maximum(theta + share * step, 0.0)
            climbed = _likelihood(expected @ moved, squares, weight)
            worse = climbed < reached - 1e-13 * np.abs(reached)
            if not worse.any():
                break
            share = np.where(worse, share / 2, share)
        theta, reached = np.where(worse, theta, moved), np.where(worse, reached, climbed)
    out: Floats = expected @ theta
    return out


def _likelihood(fitted: Floats, squares: Floats, weight: Floats) -> Floats:
    """Shape (runs,); −∞ where a mean square would be expected at zero or less."""
    with np.errstate(divide="ignore", invalid="ignore"):
        each = weight * (np.log(fitted) + squares / fitted)
    out: Floats = np.where((fitted > 0).all(axis=0), -0.5 * each.sum(axis=0), -np.inf)
    return out
