"""Sentences of the board, taken literally: each statement holds for the numbers before they were rounded."""

import re

import numpy as np
import pytest

from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.measure import read_measure
from apercu_core.reporting.sentences import measure_report
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Verdict

NAMES = ("bare", "oat", "rye", "vetch")
SENTENCES = 500
"""Of each family; there are four."""
END = r"(just (?:above|below) )?([+−]?[\d.]+(?:e[−\d]+)?)"
SAID = re.compile(
    r"^(?:(?P<size>[\d.]+(?:e[−\d]+)?)\S*(?: \S+)? (?P<way>more|less) than bare|not settled|"
    r"no difference worth having) "
    rf"\(between {END} and {END}\)\. (?P<rest>.+)$"
)


def number(text):
    return float(text.replace("−", "-"))


def drawn(family, rng):
    """Values of four treatments whose differences are of the size of what chance does, and how they are judged."""
    blocks = int(rng.integers(3, 7))
    plots = tuple(PlotFacts(f"{b}{t}", f"B{b}", t) for b in range(blocks) for t in NAMES)
    effect = np.tile([0, *rng.normal(0, 1.2, 3)], blocks) + np.repeat(rng.normal(0, 0.4, blocks), 4)
    margin = Margin(float(rng.choice([0.5, 1, 2, 4])) if family != "share" else float(rng.choice([5, 15])))
    method = str(rng.choice(["dunnett", "tukey", "lsd", "holm"]))
    kind, area, examined, scale = "continuous", None, {}, "measured"
    if family == "count":
        values = rng.poisson(rng.gamma(2, 3, 1) * np.exp(0.6 * effect) * rng.gamma(3, 1 / 3, len(plots))).astype(float)
        kind, area, margin = "count", 1.0, Margin(float(rng.choice([1, 3, 8])))
    elif family == "share":
        n = rng.integers(20, 60, len(plots))
        values = 100 * rng.binomial(n, 1 / (1 + np.exp(-effect))) / n
        kind, examined = "k-of-n", {p.label: [float(one)] for p, one in zip(plots, n, strict=True)}
    elif family == "log":
        values, scale, margin = np.exp(1 + 0.4 * effect + rng.normal(0, 0.2, len(plots))), "log", Margin(20, "percent")
    else:
        values = 8 + effect + rng.normal(0, rng.uniform(0.1, 1), len(plots))
        if rng.random() < 0.5:
            margin = Margin(float(rng.choice([5, 10, 30])), "percent")
    direction = str(rng.choice(["higher", "lower", "none"]))
    asked = Asked("Yield", "t/ha", margin, direction, kind=kind)
    samples = {p.label: [float(v)] for p, v in zip(plots, values, strict=True)}
    recorded = Recorded(asked, samples, area=area, examined=examined)
    how = in_force(How(method=method, scale=scale), "rcbd", plots)
    return read_measure(TrialFacts(plots, "bare", "drawn"), "rcbd", recorded, how, "bare")


@pytest.mark.parametrize("family", ["normal", "log", "count", "share"])
def test_each_statement_of_a_sentence_holds_for_the_numbers_that_were_not_rounded(family):
    rng, checked, verdicts = np.random.default_rng([7, len(family)]), 0, set()
    while checked < SENTENCES:
        found = drawn(family, rng)
        for cell, line in zip(found.cells, measure_report(found).lines, strict=True):
            if cell.verdict is Verdict.NO_ANSWER:
                continue
            said = SAID.match(line.sentence)
            assert said, line.sentence
            _holds(cell, found, said)
            verdicts.add(cell.verdict)
            checked += 1
    assert {Verdict.NOT_SETTLED, Verdict.REAL_UNSETTLED} <= verdicts


def _holds(cell, found, said):
    exact = found.asked.margin.kind == "absolute" or found.analysis.scale.name == "log"
    margin = found.band.high
    lower, upper = said[4], said[6]
    rest = said["rest"]
    if said["way"]:
        assert (said["way"] == "more") == (cell.estimate >= 0)
    # What is read off the printed ends is what holds for the exact ones.
    for near, text, value in ((said[3], lower, cell.lower), (said[5], upper, cell.upper)):
        if near:
            assert (value > number(text)) == (near == "just above ")
            assert value != number(text)
        else:
            assert (number(text) > 0, number(text) < 0) == (value > 0, value < 0)
    zero = cell.lower <= 0 <= cell.upper
    if "difference is real" in rest or "clear" in rest:
        assert not zero
    if "clear" in rest and exact:
        assert cell.lower >= margin or cell.upper <= found.band.low
    if "clear gain" in rest:
        assert found.asked.direction != "none"
        assert (cell.estimate > 0) == (found.asked.direction == "higher")
    if "smaller than the margin" in rest and exact:
        assert max(found.band.low - cell.lower, cell.upper - margin) <= 0
    if "in both directions" in rest:
        assert zero
    if "isn’t settled" in rest and exact:
        assert cell.lower < margin < cell.upper or cell.lower < found.band.low < cell.upper
    if said.string.startswith("not settled"):
        assert zero or "as a whole" in rest
    for blocks in re.findall(r"(\d+) blocks", rest):
        assert int(blocks) > len({p.block for p in _plots(found)}) or int(blocks) == 40


def _plots(found):
    factor = found.analysis.plots.factors["block"]
    return [PlotFacts(str(i), factor.levels[code], "") for i, code in enumerate(factor.codes)]
