"""Verdicts partition every interval; margins on every scale; how many blocks would settle it."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from apercu_core.errors import Refused
from apercu_core.statistics.scales import IDENTITY, SCALES, response_difference
from apercu_core.verdicts.margin import Band, Margin, NoBand, band_of, needs_response_scale
from apercu_core.verdicts.settling import Compared, blocks_for_a_chance, blocks_for_f, blocks_to_settle
from apercu_core.verdicts.verdict import Interval, Verdict, judge

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
    assert band_of(Margin(150, "percent"), 40, SCALES["log"]).low == -math.inf
    with pytest.raises(NoBand, match="isn't above zero"):
        band_of(Margin(5, "percent"), 0, IDENTITY)
    with pytest.raises(Refused, match="margin is 0"):
        Margin(0)
    assert not needs_response_scale(Margin(20, "percent"), SCALES["log"])
    assert needs_response_scale(Margin(2), SCALES["log"])
    assert needs_response_scale(Margin(20, "percent"), SCALES["sqrt"])


@pytest.mark.parametrize("name", list(SCALES))
def test_slope_of_every_scale_is_the_derivative_of_its_inverse(name):
    scale, x, h = SCALES[name], 0.6, 1e-6
    numeric = (scale.inverse(x + h) - scale.inverse(x - h)) / (2 * h)
    assert scale.slope(x) == pytest.approx(numeric, rel=1e-7)


def test_delta_method_agrees_with_simulation():
    covariance = np.array([[0.010, 0.004], [0.004, 0.020]])
    estimate, se = response_difference(SCALES["log"], (2.0, 1.5), covariance)
    drawn = np.exp(np.random.default_rng(5).multivariate_normal((2.0, 1.5), covariance, 200_000))
    assert estimate == pytest.approx(math.e**2 - math.e**1.5)
    assert se == pytest.approx((drawn[:, 0] - drawn[:, 1]).std(), rel=0.03)


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
    """F 1.5 on 3 and 9 df in 4 blocks: with b blocks 1.5 b / 4 on 3 and 3 (b − 1)."""
    by_hand = next(b for b in range(2, 41) if stats.f.sf(1.5 * b / 4, 3, 3 * (b - 1)) < 0.05)
    assert blocks_for_f(1.5, 3, 9, 4, 0.05) == by_hand
    assert blocks_for_f(0.2, 3, 9, 4, 0.05) is None
