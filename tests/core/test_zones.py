"""Zones inside a plot: what makes up a plot, and its value by their shares."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle
from apercu_core.field.surroundings import Field, Lines, zones_of
from apercu_core.field.zones import Zone, require_zones, shares_of, sown_share, weighted_mean

TILLED = [Zone("tilled strip", 0.25), Zone("mulch", 0.75, "nothing")]
DRAWN = [Zone("wheel track", sown="nothing"), Zone("between")]


def test_a_plots_value_is_the_mean_of_its_zones_by_share():
    """By hand: strips 8 and 12 → 10 on a quarter, mulch 2 on three quarters: 0.25 × 10 + 0.75 × 2 = 4."""
    shares = shares_of(TILLED, {})
    assert weighted_mean({"tilled strip": [8, 12], "mulch": [2, None]}, shares) == pytest.approx(4.0)
    assert weighted_mean({"tilled strip": [8, 12]}, shares) is None  # the strip alone isn't the plot
    assert weighted_mean({"tilled strip": [8, 12]}, {"tilled strip": 0.25}) == 10
    assert weighted_mean({}, {}) is None


def test_drawn_zones_have_the_share_that_the_lines_have_of_each_plot():
    """A track 0.6 m wide in a plot 6 m wide is a tenth of it; a plot that no track crosses is all between."""
    field = Field(tracks=Lines(first=3, spacing=24, width=0.6))
    crossed, free = (shares_of(DRAWN, zones_of(field, Rectangle(x, 0, 6, 12))) for x in (0.0, 6.0))
    assert crossed == pytest.approx({"wheel track": 0.1, "between": 0.9})
    assert free == {"between": 1.0}
    assert (sown_share(DRAWN, crossed), sown_share(TILLED, shares_of(TILLED, {}))) == (pytest.approx(0.9), 0.25)


SHARES = st.lists(st.floats(0.01, 1), min_size=2, max_size=6)


@given(SHARES, st.data())
def test_the_mean_lies_among_the_zones_and_only_relative_shares_matter(shares, data):
    names = [f"zone {i}" for i in range(len(shares))]
    found = {name: [data.draw(st.floats(-1e3, 1e3))] for name in names}
    by_share = dict(zip(names, shares, strict=True))
    mean = weighted_mean(found, by_share)
    values = [v for (v,) in found.values()]
    assert min(values) - 1e-6 <= mean <= max(values) + 1e-6
    assert weighted_mean(found, {name: 3 * share for name, share in by_share.items()}) == pytest.approx(mean, abs=1e-6)


@given(st.floats(0, 60), st.floats(1, 12), st.floats(0.2, 2), st.floats(3, 30))
def test_shares_of_any_plot_add_up_to_the_whole_of_it(x, width, track, spacing):
    drawn = zones_of(Field(tracks=Lines(1.0, spacing, track)), Rectangle(x, 0, width, 10))
    assert sum(shares_of(DRAWN, drawn).values()) == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("zones", "says"),
    [
        ([Zone("strip", 0.3), Zone("mulch", 0.3)], "add up to 60 %"),
        ([Zone("strip", 0.0), Zone("mulch", 1.0)], "above 0 %"),
        ([Zone("strip", 0.5), Zone("strip", 0.5)], "Two zones are called 'strip'"),
        ([Zone("strip", 1.0)], "the only zone"),
        ([Zone(" ", 0.5), Zone("mulch", 0.5)], "has no name"),
        ([Zone("between"), Zone("mulch", 0.5)], "enter all"),
        ([Zone("wheel track"), Zone("tree row")], "all between the lines"),
        ([Zone("between"), Zone("alley")], "alley isn’t on the map"),
        ([Zone("strip", 0.5, "other"), Zone("mulch", 0.5)], "what is sown in strip"),
    ],
)
def test_zones_that_make_no_plot_are_refused_in_words(zones, says):
    with pytest.raises(Refused, match=says):
        require_zones(zones)
