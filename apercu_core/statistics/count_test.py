"""Whether counts differ: least squares, or the mixed model of the design, on a scale that steadies their spread.

No interval of a difference of densities both covers and sees weeds vanish: a mean near zero has no lower end to speak
of on a log scale. So whether there is a difference is asked here, and how large it is of `densities`. The scale is
Anscombe's for counts with variance μ + αμ² (Anscombe 1948, Biometrika 35, 246–254; Laubscher 1961, Annals of
Mathematical Statistics 32, 1105–1111), α by moments. Level and power by simulation: docs/counts.md.
"""

from __future__ import annotations

import contextlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from apercu_core.arrays import Bools, Floats, Ints
from apercu_core.errors import Refused
from apercu_core.statistics.analysis import Analysis, analyse_plots
from apercu_core.statistics.comparisons import Pairs, adjusted_p, chosen_pairs, compare
from apercu_core.statistics.distributions import f_upper, t_two_sided
from apercu_core.statistics.plots import Plots
from apercu_core.statistics.specification import ONE_STRATUM, Against, Comparison, Specification

MOST_ALPHA = 4.0
"""Counts that vary more are too few to tell how much they vary."""
LEAST_SPACE = 0.25
"""1 − ¾α is held above this: below it the scale isn't defined, and any rising one keeps the level of the test."""
NEAR_ZERO_COUNT, NEAR_ZERO_SHARE = 3.0, 0.1
"""A treatment is near zero with a mean count below this times 1 + α, and below this share of the highest: its plots
hardly vary, and would make others look more certain than they are. Chosen by simulation.
"""
_SWEEPS, _SETTLED = 200, 1e-10


UNEVEN_P = 0.1
"""p of an F ratio of variances below which a treatment varies more than the others even on this scale, as where half
of its plots are empty for a reason of their own: its comparisons are judged by its own spread.
"""


@dataclass(frozen=True, slots=True)
class CountTest:
    """`on_scale`: the analysis of the steadied counts, all treatments; `others`: that of the treatments that aren't
    near zero, where some are and some aren't. `alpha`: of the variance μ + αμ². `uneven`: treatments that vary more
    than the others, each with its own variance and the degrees of freedom of it; `rest`: the same of the others.
    """

    alpha: float
    on_scale: Analysis
    others: Analysis | None
    uneven: Mapping[str, tuple[float, float]]
    rest: tuple[float, float]

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        """Pairs on the steadied scale. Two treatments that aren't near zero are compared by their own spread alone; one
        that isn't with one that is by no less than its own.
        """
        family = self.on_scale.families[0]
        pairs = compare(family, self.on_scale.inference, replace(comparison, method="lsd"), against=against)
        estimate, se, df = pairs.estimate.copy(), pairs.se.copy(), pairs.df.copy()
        if self.others is not None:
            self._by_their_own(pairs, estimate, se, df, self.others)
        self._by_each_own(pairs, se, df)
        a, b = chosen_pairs(family, against)
        functions = family.functions[a] - family.functions[b]
        covariance = functions @ self.on_scale.inference.covariance @ functions.T
        t = estimate / se
        raw = t_two_sided(t, df)
        p = adjusted_p(comparison, t, df, raw, covariance, len(family.estimable))
        return replace(pairs, method=comparison.method, estimate=estimate, se=se, df=df, t=t, p=p, p_raw=raw)

    def _by_each_own(self, pairs: Pairs, se: Floats, df: Floats) -> None:
        """Where a treatment varies more than others, variances apart: Welch (1947), Biometrika 34, 28–35."""
        labels, number = pairs.family.labels, dict(zip(*self._plots_of_each(), strict=True))
        for i, (a, b) in enumerate(zip(pairs.a.tolist(), pairs.b.tolist(), strict=True)):
            if not {labels[a], labels[b]} & set(self.uneven):
                continue
            parts = []
            for label in (labels[a], labels[b]):
                variance, own_df = self.uneven.get(label, self.rest)
                parts.append((variance / number[label], own_df))
            total = sum(part for part, _ in parts)
            if total > se[i] ** 2:
                se[i] = np.sqrt(total)
                df[i] = min(df[i], total**2 / sum(part**2 / own for part, own in parts))

    def _plots_of_each(self) -> tuple[tuple[str, ...], list[int]]:
        factor = self.on_scale.plots.factors[self.on_scale.specification.treatments[0]]
        return factor.levels, np.bincount(factor.codes).tolist()

    def _by_their_own(self, pairs: Pairs, estimate: Floats, se: Floats, df: Floats, others: Analysis) -> None:
        """Change what is judged by the spread of the treatments that aren't near zero."""
        family, own = pairs.family, others.families[0]
        at = np.array([own.labels.index(label) if label in own.labels else -1 for label in family.labels])
        for i, (a, b) in enumerate(zip(at[pairs.a].tolist(), at[pairs.b].tolist(), strict=True)):
            if a >= 0 and b >= 0:
                function = own.functions[a] - own.functions[b]
                estimate[i] = own.mean[a] - own.mean[b]
                se[i] = np.sqrt(function @ others.inference.covariance @ function)
                df[i] = others.inference.df(function[None, :])[0]
            elif a >= 0 or b >= 0:
                se[i] = max(se[i], float(own.se[max(a, b)]))


def count_test(plots: Plots, spec: Specification) -> CountTest:
    """Test counts (`plots.response`, with their exposure) of one list of treatments. Raises `Refused` as `analyse`."""
    alpha, _ = moments(plots, spec)
    area = np.ones(len(plots)) if plots.exposure is None else plots.exposure
    common = float(area.mean())
    steady = steadied(plots.response * common / area, alpha)
    on_scale = replace(plots, response=steady, exposure=None)
    plain = Comparison("lsd", None, spec.comparison.alpha)  # pairs are made by `compared`
    normal = replace(
        spec, response="value", family="normal", exposure=None, trials=None, subsample=None, plot=None,
        comparison=plain,
    )  # fmt: skip
    whole = analyse_plots(on_scale, normal, diagnosed=False)
    near = _near_zero(plots, spec, plots.response / area * common, alpha)
    others = None
    if near.any() and spec.design in ONE_STRATUM:
        with contextlib.suppress(Refused):  # there is only one, or these few don't vary at all
            others = analyse_plots(on_scale.where(~near), normal, diagnosed=False)
    uneven, rest = _uneven(whole if others is None else others)
    return CountTest(alpha, whole, others, uneven, rest)


def _uneven(analysis: Analysis) -> tuple[dict[str, tuple[float, float]], tuple[float, float]]:
    """Treatments whose residuals are larger than the others', with variance and df; and those of the others."""
    factor = analysis.plots.factors[analysis.specification.treatments[0]]
    q, _ = np.linalg.qr(analysis.model.x)
    residual = analysis.model.y - q @ (q.T @ analysis.model.y)
    free = 1 - (q**2).sum(1)  # of each plot's degree of freedom, what the model leaves
    square, df = np.bincount(factor.codes, residual**2), np.bincount(factor.codes, free)
    out: dict[str, tuple[float, float]] = {}
    for code, level in enumerate(factor.levels):
        others_df, others_square = df.sum() - df[code], square.sum() - square[code]
        if len(factor) < 3 or df[code] < 1 or others_df < 1 or others_square <= 0:
            continue
        ratio = square[code] / df[code] / (others_square / others_df)
        if f_upper(float(ratio), float(df[code]), float(others_df)) < UNEVEN_P:
            out[level] = (float(square[code] / df[code]), float(df[code]))
    at = ~np.isin(factor.levels, list(out))
    left = float(df[at].sum())
    return out, (float(square[at].sum()) / left if left > 0 else 0.0, max(left, 1.0))


def _near_zero(plots: Plots, spec: Specification, counts: Floats, alpha: float) -> Bools:
    """Which plots are of a treatment near zero, (n,). `counts`: as of the mean area."""
    codes = plots.factors[spec.treatments[0]].codes
    means = np.bincount(codes, counts) / np.bincount(codes)
    near = (means < NEAR_ZERO_COUNT * (1 + alpha)) & (means < NEAR_ZERO_SHARE * means.max())
    out: Bools = near[codes]
    return out


def steadied(counts: Floats, alpha: float) -> Floats:
    """asinh √(α(y + ⅜)/(1 − ¾α)) / √α, √(y + ⅜) for α → 0; shape as given."""
    if alpha < 1e-6:
        return np.asarray(np.sqrt(counts + 0.375), float)
    inside = alpha * (counts + 0.375) / max(1 - 0.75 * alpha, LEAST_SPACE)
    return np.asarray(np.arcsinh(np.sqrt(inside)) / np.sqrt(alpha), float)


def moments(plots: Plots, spec: Specification) -> tuple[float, Floats]:
    """α of the variance μ + αμ² by moments, between 0 and `MOST_ALPHA`, and what is expected in each plot, (n,).

    α = Σ((y − m)² n/df − m) / Σm², with m the product of what treatment, and block (or row and column), have: treatment
    total × block total / grand total where every block holds every treatment.
    """
    area = np.ones(len(plots)) if plots.exposure is None else plots.exposure
    names = [*spec.treatments, *(name for name in (spec.block, spec.row, spec.column) if name in plots.factors)]
    groups = [plots.factors[name].codes for name in names if name]
    expected = _product(plots.response, area, groups)
    effects = 1 + sum(int(codes.max()) for codes in groups)
    df = max(len(plots) - effects, 1)
    square = float((expected**2).sum())
    if square <= 0:
        return 0.0, expected
    left = ((plots.response - expected) ** 2 * len(plots) / df - expected).sum()
    return float(np.clip(left / square, 0.0, MOST_ALPHA)), expected


def _product(y: Floats, area: Floats, groups: Sequence[Ints]) -> Floats:
    """area × a factor of each group, whose totals are those of y: proportional fitting, in one sweep where complete."""
    expected: Floats = area * (y.sum() / area.sum())
    for _ in range(_SWEEPS):
        before = expected
        for codes in groups:
            total, fitted = np.bincount(codes, y), np.bincount(codes, expected)
            share = np.divide(total, fitted, out=np.zeros_like(total), where=fitted > 0)
            expected = expected * share[codes]
        if np.abs(expected - before).max() <= _SETTLED * max(float(expected.max()), 1e-300):
            break
    return expected
