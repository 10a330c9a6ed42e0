"""Each doubt has a data set that raises it and a near twin that doesn't."""

from dataclasses import replace

import pytest

from apercu_core.doubts.about_measure import doubts_about_measure
from apercu_core.doubts.about_trial import doubts_about_trial
from apercu_core.doubts.doubt import MeasureFacts
from apercu_core.trial.descriptions import TreatmentDescription, describe_treatment
from apercu_core.trial.facts import PlotFacts, TrialFacts

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
    ("lost-plots", measure(values={"11": None}), measure()),
    (
        "loss-follows-treatment",
        measure(values={plot_of("c", b): None for b in (1, 2, 3)}),
        measure(values={plot_of("c", 1): None, plot_of("c", 3): None}),  # of 16 plots, chance does that too
    ),
    ("ten-fold-slip", slipped(124.0), slipped(61.0)),
    ("ten-fold-slip", slipped(1.24), slipped(1.24, outlier_p=0.3)),
    ("outlier", measure(outlier_p={"11": 0.049}), measure(outlier_p={"11": 0.051})),
    ("outlier", measure(outlier_p={"11": 0.02}, measures=2), measure(outlier_p={"11": 0.03}, measures=2)),
    ("spread-grows-with-mean", measure(spread_p=0.04), measure(spread_p=0.06)),
    ("spread-grows-with-mean", measure(spread_p=0.02, measures=2), measure(spread_p=0.03, measures=2)),
    ("too-small-to-see", unsettled(2.01), unsettled(1.99)),
    ("subsamples-not-replicates", measure(subsamples={"11": 2, "12": 1}), measure(subsamples={"11": 1, "12": 1})),
    ("uneven-subsampling", measure(subsamples={"11": 4, "12": 6}), measure(subsamples={"11": 5, "12": 6})),
    ("changed-after-reading", measure(changed=("11",)), measure(changed=())),
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


def test_a_clean_trial_has_no_doubts():
    assert doubts_about_trial(trial()) == ()
    assert doubts_about_measure(measure()) == ()


def test_findings_name_plots_and_figures_with_units():
    doubt = doubts_about_measure(measure(values={plot_of("c", 1): None, plot_of("c", 3): None}))[0]
    assert doubt.finding == "2 of 16 plots have no value (13 and 31): c rests on 2."
    assert doubt.plots == ("13", "31")
    (slip,) = doubts_about_measure(slipped(124.0))[:1]
    assert slip.finding.startswith("Plot 21 has 124 t/ha; the middle of b is 12.3 t/ha, ten times less")
    small = doubts_about_measure(unsettled(2.01))[0].finding
    assert small == "For b and d the trial had an 80 % chance to see a difference of 2.01 t/ha; your margin is 2 t/ha."
    lost = doubts_about_measure(measure(values={plot_of("c", b): None for b in (1, 2, 3)}))
    (follows,) = (d for d in lost if d.id == "loss-follows-treatment")
    assert "(p = 0.029, 4 treatments allowed for)" in follows.finding  # 4 · C(4, 3) / C(16, 3)


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
