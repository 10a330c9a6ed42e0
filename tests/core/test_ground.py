"""Plots on the ground: in their place, of their size, anywhere on earth; the plan command."""

import csv
import io
import json
import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.errors import Refused
from apercu_core.field.geodesy import Origin, from_wgs84, to_wgs84
from apercu_core.field.layout import extent
from plan_cli.__main__ import main

SPLIT = {
    "design": "split_plot", "factors": {"kill": ["early", "late"], "cover": ["vetch", "oat", "phacelia"]},
    "whole_plot_factor": "kill", "blocks": 3, "seed": 7, "plot_width_m": 3, "plot_length_m": 12, "alley_m": 4,
    "origin": [0.127, 52.704], "bearing_deg": 30,
}  # fmt: skip


def on_earth(longitude, latitude):
    """Geocentric metres on the ellipsoid of WGS84, an independent way of measuring."""
    a, f = 6378137.0, 1 / 298.257223563
    e2, lon, lat = f * (2 - f), math.radians(longitude), math.radians(latitude)
    n = a / math.sqrt(1 - e2 * math.sin(lat) ** 2)
    return (n * math.cos(lat) * math.cos(lon), n * math.cos(lat) * math.sin(lon), n * (1 - e2) * math.sin(lat))


def cross(u, v):
    return (u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0])


def area(ring):
    """m² of a plot's ring, which is flat enough for triangles."""
    points = [on_earth(*corner) for corner in ring[:-1]]
    edges = [[q - p for p, q in zip(points[0], point, strict=True)] for point in points[1:]]
    return sum(math.hypot(*cross(u, v)) for u, v in pairwise(edges)) / 2


@given(
    st.floats(-180, 180), st.floats(-65, 65), st.floats(0, 360), st.floats(-800, 800), st.floats(-800, 800),
    st.floats(1, 50), st.floats(1, 200),
)  # fmt: skip
def test_lengths_and_areas_are_right_to_a_thousandth_at_every_latitude(lon, lat, bearing, x, y, width, length):
    origin = Origin(lon, lat, bearing)
    corners = [(x, y), (x + width, y), (x + width, y + length), (x, y + length), (x, y)]
    ring = [to_wgs84(origin, *corner) for corner in corners]
    assert area(ring) == pytest.approx(width * length, rel=1e-3)
    assert math.dist(on_earth(*ring[0]), on_earth(*ring[1])) == pytest.approx(width, rel=1e-3)
    assert from_wgs84(origin, *ring[2]) == pytest.approx(corners[2], abs=1e-3)


def test_the_bearing_is_the_direction_of_plus_y_clockwise_from_north():
    east = to_wgs84(Origin(0, 52, 90), 0, 100)
    assert east[1] == pytest.approx(52, abs=1e-9)
    assert east[0] > 0
    south_of_it = to_wgs84(Origin(0, 52, 90), 100, 0)
    assert south_of_it[1] < 52


DESIGNS = {
    "crd": {"treatments": list("abcd")}, "rcbd": {"treatments": list("abcd")},
    "paired_strips": {"treatments": ["a", "b"]}, "latin_square": {"treatments": list("abc")},
    "split_plot": {"whole_plot_factor": "f"},
    "strip_plot": {"row_factor": "f", "column_factor": "g"},
}  # fmt: skip


@given(
    st.sampled_from(list(DESIGNS)), st.floats(0.5, 30), st.floats(0.5, 60), st.floats(0, 3), st.floats(0, 20),
    st.integers(0, 99),
)  # fmt: skip
def test_no_design_lets_plots_overlap_and_all_lie_between_the_corner_and_the_extent(
    design, width, length, gap, alley, seed
):
    factors = {} if "treatments" in DESIGNS[design] else {"factors": {"f": ["A", "B"], "g": ["x", "y", "z"]}}
    size = {"plot_width_m": width, "plot_length_m": length, "gap_m": gap, "alley_m": alley}
    places = [
        one.place
        for one in draw_plan(
            read_plan({"design": design, "blocks": 3, "seed": seed, **DESIGNS[design], **factors, **size})
        )
    ]
    for i, a in enumerate(places):
        for b in places[i + 1 :]:
            assert abs(a.x - b.x) >= width - 1e-9 or abs(a.y - b.y) >= length - 1e-9
    assert min(p.x for p in places) == min(p.y for p in places) == 0
    assert sum(p.width * p.length for p in places) <= math.prod(extent(places)) * (1 + 1e-9)


def test_the_command_writes_plots_by_number_and_outlines_of_their_size(tmp_path, capsys):
    (tmp_path / "plan.json").write_text(json.dumps(SPLIT | {"control": "bare"}))
    assert main([str(tmp_path / "plan.json"), "--geojson", str(tmp_path / "plots.geojson")]) == 0
    rows = list(csv.DictReader(io.StringIO(capsys.readouterr().out)))
    assert list(rows[0]) == "plot,block,row,column,whole_plot,treatment,kill,cover,x_m,y_m".split(",")
    assert [int(r["plot"]) for r in rows] == [b * 100 + p for b in (1, 2, 3) for p in range(1, 10)]
    assert {(r["kill"], r["cover"]) for r in rows if r["treatment"] == "bare"} == {("", "")}
    for block in "123":
        held = {(r["whole_plot"], r["kill"]) for r in rows if r["block"] == block}
        assert len(held) == len({w for w, _ in held}) == 3
    assert (rows[10]["x_m"], rows[10]["y_m"]) == ("3.0", "16.0")
    features = json.loads((tmp_path / "plots.geojson").read_text())["features"]
    assert [f["properties"]["plot"] for f in features] == [int(r["plot"]) for r in rows]
    assert all(area(f["geometry"]["coordinates"][0]) == pytest.approx(36, rel=1e-3) for f in features)


@pytest.mark.parametrize(
    ("text", "says"),
    [("{", "isn’t JSON"), ("[]", "must be a JSON object"), (json.dumps({**SPLIT, "origin": None}), "need the origin")],
)
def test_the_command_refuses_with_one_message_no_plan_and_exit_2(tmp_path, capsys, text, says):
    (tmp_path / "plan.json").write_text(text)
    assert main([str(tmp_path / "plan.json"), "--geojson", str(tmp_path / "out")]) == 2
    printed = capsys.readouterr()
    assert printed.out == ""
    assert says in printed.err
    assert len(printed.err.strip().splitlines()) == 1


def test_places_off_the_map_are_refused():
    with pytest.raises(Refused, match="latitude is 91"):
        Origin(0, 91)
