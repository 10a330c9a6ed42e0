"""Verdicts partition every interval; margins on every scale; how many blocks would settle it."""

import math
from itertools import product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from apercu_core.errors import Refused
from apercu_core.statistics.scales import IDENTITY, SCALES
from apercu_core.verdicts.margin import Band, Margin, NoBand, band_of, needs_response_scale
from apercu_core.verdicts.settling import Compared, blocks_for_a_chance, blocks_for_f, blocks_to_settle
from apercu_core.verdicts.verdict import PLACES, Interval, Verdict, judge, judge_many

BAND = Band(-2, 2)


@pytest.mark.parametrize(
    ("lower", "upper", "verdict"),
    [
        (2.5, 4, "clear-gain"),
        (2, 4, "clear-gain"),  # touching the margin from beyond: wholly beyond
        (-4, -2, "clear-loss"),
        (1, 3, "real-size-unsettled"),
        (-3, -0.1, "real-size-unsettled"),
        (0.5, 1.5, "real-but-small"),
        (0.5, 2, "real-but-small"),  # touching the margin from within: within
        (-2, -0.5, "real-but-small"),
        (-1, 1, "no-difference-worth-having"),
        (0, 1, "no-difference-worth-having"),  # touching zero: includes it
        (-2, 2, "no-difference-worth-having"),
        (-1, 2.1, "not-settled"),
        (0, 2.1, "not-settled"),
        (-5, 5, "not-settled"),
    ],
)
def test_judge_decides_by_where_the_interval_lies(lower, upper, verdict):
    assert judge(Interval(lower, upper), BAND, "higher") == verdict


def test_judge_follows_the_wanted_direction_and_has_no_verdict_without_a_margin():
    assert judge(Interval(3, 4), BAND, "lower") is Verdict.CLEAR_LOSS
    assert judge(Interval(-4, -3), BAND, "lower") is Verdict.CLEAR_GAIN
    assert judge(Interval(3, 4), BAND, "none") is Verdict.CLEAR_MORE
    assert judge(Interval(-4, -3), BAND, "none") is Verdict.CLEAR_LESS
    assert judge(Interval(3, 4), None, "higher") is Verdict.NO_MARGIN


def test_protected_lsd_takes_back_only_what_needs_to_exclude_zero():
    assert judge(Interval(3, 4), BAND, "higher", protected_out=True) is Verdict.NOT_SETTLED
    assert judge(Interval(0.5, 1), BAND, "higher", protected_out=True) is Verdict.NOT_SETTLED
    assert judge(Interval(-1, 1), BAND, "higher", protected_out=True) is Verdict.NO_DIFFERENCE


def test_many_intervals_are_judged_as_each_alone():
    """Every way in which ends, zero and margins can lie and touch, and ends that aren't numbers."""
    ends = [-math.inf, -3, -2, -1, 0, 1, 2, 3, math.inf, math.nan]
    bands = [(-2, 2), (-1, 3), (-math.inf, 2), (math.nan, 2), (-2, math.nan), (math.nan, math.nan)]
    cases = [
        (lower, upper, low, high, out)
        for lower, upper in product(ends, ends) if not lower > upper
        for low, high in bands for out in (False, True)
    ]  # fmt: skip
    together = judge_many(*(np.array(column) for column in zip(*cases, strict=True)))
    alone = [judge(Interval(a, b), Band(c, d), "none", protected_out=out) for a, b, c, d, out in cases]
    assert [PLACES[k] for k in together] == alone
    assert set(alone) == set(PLACES)


@given(st.floats(-9, 9), st.floats(0, 9), st.floats(0.01, 5), st.floats(0.01, 5))
def test_judge_mirrors_when_differences_change_sign(lower, width, low, high):
    """Turning a difference round swaps gain and loss and leaves all other verdicts."""
    interval, band = Interval(lower, lower + width), Band(-low, high)
    mirrored = judge(Interval(-interval.upper, -interval.lower), Band(-high, low), "higher")
    swapped = {Verdict.CLEAR_GAIN: Verdict.CLEAR_LOSS, Verdict.CLEAR_LOSS: Verdict.CLEAR_GAIN}
    verdict = judge(interval, band, "higher")
    assert mirrored == swapped.get(verdict, verdict)


def test_margins_become_bands_on_the_scale_of_the_comparison():
    assert band_of(Margin(2), 40, IDENTITY) == Band(-2, 2)
    assert band_of(Margin(5, "percent"), 40, IDENTITY) == Band(-2, 2)
    log = band_of(Margin(20, "percent"), 40, SCALES["log"])
    assert (log.low, log.high) == pytest.approx((math.log(0.8), math.log(1.2)))
    assert [band_of(Margin(m, "percent"), 40, SCALES["log"]).low for m in (100, 150)] == [-math.inf, -math.inf]
    assert band_of(Margin(5, "percent"), 0.5, IDENTITY) == Band(-0.025, 0.025)
    with pytest.raises(NoBand, match="isn’t above zero"):
        band_of(Margin(5, "percent"), 0, IDENTITY)
    with pytest.raises(Refused, match="margin is 0") as refusal:
        Margin(0)
    assert refusal.value.code == "bad-value"
    assert not needs_response_scale(Margin(20, "percent"), SCALES["log"])
    assert not needs_response_scale(Margin(20, "percent"), IDENTITY)
    assert needs_response_scale(Margin(2), SCALES["log"])
    assert needs_response_scale(Margin(20, "percent"), SCALES["sqrt"])


@pytest.mark.parametrize("name", list(SCALES))
def test_slope_of_every_scale_is_the_derivative_of_its_inverse(name):
    scale, x, h = SCALES[name], 0.6, 1e-6
    numeric = (scale.inverse(x + h) - scale.inverse(x - h)) / (2 * h)
    assert scale.slope(x) == pytest.approx(numeric, rel=1e-7)


def settle(estimate, sigma=1.0):
    # two treatments, completely randomised: with two blocks SE = σ·√(2/2) on 2 df
    return blocks_to_settle(compared(estimate, sigma), BAND)


def compared(estimate, sigma=1.0):
    return Compared(estimate, sigma, 2, 2, 2, "lsd", 0.05, against_control=True)


def test_blocks_to_settle_is_the_first_that_brings_the_interval_inside():
    # d = 0.5, m = 2: needs t·√(2/b) < 1.5. b = 4: 2.4469·0.7071 = 1.730; b = 5: 2.3060·0.6325 = 1.458
    assert settle(0.5) == 5
    # d = 0: needs half-width < 2. b = 3: 2.7764·0.8165 = 2.267; b = 4: 1.730
    assert settle(0.0) == 4
    assert settle(1.0, sigma=9.0) is None


@pytest.mark.parametrize(
    ("method", "against_control", "controls", "critical"),
    [
        ("lsd", True, 1, lambda df: stats.t.ppf(0.975, df)),
        ("bonferroni", True, 1, lambda df: stats.t.ppf(1 - 0.025 / 5, df)),
        ("bonferroni", True, 2, lambda df: stats.t.ppf(1 - 0.025 / 4, df)),
        ("bonferroni", False, 1, lambda df: stats.t.ppf(1 - 0.025 / 15, df)),
        ("tukey", False, 1, lambda df: stats.studentized_range.ppf(0.95, 6, df) / math.sqrt(2)),
    ],
)
def test_more_blocks_shrink_the_error_and_add_degrees_of_freedom_under_the_board_s_own_method(
    method, against_control, controls, critical
):
    """Six treatments in 4 blocks: 15 df; in 7 blocks 15 · 6 / 3 = 30."""
    found = Compared(1.0, 0.8, 15, 4, 6, method, 0.05, against_control, controls)
    se, df, multiplier = found.in_blocks(7)
    assert (se, df) == (pytest.approx(0.8 * math.sqrt(4 / 7)), 30)
    assert multiplier == pytest.approx(critical(30), rel=1e-6)


def test_few_plots_leave_a_degree_of_freedom_and_two_digits_of_many_are_enough_for_chances():
    found = Compared(1.0, 0.8, 1.2, 4, 2, "lsd", 0.05, against_control=True)
    assert found.in_blocks(2)[1] == 1.0  # 1.2 / 3 would be less
    odd = Compared(1.0, 0.8, 13.37, 4, 2, "lsd", 0.05, against_control=True)
    assert odd.in_blocks(6, digits=2)[1] == 22  # 22.28
    assert odd.in_blocks(6)[1] == pytest.approx(22.2833333333, rel=1e-11)


@pytest.mark.parametrize("alpha", [0.05, 0.5])
def test_where_every_place_settles_it_two_blocks_do(alpha):
    """Margins that no interval reaches: it excludes zero, or it lies within them, so the chances add up to one."""
    wide = Compared(0.0, 1.0, 2, 2, 2, "lsd", alpha, against_control=True)
    assert blocks_for_a_chance(wide, Band(-1e9, 1e9)) == 2
    assert blocks_to_settle(wide, Band(-1e9, 1e9)) == 2


@pytest.mark.parametrize("estimate", [0.0, 0.6, 2.6])
def test_blocks_for_an_80_per_cent_chance_settle_so_many_of_simulated_trials_and_one_fewer_does_not(estimate):
    """Completely randomised, two treatments, σ 1, margin 2; settled: zero outside, or all of it within the margin."""
    b = blocks_for_a_chance(compared(estimate), BAND)
    rng = np.random.default_rng(4)
    settled = []
    for blocks in (b, b - 1):
        df, se = 2 * (blocks - 1), (2 / blocks) ** 0.5
        half = stats.t.ppf(0.975, df) * se * np.sqrt(rng.chisquare(df, 40_000) / df)
        centre = rng.normal(estimate, se, 40_000)
        low, high = centre - half, centre + half
        settled.append(((low > 0) | (high < 0) | ((low >= -2) & (high <= 2))).mean())
    assert settled[0] >= 0.8 - 0.008  # four Monte Carlo errors
    assert settled[1] < 0.8 + 0.008


def test_blocks_that_make_an_overall_f_significant_where_the_means_stay():
    """F on 3 and 9 df in 4 blocks: with b blocks F b / 4 on 3 and 3 (b − 1)."""
    fs = [1.5, 2.0, 2.5, 3.0, 3.5, 5.0, 6.0]
    by_hand = [next(b for b in range(2, 41) if stats.f.sf(f * b / 4, 3, 3 * (b - 1)) < 0.05) for f in fs]
    assert [blocks_for_f(f, 3, 9, 4, 0.05) for f in fs] == by_hand
    assert blocks_for_f(0.2, 3, 9, 4, 0.05) is None
    # on 1 and 1 df in 2 blocks, F 100: 200 / 2 on 1 and max(1 · 1 / 1, 1) is 0.063, 300 / 2 on 1 and 2 is 0.007
    assert blocks_for_f(100, 1, 1, 2, 0.05) == next(b for b in (2, 3) if stats.f.sf(50 * b, 1, b - 1) < 0.05)
