"""Blocks end to end or side by side: by what fits the field, and by how one drives."""

from dataclasses import replace

import pytest

from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.design.randomisation import randomised_complete_block
from apercu_core.field.arrangement import propose_arrangement
from apercu_core.field.layout import PlotSize, extent

STRIPS, SMALL = PlotSize(9, 150, 0, 4), PlotSize(3, 10, 0.5, 2)
PLOTS = randomised_complete_block(["Oat", "Bare", "Vetch"], 4, seed=1).plots


@pytest.mark.parametrize(
    ("size", "room", "beside", "says"),
    [
        (STRIPS, None, True, "End to end they would take 612 m of field length."),
        (SMALL, None, False, "plots are short"),
        (
            STRIPS,
            (60, 700),
            False,
            "side by side they don’t fit the field of 60 m × 700 m",
        ),  # four of 27 m and alleys: 120 m
        (SMALL, (60, 30), True, "end to end they don’t fit the field of 60 m × 30 m"),  # 46 m long
        (SMALL, (10, 10), False, "plots are short"),  # neither fits: the layout says so
    ],
)
def test_what_fits_comes_first_then_how_one_drives(size, room, beside, says):
    found = propose_arrangement(PLOTS, size, "rcbd", room)
    assert (found.side_by_side, says in found.why) == (beside, True)


def test_a_person_s_choice_stands_and_is_told_what_it_takes():
    chosen = propose_arrangement(PLOTS, STRIPS, "rcbd", None, chosen=False)
    assert (chosen.side_by_side, chosen.why, chosen.width, chosen.length) == (False, "", 27, 612)
    feet = propose_arrangement(PLOTS, STRIPS, "rcbd", None, "us")
    assert "strips of 492 ft" in feet.why
    assert propose_arrangement(PLOTS, STRIPS, "crd", None).why == ""


def test_blocks_side_by_side_hold_the_same_treatments_in_the_same_order():
    raw = {
        "design": "split_plot", "factors": {"kill": ["early", "late"], "cover": ["oat", "rye"]}, "blocks": 3, "seed": 5,
        "whole_plot_factor": "kill", "plot_width_m": 4, "plot_length_m": 60, "alley_m": 2,
    }  # fmt: skip
    behind = draw_plan(read_plan(raw))
    beside = draw_plan(replace(read_plan(raw), side_by_side=True))
    assert [one.plot for one in behind] == [one.plot for one in beside]
    assert (extent(p.place for p in behind), extent(p.place for p in beside)) == ((16, 184), (52, 60))
    corners = {(p.place.x, p.place.y) for p in beside}
    assert len(corners) == len(beside)
