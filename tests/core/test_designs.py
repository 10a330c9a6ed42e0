"""Every design is drawn evenly, keeps to its own rules, and stays the same for ever."""

from collections import Counter
from dataclasses import replace
from itertools import permutations, product

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from apercu_core.design.constrained import drawn_within
from apercu_core.design.constraints import Constraint
from apercu_core.design.draw import Draw
from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.design.randomisation import (
    draw_blocks,
    draw_latin_square,
    draw_paired_strips,
    draw_split_plot,
    draw_strip_plot,
)
from apercu_core.design.treatments import Combination, crossed, listed
from apercu_core.errors import Refused

FOUR = listed("abcd")
KILL = {"kill": ["early", "late"], "cover": ["vetch", "oat", "phacelia"]}
DRAWS = 20_000


def evenly(counts, expected_number):
    assert len(counts) == expected_number
    assert stats.chisquare(list(counts.values())).pvalue > 1e-4


# --- evenness over 20,000 draws from one stream ------------------------------------------------------------------


def test_blocks_of_four_orders_positions_and_independence_are_even():
    draw, orders, places, together = Draw(11), Counter(), Counter(), Counter()
    for _ in range(DRAWS // 2):
        plots = draw_blocks(draw, FOUR, 2)
        first, second = (tuple(p.treatment for p in plots if p.block == b) for b in (1, 2))
        orders.update([first, second])
        places.update((p.treatment, p.position) for p in plots)
        together[first[0], second[0]] += 1
    evenly(orders, 24)
    evenly(places, 16)
    evenly(together, 16)


def test_all_576_latin_squares_of_order_four_come_equally_often():
    draw, squares = Draw(12), Counter()
    for _ in range(DRAWS):
        squares["".join(p.treatment for p in draw_latin_square(draw, FOUR))] += 1
    evenly(squares, 576)


def test_split_plots_shuffle_whole_plots_and_the_plots_in_each_on_their_own():
    draw, whole, inside = Draw(13), Counter(), Counter()
    for _ in range(4000):
        plots = [p for p in draw_split_plot(draw, crossed(KILL), "kill", 2) if p.block == 1]
        whole[dict(plots[0].levels)["kill"]] += 1
        orders = ["".join(dict(p.levels)["cover"][0] for p in plots if p.whole_plot == w) for w in (1, 2)]
        inside[tuple(orders)] += 1
    evenly(whole, 2)
    evenly(inside, 36)


def test_constrained_draws_are_even_over_all_plans_that_keep_to_them():
    rules = [Constraint("not-behind-itself"), Constraint("not-at-the-edge", ("a",))]
    feasible = {
        one + other
        for one, other in product(permutations("abcd"), repeat=2)
        if all(x != y for x, y in zip(one, other, strict=True)) and "a" in one[1:3] and "a" in other[1:3]
    }
    draw, found = Draw(14), Counter()
    for _ in range(3000):
        plots = drawn_within(draw, lambda d: draw_blocks(d, FOUR, 2), rules)
        found[tuple(p.treatment for p in plots)] += 1
    assert set(found) == feasible
    evenly(found, len(feasible))


# --- rules of each design ----------------------------------------------------------------------------------------


@given(st.integers(3, 8), st.integers(0, 2**40))
def test_a_latin_square_has_each_treatment_once_in_each_row_and_column(n, seed):
    plots = draw_latin_square(Draw(seed), listed([f"T{i}" for i in range(n)]))
    for line in ("row", "column"):
        assert Counter((getattr(p, line), p.treatment) for p in plots).most_common(1)[0][1] == 1
    assert len(plots) == n * n


@given(st.integers(0, 2**40), st.integers(2, 5))
def test_strips_run_through_their_block_and_cross_once(seed, blocks):
    plots = draw_strip_plot(Draw(seed), crossed(KILL), "kill", "cover", blocks)
    strips = {(p.block, p.row): dict(p.levels)["kill"] for p in plots}
    assert all(strips[p.block, p.row] == dict(p.levels)["kill"] for p in plots)
    columns = {(p.block, p.column): dict(p.levels)["cover"] for p in plots}
    assert all(columns[p.block, p.column] == dict(p.levels)["cover"] for p in plots)
    assert Counter(Counter(p.treatment for p in plots).values()) == {blocks: 6}
    assert len({p.number for p in plots}) == len(plots)


def test_a_control_outside_a_split_plot_has_a_whole_plot_of_its_own():
    plots = draw_split_plot(Draw(1), crossed(KILL, controls=["bare"]), "kill", 3)
    for block in (1, 2, 3):
        groups = Counter((p.whole_plot, p.treatment == "bare") for p in plots if p.block == block)
        assert sorted(groups.values()) == [3, 3, 3]
        assert sum(is_control for _, is_control in groups) == 1


def test_crossing_takes_out_what_cannot_be_and_keeps_inner_controls_inside():
    found = crossed(
        {"cover": ["none", "vetch"], "kill": ["early", "late"]}, removed=[{"cover": "none", "kill": "late"}]
    )
    assert [c.name for c in found] == ["none:early", "vetch:early", "vetch:late"]
    assert crossed(KILL, controls=["vetch", "early:oat", "bare", "bare"])[6:] == (Combination("bare"),)


# --- the same for ever -------------------------------------------------------------------------------------------

GOLDEN = {
    "crd": "bcdcaadabcdb",
    "rcbd": "bdcaacbdcdab",
    "latin_square": "bcacababc",
    "paired_strips": "bababa",
    "split_plot": "ByBxBzAyAxAzAxAzAyByBxBzBxBzByAyAzAx",
    "strip_plot": "ByBxBzAyAxAzAxAzAyBxBzByAzAyAxBzByBx",
}


def plan(design, **changes):
    raw = {"design": design, "blocks": 3, "seed": 20261125}
    if design in ("split_plot", "strip_plot"):
        raw |= {"factors": {"f": ["A", "B"], "g": ["x", "y", "z"]}}
        raw |= {"whole_plot_factor": "f"} if design == "split_plot" else {"row_factor": "f", "column_factor": "g"}
    else:
        raw |= {
            "treatments": list("ab" if design == "paired_strips" else "abc" if design == "latin_square" else "abcd")
        }
    return draw_plan(read_plan(raw | changes))


@pytest.mark.parametrize("design", GOLDEN)
def test_golden_plans(design):
    assert "".join(one.plot.treatment.replace(":", "") for one in plan(design)) == GOLDEN[design]


def test_a_further_site_leaves_the_plans_of_those_before_it_as_they_were():
    two = [{"name": "Mill Ground", "blocks": 2}, {"name": "Long Piece"}]
    three = plan("rcbd", sites=[*two, {"name": "Far Field"}])
    assert three[: 8 + 12] == plan("rcbd", sites=two)
    assert [one.plot.number for one in three[:1] + three[8:9] + three[20:21]] == [1101, 2101, 3101]


# --- what can't be is refused with what to do --------------------------------------------------------------------


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"design": "rcb"}, "must be one of: crd, rcbd"),
        ({"seed": None}, "same file gives the same plan"),
        ({"systematic": 1.5}, "systematic is 1.5; it must be true or false"),
        (
            {"systematic": True, "constraints": [{"kind": "not-behind-itself"}]},
            "it has no constraints. Remove: no treatment",
        ),
        ({"demonstration": True, "design": "split_plot"}, "the plan has no factors"),
        ({"demonstration": True}, "one plot of each treatment; blocks is 4"),
        ({"seeds": 1}, "Did you mean 'seed'?"),
        ({"blocks": 1}, "needs at least two"),
        ({"blocks": 2.5}, "whole number from 2"),
        ({"design": "latin_square", "blocks": 3}, "4 treatments need 4 rows and columns, not 3"),
        ({"design": "paired_strips"}, "compare two treatments; there are 4"),
        ({"design": "split_plot"}, "the plan has no factors"),
        ({"factors": KILL}, "both treatments and factors"),
        ({"treatments": ["a", "b", "a"]}, "'a' is listed twice"),
        ({"treatments": ["a", " "]}, "none of them empty"),
        ({"plot_width_m": 0}, "plot width is 0 m"),
        ({"plot_width_m": "3"}, "must be a number"),
        ({"origin": [200, 52]}, "longitude is 200"),
        ({"sites": [{"blocks": 2}]}, "sites.0 has no name"),
        ({"sites": [{"name": "x"}, {"name": "x"}]}, "same name"),
        ({"constraints": [{"kind": "apart", "treatments": ["a", "e"]}]}, "'e', which isn’t a treatment"),
        (
            {
                "constraints": [
                    {"kind": "not-behind-itself"},
                    {"kind": "not-at-the-edge", "treatments": ["a", "b", "c"]},
                ]
            },
            "at most 2 don.t stand at its ends",
        ),
    ],
)
def test_a_plan_that_cannot_be_drawn_says_where_and_what_to_do(changes, says):
    raw = {"design": "rcbd", "treatments": list("abcd"), "blocks": 4, "seed": 1, **changes}
    with pytest.raises(Refused, match=says):
        draw_plan(read_plan({key: value for key, value in raw.items() if value is not None}))


def test_a_constraint_that_draws_do_not_meet_is_named_among_the_others():
    """In each row of three it could be so, but then c is always in the middle, which no Latin square has."""
    rules = [Constraint("not-behind-itself"), Constraint("apart", ("a", "b"))]
    with pytest.raises(Refused, match="Remove it: a and b not side by side"):
        drawn_within(Draw(1), lambda d: draw_latin_square(d, FOUR[:3]), rules)


@pytest.mark.parametrize(
    ("design", "constraints", "says"),
    [
        ("rcbd", [("not-at-the-edge", "abc", 1)], "in a row of 4 plots at most 2 don’t stand at its ends, and 3 are"),
        ("rcbd", [("apart", "abc", 1)], "at most 2 can stand with another plot between them, and 3 are"),
        ("rcbd", [("apart", "ab", 1), ("not-at-the-edge", "ab", 1)], "No order of the 4 plots in a row meets these"),
        ("rcbd", [("spread", "", 1)], "has 6 plots, and a block has 4 positions.* Allow 2"),
        ("crd", [("not-at-the-edge", "abc", 1)], "leaves room for 12 plots in the field, and they have 18"),
    ],
)
def test_what_no_plan_can_meet_is_told_by_counting(design, constraints, says):
    given = [{"kind": kind, "treatments": list(whom), "most": most} for kind, whom, most in constraints]
    raw = {"design": design, "treatments": list("abcd"), "blocks": 6, "seed": 1, "constraints": given}
    with pytest.raises(Refused, match=says):
        draw_plan(read_plan(raw))


def test_constraints_within_a_row_are_met_row_by_row_however_many_blocks_there_are():
    """Three of five not at the edge: one order in ten, so six blocks of them come once in a million whole draws."""
    given = [{"kind": "not-at-the-edge", "treatments": list("abc")}]
    plan = {"design": "rcbd", "treatments": list("abcde"), "blocks": 6, "constraints": given}
    ends, inside = Counter(), Counter()
    for seed in range(12):
        rows = {}
        for one in draw_plan(read_plan({**plan, "seed": seed})):
            rows.setdefault(one.plot.block, []).append(one.plot.treatment)
        for row in rows.values():
            ends[row[0] + row[4]] += 1
            inside["".join(row[1:4])] += 1
    assert set(ends) == {"de", "ed"}
    evenly(ends, 2)
    evenly(inside, 6)


def test_a_site_drawn_by_itself_has_the_numbers_that_it_has_among_the_others():
    """So that sites can be drawn one by one, and no two plots of a trial have one number."""
    raw = {"design": "rcbd", "treatments": list("abcd"), "blocks": 2, "seed": 4, "sites": [{"name": n} for n in "PQR"]}
    together = read_plan(raw)
    by_site = {name: [o.plot.number for o in draw_plan(together) if o.plot.site == name] for name in "PQR"}
    for n, site in enumerate(together.sites, start=1):
        alone = replace(together, sites=(replace(site, number=n),))
        assert [one.plot.number for one in draw_plan(alone)] == by_site[site.name]
    assert by_site["Q"] == [2101, 2102, 2103, 2104, 2201, 2202, 2203, 2204]


def test_a_demonstration_has_one_plot_of_each_and_a_fixed_order_has_no_chance_in_it():
    """Both are allowed, and carry what makes a reading describe them instead of testing them."""

    def drawn(seed, **changes):
        raw = {"design": "rcbd", "treatments": list("abcd"), "blocks": 3, "seed": seed, **changes}
        return [(one.plot.number, one.plot.treatment) for one in draw_plan(read_plan(raw))]

    shown = drawn(7, blocks=1, demonstration=True)
    assert drawn(7, blocks=1, demonstration=True, design="latin_square") == shown
    assert [number for number, _ in shown] == [101, 102, 103, 104]
    assert sorted(t for _, t in shown) == list("abcd")
    assert drawn(1, systematic=True) == drawn(2, systematic=True)
    assert [t for _, t in drawn(1, systematic=True)] == list("abcd") * 3
    assert drawn(1) != drawn(2)


def test_pairs_of_strips_lie_side_by_side():
    assert [(p.row, p.column) for p in draw_paired_strips(Draw(1), listed("ab"), 2)] == [(1, 1), (1, 2), (1, 3), (1, 4)]
