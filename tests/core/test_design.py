"""Randomisation is fair and the same for ever; layouts don't overlap; power matches the reference."""

from collections import Counter
from itertools import permutations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from apercu_core.design.draw import Draw
from apercu_core.design.randomisation import completely_randomised, randomised_complete_block
from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize, extent, place_in_rows
from apercu_core.power.closed_form import (
    _pair_power_by_integration,
    detectable_difference,
    f_test_power,
    minimum_detectable_difference,
    pair_power,
)


def test_golden_plan_is_the_same_for_ever():
    plan = randomised_complete_block(["BS", "WC", "BC", "BO"], 3, seed=20260828)
    assert [plot.treatment for plot in plan.plots] == GOLDEN
    assert [plot.number for plot in plan.plots] == [101, 102, 103, 104, 201, 202, 203, 204, 301, 302, 303, 304]


GOLDEN = "WC BS BC BO BS BO BC WC BC BO WC BS".split()


def test_all_orders_of_four_come_equally_often():
    draw = Draw(7)
    counts = Counter(tuple(draw.shuffled("abcd")) for _ in range(24_000))
    assert set(counts) == set(permutations("abcd"))
    assert stats.chisquare(list(counts.values())).pvalue > 1e-4


def test_blocks_are_shuffled_independently_of_each_other():
    first_places = Counter()
    for seed in range(4000):
        plots = randomised_complete_block("abcd", 2, seed).plots
        first_places[plots[0].treatment, plots[4].treatment] += 1
    assert stats.chisquare([first_places[a, b] for a in "abcd" for b in "abcd"]).pvalue > 1e-4


@given(st.integers(2, 12), st.integers(2, 8), st.integers(0, 2**63 - 1), st.booleans())
def test_a_complete_block_plan_has_each_treatment_once_per_block_under_its_own_number(t, b, seed, serpentine):
    names = [f"T{i}" for i in range(t)]
    plan = randomised_complete_block(names, b, seed, serpentine=serpentine)
    for block in range(1, b + 1):
        assert sorted(p.treatment for p in plan.plots if p.block == block) == sorted(names)
    assert len({p.number for p in plan.plots}) == t * b
    assert all(p.number // 100 == p.block for p in plan.plots)


def test_serpentine_numbers_turn_back_in_every_second_block():
    plan = randomised_complete_block("abc", 2, 1, serpentine=True)
    assert [(p.number, p.position) for p in plan.plots] == [(101, 1), (102, 2), (103, 3), (201, 3), (202, 2), (203, 1)]


def test_a_completely_randomised_plan_has_every_treatment_as_often_as_asked():
    plan = completely_randomised("abc", 5, seed=3, per_row=4)
    assert Counter(p.treatment for p in plan.plots) == {"a": 5, "b": 5, "c": 5}
    assert [max(p.position for p in plan.plots if p.block == row) for row in (1, 2, 3, 4)] == [4, 4, 4, 3]


@pytest.mark.parametrize(
    ("treatments", "blocks", "says"),
    [(["a"], 4, "at least two"), (["a", "a"], 4, "'a' is listed twice"), (["a", "b"], 1, "needs at least two")],
)
def test_plans_that_could_not_tell_anything_are_refused(treatments, blocks, says):
    with pytest.raises(Refused, match=says):
        randomised_complete_block(treatments, blocks, 1)


@given(st.floats(0.5, 30), st.floats(0.5, 60), st.floats(0, 5), st.floats(0, 20))
def test_plots_never_overlap_and_their_extent_is_the_sum_of_their_parts(width, length, gap, alley):
    size = PlotSize(width, length, gap, alley)
    placed = place_in_rows([(b, p) for b in (1, 2, 3) for p in (1, 2, 3, 4)], size)
    for i, a in enumerate(placed):
        for b in placed[i + 1 :]:
            apart = max(a.x, b.x) - min(a.x, b.x) >= width - 1e-9 or max(a.y, b.y) - min(a.y, b.y) >= length - 1e-9
            assert apart
    assert extent(placed) == pytest.approx((4 * width + 3 * gap, 3 * length + 2 * alley))


def test_detectable_difference_has_the_power_it_promises_and_shrinks_with_blocks():
    found = minimum_detectable_difference(2.0, 5, 4)
    se = 2.0 * (2 / 4) ** 0.5
    assert pair_power(found, se, 12, float(stats.t.isf(0.025, 12))) == pytest.approx(0.8)
    assert minimum_detectable_difference(2.0, 5, 8) < found < minimum_detectable_difference(2.0, 5, 4, method="dunnett")


@given(st.integers(2, 8), st.integers(2, 12), st.floats(0.2, 5), st.floats(0.1, 10))
def test_power_grows_with_blocks_and_difference_and_falls_with_spread(treatments, blocks, sigma, difference):
    power = f_test_power(treatments, blocks, difference, sigma)
    assert 0.05 - 1e-6 <= power <= 1
    assert f_test_power(treatments, blocks + 1, difference, sigma) >= power - 1e-9
    assert f_test_power(treatments, blocks, difference * 1.1, sigma) >= power - 1e-9
    assert f_test_power(treatments, blocks, difference, sigma * 1.1) <= power + 1e-9


@given(st.integers(2, 6), st.integers(3, 8), st.floats(0.1, 50))
def test_the_detectable_difference_is_in_proportion_to_the_spread(treatments, blocks, sigma):
    unit = minimum_detectable_difference(1.0, treatments, blocks)
    assert minimum_detectable_difference(sigma, treatments, blocks) == pytest.approx(sigma * unit)


def test_power_agrees_with_simulation_within_three_monte_carlo_errors():
    t, b, sigma, difference, runs = 4, 5, 1.0, 2.0, 20_000
    rng = np.random.default_rng(8)
    effects = np.array([-difference / 2, 0, 0, difference / 2])
    y = effects + rng.normal(0, 3, (runs, b, 1)) + rng.normal(0, sigma, (runs, b, t))
    treatment = b * ((y.mean(1) - y.mean((1, 2))[:, None]) ** 2).sum(1) / (t - 1)
    residual = y - y.mean(1, keepdims=True) - y.mean(2, keepdims=True) + y.mean((1, 2))[:, None, None]
    f = treatment / ((residual**2).sum((1, 2)) / ((t - 1) * (b - 1)))
    seen = (f > stats.f.isf(0.05, t - 1, (t - 1) * (b - 1))).mean()
    power = f_test_power(t, b, difference, sigma)
    assert seen == pytest.approx(power, abs=3 * (power * (1 - power) / runs) ** 0.5)


@pytest.mark.parametrize(
    ("ask", "says"),
    [
        (lambda: f_test_power(4, 4, 1, 0), "sigma is 0"),
        (lambda: minimum_detectable_difference(float("nan"), 4, 4), "sigma is nan"),
        (lambda: minimum_detectable_difference(1.0, 4, 1), "at least 2 of each"),
        (lambda: minimum_detectable_difference(1.0, 4, 4, design="split_plot"), "several strata of error"),
        (lambda: Draw(-1), "seed is -1"),
        (lambda: PlotSize(0, 12), "plot width is 0 m"),
        (lambda: PlotSize(6, 12, gap=-1), "plot gap is -1 m; it must be 0 or more"),
        (lambda: extent([]), "no plots"),
        (lambda: completely_randomised("ab", 3, 1, per_row=-2), "plots in a row"),
    ],
)
def test_plans_that_make_no_sense_are_refused_with_what_is_wrong(ask, says):
    with pytest.raises(Refused, match=says):
        ask()


def test_many_treatments_get_numbers_that_do_not_run_into_the_next_block():
    plan = randomised_complete_block([f"T{i}" for i in range(120)], 2, 5)
    assert len({plot.number for plot in plan.plots}) == 240
    assert {plot.number // 1000 for plot in plan.plots} == {1, 2}


def test_draws_below_a_number_are_even_and_stay_below():
    draw = Draw(3)
    drawn = [draw.below(6) for _ in range(12_000)]
    assert stats.chisquare([drawn.count(i) for i in range(6)]).pvalue > 1e-4


@pytest.mark.parametrize(
    ("shift", "df", "critical"), [(2.0, 12.0, 2.2), (5.0, 3.4, 3.2), (0.0, 6.0, 2.4), (9.0, 4.0, 4.6)]
)
def test_power_by_integration_is_that_of_the_series(shift, df, critical):
    # scipy.stats.nct of 1.16 takes the series where it holds
    series = stats.nct.sf(critical, df, shift) + stats.nct.cdf(-critical, df, shift)
    assert _pair_power_by_integration(shift, df, critical) == pytest.approx(series, abs=1e-6)


def test_detectable_differences_are_found_with_the_fewest_degrees_of_freedom():
    # three whole plots leave few df and large critical values, where the series gives NaN
    found = detectable_difference(1.0, 3.36, 6.1)
    assert _pair_power_by_integration(found, 3.36, 6.1) == pytest.approx(0.8, abs=1e-6)
