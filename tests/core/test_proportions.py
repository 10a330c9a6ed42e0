"""k of n on the board: against a fit written here, at the ends of the scale, and covering what they should."""

import numpy as np
import pytest
from scipy import optimize, special, stats

from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Verdict

NAMES = ("bare", "oat", "rye")
PLOTS = tuple(PlotFacts(f"{b}{t}", b, t, i + 1) for b in "ABCD" for i, t in enumerate(NAMES))
TRIAL = TrialFacts(PLOTS, "bare", "drawn")
K = {"bare": (5, 9, 7, 12), "oat": (20, 25, 18, 27), "rye": (6, 12, 10, 9)}
N = 40


def read(k_of, n=N, design="rcbd", trial=TRIAL, method="lsd"):
    values = {p.label: [100 * k_of[p.treatment]["ABCD".index(p.block)] / n] for p in trial.plots}
    asked = Asked("Survival", "%", Margin(10), "higher", kind="k-of-n")
    recorded = Recorded(asked, values, examined={p.label: [float(n)] for p in trial.plots})
    return read_trial(trial, design, [recorded], How(method=method), "bare").measures[0]


def test_differences_are_those_of_a_quasi_binomial_fit_written_here():
    """Maximum likelihood by a general optimiser; the interval of a mean on the logit scale, taken back by hand."""
    x = np.array([[1.0, t == "oat", t == "rye", *(b == c for c in "BCD")] for b in "ABCD" for t in NAMES], dtype=float)
    k = np.array([K[t]["ABCD".index(b)] for b in "ABCD" for t in NAMES], dtype=float)

    def unlikely(beta):
        eta = x @ beta
        return -(k * eta - N * np.logaddexp(0, eta)).sum()

    beta = optimize.minimize(unlikely, np.zeros(6), method="BFGS", options={"gtol": 1e-9}).x
    p = special.expit(x @ beta)
    covariance = np.linalg.inv((x * (N * p * (1 - p))[:, None]).T @ x)
    dispersion = max(1.0, (((k - N * p) ** 2) / (N * p * (1 - p))).sum() / 6)
    rows = np.array([[1, i == 1, i == 2, 0.25, 0.25, 0.25] for i in range(3)], dtype=float)
    eta, cov = rows @ beta, rows @ covariance @ rows.T * dispersion
    mean, se = 100 * special.expit(eta), np.sqrt(np.diagonal(cov))
    c = stats.t.ppf(0.975, 6)
    low, high = 100 * special.expit(eta - c * se), 100 * special.expit(eta + c * se)
    found = read(K)
    for cell in found.cells:
        i = NAMES.index(cell.treatment)
        r = cov[0, i] / se[0] / se[i]
        a, b = mean[i] - low[i], high[0] - mean[0]
        assert cell.estimate == pytest.approx(mean[i] - mean[0], rel=1e-4)
        assert cell.lower == pytest.approx(cell.estimate - np.sqrt(a * a + b * b - 2 * r * a * b), rel=1e-3)
    assert any("k of n is analysed as such" in note for note in found.notes)


def test_intervals_never_ask_for_less_than_nothing_or_more_than_all():
    found = read({"bare": (1, 0, 1, 0), "oat": (39, 40, 38, 40), "rye": (2, 1, 0, 3)})
    for cell in found.cells:
        assert -100 <= cell.lower <= cell.upper <= 100
    oat = next(cell for cell in found.cells if cell.treatment == "oat")
    assert oat.verdict is Verdict.CLEAR_GAIN


def test_none_or_all_found_has_a_limit_and_no_interval():
    k = {"bare": (5, 9, 7, 12), "oat": (0, 0, 0, 0), "rye": (N,) * 4, "mix": (8, 8, 12, 9)}
    found = read(k, trial=_with_fourth())
    why = {cell.treatment: cell.reason for cell in found.cells}
    assert "None of the 160 examined" in why["oat"]
    assert "below 1.88 %" in why["oat"]  # 300 / 160
    assert "above 98.1 %" in why["rye"]


def _with_fourth():
    plots = [*PLOTS, *(PlotFacts(f"{b}mix", b, "mix", 4) for b in "ABCD")]

    return TrialFacts(tuple(plots), "bare", "drawn")


def test_larger_units_are_strata_for_shares_too():
    plots = tuple(
        PlotFacts(f"{b}{w}{t}", b, f"{w}:{t}", whole_plot=w) for b in "ABCD" for w in "XY" for t in ("oat", "rye")
    )
    trial = TrialFacts(plots, "X:oat", "drawn")
    rng = np.random.default_rng(3)
    values = {p.label: [100 * rng.integers(5, 20) / 40] for p in plots}
    asked = Asked("Survival", "%", Margin(10), "higher", kind="k-of-n")
    recorded = Recorded(asked, values, examined={p.label: [40.0] for p in plots})
    found = read_trial(trial, "split_plot", [recorded], How(method="lsd"), "X:oat").measures[0]
    assert found.analysis.specification.transform == "arcsine_sqrt"
    mean = {t: [values[p.label][0] / 100 for p in plots if p.treatment == t] for t in ("X:oat", "X:rye")}
    back = {t: 100 * np.sin(np.mean(np.arcsin(np.sqrt(v)))) ** 2 for t, v in mean.items()}
    cell = next(c for c in found.cells if c.treatment == "X:rye")
    assert cell.estimate == pytest.approx(back["X:rye"] - back["X:oat"])


def test_without_the_number_examined_it_is_read_as_plot_values():
    values = {p.label: [100 * K[p.treatment]["ABCD".index(p.block)] / N] for p in PLOTS}
    asked = Asked("Survival", "%", Margin(10), "higher", kind="k-of-n")
    found = read_trial(TRIAL, "rcbd", [Recorded(asked, values)], How(), "bare").measures[0]
    assert found.analysis.specification.family == "normal"
