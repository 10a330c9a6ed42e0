"""Each doubt has a data set that raises it and a near twin that doesn't."""

from dataclasses import replace

import pytest
from scipy.stats import hypergeom

from apercu_core.doubts.about_measure import doubts_about_measure, hypergeometric_tail
from apercu_core.doubts.about_trial import doubts_about_trial
from apercu_core.doubts.doubt import MeasureFacts
from apercu_core.trial.descriptions import TreatmentDescription, describe_treatment
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.words import without_p_values

ORDERS = ("abcd", "bdac", "cadb", "dcba")


def trial(orders=ORDERS, control="a", allocation="drawn"):
    plots = [
        PlotFacts(f"{block}{place}", str(block), treatment, place)
        for block, order in enumerate(orders, start=1)
        for place, treatment in enumerate(order, start=1)
    ]
    return TrialFacts(tuple(plots), control, allocation)


LEVEL = {"a": 10.0, "b": 12.0, "c": 15.0, "d": 20.0}
WOBBLE = {"1": -1.0, "2": 0.4, "3": 0.8, "4": -0.2}


def measure(**changes):
    facts = trial()
    values = {plot.label: LEVEL[plot.treatment] + WOBBLE[plot.block] for plot in facts.plots}
    values |= changes.pop("values", {})
    whole = MeasureFacts("Yield", "t/ha", facts, values, dict.fromkeys(values, 1), {}, 2.0, 1.5)
    return replace(whole, **changes)


def plot_of(treatment, block):
    return next(p.label for p in trial().plots if (p.treatment, p.block) == (treatment, str(block)))


def slipped(value, outlier_p=0.06):
    """A value of treatment b, whose middle is about 12, and how badly the fit explains it."""
    label = plot_of("b", 2)
    return measure(values={label: value}, outlier_p={label: outlier_p})


def unsettled(detectable):
    return measure(detectable=detectable, unsettled=("b", "d"))


BEYOND = measure(values={"11": None}, beyond=("11",), beyond_side="more")


def factorial(**levels):
    kinds = {"cover": "species", "kill": "kill_timing"}
    worn = {name: dict(zip(kinds, both.split(), strict=True)) for name, both in levels.items()}
    return replace(
        trial(), described=tuple(describe_treatment(n, levels=own, kinds=kinds, said={}) for n, own in worn.items())
    )


TRIALS = [
    (
        "two-things-changed",
        factorial(a="none early", b="vetch early", c="vetch late", d="none late"),
        factorial(a="none early", b="vetch early", c="oat early", d="none late"),
    ),
    (
        "two-things-changed",
        factorial(a="none early", b="vetch late", c="oat early", d="none late"),
        factorial(a="none early", b="vetch early", c="oat early", d="none late"),
    ),
    ("no-replication", trial(("abcd", "bca")), trial(("abcd", "bcad"))),
    ("not-randomised", replace(trial(), moved=("102 and 204 changed places: stones",)), trial()),
    ("not-randomised", trial(("abcd",) * 3), trial(("abcd", "abcd", "abdc"))),
    ("not-randomised", trial(allocation="unknown"), trial()),
    ("not-randomised", trial(allocation="systematic"), trial()),
    ("no-control", trial(control=None), trial()),
]
MEASURES = [
    (
        "treatment-not-delivered",
        measure(values={plot_of("b", 2): 0.0}, failed=(plot_of("b", 2),)),
        measure(values={plot_of("b", 2): 0.0}),
    ),
    ("beyond-what-was-measured", BEYOND, measure(values=BEYOND.values)),
    ("lost-plots", measure(values={"11": None}), BEYOND),
    ("measured-alone", measure(lacking="Soil moisture"), measure()),
    (
        "loss-follows-treatment",
        measure(values={plot_of("c", b): None for b in (1, 2, 3)}),
        measure(values={plot_of("c", 1): None, plot_of("c", 3): None}),  # of 16 plots, chance does that too
    ),
    ("ten-fold-slip", slipped(124.0), slipped(61.0)),
    ("ten-fold-slip", slipped(1.24), slipped(1.24, outlier_p=0.3)),
    ("outlier", measure(outlier_p={"11": 0.049}), measure(outlier_p={"11": 0.051})),
    ("outlier", measure(outlier_p={"11": 0.02}, measures=2), measure(outlier_p={"11": 0.03}, measures=2)),
    ("spread-grows-with-mean", measure(spread_p=0.03), measure(spread_p=0.04)),
    ("spread-grows-with-mean", measure(spread_p=0.015, measures=2), measure(spread_p=0.02, measures=2)),
    ("too-small-to-see", unsettled(2.01), unsettled(1.99)),
    ("subsamples-not-replicates", measure(subsamples={"11": 2, "12": 1}), measure(subsamples={"11": 1, "12": 1})),
    ("uneven-subsampling", measure(subsamples={"11": 4, "12": 6}), measure(subsamples={"11": 5, "12": 6})),
    ("changed-after-reading", measure(changed=("11",)), measure(changed=())),
    ("question-changed-after-reading", measure(question_changed=("The margin was 1 t/ha",)), measure()),
    ("few-df-for-this-model", measure(assumed=("Poisson", 2)), measure(assumed=("Poisson", 30))),
    ("few-df-for-this-model", measure(assumed=("Poisson", 2)), measure(assumed=("", 2))),
    ("not-converged", measure(converged=False), measure(converged=True)),
]


@pytest.mark.parametrize(("name", "raises", "twin"), TRIALS, ids=lambda value: value if isinstance(value, str) else "")
def test_doubt_about_the_trial_is_raised_by_its_data_and_not_by_the_near_twin(name, raises, twin):
    assert name in {doubt.id for doubt in doubts_about_trial(raises)}
    assert name not in {doubt.id for doubt in doubts_about_trial(twin)}


@pytest.mark.parametrize(
    ("name", "raises", "twin"), MEASURES, ids=lambda value: value if isinstance(value, str) else ""
)
def test_doubt_about_a_measure_is_raised_by_its_data_and_not_by_the_near_twin(name, raises, twin):
    assert name in {doubt.id for doubt in doubts_about_measure(raises)}
    assert name not in {doubt.id for doubt in doubts_about_measure(twin)}


SEVERITY = {
    "two-things-changed": "worth-knowing", "no-replication": "weakens", "not-randomised": "weakens",
    "beyond-what-was-measured": "weakens", "measured-alone": "weakens",
    "no-control": "worth-knowing", "treatment-not-delivered": "worth-knowing", "lost-plots": "worth-knowing",
    "loss-follows-treatment": "weakens", "ten-fold-slip": "weakens", "outlier": "weakens",
    "spread-grows-with-mean": "weakens", "too-small-to-see": "weakens", "subsamples-not-replicates": "worth-knowing",
    "uneven-subsampling": "worth-knowing", "changed-after-reading": "weakens",
    "question-changed-after-reading": "weakens",
    "few-df-for-this-model": "weakens", "not-converged": "stops",
}  # fmt: skip
MARKED = {
    "treatment-not-delivered": {plot_of("b", 2)}, "lost-plots": {"11"}, "ten-fold-slip": {plot_of("b", 2)},
    "loss-follows-treatment": {plot_of("c", block) for block in (1, 2, 3)}, "outlier": {"11"},
    "beyond-what-was-measured": {"11"}, "no-replication": {"14"}, "uneven-subsampling": {"11"},
    "changed-after-reading": {"11"},
}  # fmt: skip


@pytest.mark.parametrize(("name", "raises"), [case[:2] for case in (*TRIALS, *MEASURES)])
def test_every_doubt_has_its_severity_its_subject_its_plots_and_whole_sentences(name, raises):
    of_trial = isinstance(raises, TrialFacts)
    found = doubts_about_trial(raises) if of_trial else doubts_about_measure(raises)
    doubt = next(one for one in found if one.id == name)
    assert (doubt.severity, doubt.subject) == (SEVERITY[name], "" if of_trial else "Yield")
    assert isinstance(doubt.plots, tuple)
    assert set(doubt.plots) == MARKED.get(name, set())
    assert doubt.title[0].isupper()
    for text in (doubt.finding, doubt.why, doubt.what_to_do):
        assert text[0].isupper() or text[0].isdigit() or text.startswith(("b", "c", "d")), text  # or a treatment's name
        assert text.rstrip()[-1] in ".?"


def test_each_way_of_placing_treatments_has_its_own_finding():
    placed = [trial(allocation="systematic"), trial(allocation="unknown"), trial(("abc",) * 3)]
    findings = [doubts_about_trial(one)[0].finding for one in placed]
    assert findings == [
        "Treatments were placed in a fixed order, not randomised.",
        "It isn’t known how treatments were assigned to plots.",
        "All 3 blocks have their treatments in the same order.",
    ]
    unplaced = replace(trial(("abcd",) * 3), plots=tuple(replace(p, position=None) for p in trial(("abcd",) * 3).plots))
    unblocked = replace(trial(("abcd",) * 3), plots=tuple(replace(p, block="") for p in trial(("abcd",) * 3).plots))
    assert doubts_about_trial(unplaced) == doubts_about_trial(unblocked) == ()  # nobody knows their order


def test_no_replication_stops_a_trial_where_no_treatment_has_it():
    (some,) = doubts_about_trial(trial(("abcd", "bca")))
    assert some.finding == "d has only one plot."
    assert some.plots == ("14",)
    (none,) = doubts_about_trial(trial(("abcd",)))
    assert (none.severity, none.finding) == ("stops", "Every treatment has only one plot.")
    assert len(none.plots) == 4


def test_plots_beyond_what_was_measured_say_which_way_their_means_lean_and_aren_t_told_twice():
    own = [plot_of("c", block) for block in (1, 2, 3)]
    gone = measure(values=dict.fromkeys(own), beyond=tuple(own), beyond_side="less")
    (doubt,) = doubts_about_measure(gone)  # no loss that follows its treatment besides
    assert (doubt.severity, "3 of 16 plots" in doubt.finding, "3 of c" in doubt.finding) == ("stops", True, True)
    assert "the mean of its treatment is too high" in doubt.why
    assert "too low" in doubts_about_measure(replace(gone, beyond_side="more"))[0].why
    damaged = replace(gone, values={**gone.values, plot_of("c", 4): None})
    lost = next(one for one in doubts_about_measure(damaged) if one.id == "lost-plots")
    assert (lost.plots, "c has 0 left" in lost.finding) == ((plot_of("c", 4),), True)


def test_lost_plots_weaken_where_they_are_more_than_a_tenth():
    def lost(*plots):
        return next(d for d in doubts_about_measure(measure(values=dict.fromkeys(plots))) if d.id == "lost-plots")

    one, two = lost("11"), lost("11", "22")
    assert [(d.title, d.severity) for d in (one, two)] == [
        ("Missing plot", "worth-knowing"),
        ("Missing plots", "weakens"),
    ]
    assert two.plots == ("11", "22")
    wide = trial((*ORDERS, "abcd"))  # 2 of 20 are a tenth
    facts = measure(values={p.label: 10.0 for p in wide.plots} | {"11": None, "22": None}, trial=wide)
    assert next(d for d in doubts_about_measure(facts) if d.id == "lost-plots").severity == "worth-knowing"


def test_the_chance_of_losses_in_one_treatment_is_the_hypergeometric_tail():
    for found, plots, own, lost in [(0, 16, 4, 3), (1, 16, 4, 3), (2, 16, 4, 3), (2, 20, 5, 8), (4, 12, 4, 6)]:
        assert hypergeometric_tail(found, plots, own, lost) == pytest.approx(hypergeom.sf(found - 1, plots, own, lost))
    follows = measure(values={plot_of("c", b): None for b in (1, 2, 3)})
    (doubt,) = (d for d in doubts_about_measure(follows) if d.id == "loss-follows-treatment")
    assert set(doubt.plots) == {plot_of("c", b) for b in (1, 2, 3)}


def test_a_slip_needs_three_plots_of_its_treatment_and_a_fit_that_does_not_explain_it():
    fourth = {plot_of("b", 4): None}
    slip = slipped(124.0)
    three = replace(slip, values=slip.values | fourth)
    two = replace(three, values=three.values | {plot_of("b", 3): None})
    unfitted = replace(slip, outlier_p={})
    names = [{d.id for d in doubts_about_measure(one)} for one in (three, two, unfitted)]
    assert ["ten-fold-slip" in found for found in names] == [True, False, False]


def test_plots_whose_treatment_failed_are_named():
    one, two = (plot_of("b", 2),), (plot_of("b", 2), plot_of("c", 1))
    doubts = [next(iter(doubts_about_measure(measure(failed=failed)))) for failed in (one, two)]
    assert doubts[0].finding == "The cover failed in plot 21 (b). This plot counts as zero."
    assert doubts[1].finding == "The cover failed in plots 21 (b) and 13 (c). These plots count as zero."
    assert [d.plots for d in doubts] == [one, two]


def test_what_contradicts_the_question_is_said_whole():
    said = ("The question names 0.5 t/ha, and the margin is 1 t/ha.", "It names a control that isn’t one.")
    (doubt,) = doubts_about_trial(replace(trial(), contradictions=said))
    assert (doubt.id, doubt.finding) == ("question-and-margin", " ".join(said))


def test_a_clean_trial_has_no_doubts():
    assert doubts_about_trial(trial()) == ()
    assert doubts_about_measure(measure()) == ()


def test_findings_name_plots_and_figures_with_units():
    doubt = doubts_about_measure(measure(values={plot_of("c", 1): None, plot_of("c", 3): None}))[0]
    assert doubt.finding == "2 of 16 plots have no value (13 and 31): c has 2 left."
    assert doubt.plots == ("13", "31")
    (slip,) = doubts_about_measure(slipped(124.0))[:1]
    assert slip.finding.startswith("Plot 21 has 124 t/ha. The median of b is 12.3 t/ha, about ten times less")
    small = doubts_about_measure(unsettled(2.01))[0].finding
    assert (
        small == "For b and d the trial had an 80 % chance to detect a difference of 2.01 t/ha. Your margin is 2 t/ha."
    )
    values = {plot_of("a", block): 50.0 + block for block in (1, 2, 3, 4)} | {plot_of("b", 2): None}
    spread = next(d for d in doubts_about_measure(measure(values=values, spread_p=0.01)) if "spread" in d.id)
    # sd of (-1, 0.8, -0.2) about 12, and of (1, 2, 3, 4) about 50: neither the first nor the last name
    assert "is 0.902 t/ha in b, which has the lowest mean, and 1.29 t/ha in a, which has the highest" in spread.finding
    lost = doubts_about_measure(measure(values={plot_of("c", b): None for b in (1, 2, 3)}))
    (follows,) = (d for d in lost if d.id == "loss-follows-treatment")
    assert "(p = 0.029, adjusted for 4 treatments)" in follows.finding  # 4 · C(4, 3) / C(16, 3)


def test_two_things_at_once_weaken_only_where_no_treatment_parts_them():
    parted = factorial(a="none early", b="vetch early", c="vetch late", d="none late")
    alone = factorial(a="none early", b="vetch early", c="oat late", d="vetch early")
    doubt, worse = (next(d for d in doubts_about_trial(t) if d.id == "two-things-changed") for t in (parted, alone))
    assert (doubt.severity, worse.severity) == ("worth-knowing", "weakens")
    assert doubt.finding == "c differs from a in species or mix and kill timing at once."
    assert "Compare c with b" in doubt.what_to_do
    assert "Add what parts c" in worse.what_to_do
    outside = (TreatmentDescription("a"), *parted.described[1:])  # a control outside the crossing
    assert not doubts_about_trial(replace(parted, described=outside))


def test_the_way_to_part_two_things_is_an_added_treatment():
    said = {"a": {"rate": "80 kg/ha", "depth": "2 cm"}, "b": {"rate": "60 kg/ha", "depth": "4 cm"}}
    rows = tuple(describe_treatment(n, levels={}, kinds={}, said=said.get(n, said["a"])) for n in "abcd")
    (doubt,) = (d for d in doubts_about_trial(replace(trial(), described=rows)) if d.id == "two-things-changed")
    assert doubt.finding == "b differs from a in sowing rate and depth at once."
    assert doubt.what_to_do.startswith("Add a treatment: a with the ")


def test_treatments_with_a_control_of_their_own_are_compared_with_it_alone():
    facts = factorial(a="none early", b="vetch late", c="oat early", d="none late")
    own = replace(facts, own_controls={"b": "d", "c": "a"})
    assert not [d for d in doubts_about_trial(own) if d.id == "two-things-changed"]
    (crossed,) = (
        d for d in doubts_about_trial(replace(facts, own_controls={"b": "a", "c": "d"})) if d.id == "two-things-changed"
    )
    assert crossed.finding.startswith("b against a and c against d differ in ")


def test_without_a_control_only_pairs_that_nothing_parts_are_doubtful():
    parted = factorial(a="none early", b="vetch early", c="vetch late", d="none late")
    alone = factorial(a="none early", b="vetch late", c="none early", d="vetch late")
    found = [
        [d.id for d in doubts_about_trial(replace(one, control=None)) if d.id == "two-things-changed"]
        for one in (parted, alone)
    ]
    assert found == [[], ["two-things-changed"]]


def test_an_accepted_departure_stays_a_doubt_and_tells_the_reason():
    alone = factorial(a="none early", b="vetch early", c="oat late", d="vetch early")
    kept = replace(alone, accepted={("a", "c"): "the drill came late"})
    (doubt,) = (d for d in doubts_about_trial(kept) if d.id == "two-things-changed")
    assert doubt.severity == "weakens"
    assert doubt.finding.endswith("Accepted when it was planned (c: the drill came late).")
    assert set(doubt.plots) == {p.label for p in kept.plots if p.treatment == "c"}


def test_every_control_is_looked_at_and_controls_are_not_compared_with_each_other():
    two = factorial(a="none early", b="vetch early", c="oat early", d="none late")
    assert not doubts_about_trial(two)
    (doubt,) = (d for d in doubts_about_trial(replace(two, more_controls=("d",))) if d.id == "two-things-changed")
    assert doubt.severity == "worth-knowing"  # the early control lies between
    assert doubt.finding.startswith("b against d and c against d differ in species or mix and kill timing")


def test_a_finding_can_be_told_without_its_p_values():
    lost = measure(values={plot_of("c", b): None for b in (1, 2, 3)})
    for facts in (lost, measure(outlier_p={"11": 0.0004}, measures=2), measure(spread_p=0.01)):
        with_p = [d.finding for d in doubts_about_measure(facts) if "(p " in d.finding]
        assert with_p
        for finding in with_p:
            told = without_p_values(finding)
            assert "p =" not in told
            assert "p <" not in told
            assert "adjusted" not in told
            assert told[:10] == finding[:10]
    assert without_p_values("2 plots (13 and 31) are missing.") == "2 plots (13 and 31) are missing."
