"""Values read as logarithms: ratios to the control where the margin is a share of it, else geometric means."""

import math

import numpy as np
import pytest
from scipy import stats

from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Band, Margin
from apercu_core.verdicts.verdict import Interval, judge

BLOCKS = "ABCD"
VALUES = {"bare": (8.1, 12.4, 9.7, 10.2), "oat": (15.0, 21.2, 12.9, 19.8), "rye": (9.0, 11.1, 10.8, 8.7)}
PLOTS = tuple(PlotFacts(b + t, b, t, i) for b in BLOCKS for i, t in enumerate(VALUES))
TRIAL = TrialFacts(PLOTS, "bare", "drawn")
SAMPLES = {p.label: [VALUES[p.treatment][BLOCKS.index(p.block)]] for p in PLOTS}
PERCENT = Margin(20, "percent")


def read(margin, method="lsd", planned="none", samples=SAMPLES, alpha=0.05):
    recorded = Recorded(Asked("Infiltration", "mm/h", margin, "higher", planned), samples)
    return read_trial(TRIAL, "rcbd", [recorded], How(method=method, alpha=alpha, scale="log"), "bare").measures[0]


def by_hand():
    """Two-way table of logs: means, standard error of a difference, its t; the control's geometric mean."""
    logs = np.log(np.array(list(VALUES.values())))
    residuals = logs - logs.mean(1, keepdims=True) - logs.mean(0) + logs.mean()
    se = math.sqrt(2 * (residuals**2).sum() / 6 / 4)
    return dict(zip(VALUES, logs.mean(1), strict=True)), se, stats.t.ppf(0.975, 6), math.exp(logs[0].mean())


def cells(measure):
    return {cell.treatment: cell for cell in measure.cells}


@pytest.mark.parametrize("method", ["lsd", "dunnett"])
def test_a_margin_in_per_cent_compares_ratios_and_judges_them_on_the_log_scale(method):
    means, se, t, control = by_hand()
    found = cells(read(PERCENT, method))
    for name in ("oat", "rye"):
        log = means[name] - means["bare"]
        assert found[name].estimate == pytest.approx(control * (math.exp(log) - 1))
        width = math.log1p(found[name].upper / control) - log
        assert math.log1p(found[name].lower / control) == pytest.approx(log - width)  # symmetric as a ratio
        if method == "lsd":
            assert width == pytest.approx(t * se)
        on_log = judge(Interval(log - width, log + width), Band(math.log(0.8), math.log(1.2)), "higher")
        assert found[name].verdict is on_log


def test_a_margin_in_the_unit_compares_geometric_means_by_their_intervals():
    means, se, t, control = by_hand()
    cell = cells(read(Margin(2.0)))["oat"]
    mean = math.exp(means["oat"])
    half = t * se / math.sqrt(2)  # of one mean; block effects are taken out of both alike
    assert cell.estimate == pytest.approx(mean - control)
    down = math.hypot(mean * (1 - math.exp(-half)), control * (math.exp(half) - 1))
    assert cell.lower == pytest.approx(mean - control - down, rel=1e-6)


@pytest.mark.parametrize(("name", "end"), [("oat", "lower"), ("rye", "upper")])
def test_p_is_the_level_at_which_the_interval_touches_zero(name, end):
    p = cells(read(Margin(2.0)))[name].p
    touching = cells(read(Margin(2.0), alpha=p))[name]
    assert getattr(touching, end) == pytest.approx(0, abs=1e-6)


def test_which_one_is_subtracted_from_which_makes_no_difference():
    """In pairs of all with all the control comes first or second; cells are treatment − control either way."""
    forward = cells(read(PERCENT, "tukey"))
    turned = TrialFacts(PLOTS, "rye", "drawn")
    recorded = Recorded(Asked("Infiltration", "mm/h", PERCENT, "higher"), SAMPLES)
    back = cells(read_trial(turned, "rcbd", [recorded], How(method="tukey", scale="log"), "rye").measures[0])
    ratio = 1 + forward["rye"].upper / math.exp(by_hand()[0]["bare"])
    assert 1 + back["bare"].lower / math.exp(by_hand()[0]["rye"]) == pytest.approx(1 / ratio)


def test_a_planned_test_asks_for_the_same_ratios_up_and_down():
    means, se, _, control = by_hand()
    (test,) = [p.test for p in read(PERCENT, planned="equivalence").planned if p.test.treatment == "rye"]
    d = means["rye"] - means["bare"]
    assert test.p_lower == pytest.approx(stats.t.sf((d - math.log(0.8)) / se, 6))
    assert test.p_upper == pytest.approx(stats.t.sf((math.log(1.2) - d) / se, 6))
    assert test.upper == pytest.approx(control * math.expm1(d + stats.t.ppf(0.95, 6) * se))
    assert (test.estimate, test.se) == (
        pytest.approx(control * math.expm1(d)), pytest.approx(control * math.exp(d) * se)
    )  # fmt: skip
    assert test.lower == pytest.approx(control * math.expm1(d - stats.t.ppf(0.95, 6) * se))
    for more in (100, 150):
        far = read(Margin(more, "percent"), planned="equivalence").planned[0].test
        assert far.p_lower == 0.0  # no ratio is that far below


def test_a_planned_test_in_the_unit_agrees_with_its_interval():
    """Two one-sided 5 % tests are the 90 % interval within the margins: an end that touches them has p 0.05."""
    (test,) = [p.test for p in read(Margin(3.0), planned="equivalence").planned if p.test.treatment == "rye"]
    for end, p in ((test.upper, "p_upper"), (-test.lower, "p_lower")):
        at_its_end = read(Margin(end), planned="equivalence")
        (touching,) = [one.test for one in at_its_end.planned if one.test.treatment == "rye"]
        assert getattr(touching, p) == pytest.approx(0.05, rel=1e-6)


@pytest.mark.parametrize("margin", [PERCENT, Margin(2.0)])
def test_means_are_geometric_and_standard_errors_come_back_by_the_delta_method(margin):
    means, se, _, _ = by_hand()
    found = read(margin, "tukey").analysis
    labels, pairs = found.families[0].labels, found.pairs[0]
    mean = {name: math.exp(log) for name, log in means.items()}
    assert found.families[0].mean == pytest.approx([mean[name] for name in labels])
    assert found.grand_mean == pytest.approx(np.mean(list(VALUES.values())))
    for i, (a, b) in enumerate((labels[a], labels[b]) for a, b in zip(pairs.a, pairs.b, strict=True)):
        assert pairs.estimate[i] == pytest.approx(mean[a] - mean[b])
        if margin is PERCENT:  # the control is taken as fixed, and the second one where neither is
            assert pairs.se[i] == pytest.approx(mean[b if a == "bare" else a] * se)


def test_what_has_no_logarithm_is_refused_with_the_plot_and_what_was_fitted_is_said():
    zero = read(PERCENT, samples={**SAMPLES, "Boat": [0.0]})
    assert zero.refusal == ("Plot Boat has 0 mm/h, but logarithms need values above 0. Choose the scale as measured.")
    assert "ratios to the control" in "".join(read(PERCENT).notes)
    assert "Differences are between these means" in "".join(read(Margin(2.0)).notes)
    assert {c.treatment: c.lower for c in read(None).cells} == {c.treatment: c.lower for c in read(Margin(2.0)).cells}
