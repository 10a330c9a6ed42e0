"""Plots in a field: what lies where it can't is named, a move that fits is found, and areas keep clear of tracks."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.field.geodesy import Origin, to_wgs84
from apercu_core.field.guards import guard_for
from apercu_core.field.layout import Rectangle
from apercu_core.field.surroundings import (
    Field,
    Lines,
    Obstacle,
    areas_of,
    fit_in,
    moved,
    outline_from_geojson,
    zones_of,
)
from apercu_core.species.shipped import SHIPPED

SQUARE = ((0.0, 0.0), (60.0, 0.0), (60.0, 60.0), (0.0, 60.0))
PLOTS = {f"{r}{c}": Rectangle(4.0 * c, 12.0 * r, 3.0, 10.0) for r in (1, 2) for c in range(4)}


def wrong(field, plots=None):
    return {label: words[0] for label, words in fit_in(field, plots or PLOTS, 0).wrong.items()}


def test_plots_outside_in_the_headland_and_on_an_obstacle_are_named():
    assert wrong(Field(SQUARE)) == {}
    assert wrong(Field(SQUARE, headland=2)) == {
        "10": "it reaches into the headland",
        "20": "it reaches into the headland",
    }
    assert wrong(Field(((0, 0), (60, 0), (60, 27), (0, 27)))) == {
        f"2{c}": "70 % of it lies outside the field" for c in range(4)
    }
    pole = Obstacle("the pole", ((5, 13), (6, 13), (6, 14), (5, 14)))
    assert wrong(Field(SQUARE, obstacles=(pole,))) == {"11": "it meets the pole"}
    assert wrong(Field(SQUARE, tree_rows=Lines(8.5, 24, 1))) == dict.fromkeys(
        ("12", "22"), "a tree row runs through it"
    )
    lain = {**PLOTS, "99": Rectangle(1, 13, 1, 1)}
    assert wrong(Field(SQUARE), lain) == {"10": "it overlaps plot 99", "99": "it overlaps plot 10"}


def test_a_move_after_which_all_fit_is_the_nearest_or_none():
    found = fit_in(Field(SQUARE, headland=2), PLOTS, 0).shift
    again = {label: Rectangle(r.x + found[0], r.y + found[1], r.width, r.length) for label, r in PLOTS.items()}
    assert wrong(Field(SQUARE, headland=2), again) == {}
    assert math.hypot(*found) < 3
    assert fit_in(Field(SQUARE, headland=25), PLOTS, 0).shift is None  # 10 m are left
    assert fit_in(Field(SQUARE), PLOTS, 0).shift is None  # nothing is wrong


def test_tracks_are_counted_and_uneven_ones_told():
    one = fit_in(Field(SQUARE, tracks=Lines(1.5, 24, 0.5)), PLOTS, 0)
    assert one.crossed == {"10": 1, "20": 1}
    assert "2 of 8 plots: plots with and without aren’t alike" in one.advice[0]
    assert "the same in all" in fit_in(Field(SQUARE, tracks=Lines(1.5, 4, 0.5)), PLOTS, 0).advice[0]


@pytest.mark.parametrize(("gradient", "bearing", "says"), [
    (0, 0, "lie across"), (180, 0, "lie across"), (15, 0, "lie across"), (90, 0, "90° off"), (300, 20, "80° off"),
    (40, 220, "lie across"),
])  # fmt: skip
def test_blocks_lie_across_the_gradient_or_are_to_be_turned(gradient, bearing, says):
    assert says in fit_in(Field(gradient=gradient), PLOTS, bearing).advice[0]


@pytest.mark.parametrize(("design", "gradient", "says"), [
    ("paired_strips", 0, "both strips of a pair have the same"),
    ("paired_strips", 90, "one strip of a pair has the better place"),
    ("crd", 0, "There are no blocks to remove"), ("latin_square", 90, "Rows and columns both"),
    ("split_plot", 90, "within blocks"), ("incomplete_block", 85, "Incomplete blocks side by side"),
    ("incomplete_block", 45, "within blocks"),
])  # fmt: skip
def test_advice_on_the_gradient_knows_the_design(design, gradient, says):
    assert says in fit_in(Field(gradient=gradient), PLOTS, 0, design).advice[0]


@pytest.mark.parametrize(("slope", "said"), [(None, 0), (2.9, 0), (3, 1), (8.5, 1)])
def test_on_a_slope_water_runs_from_plot_to_plot(slope, said):
    advice = fit_in(Field(), PLOTS, 0, "rcbd", slope).advice
    assert len(advice) == said
    if said:
        assert f"On a slope of {slope:g} %, water carries soil" in advice[0]


def test_a_field_without_plots_has_nothing_wrong():
    found = fit_in(Field(SQUARE, headland=3, gradient=90), {}, 10)
    assert (found.wrong, found.shift, found.usable_area) == ({}, None, pytest.approx(54 * 54))


def test_the_harvest_takes_the_middle_unless_a_track_is_there():
    plot = Rectangle(10, 0, 6, 12)
    plain = areas_of(Field(harvest_width=2, guard=1), plot)
    assert plain.harvest == Rectangle(12, 1, 2, 10)
    assert plain.sample == Rectangle(10.5, 1, 1.5, 10)  # inside half a metre of guard
    narrow = areas_of(Field(harvest_width=2, guard=1), Rectangle(10, 0, 3, 12))
    assert narrow.sample == Rectangle(10.5, 9, 2, 2)  # no room beside: the far end of the harvested strip
    assert narrow.harvest == Rectangle(10.5, 1, 2, 8)  # which ends before it
    tall = areas_of(Field(harvest_width=2, guard=1, side_guard=1.5), plot)
    assert tall.sample == Rectangle(12, 8.5, 2, 2)
    tracked = areas_of(Field(harvest_width=2, guard=1, tracks=Lines(13, 24, 0.6)), plot)
    assert tracked.harvest.x == pytest.approx(10.7)  # 12.7 less its width
    assert areas_of(Field(harvest_width=2, guard=6), plot).harvest is None
    tight = fit_in(Field(harvest_width=4), PLOTS, 0)
    assert "No room for the harvest" in tight.advice[0]


@given(
    st.floats(1, 20), st.floats(4, 60), st.floats(0.5, 6), st.floats(0, 1.9), st.floats(-5, 25), st.floats(3, 30),
    st.floats(0.2, 2),
)  # fmt: skip
def test_areas_lie_in_the_plot_clear_of_its_ends_its_tracks_and_each_other(
    width, length, take, guard, first, every, wide
):
    plot, field = (
        Rectangle(7, 3, width, length),
        Field(harvest_width=take, guard=guard, tracks=Lines(first, every, wide)),
    )
    areas = areas_of(field, plot)
    for area in filter(None, (areas.harvest, areas.sample)):
        assert area.x >= plot.x - 1e-6
        assert area.x + area.width <= plot.x + plot.width + 1e-6
        assert area.y >= plot.y + guard - 1e-6
        assert area.y + area.length <= plot.y + length - guard + 1e-6
        for x in field.tracks.at(area.x - wide, area.x + area.width + wide):
            assert x + wide / 2 <= area.x + 1e-5 or x - wide / 2 >= area.x + area.width - 1e-5
    if areas.sample:
        assert areas.sample.x >= plot.x + field.side_guard - 1e-6
        assert areas.sample.x + areas.sample.width <= plot.x + width - field.side_guard + 1e-6
        assert areas.sample.y >= plot.y + field.side_guard - 1e-6
    if areas.harvest and areas.sample:
        a, b = sorted((areas.harvest, areas.sample), key=lambda r: r.x)
        c, d = sorted((areas.harvest, areas.sample), key=lambda r: r.y)
        assert a.x + a.width <= b.x + 1e-6 or c.y + c.length <= d.y + 1e-6


def test_guards_grow_with_the_height_and_the_habit_of_the_cover():
    of = lambda *keys: guard_for(SHIPPED[key] for key in keys)  # noqa: E731
    assert of() == of("white-clover") == 0.5
    assert of("rye") == pytest.approx(0.75)  # half of 1.5 m
    assert of("oat", "hairy-vetch") == 1  # it climbs into its neighbours
    assert of("sorghum-sudangrass", "white-clover") == pytest.approx(1.125)


@given(st.floats(0, 65), st.floats(-180, 180), st.floats(0, 359), st.floats(20, 400), st.floats(20, 400))
def test_an_outline_comes_back_from_geojson_the_size_it_is(latitude, longitude, bearing, width, length):
    origin = Origin(longitude, latitude, bearing)
    corners = [(0.0, 0.0), (width, 0.0), (width, length), (0.0, length)]
    ring = [list(to_wgs84(origin, *c)) for c in corners]
    points, _ = outline_from_geojson(
        {"type": "Feature", "geometry": {"type": "Polygon", "coordinates": [[*ring, ring[0]]]}}, origin
    )
    assert [c for p in points for c in p] == pytest.approx([c for p in corners for c in p], abs=0.02)
    assert Field(points).usable.area == pytest.approx(width * length, rel=1e-3)


def test_without_a_place_the_south_west_corner_becomes_the_origin():
    ring = [[0.31, 52.5], [0.312, 52.5], [0.312, 52.501], [0.31, 52.501], [0.31, 52.5]]
    points, origin = outline_from_geojson({"type": "Polygon", "coordinates": [ring]}, None)
    assert (origin.longitude, origin.latitude) == (0.31, 52.5)
    assert points[0] == pytest.approx((0, 0))


@pytest.mark.parametrize(("make", "says"), [
    (lambda: Field(((0, 0), (10, 10), (10, 0), (0, 10))), "crosses itself near x 5.0 m, y 5.0 m"),
    (lambda: Field(((0, 0), (10, 10))), "has 2 corners"),
    (lambda: Field(((0, 0), (10, 10), (20, 20))), "crosses itself|encloses no area"),
    (lambda: Field(SQUARE, headland=30), "leaves nothing"),
    (lambda: Field(SQUARE, headland=-1), "must be 0 or more"),
    (lambda: Field(harvest_width=0), "must be above 0"),
    (lambda: Lines(0, 2, 3), "spacing that is wider"),
    (lambda: outline_from_geojson({"type": "Point"}, None), "no polygon first"),
    (lambda: outline_from_geojson({"type": "Polygon", "coordinates": [[[500000, 5800000]] * 4]}, None), "in degrees"),
    (lambda: outline_from_geojson({"type": "Polygon", "coordinates": [[["a"]]]}, None), "isn’t a pair of numbers"),
    (lambda: outline_from_geojson({"type": "Polygon", "coordinates": [[[10**400, 1]] * 4]}, None), "a pair of numbers"),
    (lambda: outline_from_geojson({"type": "Polygon", "coordinates": [[[9, 50], [9.1, 50], [9, 50.1]]]}, Origin(0, 50)),
     "km from the trial’s corner"),
])  # fmt: skip
def test_what_is_no_field_is_refused_in_words(make, says):
    with pytest.raises(Refused, match=says):
        make()


def test_blocks_are_moved_whole():
    blocks = {label: label[0] for label in PLOTS}
    after = moved(PLOTS.items(), {"2": (1.5, -2.0)}, blocks)
    assert after["10"] == PLOTS["10"]
    assert after["23"] == Rectangle(13.5, 22.0, 3.0, 10.0)


def test_the_planted_fraction_counts_alleys_and_what_is_sown_of_each():
    rows = Lines(first=0, spacing=6, width=1.5)
    assert Field(tree_rows=rows, sown_width=3).planted_fraction == pytest.approx(0.5)
    assert Field(tree_rows=rows, sown_width=3, sown_every=2).planted_fraction == pytest.approx(0.25)
    assert Field(tree_rows=rows).planted_fraction is None
    assert Field(sown_width=3).planted_fraction is None
    with pytest.raises(Refused, match=r"between the rows there are 4\.5 m"):
        Field(tree_rows=rows, sown_width=5)


def test_zones_share_a_plot_out_between_tracks_trees_and_the_rest():
    field = Field(tracks=Lines(first=2, spacing=24, width=0.5), tree_rows=Lines(first=0, spacing=30, width=2))
    zones = zones_of(field, Rectangle(0, 0, 8, 10))
    assert zones == pytest.approx({"wheel track": 0.5 / 8, "tree row": 1 / 8, "between": 6.5 / 8})
    assert sum(zones.values()) == pytest.approx(1)
    assert zones_of(field, Rectangle(10, 0, 6, 10)) == {}
    edge = zones_of(field, Rectangle(2.1, 0, 6, 10))  # a track that only touches it
    assert edge["wheel track"] == pytest.approx(0.15 / 6)
