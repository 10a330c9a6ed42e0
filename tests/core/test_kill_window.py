"""The kill window: what each way does at a stage, the schools, the ways to say when, seed, frost, water."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest

from apercu_core.kill_window.methods import outcomes
from apercu_core.kill_window.window import Given, Plant, kill_window
from apercu_core.species.shipped import SHIPPED
from apercu_core.stages.forecast import SeenStage
from apercu_core.stages.scales import scale_of
from apercu_core.timing.expected import on
from apercu_core.triggers.expect import Stand
from apercu_core.weather.climate import climate_of
from apercu_core.weather.days import WeatherDay, days_between
from apercu_core.weather.evaporation import COVER_OVER_BARE, radiation_above, reference_evaporation, water_of_cover
from apercu_core.weather.thermal_time import Scale, Warmth

TODAY, CROP = date(2026, 4, 1), date(2026, 5, 10)


def effects(species: str, code: int) -> dict[str, str]:
    return {one.way: one.effect for one in outcomes(SHIPPED[species], code)}


@pytest.mark.parametrize(
    ("species", "code", "mow", "crimp"),
    [
        ("rye", 25, "fails", "fails"),  # the growing point lies below the mower
        ("rye", 39, "partly", "fails"),
        ("rye", 65, "kills", "kills"),
        ("rye", 85, "kills", "kills"),
        ("black-oat", 65, "partly", "fails"),  # oats from milk on
        ("black-oat", 75, "partly", "kills"),
        ("hairy-vetch", 61, "fails", "fails"),
        ("hairy-vetch", 65, "kills", "kills"),
        ("annual-ryegrass", 65, "fails", "fails"),
        ("white-clover", 65, "fails", "unknown"),
        ("phacelia", 65, "partly", "unknown"),
        ("phacelia", 16, "unknown", "unknown"),
    ],
)
def test_mowing_and_crimping_by_species_and_stage(species: str, code: int, mow: str, crimp: str) -> None:
    found = effects(species, code)
    assert (found["mow"], found["crimp"]) == (mow, crimp)
    assert found["spray"] == "unknown"  # never judged here


def test_perennials_take_two_passes_of_tillage() -> None:
    assert (effects("lucerne", 39)["till"], effects("rye", 39)["till"]) == ("partly", "kills")


def test_sunlight_and_evaporation_match_published_examples() -> None:
    # Allen et al. 1998, example 8: 20° S, 3 September: 32.2 MJ; example 20: Lyon in July, 40.6 MJ and 5.0 mm.
    assert radiation_above(date(2026, 9, 3), -20) == pytest.approx(32.2, abs=0.05)
    assert radiation_above(date(2026, 7, 15), 45 + 43 / 60) == pytest.approx(40.6, abs=0.1)
    assert reference_evaporation(WeatherDay(date(2026, 7, 15), 14.8, 26.6), 45 + 43 / 60) == pytest.approx(
        5.0, abs=0.05
    )
    assert reference_evaporation(WeatherDay(TODAY, 14.8), 45) is None


def _earlier() -> list[WeatherDay]:
    """Ten springs of 8 to 16 °C; in three of them it froze hard on 10 April, in one of these very hard."""
    days = []
    for year in range(2016, 2026):
        for day in days_between(date(year, 1, 1), date(year, 12, 31)):
            cold = {2017: -8.0, 2019: -8.0, 2021: -30.0}.get(year) if (day.month, day.day) == (4, 10) else None
            days.append(WeatherDay(day, 8.0 if cold is None else cold, 16.0, 2.0))
    return days


CLIMATE = climate_of(_earlier(), TODAY)
WARMTH = Warmth({}, CLIMATE, TODAY - timedelta(days=1))


def plant(key: str, code: int, seen: date = TODAY) -> Plant:
    species = SHIPPED[key]
    return Plant(Stand("t", key, species.name, scale_of(species), SeenStage(code, seen)), species)


RYE, VETCH = plant("rye", 37), plant("hairy-vetch", 51)
GIVEN = Given(
    TODAY, (RYE, VETCH), WARMTH, CLIMATE, kill=on(date(2026, 5, 1)), crop=on(CROP), biomass=(date(2026, 3, 31), 2000.0),
    seed_set="prevent", latitude=52.7,
)  # fmt: skip


def test_the_schools_stand_before_at_and_after_the_crop() -> None:
    schools = kill_window(GIVEN).schools
    assert {key: (one.day, one.before_crop) for key, one in schools.items()} == {
        "early": (date(2026, 4, 12), 28), "at_sowing": (CROP, 0), "after_sowing": (date(2026, 5, 15), -5),
    }  # fmt: skip
    # Growth from 31 March to 12 April: 12 days of 8 °C d above 4 °C, 6 to 12 kg/ha each.
    biomass = schools["early"].biomass
    assert biomass is not None
    assert biomass.measured
    assert biomass.low == pytest.approx(2000 + 6 * 96, rel=0.02)
    assert biomass.high == pytest.approx(2000 + 12 * 96, rel=0.02)
    assert any("0 days without green plants" in note for note in schools["at_sowing"].notes)
    assert any("lives for 5 days beside" in note for note in schools["after_sowing"].notes)
    assert not any("green plants" in note for note in schools["early"].notes)
    assert any("slows small-seeded crops; maize. Leave 10 to 21 days" in note for note in schools["at_sowing"].notes)


def test_water_is_what_the_days_after_the_early_date_cost() -> None:
    schools = kill_window(GIVEN).schools
    assert not any("mm more water" in note for note in schools["early"].notes)
    assert CLIMATE is not None
    span = days_between(date(2026, 4, 12), date(2026, 5, 9))
    mm = water_of_cover(span, CLIMATE, 52.7)
    hand = COVER_OVER_BARE * sum(reference_evaporation(WeatherDay(day, 8, 16), 52.7) or 0 for day in span)
    assert mm == pytest.approx(hand, rel=0.05)
    assert any(
        f"about {mm:.0f} mm more water" in note and "56 mm of rain" in note for note in schools["at_sowing"].notes
    )


def test_each_plant_has_its_stage_and_class_on_a_day() -> None:
    planned = kill_window(GIVEN).planned
    assert planned is not None
    rye, vetch = planned.plants
    # 12 °C a day for the rye: 360 °C d by the first of May; heading begins after 260 to 420 from stage 37 on.
    assert rye.stage is not None
    assert rye.stage.code == 55
    assert rye.cn == "C:N 37: ties nitrogen up"
    assert vetch.stage is not None
    assert vetch.stage.code == 65
    assert vetch.cn == "C:N 10 to 15: releases nitrogen soon"
    before = kill_window(replace(GIVEN, kill=on(TODAY - timedelta(days=9)))).planned
    assert before is not None
    assert [one.stage for one in before.plants] == [None, None]  # nobody had seen them yet
    assert before.biomass is None


def test_a_partner_that_lives_on_needs_a_second_pass() -> None:
    young = plant("rye", 23)  # its growing point still lies below the mower
    early = replace(GIVEN, plants=(young, plant("hairy-vetch", 69)), kill=on(date(2026, 4, 5)))
    mown, crimped = kill_window(early).second_pass
    assert crimped.startswith("Crimping on 5 Apr 2026 leaves Cereal rye alive")
    assert mown == "Mowing on 5 Apr 2026 leaves Cereal rye alive: plan a second pass."
    assert kill_window(replace(early, plants=(young,))).second_pass == ()


def test_nothing_is_claimed_where_the_stage_may_be_another() -> None:
    planned = kill_window(replace(GIVEN, kill=on(date(2026, 4, 22)))).planned
    assert planned is not None
    vetch = planned.plants[1]
    assert vetch.least is not None
    assert vetch.most is not None
    assert vetch.least.code < 65 <= vetch.most.code
    mow = next(way for way in vetch.ways if way.way == "mow")
    assert mow.effect == "unknown"
    assert f"any stage from {vetch.least.code} to {vetch.most.code}" in mow.why
    assert next(way for way in vetch.ways if way.way == "till").effect == "kills"  # the same at every stage


def test_the_ways_to_say_when_are_the_last_plants_stage_a_height_and_the_calendar() -> None:
    found = kill_window(replace(GIVEN, height=(60.0, on(date(2026, 4, 20)))))
    assert [way.key for way in found.ways] == ["stage", "height", "calendar"]
    assert found.ways[0].said.startswith("Cereal rye at stage 61")
    assert "after the crop" not in found.ways[0].said
    early_crop = kill_window(replace(GIVEN, crop=on(date(2026, 4, 1)))).ways[0]
    assert early_crop.said.endswith("That is after the crop is planted on 1 Apr 2026.")
    assert found.ways[2].expected.day == date(2026, 4, 12)


def test_seed_is_a_risk_or_a_wish() -> None:
    ripe = replace(GIVEN, plants=(plant("rye", 75),))
    late = kill_window(ripe).schools["after_sowing"].notes
    assert any("may shed seed that sprouts" in note and "to be prevented" in note for note in late)
    wanted = kill_window(replace(ripe, seed_set="wanted")).schools["early"].notes
    assert any("seed is wanted: it ripens about" in note for note in wanted)
    assert not any("shed seed" in note for note in kill_window(GIVEN).schools["early"].notes)


def test_frost_is_counted_in_earlier_years() -> None:
    mustard = kill_window(replace(GIVEN, plants=(plant("white-mustard", 30),))).frost
    (said,) = mustard
    assert said.startswith(
        "White mustard: from 1 Apr 2026 to 10 May 2026 it froze to −4 °C or below in 3 of 10 earlier"
    )
    assert said.endswith("and in 3 to −8 °C, where hardened ones do.")
    assert "froze to −20 °C or below in 1 of 10 earlier years" in kill_window(GIVEN).frost[0]
    sown_later = replace(
        plant("white-mustard", 0), stand=replace(plant("white-mustard", 0).stand, seen=SeenStage(0, date(2026, 4, 20)))
    )
    assert (
        "in 0 of 10" in kill_window(replace(GIVEN, plants=(sown_later,))).frost[0]
    )  # the frosts of 10 April were before
    assert kill_window(replace(GIVEN, climate=None)).frost == ()


def test_without_a_cut_biomass_comes_from_the_warmth_since_sowing_and_says_so() -> None:
    sown = date(2026, 2, 1)
    uncut = kill_window(replace(GIVEN, biomass=None, sown=sown))
    biomass = uncut.schools["at_sowing"].biomass
    assert biomass is not None
    assert not biomass.measured
    assert WARMTH is not None
    warm = WARMTH.sum_at(sown + timedelta(days=1), CROP, Scale(4.0))
    assert warm is not None
    assert warm > 500
    assert (biomass.low, biomass.high) == (pytest.approx(6 * (warm - 500)), pytest.approx(12 * (warm - 200)))
    assert any(note.startswith("No biomass was measured. What is shown is a wide guess") for note in uncut.notes)
    young = kill_window(replace(GIVEN, biomass=None, sown=TODAY - timedelta(days=1))).schools["early"].biomass
    assert young is not None
    assert (young.low, young.high) == (0, 0)
    assert kill_window(replace(GIVEN, biomass=None)).schools["early"].biomass is None


def test_a_cover_that_frost_kills_or_that_is_ripe_gains_no_more() -> None:
    climate = climate_of([replace(day, tmin_c=-9.0) if day.day.month == 4 else day for day in _earlier()], TODAY)
    killed = replace(GIVEN, plants=(plant("white-mustard", 30),), climate=climate, sown=date(2026, 3, 1))
    school = kill_window(killed).schools["at_sowing"]
    assert school.biomass is None
    assert school.notes[0].startswith("Frost had killed the whole cover by then in at least half")
    assert kill_window(replace(killed, plants=(RYE, plant("white-mustard", 30)))).schools["at_sowing"].biomass
    ripe = kill_window(replace(GIVEN, plants=(plant("rye", 87),))).schools
    assert ripe["at_sowing"].biomass == ripe["after_sowing"].biomass


def test_what_is_not_known_is_said() -> None:
    bare = kill_window(Given(TODAY, (replace(RYE, stand=replace(RYE.stand, seen=None)),), None, None))
    assert bare.schools == {}
    assert bare.planned is None
    assert bare.plants[0].why_not == "No sowing and no stage of Cereal rye is recorded."
    assert any("No planting of a crop" in note for note in bare.notes)
    assert any("No biomass was measured" in note for note in bare.notes)
