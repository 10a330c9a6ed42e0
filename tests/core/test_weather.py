"""Daily weather: missing days, normals, sums of warmth ahead, what a period had, and files in the wrong unit."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.agronomy.degree_days import degree_days
from apercu_core.errors import Refused
from apercu_core.weather.climate import climate_of, place_of
from apercu_core.weather.days import Missing, WeatherDay, days_between, missing_days, require_possible
from apercu_core.weather.said import ahead_said
from apercu_core.weather.summary import Spell, summary_of, weekly
from apercu_core.weather.suspicions import suspect_fahrenheit
from apercu_core.weather.thermal_time import Scale, Warmth
from apercu_core.weather_files.read import WeatherFile, read_weather

START = date(2026, 3, 1)


def _mean_on(day: date) -> float:
    """A year between 2 °C in January and 18 °C in July."""
    return 10 - 8 * math.cos(2 * math.pi * (place_of(day) - 15) / 366)


def _year(year: int, warmer: float = 0.0) -> list[WeatherDay]:
    days = days_between(date(year, 1, 1), date(year, 12, 31))
    return [WeatherDay(d, _mean_on(d) - 4 + warmer, _mean_on(d) + 4 + warmer, 2.0, _mean_on(d)) for d in days]


def _years() -> list[WeatherDay]:
    return [one for i, year in enumerate(range(2016, 2026)) for one in _year(year, warmer=(i - 4.5) / 3)]


def test_missing_days_are_told_as_runs() -> None:
    known = {START, START + timedelta(3)}
    first, last = START + timedelta(1), START + timedelta(2)
    assert missing_days(known, START, START + timedelta(4)) == (
        Missing(first, last), Missing(START + timedelta(4), START + timedelta(4)),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        (WeatherDay(START, 12.0, 9.0), "minimum of 12 °C lies above the maximum of 9 °C"),
        (WeatherDay(START, rain_mm=-1.0), "from 0 to 500 mm"),
        (WeatherDay(START, tmax_c=77.0), "Maximum temperature 77 °C isn’t possible"),
    ],
)
def test_what_cannot_be_weather_is_refused(wrong: WeatherDay, said: str) -> None:
    with pytest.raises(Refused, match=said):
        require_possible(wrong)


def test_normals_need_three_whole_years_and_are_means_over_them() -> None:
    assert climate_of([*_year(2024), *_year(2025)], START) is None
    short = [one for one in _year(2023) if one.day.month < 6]
    assert climate_of([*short, *_year(2024), *_year(2025)], START) is None
    climate = climate_of([*_year(2023), *_year(2024), *_year(2025, warmer=3.0), *_year(2026)], START)
    assert climate is not None
    assert climate.years == (2023, 2024, 2025)  # the running year isn't an earlier one
    # One of three years was 3 °C warmer; ±7 days smooth a July day by less than 0.1 °C.
    assert climate.normal("tmax_c", date(2026, 7, 15)) == pytest.approx(_mean_on(date(2026, 7, 15)) + 4 + 1, abs=0.1)


def test_a_sum_that_records_reach_is_the_calculations_own() -> None:
    days = {one.day: one for one in _year(2026)}
    warmth = Warmth(days, None, date(2026, 12, 31))
    found = warmth.reached(START, 400, Scale(4.0, 25.0))
    span = [days[day] for day in days_between(START, date(2026, 12, 31))]
    by_hand = degree_days([one.tmin_c for one in span], [one.tmax_c for one in span], 4.0, 25.0, 400)
    assert by_hand.reached_on_day is not None
    assert found.day == START + timedelta(by_hand.reached_on_day - 1)
    assert found.known
    assert found.early == found.day == found.late


def test_a_sum_ahead_has_a_range_from_the_earlier_years() -> None:
    warmth = Warmth({one.day: one for one in _year(2026)}, climate_of(_years(), START), date(2026, 3, 31))
    found = warmth.reached(START, 600, Scale(0.0))
    assert not found.known
    ends = [day for day in (found.early, found.day, found.late) if day is not None]
    assert len(set(ends)) == 3
    assert ends == sorted(ends)
    # By hand: normals of ten years whose mean is the sine itself; the range holds what the sine alone gives.
    total, day = 0.0, START
    while True:
        total += _mean_on(day)
        if total >= 600:
            break
        day += timedelta(1)
    assert abs((ends[1] - day).days) <= 1
    assert found.so_far == pytest.approx(sum(_mean_on(d) for d in days_between(START, date(2026, 3, 31))))


def test_days_without_a_record_take_normals_and_are_counted() -> None:
    climate = climate_of(_years(), START)
    known = {one.day: one for one in _year(2026) if one.day.day != 10}
    _, filled = Warmth(known, climate, date(2026, 4, 30)).so_far(START, Scale(0.0))
    assert filled == 2  # 10 March and 10 April
    assert Warmth(known, None, date(2026, 4, 30)).reached(START, 5000, Scale(0.0)).day is None


def test_what_is_never_warm_enough_has_no_day() -> None:
    assert Warmth({}, climate_of(_years(), START), date(2026, 3, 31)).reached(START, 50, Scale(40.0)).day is None


@given(st.floats(50, 900), st.floats(0, 900))
def test_a_larger_sum_is_never_reached_earlier(target: float, more: float) -> None:
    warmth = Warmth({}, climate_of(_years()[:1461], START), date(2026, 3, 31))
    near, far = (warmth.reached(START, sum_, Scale(2.0)) for sum_ in (target, target + more))
    assert near.day is not None
    assert far.day is not None
    assert near.day <= far.day


def test_a_period_by_hand() -> None:
    rain = [0, 0, 4, 0, None, 0, 0, 0, 6]
    days = {
        START + timedelta(i): WeatherDay(START + timedelta(i), -1 if i < 2 else 3, 31 if i == 6 else 9, fallen)
        for i, fallen in enumerate(rain)
    }
    found = summary_of(days, None, START, START + timedelta(9))
    assert (found.days, found.rain_days, found.rain_mm, found.warm_days) == (10, 8, 10.0, 9)
    assert found.driest == Spell(START + timedelta(5), START + timedelta(7))  # the missing day ended the one before
    assert (found.hot, found.frosts, found.last_frost) == (1, 2, START + timedelta(1))
    assert found.rain_normal_mm is None
    first, second = weekly(days, START, START + timedelta(9))
    assert (first.rain_mm, first.known, first.days, second.rain_mm, second.days) == (4.0, 6, 7, 6.0, 3)


def test_departure_compares_the_same_days() -> None:
    climate = climate_of(_years(), START)
    there = {one.day: replace(one, rain_mm=3.0) for one in _year(2026) if one.day.day % 2}
    found = summary_of(there, climate, START, date(2026, 3, 31))
    assert (found.rain_days, found.rain_mm) == (16, 48.0)
    assert found.rain_normal_mm == pytest.approx(32.0)  # 2 mm on each of those 16 days, not on 31


def test_the_days_ahead_are_said_for_the_decision_to_sow() -> None:
    ahead = [
        WeatherDay(START + timedelta(i), low, 9, rain) for i, (low, rain) in enumerate(((3, 0), (-1, 4), (2, 8.4)))
    ]
    assert ahead_said(ahead, START) == [
        "12 mm of rain are forecast for the next 3 days, 2 of them wet.",
        "Temperatures from −1 to 9 °C.",
        "Frost is forecast, first on 2 Mar 2026.",
        "The forecast is of 1 Mar 2026.",
    ]
    assert ahead_said([], START) == []


ROWS = [(1 + i % 5, 9 + i % 6, 0 if i % 3 else 2.4) for i in range(20)]


def _file(heading: str, rows: list[tuple[float, float, float]], answers: dict[str, str] | None = None) -> WeatherFile:
    lines = [f"2026-03-{i + 1:02d},{low},{high},{rain}" for i, (low, high, rain) in enumerate(rows)]
    return read_weather("\n".join([heading, *lines]).encode(), answers)


def test_a_file_that_names_its_units_asks_nothing() -> None:
    found = _file("date,tmin_c,tmax_c,rain (mm)", ROWS)
    assert found.open == ()
    assert found.days[0] == WeatherDay(START, 1, 9, 2.4)
    assert len(found.days) == 20
    turned = _file("Date,Low (°F),High (°F),Rain (in)", [(32, 50, 1)])
    assert turned.open == ()
    assert turned.days == (WeatherDay(START, 0, 10, 25.4),)


def test_fahrenheit_under_a_celsius_heading_is_asked_about_and_never_turned_by_itself() -> None:
    rows = [(32 + low * 1.8, 32 + high * 1.8, rain) for low, high, rain in ROWS]
    heading = "date,tmin_c,tmax_c,rain (mm)"
    asked = _file(heading, rows)
    assert [question.about for question in asked.open] == ["temperature_unit"]
    assert asked.days[0].tmax_c == pytest.approx(48.2)
    assert _file(heading, rows, {"temperature_unit": "f"}).days[0].tmax_c == pytest.approx(9)
    assert _file(heading, rows, {"temperature_unit": "c"}).open == ()


def test_normals_tell_what_a_mild_day_in_fahrenheit_would_hide() -> None:
    january = [WeatherDay(date(2026, 1, i), 25.0, 34.0) for i in range(5, 20)]
    assert suspect_fahrenheit(january) is None
    suspicion = suspect_fahrenheit(january, climate_of(_years(), START))
    assert suspicion is not None
    assert "as °F they would be usual" in suspicion.why


def test_units_that_no_heading_names_are_asked_for() -> None:
    assert [q.about for q in _file("date,min,max,rain", ROWS).open] == ["temperature_unit", "rain_unit"]


def test_days_that_stand_twice_are_asked_about_unless_they_agree() -> None:
    head = "date,tmax_c\n2026-03-01,8\n2026-03-02,9\n2026-03-03,9\n"
    assert read_weather(f"{head}2026-03-02,9\n".encode()).open == ()
    twice = f"{head}2026-03-02,11\n".encode()
    (question,) = read_weather(twice).open
    assert (question.about, question.lines) == ("duplicate_days", (3, 5))
    assert read_weather(twice, {"duplicate_days": "last"}).days[1].tmax_c == 11


def test_day_and_month_are_asked_for_only_where_both_would_do() -> None:
    both = read_weather(b"date,tmax_c\n3/4/2026,8\n5/4/2026,8\n")
    assert [q.id for q in both.open] == ["date_order:date"]
    assert read_weather(b"date,tmax_c\n3/4/2026,8\n13/4/2026,8\n").days[0].day == date(2026, 4, 3)
    in_a_row = read_weather(b"date,tmax_c\n3/4/2026,8\n4/4/2026,8\n5/4/2026,8\n")
    assert in_a_row.days[2].day == date(2026, 4, 5)


def test_cells_that_cannot_be_used_are_listed_and_left_out_only_when_somebody_says_so() -> None:
    data = b"date,tmin_c,tmax_c\n2026-03-01,12,9\n2026-03-02,x,9\n2026-02-30,1,9\n2026-03-04,1,9\n"
    found = read_weather(data)
    assert [(one.line, one.column) for one in found.odd] == [(3, "tmin_c"), (4, "date"), (2, "tmin_c")]
    assert [question.about for question in found.open] == ["odd_cells"]
    kept = read_weather(data, {"odd_cells": "leave_out"})
    assert kept.open == ()
    assert kept.days == (WeatherDay(START), WeatherDay(date(2026, 3, 2), None, 9), WeatherDay(date(2026, 3, 4), 1, 9))


@pytest.mark.parametrize("data", [b"place,tmax\nx,3\n", b"date,place\n2026-03-01,x\n"])
def test_a_table_without_dates_or_weather_is_refused(data: bytes) -> None:
    with pytest.raises(Refused, match="import"):
        read_weather(data)
