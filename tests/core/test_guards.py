"""Nothing that isn't finite or has no error becomes a verdict, and the model is told as it was fitted."""

import math

import numpy as np
import pytest

from apercu_core.errors import Refused
from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.model_words import model_in_words
from apercu_core.reading.trial import read_trial
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Band, Margin
from apercu_core.verdicts.verdict import Interval, Verdict, judge

TREATMENTS = ("bare", "oat", "vetch", "mustard")


def plots_of(design, blocks=4):
    """Four treatments in a design, in a fixed arrangement: what is read is what matters here."""
    out = []
    for b in range(blocks):
        order = [TREATMENTS[(i + b) % 4] for i in range(4)]
        for i, treatment in enumerate(order):
            whole = "a" if treatment in ("bare", "oat") else "b"
            out.append(
                PlotFacts(
                    f"{b + 1}{i + 1:02}", "" if design == "crd" else f"B{b}", treatment, i + 1, whole_plot=whole,
                    row_strip=whole, column_strip="x" if treatment in ("bare", "vetch") else "y", row=str(b),
                    column=str(i),
                )
            )  # fmt: skip
    return tuple(out)


def read(values, design="rcbd", how=None, margin=1.0):
    plots = plots_of(design)
    samples = {plot.label: [values(plot, i)] for i, plot in enumerate(plots)}
    given = [Recorded(Asked("Soil", "kg", Margin(margin), "higher"), samples)]
    return read_trial(TrialFacts(plots, "bare", "drawn"), design, given, how or How(), "bare").measures[0]


NOISE = np.random.default_rng(5).normal(0, 1, 16)
EFFECT = {"bare": 10.0, "oat": 10.5, "vetch": 16.0, "mustard": 11.0}


def usual(plot, i):
    return EFFECT[plot.treatment] + NOISE[i]


@pytest.mark.parametrize("scale", [1e-12, 1e-6, 1, 1e9, 1e15])
def test_verdicts_do_not_depend_on_the_size_of_the_unit(scale):
    there, here = read(usual), read(lambda plot, i: scale * usual(plot, i), margin=scale)
    assert [c.verdict for c in here.cells] == [c.verdict for c in there.cells]
    assert [c.lower / scale for c in here.cells] == pytest.approx([c.lower for c in there.cells])


def additive(plot, i):
    return EFFECT[plot.treatment] + 0.1 * int(plot.label[0])


def once_a_whole_plot(plot, i):
    return NOISE[2 * int(plot.block[1:]) + (plot.whole_plot == "b")]


@pytest.mark.parametrize(
    ("values", "design", "says"),
    [
        (additive, "rcbd", "explain every value to the last digit"),
        (lambda plot, i: 7.0, "rcbd", "All plots have the same value"),
        (lambda plot, i: EFFECT[plot.treatment], "crd", "Plots of one treatment all have the same value"),
        (once_a_whole_plot, "split_plot", "measured once for each whole plot"),
        (lambda plot, i: 1e308 * (-1) ** i, "rcbd", "Look at the values"),
    ],
)
@pytest.mark.parametrize("block_effect", ["fixed", "random"])
def test_without_an_error_to_judge_by_there_is_no_answer_and_it_says_why(values, design, says, block_effect):
    found = read(values, design, How(block_effect=block_effect))
    assert {cell.verdict for cell in found.cells} == {Verdict.NO_ANSWER}
    assert found.analysis is None
    assert says in found.refusal or "differ by nothing but their treatments" in found.refusal


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"how": How(alpha=0.0)}, "The error rate is 0; it must be between 0 and 1"),
        ({"how": How(alpha=1.0)}, "The error rate is 1; it must be between 0 and 1"),
        ({"how": How(alpha=math.nan)}, "The error rate is nan"),
        ({"plots": (*plots_of("rcbd"), plots_of("rcbd")[0])}, "Two plots are called '101'"),
        ({"base": "rye"}, "The control 'rye' has no plots. Name one that has"),
    ],
)
def test_what_no_measure_could_be_read_with_is_refused_at_the_door(change, says):
    given = {"plots": plots_of("rcbd"), "how": How(), "base": "bare"} | change
    with pytest.raises(Refused, match=says):
        read_trial(TrialFacts(given["plots"], "bare", "drawn"), "rcbd", [], given["how"], given["base"])


@pytest.mark.parametrize(
    ("value", "says"), [(math.nan, "Plot '101' has the value nan"), (math.inf, "Plot '101' has the value inf")]
)
def test_a_value_that_is_no_number_leaves_its_measure_without_an_answer(value, says):
    found = read(lambda plot, i: value if plot.label == "101" else usual(plot, i))
    assert {cell.verdict for cell in found.cells} == {Verdict.NO_ANSWER}
    assert says in found.refusal


@pytest.mark.parametrize("ends", [(math.nan, 1.0), (-1.0, math.nan), (-math.inf, 1.0), (math.nan, math.nan)])
def test_an_interval_that_is_not_finite_has_no_answer(ends):
    assert judge(Interval(*ends), Band(-1, 1), "higher") is Verdict.NO_ANSWER
    assert judge(Interval(0, 1), Band(math.nan, math.nan), "higher") is Verdict.NO_ANSWER


@pytest.mark.parametrize(
    ("design", "how", "says"),
    [
        ("crd", How(), "Completely randomised: treatments as fixed effect, one error between plots, by least squares."),
        ("rcbd", How(), "Randomised blocks: treatments and blocks as fixed effects, one error between plots, by ↵"),
        ("rcbd", How(block_effect="random", df_method="satterthwaite"),
         "Randomised blocks: treatments fixed, blocks random, by REML with Satterthwaite degrees of freedom."),
        ("latin_square", How(), "Latin square: treatments, rows and columns as fixed effects, one error between ↵"),
        ("split_plot", How(), "Split plot: treatments fixed, blocks and whole plots random, by REML with Kenward–↵"),
        ("split_plot", How(block_effect="fixed"), "Split plot: treatments and blocks fixed, whole plots random, ↵"),
        ("split_plot", How(df_method="containment_anova"),
         "Split plot: treatments fixed, blocks and whole plots random, by classical strata, each effect against ↵"),
        ("strip_plot", How(), "Strip plot: treatments fixed, blocks, row strips and column strips random, by REML ↵"),
    ],
    ids=["crd", "rcbd", "rcbd random", "latin", "split", "split fixed", "split classical", "strip"],
)  # fmt: skip
def test_the_model_is_told_as_it_was_fitted(design, how, says):
    said = model_in_words(read(usual, design, how).analysis)
    assert said.startswith(says[:-1]) if says.endswith("↵") else said == says


def test_blocks_are_fixed_where_that_is_exact_and_random_where_a_block_lacks_a_treatment():
    plots = plots_of("rcbd")
    assert in_force(How(), "rcbd", plots).block_effect == "fixed"
    assert in_force(How(), "rcbd", plots[1:]).block_effect == "random"
    assert in_force(How(), "split_plot", plots).block_effect == "random"
    assert in_force(How(block_effect="random"), "rcbd", plots).block_effect == "random"


def test_the_trial_is_called_too_small_only_for_comparisons_that_are_not_settled():
    """Vetch is clear by far, oat and mustard aren't settled: the doubt speaks of their standard error."""
    found = read(usual)
    assert [c.verdict for c in found.cells] == [Verdict.NOT_SETTLED, Verdict.CLEAR_GAIN, Verdict.NOT_SETTLED]
    assert found.detectable is not None
    assert "too-small-to-see" in {d.id for d in found.doubts}
    settled = read(lambda plot, i: EFFECT[plot.treatment] * 4 + NOISE[i] / 4, margin=0.5)
    assert Verdict.NOT_SETTLED not in {c.verdict for c in settled.cells}
    assert (settled.detectable, "too-small-to-see" in {d.id for d in settled.doubts}) == (None, False)


def test_a_discovery_is_marked_only_where_the_verdict_excludes_zero():
    for seed in range(40):
        noise = np.random.default_rng(seed).normal(0, 1.2, 16)
        found = read(lambda plot, i, noise=noise: EFFECT[plot.treatment] / 4 + noise[i])
        assert all(cell.excludes_zero for cell in found.cells if cell.stands_out)
