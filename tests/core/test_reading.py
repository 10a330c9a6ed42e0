"""Whole readings: the design is followed, methods agree where they must, refusals leave the rest standing."""

from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from apercu_core import __version__
from apercu_core.errors import Refused
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.description import describe, only_described
from apercu_core.reading.trial import fingerprint, read_trial
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.multivariate_t import largest_quantile, largest_upper
from apercu_core.statistics.studentized_range import range_quantile, range_upper
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Verdict

TREATMENTS = ("bare", "oat", "clover", "camelina")


def trial(blocks=5):
    return TrialFacts(
        tuple(
            PlotFacts(f"{b}{t}", str(b), TREATMENTS[(t + b * b) % 4], t + 1) for b in range(blocks) for t in range(4)
        ),
        "bare",
        "drawn",
    )


def recorded(effects=(0, 1, 3, 6), seed=3, facts=None, **asked):
    rng = np.random.default_rng(seed)
    block = rng.normal(0, 2, 9)
    samples = {
        p.label: [40 + effects[TREATMENTS.index(p.treatment)] + block[int(p.block)] + rng.normal()]
        for p in (facts or trial()).plots
    }
    return Recorded(Asked("Yield", "t/ha", **{"margin": Margin(2), "direction": "higher", **asked}), samples)


def cells(method, facts=None, measure=None):
    facts = facts or trial()
    reading = read_trial(facts, "rcbd", [measure or recorded(facts=facts)], How(method), "bare")
    return {cell.treatment: cell for cell in reading.measures[0].cells}


def test_methods_order_by_how_much_they_guard_against_and_agree_on_estimates():
    width = {}
    for method in ("lsd", "dunnett", "tukey", "sidak", "bonferroni", "holm"):
        cell = cells(method)["clover"]
        width[method] = cell.upper - cell.lower
        assert cell.estimate == pytest.approx(cells("lsd")["clover"].estimate)
    assert width["lsd"] < width["dunnett"] < width["tukey"] < width["sidak"] < width["bonferroni"]
    assert width["holm"] == width["bonferroni"]


@pytest.mark.parametrize(("unit", "area", "searched", "limit"), [
    ("weeds/m²", 0.25, "1.25 m²", "2.4 per m²"), ("weeds/ft²", 2.5, "12.5 ft²", "0.24 per ft²"),
])  # fmt: skip
def test_a_treatment_without_any_count_says_what_was_searched_in_the_unit_that_is_shown(unit, area, searched, limit):
    rng = np.random.default_rng(8)
    samples = {p.label: [0 if p.treatment == "oat" else rng.poisson(30) / area] for p in trial().plots}
    measure = Recorded(Asked("Weeds", unit, Margin(5), "lower", kind="count"), samples, area=area)
    [note, exact] = read_trial(trial(), "rcbd", [measure], How("dunnett"), "bare").measures[0].notes[1:]
    assert f"({searched} searched)" in note  # five plots with one frame each
    assert f"fewer than {limit}," in note  # the rule of three: 3 / area
    assert "oat and bare within blocks in all ways gives p = 0.062, the smallest" in exact  # 2 of 32


def test_protected_lsd_reads_not_settled_with_the_overall_test_when_that_is_not_significant():
    # Search for data in which a pair excludes zero and the overall F doesn't: the case that protection is for.
    for seed in range(200):
        measure = recorded((0, 0, 0, 1.2), seed, margin=Margin(0.1))
        reading = read_trial(trial(3), "rcbd", [replace(measure, samples=_only(measure, 3))], How("lsd"), "bare")
        found = reading.measures[0]
        odd = [c for c in found.cells if c.lower * c.upper > 0 and found.analysis.anova["treatment"].p >= 0.05]
        if odd:
            assert odd[0].verdict is Verdict.NOT_SETTLED
            assert odd[0].reason.startswith("overall F p = ")
            assert "have no letters" in found.letters_withheld
            return
    pytest.fail("no data set of this kind among the seeds")


def _only(measure, blocks):
    kept = {plot.label for plot in trial(blocks).plots}
    return {label: values for label, values in measure.samples.items() if label in kept}


def test_a_measure_that_cannot_be_read_has_no_answer_with_its_reason_and_the_rest_is_read():
    constant = Recorded(Asked("Stand", "1/m²", Margin(5)), {p.label: [7.0] for p in trial().plots})
    lost = Recorded(Asked("Lost", "", Margin(1)), {})
    control_lost = recorded()
    gone = {p.label: None for p in trial().plots if p.treatment == "bare"}
    control_lost = replace(control_lost, samples={k: [gone.get(k, v[0])] for k, v in control_lost.samples.items()})
    reading = read_trial(trial(), "rcbd", [constant, lost, recorded(), control_lost], How(), "bare")
    assert [{c.verdict for c in m.cells} == {Verdict.NO_ANSWER} for m in reading.measures] == [True, True, False, True]
    assert "same value" in reading.measures[0].cells[0].reason
    assert reading.measures[1].refusal == "No plot has a value yet."
    assert "isn’t among the levels" in reading.measures[3].refusal or "No plot of bare" in reading.measures[3].refusal
    assert reading.families == 1


@pytest.mark.parametrize(
    ("facts", "says"),
    [
        (replace(trial(), allocation="systematic"), "fixed order, not randomised"),
        (replace(trial(), plots=trial().plots[:4]), "has only one plot"),
    ],
)
def test_what_chance_did_not_place_or_stands_once_is_described_and_never_tested(facts, says):
    """No interval and no p anywhere; the means are those of the plots, by hand."""
    given = recorded(facts=facts)
    (measure,) = read_trial(facts, "rcbd", [given], How(), "bare").measures
    assert (measure.analysis, measure.planned, says in measure.refusal) == (None, (), True)
    values = {t: [given.samples[p.label][0] for p in facts.plots if p.treatment == t] for t in TREATMENTS}
    assert {one.treatment: (one.plots, one.low, one.high) for one in measure.described} == {
        t: (len(own), min(own), max(own)) for t, own in values.items()
    }
    assert {c.treatment: c.estimate for c in measure.cells} == {
        t: pytest.approx(np.mean(values[t]) - np.mean(values["bare"])) for t in TREATMENTS[1:]
    }
    assert {(c.verdict, c.lower, c.p) for c in measure.cells} == {(Verdict.NO_ANSWER, None, None)}


def test_nobody_knowing_how_plots_were_allotted_is_a_doubt_and_no_bar_to_testing():
    """Only what is said to be in a fixed order, or stands once throughout, is left untested."""
    unknown = replace(trial(), allocation="unknown")
    reading = read_trial(unknown, "rcbd", [recorded(facts=unknown)], How(), "bare")
    assert reading.measures[0].analysis is not None
    assert reading.measures[0].described == ()
    assert [d.id for d in reading.doubts] == ["not-randomised"]
    assert only_described(replace(trial(), plots=trial().plots[:5])) == ""  # one treatment stands twice
    assert only_described(replace(trial(), plots=trial().plots[:1])) == ""  # a single plot compares nothing


def test_a_description_leaves_lost_plots_and_treatments_out():
    plots = trial().plots[:8]
    lost = {p.label: [None] for p in plots if p.treatment == "oat"}
    samples = {p.label: [float(i), None, float(i) + 2] for i, p in enumerate(plots)} | lost
    found = {one.treatment: one for one in describe(plots, samples)}
    assert set(found) == set(TREATMENTS) - {"oat"}
    assert found["bare"].plots == 2
    assert found["bare"].low <= found["bare"].mean <= found["bare"].high


def test_percent_margin_of_a_control_at_zero_has_no_answer():
    measure = recorded(margin=Margin(5, "percent"))
    below = {label: [v[0] - 60] for label, v in measure.samples.items()}
    cell = cells("dunnett", measure=replace(measure, samples=below))["oat"]
    assert (cell.verdict, "isn’t above zero" in cell.reason) == (Verdict.NO_ANSWER, True)


def test_planned_equivalence_stands_beside_the_verdict_and_says_why_they_part():
    found = None
    for seed in range(60):
        reading = read_trial(trial(), "rcbd", [recorded(seed=seed, planned="equivalence")], How(), "bare").measures[0]
        verdicts = {c.treatment: c.verdict for c in reading.cells}
        found = next(
            (p for p in reading.planned if p.shown and verdicts[p.test.treatment] is Verdict.NOT_SETTLED), None
        )
        if found:
            break
    assert found is not None
    assert "90 % interval" in found.parts
    assert found.test.upper - found.test.lower < 4


def test_false_discovery_marks_never_change_a_verdict():
    null = recorded((0, 0, 0, 0))
    strong = recorded((0, 5, 5, 5))
    reading = read_trial(trial(), "rcbd", [null, strong], How(), "bare")
    assert not any(c.stands_out for c in reading.measures[0].cells)
    assert all(c.stands_out for c in reading.measures[1].cells)
    alone = read_trial(trial(), "rcbd", [null], How(), "bare").measures[0]
    assert [c.verdict for c in alone.cells] == [c.verdict for c in reading.measures[0].cells]


def by_benjamini_hochberg(reading):
    """Which cells the false discovery rate marks, by an independent implementation over the board's raw p."""
    raw = {}
    for i, m in enumerate(reading.measures):
        if m.pairs is not None:
            labels = m.pairs.family.labels
            ends = ({labels[a], labels[b]} for a, b in zip(m.pairs.a, m.pairs.b, strict=True))
            raw |= {(i, *(pair - {"bare"})): p for pair, p in zip(ends, m.pairs.p_raw, strict=True) if "bare" in pair}
    adjusted = stats.false_discovery_control(list(raw.values()))
    return {key for key, p in zip(raw, adjusted, strict=True) if p <= 0.05}


@pytest.mark.parametrize("method", ["lsd", "dunnett"])
def test_cells_are_marked_by_benjamini_and_hochberg_over_the_whole_board_where_they_exclude_zero(method):
    """Of 40 boards some have differences that the rate doesn't let pass, and passing ones that the verdict doesn't."""
    only_rate = only_verdict = both = 0
    for seed in range(40):
        measures = [recorded((0, 0.8, 1.2, 1.8), seed), recorded((0, 0, 1.5, 0.5), seed + 100)]
        unread = replace(measures[0], samples={})
        reading = read_trial(trial(), "rcbd", [unread, *measures], How(method), "bare")
        passed = by_benjamini_hochberg(reading)
        for i, measure in enumerate(reading.measures):
            for cell in measure.cells:
                rate, real = (i, cell.treatment) in passed, cell.excludes_zero
                assert cell.stands_out == (rate and real)
                only_rate, only_verdict = only_rate + (rate and not real), only_verdict + (real and not rate)
                both += cell.stands_out
    assert both
    assert only_verdict if method == "lsd" else only_rate


def test_a_planned_test_of_not_being_worse_follows_what_is_wanted():
    """Clover has 3 more and camelina 6 more than bare: never worse where more is wanted, much worse where less is."""
    for direction, shown in (("higher", True), ("none", True), ("lower", False)):
        measure = recorded(planned="non-inferiority", direction=direction)
        reading = read_trial(trial(), "rcbd", [measure], How(), "bare").measures[0]
        tests = {p.test.treatment: p.shown for p in reading.planned}
        assert (tests["clover"], tests["camelina"]) == (shown, shown)


def test_a_board_of_more_measures_asks_more_of_an_odd_plot_and_says_what_it_was_made_of():
    measure = recorded(effects=(0, 0, 0, 0), seed=2)
    odd = replace(measure, samples=measure.samples | {"00": [54.0]})
    alone = read_trial(trial(), "rcbd", [odd], How("lsd", 0.1), "bare")
    beside = read_trial(trial(), "rcbd", [odd, recorded()], How("lsd", 0.1), "bare")
    found = [next(d.finding for d in r.measures[0].doubts if d.id == "outlier") for r in (alone, beside)]
    assert ["plots and 2 measures)" in one for one in found] == [False, True]
    assert (alone.base, alone.how.method, alone.how.alpha, alone.core_version) == ("bare", "lsd", 0.1, __version__)
    assert alone.fingerprint == fingerprint(trial(), [odd])


def test_blocks_that_would_settle_it_are_as_many_as_the_design_needs_whole():
    """RCBD of 4 treatments by LSD: with b blocks t(3 (b − 1)) · σ √(2/b) below the distance to the farther end."""
    facts, measure = trial(), recorded((0, 1.4, 1.5, 6), seed=5)
    lost = replace(measure, samples={k: v for k, v in measure.samples.items() if k not in ("00", "13")})
    reading = read_trial(facts, "rcbd", [lost], How("lsd"), "bare").measures[0]
    sigma = reading.analysis.residual_sd
    unsettled = [c for c in reading.cells if c.verdict is Verdict.NOT_SETTLED]
    assert unsettled
    for cell in unsettled:
        target = max(abs(cell.estimate), min(2 - cell.estimate, cell.estimate + 2))
        by_hand = next(b for b in range(2, 41) if stats.t.ppf(0.975, 3 * (b - 1)) * sigma * (2 / b) ** 0.5 < target)
        assert cell.blocks == max(by_hand, 6)  # there are five already


def test_the_detectable_difference_is_the_largest_of_the_unsettled_comparisons():
    """(t at 97.5 % + t at 80 %) standard errors, by the noncentral t within a per cent."""
    reading = read_trial(trial(), "rcbd", [recorded((0, 1.4, 1.5, 6), seed=5)], How("lsd"), "bare").measures[0]
    se, df = float(reading.pairs.se[0]), float(reading.pairs.df[0])
    t = stats.t.ppf(0.975, df)
    power = stats.nct.sf(t, df, reading.detectable / se) + stats.nct.cdf(-t, df, reading.detectable / se)
    assert power == pytest.approx(0.8, abs=1e-6)
    settled = read_trial(trial(), "rcbd", [recorded((0, 30, 30, 30))], How("lsd"), "bare").measures[0]
    assert settled.detectable is None


def test_a_treatment_without_values_has_no_answer_and_says_against_what():
    measure = recorded()
    gone = {p.label: [None] for p in trial().plots if p.treatment == "oat"}
    cell = cells("dunnett", measure=replace(measure, samples=measure.samples | gone))["oat"]
    assert (cell.verdict, cell.reason, cell.against) == (
        Verdict.NO_ANSWER, "No plot of this treatment has a value.", "bare"
    )  # fmt: skip


def test_a_plot_without_a_treatment_is_refused():
    first, *others = trial().plots
    odd = TrialFacts((replace(first, treatment=""), *others), "bare", "drawn")
    with pytest.raises(Refused, match="Plot '00' has no treatment"):
        read_trial(odd, "rcbd", [recorded()], How(), "bare")


def test_fingerprint_changes_with_any_value_and_not_with_the_margin():
    measure = recorded()
    changed = replace(measure, samples={**measure.samples, "00": [41.0]})
    other_margin = replace(measure, asked=replace(measure.asked, margin=Margin(3)))
    assert fingerprint(trial(), [measure]) != fingerprint(trial(), [changed])
    assert fingerprint(trial(), [measure]) == fingerprint(trial(), [other_margin])
    moved = replace(trial(), plots=(*trial().plots[1:], trial().plots[0]))
    assert fingerprint(trial(), [measure]) != fingerprint(moved, [measure])


@pytest.mark.parametrize(("k", "df"), [(3, 3.0), (5, 12.0), (8, 7.35), (20, 60.0)])
def test_studentized_range_agrees_with_an_independent_implementation(k, df):
    q = range_quantile(0.05, k, df)
    assert stats.studentized_range.sf(q, k, df) == pytest.approx(0.05, abs=2e-6)
    assert float(range_upper(np.array(2.0), k, df)) == pytest.approx(stats.studentized_range.sf(2.0, k, df), abs=5e-6)


@pytest.mark.parametrize("df", [1.0, 1.5, 2.0, 2.6, 3.0, 12.4, 5000.0])
def test_range_of_two_means_is_student_t(df):
    q = np.array([0.3, 1.0, 3.0, 10.0])
    np.testing.assert_allclose(range_upper(q, 2, df), 2 * stats.t.sf(q / np.sqrt(2), df), atol=1e-8)


@pytest.mark.parametrize("treatments", [3, 12, 24])
def test_planned_critical_values_of_tukey_are_those_of_the_range(treatments):
    for df in (2.0, 4.7, 33.0, 1e4):
        planned = critical_value("tukey", treatments, df, 0.1, against_control=False)
        assert stats.studentized_range.sf(planned * np.sqrt(2), treatments, df) == pytest.approx(0.1, abs=1e-6)


def contrasts_with_first(rows, columns, between_rows, between_columns, within):
    """Covariance of each cell minus the first, where cells share the effect of their row and of their column."""
    place = [(i, j) for i in range(rows) for j in range(columns)]
    of_cells = np.array([[between_rows * (a == c) + between_columns * (b == d) + within * ((a, b) == (c, d))
                          for c, d in place] for a, b in place])  # fmt: skip
    minus = np.hstack([-np.ones((len(place) - 1, 1)), np.eye(len(place) - 1)])
    return minus @ of_cells @ minus.T


@pytest.mark.parametrize(
    "covariance",
    [
        contrasts_with_first(3, 3, 2.0, 0.0, 1.0),  # a split plot
        contrasts_with_first(4, 2, 0.2, 0.0, 1.0),
        contrasts_with_first(3, 3, 1.3, 1.0, 1.0),  # a strip plot
        contrasts_with_first(2, 4, 0.5, 2.0, 1.0),
        np.kron(np.eye(3), 0.5 + 0.5 * np.eye(2)),  # a control for each level of another factor
    ],
    ids=["split 3 by 3", "split 4 by 2", "strip 3 by 3", "strip 2 by 4", "control per level"],
)
def test_comparisons_with_a_control_in_larger_units_are_exact_to_the_third_digit(covariance):
    """Against 2,000,000 draws; four Monte Carlo errors of a probability near 0.05 are 0.0006, and one digit 0.001."""
    rng = np.random.default_rng(6)
    spread = np.sqrt(np.diagonal(covariance))
    root = np.linalg.cholesky(covariance / np.outer(spread, spread)).T
    t = largest_quantile(0.05, covariance, 9)
    above = 0
    for _ in range(10):
        z = rng.normal(size=(200_000, len(spread))) @ root
        above += (np.abs(z).max(axis=1) > t * np.sqrt(rng.chisquare(9, 200_000) / 9)).sum()
    assert above / 2e6 == pytest.approx(0.05, abs=0.0006)
    assert largest_upper(t, covariance, 9) == pytest.approx(0.05, abs=1e-6)


def test_largest_t_agrees_with_simulation_for_product_and_other_correlations():
    product = np.full((4, 4), 0.5) + 0.5 * np.eye(4)
    other = np.array([[1, 0.62, 0.41], [0.62, 1, 0.55], [0.41, 0.55, 1]])
    chained = np.array([[1, 0.7, 0.2, 0.1], [0.7, 1, 0.6, 0.2], [0.2, 0.6, 1, 0.7], [0.1, 0.2, 0.7, 1]])
    rng = np.random.default_rng(11)
    for correlation in (product, other, chained):
        z = rng.multivariate_normal(np.zeros(len(correlation)), correlation, 400_000)
        drawn = np.abs(z / np.sqrt(rng.chisquare(9.5, 400_000) / 9.5)[:, None]).max(1)
        assert largest_upper(2.3, correlation, 9.5) == pytest.approx((drawn > 2.3).mean(), abs=1.5e-3)
        assert largest_upper(largest_quantile(0.05, correlation, 9.5), correlation, 9.5) == pytest.approx(
            0.05, abs=1e-7
        )


def test_dunnett_two_sided_critical_value_matches_the_published_table():
    # Dunnett (1964), Biometrics 20, 482-491, table II, joint 95 %, 12 df, 1 to 5 treatments and a control (2 decimals)
    for m, published in enumerate((2.18, 2.50, 2.68, 2.81, 2.90), start=1):
        product = np.full((m, m), 0.5) + 0.5 * np.eye(m)
        assert largest_quantile(0.05, product, 12) == pytest.approx(published, abs=0.006)


def test_reading_is_the_same_whatever_the_order_of_rows():
    reading = read_trial(trial(), "rcbd", [recorded()], How(), "bare").measures[0]
    turned = replace(trial(), plots=trial().plots[::-1])
    again = read_trial(turned, "rcbd", [recorded()], How(), "bare").measures[0]
    by_name = {c.treatment: c for c in again.cells}
    for cell in reading.cells:
        assert by_name[cell.treatment].lower == pytest.approx(cell.lower)
        assert by_name[cell.treatment].verdict is cell.verdict


def test_a_measure_that_names_its_own_control_is_compared_with_that_one():
    yields, moisture = recorded(primary=True), recorded(base="oat", margin=Margin(1), seed=5)
    moisture = replace(moisture, asked=replace(moisture.asked, name="Moisture"))
    first, second = read_trial(trial(), "rcbd", [yields, moisture], How(), "bare").measures
    assert (first.base, second.base) == ("bare", "oat")
    assert {cell.treatment for cell in second.cells} == {"bare", "clover", "camelina"}
    alone = read_trial(trial(), "rcbd", [replace(moisture, asked=replace(moisture.asked, base=""))], How(), "oat")
    assert second.cells == alone.measures[0].cells
    assert second.detectable == alone.measures[0].detectable
    with pytest.raises(Refused, match="'rye' isn’t a treatment"):
        read_trial(trial(), "rcbd", [recorded(base="rye")], How(), "bare")


def test_planned_tests_are_made_for_the_treatments_they_were_planned_for():
    def tested(*named):
        asked = recorded((0, 0.1, 3, 0), planned="equivalence", planned_for=named)
        return [p.test.treatment for p in read_trial(trial(), "rcbd", [asked], How(), "bare").measures[0].planned]

    assert sorted(tested()) == ["camelina", "clover", "oat"]
    assert tested("oat") == ["oat"]
    assert tested("bare") == []  # the base isn't tested against itself
