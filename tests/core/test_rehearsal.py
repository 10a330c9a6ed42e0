"""Every design goes from plan to board; rehearsals give the verdicts that the truth deserves."""

from dataclasses import replace

import pytest

from apercu_core.design.facts import READ_AS, block_name, facts_of
from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.errors import Refused
from apercu_core.power.differences import Spread
from apercu_core.reading.asked import Asked, How
from apercu_core.reading.rehearsal import Invented, rehearse
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Margin

FACTORS = {"factors": {"kill": ["early", "late"], "cover": ["vetch", "oat", "none"]}}
PLANS = {
    "crd": {"treatments": list("abc")},
    "rcbd": FACTORS | {"control": "bare"},
    "paired_strips": {"treatments": ["a", "b"]},
    "latin_square": {"treatments": list("abcd")},
    "split_plot": FACTORS | {"whole_plot_factor": "kill", "control": "bare"},
    "strip_plot": FACTORS | {"row_factor": "kill", "column_factor": "cover"},
}
RUNS = 4
YIELD = Asked("Yield", "t/ha", Margin(2.0), "higher")


def rehearsed(design, means=None, sigma=0.3, spread=None, lost=(), planned="none", **changes):
    raw = {"design": design, "seed": 9, **({} if design == "latin_square" else {"blocks": 4}), **PLANS[design]}
    plots = facts_of((one.plot for one in draw_plan(read_plan(raw))), design)
    names = list(dict.fromkeys(p.treatment for p in plots))
    base = "bare" if "bare" in names else names[0]
    truth = Invented(
        replace(YIELD, planned=planned),
        {n: (means or {}).get(n, 40.0) for n in names},
        1.0,
        spread or Spread(sigma, 0.2, 0.2),
    )
    given = {"seed": 1, "seasons": range(RUNS), "lost": lost, **changes}
    return rehearse(TrialFacts(plots, base, "drawn"), READ_AS[design], [truth], How(), base, **given), names, base


@pytest.mark.parametrize("design", PLANS)
def test_every_design_is_read_by_its_own_strata_and_sees_no_difference_where_there_is_none(design):
    done, names, base = rehearsed(design)
    assert set(done.counts) == {("Yield", name) for name in names if name != base}
    assert all(sum(verdicts.values()) == RUNS for verdicts in done.counts.values())
    wrong = sum(v.get("clear-gain", 0) + v.get("clear-loss", 0) for v in done.counts.values())
    assert wrong == 0
    analysis = done.last.measures[0].analysis
    strata = {"split_plot": "whole_plot", "strip_plot": "column_strip"}
    assert strata.get(design, "residual") in analysis.fit.variance_components


def test_a_large_truth_is_called_a_clear_gain_and_a_lost_plot_costs_no_board():
    done, *_ = rehearsed("split_plot", {"late:oat": 48.0}, lost=("103",))
    assert done.counts["Yield", "late:oat"] == {"clear-gain": RUNS}
    assert len(done.last.measures[0].analysis.plots) == 4 * 9 - 1


def test_what_is_not_settled_in_a_split_plot_says_how_many_blocks_would_settle_it():
    done, *_ = rehearsed("split_plot", sigma=2.5, seasons=range(1))
    cells = [cell for cell in done.last.measures[0].cells if cell.verdict == "not-settled"]
    assert cells
    assert all(cell.more_than_40 or cell.blocks > 4 for cell in cells)
    assert done.last.measures[0].detectable > 2.0


def test_a_planned_test_is_counted_beside_the_verdicts():
    done, names, base = rehearsed("rcbd", planned="equivalence")
    assert set(done.shown) == {("Yield", name) for name in names if name != base}
    last = {one.test.treatment: one.shown for one in done.last.measures[0].planned}
    assert all(done.shown["Yield", name] >= shown for name, shown in last.items())
    assert 0 < sum(done.shown.values()) <= RUNS * len(last)


def test_a_rehearsal_in_parts_is_the_same_rehearsal():
    means = {"late:oat": 42.0, "early:vetch": 39.0}
    whole, parts = (rehearsed("split_plot", means, sigma=1.0, seasons=range(60))[0], [])
    for first in range(0, 60, 20):
        parts.append(rehearsed("split_plot", means, sigma=1.0, seasons=range(first, first + 20))[0])
    joined = parts[0].with_more(parts[1]).with_more(parts[2])
    assert joined.seasons == whole.seasons
    assert joined.counts == whole.counts
    assert joined.last.fingerprint == whole.last.fingerprint
    assert len({verdict for found in whole.counts.values() for verdict in found}) > 2


def test_the_same_seed_rehearses_the_same_season():
    assert rehearsed("rcbd")[0].last.fingerprint == rehearsed("rcbd")[0].last.fingerprint
    assert rehearsed("rcbd", seed=2)[0].last.fingerprint != rehearsed("rcbd")[0].last.fingerprint


def test_rehearsals_refuse_plots_that_are_not_there_and_runs_without_end():
    with pytest.raises(Refused, match="no plot 999"):
        rehearsed("rcbd", lost=("999",))
    with pytest.raises(Refused, match="1 to 100 at a time"):
        rehearsed("rcbd", seasons=range(101))


def test_blocks_are_named_as_people_do():
    assert [block_name(n) for n in (1, 26, 27, 52, 53)] == ["A", "Z", "AA", "AZ", "BA"]
