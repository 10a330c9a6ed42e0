"""What stands beside the verdicts: planned tests, blocks that would settle a comparison, notes, what was only seen."""

import math
from dataclasses import replace

import numpy as np
import pytest

from apercu_core.errors import Refused
from apercu_core.reading.asked import Asked, Blinding, How, Recorded
from apercu_core.reading.description import decimals_of, describe
from apercu_core.reading.trial import read_trial
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.specification import Equivalence, read_specification
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.settling import blocks_for_f
from apercu_core.verdicts.verdict import Verdict
from tests.core.test_reading import TREATMENTS, recorded, trial

NO_LESS = {
    "equivalence": {Verdict.NO_DIFFERENCE, Verdict.REAL_SMALL},
    "non-inferiority": {Verdict.NO_DIFFERENCE, Verdict.REAL_SMALL, Verdict.CLEAR_GAIN},
}


def read(measure, how=None, facts=None):
    return read_trial(facts or trial(), "rcbd", [measure], how or How(), "bare").measures[0]


@pytest.mark.parametrize("planned", ["equivalence", "non-inferiority"])
def test_a_planned_test_tells_why_it_differs_only_where_it_does(planned):
    seen = set()
    for seed in range(12):
        measure = recorded((0, 0.2, 1.2, 4 if planned == "equivalence" else -4), seed, planned=planned)
        found = read(replace(measure, planned_after=seed % 2 == 0))
        verdicts = {cell.treatment: cell.verdict for cell in found.cells}
        assert {line.test.treatment for line in found.planned} == set(verdicts)
        for line in found.planned:
            assert line.shown == (line.test.equivalent if planned == "equivalence" else line.test.non_inferior)
            assert (line.kind, line.margin, line.chosen_after) == (planned, 2.0, seed % 2 == 0)
            agrees = verdicts[line.test.treatment] in NO_LESS[planned]
            assert bool(line.parts) == (line.shown != agrees)
            if line.shown and not agrees:
                cell = next(one for one in found.cells if one.treatment == line.test.treatment)
                wider = cell.verdict is Verdict.NOT_SETTLED and planned == "equivalence"
                assert ("90 % interval" in line.parts and "3 comparisons" in line.parts) == wider
                if planned == "non-inferiority" and cell.verdict is Verdict.NOT_SETTLED:
                    assert "may be better by the margin" in line.parts
            seen.add((line.shown, agrees))
    assert {(True, True), (True, False), (False, False)} <= seen
    assert read(recorded(planned=planned, margin=None)).planned == ()


def fewest(estimate, sd, margin, method="dunnett"):
    """The smallest number of blocks whose half-width is below max(|d|, distance to the margin), counted one by one."""
    target = max(abs(estimate), margin - abs(estimate))
    for b in range(2, 41):
        critical = critical_value(method, 4, 3.0 * (b - 1), 0.05, against_control=method == "dunnett")
        if critical * sd * math.sqrt(2 / b) < target:
            return b
    return None


def test_blocks_that_would_settle_a_comparison_are_those_of_whole_blocks_of_this_trial():
    looked_at = 0
    for seed in range(6):
        found = read(recorded((0, 0.2, 1.2, 1.5), seed))
        for cell in (cell for cell in found.cells if cell.verdict is Verdict.NOT_SETTLED):
            looked_at += 1
            assert cell.blocks == fewest(cell.estimate, found.analysis.residual_sd, 2)
            assert cell.more_than_40 == (cell.blocks is None)
            assert (cell.blocks_likely is None) == (cell.blocks is None)
    assert looked_at > 5
    hopeless = read(recorded((0, 0, 0, 0), margin=Margin(0.05)))
    assert any(cell.more_than_40 and cell.blocks is None for cell in hopeless.cells)
    assert all((cell.blocks, cell.more_than_40) == (None, False) for cell in found.cells if cell.excludes_zero)


def test_under_a_protected_lsd_the_overall_test_has_to_be_significant_as_well():
    waits_for_f = 0
    for seed in range(40):
        found = read(recorded((0, 0.1, 0.2, 0.6), seed), How("lsd"))
        overall = found.analysis.anova["treatment"]
        if overall.p < 0.05:
            continue
        by_f = blocks_for_f(overall.f, 3, overall.df_den, 5, 0.05)
        for cell in (cell for cell in found.cells if cell.verdict is Verdict.NOT_SETTLED):
            by_interval = fewest(cell.estimate, found.analysis.residual_sd, 2, "lsd")
            assert cell.blocks == (None if None in (by_f, by_interval) else max(by_f, by_interval))
            assert cell.blocks_likely is None or (by_f is not None and cell.blocks_likely >= by_f)
            waits_for_f += by_f is not None and by_interval is not None and by_f > by_interval
    assert waits_for_f > 3


def test_a_treatment_without_any_count_is_shown_as_far_below_its_control():
    rng = np.random.default_rng(8)
    samples = {p.label: [0 if p.treatment == "oat" else rng.poisson(30) / 0.25] for p in trial().plots}
    found = read(Recorded(Asked("Weeds", "weeds/m²", Margin(5), "lower", kind="count"), samples, area=0.25))
    oat = next(cell for cell in found.cells if cell.treatment == "oat")
    family = found.analysis.families[0]
    assert oat.estimate == pytest.approx(-float(family.mean[family.labels.index("bare")]))
    assert (oat.verdict, oat.against) == (Verdict.CLEAR_GAIN, "bare")
    assert oat.lower < oat.estimate < oat.upper < -5


def test_a_treatment_without_a_value_names_the_control_that_it_is_not_compared_with():
    measure = recorded()
    lost = {p.label: [] for p in trial().plots if p.treatment == "oat"}
    found = read(replace(measure, samples={**measure.samples, **lost}))
    oat = next(cell for cell in found.cells if cell.treatment == "oat")
    assert (oat.verdict, oat.estimate, oat.against) == (Verdict.NO_ANSWER, None, "bare")
    assert "No plot of this treatment has a value" in oat.reason


def test_notes_tell_of_zones_shares_methods_and_margins_that_are_a_percentage():
    measure = recorded()
    assert read(measure).notes == ()
    two = read(replace(measure, zones=("row", "alley"))).notes
    assert len(two) == 1
    assert "mean of its zones (row, alley)" in two[0]
    (one,) = read(replace(measure, zones=("alley",))).notes
    assert one.endswith("alley.")
    (holm,) = read(measure, How("holm")).notes
    assert "Bonferroni" in holm
    percent = read(replace(measure, asked=replace(measure.asked, margin=Margin(5, "percent"))))
    family = percent.analysis.families[0]
    mean = float(family.mean[family.labels.index("bare")])
    (note,) = percent.notes
    assert f"5 % of bare at {mean:.3g}"[:15] in note
    assert note.count("t/ha") == 1
    assert percent.band.high == pytest.approx(0.05 * mean)


@pytest.mark.parametrize(
    ("kind", "blinding", "says"),
    [
        ("score", Blinding(20), ("Recorded blind: treatment names were hidden for every entry.",)),
        (
            "score", Blinding(12, 6, 2),
            ("Treatment names were hidden for 12 entries, shown for 6 and for 2 it isn’t known.",),
        ),
        ("score", Blinding(0, 20), ("Scored with treatment names shown: whoever scored knew what grew in each plot.",)),
        ("continuous", Blinding(0, 20), ()),
        ("score", Blinding(0, 0, 20), ()),
    ],
)  # fmt: skip
def test_notes_tell_whether_treatment_names_were_hidden(kind, blinding, says):
    measure = recorded()
    found = read(replace(measure, asked=replace(measure.asked, kind=kind), blinding=blinding))
    assert tuple(note for note in found.notes if "treatment names" in note.lower()) == says


def test_a_variance_that_is_estimated_at_zero_is_noted_by_its_unit():
    values = {p.label: [40 + TREATMENTS.index(p.treatment) + 0.1 * ((i * 7) % 5)] for i, p in enumerate(trial().plots)}
    found = read(Recorded(Asked("Yield", "t/ha", Margin(2)), values), How(block_effect="random"))
    at_zero = [name for name, variance in found.analysis.variance_components.items() if variance <= 0]
    assert (at_zero == ["block"]) == any("between blocks" in note for note in found.notes)
    noisy = read(recorded(), How(block_effect="random"))
    assert noisy.analysis.variance_components["block"] > 0
    assert noisy.notes == ()


def test_what_is_only_seen_is_the_mean_over_plots_of_the_mean_of_their_samples():
    facts = TrialFacts(trial(2).plots, "bare", "systematic")
    oats = [plot.label for plot in facts.plots if plot.treatment == "oat"]
    (oat,) = describe(facts.plots, {oats[0]: [10.0, 14.0, None], oats[1]: [16.0]})
    assert (oat.treatment, oat.plots, oat.mean, oat.low, oat.high) == ("oat", 2, 14.0, 12.0, 16.0)
    # 4 apart: a quarter of it is 1, so one decimal less than for 0.4 apart
    assert decimals_of([oat]) + 1 == decimals_of([replace(oat, low=13.8, high=14.2)])
    assert decimals_of([replace(oat, low=14.0, high=14.0)]) == decimals_of([replace(oat, low=12.6, high=15.4)])
    assert decimals_of([replace(oat, mean=5000.0, low=4000.0, high=6000.0)]) == 0


def test_an_equivalence_test_is_asked_for_with_its_level_and_its_better_direction():
    raw = {"response": "y", "treatments": ["cover"], "design": "rcbd", "block": "block"}
    asked = {"margin": 1.5, "control": "bare", "alpha": 0.1, "higher_is_better": False}
    assert read_specification({**raw, "equivalence": asked}).equivalence == Equivalence(1.5, "bare", 0.1, False)
    short = read_specification({**raw, "equivalence": {"margin": 1.5, "control": "bare"}})
    assert short.equivalence == Equivalence(1.5, "bare", 0.05, True)
    with pytest.raises(Refused, match=r"equivalence\.alpha"):
        read_specification({**raw, "equivalence": {**asked, "alpha": 0.7}})
