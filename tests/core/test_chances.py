"""The chance of each verdict under a plan, against a simulation that asks the verdicts themselves."""

import numpy as np
import pytest

from apercu_core.design.chances import PlannedComparison, chances_of_verdicts, outlook
from apercu_core.design.error_df import error_df
from apercu_core.design.power import minimum_detectable_difference
from apercu_core.errors import Refused
from apercu_core.statistics.critical import critical_value
from apercu_core.verdicts.margin import Band
from apercu_core.verdicts.verdict import Interval, Verdict, judge

PLAN = PlannedComparison("rcbd", 5, "dunnett")
NAMES = {
    Verdict.CLEAR_GAIN: "clear_right",
    Verdict.CLEAR_LOSS: "clear_wrong",
    Verdict.REAL_UNSETTLED: "real_unsettled",
    Verdict.REAL_SMALL: "real_small",
    Verdict.NO_DIFFERENCE: "no_difference",
    Verdict.NOT_SETTLED: "not_settled",
}


def simulated(plan, blocks, sigma, margin, truth, runs=40_000):
    rng = np.random.default_rng(1)
    df = error_df(plan.design, plan.treatments, blocks)
    c = critical_value(plan.method, plan.treatments, df, plan.alpha, against_control=plan.against_control)
    d = rng.normal(truth, sigma * np.sqrt(2 / blocks), runs)
    h = c * sigma * np.sqrt(rng.chisquare(df, runs) / df * 2 / blocks)
    found = [judge(Interval(a, b), Band(-margin, margin), "higher") for a, b in zip(d - h, d + h, strict=True)]
    return {name: found.count(verdict) / runs for verdict, name in NAMES.items()}


@pytest.mark.parametrize(
    ("blocks", "sigma", "margin", "truth"),
    [(4, 1.0, 2.0, 2.0), (4, 0.5, 2.0, 4.0), (6, 1.0, 2.0, 1.0), (8, 0.4, 2.0, 0.7), (2, 1.0, 1.0, -2.0)],
)
def test_chances_agree_with_a_simulation_that_asks_the_verdicts(blocks, sigma, margin, truth):
    exact = chances_of_verdicts(PLAN, blocks, sigma, margin, truth)
    drawn = simulated(PLAN, blocks, sigma, margin, truth)
    if truth < 0:  # a loss in the direction of the truth is “right”
        drawn["clear_right"], drawn["clear_wrong"] = drawn["clear_wrong"], drawn["clear_right"]
    for name, share in drawn.items():
        error = 4 * (share * (1 - share) / 40_000) ** 0.5 + 1e-4  # four Monte Carlo standard errors
        assert getattr(exact, name) == pytest.approx(share, abs=error), name


def test_chances_add_up_and_at_the_margin_clear_is_rare():
    for chances in outlook(PLAN, 5, 1.0, 2.0).chances:
        parts = [getattr(chances, name) for name in NAMES.values()]
        assert sum(parts) == pytest.approx(1, abs=1e-9)
        assert all(part >= -1e-12 for part in parts)
    assert chances_of_verdicts(PLAN, 5, 1.0, 2.0, 2.0).clear_right < 0.03


def test_the_outlook_says_what_one_more_block_buys_and_needs_no_margin():
    seen = outlook(PLAN, 4, 1.0, None)
    assert (seen.plots, seen.error_df, seen.chances) == (20, 12, ())
    assert seen.detectable_with_one_more == pytest.approx(
        minimum_detectable_difference(1.0, 5, 5, method="dunnett"), rel=1e-9
    )
    assert seen.detectable_with_one_more < seen.detectable


def test_what_cannot_be_answered_is_refused():
    with pytest.raises(Refused, match="margin"):
        outlook(PLAN, 4, 1.0, -1.0)
    with pytest.raises(Refused, match="simulation"):
        chances_of_verdicts(PlannedComparison("rcbd", 5, "lsd"), 4, 1.0, 2.0, 0.0)
