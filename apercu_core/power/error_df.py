"""Degrees of freedom for error of a balanced plan."""

from __future__ import annotations

from apercu_core.errors import Refused
from apercu_core.statistics.specification import Design


def error_df(design: Design, treatments: int, blocks: int) -> int:
    """Completely randomised: t(b − 1); randomised complete block: (t − 1)(b − 1); b plots of each treatment.

    A Latin square, whose blocks are its rows: (t − 1)(t − 2).
    """
    if treatments < 2 or blocks < 2:
        raise Refused(
            "too-few-plots",
            f"{treatments} treatments in {blocks} blocks: at least 2 of each are needed to measure the error.",
        )
    if design == "crd":
        return treatments * (blocks - 1)
    if design == "rcbd":
        return (treatments - 1) * (blocks - 1)
    if design == "latin_square":
        if treatments < 3:
            raise Refused("too-few-plots", "A Latin square of 2 has nothing to measure the error with; it needs 3.")
        return (treatments - 1) * (treatments - 2)
    raise Refused("bad-design", f"A {design} has several strata of error, each with degrees of freedom of its own.")
