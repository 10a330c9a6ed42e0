"""Counts, k of n, roots and ranks, worked here by other means: a general optimiser, multivariate t, scipy."""

from itertools import product

import numpy as np
import pytest
from scipy import optimize, special, stats

from apercu_core.errors import Refused
from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.count_test import steadied
from apercu_core.statistics.densities import NothingCounted, analyse_densities, count_tail
from apercu_core.statistics.generalised import analyse_counts
from apercu_core.statistics.proportions import analyse_proportions
from apercu_core.statistics.rank_analysis import analyse_ranks
from apercu_core.statistics.rank_tests import holm, signed_rank_pairs
from apercu_core.statistics.specification import Comparison, Contrast, Equivalence, Specification
from apercu_core.statistics.transformed import analyse_shares


@pytest.fixture(autouse=True)
def _ends_that_are_far_out():
    """The search for an interval's end goes where exp overflows, which whoever reads a trial lets it do."""
    with np.errstate(over="ignore"):
        yield


NAMES = ("bare", "oat", "rye", "vetch")
PLACES = tuple(product("ABCD", NAMES))
COUNTS = (31, 12, 9, 22, 40, 10, 14, 25, 28, 19, 6, 30, 45, 15, 11, 20)
AREAS = tuple(0.25 * (1 + i % 3) for i in range(16))
K = (5, 20, 6, 11, 9, 25, 12, 8, 7, 18, 10, 15, 12, 27, 9, 13)
N = tuple(36 + 2 * (i % 4) for i in range(16))
X = np.array([[1.0, *(t == n for n in NAMES[1:]), *(b == c for c in "BCD")] for b, t in PLACES], dtype=float)
MEANS = np.array([[1, *(t == n for n in NAMES[1:]), 0.25, 0.25, 0.25] for t in NAMES], dtype=float)
"""The estimated means' weights on the coefficients: blocks count alike."""
DUNNETT, LSD = Comparison("dunnett", "bare"), Comparison("lsd")


def rows_of(**columns):
    return [{"b": b, "t": t, **{name: str(values[i]) for name, values in columns.items()}}
            for i, (b, t) in enumerate(PLACES)]  # fmt: skip


def spec_of(family, comparison, **more):
    return Specification("y", ("t",), "rcbd", block="b", family=family, comparison=comparison, **more)


def maximum(x, minus_log_likelihood):
    return optimize.minimize(minus_log_likelihood, np.zeros(x.shape[1]), method="BFGS", options={"gtol": 1e-9}).x


def log_fit(x):
    """Coefficients, fitted counts and unscaled covariance of counts with areas."""
    y, area = np.array(COUNTS, float), np.array(AREAS)
    beta = maximum(x, lambda b: (area * np.exp(x @ b) - y * (x @ b)).sum() / 100)
    mu = area * np.exp(x @ beta)
    return beta, mu, np.linalg.inv((x * mu[:, None]).T @ x)


def logit_fit(x):
    k, n = np.array(K, float), np.array(N, float)
    beta = maximum(x, lambda b: (n * np.logaddexp(0, x @ b) - k * (x @ b)).sum() / 100)
    p = special.expit(x @ beta)
    return beta, p, np.linalg.inv((x * (n * p * (1 - p))[:, None]).T @ x)


def dunnett_p(t, covariance, df):
    """1 − P(all |T| ≤ |t|), from a table of multivariate t."""
    sd = np.sqrt(np.diagonal(covariance))
    of = stats.multivariate_t(shape=covariance / np.outer(sd, sd), df=df, seed=1)
    return [1 - of.cdf([abs(one)] * len(t), lower_limit=[-abs(one)] * len(t), maxpts=200_000) for one in t]


TO_BARE = MEANS[1:] - MEANS[0]


def test_counts_of_areas_are_compared_as_rates_with_the_control_and_by_contrasts():
    beta, mu, unscaled = log_fit(X)
    y = np.array(COUNTS, float)
    covariance = unscaled * ((y - mu) ** 2 / mu).sum() / 9
    covers = Contrast("covers", {"bare": -1, "oat": 1 / 3, "rye": 1 / 3, "vetch": 1 / 3})
    rows = rows_of(y=COUNTS, area=AREAS)
    found = analyse_counts(rows, spec_of("quasi_poisson", DUNNETT, exposure="area", contrasts=(covers,)))
    [pairs] = found.pairs
    labels = pairs.family.labels
    assert [(labels[a], labels[b]) for a, b in zip(pairs.a, pairs.b, strict=True)] == [(n, "bare") for n in NAMES[1:]]
    assert pairs.estimate == pytest.approx(TO_BARE @ beta, rel=1e-4)
    of_pairs = TO_BARE @ covariance @ TO_BARE.T
    assert pairs.se == pytest.approx(np.sqrt(np.diagonal(of_pairs)), rel=1e-4)
    assert pairs.p == pytest.approx(dunnett_p(pairs.estimate / pairs.se, of_pairs, 9), abs=5e-4)
    weights = MEANS.T @ np.array([-1, 1 / 3, 1 / 3, 1 / 3])
    [one] = found.contrasts
    se = np.sqrt(weights @ covariance @ weights)
    assert (one.estimate, one.se) == (pytest.approx(weights @ beta, rel=1e-4), pytest.approx(se, rel=1e-4))
    assert one.p == pytest.approx(2 * stats.t.sf(abs(weights @ beta / se), 9), rel=1e-3)
    assert found.letters == ()
    assert len(analyse_counts(rows, spec_of("quasi_poisson", LSD, exposure="area")).letters) == 1


def deviance(p):
    k, n = np.array(K, float), np.array(N, float)
    return 2 * (special.xlogy(k, k / (n * p)) + special.xlogy(n - k, (n - k) / (n * (1 - p)))).sum()


def test_k_of_n_is_compared_with_the_control_tested_as_a_whole_and_its_plots_judged():
    beta, p, unscaled = logit_fit(X)
    k, n = np.array(K, float), np.array(N, float)
    pearson = (k - n * p) / np.sqrt(n * p * (1 - p))
    dispersion = max(1.0, (pearson**2).sum() / 9)
    covariance = unscaled * dispersion
    found = analyse_proportions(rows_of(y=K, n=N), spec_of("quasi_binomial", DUNNETT, trials="n"))
    [pairs] = found.pairs
    percent = 100 * special.expit(MEANS @ beta)
    assert pairs.estimate == pytest.approx(percent[1:] - percent[0], rel=1e-4)
    assert pairs.p == pytest.approx(dunnett_p(pairs.t, TO_BARE @ covariance @ TO_BARE.T, 9), abs=5e-4)
    slopes = np.diag(percent * (1 - percent / 100))  # the delta method: each mean moves with its logit by p (1 − p)
    in_percent = slopes @ MEANS @ covariance @ MEANS.T @ slopes
    delta = [np.sqrt(in_percent[i, i] + in_percent[0, 0] - 2 * in_percent[i, 0]) for i in (1, 2, 3)]
    assert pairs.se == pytest.approx(delta, rel=1e-3)
    _, without, _ = logit_fit(np.delete(X, [1, 2, 3], axis=1))
    test = found.anova["treatment"]
    f = (deviance(without) - deviance(p)) / 3 / dispersion
    assert (test.df_num, test.df_den, test.f) == (3, 9, pytest.approx(f, rel=1e-4))
    assert test.p == pytest.approx(stats.f.sf(f, 3, 9), rel=1e-3)
    judged = found.diagnostics
    assert judged.residuals == pytest.approx(100 * (k / n - p), abs=1e-3)
    assert judged.fitted == pytest.approx(100 * p, rel=1e-4)
    assert judged.studentized == pytest.approx(pearson / np.sqrt(dispersion), abs=1e-4)
    tail = 2 * stats.norm.sf(abs(pearson) / np.sqrt(dispersion))
    assert judged.outlier_p == pytest.approx(np.minimum(1, 16 * tail), abs=1e-3)
    order = np.argsort(pearson)
    assert np.all(np.diff(judged.normal_quantiles[order]) > 0)
    assert found.grand_mean == pytest.approx(100 * sum(K) / sum(N))
    assert (found.df, found.letters) == (9, ())
    by_lsd = analyse_proportions(rows_of(y=K, n=N), spec_of("quasi_binomial", LSD, trials="n"))
    assert (len(by_lsd.letters), len(by_lsd.pairs[0])) == (1, 6)


def test_k_of_n_taken_for_a_binomial_has_neither_dispersion_nor_degrees_of_freedom():
    found = analyse_proportions(rows_of(y=K, n=N), spec_of("quasi_binomial", LSD, trials="n"), estimated=False)
    _, _, unscaled = logit_fit(X)
    assert (found.dispersion, found.df, found.assumed) == (1.0, np.inf, "binomial")
    assert found.means.se == pytest.approx(np.sqrt(np.diagonal(MEANS @ unscaled @ MEANS.T)), rel=1e-4)


def split_plots():
    """Two kills on whole plots, three covers within: shares whose differences have other df in each stratum."""
    rng = np.random.default_rng(5)
    return [
        {"b": b, "w": kill, "t": f"{kill} {cover}", "y": str(int(rng.poisson(30 + 10 * i)) / 100)}
        for b in "ABCD" for kill in ("early", "late") for i, cover in enumerate(("oat", "rye", "vetch"))
    ]  # fmt: skip


@pytest.mark.parametrize("comparison", [Comparison("dunnett", "early oat"), Comparison("tukey"), LSD])
def test_arcsines_of_shares_keep_the_degrees_of_freedom_and_critical_values_of_their_scale(comparison):
    spec = Specification("y", ("t",), "split_plot", block="b", whole_plot="w", comparison=comparison)
    rows = split_plots()
    found = analyse_shares(rows, spec)
    roots = [{**row, "y": repr(float(np.arcsin(float(row["y"]) ** 0.5)))} for row in rows]
    on_scale = analyse(roots, spec)
    [pairs], [scaled] = found.pairs, on_scale.pairs
    assert pairs.df == pytest.approx(scaled.df)
    assert np.ptp(pairs.df) > 1  # within whole plots and across them
    assert pairs.critical == pytest.approx(scaled.critical, rel=1e-6)
    percent = 100 * np.sin(scaled.family.mean) ** 2
    assert pairs.estimate == pytest.approx(percent[scaled.a] - percent[scaled.b])
    assert len(found.letters) == (0 if comparison.method == "dunnett" else 1)


def test_the_means_of_arcsines_are_as_correlated_as_those_of_their_scale():
    spec = Specification("y", ("t",), "split_plot", block="b", whole_plot="w", comparison=LSD)
    found = analyse_shares(split_plots(), spec)
    family = found.on_scale.families[0]
    sd = np.sqrt(np.diagonal(family.covariance))
    assert found.means.correlation == pytest.approx(family.covariance / np.outer(sd, sd))
    assert np.diagonal(found.means.correlation) == pytest.approx(1)


def test_a_treatment_without_any_is_tested_by_the_ranks_of_rates():
    zero = tuple(0 if t == "rye" else count for (_, t), count in zip(PLACES, COUNTS, strict=True))
    rows = rows_of(y=zero, area=AREAS)
    table = (np.array(zero) / np.array(AREAS)).reshape(4, 4)
    in_blocks = analyse_counts(rows, spec_of("quasi_poisson", LSD, exposure="area")).separation
    assert (in_blocks.zero, in_blocks.full) == (("rye",), ())
    assert in_blocks.ranks.p == pytest.approx(stats.friedmanchisquare(*table.T).pvalue)
    alone = Specification("y", ("t",), "crd", family="quasi_poisson", comparison=LSD, exposure="area")
    assert analyse_counts(rows, alone).separation.ranks.p == pytest.approx(stats.kruskal(*table.T).pvalue)
    all_of_n = tuple(n if t == "rye" else k for (_, t), k, n in zip(PLACES, K, N, strict=True))
    shares = (np.array(all_of_n) / np.array(N)).reshape(4, 4)
    found = analyse_counts(rows_of(y=all_of_n, n=N), spec_of("quasi_binomial", LSD, trials="n")).separation
    assert (found.full, found.ranks.p) == (("rye",), pytest.approx(stats.friedmanchisquare(*shares.T).pvalue))
    assert analyse_counts(rows_of(y=COUNTS), spec_of("quasi_poisson", LSD)).separation.ranks is None


def test_two_blocks_and_two_treatments_are_enough_for_ranks_and_less_is_refused():
    pair = [{"b": b, "t": t, "y": str(y)} for (b, t), y in zip(product("AB", "xz"), (1, 4, 2, 5), strict=True)]
    found = analyse_ranks(pair, Specification("y", ("t",), "rcbd", block="b", analysis="friedman"))
    assert (found.test.statistic, found.test.df) == (pytest.approx(2.0), 1)  # both blocks agree: n (k − 1)
    with pytest.raises(Refused, match="Fewer than two blocks"):
        analyse_ranks(pair[:3], Specification("y", ("t",), "rcbd", block="b", analysis="friedman"))


def test_values_that_do_not_differ_are_no_evidence():
    same = np.array([[3.0, 3.0, 4.0], [5.0, 5.0, 7.0], [2.0, 2.0, 1.0]])
    by_pair = {(one.a, one.b): one for one in signed_rank_pairs(same)}
    assert (by_pair[0, 1].statistic, by_pair[0, 1].p_raw, by_pair[0, 1].p) == (0.0, 1.0, 1.0)
    equal = [{"t": t, "y": "2"} for t in "xxzz"] + [{"t": "v", "y": "9"}] * 2
    ranks = analyse_ranks(equal, Specification("y", ("t",), "crd", analysis="kruskal_wallis"))
    pairs = {frozenset((ranks.factor.levels[one.a], ranks.factor.levels[one.b])): one for one in ranks.pairs}
    assert pairs[frozenset("xz")].p_raw == 1.0
    with pytest.raises(Refused, match="no ranks to compare"):
        analyse_ranks(
            [{"t": t, "y": "2"} for t in "xxzz"], Specification("y", ("t",), "crd", analysis="kruskal_wallis")
        )


def test_holm_is_the_step_down_by_definition():
    rng = np.random.default_rng(3)
    for m in (1, 2, 5, 9):
        raw = np.round(rng.uniform(0, 0.3, m), 2)  # with ties
        each = [max(min(1, (m - (raw < other).sum()) * other) for other in raw if other <= one) for one in raw]
        assert holm(raw) == pytest.approx(each)


def test_densities_are_tested_as_a_whole_judged_plot_by_plot_and_compared_with_the_control():
    _, mu, _ = log_fit(X)
    y, area = np.array(COUNTS, float), np.array(AREAS)
    rows = rows_of(y=COUNTS, area=AREAS)
    found = analyse_densities(rows, spec_of("quasi_poisson", DUNNETT, exposure="area"))
    _, less, _ = log_fit(np.delete(X, [1, 2, 3], axis=1))
    deviance = 2 * (special.xlogy(y, mu / less) - (mu - less)).sum() / 3
    [pairs] = found.pairs
    # The test is least squares of the steadied counts of the mean area (tests/core/test_count_test.py has its parts).
    steady = steadied(y / area * area.mean(), found.test.alpha)
    beta, rest, _, _ = np.linalg.lstsq(X, steady, rcond=None)
    _, rest_without, _, _ = np.linalg.lstsq(np.delete(X, [1, 2, 3], axis=1), steady, rcond=None)
    test, f = found.anova["treatment"], float((rest_without[0] - rest[0]) / 3 / (rest[0] / 9))
    assert (test.df_num, test.df_den, test.f) == (3, 9, pytest.approx(f))
    assert np.abs(pairs.t) == pytest.approx(np.abs(beta[1:4]) / np.sqrt(rest[0] / 9 * 2 / 4))
    assert pairs.p == pytest.approx(dunnett_p(pairs.t, np.full((3, 3), 0.5) + np.diag([0.5] * 3), 9), abs=5e-4)
    assert (found.letters, len(analyse_densities(rows, spec_of("quasi_poisson", LSD, exposure="area")).letters)) == (
        (),
        1,
    )
    as_poisson = analyse_densities(rows, spec_of("quasi_poisson", LSD, exposure="area"), "poisson")
    judged = as_poisson.diagnostics
    assert judged.residuals == pytest.approx((y - mu) / area, abs=1e-2)
    assert judged.fitted == pytest.approx(mu / area, rel=1e-4)
    assert judged.studentized == pytest.approx((y - mu) / np.sqrt(mu), abs=1e-3)
    tail = 2 * np.minimum(stats.poisson.cdf(y, mu), stats.poisson.sf(y - 1, mu))
    assert judged.outlier_p == pytest.approx(np.minimum(1, 16 * tail), abs=1e-3)
    assert as_poisson.anova["treatment"].f == pytest.approx(deviance, rel=1e-3)
    assert (as_poisson.df, as_poisson.dispersion) == (np.inf, 1.0)


def test_own_controls_share_nothing_in_the_adjustment_of_densities():
    own = Comparison("dunnett", {"oat": "bare", "vetch": "rye"})
    [pairs] = analyse_densities(rows_of(y=COUNTS, area=AREAS), spec_of("quasi_poisson", own, exposure="area")).pairs
    assert pairs.p == pytest.approx(dunnett_p(pairs.t, np.eye(2), 9), abs=5e-4)


def labels_of_pair(found, i):
    pairs = found.pairs[0]
    return pairs.family.labels[pairs.a[i]], pairs.family.labels[pairs.b[i]]


@pytest.mark.parametrize("seed", [8, 1])
def test_a_negative_binomial_with_one_count_far_from_all_others_is_refused_rather_than_half_fitted(seed):
    rng = np.random.default_rng(seed)
    y = rng.poisson(2, 16)
    y[5] = 5000
    with pytest.raises(Refused, match="Look for a count that is far from the others"):
        analyse_densities(rows_of(y=y), spec_of("quasi_poisson", LSD), "negative_binomial")


def test_a_negative_binomial_is_tested_by_its_likelihood():
    y = np.array([4, 19, 3, 40, 30, 6, 12, 9, 1, 33, 7, 52, 11, 25, 2, 20], float)
    found = analyse_densities(rows_of(y=y.astype(int)), spec_of("quasi_poisson", LSD), "negative_binomial")

    def most(x):
        def unlikely(given):
            mu, size = np.exp(x @ given[:-1]), np.exp(given[-1])
            return -stats.nbinom.logpmf(y, size, size / (size + mu)).sum()

        start = np.append(np.linalg.lstsq(x, np.log(y), rcond=None)[0], 1.0)
        return -optimize.minimize(unlikely, start, method="BFGS", options={"gtol": 1e-7}).fun

    f = 2 * (most(X) - most(np.delete(X, [1, 2, 3], axis=1))) / 3
    test = found.anova["treatment"]
    assert (test.df_num, test.df_den, test.f) == (3, np.inf, pytest.approx(f, rel=1e-3))
    assert test.p == pytest.approx(stats.chi2.sf(3 * f, 3), rel=1e-2)


@pytest.mark.parametrize("alpha", [0.0, 0.3, 2.0])
def test_the_tail_of_a_count_is_that_of_its_distribution(alpha):
    y, mu = np.array([0.0, 1, 2, 5, 9, 30]), np.array([3.0, 0.4, 2.0, 5.0, 1.5, 12.0])
    of = stats.nbinom(1 / alpha, 1 / (1 + alpha * mu)) if alpha else stats.poisson(mu)
    assert count_tail(y, mu, alpha) == pytest.approx(np.minimum(1, 2 * np.minimum(of.cdf(y), of.sf(y - 1))))


def test_a_block_in_which_nothing_was_counted_says_nothing_of_sizes_and_one_block_alone_is_refused():
    none = tuple(0 if b == "C" else count for (b, _), count in zip(PLACES, COUNTS, strict=True))
    rows, spec = rows_of(y=none, area=AREAS), spec_of("quasi_poisson", LSD, exposure="area")
    found = analyse_densities(rows, spec)
    without = analyse_densities([row for row in rows if row["b"] != "C"], spec)
    assert found.empty_blocks == ("b C",)
    assert found.pairs[0].estimate == pytest.approx(without.pairs[0].estimate)
    alone = tuple(count if b == "A" else 0 for (b, _), count in zip(PLACES, COUNTS, strict=True))
    with pytest.raises(Refused, match="Something was counted in only one b"):
        analyse_densities(rows_of(y=alone, area=AREAS), spec)
    with pytest.raises(Refused, match="Nothing was counted in any plot"):
        analyse_densities(rows_of(y=[0] * 16, area=AREAS), spec)


@pytest.mark.parametrize("higher", [True, False])
def test_planned_tests_on_an_arcsine_scale_touch_the_margin_where_their_interval_does(higher):
    """Its p on a side is the level at which the one-sided interval reaches the margin: tried here level by level."""
    spec = Specification("y", ("t",), "split_plot", block="b", whole_plot="w", comparison=LSD)
    found = analyse_shares(split_plots(), spec)
    asked = Equivalence(12.0, "early oat", 0.05, higher)
    tests = {one.treatment: one for one in found.equivalence_with(asked)}
    labels = found.means.family.labels
    control = labels.index("early oat")
    assert set(tests) == set(labels) - {"early oat"}
    for label, test in tests.items():
        i = labels.index(label)
        assert test.estimate == pytest.approx(found.means.mean(i) - found.means.mean(control))
        assert test.estimate > -12
        below, _ = found.means.difference(i, control, stats.t.isf(test.p_lower, test.df))
        far = test.estimate > 12  # then it is the lower end that has to reach down to the margin
        ends = found.means.difference(i, control, stats.t.isf(1 - test.p_upper if far else test.p_upper, test.df))
        assert (below, ends[0 if far else 1]) == (pytest.approx(-12, abs=1e-6), pytest.approx(12, abs=1e-6))
        worse = test.p_lower if higher else test.p_upper
        assert (test.p_noninferiority, test.non_inferior) == (worse, worse < 0.05)
        assert test.equivalent == (max(test.p_lower, test.p_upper) < 0.05)
    assert len({round(one.df, 3) for one in tests.values()}) > 1
    assert {one.equivalent for one in tests.values()} == {True, False}


def test_a_treatment_that_has_none_leaves_the_sizes_of_the_others_and_is_far_below_them():
    zero = tuple(0 if t == "oat" else count for (_, t), count in zip(PLACES, COUNTS, strict=True))
    rows = rows_of(y=zero, area=AREAS)
    spec = spec_of("quasi_poisson", LSD, exposure="area")
    found = analyse_densities(rows, spec)
    alone = analyse_densities([row for row in rows if row["t"] != "oat"], spec)
    assert found.none_found == {"oat": sum(a for a, (_, t) in zip(AREAS, PLACES, strict=True) if t == "oat")}
    at = [i for i in range(6) if "oat" not in (labels_of_pair(found, i))]
    assert found.pairs[0].estimate[at] == pytest.approx(alone.pairs[0].estimate)
    oat = found.families[0].labels.index("oat")
    assert found.families[0].mean[oat] == 0
    searched = found.none_found["oat"]
    none = NothingCounted(4, searched / 4, 0.0, np.inf)
    assert none.ends(1.6448536269514722)[1] == pytest.approx(-np.log(0.05) / searched)
    spread = NothingCounted(4, searched / 4, 0.5, np.inf).ends(1.6448536269514722)[1]
    assert (1 + 0.5 * searched / 4 * spread) ** (-4 / 0.5) == pytest.approx(0.05)


@pytest.mark.parametrize(
    ("columns", "family", "more", "says"),
    [
        (
            {"y": COUNTS, "area": (0.0, *AREAS[1:])},
            "quasi_poisson",
            {"exposure": "area"},
            "Row 2: 'area' must be above 0",
        ),
        ({"y": (39, *K[1:]), "n": N}, "quasi_binomial", {"trials": "n"}, "Row 2: 'y' is 39"),
        ({"y": K, "n": (36.5, *N[1:])}, "quasi_binomial", {"trials": "n"}, "Row 2: "),
    ],
)
def test_counts_of_no_area_or_beyond_their_number_are_refused_with_their_row(columns, family, more, says):
    with pytest.raises(Refused, match=says):
        analyse_counts(rows_of(**columns), spec_of(family, LSD, **more))
