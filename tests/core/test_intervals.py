"""Waiting times that a person entered from the label: what falls into one, and which plots are closed."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest

from apercu_core.agronomy.grazing import grazing
from apercu_core.agronomy.nutrients import nutrients_per_ha
from apercu_core.errors import Refused
from apercu_core.timing.intervals import Applied, Later, closed_plots, within

DAY = date(2026, 5, 4)
SPRAY = Applied(
    "spray", "Spray", DAY, frozenset({"101", "102"}),
    {"reentry_hours": 30, "preharvest_days": 28, "plantback_days": 120, "grazing_days": 14},
)  # fmt: skip


def later(what: str, days: int, plots: tuple[str, ...] = ("102", "103")) -> Later:
    return Later("later", "Next", what, DAY + timedelta(days=days), frozenset(plots))


@pytest.mark.parametrize(
    ("what", "last", "first_free"),
    [("visit", 1, 2), ("harvest", 27, 28), ("plant", 119, 120), ("sow", 119, 120), ("graze", 13, 14)],
)
def test_work_is_warned_of_until_the_waiting_time_is_over(what: str, last: int, first_free: int) -> None:
    (found,) = within([SPRAY], [later(what, last)])
    assert found.until == DAY + timedelta(days=first_free)
    assert "Next on" in found.sentence
    assert within([SPRAY], [later(what, first_free)]) == ()


def test_other_plots_other_work_and_what_came_before_are_free() -> None:
    assert within([SPRAY], [later("harvest", 3, ("103",))]) == ()
    assert within([SPRAY], [later("till", 3)]) == ()
    assert within([SPRAY], [later("harvest", -1)]) == ()
    assert within([SPRAY], [replace(later("harvest", 3), key="spray")]) == ()


def test_raw_manure_keeps_a_harvest_away_like_a_label() -> None:
    manure = replace(SPRAY, name="Manure", waits={"manure_days": 120})
    (found,) = within([manure], [later("harvest", 100)])
    assert "after Manure on 4 May 2026 the time between manure and harvest runs" in found.sentence


def test_plots_are_closed_for_entry_from_the_work_to_the_end_of_its_hours() -> None:
    longer = replace(SPRAY, plots=frozenset({"102"}), waits={"reentry_hours": 96})
    assert closed_plots([SPRAY, longer], DAY) == {"101": date(2026, 5, 6), "102": date(2026, 5, 8)}
    assert closed_plots([SPRAY, longer], date(2026, 5, 6)) == {"102": date(2026, 5, 8)}
    assert closed_plots([SPRAY], DAY - timedelta(days=1)) == {}


def test_offtake_is_told_by_cages_where_there_are_any() -> None:
    # 120 head for 2 days on 0.5 ha; 2400 stood before, 900 after, and 2700 in cages at the end.
    open_field = grazing(120, 2, 0.5, 2400, 900)
    assert (open_field.head_days_per_ha, open_field.offtake_kg_ha, open_field.utilised) == (480, 1500, 0.625)
    caged = grazing(120, 2, 0.5, 2400, 900, 2700)
    assert (caged.offtake_kg_ha, caged.utilised, caged.in_cages) == (1800, pytest.approx(2 / 3), True)
    assert grazing(120, 2, 0.5).offtake_kg_ha is None
    assert grazing(1, 1, 1, 500, 800).offtake_kg_ha == 0
    with pytest.raises(Refused):
        grazing(1, 1, 0)


def test_nutrients_of_a_lot_by_hand() -> None:
    # 25 t/ha of cattle manure with 6.0 kg N and 2.0 kg P a tonne; 200 kg/ha of a fertiliser with 27 % N.
    assert nutrients_per_ha(25, "t/ha", {"N": 6.0, "P": 2.0}) == {"N": 150, "P": 50}
    assert nutrients_per_ha(200, "kg/ha", {"N": 27.0}) == {"N": pytest.approx(54)}
    assert nutrients_per_ha(30, "m³/ha", {"NH₄-N": 2.4}) == {"NH₄-N": pytest.approx(72)}
    for rate, unit, analysis in ((1, "lb/ac", {"N": 1}), (-1, "t/ha", {"N": 1}), (1, "kg/ha", {"N": 101})):
        with pytest.raises(Refused):
            nutrients_per_ha(rate, unit, analysis)
