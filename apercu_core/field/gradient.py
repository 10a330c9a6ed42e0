"""What a gradient and a slope do to a layout, and how to lie to them."""

from __future__ import annotations

GOOD_ANGLE = 20.0
"""Blocks lie across a gradient where it runs within so many degrees of the way from block to block; thumb."""
RUNOFF_FROM = 3.0
"""Slope, %, from which water and soil run from plot to plot after heavy rain; thumb."""


def gradient_advice(gradient: float | None, bearing: float, design: str) -> tuple[str, ...]:
    """Whether the design suits the way down, or from good to poor.

    `gradient`, `bearing`: that way, and the direction from block to block; degrees clockwise from north.
    """
    if gradient is None:
        return ()
    off = abs((gradient - bearing + 90) % 180 - 90)
    if design == "crd":
        return ("There are no blocks to remove the gradient from the comparison. Blocks across it would.",)
    if design == "latin_square":
        return ("Rows and columns both remove a gradient from the comparison.",)
    if design == "paired_strips":
        if off <= GOOD_ANGLE:
            return ("The strips run along the gradient, so both strips of a pair have the same gradient.",)
        what = "strips, so that one strip of a pair has the better place."
    elif design == "incomplete_block" and off >= 90 - GOOD_ANGLE:
        return ("The gradient runs along the replicates. Incomplete blocks side by side remove most of it.",)
    elif off <= GOOD_ANGLE:
        return ("The blocks lie across the gradient, so its differences fall between blocks.",)
    else:
        what = "direction from block to block, so it falls within blocks and can be mistaken for treatment effects."
    return (f"The gradient runs {off:.0f}° off the {what} Turn the trial to {round(gradient % 360)}°.",)


def runoff_advice(slope: float | None) -> tuple[str, ...]:
    """What a slope, %, carries from one plot into the next."""
    if slope is None or slope < RUNOFF_FROM:
        return ()
    return (
        (
            f"On a slope of {slope:g} %, water carries soil, nitrate, seed and residue from a plot into the one below "
            "it. Infiltration, erosion and nitrate are then affected by both plots. Put a grassed alley or a furrow "
            "across the slope above each row of plots, or turn the plots so that none lies below another."
        ),
    )
