"""Hours of a visit, frames against plots: numbers worked by hand."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.power.effort import Effort, best_frames, plot_sd_of, within_hours

EFFORT = Effort(plot_minutes=4, frame_minutes=1)


def test_hours_are_those_of_all_plots_and_their_frames():
    assert EFFORT.hours(20, 3) == pytest.approx(20 * 7 / 60)


@pytest.mark.parametrize(
    ("frame_sd", "plot_sd", "frames"),
    [
        (3, 3, 2),  # √4 · 1, exactly
        (6, 2, 6),  # √4 · 3
        (1, 10, 1),  # 0.2: never less than one
        (2.6, 2, 3),  # 2.6: 2 costs (4 + 3.38)·6 = 44.3, 3 costs (4 + 2.253)·7 = 43.8
        (2.3, 2, 2),  # 2.3: 2 costs (4 + 2.645)·6 = 39.9, 3 costs (4 + 1.763)·7 = 40.3
        (5, 0, 20),  # frames explain all that plots vary by
        (0, 5, 1),  # frames in a plot are all alike
    ],
)
def test_the_cheaper_of_both_roundings_is_kept(frame_sd, plot_sd, frames):
    assert best_frames(EFFORT, frame_sd, plot_sd) == frames


@given(st.floats(0.1, 30), st.floats(0.1, 30), st.floats(0.5, 20), st.floats(0.5, 20))
def test_no_other_number_of_frames_is_cheaper(frame_sd, plot_sd, plot_minutes, frame_minutes):
    effort = Effort(plot_minutes, frame_minutes)
    best = best_frames(effort, frame_sd, plot_sd)

    def cost(n):
        return (plot_sd**2 + frame_sd**2 / n) * (plot_minutes + n * frame_minutes)

    assert cost(best) <= min(cost(n) for n in range(1, 21)) * (1 + 1e-9)


def test_what_plots_vary_by_is_what_frames_leave_over():
    assert plot_sd_of(5, 6, 4) == pytest.approx(4)
    assert plot_sd_of(2, 6, 4) == 0


def test_for_the_hours_there_are_more_frames_mean_fewer_blocks():
    choices = within_hours(EFFORT, 4, 5, 6, 4, lambda blocks, sd: sd / math.sqrt(blocks))
    first = choices[0]
    assert (first.frames, first.blocks, first.plots) == (1, 9, 45)  # 240 min / (5 plots · 5 min) = 9.6
    assert first.detectable == pytest.approx(math.sqrt(16 + 36) / 3)
    assert [c.blocks for c in choices] == sorted((c.blocks for c in choices), reverse=True)
    assert all(c.hours <= 4 and c.blocks >= 2 for c in choices)
    assert (choices[-1].frames, choices[-1].blocks) == (20, 2)  # 240 / (5 · 24) = 2
    assert min(choices, key=lambda c: c.detectable).frames == 4  # 240 / (5 · 8) = 6 blocks, √(25 / 6)
    assert within_hours(EFFORT, 0.5, 5, 6, 4, lambda blocks, sd: sd) == ()
