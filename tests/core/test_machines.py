"""Plots that the machines can work."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.field.machines import GUARD_M, Machines, fit_width, whole_plot_hints

FEN = Machines(drill=3, sprayer=24, combine=2.1, row_spacing=0.125)


@pytest.mark.parametrize(
    ("width", "too_narrow", "hints"),
    [
        (6, "", ["sprayer is 24 m wide and covers 4 plots"]),
        (2, "narrower than the drill, 3 m", []),
        (7, "", ["isn’t a whole number of drill widths of 3 m. Use 6 m or 9 m", "sprayer"]),
        (24, "", []),
    ],
)
def test_a_width_is_refused_or_hinted_at_by_the_machine_that_it_does_not_suit(width, too_narrow, hints):
    fit = fit_width(width, FEN)
    assert too_narrow in fit.too_narrow
    assert bool(fit.too_narrow) == bool(too_narrow)
    assert len(fit.hints) == len(hints)
    assert all(hint in said for hint, said in zip(hints, fit.hints, strict=True))


def test_guards_beside_the_combine_are_asked_for_and_words_come_in_the_reader_s_units():
    fit = fit_width(3, Machines(drill=3, combine=2.5), "us")
    assert "takes 8.2 ft, so less than 1.64 ft of guard" in fit.hints[0]


@given(st.floats(0.2, 40), st.floats(0.2, 20))
def test_the_narrowest_width_suits_drill_and_combine_and_one_drill_less_does_not(drill, combine):
    machines = Machines(drill=drill, combine=combine)
    found = fit_width(1e-3, machines).width
    assert fit_width(found, machines).too_narrow == ""
    assert fit_width(found, machines).hints == ()
    assert found - drill < combine + 2 * GUARD_M


def test_widths_that_cannot_be_are_refused_and_no_machine_is_no_rule():
    with pytest.raises(Refused, match="row spacing is 0 m"):
        Machines(row_spacing=0)
    assert fit_width(0.5, Machines()) == fit_width(50, Machines())


def test_no_more_rows_are_caught_than_the_drill_has():
    assert Machines(drill=3, row_spacing=0.125, rows_caught=24).rows_caught == 24
    with pytest.raises(Refused, match="25 rows can’t be caught; the drill has 1 to 24"):
        Machines(drill=3, row_spacing=0.125, rows_caught=25)


def test_whole_plots_are_held_against_what_each_machine_can_work_apart():
    fen = Machines(sprayer=24, mower=6, roller=9)
    (sprayed,) = whole_plot_hints(9, fen)
    assert "Whole plots are 9 m wide, and the sprayer works 24 m" in sprayed
    assert "say how wide one is" in sprayed
    assert whole_plot_hints(9, replace(fen, sprayer_section=3)) == ()
    assert fit_width(3, Machines(drill=3, sprayer=9), whole=9).hints == ()  # and single plots aren't sprayed apart
    assert "the sprayer’s section works 12 m" in whole_plot_hints(9, replace(fen, sprayer_section=12))[0]
    assert [hint.split(" works")[0].split("the ")[-1] for hint in whole_plot_hints(5, replace(fen, sprayer=None))] == [
        "mower", "roller",
    ]  # fmt: skip
