"""The chance of each verdict under a plan, against a simulation that asks the verdicts themselves."""

import numpy as np
import pytest

from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.errors import Refused
from apercu_core.power.chances import PlannedComparison, chances_of_verdicts, outlook
from apercu_core.power.closed_form import minimum_detectable_difference
from apercu_core.power.differences import BalancedDesign, Spread, board_difference, kinds_of_difference, over_sites
from apercu_core.power.error_df import error_df
from apercu_core.power.simulation import OUTCOMES, Assumed, simulate, simulated_chances
from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.model import build_model
from apercu_core.statistics.plots import plots_of
from apercu_core.statistics.specification import Specification
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
    exact = chances_of_verdicts(PLAN, board_difference(PLAN.balanced(blocks), Spread(sigma)), margin, truth)
    drawn = simulated(PLAN, blocks, sigma, margin, truth)
    if truth < 0:  # a loss in the direction of the truth is “right”
        drawn["clear_right"], drawn["clear_wrong"] = drawn["clear_wrong"], drawn["clear_right"]
    for name, share in drawn.items():
        error = 4 * (share * (1 - share) / 40_000) ** 0.5 + 1e-4  # four Monte Carlo standard errors
        assert getattr(exact, name) == pytest.approx(share, abs=error), name


def test_chances_add_up_and_at_the_margin_clear_is_rare():
    for chances in outlook(PLAN, 5, Spread(1.0), 2.0).chances:
        parts = [getattr(chances, name) for name in NAMES.values()]
        assert sum(parts) == pytest.approx(1, abs=1e-9)
        assert all(part >= -1e-12 for part in parts)
    at_margin = chances_of_verdicts(PLAN, board_difference(PLAN.balanced(5), Spread(1.0)), 2.0, 2.0)
    assert at_margin.clear_right < 0.03


def test_the_outlook_says_what_one_more_block_buys_and_needs_no_margin():
    seen = outlook(PLAN, 4, Spread(1.0), None)
    assert (seen.plots, seen.error_df, seen.chances) == (20, 12, ())
    assert seen.detectable_with_one_more == pytest.approx(
        minimum_detectable_difference(1.0, 5, 5, method="dunnett"), rel=1e-9
    )
    assert seen.detectable_with_one_more < seen.detectable


def test_what_several_sites_see_together_is_what_the_pooled_analysis_will_find():
    """Three sites of 4 blocks × 3 treatments: the model over all sites has the standard error and df of the plan."""
    rng = np.random.default_rng(5)
    rows = [
        {"site": s, "block": f"{s}{b}", "t": t, "y": rng.normal() + 3 * (t == "vetch") + 4 * rng.normal(b, 0.1)}
        for s in "PQR" for b in range(4) for t in ("bare", "oat", "vetch")
    ]  # fmt: skip
    spec = Specification("y", ("t",), "multi_site", site="site", block="block", block_effect="random")
    found = analyse(rows, spec)
    sigma = float(np.sqrt(found.fit.theta[-1]))
    family = next(i for i, f in enumerate(found.families) if f.factors == ("t",) and not f.within)
    board = board_difference(BalancedDesign("rcbd", 3, 4), Spread(sigma))
    together = over_sites(board, 3)
    assert (board.df, together.df) == (6, 18)
    assert found.pairs[family].se == pytest.approx(together.standard_error, rel=1e-6)
    assert found.pairs[family].df == pytest.approx(together.df, rel=1e-6)


def test_what_cannot_be_answered_is_refused():
    with pytest.raises(Refused, match="margin"):
        outlook(PLAN, 4, Spread(1.0), -1.0)
    with pytest.raises(Refused, match="simulation"):
        chances_of_verdicts(
            PlannedComparison("rcbd", 5, "lsd"), board_difference(PLAN.balanced(4), Spread(1.0)), 2.0, 0.0
        )


# --- designs with several strata, against trials simulated plot by plot ------------------------------------------


def planned_model(design):
    """The model of a plan as a reading would build it, one factor of cells."""
    raw = {"design": design, "blocks": 4, "seed": 3}
    if design != "split_plot":
        raw |= {"treatments": ["A:x", "A:y", "A:z", "B:x", "B:y", "B:z"]}
    else:
        raw |= {"factors": {"kill": ["A", "B"], "cover": ["x", "y", "z"]}, "whole_plot_factor": "kill"}
    rows = [
        {"t": one.plot.treatment, "b": str(one.plot.block), "w": str(one.plot.whole_plot), "y": float(i % 7)}
        for i, one in enumerate(draw_plan(read_plan(raw)))
    ]
    groups = {"crd": {}, "rcbd": {"block": "b"}, "split_plot": {"block": "b", "whole_plot": "w"}}[design]
    spec = Specification(response="y", treatments=("t",), design=design, **groups)
    return build_model(plots_of(rows, spec), spec)


SIGMAS = {"crd": [1.0], "rcbd": [0.8, 1.0], "split_plot": [0.8, 0.7, 1.0]}


def drawn_and_exact(design, truth, base, kind):
    plan = PlannedComparison(design, 6, "dunnett", whole=("kill", 2), sub=("cover", 3))
    spread = Spread(1.0, SIGMAS[design][1] if design == "split_plot" else 0.0)
    model = planned_model(design)
    means = [10 + truth if label == "B:y" else 10.0 for label in model.factors["t"].levels]
    drawn = simulate(model, Assumed(means, SIGMAS[design]), base, 2.0, "dunnett", seed=5)
    at = drawn.treatments.index("B:y")
    return dict(zip(OUTCOMES, drawn.shares[at], strict=True)), chances_of_verdicts(
        plan, kinds_of_difference(plan.balanced(4), spread)[kind], 2.0, truth
    )


@pytest.mark.parametrize(("design", "kind"), [("crd", -1), ("rcbd", -1), ("split_plot", 2)])
@pytest.mark.parametrize("truth", [0.0, 2.0, 4.0])
def test_simulated_chances_equal_the_closed_form_within_three_monte_carlo_errors(design, kind, truth):
    drawn, exact = drawn_and_exact(design, truth, "B:x", kind)
    for name, share in drawn.items():
        wanted = getattr(exact, name)
        assert share == pytest.approx(wanted, abs=3 * (wanted * (1 - wanted) / 10_000) ** 0.5 + 1e-9), name


def test_where_several_mean_squares_add_up_chances_are_simulated_and_say_so():
    plan = PlannedComparison("split_plot", 6, "dunnett", whole=("kill", 2), sub=("cover", 3))
    seen = outlook(plan, 4, Spread(1.0, 0.7), 2.0)
    assert seen.chances == ()
    with pytest.raises(Refused, match="need simulation"):
        chances_of_verdicts(plan, seen.kinds[-1].difference, 2.0, 0.0)
    none, margin, twice = simulated_chances(
        planned_model("split_plot"), SIGMAS["split_plot"], "A:x", "B:y", 2.0, "dunnett"
    )
    assert none.runs == 10_000
    assert none.clear_right + none.real_unsettled + none.real_small < 0.05
    assert none.clear_right < margin.clear_right < twice.clear_right


def test_a_protected_lsd_is_simulated_and_finds_no_more_than_its_alpha_under_no_difference():
    model = planned_model("rcbd")
    drawn = simulate(model, Assumed([10.0] * 6, SIGMAS["rcbd"]), "A:x", 2.0, "lsd", seed=5)
    assert drawn.found.max() < 0.05
    with pytest.raises(Refused, match="no one overall test"):
        simulate(planned_model("split_plot"), Assumed([10.0] * 6, SIGMAS["split_plot"]), "A:x", 2.0, "lsd")


def test_a_split_plot_has_four_kinds_of_difference_by_hand():
    # σ = 1, σw = 1, 2 whole plots of 3 in 4 blocks: whole-plot mean square 1 + 3·1 = 4 on 3 df, plots 1 on 12 df
    kinds = kinds_of_difference(BalancedDesign("split_plot", 6, 4, ("kill", 2), ("cover", 3)), Spread(1.0, 1.0))
    assert [k.df for k in kinds[:3]] == [3, 12, 12]
    assert [k.standard_error**2 for k in kinds] == pytest.approx([2 * 4 / 12, 2 / 8, 2 / 4, 2 * (2 * 1 + 4) / 12])
    assert kinds[3].df == pytest.approx(6**2 / (2**2 / 12 + 4**2 / 3))
    strips = kinds_of_difference(BalancedDesign("strip_plot", 6, 4, ("kill", 2), ("cover", 3)), Spread(1.0, 1.0, 1.0))
    # σr² = σc² = σ² = 1: var of a difference in different strips 2·(1 + 1 + 1)/4
    assert strips[4].standard_error ** 2 == pytest.approx(2 * 3 / 4)
    assert strips[2].standard_error ** 2 == pytest.approx(2 * 2 / 4)
    assert strips[0].standard_error ** 2 == pytest.approx(2 * (1 / 4 + 1 / 12))
