"""Layouts that lie in the field already: taken as they are, or refused with every row that is wrong."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.field.geodesy import Origin
from apercu_core.field.layout import PlotSize, Rectangle
from apercu_core.field.stake_out import feature_collection
from apercu_core.layout_files.read import read_layout

NAMES = {"Bare": "Bare", "B": "Bare", "Black oat": "Black oat", "BO": "Black oat"}
TABLE = """plot;block;treatment;x_m;y_m;width_m;length_m
101;A;bo;3,5;0;3;10
102;A;bare;0;0;3;10
201;B;B;0;12;3;10
202;B;Black oat;3,5;12;3;10
"""


def taken(text, size=None, origin=None):
    return read_layout(text.encode(), NAMES, size, origin)


def refused(text, size=None, origin=None):
    with pytest.raises(Refused) as refusal:
        taken(text, size, origin)
    return [f"{place.where}: {place.what}" for place in refusal.value.places] or [refusal.value.message]


def test_a_table_gives_plots_with_treatments_by_name_or_code_and_their_order_in_the_block():
    plots = taken(TABLE).plots
    assert [(p.label, p.block, p.treatment, p.position) for p in plots] == [
        ("101", "A", "Black oat", 2), ("102", "A", "Bare", 1), ("201", "B", "Bare", 1), ("202", "B", "Black oat", 2),
    ]  # fmt: skip
    assert plots[3].place == Rectangle(3.5, 12, 3, 10)


@pytest.mark.parametrize(
    "header",
    [
        "plot,treatment,across_from_m,across_to_m,along_from_m,along_to_m", "PLOT, Treatment ,x_m,y_m",
        "plot,treatment,column,row",
    ],
)  # fmt: skip
def test_corners_a_size_or_a_grid_say_where_plots_lie(header):
    rows = {"a": "1,B,0,3,0,10\n2,BO,3.5,6.5,0,10", "x": "1,B,0,0\n2,BO,3.5,0", "c": "1,B,1,1\n2,BO,2,1"}
    body = rows["a" if "across" in header else "x" if "x_m" in header else "c"]
    plots = taken(f"{header}\n{body}\n", PlotSize(3, 10, 0.5, 2)).plots
    assert [p.place for p in plots] == [Rectangle(0, 0, 3, 10), Rectangle(3.5, 0, 3, 10)]
    assert [p.position for p in plots] == [None, None]  # no blocks, no places in them


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (("bo;3,5;0", "rye;3,5;0"), "line 2, treatment: 'rye' isn’t a treatment of this trial. Known are: Bare, Black"),
        (("102;A", "101;A"), "line 3, plot: '101' is already in line 2."),
        (("102;A", ";A"), "line 3, plot: It is empty."),
        (("B;0;12", "B;zero;12"), "line 4, x_m: 'zero' isn’t a number."),
        (("0;12;3;10", "0;12;0;10"), "line 4: A plot of 0 × 10 m has no area."),
        (("0;12;3;10", "0;12;3,6;10"), "line 5: Plot 202 lies on plot 201, by 0.10 × 10.00 m."),
        (("101;A;bo", "101;A;bare"), None),
    ],
)  # fmt: skip
def test_each_wrong_row_is_named_by_line_and_column(change, says):
    text = TABLE.replace(*change)
    if says is None:
        assert len(taken(text).plots) == 4
    else:
        assert refused(text)[0].startswith(says)


def test_all_wrong_rows_are_told_at_once():
    told = refused(TABLE.replace("bo;3,5;0", "rye;x;0").replace("202;B", "201;B"))
    assert [line.split(":")[0] for line in told] == ["line 2, x_m", "line 2, treatment", "line 5, plot"]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("plot,block\n1,A\n", "no column 'treatment'"),
        ("plot,treatment\n1,B\n", "doesn’t say where plots lie"),
        ("plot,treatment,x_m,y_m\n1,B,0,0\n", "no size of plots"),
        ("plot,treatment,row,column\n1,B,1.5,1\n", "no size of plots"),
        (TABLE.replace("bo", "B").replace("Black oat", "B"), "No plot holds Black oat"),
        ('{"type": "FeatureCollection", "features": []}', "no list of features"),
        ("{broken", "isn’t JSON"),
    ],
)
def test_a_file_that_is_no_layout_says_what_is_missing(text, says):
    assert says in refused(text)[0]


def test_a_grid_has_whole_rows_and_columns():
    assert "whole numbers from 1" in refused("plot,treatment,row,column\n1,B,1.5,1\n2,BO,1,2\n", PlotSize(3, 10))[0]


def outlines(origin, boxes):
    rows = [{"plot": str(i), "block": "A", "treatment": ("B", "BO")[i % 2]} for i in range(len(boxes))]
    return json.dumps(feature_collection([(origin, box, row) for box, row in zip(boxes, rows, strict=True)]))


@settings(max_examples=60, deadline=None)
@given(
    latitude=st.floats(-65, 65), longitude=st.floats(-179, 179), bearing=st.floats(-89, 89),
    width=st.floats(1.5, 12), length=st.floats(13, 60),
)  # fmt: skip
def test_outlines_come_back_where_they_lie_at_any_place_and_bearing(latitude, longitude, bearing, width, length):
    origin = Origin(longitude, latitude, bearing)
    boxes = [Rectangle(i * (width + 0.5), 0, width, length) for i in range(4)]
    known = taken(outlines(origin, boxes), origin=origin)
    for plot, box in zip(known.plots, boxes, strict=True):
        assert plot.place.x == pytest.approx(box.x, abs=0.02)
        assert plot.place.width * plot.place.length == pytest.approx(box.width * box.length, rel=1e-3)
    unknown = taken(outlines(origin, boxes))  # without a place of the site the outlines give corner and bearing
    turned = (unknown.origin.bearing - bearing + 90) % 180 - 90
    assert turned == pytest.approx(0, abs=0.1)
    assert {p.position for p in unknown.plots} == {1, 2, 3, 4}


def test_outlines_that_lie_askew_or_far_away_are_named():
    origin, boxes = Origin(0.1, 52.7, 30), [Rectangle(0, 0, 3, 10), Rectangle(4, 0, 3, 10)]
    assert (
        "isn’t a rectangle along the trial’s bearing of 10°"
        in refused(outlines(origin, boxes), origin=Origin(0.1, 52.7, 10))[0]
    )
    assert "20 km" in refused(outlines(origin, boxes), origin=Origin(1.1, 52.7, 30))[0]
    point = json.dumps({"type": "FeatureCollection", "features": [{"geometry": {"type": "Point"}, "properties": {}}]})
    assert refused(point)[0].startswith("feature 1: It isn’t a polygon")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ('{"type": "FeatureCollection", "features": ' + "[" * 100_000, "nested too deeply"),
        ('{"type": "FeatureCollection", "features": [{"geometry": {"type": "Polygon", "coordinates": [[['
         + "9" * 401 + ", 50], [1, 1], [1, 2], [2, 2]]]}}]}", "isn’t a polygon of longitudes"),
    ],
)  # fmt: skip
def test_geojson_that_no_field_has_is_refused_in_words(text, says):
    with pytest.raises(Refused) as refusal:
        taken(text)
    assert says in " ".join([refusal.value.message, *(one.what for one in refusal.value.places)])
