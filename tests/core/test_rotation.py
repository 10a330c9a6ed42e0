"""Every phase each year: schedules worked by hand, and what is missing named."""

import pytest

from apercu_core.design.rotation import crop_in, names_in_year, require_every_phase, schedule
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


def test_names_say_what_stands_in_the_plots_that_year():
    crops = ("potato", "barley", "beet")
    called = [("rye, potato", "potato"), ("rye, barley", "barley"), ("rye, beet", "beet"), ("fallow", "")]
    second = names_in_year(called, crops, 0, 1)
    assert second == ["rye, barley", "rye, beet", "rye, potato", "fallow"]
    later = list(zip(second, ("potato", "barley", "beet", ""), strict=True))
    assert names_in_year(later, crops, 1, 0) == [name for name, _ in called]
    own = [("Field one", "potato"), ("sweet potato after potato", "barley")]
    assert names_in_year(own, crops, 0, 1) == [
        "Field one (barley in year 2)", "sweet potato after potato (beet in year 2)",
    ]  # fmt: skip
