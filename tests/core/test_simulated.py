"""Slow: rates over many invented trials, each with its run count and Monte Carlo error (`pytest -s` prints them)."""

import math

import numpy as np
import pytest

from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.trial.facts import PlotFacts, TrialFacts
from benchmarks.count_coverage import Cell, simulate
from tests.core.planned_boards import OTHER
from tests.core.planned_boards import Case as Promised

TREATMENTS = ("bare", "a", "b", "c", "d")
PLOTS = tuple(PlotFacts(f"{b}{t}", f"B{b}", name) for b in range(4) for t, name in enumerate(TREATMENTS))
TRIAL = TrialFacts(PLOTS, "bare", "drawn")
MEANS = dict(zip(TREATMENTS, (10.0, 10.5, 9.5, 11.0, 10.0), strict=True))


def rates(runs, values_of, measures=1, seed=3):
    """Share of boards on which each doubt about a measure is raised."""
    rng = np.random.default_rng(seed)
    raised = {}
    for _ in range(runs):
        given = [Recorded(Asked(f"Yield {i}", "t/ha", None, "higher"), values_of(rng)) for i in range(measures)]
        reading = read_trial(TRIAL, "rcbd", given, How(), "bare")
        for name in {doubt.id for m in reading.measures for doubt in m.doubts}:
            raised[name] = raised.get(name, 0) + 1
    return {name: n / runs for name, n in raised.items()}


def told(what, found, runs):
    print(f"{what}: {100 * found:.1f} % of {runs} runs ± {100 * math.sqrt(max(found * (1 - found), 1e-6) / runs):.1f}")
    return found


def clean(rng, cv=0.1, lost=0):
    block = rng.normal(0, 0.5, 4)
    values = {p.label: [MEANS[p.treatment] + 10 * cv * rng.normal() + block[int(p.block[1])]] for p in PLOTS}
    for label in rng.choice(list(values), lost, replace=False):
        values[label] = [None]
    return values


FAMILIES = ("outlier", "spread-grows-with-mean", "ten-fold-slip", "loss-follows-treatment")


@pytest.mark.parametrize(("measures", "runs"), [(1, 2000), (4, 250)])
def test_clean_data_raise_each_doubt_on_at_most_one_board_in_twenty(measures, runs):
    found = rates(runs, lambda rng: clean(rng, lost=0), measures)
    error = math.sqrt(0.05 * 0.95 / runs)
    for name in FAMILIES:
        assert told(f"{name}, {measures} measures", found.get(name, 0), runs) <= 0.05 + 2 * error


@pytest.mark.parametrize("lost", [2, 3])
def test_plots_lost_by_chance_are_seldom_said_to_follow_a_treatment(lost):
    found = rates(300, lambda rng: clean(rng, lost=lost)).get("loss-follows-treatment", 0)
    assert told(f"{lost} plots lost", found, 300) <= 0.05


def test_plots_that_vary_by_sixty_per_cent_hardly_look_like_slips():
    for cv in (0.3, 0.4, 0.6):
        found = rates(500, lambda rng, cv=cv: clean(rng, cv)).get("ten-fold-slip", 0)
        assert told(f"ten-fold slip at a CV of {cv}", found, 500) <= 0.02 + 2 * math.sqrt(0.02 * 0.98 / 500)


def with_slip(rng):
    values = clean(rng, 0.08)
    label = rng.choice(list(values))
    return {**values, label: [values[label][0] * (10 if rng.random() < 0.5 else 0.1)]}


def with_outlier(rng):
    values = clean(rng, 0.1)
    return {**values, "11": [values["11"][0] + 8 * 0.1 * 10]}


def in_proportion(rng):
    """Means that differ ten-fold, plots that vary by a fifth of them."""
    mean = dict(zip(TREATMENTS, (10, 20, 40, 60, 100), strict=True))
    return {p.label: [mean[p.treatment] * (1 + 0.2 * rng.normal())] for p in PLOTS}


@pytest.mark.parametrize(
    ("name", "values_of", "least"),
    [
        ("ten-fold-slip", with_slip, 0.90),
        ("outlier", with_outlier, 0.95),
        ("spread-grows-with-mean", in_proportion, 0.75),
    ],
)
def test_clear_cases_are_still_found(name, values_of, least):
    runs = 400
    found = told(name, rates(runs, values_of).get(name, 0), runs)
    assert found >= least - 2 * math.sqrt(least * (1 - least) / runs)


@pytest.mark.parametrize(
    ("cell", "least"),
    [
        (Cell((0.5,) * 5, None, 4), 0.93), (Cell((40, *[10] * 4), 2, 3), 0.93), (Cell((200, *[50] * 4), 1, 4), 0.93),
        (Cell((50,) * 5, 0.5, 6), 0.91), (Cell((40, 10), 0.5, 6), 0.91), (Cell((10, 10), 1, 4), 0.93),
        (Cell((40, *[20] * 4), 2, 4, empty=0.5), 0.93),
        (Cell((20, *[5] * 4), 1, 4, split=True), 0.93), (Cell((5,) * 5, 1, 4, split=True), 0.93),
        (Cell((20, 20, 20, 0.3, 0.3), 2, 4), 0.93),
    ],
    ids=str,
)  # fmt: skip
def test_intervals_of_counts_hold_the_truth_and_find_no_difference_where_there_is_none(cell, least):
    found = simulate(cell, 100)
    told(f"covered in {cell}", found.covered, found.runs)
    assert found.answered == 1
    assert found.covered >= least - 2 * math.sqrt(least * (1 - least) / found.runs)
    assert told("false differences", found.false, found.runs) <= 0.06 + 2 * math.sqrt(0.06 * 0.94 / found.runs)


@pytest.mark.parametrize(("control", "few", "least"), [(20, 0.3, 0.93), (50, 2, 0.93), (30, 0, 0.93), (8, 0.3, 0.8)])
def test_weeds_that_vanish_are_seen(control, few, least):
    """Two treatments near zero, two at half the control, in four blocks, k = 2."""
    found = simulate(Cell((control, control / 2, control / 2, few, few), 2, 4), 100)
    seen = sum(found.found[-2:]) / 2
    told(f"{control} → {few} differs", seen, 2 * found.runs)
    assert seen >= least - 2 * math.sqrt(least * (1 - least) / (2 * found.runs))


@pytest.mark.parametrize(
    "case",
    [
        Promised("rcbd", 0.0), Promised("rcbd", 1.0),
        Promised("split_plot", 1.0, 0.0), Promised("split_plot", 1.0, 2.0), Promised("strip_plot", 1.0, 0.7, 0.7),
    ],
    ids=str,
)  # fmt: skip
def test_a_plan_promises_what_boards_of_such_trials_say(case):
    """Within three Monte Carlo errors; benchmarks/plan_against_boards.py does it with as many boards as wanted."""
    runs = 120
    promised, seen = case.promised(), case.boards(runs)
    for truth, chances in promised.items():
        for name, chance in chances.items():
            told(f"{name} in {case}, truth {truth:g}, promised {chance:.3f}", seen[truth][name], runs)
            error = math.sqrt(chance * (1 - chance) * (1 / runs + 1 / 20_000))
            assert abs(seen[truth][name] - chance) <= 3 * error + 1 / runs
    for facts, y in case.trials(1):
        there, moved = case.read(facts, y), case.read(facts, y + [2.0 * (p.treatment == OTHER) for p in facts])
        assert (moved.estimate, moved.lower, moved.upper) == pytest.approx(
            (there.estimate + 2, there.lower + 2, there.upper + 2)
        )
