"""Growth stages: which a plant has, and when the next ones come."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.species.shipped import SHIPPED
from apercu_core.stages.forecast import (
    PACE,
    Needs,
    SeenStage,
    daylight_hours,
    distance,
    next_stages,
    spring_day,
    when_reached,
)
from apercu_core.stages.scales import SCALES, require_stage, scale_of, scale_of_crop
from apercu_core.weather.climate import climate_of
from apercu_core.weather.days import WeatherDay, days_between
from apercu_core.weather.thermal_time import Warmth

CEREAL, PULSE = SCALES["cereal"], SCALES["pulse"]


def steady(celsius: float, first: date = date(2026, 1, 1), last: date = date(2027, 12, 31)) -> Warmth:
    """Every day the same, also in ten earlier years, so that a forecast is a division."""
    days = [WeatherDay(day, celsius, celsius, 0.0) for day in days_between(date(2016, 1, 1), last)]
    return Warmth({one.day: one for one in days if one.day >= first}, climate_of(days, first), date(2026, 3, 31))


@pytest.mark.parametrize(
    ("plant", "scale"),
    [
        ("rye", "cereal"), ("common-vetch", "pulse"), ("faba-bean", "pulse"), ("balansa-clover", "clover"),
        ("lucerne", "clover"), ("white-mustard", "brassica"), ("phacelia", "broadleaf"), ("sunflower", "broadleaf"),
    ],
)  # fmt: skip
def test_a_cover_has_the_stages_of_its_kind(plant: str, scale: str) -> None:
    assert scale_of(SHIPPED[plant]).key == scale


@pytest.mark.parametrize(
    ("crop", "scale"),
    [
        ("maincrop potato", "potato"), ("sugar beet", "beet"), ("malting barley", "cereal"), ("bulb onion", "bulb"),
        ("Maize", "maize"), ("vineyard", None), ("moon wheatish", None),
    ],
)  # fmt: skip
def test_a_crop_has_its_own_stages_or_none_here(crop: str, scale: str | None) -> None:
    found = scale_of_crop(crop)
    assert (found and found.key) == scale


def test_every_cover_of_the_guide_has_a_scale_with_a_pace() -> None:
    assert {scale_of(one).key for one in SHIPPED.values()} <= set(PACE)


def test_cereals_have_the_older_figure_beside() -> None:
    assert [CEREAL.stage(code).older for code in (31, 39, 65, 75)] == ["6", "9", "10.5.2", "11.1"]  # type: ignore[union-attr]
    assert not any(one.older for one in PULSE.stages)


def test_a_stage_that_a_plant_does_not_have_is_refused_with_those_near_it() -> None:
    with pytest.raises(Refused, match=r"Vetch has no stage 45 here.*39 .*51 \(first flower buds"):
        require_stage(PULSE, 45, "Vetch")
    assert require_stage(PULSE, 65, "Vetch").seen.endswith("full flower")


def test_degree_days_between_stages_add_up_and_are_shared_out_between_steps() -> None:
    assert distance(CEREAL, 31, 39) == (80 + 100 + 80, 130 + 160 + 130)
    assert distance(CEREAL, 34, 37) == (pytest.approx(60), pytest.approx(96))  # three of the five codes from 32 to 37
    assert distance(SCALES["bulb"], 13, 41) is None


def test_a_forecast_is_the_degree_days_over_the_days_warmth() -> None:
    # 10 °C above base 0 every day: 240 to 390 °C d from 32 to 39 are 24 to 39 days, 31.5 in the middle.
    found = when_reached(CEREAL, SeenStage(32, date(2026, 3, 31)), 39, steady(10))
    start = date(2026, 3, 31)
    low, high = 100 + 80, 160 + 130
    assert found.early == start + timedelta(days=low // 10 - 1)
    assert found.late == start + timedelta(days=high // 10 - 1)
    assert found.day == start + timedelta(days=24 - 1)  # 235 °C d
    assert any("180 to 290 °C d above 0 °C to stage 39, from experience" in why for why in found.why)
    assert not found.known


def test_what_was_seen_is_known_and_what_records_reached_is_past() -> None:
    assert when_reached(CEREAL, SeenStage(39, date(2026, 3, 1)), 37, steady(10)).known
    past = when_reached(CEREAL, SeenStage(31, date(2026, 1, 10)), 32, steady(20))
    assert past.day == date(2026, 1, 15)  # 105 °C d at 20 a day


def test_a_winter_cereal_waits_for_cold_and_says_so() -> None:
    warm = when_reached(CEREAL, SeenStage(21, date(2026, 3, 1)), 31, steady(12), Needs(cold=True))
    assert warm.day is None
    assert "needs cold first" in warm.why[0]
    cold = when_reached(CEREAL, SeenStage(21, date(2026, 3, 1)), 30, steady(9.9), Needs(cold=True))
    assert cold.early == date(2026, 4, 14)  # the 45th cold day; warmth alone would have done on the 26th of March
    assert any("45 cold days" in why for why in cold.why)


def test_buds_wait_for_light_where_the_sites_place_is_known() -> None:
    seen = SeenStage(31, date(2026, 10, 20))
    dark = when_reached(PULSE, seen, 51, steady(15), Needs(latitude=52.7))
    assert dark.day is not None
    assert daylight_hours(dark.day, 52.7) >= 10 > daylight_hours(dark.day - timedelta(days=1), 52.7)
    assert dark.day.year == 2027
    anywhere = when_reached(PULSE, seen, 51, steady(15))
    assert anywhere.day is not None
    assert anywhere.day < date(2026, 11, 30)


def test_what_lives_through_winter_lengthens_its_stem_in_spring() -> None:
    """Hairy vetch of late August doesn't flower in autumn, however warm that is."""
    seen = SeenStage(0, date(2026, 8, 24))
    found = when_reached(PULSE, seen, 61, steady(12), Needs(latitude=52.7, winter=True))
    assert found.early is not None
    assert found.early.year == 2027
    assert date(2027, 3, 1) < found.early < date(2027, 5, 1)
    assert any("days of spring" in why for why in found.why)
    assert not any("days of spring" in why for why in when_reached(PULSE, seen, 13, steady(12), Needs(winter=True)).why)
    spring_sown = when_reached(
        PULSE, SeenStage(0, date(2026, 4, 10)), 61, steady(12), Needs(latitude=52.7, winter=True)
    )
    assert spring_sown.day is not None
    assert spring_sown.day.year == 2026
    nowhere = when_reached(PULSE, seen, 61, steady(12), Needs(winter=True))
    assert nowhere.day is None
    assert "Enter the latitude" in nowhere.why[0]
    assert spring_day(date(2026, 9, 1), -35) == date(2026, 9, 1)  # south of the equator it is spring then
    seen_in_spring = when_reached(PULSE, SeenStage(35, date(2027, 4, 20)), 61, steady(12), Needs(winter=True))
    assert seen_in_spring.day is not None  # once the stem is seen, nothing is waited for


def test_daylight_by_hand() -> None:
    assert daylight_hours(date(2026, 3, 21), 52) == pytest.approx(12, abs=0.1)
    assert daylight_hours(date(2026, 6, 21), 52) == pytest.approx(16.5, abs=0.2)
    assert daylight_hours(date(2026, 12, 21), -52) == pytest.approx(16.5, abs=0.2)


def test_without_weather_or_beyond_the_pace_it_says_what_is_missing() -> None:
    seen = SeenStage(13, date(2026, 3, 1))
    assert "no weather station" in when_reached(CEREAL, seen, 30, None).why[0]
    (last,) = next_stages(SCALES["bulb"], SeenStage(11, date(2026, 3, 1)), steady(20))
    assert last.stage.code == 13
    assert next_stages(SCALES["bulb"], SeenStage(13, date(2026, 3, 1)), steady(20)) == ()


@given(st.sampled_from(sorted(PACE)), st.data())
def test_later_stages_never_come_earlier(key: str, data: st.DataObject) -> None:
    codes = [one.code for one in SCALES[key].stages]
    seen = data.draw(st.sampled_from(codes[:-1]))
    found = [one.expected for one in next_stages(SCALES[key], SeenStage(seen, date(2026, 3, 20)), WARMTH, most=20)]
    days = [one.day for one in found if one.day is not None]
    assert days == sorted(days)
    assert all(one.early <= one.day <= one.late for one in found if one.day and one.early and one.late)


WARMTH = steady(14)
