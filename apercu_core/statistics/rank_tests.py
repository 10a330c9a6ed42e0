"""Tests on ranks: Friedman in blocks, Kruskal–Wallis without, and their pairs.

Hollander, Wolfe and Chicken (2014), *Nonparametric Statistical Methods*, chapters 3, 4, 6 and 7; ties are
corrected for.
Pairs by Wilcoxon's tests in the normal approximation with continuity correction, and by Dunn (1964), Technometrics
6, 241–252.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import numpy as np
from scipy import special

from apercu_core.arrays import Floats, Ints
from apercu_core.errors import Refused
from apercu_core.statistics.distributions import chi_square_upper


@dataclass(frozen=True, slots=True)
class RankTest:
    """`kendall_w`, `blocks`: of Friedman's test; blocks that lack a treatment are left out."""

    test: Literal["friedman", "kruskal_wallis"]
    statistic: float
    df: int
    p: float
    mean_ranks: Floats
    kendall_w: float | None = None
    blocks: int | None = None


@dataclass(frozen=True, slots=True)
class RankPair:
    """Treatments by index; `p`: Holm-adjusted."""

    a: int
    b: int
    statistic: float
    p_raw: float
    p: float


@dataclass(frozen=True, slots=True)
class DunnPair:
    a: int
    b: int
    estimate: float
    se: float
    z: float
    p_raw: float
    p: float


def ranks_of(values: Floats) -> Floats:
    """Ranks from 1, ties shared, shape (n,)."""
    _, inverse, counts = np.unique(values, return_inverse=True, return_counts=True)
    last = np.cumsum(counts)
    out: Floats = (last - (counts - 1) / 2)[inverse]
    return out


def _ties(values: Floats) -> float:
    _, counts = np.unique(values, return_counts=True)
    return float((counts.astype(float) ** 3 - counts).sum())


def complete_blocks(values: Floats, treatment: Ints, block: Ints) -> Floats:
    """The values as blocks × treatments, shape (b, k), blocks that lack a treatment left out."""
    k = int(treatment.max()) + 1
    rows = []
    for b in np.unique(block):
        here = block == b
        if len(set(treatment[here].tolist())) == k == int(here.sum()):
            rows.append(values[here][np.argsort(treatment[here])])
    if len(rows) < 2:
        raise Refused("too-few-plots", "Fewer than two blocks have every treatment once, so ranks can’t be compared.")
    return np.array(rows)


def friedman(table: Floats) -> RankTest:
    """`table`: shape (b, k), one value of each treatment in each block."""
    n, k = table.shape
    ranks = np.array([ranks_of(row) for row in table])
    sums = ranks.sum(0)
    denominator = n * k * (k + 1) - sum(_ties(row) for row in table) / (k - 1)
    if denominator <= 0:
        raise Refused("no-variation", "All values of each block are equal, so there are no ranks to compare.")
    statistic = float(12 * ((sums - n * (k + 1) / 2) ** 2).sum() / denominator)
    p = chi_square_upper(statistic, k - 1)
    return RankTest("friedman", statistic, k - 1, p, sums / n, statistic / (n * (k - 1)), n)


def kruskal_wallis(values: Floats, treatment: Ints) -> RankTest:
    n, k = len(values), int(treatment.max()) + 1
    ranks = ranks_of(values)
    sums = np.bincount(treatment, ranks, k)
    counts = np.bincount(treatment, minlength=k)
    correction = 1 - _ties(values) / (n**3 - n)
    if correction <= 0:
        raise Refused("no-variation", "All values are equal, so there are no ranks to compare.")
    statistic = float((12 / (n * (n + 1)) * (sums**2 / counts).sum() - 3 * (n + 1)) / correction)
    return RankTest("kruskal_wallis", statistic, k - 1, chi_square_upper(statistic, k - 1), sums / counts)


def signed_rank_pairs(table: Floats) -> tuple[RankPair, ...]:
    found = [(a, b, *_signed_rank(table[:, a] - table[:, b])) for a, b in combinations(range(table.shape[1]), 2)]
    return _with_holm(found)


def rank_sum_pairs(values: Floats, treatment: Ints) -> tuple[RankPair, ...]:
    groups = [values[treatment == i] for i in range(int(treatment.max()) + 1)]
    return _with_holm([(a, b, *_rank_sum(groups[a], groups[b])) for a, b in combinations(range(len(groups)), 2)])


def _signed_rank(differences: Floats) -> tuple[float, float]:
    d = differences[differences != 0]
    n = len(d)
    if not n:
        return 0.0, 1.0
    ranks = ranks_of(np.abs(d))
    statistic = float(ranks[d > 0].sum())
    sigma = np.sqrt(n * (n + 1) * (2 * n + 1) / 24 - _ties(np.abs(d)) / 48)
    return statistic, _two_sided(statistic - n * (n + 1) / 4, float(sigma))


def _rank_sum(a: Floats, b: Floats) -> tuple[float, float]:
    both = np.concatenate([a, b])
    n, m, total = len(a), len(b), len(both)
    statistic = float(ranks_of(both)[:n].sum() - n * (n + 1) / 2)
    sigma = np.sqrt(n * m / 12 * (total + 1 - _ties(both) / (total * (total - 1))))
    return statistic, _two_sided(statistic - n * m / 2, float(sigma))


def _two_sided(distance: float, sigma: float) -> float:
    """p in the normal approximation, half a unit taken off for continuity."""
    if sigma <= 0:
        return 1.0
    z = (distance - np.sign(distance) * 0.5) / sigma
    return float(min(1.0, 2 * min(special.ndtr(z), special.ndtr(-z))))


def _with_holm(found: list[tuple[int, int, float, float]]) -> tuple[RankPair, ...]:
    adjusted = holm(np.array([p for *_, p in found]))
    return tuple(RankPair(a, b, s, p, float(q)) for (a, b, s, p), q in zip(found, adjusted, strict=True))


def dunn_pairs(values: Floats, treatment: Ints) -> tuple[DunnPair, ...]:
    n, k = len(values), int(treatment.max()) + 1
    ranks = ranks_of(values)
    counts = np.bincount(treatment, minlength=k)
    means = np.bincount(treatment, ranks, k) / counts
    variance = n * (n + 1) / 12 - _ties(values) / (12 * (n - 1))
    found = []
    for a, b in combinations(range(k), 2):
        se = float(np.sqrt(variance * (1 / counts[a] + 1 / counts[b])))
        estimate = float(means[a] - means[b])
        found.append((a, b, estimate, se, estimate / se, float(2 * special.ndtr(-abs(estimate / se)))))
    adjusted = holm(np.array([one[-1] for one in found]))
    return tuple(DunnPair(*one, float(q)) for one, q in zip(found, adjusted, strict=True))


def holm(raw: Floats) -> Floats:
    """Holm's stepwise adjustment: Holm (1979), Scandinavian Journal of Statistics 6, 65–70."""
    order = np.argsort(raw, kind="stable")
    m = len(raw)
    stepped = np.minimum(1, np.maximum.accumulate(raw[order] * (m - np.arange(m))))
    out = np.empty(m)
    out[order] = stepped
    return out
