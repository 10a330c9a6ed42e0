"""Planned equivalence and non-inferiority in the plan: chances against simulated tests, and the blocks they take."""

import numpy as np
import pytest
from scipy import stats

from apercu_core.power.board_comparison import board_comparison
from apercu_core.power.chances import PlannedComparison, outlook
from apercu_core.power.differences import BalancedDesign, Spread, board_difference
from apercu_core.power.planned_chance import blocks_for_planned, planned_chance
from apercu_core.power.simulation import simulated_chances
from tests.core.test_chances import SIGMAS, planned_model


def difference(blocks):
    return board_difference(BalancedDesign("rcbd", 5, blocks), Spread(1.0))


@pytest.mark.parametrize("test", ["equivalence", "non-inferiority"])
@pytest.mark.parametrize("truth", [0.0, -0.75, 1.0])
def test_the_chance_is_that_of_simulated_one_sided_tests(test, truth):
    """40,000 trials of 5 treatments in 6 blocks, margin 1.5; four Monte Carlo errors."""
    rng = np.random.default_rng(2)
    d = rng.normal(truth, (2 / 6) ** 0.5, 40_000)
    se = np.sqrt(rng.chisquare(20, 40_000) / 20 * 2 / 6)
    above = d + 1.5 > stats.t.ppf(0.95, 20) * se
    below = 1.5 - d > stats.t.ppf(0.95, 20) * se
    share = (above & below if test == "equivalence" else above).mean()
    assert planned_chance(difference(6), test, 1.5, truth) == pytest.approx(share, abs=4 * (0.25 / 40_000) ** 0.5)
    chances = outlook(PlannedComparison("rcbd", 5, "dunnett"), 6, Spread(1.0), 1.5).chances[0]
    named = {"equivalence": chances.equivalent, "non-inferiority": chances.not_less}
    assert named[test] == pytest.approx(planned_chance(difference(6), test, 1.5), abs=1e-9)


def test_the_trial_is_sized_by_the_planned_test():
    blocks = blocks_for_planned(difference, "equivalence", 1.5)
    assert planned_chance(difference(blocks), "equivalence", 1.5) >= 0.8
    assert planned_chance(difference(blocks - 1), "equivalence", 1.5) < 0.8
    assert blocks_for_planned(difference, "non-inferiority", 1.5) < blocks
    assert blocks_for_planned(difference, "equivalence", 0.2) is None


def test_with_several_strata_the_chance_agrees_with_whole_simulated_trials():
    model, sigmas = planned_model("split_plot"), SIGMAS["split_plot"]
    drawn = simulated_chances(model, sigmas, "A:x", "B:y", 3.0, "dunnett", runs=20_000)[0]
    compared = board_comparison(model, sigmas, "A:x", "dunnett")
    # variances are held at zero in some of the trials, so the closed form is an approximation
    assert planned_chance(compared, "equivalence", 3.0) == pytest.approx(drawn.equivalent, abs=0.03)
