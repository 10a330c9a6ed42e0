"""The design that is proposed fits the machines and the number of treatments, or says why none does."""

import pytest

from apercu_core.design.proposal import FactorFacts, propose, strips_lost

KILL, TILL = FactorFacts("kill", 2, True), FactorFacts("tillage", 2, True)
COVER, RATE = FactorFacts("cover", 3), FactorFacts("rate", 3)


@pytest.mark.parametrize(
    ("factors", "treatments", "design", "whole", "column", "says"),
    [
        ([], 2, "paired_strips", "", "", "at least 6 pairs"),
        ([], 5, "rcbd", "", "", "across the slope"),
        ([], 11, "rcbd", "", "", "across the slope"),
        ([], 25, "incomplete_block", "", "", "incomplete blocks of about 5 plots"),
        ([COVER, RATE], 12, "incomplete_block", "cover", "rate", "A block of 12 plots is long"),
        ([COVER, RATE], 9, "rcbd", "cover", "rate", "each block holds all combinations"),
        ([COVER, KILL], 6, "split_plot", "kill", "cover", "Cover is compared more precisely than kill."),
        (
            [KILL, COVER, RATE],
            18,
            "split_plot",
            "kill",
            "cover",
            "Cover and rate are compared more precisely than kill.",
        ),
        ([KILL, TILL], 4, "strip_plot", "kill", "tillage", "cross strips"),
    ],
)
def test_one_design_is_proposed_with_why(factors, treatments, design, whole, column, says):
    found = propose(factors, treatments)
    assert (found.design, found.whole_factor, found.column_factor) == (design, whole, column)
    assert says in found.why
    assert found.impossible == ""


def test_two_factors_over_whole_strips_and_a_third_cannot_be_laid_out():
    found = propose([KILL, TILL, COVER], 12)
    assert "kill and tillage need whole strips" in found.impossible
    assert "puts tillage on single plots" in found.impossible
    assert strips_lost([KILL, TILL], "strip_plot", "kill", "tillage") == ""
    assert strips_lost([KILL, TILL], "rcbd", "", "") != ""
    assert strips_lost([KILL, COVER], "rcbd", "", "") == ""  # one alone: the person decides
