"""Triggers: what brings an operation on, when it is expected, and what hangs on it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest

from apercu_core.errors import Refused
from apercu_core.stages.forecast import SeenStage
from apercu_core.stages.scales import SCALES
from apercu_core.timing.chain import Planned, expectations, moved
from apercu_core.timing.expected import Expected, on
from apercu_core.triggers.expect import Known, Stand, expect
from apercu_core.triggers.soil import SoilWarmth
from apercu_core.triggers.trigger import Trigger, require_possible
from apercu_core.weather.climate import climate_of
from apercu_core.weather.days import WeatherDay, days_between
from apercu_core.weather.thermal_time import Warmth
from tests.core.test_stages import steady

TODAY = date(2026, 4, 1)
SOWN = date(2026, 3, 2)
KNOWN = Known(
    TODAY, warmth=steady(10), stands=(
        Stand("oat", "black-oat", "Black oat", SCALES["cereal"], SeenStage(37, date(2026, 3, 31))),
        Stand("mix", "black-oat", "Black oat", SCALES["cereal"], SeenStage(32, date(2026, 3, 31))),
        Stand("mix", "moss", "Moss", None, None),
        Stand("bare", "black-oat", "Black oat", SCALES["cereal"], None),
    ),
)  # fmt: skip
FLAG_LEAF = Trigger("stage", 39, plant="black-oat")


def test_degree_days_count_from_the_operation_that_they_hang_on() -> None:
    trigger = Trigger("degree_days", 400, base_c=0.0)
    found = expect(trigger, KNOWN, ["oat"], on(SOWN))
    assert found.day == SOWN + timedelta(days=39)
    assert found.early == found.late == found.day  # every year is the same
    assert "300 of 400 °C d" in found.why[0]
    later = expect(trigger, KNOWN, ["oat"], Expected(TODAY, TODAY - timedelta(days=3), TODAY + timedelta(days=5)))
    assert (later.day, later.early, later.late) == (date(2026, 5, 10), date(2026, 5, 7), date(2026, 5, 15))
    assert expect(replace(trigger, value=250), KNOWN, ["oat"], on(SOWN)).known
    assert "no date" in expect(trigger, KNOWN, ["oat"], None).why[0]
    assert "no weather station" in expect(trigger, Known(TODAY), ["oat"], on(SOWN)).why[0]


def test_a_stage_waits_for_the_last_of_the_operations_treatments() -> None:
    own, both = (expect(FLAG_LEAF, KNOWN, names, None) for names in (["oat"], ["oat", "mix"]))
    assert own.day is not None
    assert both.day is not None
    assert own.day < both.day
    assert both.day == expect(FLAG_LEAF, KNOWN, ["mix"], None).day
    for names, plant, said in (
        (["bare"], "black-oat", "no stage of Black oat is recorded"),
        (["mix"], "moss", "knows no stages of Moss"),
        (["oat"], "moss", "None of its treatments"),
    ):
        found = expect(replace(FLAG_LEAF, plant=plant), KNOWN, names, None)
        assert found.day is None
        assert said in found.why[0]


def grown(*points: tuple[date, float]) -> Known:
    return replace(KNOWN, heights={"oat": points})


def test_height_grows_on_with_warmth_as_between_the_last_visits() -> None:
    trigger = Trigger("height", 60)
    first, second, third = (date(2026, 3, day) for day in (1, 11, 21))
    # 6 °C d a day above 4 °C: 10 cm in ten days are 1/6 cm a degree day, 20 cm in ten days twice as much.
    two = expect(trigger, grown((first, 10), (second, 20)), ["oat"], None)
    assert two.day == second + timedelta(days=40)
    assert two.late is None
    assert "no range" in two.why[1]
    three = expect(trigger, grown((first, 10), (second, 20), (third, 40)), ["oat"], None)
    assert (three.day, three.early, three.late) == (date(2026, 4, 1), date(2026, 4, 1), date(2026, 4, 10))
    reached = expect(trigger, grown((first, 10), (second, 61)), ["oat"], None)
    assert (reached.day, reached.known) == (second, True)
    for points, said in ((((first, 10),), "measured at two visits"), (((first, 20), (second, 20)), "hasn’t grown")):
        assert said in expect(trigger, grown(*points), ["oat"], None).why[0]


def warming(first: date, last: date, plus: float = 0.0) -> list[WeatherDay]:
    """Soil that is 4 °C on 1 March and a tenth warmer each day until midsummer."""
    return [
        WeatherDay(day, soil_c=4 + plus + 0.1 * (day - date(day.year, 3, 1)).days, tmin_c=1, tmax_c=9)
        for day in days_between(first, last)
    ]


def soil(until: date, years: int = 5) -> Known:
    earlier = [
        one for y in range(2026 - years, 2026) for one in warming(date(y, 1, 1), date(y, 12, 31), (y - 2023) / 2)
    ]
    days = {one.day: one for one in warming(SOWN, until)}
    return Known(TODAY, soil=SoilWarmth(days, climate_of(earlier, TODAY), SOWN))


def test_soil_has_to_be_warm_for_some_days_in_a_row() -> None:
    trigger = Trigger("soil_temperature", 6.0, days=3)
    assert expect(trigger, soil(date(2026, 3, 31)), [], None) == on(date(2026, 3, 23))  # 6 °C on the 21st
    ahead = expect(replace(trigger, value=8.0), soil(date(2026, 3, 31)), [], None)
    # 8 °C on 10 April in the middle year, the third such day on the 12th; the warmest year is 1 °C, ten days, ahead.
    assert ahead.day == date(2026, 4, 12)
    assert ahead.early is not None
    assert ahead.late is not None
    assert ahead.early < ahead.day < ahead.late
    missing = soil(date(2026, 3, 31))
    assert missing.soil is not None
    gone = {day: one for day, one in missing.soil.days.items() if day != date(2026, 3, 22)}
    late = expect(trigger, replace(missing, soil=replace(missing.soil, days=gone)), [], None)
    assert late == on(date(2026, 3, 25))  # a day without a record ends a run
    cold = replace(trigger, value=4.5, colder=True)
    assert expect(cold, soil(date(2026, 3, 31)), [], None) == on(date(2026, 3, 4))
    assert "no three years" in expect(replace(trigger, value=9.0), soil(date(2026, 3, 31), years=2), [], None).why[0]


@pytest.mark.parametrize(
    ("trigger", "where"),
    [
        (Trigger("stage", 120, plant="black-oat"), "trigger.value"),
        (Trigger("stage", 39), "trigger.plant"),
        (Trigger("degree_days", 400), "trigger.base_c"),
        (Trigger("degree_days", 400, base_c=10, cap_c=8), "trigger.cap_c"),
        (Trigger("soil_temperature", 8, days=0), "trigger.days"),
        (Trigger("biomass", -3), "trigger.value"),
    ],
)
def test_what_cannot_be_a_trigger_is_refused_at_its_field(trigger: Trigger, where: str) -> None:
    with pytest.raises(Refused) as refused:
        require_possible(trigger, has_start=True)
    assert [place.where for place in refused.value.places] == [where]
    with pytest.raises(Refused, match="from which degree days are counted"):
        require_possible(Trigger("degree_days", 400, base_c=4), has_start=False)


def test_what_hangs_on_a_forecast_takes_its_range_and_moves_with_it() -> None:
    kill = Planned("kill", "Kill the oat", rule=lambda start: expect(FLAG_LEAF, KNOWN, ["mix"], start))
    drill = Planned("drill", "Drill the beet", after="kill", days=14)
    spray = Planned("spray", "Spray", day=TODAY)
    found = expectations([drill, kill, spray])
    assert found["drill"].day == found["kill"].later(14).day
    assert (found["drill"].early, found["drill"].late) == (found["kill"].later(14).early, found["kill"].later(14).late)
    assert found["drill"].early != found["drill"].late
    ahead = replace(KNOWN, stands=(replace(KNOWN.stands[1], seen=SeenStage(37, TODAY)),))
    earlier = replace(kill, rule=lambda start: expect(FLAG_LEAF, ahead, ["mix"], start))
    before = {key: one.day for key, one in found.items()}
    assert {one.key for one in moved(before, [drill, earlier, spray])} == {"kill", "drill"}


def test_a_forecast_waits_for_warmth_that_records_do_not_have() -> None:
    days = {day: WeatherDay(day, 8, 12) for day in days_between(SOWN, date(2026, 3, 31))}
    alone = replace(KNOWN, warmth=Warmth(days, None, date(2026, 3, 31)))
    found = expect(Trigger("degree_days", 4000, base_c=0.0), alone, ["oat"], on(SOWN))
    assert found.day is None
    assert "There are no normals" in found.why[0]


def test_days_without_a_record_are_never_taken_for_cold_ones() -> None:
    """Without normals a sum is told up to the first missing day; what lies beyond isn't known."""
    days = {day: WeatherDay(day, 10, 10) for day in days_between(SOWN, date(2026, 3, 31)) if day.day != 20}
    alone = replace(KNOWN, warmth=Warmth(days, None, date(2026, 3, 31)))
    before, after = (expect(Trigger("degree_days", sum_, base_c=0.0), alone, [], on(SOWN)) for sum_ in (150, 250))
    assert before == on(date(2026, 3, 16))
    assert after.day is None
    assert "290 °C d so far, with 1 days missing" in after.why[0]
    measured = replace(alone, heights={"oat": ((date(2026, 3, 16), 10), (date(2026, 3, 26), 20))})
    assert "without a record" in expect(Trigger("height", 60), measured, ["oat"], None).why[0]


def test_what_a_forecast_or_normals_reach_is_not_known_yet() -> None:
    full = {day: WeatherDay(day, 10, 10) for day in days_between(SOWN, date(2026, 4, 7))}
    years = climate_of([WeatherDay(d, 10, 10) for d in days_between(date(2016, 1, 1), date(2025, 12, 31))], TODAY)
    ahead = replace(KNOWN, warmth=Warmth(full, years, date(2026, 4, 7), TODAY - timedelta(days=1)))
    trigger = Trigger("degree_days", 330, base_c=0.0)
    soon = expect(trigger, ahead, [], on(SOWN))
    assert (soon.day, soon.known) == (date(2026, 4, 3), False)  # within the forecast, which isn't past
    gone = {day: one for day, one in full.items() if day != date(2026, 3, 5)}
    filled = replace(ahead, warmth=Warmth(gone, years, date(2026, 4, 7), TODAY - timedelta(days=1)))
    past = expect(replace(trigger, value=200), filled, [], on(SOWN))
    assert (past.day, past.known) == (date(2026, 3, 21), False)
    assert "1 days by normals" in past.why[0]


def test_an_open_late_end_stays_open() -> None:
    never = Expected(TODAY, TODAY, None)
    found = expect(
        replace(FLAG_LEAF, value=13), replace(KNOWN, stands=(replace(KNOWN.stands[0], seen=None),)), ["oat"], never
    )
    assert found.day is not None
    assert found.late is None
