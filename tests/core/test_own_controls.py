"""A control for each level of another factor: what is laid out, what is compared, and how sure."""

from collections import Counter

import numpy as np
import pytest
from scipy import stats

from apercu_core.design.facts import READ_AS, facts_of
from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.errors import Refused
from apercu_core.protocol.own_controls import controls_at_same_levels, said_of_controls
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.statistics.multivariate_t import largest_quantile
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Verdict

COVERS, RATES = ("bare", "oat", "rye", "vetch"), ("0", "40", "80")
LEVELS = {f"{c}:{n}": {"cover": c, "nitrogen": n} for c in COVERS for n in RATES}
PLAN = {"factors": {"cover": list(COVERS), "nitrogen": list(RATES)}, "control": "bare", "blocks": 4, "seed": 3}


def test_a_control_as_one_more_level_has_one_whole_plot_divided_like_the_others():
    """Three covers and uncovered, at three nitrogen levels: 12 plots a block, not 18."""
    plots = [one.plot for one in draw_plan(read_plan({**PLAN, "design": "split_plot", "whole_plot_factor": "cover"}))]
    assert Counter(p.block for p in plots) == dict.fromkeys((1, 2, 3, 4), 12)
    for block in (1, 2, 3, 4):
        wholes = {}
        for p in plots:
            if p.block == block:
                wholes.setdefault(p.whole_plot, set()).add(dict(p.levels)["cover"])
        assert sorted(map(sorted, wholes.values())) == [["bare"], ["oat"], ["rye"], ["vetch"]]


def test_each_treatment_meets_the_control_at_its_own_levels():
    of = controls_at_same_levels(LEVELS, "cover", "bare")
    assert len(of) == 9
    assert {(t.split(":")[1], c) for t, c in of.items()} == {(n, f"bare:{n}") for n in RATES}
    assert said_of_controls(LEVELS, "cover", "bare") == "bare at the same nitrogen"
    short = {name: levels for name, levels in LEVELS.items() if name != "bare:80"} | {"outside": {}}
    assert set(LEVELS) - set(controls_at_same_levels(short, "cover", "bare")) - {"bare:0", "bare:40", "bare:80"} == {
        "oat:80", "rye:80", "vetch:80",
    }  # fmt: skip
    with pytest.raises(Refused, match="No treatment has the level 'none' of 'cover'"):
        controls_at_same_levels(LEVELS, "cover", "none")


def read(design, values_of, own=None, **how):
    plan = {**PLAN, "design": design} | ({"whole_plot_factor": "cover"} if design == "split_plot" else {})
    facts = facts_of((one.plot for one in draw_plan(read_plan(plan))), design)
    of = controls_at_same_levels(LEVELS, "cover", "bare") if own is None else own
    asked = Asked("Yield", "t/ha", Margin(1.0), "higher", base="bare at the same nitrogen", own_controls=of)
    trial = TrialFacts(facts, "bare:0", "drawn", more_controls=("bare:40", "bare:80"), own_controls=of)
    return facts, read_trial(trial, READ_AS[design], [Recorded(asked, values_of(facts))], How(**how), "bare:0")


def grown(facts, effect=0.0, sigma=0.4):
    """Nitrogen lifts every plot by far more than any cover does."""
    rng = np.random.default_rng(9)
    lift = {"0": 0.0, "40": 5.0, "80": 8.0}
    return {
        p.label: [10 + lift[p.treatment.split(":")[1]] + effect * p.treatment.startswith("oat") + rng.normal(0, sigma)]
        for p in facts
    }


def test_the_board_compares_at_the_same_level_with_dunnett_s_interval_for_three_controls():
    """Against one control for all, nitrogen alone would be nine clear gains; the interval is worked out by hand."""
    facts, reading = read("rcbd", grown)
    (measure,) = reading.measures
    assert (measure.base, measure.controls) == ("bare at the same nitrogen", ("bare:0", "bare:40", "bare:80"))
    assert {(c.treatment, c.against) for c in measure.cells if c.treatment.startswith("rye")} == {
        (f"rye:{n}", f"bare:{n}") for n in RATES
    }
    assert not {c.verdict for c in measure.cells} & {Verdict.CLEAR_GAIN, Verdict.REAL_UNSETTLED}
    values = {p.label: v[0] for p, v in zip(facts, grown(facts).values(), strict=True)}
    table = np.array([[values[next(p.label for p in facts if (p.block, p.treatment) == (b, t))] for t in LEVELS]
                      for b in "ABCD"])  # fmt: skip
    rest = table - table.mean(0) - table.mean(1, keepdims=True) + table.mean()
    se = np.sqrt((rest**2).sum() / 33 * 2 / 4)
    within = 0.5 + 0.5 * np.eye(3)
    critical = largest_quantile(0.05, np.kron(np.eye(3), within), 33)
    at = {name: i for i, name in enumerate(LEVELS)}
    for cell in measure.cells:
        difference = table[:, at[cell.treatment]].mean() - table[:, at[cell.against]].mean()
        assert (cell.estimate, cell.upper - cell.estimate) == (pytest.approx(difference), pytest.approx(critical * se))


@pytest.mark.parametrize("method", ["lsd", "tukey", "holm", "bonferroni"])
def test_every_method_shows_the_same_nine_cells(method):
    _, reading = read("split_plot", lambda facts: grown(facts, effect=4.0), method=method)
    cells = reading.measures[0].cells
    assert {(c.treatment, c.against) for c in cells} == set(controls_at_same_levels(LEVELS, "cover", "bare").items())
    assert {c.treatment for c in cells if c.verdict is Verdict.CLEAR_GAIN} == {"oat:0", "oat:40", "oat:80"}


def test_a_treatment_without_a_control_or_whose_control_is_lost_says_so_and_the_rest_is_read():
    of = controls_at_same_levels(LEVELS, "cover", "bare")
    del of["vetch:80"]

    def lost(facts):
        gone = {p.label for p in facts if p.treatment == "bare:40"}
        return {label: [None] if label in gone else values for label, values in grown(facts).items()}

    _, reading = read("rcbd", lost, own=of)
    why = {c.treatment: c.reason for c in reading.measures[0].cells if c.verdict is Verdict.NO_ANSWER}
    assert set(why) == {"vetch:80", "oat:40", "rye:40", "vetch:40"}
    assert "No plot of bare:40 has a value" in why["rye:40"]
    assert "no bare at the same nitrogen" in why["vetch:80"]


def test_planned_tests_are_against_the_control_of_the_same_level():
    of = controls_at_same_levels(LEVELS, "cover", "bare")
    plan = {**PLAN, "design": "rcbd"}
    facts = facts_of((one.plot for one in draw_plan(read_plan(plan))), "rcbd")
    asked = Asked("Yield", "t/ha", Margin(1.0), "higher", "equivalence", "bare at the same nitrogen", own_controls=of)
    trial = TrialFacts(facts, "bare:0", "drawn", own_controls=of)
    (measure,) = read_trial(trial, "rcbd", [Recorded(asked, grown(facts))], How(), "bare:0").measures
    assert len(measure.planned) == 9
    cell = {c.treatment: c for c in measure.cells}
    for test in measure.planned:
        assert test.test.estimate == pytest.approx(cell[test.test.treatment].estimate)
    assert stats.t.ppf(0.95, 33) * measure.planned[0].test.se == pytest.approx(
        measure.planned[0].test.upper - measure.planned[0].test.estimate
    )
