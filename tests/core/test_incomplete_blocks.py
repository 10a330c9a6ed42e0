"""Incomplete blocks: which treatments meet, the draw, the analysis with inter-block information, and what Plan says."""

from collections import Counter
from itertools import combinations

import numpy as np
import pytest

from apercu_core.design.draw import Draw
from apercu_core.design.facts import facts_of
from apercu_core.design.incomplete_blocks import average_efficiency, find_incomplete_blocks, usual_size
from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.design.randomisation import draw_incomplete_blocks
from apercu_core.design.treatments import listed
from apercu_core.errors import Refused
from apercu_core.power.interblock import compared, least_precise, read_runs
from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.measure import rows_of, specification_for
from apercu_core.reading.model_words import model_in_words
from apercu_core.reading.trial import read_trial
from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.model import build_model
from apercu_core.statistics.multivariate_t import largest_quantile, largest_upper
from apercu_core.statistics.plots import plots_of
from apercu_core.statistics.specification import read_specification
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Margin
from tests.core.planned_boards import BASE, OTHER, Case


@pytest.mark.parametrize(
    ("treatments", "size", "replicates", "share_of_bound"),
    [(16, 4, 3, 1.0), (25, 5, 3, 1.0), (9, 3, 4, 1.0), (16, 4, 5, 1.0), (12, 4, 4, 0.97), (24, 6, 4, 0.99),
     (13, 4, 3, 0.95), (30, 6, 3, 0.99), (48, 8, 3, 0.99), (22, 5, 2, 0.97)],
)  # fmt: skip
def test_treatments_meet_as_evenly_as_they_can(treatments, size, replicates, share_of_bound):
    found = find_incomplete_blocks(treatments, size, replicates)
    for replicate in found.replicates:
        assert sorted(t for block in replicate for t in block) == list(range(treatments))
        assert max(map(len, replicate)) <= size
        assert max(map(len, replicate)) - min(map(len, replicate)) <= 1
    assert found.most * share_of_bound - 1e-9 <= found.efficiency <= found.most + 1e-9
    find_incomplete_blocks.cache_clear()
    assert find_incomplete_blocks(treatments, size, replicates) == found


def test_the_efficiency_of_a_triple_lattice_is_that_of_the_books():
    # (k + 1)/(k + 1 + r/(r − 1)) for r of the k + 1 possible classes: Cochran and Cox (1957), section 10.3
    rows = tuple(tuple(range(3 * i, 3 * i + 3)) for i in range(3))
    columns = tuple(tuple(range(i, 9, 3)) for i in range(3))
    diagonal = tuple(tuple(3 * i + (i + shift) % 3 for i in range(3)) for shift in range(3))
    assert average_efficiency((rows, columns), 9) == pytest.approx(4 / (4 + 2))
    assert average_efficiency((rows, columns, diagonal), 9) == pytest.approx(4 / (4 + 1.5))
    assert average_efficiency((rows, rows), 9) == 0  # treatments of two rows never meet


@pytest.mark.parametrize(
    ("treatments", "size", "replicates", "says"),
    [(3, 2, 2, "too few"), (12, 7, 3, "they have 2 to 6"), (12, 1, 3, "they have 2 to 6"), (12, 4, 1, "2 or more"),
     (7, 2, 3, "a single plot")],
)  # fmt: skip
def test_what_cannot_be_parted_is_refused_with_what_can(treatments, size, replicates, says):
    with pytest.raises(Refused, match=says):
        find_incomplete_blocks(treatments, size, replicates)


@pytest.mark.parametrize(("treatments", "size"), [(12, 4), (13, 4), (16, 4), (20, 5), (24, 6), (30, 6), (49, 7)])
def test_the_usual_size_is_near_a_square_and_parts_evenly_where_it_can(treatments, size):
    assert usual_size(treatments) == size


def test_chance_lets_every_pair_meet_equally_often_and_stand_anywhere():
    names, pairs, places = listed([f"T{i}" for i in range(8)]), Counter(), Counter()
    for seed in range(700):
        plots = draw_incomplete_blocks(Draw(seed), names, 4, 2)
        blocks = {}
        for p in plots:
            blocks.setdefault((p.block, p.incomplete_block), []).append(p.treatment)
            places[p.treatment, p.block, p.position] += 1
        assert Counter(len(b) for b in blocks.values()) == {4: 4}
        pairs.update(pair for b in blocks.values() for pair in combinations(sorted(b), 2))
    # 24 of the 28 pairs meet once a plan: 600 times each, and each of 8 places of a replicate comes 87.5 times
    assert sum(pairs.values()) == 700 * 24
    assert all(abs(n - 600) < 5 * (700 * 0.86 * 0.5) ** 0.5 for n in pairs.values())
    assert all(abs(n - 87.5) < 5 * 87.5**0.5 for n in places.values())


PLAN = {"design": "incomplete_block", "treatments": ["bare", *(f"T{i}" for i in range(1, 13))], "blocks": 3, "seed": 7,
        "block_size": 5}  # fmt: skip


def test_incomplete_blocks_of_a_replicate_lie_side_by_side_in_one_row():
    placed = draw_plan(read_plan(PLAN))
    for replicate in range(1, 4):
        inside = [one.plot for one in placed if one.plot.block == replicate]
        assert [p.incomplete_block for p in inside] == sorted(p.incomplete_block for p in inside)
        assert [p.position for p in inside] == list(range(1, 14))
        assert sorted(Counter(p.incomplete_block for p in inside).values()) == [4, 4, 5]
    assert draw_plan(read_plan(PLAN)) == placed
    assert {one.place.y for one in placed} == {0.0, 10.0, 20.0}


@pytest.mark.parametrize(
    ("changes", "says"),
    [({"block_size": 9}, "they have 2 to 7"), ({"block_size": "5"}, "must be a whole number"),
     ({"design": "rcbd"}, "belongs to design incomplete_block"), ({"blocks": 1}, "at least two")],
)  # fmt: skip
def test_a_plan_file_with_a_wrong_block_size_says_so(changes, says):
    with pytest.raises(Refused, match=says):
        draw_plan(read_plan(PLAN | changes))


def lattice(seed=4):
    """A balanced lattice of 9 treatments in 4 replicates of 3 blocks of 3: every pair meets once."""
    found = find_incomplete_blocks(9, 3, 4)
    rng, rows = np.random.default_rng(seed), []
    for r, replicate in enumerate(found.replicates):
        for b, block in enumerate(replicate):
            level = rng.normal(0, 1.5)
            rows += [
                {"rep": f"R{r}", "blk": f"{b}", "cover": f"T{t}", "y": 20 + t + level + rng.normal()} for t in block
            ]
    return rows


def coded(rows, *names):
    labels = [" ".join(row[n] for n in names) for row in rows]
    return np.array([[label == one for one in sorted(set(labels))] for label in labels], dtype=float)


def left(rows, *parts):
    """Residual sum of squares and rank of least squares on the parts."""
    x, y = np.hstack(parts), np.array([row["y"] for row in rows])
    beta, _, rank, _ = np.linalg.lstsq(x, y, rcond=None)
    return float(((y - x @ beta) ** 2).sum()), int(rank)


def test_a_balanced_lattice_recovers_inter_block_information_as_worked_by_hand():
    # Cochran and Cox (1957), section 10.2: with the mean squares Eb of blocks within replicates, adjusted for
    # treatments, and Ee of plots, μ = (Eb − Ee)/(k²Eb), and differences have the variance 2 Ee (1 + kμ)/r.
    rows = lattice()
    treatments, replicates, blocks = coded(rows, "cover"), coded(rows, "rep"), coded(rows, "rep", "blk")
    (within, full), (without, some) = left(rows, treatments, blocks), left(rows, treatments, replicates)
    ee, eb = within / (36 - full), (without - within) / (full - some)
    assert (36 - full, full - some) == (16, 8)
    mu = (eb - ee) / (9 * eb)
    found = analyse(rows, read_specification({
        "response": "y", "treatments": ["cover"], "design": "incomplete_block", "block": "rep",
        "incomplete_block": "blk", "block_effect": "fixed", "df_method": "satterthwaite"}))  # fmt: skip
    parts = found.fit.variance_components
    assert parts["residual"] == pytest.approx(ee, rel=1e-6)
    assert parts["incomplete_block"] == pytest.approx((eb - ee) / (3 * 3 / 4), rel=1e-6)
    assert found.pairs[0].se == pytest.approx(np.full(36, np.sqrt(2 * ee * (1 + 3 * mu) / 4)), rel=1e-6)
    # The adjusted mean adds μ for each plot's block: its treatment total corrected by the blocks it stood in.
    y, k = np.array([row["y"] for row in rows]), 3
    total, of_blocks = treatments.T @ y, treatments.T @ (blocks @ (blocks.T @ y))
    adjusted = (total + mu * (k * total - (k + 1) * of_blocks + y.sum())) / 4
    assert found.families[0].mean == pytest.approx(adjusted, rel=1e-8)


def board(values, facts, how=None):
    asked = Asked("Yield", "t/ha", Margin(1.0), "higher")
    return read_trial(TrialFacts(facts, "bare", "drawn"), "incomplete_block", [Recorded(asked, values)], how or How(),
                      "bare")  # fmt: skip


def test_a_board_of_incomplete_blocks_says_its_model_and_finds_what_blocks_hid():
    facts = facts_of((one.plot for one in draw_plan(read_plan(PLAN))), "incomplete_block")
    rng, level = np.random.default_rng(2), {}
    truth = {name: 8.0 + 3.0 * (name == "T5") for name in PLAN["treatments"]}
    values = {}
    for p in facts:
        level.setdefault((p.block, p.incomplete_block), rng.normal(0, 4))
        values[p.label] = [truth[p.treatment] + level[p.block, p.incomplete_block] + rng.normal(0, 0.3)]
    found = board(values, facts).measures[0]
    assert model_in_words(found.analysis) == (
        "Incomplete blocks: treatments and replicates fixed, incomplete blocks random, by REML with Kenward–Roger "
        "degrees of freedom."
    )
    cells = {cell.treatment: cell for cell in found.cells}
    assert cells["T5"].verdict.value == "clear-gain"
    assert cells["T5"].lower < 3.0 < cells["T5"].upper
    # Read as complete blocks, what incomplete blocks differ by is error, and nothing is settled.
    coarse = read_trial(TrialFacts(facts, "bare", "drawn"), "rcbd",
                        [Recorded(found.asked, values)], How(), "bare").measures[0]  # fmt: skip
    assert {cell.verdict.value for cell in coarse.cells} == {"not-settled"}


def test_blocks_that_do_not_differ_and_methods_that_do_not_fit_are_said():
    facts = facts_of((one.plot for one in draw_plan(read_plan(PLAN))), "incomplete_block")
    values = {p.label: [8 + (p.position * 7 % 5) / 10 + (p.treatment == "T3")] for p in facts}  # even along each row
    notes = board(values, facts).measures[0].notes
    assert any("variance between incomplete blocks was estimated at zero" in note for note in notes)
    strata = board(values, facts, How(df_method="containment_anova")).measures[0]
    assert "blocks are incomplete. Use Kenward–Roger" in strata.refusal


def test_what_plan_says_of_single_trials_is_what_their_boards_say():
    case = Case("incomplete_block", 1.0, 1.0)
    drawn = list(case.trials(8, seed=21))
    facts, ys = drawn[0][0], np.array([y for _, y in drawn])
    specification = specification_for("incomplete_block", in_force(How(), "incomplete_block", facts), BASE)
    values = {p.label: [float(i % 7)] for i, p in enumerate(facts)}
    model = build_model(plots_of(rows_of(facts, values), specification), specification)
    levels = model.factors["treatment"].levels
    others, controls = compared(levels, BASE)
    read = read_runs(model, ys, others, controls, "dunnett", 0.05)
    at = others.tolist().index(levels.index(OTHER))
    half = read.critical[at] * np.sqrt(read.variance[at])
    for run, y in enumerate(ys):
        cell = case.read(facts, y)
        assert read.estimate[at, run] == pytest.approx((cell.lower + cell.upper) / 2, abs=0.02)
        assert half[run] == pytest.approx((cell.upper - cell.lower) / 2, rel=0.006)
    name, worst = least_precise(model, 1.0, 1.0, BASE, "dunnett")
    assert name != BASE
    assert worst.standard_error * worst.critical == pytest.approx(half.mean(), rel=0.2)


def test_comparisons_that_correlate_unevenly_keep_their_level():
    # Estimates of treatments in incomplete blocks: against a simulation of 400,000 sets of contrasts.
    found, weight = find_incomplete_blocks(20, 5, 2), 3.0
    information = np.zeros((20, 20))
    for replicate in found.replicates:
        for block in replicate:
            information[np.ix_(block, block)] += np.eye(len(block)) - weight / (1 + weight * len(block))
    to_first = np.hstack([-np.ones((19, 1)), np.eye(19)])
    covariance = to_first @ np.linalg.inv(information) @ to_first.T
    t = largest_quantile(0.05, covariance, 14)
    rng = np.random.default_rng(8)
    z = rng.multivariate_normal(np.zeros(19), covariance, 400_000) / np.sqrt(np.diagonal(covariance))
    largest = np.abs(z).max(1) / np.sqrt(rng.chisquare(14, 400_000) / 14)
    assert (largest > t).mean() == pytest.approx(0.05, abs=0.0012)
    assert largest_upper(2.2, covariance, 14) == pytest.approx((largest > 2.2).mean(), abs=0.003)
