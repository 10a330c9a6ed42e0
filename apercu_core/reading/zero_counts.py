"""What is said of treatments and blocks in which nothing was counted."""

from __future__ import annotations

from itertools import product

import numpy as np

from apercu_core.reading.controls import Controls
from apercu_core.statistics.densities import DensityAnalysis
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.words import listed, number, p_value

MOST_PAIRS = 14
"""Blocks whose 2ⁿ exchanges are all looked at."""


def zero_notes(analysis: FittedAnalysis, controls: Controls, unit: str) -> list[str]:
    """A sentence for each treatment, and one for blocks, in which nothing was counted; none for other measures."""
    if not isinstance(analysis, DensityAnalysis):
        return []
    per = unit.rpartition("/")[2] or "area"
    notes = []
    for treatment, area in analysis.none_found.items():
        notes.append(
            f"Nothing was counted in any plot of {treatment} ({number(area)} {per} searched). With 95 % confidence "
            f"there are fewer than {number(3 / area)} per {per}, if they are scattered at random."
        )
        others = (
            [controls.of[treatment]]
            if treatment in controls.of
            else [t for t, c in controls.of.items() if c == treatment]
        )
        if (
            len(others) == 1
            and others[0] not in analysis.none_found
            and (exact := _exchanged(analysis, treatment, others[0]))
        ):
            p, least = exact
            at_least = ", the smallest that so few blocks allow" if p == least else ""
            notes.append(
                f"Exchanging {treatment} and {others[0]} within blocks in all ways gives {p_value(p)}{at_least}."
            )
    if analysis.empty_blocks:
        notes.append(
            f"Nothing was counted in {listed(list(analysis.empty_blocks))}, which therefore says nothing about how "
            "large the differences are."
        )
    return notes


def _exchanged(analysis: DensityAnalysis, one: str, other: str) -> tuple[float, float] | None:
    """Exact two-sided p of the sum of differences, all exchanges within blocks alike (Fisher 1935, *The Design of
    Experiments*, section 21), and the smallest that there can be; None without blocks, or with too many.
    """
    plots = analysis.test.on_scale.plots if analysis.test else None
    spec = analysis.specification
    if plots is None or not spec.block or spec.block not in plots.factors:
        return None
    treatment, block = plots.factors[spec.treatments[0]], plots.factors[spec.block]
    labels = [treatment.levels[code] for code in treatment.codes]
    differences = []
    for code in range(len(block)):
        here = {label: y for label, y, b in zip(labels, plots.response, block.codes, strict=True) if b == code}
        if one in here and other in here:
            differences.append(here[one] - here[other])
    if not 2 <= len(differences) <= MOST_PAIRS:
        return None
    size = np.array(differences)
    signs = np.array(list(product((-1.0, 1.0), repeat=len(size))))
    sums = np.abs(signs @ size)
    p = float((sums >= abs(size.sum()) * (1 - 1e-12)).mean())
    return p, 2.0 / len(signs)
