"""Classical strata of a split plot against mean squares by hand, and tests that reach over several strata."""

import numpy as np
import pytest
from scipy import stats

from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.comparisons import chosen_pairs, least_significant_difference
from apercu_core.statistics.inference import _pooled_df
from apercu_core.statistics.specification import Comparison, Specification

BLOCKS, KILLS, COVERS = 4, ("early", "late"), ("rye", "oat", "vetch")


def rows(lost=()):
    """Whole plots of a kill date, plots of a cover; every treatment a plain name, as the board has them."""
    rng = np.random.default_rng(8)
    out = []
    for b in range(BLOCKS):
        block = rng.normal(0, 3)
        for i, kill in enumerate(KILLS):
            whole = rng.normal(0, 2)
            for j, cover in enumerate(COVERS):
                y = 20 + 2 * i + j + block + whole + rng.normal()
                out.append({"b": str(b), "w": f"{b}{kill}", "t": f"{kill} {cover}", "y": y})
    return [row for k, row in enumerate(out) if k not in lost]


def read(method="lsd", lost=()):
    spec = Specification("y", ("t",), "split_plot", block="b", whole_plot="w", df_method="containment_anova",
                         comparison=Comparison(method, None))  # fmt: skip
    return analyse(rows(lost), spec)


def squares():
    """Mean squares of whole plots within blocks, and of plots within whole plots, with their df."""
    y = np.array([row["y"] for row in rows()]).reshape(BLOCKS, 2, 3)
    whole = y.mean(2)
    error_a = whole - whole.mean(0) - whole.mean(1, keepdims=True) + whole.mean()
    within = y - y.mean(2, keepdims=True)
    error_b = within - within.mean(0)
    return y, (3 * (error_a**2).sum() / 3, 3), ((error_b**2).sum() / 12, 12)


def test_means_squares_and_tests_of_one_stratum_are_those_of_the_textbook():
    y, (ms_a, df_a), (ms_b, df_b) = squares()
    found = read()
    assert found.variance_components["residual"] == pytest.approx(ms_b)
    assert found.variance_components["whole_plot"] == pytest.approx((ms_a - ms_b) / 3)
    tests = found.anova_by_stratum("t")
    of_kill = BLOCKS * 3 * ((y.mean((0, 2)) - y.mean()) ** 2).sum() / ms_a
    of_plots = BLOCKS * ((y.mean(0) - y.mean((0, 2))[:, None]) ** 2).sum() / 4 / ms_b
    assert (tests["whole_plot"].df_num, tests["whole_plot"].df_den) == (1, df_a)
    assert tests["whole_plot"].f == pytest.approx(of_kill)
    assert tests["whole_plot"].p == pytest.approx(stats.f.sf(of_kill, 1, df_a))
    assert (tests["residual"].df_num, tests["residual"].df_den) == (4, df_b)
    assert tests["residual"].f == pytest.approx(of_plots)


def test_a_difference_over_two_strata_has_pooled_variance_and_degrees_of_freedom():
    """Treatments in different whole plots: 2 (MS_a + 2 MS_b) / 12, with Satterthwaite's degrees of freedom."""
    y, (ms_a, df_a), (ms_b, df_b) = squares()
    found = read()
    labels, pairs = found.families[0].labels, found.pairs[0]
    i = next(i for i, (a, b) in enumerate(zip(pairs.a, pairs.b, strict=True))
             if {labels[a], labels[b]} == {"early rye", "late rye"})  # fmt: skip
    variance = 2 * (ms_a + 2 * ms_b) / 12
    df = (ms_a + 2 * ms_b) ** 2 / (ms_a**2 / df_a + (2 * ms_b) ** 2 / df_b)
    assert (pairs.se[i] ** 2, pairs.df[i]) == (pytest.approx(variance), pytest.approx(df))
    function = found.families[0].functions[[pairs.a[i]]] - found.families[0].functions[[pairs.b[i]]]
    test = found.inference.f_test(function)
    assert (test.df_num, test.df_den) == (1, pytest.approx(df))
    assert test.f == pytest.approx((y.mean(0)[0, 0] - y.mean(0)[1, 0]) ** 2 / variance)


def test_a_test_of_several_differences_over_strata_takes_the_fewest_degrees_of_freedom():
    found = read()
    functions = found.families[0].functions
    together = functions[1:] - functions[0]
    test = found.inference.f_test(together)
    estimate = together @ found.coefficients
    covariance = together @ found.inference.covariance @ together.T
    assert (test.df_num, test.df_den) == (5, 3)
    assert test.f == pytest.approx(float(estimate @ np.linalg.solve(covariance, estimate)) / 5)


def test_one_least_significant_difference_is_given_only_where_it_holds_for_all():
    assert least_significant_difference(read().pairs[0]) is None  # within and between whole plots differ
    plain = Specification("y", ("t",), "rcbd", block="b", block_effect="fixed", comparison=Comparison("lsd", None))
    whole = analyse(rows(), plain)
    assert least_significant_difference(whole.pairs[0]) == pytest.approx(
        stats.t.ppf(0.975, 15) * whole.residual_sd * (2 / 4) ** 0.5
    )
    assert least_significant_difference(analyse(rows(lost=(2,)), plain).pairs[0]) is None


def test_a_family_without_the_control_has_no_pairs():
    family = read().families[0]
    a, b = chosen_pairs(family, "fallow")
    assert (len(a), len(b)) == (0, 0)
    own, controls = chosen_pairs(family, {"late rye": "early rye", "late oat": "fallow"})
    assert [(family.labels[i], family.labels[j]) for i, j in zip(own, controls, strict=True)] == [
        ("late rye", "early rye")
    ]


@pytest.mark.parametrize(
    ("each", "df"),
    [
        ([7.0], 7.0),
        ([5.0, 5.0], 5.0),
        ([4.0, 8.0], 2 * (2 + 4 / 3) / (2 + 4 / 3 - 2)),  # E = Σ ν / (ν − 2), then 2 E / (E − q)
        ([3.0, 6.0, 12.0], 2 * (3 + 1.5 + 1.2) / (3 + 1.5 + 1.2 - 3)),
        ([2.0, 9.0], 2.0),
    ],
)
def test_degrees_of_freedom_of_several_contrasts_match_the_expectation_of_their_f(each, df):
    """Fai and Cornelius (1996), Journal of Statistical Computation and Simulation 54, 363–378."""
    assert _pooled_df(np.array(each)) == pytest.approx(df)
