"""Whether counts differ: the steadied scale and its α by hand, treatments near zero, controls without any count."""

import numpy as np
import pytest
from scipy import stats

from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.measure import read_measure
from apercu_core.reporting.sentences import measure_report
from apercu_core.statistics.count_test import count_test, moments, steadied
from apercu_core.statistics.densities import analyse_densities
from apercu_core.statistics.plots import plots_of
from apercu_core.statistics.response_scale import OPEN_AT_ZERO
from apercu_core.statistics.specification import Comparison, Specification
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Verdict

NAMES = ("bare", "a", "b", "c", "d")
TABLE = np.array([[20, 18, 3, 0, 1], [25, 22, 5, 1, 0], [17, 24, 2, 0, 0], [30, 21, 6, 0, 2]], float)
SPEC = Specification("y", ("t",), "rcbd", block="b", block_effect="fixed", comparison=Comparison("lsd"))


def rows_of(table, names=NAMES):
    return [
        {"b": f"B{b}", "t": name, "y": int(y)}
        for b, row in enumerate(table)
        for name, y in zip(names, row, strict=True)
    ]


FOUR = Margin(4)


def board(table, margin=FOUR, method="dunnett", names=NAMES, control="bare"):
    plots = tuple(PlotFacts(f"{b}{t}", f"B{b}", t) for b in range(len(table)) for t in names)
    trial = TrialFacts(plots, control, "drawn")
    samples = {plot.label: [float(y)] for plot, y in zip(plots, np.ravel(table), strict=True)}
    asked = Asked("Weeds", "1/m²", margin, "lower", kind="count")
    how = in_force(How(method=method), "rcbd", plots)
    found = read_measure(trial, "rcbd", Recorded(asked, samples, area=1.0), how, control)
    return found, {cell.treatment: cell for cell in found.cells}


def test_alpha_is_by_moments_of_what_treatment_and_block_totals_expect():
    expected = np.outer(TABLE.sum(1), TABLE.sum(0)) / TABLE.sum()
    by_hand = ((TABLE - expected) ** 2 * 20 / 12 - expected).sum() / (expected**2).sum()
    plots = plots_of(rows_of(TABLE), SPEC)
    alpha, found = moments(plots, SPEC)
    order = [plots.factors["t"].levels[code] for code in plots.factors["t"].codes]
    assert found.reshape(4, 5)[:, [order.index(name) for name in NAMES]] == pytest.approx(expected)
    assert alpha == max(by_hand, 0.0)
    wild = TABLE.copy()
    wild[0] *= (9, 1, 1, 1, 9)
    expected = np.outer(wild.sum(1), wild.sum(0)) / wild.sum()
    by_hand = ((wild - expected) ** 2 * 20 / 12 - expected).sum() / (expected**2).sum()
    assert moments(plots_of(rows_of(wild), SPEC), SPEC)[0] == pytest.approx(by_hand)
    assert 0 < by_hand < 4


def test_the_scale_is_anscombes_and_a_square_root_where_counts_vary_as_at_random():
    y = np.array([0.0, 1, 7, 300])
    assert steadied(y, 0.0) == pytest.approx(np.sqrt(y + 0.375))
    assert steadied(y, 0.5) == pytest.approx(np.arcsinh(np.sqrt(0.5 * (y + 0.375) / 0.625)) / np.sqrt(0.5))
    assert (np.diff(steadied(y, 4.0)) > 0).all()  # where 1 − ¾α is below zero
    assert steadied(y, 1e-5) == pytest.approx(steadied(y, 0.0), rel=1e-2)


def test_without_a_treatment_near_zero_it_is_least_squares_on_the_scale():
    table = TABLE[:, :3] + 10
    found = count_test(plots_of(rows_of(table, NAMES[:3]), SPEC), SPEC)
    assert found.others is None
    g = steadied(table, found.alpha)
    rest = g - g.mean(0) - g.mean(1, keepdims=True) + g.mean()
    t = (g.mean(0)[1] - g.mean(0)[0]) / np.sqrt((rest**2).sum() / 6 * 2 / 4)
    pairs = found.compared(Comparison("lsd"))
    labels = pairs.family.labels
    [at] = [i for i in range(3) if {labels[pairs.a[i]], labels[pairs.b[i]]} == {"bare", "a"}]
    assert (abs(pairs.t[at]), pairs.df[at]) == (pytest.approx(abs(t)), 6)
    assert pairs.p[at] == pytest.approx(2 * stats.t.sf(abs(t), 6))


def test_treatments_near_zero_lend_their_small_spread_to_nobody():
    found = count_test(plots_of(rows_of(TABLE), SPEC), SPEC)
    g = steadied(TABLE, found.alpha)
    assert found.others.families[0].labels == ("a", "b", "bare")  # c and d are below a tenth of the highest
    own = g[:, :3]
    rest = own - own.mean(0) - own.mean(1, keepdims=True) + own.mean()
    variance = (rest**2).sum() / 6
    pairs = found.compared(Comparison("lsd"))
    labels = pairs.family.labels
    by_pair = {frozenset((labels[a], labels[b])): i for i, (a, b) in enumerate(zip(pairs.a, pairs.b, strict=True))}
    among, mixed = by_pair[frozenset(("a", "bare"))], by_pair[frozenset(("c", "bare"))]
    assert (pairs.se[among], pairs.df[among]) == (pytest.approx(np.sqrt(variance * 2 / 4)), 6)
    assert pairs.se[mixed] >= np.sqrt(variance / 4) * (1 - 1e-9)


def test_weeds_that_vanish_are_seen_and_an_interval_that_the_test_bounds_ends_at_zero():
    _, cells = board([[20, 18, 1, 0, 1], [45, 22, 0, 1, 0], [7, 24, 2, 0, 0], [30, 9, 0, 0, 2]])
    assert all(cells[name].excludes_zero for name in "bcd")
    assert cells["a"].verdict is Verdict.NOT_SETTLED
    for cell in cells.values():
        assert (cell.p < 0.05) == (cell.upper < 0) != (cell.lower <= 0 <= cell.upper)
    rng, seen = np.random.default_rng(5), set()
    while {"open", "closed"} - seen:
        found = board(rng.poisson(np.array([20, 15, 8, 0.5, 0.3]) * rng.gamma(2, 0.5, (4, 5))))[0]
        for cell, line in zip(found.cells, measure_report(found).lines, strict=True):
            if cell.upper == -OPEN_AT_ZERO:  # the size alone reaches zero; the test doesn't
                seen.add("open")
                assert (cell.verdict, cell.p < 0.05) == (Verdict.REAL_UNSETTLED, True)
                assert "and just below 0). The difference is real." in line.sentence
            if cell.upper == 0:  # the other way round
                seen.add("closed")
                assert (cell.verdict, cell.p < 0.05) == (Verdict.NOT_SETTLED, False)


def test_a_control_without_any_count_is_compared_and_doubted():
    table = TABLE.copy()
    table[:, 0] = 0
    found, cells = board(table)
    assert (found.refusal, cells["a"].verdict, cells["b"].verdict) == ("", Verdict.CLEAR_LOSS, Verdict.REAL_UNSETTLED)
    assert (cells["c"].verdict, cells["c"].estimate) == (Verdict.NO_DIFFERENCE, pytest.approx(0.25, abs=0.1))
    assert "control-is-zero" in {doubt.id for doubt in found.doubts}
    assert "control-is-zero" not in {doubt.id for doubt in board(TABLE)[0].doubts}
    share, _ = board(table, Margin(20, "percent"))
    assert all("isn’t above zero" in cell.reason for cell in share.cells)


def test_only_the_control_has_counts_and_every_treatment_is_clearly_below_it():
    table = np.zeros((4, 5))
    table[:, 0] = 9, 12, 7, 15
    found, cells = board(table)
    assert {cell.verdict for cell in cells.values()} == {Verdict.CLEAR_GAIN}
    assert cells["a"].estimate == pytest.approx(-10.75)
    assert sum("the smallest that so few blocks allow" in note for note in found.notes) == 4


def test_sizes_in_split_plots_are_means_of_densities_and_their_test_has_the_strata():
    rng = np.random.default_rng(6)
    names = ("early oat", "early rye", "late oat", "late rye")
    table = rng.poisson(30 * rng.gamma(1, 1, (6, 4)))
    rows = [{**row, "w": str(row["t"]).split()[0]} for row in rows_of(table, names)]
    spec = Specification("y", ("t",), "split_plot", block="b", whole_plot="w", comparison=Comparison("lsd"))
    found = analyse_densities(rows, spec)
    assert found.families[0].mean == pytest.approx(table.mean(0), rel=2e-2)  # not squares of mean roots
    of_strata = found.test.on_scale.compared(Comparison("lsd")).df
    assert np.ptp(of_strata) > 0.5  # within whole plots and across them
    [pairs] = found.pairs
    assert pairs.df == pytest.approx(1 / (1 / of_strata + found.alpha / 12))


def test_every_block_that_would_settle_a_count_is_one_more_than_there_are():
    rng = np.random.default_rng(3)
    seen = set()
    for _ in range(25):
        table = rng.poisson(np.array([20, 16, 10, 6, 3]) * rng.gamma(3, 1 / 3, (4, 5)))
        for method in ("dunnett", "lsd"):
            for cell in board(table, method=method)[1].values():
                if cell.verdict is Verdict.NOT_SETTLED:
                    seen.add(cell.blocks)
                    assert all(blocks is None or blocks > 4 for blocks in (cell.blocks, cell.blocks_likely))
    assert len(seen) > 4
