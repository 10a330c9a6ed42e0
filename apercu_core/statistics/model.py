"""Plots and design → the linear model: fixed terms with sum-to-zero coding, and the strata of error."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from itertools import combinations
from typing import Protocol

import numpy as np

from apercu_core.arrays import Floats, Ints
from apercu_core.errors import Refused
from apercu_core.statistics.covariance import Stratum
from apercu_core.statistics.plots import Factor, Plots, cross
from apercu_core.statistics.specification import Specification


@dataclass(frozen=True, slots=True)
class Term:
    """A fixed term: its factors (none for a covariate) and its columns of the model matrix."""

    name: str
    factors: tuple[str, ...]
    columns: slice


@dataclass(frozen=True, slots=True)
class LinearModel:
    """y = Xβ + error.

    `coded`: shape (n, P), every column of the coding; `kept`: the columns that can be told apart, all of them unless
    cells of the crossing are empty; `x`: shape (n, p), those columns. `strata`: the random groupings besides the
    residual. `crossed`: the treatment factors, then sites and years where they are fixed.
    """

    y: Floats
    coded: Floats
    kept: Ints
    x: Floats
    terms: tuple[Term, ...]
    strata: tuple[Stratum, ...]
    factors: dict[str, Factor]
    treatments: tuple[str, ...]
    crossed: tuple[str, ...]
    covariate_means: dict[str, float]

    @property
    def has_empty_cells(self) -> bool:
        """Whether some effects of the crossing can't be told from each other."""
        return len(self.kept) < int(self.coded.shape[1])

    @property
    def cells(self) -> Factor:
        """The treatment of each plot, several factors crossed."""
        return cross(":".join(self.treatments), *(self.factors[name] for name in self.treatments))


class Fitted(Protocol):
    """What means and contrasts need of any fit: the model, and its coefficients, shape (p,)."""

    @property
    def model(self) -> LinearModel: ...

    @property
    def beta(self) -> Floats: ...


def sum_to_zero(levels: int) -> Floats:
    """Coding of a factor, shape (levels, levels − 1): the last level is minus the sum of the others."""
    return np.vstack([np.eye(levels - 1), -np.ones(levels - 1)])


def codes_of(levels: Sequence[Floats]) -> Floats:
    """Products of the codings of several factors, in one order everywhere (rows of each given array match)."""
    return reduce(lambda a, b: (a[:, :, None] * b[:, None, :]).reshape(len(a), -1), levels)


def build_model(plots: Plots, spec: Specification, *, least_levels: int = 2) -> LinearModel:
    """The model of the design as it is. Raises `Refused` where effects can't be told apart, and where a treatment
    factor has fewer than `least_levels`.
    """
    _require_levels(plots, spec, least_levels)
    blocks, strata = _layout(plots, spec)
    columns = [np.ones((len(plots), 1))]
    terms: list[Term] = []
    at = 1

    def add(name: str, factors: tuple[str, ...], block_of_columns: Floats) -> None:
        nonlocal at
        columns.append(block_of_columns)
        terms.append(Term(name, factors, slice(at, at + block_of_columns.shape[1])))
        at += block_of_columns.shape[1]

    coded = {name: sum_to_zero(len(f))[f.codes] for name, f in plots.factors.items()}
    for name in blocks:
        add(name, (name,), coded[name])
    for name in spec.covariates:
        add(name, (), plots.covariates[name][:, None])
    before = at
    crossed = (*spec.treatments, *(spec.environments if spec.site_effect == "fixed" else ()))
    for size in range(1, min(len(crossed), spec.max_interaction or len(crossed)) + 1):
        for names in combinations(crossed, size):
            add(":".join(names), names, codes_of([coded[name] for name in names]))
    all_columns = np.hstack(columns)
    kept = _independent(all_columns)
    x = all_columns[:, kept]
    crossing = np.linalg.matrix_rank(np.hstack([columns[0], all_columns[:, before:]]))
    _require_estimable(x, before - 1 + int(crossing), strata, spec, plots)
    means = {name: float(plots.covariates[name].mean()) for name in spec.covariates}
    factors = dict(plots.factors)
    return LinearModel(
        plots.response, all_columns, kept, x, tuple(terms), strata, factors, spec.treatments, crossed, means
    )


def _independent(columns: Floats) -> Ints:
    """Indices of the columns that aren't sums of columns before them."""
    n, p = columns.shape
    if np.linalg.matrix_rank(columns) == p:
        return np.arange(p)
    kept: list[int] = []
    basis = np.zeros((n, 0))
    for j in range(p):
        rest = columns[:, j] - basis @ (basis.T @ columns[:, j])
        rest -= basis @ (basis.T @ rest)
        size = float(np.linalg.norm(rest))
        if size > 1e-9 * float(np.linalg.norm(columns[:, j])):
            kept.append(j)
            basis = np.column_stack([basis, rest / size])
    return np.array(kept)


def _layout(plots: Plots, spec: Specification) -> tuple[tuple[str, ...], tuple[Stratum, ...]]:
    """Which groupings of the design are fixed terms, and which are random strata."""
    block = plots.factors.get(spec.block or "")

    def stratum(name: str, *within: str | None) -> Stratum:
        parts = [plots.factors[part] for part in within if part]
        return Stratum(name, (parts[0] if len(parts) == 1 else cross(name, *parts)).codes)

    if spec.design == "crd":
        return (), ()
    if spec.design == "latin_square":
        return (spec.row or "", spec.column or ""), ()
    if spec.design == "multi_site":
        blocked = (stratum("block", *spec.environments, spec.block),) if spec.block else ()
        if spec.site_effect == "fixed":
            return (), blocked
        own = stratum("site_treatment", *spec.environments, *spec.treatments)
        return (), (stratum("site", *spec.environments), own, *blocked)
    assert block is not None
    fixed = spec.block_effect == "fixed" and spec.df_method != "containment_anova"
    blocks = () if fixed else (stratum("block", spec.block),)
    names = (block.name,) if fixed else ()
    if spec.design == "split_plot":
        return names, (*blocks, stratum("whole_plot", spec.block, spec.whole_plot or spec.whole_plot_factor))
    if spec.design == "incomplete_block":
        return names, (*blocks, stratum("incomplete_block", spec.block, spec.incomplete_block))
    if spec.design == "strip_plot":
        rows = stratum("row_strip", spec.block, spec.row_strip or spec.row_factor)
        return names, (*blocks, rows, stratum("column_strip", spec.block, spec.column_strip or spec.column_factor))
    return names, blocks


def _require_levels(plots: Plots, spec: Specification, least: int) -> None:
    for name in spec.treatments:
        if len(plots.factors[name]) < least:
            only = plots.factors[name].levels[0]
            raise Refused("bad-design", f"{name!r} has only one level, {only!r}: there is nothing to compare it with.")
    for name in spec.environments:
        if len(plots.factors[name]) < 2:
            only = plots.factors[name].levels[0]
            raise Refused("bad-design", f"{name!r} has only one level, {only!r}: leave it out of the specification.")
    for grouping in (spec.block if spec.design != "multi_site" else None, spec.row, spec.column):
        if grouping and len(plots.factors[grouping]) < 2:
            raise Refused("no-replication", f"{grouping!r} has only one level: with one block there is no replication.")


def _require_estimable(
    x: Floats, expected: int, strata: tuple[Stratum, ...], spec: Specification, plots: Plots
) -> None:
    """`expected`: how many effects there are to tell apart, empty cells of the crossing not counted."""
    n, p = x.shape
    names = " × ".join(spec.treatments)
    if n <= p:
        raise Refused(
            "no-replication",
            f"{n} plots and {p} means and block effects to estimate: nothing is left to measure the error with. "
            f"Each level of {names} is needed in more plots.",
        )
    if p < expected:
        raise Refused(
            "confounded",
            f"The effects of {names} can’t be told from those of blocks or covariates: some always occur together.",
        )
    random = [np.eye(s.codes.max() + 1)[s.codes] for s in strata]
    said = strata[-1].name.replace("_", " ") if strata else ""
    if random and np.linalg.matrix_rank(np.hstack([x, *random])) >= n:
        raise Refused(
            "no-replication",
            f"With {n} plots, the error between plots can’t be told from that between {said}s. "
            "More plots in each are needed.",
        )
