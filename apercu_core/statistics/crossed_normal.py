"""Comparisons of a strip plot's cells with a control cell, and the probability that all of them are small.

A contrast is Dᵢⱼ = (Rᵢ − R₀) + (Cⱼ − C₀) + (eᵢⱼ − e₀₀). Given R₀, e₀₀ and all Cⱼ, the cells of the control's row are
independent, and so are the other rows, each an integral over its own Rᵢ. What is left is an integral over R₀, over what
the cells of each column share, and over the estimated standard deviation. All are smooth, and taken by the trapezoid
rule (see `quadrature`).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics.quadrature import normal_axis

MOST_NODES = 20_000
LEAST_WEIGHT = 1e-6
_REACH = 5.2
_SAME = 1e-8


@dataclass(frozen=True, slots=True)
class Strips:
    """`rows` ≥ `columns`: how many strips of each, the control's among them; variances up to a common factor."""

    rows: int
    columns: int
    between_rows: float
    between_columns: float
    within: float


def crossed_strips(covariance: Floats) -> Strips | None:
    """The strips whose cells have these contrasts with one of them, shape (m, m); None where they aren't crossed,
    or where the integral would take too long.

    Two cells differ by 2(σ²_r + σ²_c + σ²), by less where they share a row or a column.
    """
    m = len(covariance) + 1
    with_control = np.zeros((m, m))
    with_control[1:, 1:] = covariance
    each = np.diagonal(with_control)
    apart = (each[:, None] + each - 2 * with_control) / 2
    off = ~np.eye(m, dtype=bool)
    values = np.unique(np.round(apart[off] / apart.max(), 7)) * apart.max()
    if len(values) != 3:
        return None
    groups = [_shared(np.isclose(apart, value, rtol=1e-6) & off) for value in values[:2]]
    if any(group is None for group in groups):
        return None
    (first, n_first), (second, n_second) = (group for group in groups if group is not None)
    if n_first * n_second != m or len(set(zip(first, second, strict=True))) != m:
        return None
    # cells that share a unit of the first kind differ by the variance of the other kind, and the plots'
    within = values[0] + values[1] - values[2]
    if within <= _SAME * values[2]:
        return None
    kinds = sorted([(n_first, values[2] - values[0]), (n_second, values[2] - values[1])], key=lambda kind: -kind[0])
    found = Strips(kinds[0][0], kinds[1][0], float(kinds[0][1]), float(kinds[1][1]), float(within))
    return found if nodes(found) <= MOST_NODES else None


def _shared(alike: Floats) -> tuple[list[int], int] | None:
    """The group of each cell, where `alike` says that two of one group are; None where it isn't transitive."""
    linked = alike | np.eye(len(alike), dtype=bool)
    kinds: dict[bytes, int] = {}
    of = [kinds.setdefault(row.tobytes(), len(kinds)) for row in linked]
    sizes = {of.count(group) for group in kinds.values()}
    return (of, len(kinds)) if sizes == {int(linked[0].sum())} else None


def inside_probability(at: Floats, strips: Strips) -> Floats:
    """P(all |Dᵢ| ≤ x sd(Dᵢ)) at each x > 0 of `at`, shape (q,), with an error below 1e-4."""
    rows, columns = strips.rows, strips.columns
    r, c, e = (float(np.sqrt(v)) for v in (strips.between_rows, strips.between_columns, strips.within))
    k, weight = _shared_by_columns(columns, c, e)
    step = _step(e / r)
    own, density = normal_axis(step)
    half = len(own) // 2
    both = np.arange(-2 * half, 2 * half + 1) * step * r  # −R₀ + Rᵢ
    shifted = np.zeros((len(both), len(own)))
    for i in range(len(own)):
        shifted[i : i + len(own), i] = density
    middle = [k[:, j, None] + both for j in range(columns)]
    spread = [np.sqrt(2 * (r * r + (c * c if j else 0.0) + e * e)) for j in range(columns)]
    found = []
    for x in at:
        edge = x * np.sqrt(2 * (c * c + e * e))
        inside = (special.ndtr((edge - k[:, 1:]) / e) - special.ndtr((-edge - k[:, 1:]) / e)).prod(axis=1)
        each = np.ones((len(k), len(both)))
        for j in range(columns):
            each *= special.ndtr((x * spread[j] - middle[j]) / e) - special.ndtr((-x * spread[j] - middle[j]) / e)
        found.append(float((inside * ((each @ shifted) ** (rows - 1) @ density)) @ weight))
    return np.array(found)


def nodes(strips: Strips) -> int:
    """How many points the integral over what columns share takes; the time grows with them."""
    e = float(np.sqrt(strips.within))
    return round(
        (2 * _REACH / _column_step(strips.columns, float(np.sqrt(strips.between_columns)), e)) ** strips.columns
    )


def _step(width: float) -> float:
    """Of the trapezoid rule for functions of this width: its error falls with exp(−2π²·(width / step)²)."""
    return float(np.clip(1.8 * width, 0.1, 0.9))


def _column_step(columns: int, c: float, e: float) -> float:
    return _step(e / float(np.sqrt(np.linalg.eigvalsh(_column_covariance(columns, c, e)).max())))


def _column_covariance(columns: int, c: float, e: float) -> Floats:
    """Of Kⱼ = Cⱼ − C₀ − e₀₀, shape (columns, columns)."""
    away = np.diag(np.r_[0.0, np.ones(columns - 1)])
    out: Floats = np.full((columns, columns), e * e) + c * c * (away @ np.ones((columns, columns)) @ away + away)
    return out


def _shared_by_columns(columns: int, c: float, e: float) -> tuple[Floats, Floats]:
    """Points of K, shape (q, columns), and their weights; points that hardly weigh are left out."""
    step = _column_step(columns, c, e)
    axis = np.arange(-round(_REACH / step), round(_REACH / step) + 1) * step
    grid = np.stack(np.meshgrid(*[axis] * columns, indexing="ij"), axis=-1).reshape(-1, columns)
    weight = np.exp(-0.5 * (grid**2).sum(axis=1))
    kept = weight > LEAST_WEIGHT
    return grid[kept] @ np.linalg.cholesky(_column_covariance(columns, c, e)).T, weight[kept] / weight[kept].sum()
