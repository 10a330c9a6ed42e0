"""Seed, sowing, degree days and rain, against figures worked out elsewhere and by hand."""

import json
import math
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.agronomy.conversions import BUSHELS, UNITS, converted
from apercu_core.agronomy.spreader import overlap, pattern
from apercu_core.errors import Refused
from calculate_cli.__main__ import main
from calculate_cli.calculations import calculated
from calculate_cli.fields import Fields

CASES = sorted((Path(__file__).parents[1] / "reference" / "agronomy").glob("*.json"))
LOT = {"tkw_g": 2.0, "purity": 0.9, "germination": 0.8, "emergence": 0.5}
PART = {"name": "Oat", "share": 0.5, "full_kg_ha": 80, "tkw_g": 30}
SHEET = {"plot_width_m": 3, "plot_length_m": 10, "plots": 4, "allowance_g": 50, "spare": 0.1}
TRAYS = {"positions_m": [-2, -1, 0, 1, 2], "masses_g": [1, 2, 3, 2, 1], "tray_area_m2": 0.5, "mode": "same_way"}
CATCH = {"bulk_kg_ha": 100, "row_spacing_m": 0.125, "rows": 8, "distance_m": 40}
TANK = {"tank_l": 1000, "volume_l_ha": 500, "bulk_kg_ha": 50, "seed_density_kg_l": 1.0, "area_ha": 5}


def answer(name, **fields):
    return calculated(name, Fields(fields))


def leaves(expected, path=()):
    if isinstance(expected, dict | list):
        pairs = expected.items() if isinstance(expected, dict) else enumerate(expected)
        for key, value in pairs:
            yield from leaves(value, (*path, key))
    else:
        yield path, expected


@pytest.fixture(scope="module")
def answers(tmp_path_factory):
    out = tmp_path_factory.mktemp("answers")
    assert main(["--suite", str(CASES[0].parent), "--out", str(out)]) == 0
    return out


@pytest.mark.parametrize("case", CASES, ids=lambda path: path.stem)
def test_a_case_gives_the_figures_that_were_worked_out_elsewhere(case, answers):
    got, expected = json.loads((answers / case.name).read_text()), json.loads(case.read_text())["expected"]
    assert got.get("refused", False) == expected.get("refused", False), got.get("message")
    for path, value in leaves(expected):
        found = got
        for key in path:
            found = found[key]
        # Two ways to integrate a pattern of trays may differ by a twentieth of a per cent.
        exact = not isinstance(value, float) or not str(path[0]).startswith("cv_percent")
        assert found == (pytest.approx(value, rel=1e-9) if exact and isinstance(value, float) else value if exact
                         else pytest.approx(value, abs=0.05)), path  # fmt: skip


def test_a_stand_that_is_wanted_and_the_rate_for_it_are_the_same():
    # 0.9 × 0.8 = 0.72 live; 200 plants ÷ 0.5 = 400 live seeds = 400 × 2 / 100 = 8 kg/ha live = 11.11 kg/ha in the bag.
    found = answer("seed_rate", **LOT, plants_m2=200)
    assert (found["pls_kg_ha"], found["bulk_kg_ha"], found["seeds_m2"]) == pytest.approx((8, 8 / 0.72, 500))
    assert answer("seed_rate", **LOT, bulk_kg_ha=found["bulk_kg_ha"]) == pytest.approx(found)
    counted = answer("seed_rate", **LOT, hard_seed=0.1, count_hard_seed=True, pls_kg_ha=8)
    assert counted["bulk_kg_ha"] == pytest.approx(8 / 0.81)


def test_an_order_that_fills_its_bags_exactly_needs_no_further_bag():
    sheet = {**SHEET, "plots": 10, "plot_length_m": 10 / 3, "allowance_g": 0, "spare": 0.1}
    (one,) = answer("seed_sheet", **sheet, bag_kg=0.11, components=[{"name": "Oat", "bulk_kg_ha": 10}])["components"]
    assert (one["g_per_plot"], one["order_kg"], one["bags"]) == (pytest.approx(10), pytest.approx(0.11), 1)
    loads = answer("tank", **{**TANK, "area_ha": 6})
    assert (loads["loads"], loads["last_load_l"], loads["water_l_per_load"]) == (3, 1000, 900)


def test_laps_of_a_triangle_are_even_where_they_overlap_by_half():
    triangle = {**TRAYS, "positions_m": [-6, -3, 0, 3, 6], "masses_g": [0, 2, 4, 2, 0]}
    for mode in ("same_way", "there_and_back"):
        found = answer("tray_test", **{**triangle, "mode": mode}, width_m=6, widths_m=[3, 6, 12])
        assert found["cv_percent"] == pytest.approx(0, abs=1e-9)
        assert found["achieved_kg_ha"] == pytest.approx(10 * 4 / 0.5)
        # At 12 m the laps only touch: p itself over its span, sd/mean of a triangle = √(4/3 − 1).
        assert found["cv_percent_of"][2] == pytest.approx(100 * math.sqrt(1 / 3))
        assert found["widest_m"] == 6


def test_a_lopsided_pattern_is_evened_out_by_driving_one_way_and_not_by_turning():
    # A ramp from 0 to 4 over 8 m: laps 4 m apart, driven the same way, add up to x/2 + (x + 4)/2, from 2 to 6.
    ramp = pattern([-4, -2, 0, 2, 4], [0, 1, 2, 3, 4], 1.0)
    values = [round(value, 9) for piece in overlap(ramp, 4, "same_way") for value in piece[2:]]
    assert (min(values), max(values)) == (2, 6)
    turned = [round(value, 9) for piece in overlap(ramp, 8, "there_and_back") for value in piece[2:]]
    assert (min(turned), max(turned)) == (0, 4)
    assert ramp.left_share == pytest.approx(0.25)


def test_a_catch_decides_by_its_interval_and_needs_three():
    # Expected 100 × 0.125 × 8 × 40 / 10 = 400 g.
    assert answer("drill_catch", **CATCH, catches_g=[400, 400])["decision"] == "catch_again"
    assert answer("drill_catch", **CATCH, catches_g=[400] * 3)["decision"] == "accept"
    assert answer("drill_catch", **CATCH, catches_g=[420] * 3)["decision"] == "accept"  # at the limit
    off = answer("drill_catch", **CATCH, catches_g=[440, 442, 438], setting=30)
    assert (off["decision"], off["next_setting"]) == ("adjust", pytest.approx(30 * 400 / 440))
    assert answer("drill_catch", **CATCH, catches_g=[380, 420, 440])["decision"] == "catch_again"
    assert "off_low" not in answer("drill_catch", **CATCH, catches_g=[400])


@given(st.data(), st.floats(1e-6, 1e9))
def test_units_come_back_from_wherever_they_were_turned_into(data, value):
    known = {**{name: unit.dimension for name, unit in UNITS.items()}, BUSHELS: "mass per area"}
    one = data.draw(st.sampled_from(sorted(known)))
    like = [
        name
        for name, of in known.items()
        if of == known[one] or {of, known[one]} == {"mass per area", "seeds per area"}
    ]
    two = data.draw(st.sampled_from(sorted(like)))
    given_with = {"bushel_lb": 48.0, "tkw_g": 3.7}
    there = converted(value, one, two, **given_with)
    # °C and °F don't share a zero, so what is left of a tiny reading is what a double has at the size of 32.
    assert converted(there, two, one, **given_with) == pytest.approx(value, rel=1e-12, abs=1e-13 if one in "CF" else 0)
    unlike = data.draw(st.sampled_from(sorted(set(known) - set(like))))
    with pytest.raises(Refused, match="is"):
        converted(value, one, unlike, **given_with)


def test_conversions_have_their_textbook_values():
    assert converted(1, "lb/ac", "kg/ha") == pytest.approx(1.12085, rel=1e-5)
    assert converted(2, BUSHELS, "lb/ac", bushel_lb=32) == pytest.approx(64)
    assert converted(-40, "F", "C") == pytest.approx(-40)
    assert converted(180, "degF.d", "degC.d") == pytest.approx(100)
    assert converted(40, "kg/ha", "seeds/m2", tkw_g=40) == pytest.approx(100)


REFUSED = [
    ("seed_rate", {**LOT, "bulk_kg_ha": 5, "seeds_m2": 100}, "exactly one"),
    ("seed_rate", LOT, "exactly one"),
    ("seed_rate", {**LOT, "germination": 92, "bulk_kg_ha": 5}, "germination: 92"),
    ("seed_rate", {**LOT, "hard_seed": 0.3, "bulk_kg_ha": 5}, "more than all seed"),
    ("seed_rate", {**LOT, "tkw_g": 0, "bulk_kg_ha": 5}, "tkw_g: 0"),
    ("seed_rate", {**LOT, "bulk_kg_ha": -5}, "bulk_kg_ha: -5"),
    ("seed_rate", {**LOT, "bulk_kg_ha": True}, "not a number"),
    ("seed_rate", {**LOT, "bulk_kg_ha": "5"}, "not a number"),
    ("seed_rate", {**LOT, "bulk_kg_ha": math.nan}, "not a number"),
    ("seed_rate", {**LOT, "bulk_kg_ha": 5, "hardseed": 0.1}, "hardseed: there is no such field"),
    ("seed_rate", {**LOT, "tkw_g": 1e-300, "bulk_kg_ha": 1e300}, "too large"),
    ("mix", {"basis": "mass", "components": [PART], "total_kg_ha": 20}, "add up to 0.5"),
    ("mix", {"basis": "seeds", "components": [{**PART, "share": 1}]}, "total_seeds_m2"),
    ("mix", {"basis": "share_of_full", "components": [{**PART, "share": 0}]}, "all shares are 0"),
    ("mix", {"basis": "share_of_full", "components": []}, "components"),
    ("mix", {"basis": "weight", "components": [PART]}, "“weight” is not one of"),
    ("seed_sheet", {**SHEET, "plots": 2.5, "components": [{"name": "Oat", "bulk_kg_ha": 10}]}, "whole number"),
    ("seed_sheet", {**SHEET, "components": [{"name": "Oat", "bulk_kg_ha": 10}], "bag_kg": 0}, "bag_kg"),
    ("drill_catch", {**CATCH, "catches_g": []}, "catches_g"),
    ("drill_catch", {**CATCH, "catches_g": [0, 0, 0], "setting": 3}, "catches_g"),
    ("tray_test", {**TRAYS, "masses_g": [1, 2, 3, 2], "width_m": 3}, "4 masses for 5 trays"),
    ("tray_test", {**TRAYS, "positions_m": [0, 1, 2, 3, 4], "width_m": 3}, "one side"),
    ("tray_test", {**TRAYS, "positions_m": [-2, -1, 1, 0, 2], "width_m": 3}, "positions_m.3"),
    ("tray_test", {**TRAYS, "masses_g": [0] * 5, "width_m": 3}, "empty"),
    ("tray_test", {**TRAYS, "width_m": 1e-9}, "far narrower"),
    ("tank", {**TANK, "seed_density_kg_l": 0.05}, "take the whole tank"),
    ("gdd", {"tmin_c": [5], "tmax_c": [4], "base_c": 0}, "below its minimum"),
    ("gdd", {"tmin_c": [5, 6], "tmax_c": [9], "base_c": 0}, "Give both"),
    ("rain_after_sowing", {"sown": "25.9.2030", "rain_mm": {}}, "not a date"),
    ("rain_after_sowing", {"sown": "2030-09-25", "rain_mm": {"2030-09-26": -1}}, "-1"),
    ("convert", {"value": 1, "from": "kg/ha", "to": "seeds/m2"}, "tkw_g"),
    ("convert", {"value": 1, "from": "bu/ac", "to": "kg/ha"}, "bushel_lb"),
    ("convert", {"value": 1, "from": "m", "to": "ft", "tkw_g": -3}, "tkw_g: -3"),
    ("convert", {"value": -1, "from": "m", "to": "ft"}, "-1"),
    ("convert", {"value": -300, "from": "C", "to": "F"}, "absolute zero"),
    ("harvest", {}, "not built"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "fields", "says"), REFUSED)
def test_what_can_not_be_is_refused_by_the_name_of_its_field(name, fields, says):
    with pytest.raises(Refused) as refused:
        answer(name, **fields)
    assert says in str(refused.value)


def test_the_command_prints_an_answer_or_one_message(tmp_path, capsys):
    path = tmp_path / "case.json"
    path.write_text(json.dumps({"calculation": "convert", "input": {"value": 1, "from": "ft", "to": "in"}}))
    assert main([str(path)]) == 0
    assert json.loads(capsys.readouterr().out)["value"] == pytest.approx(12)
    path.write_text('{"calculation": "tank"}')
    assert main([str(path)]) == 2
    assert "input" in capsys.readouterr().err
