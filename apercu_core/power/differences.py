"""The kinds of difference that a balanced plan can be asked for, each with its standard error and degrees of freedom.

In a split plot there are four, in a strip plot five: Cochran and Cox (1957), *Experimental Designs*, sections 7.1 to
7.3. Where several error mean squares add up, the degrees of freedom are Satterthwaite's (1946), Biometrics Bulletin 2,
110–114, at the variances that the plan assumes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from apercu_core.errors import Refused
from apercu_core.power.error_df import error_df
from apercu_core.statistics.specification import Design


@dataclass(frozen=True, slots=True)
class Spread:
    """Standard deviations, in the measure's unit. `plot`: between plots of the smallest kind.

    `whole`: what whole plots (or strips of the row factor) vary by beyond that; `column`: strips of the column factor.
    """

    plot: float
    whole: float = 0.0
    column: float = 0.0

    def __post_init__(self) -> None:
        for name, value, least in (("plots", self.plot, 1e-300), ("whole plots", self.whole, 0.0),
                                   ("strips", self.column, 0.0)):  # fmt: skip
            if not (math.isfinite(value) and value >= least):
                raise Refused("bad-value", f"The spread between {name} is {value:g}; it must be a number above 0.")


@dataclass(frozen=True, slots=True)
class BalancedDesign:
    """A balanced plan. `whole`, `sub`: names and numbers of levels of the factor of whole plots (rows of a strip plot)
    and of what is randomised inside them (columns); empty elsewhere. `factors`: of a factorial in blocks.
    """

    design: Design
    treatments: int
    blocks: int
    whole: tuple[str, int] = ("", 0)
    sub: tuple[str, int] = ("", 0)
    factors: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True, slots=True)
class Difference:
    """`standard_error` in the measure's unit; `means`: how many means its family has.

    `board`: whether the verdict board compares treatments in this way (the least precise, where there are several).
    `exact`: whether one mean square judges it; where several add up, the degrees of freedom are an approximation.
    `critical`: multiplier of its standard error in the board's interval, where its correlations are known.
    """

    name: str
    standard_error: float
    df: float
    means: int
    board: bool = False
    exact: bool = True
    critical: float | None = None


def kinds_of_difference(planned: BalancedDesign, spread: Spread) -> tuple[Difference, ...]:
    """All kinds, the board's own last."""
    if planned.design == "split_plot":
        return _split_plot(planned, spread)
    if planned.design == "strip_plot":
        return _strip_plot(planned, spread)
    df = error_df(planned.design, planned.treatments, planned.blocks)
    plots = {name: planned.blocks * planned.treatments / levels for name, levels in planned.factors}
    return (
        *(
            Difference(f"levels of {name}, over all others", _se(spread.plot**2, plots[name]), df, levels)
            for name, levels in planned.factors
        ),
        Difference("two treatments", _se(spread.plot**2, planned.blocks), df, planned.treatments, True),
    )


def board_difference(planned: BalancedDesign, spread: Spread) -> Difference:
    """The kind that the verdict board compares by."""
    return next(kind for kind in kinds_of_difference(planned, spread) if kind.board)


def over_sites(kind: Difference, sites: int) -> Difference:
    """The same difference averaged over sites that are planned alike, each with its own blocks; for these sites only.

    Errors of the sites are independent, so variances of the mean divide, and degrees of freedom add up.
    """
    return replace(
        kind, name=f"{kind.name}, over {sites} sites like this one", df=kind.df * sites, board=False,
        standard_error=kind.standard_error / math.sqrt(sites),
    )  # fmt: skip


def _se(variance: float, plots: float) -> float:
    return math.sqrt(2 * variance / plots)


def _pooled(parts: tuple[tuple[float, float, float], ...]) -> tuple[float, float]:
    """Σ weight × mean square, and its degrees of freedom; parts are (weight, mean square, df)."""
    total = sum(weight * square for weight, square, _ in parts)
    return total, total**2 / sum((weight * square) ** 2 / df for weight, square, df in parts)


def _split_plot(planned: BalancedDesign, spread: Spread) -> tuple[Difference, ...]:
    (whole, a), (sub, b), r = planned.whole, planned.sub, planned.blocks
    _require(a, b, r)
    plots, wholes = spread.plot**2, spread.plot**2 + b * spread.whole**2  # expected mean squares
    df_whole, df_plot = (a - 1) * (r - 1), a * (b - 1) * (r - 1)
    variance, df = _pooled(((b - 1, plots, df_plot), (1, wholes, df_whole)))
    return (
        Difference(f"levels of {whole}, over all {sub}", _se(wholes, r * b), df_whole, a),
        Difference(f"levels of {sub}, over all {whole}", _se(plots, r * a), df_plot, b),
        Difference(f"levels of {sub} within one {whole}", _se(plots, r), df_plot, b),
        Difference(f"treatments in different {whole}", _se(variance, r * b), df, a * b, board=True, exact=False),
    )


def _strip_plot(planned: BalancedDesign, spread: Spread) -> tuple[Difference, ...]:
    (rows, a), (columns, b), r = planned.whole, planned.sub, planned.blocks
    _require(a, b, r)
    ms = spread.plot**2
    ms_rows, ms_columns = ms + b * spread.whole**2, ms + a * spread.column**2
    df_rows, df_columns, df = (a - 1) * (r - 1), (b - 1) * (r - 1), (a - 1) * (b - 1) * (r - 1)
    in_row = _pooled(((1, ms_columns, df_columns), (a - 1, ms, df)))
    in_column = _pooled(((1, ms_rows, df_rows), (b - 1, ms, df)))
    apart = _pooled(((a, ms_rows, df_rows), (b, ms_columns, df_columns), (a * b - a - b, ms, df)))
    return (
        Difference(f"levels of {rows}, over all {columns}", _se(ms_rows, r * b), df_rows, a),
        Difference(f"levels of {columns}, over all {rows}", _se(ms_columns, r * a), df_columns, b),
        Difference(f"levels of {columns} within one {rows}", _se(in_row[0], r * a), in_row[1], b, exact=False),
        Difference(f"levels of {rows} within one {columns}", _se(in_column[0], r * b), in_column[1], a, exact=False),
        Difference(
            "treatments that share no strip", _se(apart[0], r * a * b), apart[1], a * b, board=True, exact=False
        ),
    )


def _require(a: int, b: int, blocks: int) -> None:
    if a < 2 or b < 2 or blocks < 2:
        raise Refused("too-few-plots", f"{a} × {b} levels in {blocks} blocks: at least 2 of each are needed.")
