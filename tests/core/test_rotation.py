"""Every phase each year: schedules worked by hand, and what is missing named."""

import pytest

from apercu_core.design.rotation import crop_in, require_every_phase, schedule
from apercu_core.errors import Refused

CROPS = ("potato", "barley", "beet")


def test_plots_move_on_by_one_phase_a_year_and_each_crop_stands_every_year():
    phases = schedule(CROPS)
    assert [(p.starts_with, p.crops) for p in phases] == [
        ("potato", ("potato", "barley", "beet", "potato")),
        ("barley", ("barley", "beet", "potato", "barley")),
        ("beet", ("beet", "potato", "barley", "beet")),
    ]
    for year in range(4):
        assert sorted(p.crops[year] for p in phases) == sorted(CROPS)
    assert crop_in(CROPS, "beet", 7) == "potato"
    assert len(schedule(CROPS, years=6)[0].crops) == 6


def test_one_crop_is_no_rotation():
    with pytest.raises(Refused, match="at least two crops"):
        schedule(("potato",))


def test_a_system_without_one_of_the_phases_is_named():
    whole = [{"cover": c, "phase": p} for c in ("none", "rye") for p in CROPS]
    require_every_phase([*whole, {}], "phase", CROPS)  # what stands outside needs none
    with pytest.raises(Refused, match="rye has no plots that start with beet"):
        require_every_phase(whole[:-1], "phase", CROPS)
