"""Poisson, negative binomial and binomial on request: against fits of an independent kind, and with their doubt."""

import numpy as np
import pytest
from scipy import stats

from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.statistics.densities import analyse_densities
from apercu_core.statistics.specification import Comparison, Specification
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from tests.core.test_proportions import TRIAL, K, N

NAMES = ("bare", "oat", "rye")
PLOTS = tuple(PlotFacts(f"{i}{t}", "", t) for t in NAMES for i in range(6))
COUNTS = {"bare": (31, 12, 55, 20, 41, 9), "oat": (14, 3, 22, 9, 5, 11), "rye": (28, 40, 7, 33, 19, 25)}
VALUES = {f"{i}{t}": [COUNTS[t][i] / 0.25] for t in NAMES for i in range(6)}


def read(counts, method="lsd"):
    asked = Asked("Weeds", "1/m²", Margin(20), "lower", kind="count")
    trial = TrialFacts(PLOTS, "bare", "drawn")
    how = How(method=method, counts=counts)
    return read_trial(trial, "crd", [Recorded(asked, VALUES, area=0.25)], how, "bare").measures[0]


def test_a_poisson_interval_is_that_of_the_summed_counts():
    """Completely randomised, so a treatment's log mean has standard error 1/√total, and the normal's 1.96."""
    cell = next(c for c in read("poisson").cells if c.treatment == "oat")
    totals = {t: sum(COUNTS[t]) for t in ("bare", "oat")}
    mean = {t: total / 6 / 0.25 for t, total in totals.items()}
    z = stats.norm.ppf(0.975)
    up = {t: mean[t] * np.exp(z / totals[t] ** 0.5) for t in mean}
    low = {t: mean[t] * np.exp(-z / totals[t] ** 0.5) for t in mean}
    d = mean["oat"] - mean["bare"]
    assert cell.estimate == pytest.approx(d)
    assert cell.upper == pytest.approx(d + np.hypot(up["oat"] - mean["oat"], mean["bare"] - low["bare"]), rel=1e-6)


def test_a_negative_binomial_has_the_theta_of_maximum_likelihood_and_wider_intervals():
    rows = [{"t": t, "value": k, "area": 0.25} for t in NAMES for k in COUNTS[t]]
    spec = Specification("value", ("t",), "crd", exposure="area", comparison=Comparison("lsd"))
    with np.errstate(over="ignore"):
        found = analyse_densities(rows, spec, "negative_binomial")

    def likelihood(theta):
        return sum(
            stats.nbinom.logpmf(k, theta, theta / (theta + np.mean(COUNTS[t]))) for t in NAMES for k in COUNTS[t]
        )

    theta = 1 / found.alpha
    assert likelihood(theta) > max(likelihood(0.98 * theta), likelihood(1.02 * theta))
    widths = [c.upper - c.lower for how in ("poisson", "negative_binomial") for c in read(how).cells]
    assert widths[2] > widths[0]


@pytest.mark.parametrize(("counts", "said"), [("poisson", "Poisson"), ("negative_binomial", "negative binomial")])
def test_what_is_assumed_of_counts_is_a_doubt_where_few_plots_could_tell(counts, said):
    (doubt,) = [d for d in read(counts).doubts if d.id == "few-df-for-this-model"]
    assert f"analysed as {said}, with only 15 degrees of freedom" in doubt.finding
    assert not [d for d in read("estimated").doubts if d.id == "few-df-for-this-model"]


def test_a_binomial_takes_no_variation_beyond_chance():
    values = {p.label: [100 * K[p.treatment]["ABCD".index(p.block)] / N] for p in TRIAL.plots}
    asked = Asked("Survival", "%", Margin(10), "higher", kind="k-of-n")
    recorded = Recorded(asked, values, examined={p.label: [float(N)] for p in TRIAL.plots})
    found = read_trial(TRIAL, "rcbd", [recorded], How(method="lsd", counts="poisson"), "bare").measures[0]
    assert found.analysis.dispersion == 1.0
    assert np.isinf(found.analysis.pairs[0].df).all()
    assert [d.id for d in found.doubts if d.id.startswith("few-df")] == ["few-df-for-this-model"]
