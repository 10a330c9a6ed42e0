"""Correlations of contrasts in nested groups, and the exact probability that all of them are small.

Comparisons of a split plot's treatments with a control share the control's plot, and those of one whole-plot level
share its whole plots: Dᵢ = λᵢU + μᵢV_g + rest, with one U and a V for each group. Given U the groups are independent,
and given V_g so are the contrasts in a group: a nested integral. Comparisons with a control for each level of another
factor are the same without U.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics.quadrature import half_normal_axis, normal_axis

_SAME = 1e-9


@dataclass(frozen=True, slots=True)
class Group:
    """`many` contrasts with loading `common` on U and `own` on the group's V."""

    many: int
    common: float
    own: float


def nested_groups(correlation: Floats) -> tuple[Group, ...] | None:
    """The groups of a correlation matrix, shape (m, m), that is exactly nested; None where it isn't.

    Contrasts belong to one group if they have the same correlation with every other contrast.
    """
    members = _alike(correlation)
    if len(members) < 2:
        return None
    between = np.array([[correlation[g[0], h[0]] for h in members] for g in members])
    for a, g in enumerate(members):
        for b, h in enumerate(members):
            if a != b and np.abs(correlation[np.ix_(g, h)] - between[a, b]).max() > _SAME:
                return None
    within = np.array([correlation[g[0], g[1]] if len(g) > 1 else 1.0 for g in members])
    common = _common_loadings(between, within)
    if common is None:
        return None
    groups = []
    for a, g in enumerate(members):
        own = within[a] - common[a] ** 2 if len(g) > 1 else 0.0
        if own < -_SAME or common[a] ** 2 + max(own, 0.0) > 0.999:
            return None
        # To twelve digits, so that groups which are alike are worked out once.
        groups.append(Group(len(g), round(float(common[a]), 12), round(float(np.sqrt(max(own, 0.0))), 12)))
    return tuple(groups)


def _alike(correlation: Floats) -> list[list[int]]:
    m = len(correlation)
    members: list[list[int]] = []
    for i in range(m):
        for group in members:
            rest = [k for k in range(m) if k not in (i, group[0])]
            if np.abs(correlation[i, rest] - correlation[group[0], rest]).max(initial=0.0) < _SAME:
                group.append(i)
                break
        else:
            members.append([i])
    return members


def _common_loadings(between: Floats, within: Floats) -> Floats | None:
    """λ with λ_g λ_h the correlation between groups g and h; None where no such λ are."""
    n = len(between)
    off = between[~np.eye(n, dtype=bool)]
    if np.abs(off).max() < _SAME:
        return np.zeros(n)
    if off.min() <= 0:
        return None
    if n == 2:
        r = float(off[0])
        least, most = r * r / within[1], within[0]
        first = np.sqrt(np.sqrt(least * most)) if least <= most else np.nan
        return np.array([first, r / first]) if np.isfinite(first) else None
    i, j, k = np.arange(n), np.arange(n) - 1, np.arange(n) - 2
    loadings: Floats = np.sqrt(between[i, j] * between[i, k] / between[j, k])
    product = np.outer(loadings, loadings)
    return loadings if np.abs((product - between)[~np.eye(n, dtype=bool)]).max() < _SAME else None


def _step(steepness: float, many: int) -> float:
    """The step of the axis of one normal variable, for an error of 1e-7 (compared with steps of 0.03).

    `steepness`: the slope of the edges of `many` contrasts along it, in standard deviations of what is left of them.
    The product of many steps is steeper, as the largest of many values spreads less. Down to hundredths: axes are kept.
    """
    steep = steepness**2 * (1 + 2 * np.log(many))
    return max(float(np.floor(100 * 1.03 / np.sqrt(1 + steep))), 4.0) / 100


def inside_probability(at: Floats, groups: tuple[Group, ...]) -> Floats:
    """P(all |Dᵢ| ≤ x sd(Dᵢ)) at each x > 0 of `at`, shape (q,), for contrasts in nested groups.

    U and −U give the same, so that half of its axis is enough.
    """
    steepest = max(group.common / np.sqrt(1 - group.common**2) for group in groups)
    many = sum(group.many for group in groups)
    u, wu = half_normal_axis(_step(steepest, many)) if steepest else (np.zeros(1), np.ones(1))
    inside = np.ones((len(at), len(u)))
    edge = at[:, None, None]
    for group, times in Counter(groups).items():
        rest = np.sqrt(1 - group.common**2 - group.own**2)
        v, weights = normal_axis(_step(group.own / rest, group.many)) if group.own else (np.zeros(1), np.ones(1))
        middle = (group.common * u[:, None] + group.own * v)[None]
        each = special.ndtr((middle + edge) / rest) - special.ndtr((middle - edge) / rest)
        inside *= ((each**group.many) @ weights) ** times
    out: Floats = inside @ wu
    return out
