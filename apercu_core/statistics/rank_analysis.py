"""A response compared on ranks: the recipe, and its result as a value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.plots import Factor, Row, plots_of
from apercu_core.statistics.rank_tests import (
    DunnPair,
    RankPair,
    RankTest,
    complete_blocks,
    dunn_pairs,
    friedman,
    kruskal_wallis,
    rank_sum_pairs,
    signed_rank_pairs,
)
from apercu_core.statistics.specification import Specification


@dataclass(frozen=True, slots=True)
class RankAnalysis:
    """`medians`: of each level's values, shape (k,); `dunn`: only without blocks."""

    factor: Factor
    test: RankTest
    medians: Floats
    pairs: tuple[RankPair, ...]
    dunn: tuple[DunnPair, ...] = ()


def analyse_ranks(rows: Sequence[Row], spec: Specification) -> RankAnalysis:
    """Friedman's test in blocks, the Kruskal–Wallis test without. Raises `Refused` where ranks say nothing."""
    plots = plots_of(rows, spec)
    factor = plots.factors[spec.treatments[0]]
    if len(factor) < 2:
        raise Refused("bad-design", f"{factor.name!r} has only one level: there is nothing to compare it with.")
    y = plots.response
    if spec.analysis == "friedman":
        table = complete_blocks(y, factor.codes, plots.factors[spec.block or ""].codes)
        return RankAnalysis(factor, friedman(table), np.median(table, axis=0), signed_rank_pairs(table))
    medians = np.array([np.median(y[factor.codes == i]) for i in range(len(factor))])
    test = kruskal_wallis(y, factor.codes)
    return RankAnalysis(factor, test, medians, rank_sum_pairs(y, factor.codes), dunn_pairs(y, factor.codes))
