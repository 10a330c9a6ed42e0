"""Units, sheets and the walk: what a person types in a plot, and the value it makes."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.cautions import caution_for, caution_for_visit
from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize, Rectangle, place_in_rows
from apercu_core.field.walking import serpentine
from apercu_core.measures.entries import evaluate
from apercu_core.measures.ranges import ranges_of
from apercu_core.measures.settings import counted_area, made_in, settings_for
from apercu_core.measures.sheets import SHEETS
from apercu_core.units import UNITS, factor_between, parse_quantity, shown_in
from apercu_core.words import difference_unit


@pytest.mark.parametrize(
    ("typed", "unit", "value"),
    [
        ("12.5", "kg", 12.5),
        ("12,5", "kg", 12.5),
        ("1 200,5 g", "kg", 1.2005),
        ("30 lb/ac", "kg/ha", 33.62554),  # 30 × 0.45359237 / 0.40468564224
        ("2 ton/ac", "t/ha", 4.483405),  # 2 × 0.90718474 / 0.40468564224
        ("0.5 m2", "m²", 0.5),
        ("4 sq ft", "m²", 0.37161216),
        ("−3", "", -3.0),
        ("23 %", "% by volume", 23.0),
        ("12 plants/ft2", "plants/m²", 129.16692),  # 12 / 0.09290304
    ],
)
def test_a_figure_may_bring_its_own_unit_and_a_decimal_comma(typed, unit, value):
    assert parse_quantity(typed, unit) == pytest.approx(value, rel=1e-6)


@pytest.mark.parametrize("typed", ["", "abc", "3 4", "1e", "12 ha", "--3", "5 plants/m²"])
def test_what_is_no_figure_or_measures_something_else_is_refused_with_what_to_type(typed):
    with pytest.raises(Refused, match=r"Type (one number|the value in kg)"):
        parse_quantity(typed, "kg")


@given(st.sampled_from(sorted(UNITS)), st.sampled_from(sorted(UNITS)), st.sampled_from(sorted(UNITS)))
def test_going_by_way_of_another_unit_changes_nothing_and_what_differs_in_kind_is_refused(a, b, c):
    if UNITS[a].dimension != UNITS[b].dimension:
        with pytest.raises(Refused, match="can’t be turned into"):
            factor_between(a, b)
    elif UNITS[b].dimension == UNITS[c].dimension:
        assert factor_between(a, b) * factor_between(b, c) == pytest.approx(factor_between(a, c), rel=1e-12)


def test_readers_of_us_units_see_counterparts_and_what_has_none_stays():
    assert shown_in("kg/ha", "us") == ("lb/ac", pytest.approx(0.8921791))
    assert shown_in("plants/m²", "us")[0] == "plants/ft²"
    for unit in ("% by volume", "°C", "", "plants"):
        assert shown_in(unit, "us") == (unit, 1.0)
    assert shown_in("kg/ha", "metric") == ("kg/ha", 1.0)


def test_yield_at_standard_moisture_by_hand():
    sheet = SHEETS["moist-yield"]
    typed = {"mass": "25", "moisture": "20", "area": "30"}
    # 25 kg at 20 % hold 20 kg dry matter: 23.2558 kg at 14 %, on 30 m² 7.7519 t/ha
    at = settings_for(sheet, {"standard": 14})
    assert evaluate(sheet, typed, at).value == pytest.approx(7.751938, rel=1e-6)
    for field, text, says in (("area", "0", "more than 0"), ("moisture", "120", "99 or less"), ("mass", "", "empty")):
        with pytest.raises(Refused, match=says):
            evaluate(sheet, {**typed, field: text}, at)
    with pytest.raises(Refused, match=r"Say the standard moisture. Maize 15.5"):
        settings_for(sheet, {})


YIELD = {"mass": "25", "moisture": "20", "length": "20"}


@pytest.mark.parametrize(("unit", "settings", "value"), [
    ("t/ha", {}, 7.751938), ("kg/ha", {}, 7751.938), ("dt/ha", {}, 77.51938), ("lb/ac", {}, 6916.117),
    ("ton/ac", {}, 3.458059), ("bu/ac", {"bushel": 60}, 115.2686), ("", {}, 7.751938),
])  # fmt: skip
def test_a_yield_comes_out_in_the_unit_that_the_measure_has(unit, settings, value):
    # 25 kg at 20 % from 20 × 1.5 m: 7.7519 t/ha at 14 %; 1 kg/ha = 0.892179 lb/ac
    sheet = SHEETS["moist-yield-strip"]
    at = settings_for(sheet, {"standard": 14, "width": 1.5, **settings})
    assert evaluate(sheet, YIELD, at, unit=unit).value == pytest.approx(value, rel=1e-5)


@pytest.mark.parametrize(("sheet", "unit", "says"), [
    ("moist-yield-strip", "cm", "makes t/ha, which can’t be turned into cm. Change the unit"),
    ("fresh-yield-strip", "bu/ac", "Say the bushel mass"), ("frame-count", "plants", "per area, not plants"),
    ("soil-mg-per-kg", "mg/kg", "makes kg/ha"),
])  # fmt: skip
def test_a_unit_that_a_sheet_cannot_make_is_refused(sheet, unit, says):
    with pytest.raises(Refused, match=says):
        made_in(SHEETS[sheet], unit, {})


def test_readers_of_us_units_see_yields_in_bushels_where_their_mass_is_known():
    sheet = SHEETS["moist-yield-strip"]
    at = settings_for(sheet, {"standard": 14, "width": 1.5, "bushel": 60})
    assert shown_in("t/ha", "us", 60) == ("bu/ac", pytest.approx(14.8696, rel=1e-5))
    asked = evaluate(sheet, {**YIELD, "mass": "1 lb", "length": "20 m"}, at, unit="t/ha", system="us", plausible=(1, 9))
    assert asked.questions[0].startswith("2.09 bu/ac is unusual. The usual range is 14.9 to 134 bu/ac")
    assert "bushel" not in settings_for(sheet, {"standard": 14, "width": 1.5})


@pytest.mark.parametrize(("settings", "unit", "value"), [
    ({"row_length": 4, "row_spacing": 0.5}, "plants/m²", 15), ({"row_length": 4, "row_spacing": 0.75}, "plants/m²", 10),
    ({"row_length": 4, "row_spacing": 0.5}, "plants/ac", 60703),
    ({"row_length": 4, "row_spacing": 0.5}, "plants/ft²", 1.394),
])  # fmt: skip
def test_plants_along_rows_are_counted_per_area_of_row(settings, unit, value):
    sheet = SHEETS["row-count"]
    at = settings_for(sheet, settings)
    assert counted_area(sheet, at) == settings["row_length"] * settings["row_spacing"]
    assert evaluate(sheet, {"count": "30"}, at, unit=unit).value == pytest.approx(value, rel=1e-3)
    with pytest.raises(Refused, match=r"Say the row spacing. 0.125 m in cereals"):
        settings_for(sheet, {})


def test_ranges_of_the_catalogue_follow_the_unit_that_a_measure_has():
    assert ranges_of("grain-yield", "", {}, "Grain yield", "dt/ha").plausible == (2, 200)
    assert ranges_of("weeds", "", {}, "Weeds", "weeds/ft²").plausible == (0, pytest.approx(185.8, rel=1e-3))
    assert ranges_of("grain-yield", "", {}, "Grain yield", "cm").plausible is None


def test_nitrogen_of_a_soil_layer_by_hand():
    sheet = SHEETS["soil-mg-per-kg"]
    layer = settings_for(sheet, {"depth_to": 30, "bulk_density": 1.3})
    assert evaluate(sheet, {"concentration": "10"}, layer).value == pytest.approx(39)  # 10 mg/kg × 1.3 × 30 cm × 0.1
    with pytest.raises(Refused, match=r"Say the to depth. 30, 60 or 90 cm"):
        settings_for(sheet, {"bulk_density": 1.3})
    with pytest.raises(Refused, match="ends above where it begins"):
        settings_for(sheet, {**layer, "depth_from": 60})


@pytest.mark.parametrize("settings", [{"area": 0}, {"frames": 0}, {"area": float("nan")}, {"colour": 1}])
def test_settings_that_cannot_be_are_refused(settings):
    with pytest.raises(Refused):
        settings_for(SHEETS["frame-count"], settings)


def test_the_walk_goes_along_one_row_and_back_along_the_next_whatever_the_order_of_the_list():
    rectangles = place_in_rows([(b, p) for b in (2, 1, 3) for p in (3, 1, 2)], PlotSize(3, 10, 0.5, 2))
    walked = [(rectangles[i].x, rectangles[i].y) for i in serpentine(rectangles)]
    assert walked == [(0, 0), (3.5, 0), (7, 0), (7, 12), (3.5, 12), (0, 12), (0, 24), (3.5, 24), (7, 24)]
    assert serpentine([]) == []
    steps = [Rectangle(x, x * 0.3, 3, 10) for x in range(5)]  # a row set out slightly askew is still one row
    assert serpentine(steps) == [0, 1, 2, 3, 4]


def test_cautions_defer_to_the_label_and_name_no_product():
    assert "label" in caution_for("spray")
    assert "label" not in caution_for("kill")  # crimping and frost have none
    assert "ammunition" in caution_for("till")
    assert all(caution_for(kind) for kind in ("graze", "irrigate", "sow", "harvest"))
    assert caution_for("other") == ""
    digging, weeds = caution_for_visit(["soil-nitrate", ""]), caution_for_visit(["weeds"])
    assert "buried lines" in digging
    assert "buried lines" not in weeds
    assert "where you are" in weeds


@pytest.mark.parametrize(
    ("sheet", "settings", "name", "unit", "inside", "outside"),
    [
        ("percentage", {}, "Ground cover", "%", "100", "100.1"),
        ("figure", {}, "Light interception", "%", "0", "-1"),  # known by its unit
        ("score", {"lowest": 1, "highest": 5}, "Structure", "", "4.5", "6"),
        ("figure", {}, "Yield relative to the control", "%", "130", None),  # a ratio may pass 100
        ("figure", {}, "Depth", "cm", "130", None),
    ],
)
def test_percentages_and_scores_are_bounded_in_measures_of_one_s_own(sheet, settings, name, unit, inside, outside):
    ranges = ranges_of("", sheet, settings_for(SHEETS[sheet], settings), name, unit)
    kept = {"unit": unit, "possible": ranges.possible}
    assert evaluate(SHEETS[sheet], {"value": inside}, {}, **kept).value == float(inside)
    if outside:
        with pytest.raises(Refused, match="isn’t possible"):
            evaluate(SHEETS[sheet], {"value": outside}, {}, **kept)


def test_a_scale_needs_a_highest_grade_above_its_lowest():
    with pytest.raises(Refused, match="highest grade must be above"):
        settings_for(SHEETS["score"], {"lowest": 5, "highest": 5})


def test_differences_of_percentages_are_in_percentage_points():
    assert [difference_unit(unit) for unit in ("%", "% by volume", "t/ha", "")] == [
        "percentage points", "percentage points", "t/ha", "",
    ]  # fmt: skip
