"""What a visit costs in hours, and how many frames a plot should have for it."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

MOST_FRAMES = 20
MOST_BLOCKS = 40


@dataclass(frozen=True, slots=True)
class Effort:
    """Minutes for one plot (walking there, finding its corner) and for one frame in it; both above zero."""

    plot_minutes: float
    frame_minutes: float

    def hours(self, plots: int, frames: int) -> float:
        return plots * (self.plot_minutes + frames * self.frame_minutes) / 60


THUMB = Effort(plot_minutes=4, frame_minutes=3)
"""Until somebody has timed it."""


@dataclass(frozen=True, slots=True)
class FramesChoice:
    """So many frames in each plot of so many blocks take `hours`; `detectable` is seen with an 80 % chance."""

    frames: int
    blocks: int
    plots: int
    hours: float
    detectable: float


def best_frames(effort: Effort, frame_sd: float, plot_sd: float) -> int:
    """Frames per plot that give a treatment mean of a wanted precision for the fewest minutes.

    n* = √((c_plot / c_frame) · (σ²_frame / σ²_plot)), looked at rounded both ways and the cheaper kept. `plot_sd`: of
    plots beyond what frames in them vary by. Cochran (1977), Sampling Techniques, 3rd ed., section 10.6.
    """
    if frame_sd <= 0:
        return 1
    if plot_sd <= 0:
        return MOST_FRAMES
    exact = math.sqrt(effort.plot_minutes / effort.frame_minutes) * frame_sd / plot_sd

    def cost(n: int) -> float:
        return (plot_sd**2 + frame_sd**2 / n) * (effort.plot_minutes + n * effort.frame_minutes)

    return min(sorted({min(MOST_FRAMES, max(1, n)) for n in (math.floor(exact), math.ceil(exact))}), key=cost)


def plot_sd_of(mean_sd: float, frame_sd: float, frames: int) -> float:
    """How much plots vary beyond their frames, where means of `frames` frames vary by `mean_sd`; 0 where frames explain
    all of it.
    """
    return math.sqrt(max(0.0, mean_sd**2 - frame_sd**2 / frames))


def within_hours(
    effort: Effort, hours: float, per_block: int, frame_sd: float, plot_sd: float,
    detectable: Callable[[int, float], float],
) -> tuple[FramesChoice, ...]:  # fmt: skip
    """For each number of frames, the most blocks that the hours allow and what they see; none where two don't fit.

    `detectable`: (blocks, standard deviation of plot means) → smallest difference seen.
    """
    out = []
    for frames in range(1, MOST_FRAMES + 1):
        blocks = min(MOST_BLOCKS, int(hours / effort.hours(per_block, frames) + 1e-9))
        if blocks < 2:
            break
        sd = math.sqrt(plot_sd**2 + frame_sd**2 / frames)
        plots = blocks * per_block
        out.append(FramesChoice(frames, blocks, plots, effort.hours(plots, frames), detectable(blocks, sd)))
    return tuple(out)


def frame_cv(samples: Sequence[Sequence[float | None]], mean: float) -> float | None:
    """Pooled standard deviation of the samples in a plot, % of `mean`; None where plots have one sample each."""
    several = [present for plot in samples if len(present := [v for v in plot if v is not None]) > 1]
    df = sum(len(values) - 1 for values in several)
    if df < 1:
        return None
    squares = sum((v - sum(values) / len(values)) ** 2 for values in several for v in values)
    return 100 * math.sqrt(squares / df) / mean
