"""Dates that hang on each other: only what hangs on a moved one moves, and nothing waits for itself."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.timing.chain import Planned, chain_of, dates_of, moved

KILL = Planned("kill", "Kill the rye", day=date(2027, 4, 10))
DRILL = Planned("drill", "Drill the barley", after="kill", days=14)
ROLL = Planned("roll", "Roll", after="drill", days=2)
SEEDBED = Planned("seedbed", "Seedbed", after="drill", days=-1)
SPRAY = Planned("spray", "Spray", day=date(2027, 5, 1))
ALL = (ROLL, SEEDBED, DRILL, SPRAY, KILL)


def test_dates_follow_what_they_hang_on_in_any_order():
    assert dates_of(ALL) == {
        "kill": date(2027, 4, 10), "drill": date(2027, 4, 24), "roll": date(2027, 4, 26),
        "seedbed": date(2027, 4, 23), "spray": date(2027, 5, 1),
    }  # fmt: skip


def test_a_slipping_kill_moves_just_what_hangs_on_it_and_says_by_which_way():
    later = [replace(one, day=date(2027, 4, 17)) if one is KILL else one for one in ALL]
    found = {one.key: one for one in moved(dates_of(ALL), later)}
    assert set(found) == {"kill", "drill", "roll", "seedbed"}
    assert (found["roll"].before, found["roll"].now) == (date(2027, 4, 26), date(2027, 5, 3))
    assert found["roll"].hangs_on == ("Drill the barley", "Kill the rye")


def test_what_was_done_stays_and_what_hangs_on_it_goes_by_its_real_day():
    done = [replace(one, done=date(2027, 4, 20)) if one is DRILL else one for one in ALL]
    found = dates_of(done)
    assert (found["drill"], found["roll"]) == (date(2027, 4, 20), date(2027, 4, 22))
    assert dates_of([replace(KILL, day=None), DRILL])["drill"] is None


@pytest.mark.parametrize(
    ("plans", "says"),
    [
        ((replace(KILL, after="kill"),), "Kill the rye → Kill the rye"),
        ((replace(KILL, after="roll"), DRILL, ROLL), "wait for each other"),
        ((DRILL,), "isn’t there"),
    ],
)
def test_a_circle_and_a_missing_operation_are_refused_by_name(plans, says):
    with pytest.raises(Refused, match=says):
        dates_of(plans)


@given(st.lists(st.tuples(st.integers(0, 40), st.integers(-30, 30)), min_size=1, max_size=40), st.integers(1, 60))
def test_moving_the_first_date_moves_exactly_its_descendants_by_the_same_days(links, slip):
    """Each operation hangs on an earlier one, or has a date of its own."""
    start = date(2027, 3, 1)
    plans = [Planned("0", "0", day=start)]
    for n, (on, days) in enumerate(links, start=1):
        own = on >= n
        plans.append(Planned(str(n), str(n), day=start if own else None, after=None if own else str(on), days=days))
    before = dates_of(plans)
    later = [replace(plans[0], day=start + timedelta(days=slip)), *plans[1:]]
    below = {one.key for one in plans if one.key == "0" or "0" in chain_of(one.key, {p.key: p for p in plans})}
    found = moved(before, later)
    assert {one.key for one in found} == below
    assert all(one.now - one.before == timedelta(days=slip) for one in found)
