"""The fitter and its inference against independent implementations, hand-worked cases, and properties."""

import warnings

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import linalg, stats
from statsmodels.stats.multitest import multipletests

from apercu_core.errors import Refused
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.covariance import Stratum, SumOfStrata
from apercu_core.statistics.diagnostics import brown_forsythe, externally_studentized, growing_spread, shapiro_wilk
from apercu_core.statistics.inference import KenwardRoger, Satterthwaite
from apercu_core.statistics.letters import letter_name
from apercu_core.statistics.model import build_model
from apercu_core.statistics.plots import make_factor, plots_of
from apercu_core.statistics.reml import fit_reml, score_and_information
from apercu_core.statistics.specification import Comparison, Equivalence, Specification
from apercu_core.trial.facts import PlotFacts, TrialFacts


def trial(seed=1, blocks=5, treatments=4, lost=(), block_sd=2.0):
    rng = np.random.default_rng(seed)
    effect = rng.normal(0, block_sd, blocks)
    rows = [
        {"b": f"b{b}", "t": f"t{t}", "y": float(30 + 2 * t + effect[b] + rng.normal())}
        for b in range(blocks)
        for t in range(treatments)
    ]
    return [row for i, row in enumerate(rows) if i not in lost]


def spec(**changes):
    return Specification(**{"response": "y", "treatments": ("t",), "design": "rcbd", "block": "b", **changes})


def fitted(rows, **changes):
    return fit_reml(build_model(plots_of(rows, spec(**changes)), spec(**changes)))


# --- REML ---------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("lost", [(), (3,), (0, 7, 11)])
def test_reml_agrees_with_statsmodels(lost):
    rows = trial(lost=lost)
    ours = fitted(rows)
    table = pd.DataFrame(rows)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        theirs = smf.mixedlm("y ~ C(t)", table, groups=table["b"]).fit(reml=True, gtol=1e-10)
    assert ours.variance_components["block"] == pytest.approx(float(theirs.cov_re.iloc[0, 0]), rel=1e-3)
    assert ours.variance_components["residual"] == pytest.approx(theirs.scale, rel=1e-3)


def test_reml_of_balanced_blocks_is_the_mean_squares_by_hand():
    rows = trial()
    y = np.array([row["y"] for row in rows]).reshape(5, 4)
    residual = y - y.mean(0) - y.mean(1, keepdims=True) + y.mean()
    ms_error = (residual**2).sum() / 12
    ms_block = 4 * ((y.mean(1) - y.mean()) ** 2).sum() / 4
    found = fitted(rows).variance_components
    assert found["residual"] == pytest.approx(ms_error, rel=1e-8)
    assert found["block"] == pytest.approx((ms_block - ms_error) / 4, rel=1e-8)


def test_a_variance_that_wants_to_be_negative_is_zero_and_the_rest_is_pooled():
    rows = trial(seed=4, block_sd=0.0)
    y = np.array([row["y"] for row in rows]).reshape(5, 4)
    y -= y.mean(1, keepdims=True) * 0.999  # blocks alike beyond chance
    for row, value in zip(rows, y.ravel(), strict=True):
        row["y"] = float(value)
    found = fitted(rows).variance_components
    assert found["block"] == 0
    assert found["residual"] == pytest.approx(((y - y.mean(0)) ** 2).sum() / 16, rel=1e-8)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10_000), st.floats(1e-3, 1e4), st.floats(-1e3, 1e3))
def test_changing_the_unit_changes_estimates_in_proportion_and_no_p_value(seed, scale, shift):
    rows = trial(seed, lost=(2,))
    moved = [{**row, "y": shift + scale * row["y"]} for row in rows]
    a, b = analyse(rows, spec()), analyse(moved, spec())
    assert b.anova["t"].p == pytest.approx(a.anova["t"].p, rel=1e-5)
    assert b.pairs[0].se == pytest.approx(scale * a.pairs[0].se, rel=1e-5)
    assert b.pairs[0].p == pytest.approx(a.pairs[0].p, rel=1e-4, abs=1e-9)


def test_shuffled_rows_give_the_same_analysis():
    rows = trial(lost=(3,))
    turned = rows[::-1]
    a, b = analyse(rows, spec()), analyse(turned, spec())
    assert b.families[0].mean == pytest.approx(a.families[0].mean)
    assert b.pairs[0].df == pytest.approx(a.pairs[0].df)


@pytest.mark.parametrize("theta", [(0.5, 1.0), (2.0, 0.3), (0.0, 1.4)])
def test_score_and_observed_information_are_the_derivatives_of_the_likelihood(theta):
    fit = fitted(trial(lost=(3,)))
    cov, x, y = fit.covariance, fit.model.x, fit.model.y

    def state(at):
        v = np.linalg.inv(cov.matrix(at))
        phi = np.linalg.inv(x.T @ v @ x)
        p = v - v @ x @ phi @ x.T @ v
        logdet = np.linalg.slogdet(cov.matrix(at))[1] - np.linalg.slogdet(phi)[1]
        return -0.5 * (logdet + y @ p @ y), p

    at, h = np.array(theta), 1e-4
    _, p = state(at)
    score, expected, observed = score_and_information(cov, at, p, p @ y)
    steps = h * np.eye(2)
    numeric = [(state(at + s)[0] - state(at - s)[0]) / (2 * h) for s in steps]
    assert score == pytest.approx(np.array(numeric), rel=1e-5, abs=1e-6)
    hessian = [
        [(state(at + a + b)[0] - state(at + a - b)[0] - state(at - a + b)[0] + state(at - a - b)[0]) / (4 * h * h)
         for b in steps] for a in steps
    ]  # fmt: skip
    assert -observed == pytest.approx(np.array(hessian), rel=1e-3, abs=1e-3)
    assert np.linalg.eigvalsh(expected).min() > 0


class NeighbourCorrelation:
    """V = σ² ρ^|i − j|: not linear in its parameters, as the interface promises to serve; its residual comes first, and
    ρ lies between −1 and 1.
    """

    names = ("plots", "rho")
    residual = "plots"
    lower, upper = np.array([0.0, -1.0]), np.array([np.inf, 1.0])
    closed = np.array([False, False])
    variances = np.array([True, False])

    def __init__(self, n):
        self._apart = np.abs(np.subtract.outer(np.arange(n), np.arange(n))).astype(float)

    def start(self, variance):
        return np.array([variance, 0.1])

    def matrix(self, theta):
        s, rho = theta
        return s * np.where(self._apart == 0, 1.0, rho**self._apart)

    def derivatives(self, theta):
        k, (s, rho) = self._apart, theta
        return np.stack([self.matrix(np.array([1.0, rho])), s * np.where(k > 0, k * rho ** np.maximum(k - 1, 0), 0)])

    def second_derivatives(self, theta):
        k, (s, rho) = self._apart, theta
        first = np.where(k > 0, k * rho ** np.maximum(k - 1, 0), 0)
        second = np.where(k > 1, k * (k - 1) * rho ** np.maximum(k - 2, 0), 0)
        zero = np.zeros_like(k)
        return np.stack([np.stack([zero, first]), np.stack([first, s * second])])


@pytest.mark.parametrize("rho", [0.6, -0.5])
def test_the_fitter_serves_a_covariance_that_is_not_a_sum_of_strata(rho):
    n, rng = 60, np.random.default_rng(9)
    truth = NeighbourCorrelation(n)
    y = 20 + np.linalg.cholesky(truth.matrix(np.array([40.0, rho]))) @ rng.normal(size=n)
    rows = [{"t": f"t{i % 3}", "y": float(v)} for i, v in enumerate(y)]
    model = build_model(plots_of(rows, spec(design="crd", block=None)), spec(design="crd", block=None))
    scale = np.std(y)
    fit = fit_reml(model, NeighbourCorrelation(n))
    best = fit.log_likelihood
    assert fit.converged
    assert fit.theta[1] == pytest.approx(rho, abs=0.25)  # a correlation isn't scaled with the response
    assert fit.residual_sd == pytest.approx(40**0.5, rel=0.25)
    assert set(fit.variance_components) == {"plots"}

    def likelihood(theta):
        v = truth.matrix(theta)
        vi = np.linalg.inv(v)
        xvx = model.x.T @ vi @ model.x
        p = vi - vi @ model.x @ np.linalg.solve(xvx, model.x.T @ vi)
        value = -0.5 * (np.linalg.slogdet(v)[1] + np.linalg.slogdet(xvx)[1] + y @ p @ y)
        return value - 0.5 * (n - 3) * np.log(2 * np.pi)

    assert best == pytest.approx(likelihood(fit.theta), abs=1e-8)
    for one in np.linspace(-0.95, 0.95, 39):  # no grid point is better
        for s in scale**2 * np.geomspace(0.2, 5, 25):
            assert likelihood(np.array([s, one])) <= best + 1e-8
    steps = np.diag([1e-3 * fit.theta[0], 1e-4])
    hessian = [
        [(likelihood(fit.theta + a + b) - likelihood(fit.theta + a - b) - likelihood(fit.theta - a + b)
          + likelihood(fit.theta - a - b)) / (4 * a.sum() * b.sum()) for b in steps] for a in steps
    ]  # fmt: skip
    _, _, observed = score_and_information(fit.covariance, fit.theta, fit.p_matrix, fit.p_matrix @ y)
    assert -observed == pytest.approx(np.array(hessian), rel=1e-3, abs=1e-3)
    assert KenwardRoger(fit).covariance == pytest.approx(adjusted(fit), rel=1e-8)


def adjusted(fit):
    """Kenward and Roger's covariance, each term as their paper writes it: Φ + 2 Φ (Σ wᵢⱼ (Qᵢⱼ − PᵢΦPⱼ − Rᵢⱼ/4)) Φ."""
    x, vi, phi = fit.model.x, fit.v_inverse, fit.phi
    d, second = (f(fit.theta) for f in (fit.covariance.derivatives, fit.covariance.second_derivatives))
    pairs = [(i, j) for i in range(len(d)) for j in range(len(d))]
    p = [-x.T @ vi @ one @ vi @ x for one in d]
    expected = [[np.trace(fit.p_matrix @ d[i] @ fit.p_matrix @ d[j]) / 2 for j in range(len(d))] for i in range(len(d))]
    w = np.linalg.inv(np.array(expected))
    middle = sum(
        w[i, j] * (x.T @ vi @ d[i] @ vi @ d[j] @ vi @ x - p[i] @ phi @ p[j] - x.T @ vi @ second[i, j] @ vi @ x / 4)
        for i, j in pairs
    )
    return phi + 2 * phi @ middle @ phi


def test_strata_add_up_to_the_covariance_they_describe():
    codes = np.array([0, 0, 1, 1])
    cov = SumOfStrata((Stratum("block", codes),), 4)
    expected = np.array([[5, 2, 0, 0], [2, 5, 0, 0], [0, 0, 5, 2], [0, 0, 2, 5]], float)
    assert np.array_equal(cov.matrix(np.array([2.0, 3.0])), expected)


# --- inference ----------------------------------------------------------------------------------------------------


def test_kenward_roger_and_satterthwaite_agree_with_the_classical_df_in_balanced_blocks():
    fit = fitted(trial())
    difference = np.array([[0.0, 1.0, -1.0, 0.0]])
    for method in (KenwardRoger, Satterthwaite):
        assert method(fit).df(difference) == pytest.approx([12.0], rel=1e-6)
        assert method(fit).f_test(np.eye(4)[1:]).df_den == pytest.approx(12.0, rel=1e-4)


def test_kenward_roger_never_makes_a_standard_error_smaller():
    for seed in range(15):
        fit = fitted(trial(seed, lost=(1, 6, 13)))
        adjusted, naive = KenwardRoger(fit).covariance, fit.phi
        assert np.linalg.eigvalsh(adjusted - naive).min() > -1e-9 * np.abs(naive).max()


def test_fixed_blocks_are_ordinary_least_squares():
    rows = trial(lost=(3, 8))
    ours = analyse(rows, spec(block_effect="fixed"))
    theirs = smf.ols("y ~ C(b, Sum) + C(t, Sum)", pd.DataFrame(rows)).fit()
    table = __import__("statsmodels.stats.anova", fromlist=["anova_lm"]).anova_lm(theirs, typ=3)
    assert ours.anova["t"].f == pytest.approx(table.loc["C(t, Sum)", "F"])
    assert ours.anova["b"].p == pytest.approx(table.loc["C(b, Sum)", "PR(>F)"])


# --- comparisons --------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("method", "theirs"), [("holm", "holm"), ("bonferroni", "bonferroni"), ("sidak", "sidak")])
def test_adjusted_p_values_agree_with_statsmodels(method, theirs):
    pairs = analyse(trial(3), spec(comparison=Comparison(method))).pairs[0]
    assert pairs.p == pytest.approx(multipletests(pairs.p_raw, method=theirs)[1], rel=1e-9)


@pytest.mark.parametrize("method", ["lsd", "tukey", "bonferroni", "sidak"])
def test_an_interval_excludes_zero_exactly_when_p_is_below_alpha(method):
    for seed in range(12):
        pairs = analyse(trial(seed, lost=(4,)), spec(comparison=Comparison(method))).pairs[0]
        excludes = (pairs.lower > 0) | (pairs.upper < 0)
        assert np.array_equal(excludes, pairs.p < 0.05)


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10_000), st.sampled_from(["lsd", "tukey", "holm"]), st.integers(2, 9))
def test_two_means_share_a_letter_exactly_when_they_are_not_told_apart(seed, method, treatments):
    found = analyse(trial(seed, treatments=treatments, blocks=4), spec(comparison=Comparison(method)))
    pairs, (letters,) = found.pairs[0], found.letters
    for a, b, p in zip(pairs.a, pairs.b, pairs.p, strict=True):
        assert bool(set(letters[a]) & set(letters[b])) == (p >= 0.05)
    assert "a" in letters[int(np.argmax(found.families[0].mean))]


def test_letters_go_on_after_z():
    assert [letter_name(i) for i in (0, 25, 26, 51, 52)] == ["a", "z", "A", "Z", "(53)"]


# --- diagnostics --------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("n", [3, 4, 5, 6, 11, 12, 20, 48, 500])
def test_shapiro_wilk_agrees_with_scipy(n):
    for seed, values in enumerate(
        (np.random.default_rng(n).normal(size=n), np.random.default_rng(n).exponential(size=n))
    ):
        assert shapiro_wilk(values) == pytest.approx(stats.shapiro(values).pvalue, rel=1e-3, abs=1e-9), seed


def test_shapiro_wilk_says_nothing_of_too_few_or_equal_values():
    assert shapiro_wilk(np.array([1.0, 2.0])) is None
    assert shapiro_wilk(np.ones(8)) is None


def test_brown_forsythe_agrees_with_scipy_and_says_nothing_of_single_plots():
    rng = np.random.default_rng(2)
    groups = [rng.normal(size=n) * s for n, s in ((5, 1), (6, 3), (4, 1))]
    cells = make_factor("t", [f"t{i}" for i, g in enumerate(groups) for _ in g])
    assert brown_forsythe(np.concatenate(groups), cells) == pytest.approx(stats.levene(*groups).pvalue)
    assert brown_forsythe(np.array([1.0, 2.0, 4.0]), make_factor("t", ["a", "a", "b"])) is None


def test_a_studentized_residual_is_the_t_of_the_plot_left_out():
    rows = trial(6)
    rows[6]["y"] += 9  # one that stands out, so that its p isn't 1
    fit = fitted(rows, block_effect="fixed")
    external, adjusted = externally_studentized(fit)
    x, y = fit.model.x, fit.model.y
    for i in range(0, 20, 3):
        shift = np.hstack([x, np.eye(20)[:, [i]]])  # a parameter of its own for plot i
        beta, rest, *_ = np.linalg.lstsq(shift, y, rcond=None)
        se = np.sqrt(rest[0] / 11 * np.linalg.inv(shift.T @ shift)[-1, -1])
        assert external[i] == pytest.approx(beta[-1] / se)
        assert adjusted[i] == pytest.approx(min(1, 20 * 2 * stats.t.sf(abs(beta[-1] / se), 11)))
    assert 0 < adjusted[6] < 0.5
    two_blocks = fitted(trial(3, blocks=2, treatments=2), block_effect="fixed")  # one degree of freedom: none left out
    assert np.isnan(externally_studentized(two_blocks)[0]).all()


@pytest.mark.parametrize("spread", [0.4, 0.02])
def test_a_spread_that_grows_with_the_mean_is_judged_by_the_restricted_likelihood(spread):
    """Against the likelihood of contrasts that no treatment and no block enters, its variance profiled out."""
    rng = np.random.default_rng(4)
    rows = [
        {"b": f"b{b}", "t": f"t{t}", "y": float(mean * np.exp(rng.normal(0, spread)) + b)}
        for b in range(5) for t, mean in enumerate((4.0, 12.0, 30.0, 70.0))
    ]  # fmt: skip
    fit = fitted(rows)
    y, cells = fit.model.y, fit.model.cells.codes
    blocks = np.eye(5)[fit.model.strata[0].codes]
    contrasts = linalg.null_space(np.hstack([fit.model.x, blocks]).T)
    mean = np.array([y[cells == i].mean() for i in range(4)])[cells]
    mean = mean / np.exp(np.log(mean).mean())

    def likelihood(power):
        inside = contrasts.T @ np.diag(mean ** (2 * power)) @ contrasts
        z = contrasts.T @ y
        return -0.5 * np.linalg.slogdet(inside)[1] - 0.5 * len(z) * np.log(z @ np.linalg.solve(inside, z))

    gain = 2 * (max(likelihood(power) for power in (0.25, 0.5, 0.75, 1, 1.25, 1.5, 2, 3, 5)) - likelihood(0))
    assert growing_spread(fit) == pytest.approx(1.0 if gain <= 0 else stats.chi2.sf(gain, 1) / 2, rel=1e-6)


def test_a_spread_that_grows_is_not_asked_of_two_treatments_nor_of_means_at_zero():
    assert growing_spread(fitted(trial(2, treatments=2))) is None
    assert growing_spread(fitted([{**row, "y": row["y"] - 60} for row in trial(2)])) is None
    assert growing_spread(fitted(trial(2, treatments=3))) is not None


def test_each_scale_takes_its_values_and_refuses_those_just_outside():
    taken = {"log": 0.1, "log1p": 0.0, "sqrt": 0.0, "arcsine_sqrt": 1.0, "logit": 0.5}
    refused = {"log": (0.0,), "log1p": (-1.0,), "sqrt": (-0.1,), "arcsine_sqrt": (1.1, -0.1), "logit": (0.0, 1.0)}
    rows = [{**row, "y": 0.2 + 0.01 * (i * 7 % 20)} for i, row in enumerate(trial(1))]
    for transform, value in taken.items():
        assert analyse([{**rows[0], "y": value}, *rows[1:]], spec(transform=transform)).pairs
        for outside in refused[transform]:
            with pytest.raises(Refused, match=f"Row 2: 'y' is {outside:g}, but the {transform} transform"):
                analyse([{**rows[0], "y": outside}, *rows[1:]], spec(transform=transform))


def test_a_control_that_is_no_level_is_named_with_its_field():
    for changes, where in (
        ({"comparison": Comparison("dunnett", "t9")}, "comparison.control"),
        ({"equivalence": Equivalence(1.0, "t9")}, "equivalence.control"),
    ):
        with pytest.raises(Refused, match=f"{where} 't9'"):
            analyse(trial(1), spec(**changes))
    found = analyse(trial(1), spec(comparison=Comparison("dunnett", "t0")))
    assert (found.letters, len(found.pairs[0])) == ((), 3)
    again = found.compared(Comparison("dunnett", "t2"), "t2")
    assert {again.family.labels[b] for b in again.b} == {"t2"}


# --- refusals -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("rows", "says"),
    [
        ([{"b": "1", "t": "x", "y": None}], "No plot has"),
        ([{"b": "1", "t": "", "y": 1.0}, {"b": "1", "t": "x", "y": 1.0}], "Row 2: 't' is empty"),
        ([{"b": "1", "t": "x", "y": float("inf")}], "isn’t a number"),
    ],
)
def test_rows_that_cannot_be_used_are_refused_with_their_place(rows, says):
    with pytest.raises(Refused, match=says):
        analyse(rows, spec())


def test_a_fit_that_ends_too_early_says_so_and_the_board_doubts_it(monkeypatch):
    rng = np.random.default_rng(4)
    names = ("bare", "oat", "vetch")
    plots = tuple(
        PlotFacts(f"{b}{t}{k}", f"B{b}", f"{kill}:{name}", whole_plot=kill)
        for b in range(4) for k, kill in enumerate(("early", "late")) for t, name in enumerate(names)
    )  # fmt: skip
    values = {p.label: [float(v)] for p, v in zip(plots, rng.normal(40, 3, len(plots)), strict=True)}
    trial, asked = TrialFacts(plots, "early:bare", "drawn"), Asked("Yield", "t/ha", None, "higher")

    def doubts():
        reading = read_trial(trial, "split_plot", [Recorded(asked, values)], How(), "early:bare")
        return [doubt.id for doubt in reading.measures[0].doubts]

    assert "not-converged" not in doubts()
    monkeypatch.setattr("apercu_core.statistics.reml._MOST_STEPS", 1)
    assert "not-converged" in doubts()
