"""Places of samples: inside what is sampled, apart, clear of ground that was cut, and the same each time."""

import itertools
import math
from itertools import combinations

import pytest

from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle
from apercu_core.field.observers import WHY, WHY_ALONE, WHY_SHARED, allot
from apercu_core.field.sample_places import Place, Quadrat, Transect, corner_said, place_samples, quadrat_of

AREA = Rectangle(0.5, 1.0, 3.0, 8.0)
HALF = Quadrat(0.5, 0.5)


def apart(a, b, quadrat=HALF, by=0.0):
    return abs(a.across - b.across) >= quadrat.width + by - 1e-9 or abs(a.along - b.along) >= quadrat.length + by - 1e-9


@pytest.mark.parametrize("placement", ["stratified", "random", "diagonal", "line", "fixed", "exempt"])
def test_places_lie_whole_in_the_sampled_part_and_are_the_same_each_time(placement):
    for n in (1, 3, 8):
        for seed in map(str, range(40)):
            places = place_samples(AREA, HALF, n, placement, seed)
            assert len(places) == n
            assert places == place_samples(AREA, HALF, n, placement, seed)
            for p in places:
                assert 0.5 - 1e-9 <= p.across <= 3.0 + 1e-9, p
                assert 1.0 - 1e-9 <= p.along <= 8.5 + 1e-9, p
            if placement in ("stratified", "random", "fixed", "exempt"):
                assert all(apart(a, b) for a, b in combinations(places, 2))


def test_a_transect_keeps_its_direction_and_spacing_and_lies_wholly_in_the_sampled_part():
    # 3-4-5: 1 m from sample to sample, 0.6 m across and 0.8 m along
    transect = Transect(math.degrees(math.atan2(0.6, 0.8)), 1.0)
    starts = set()
    for seed in map(str, range(60)):
        places = place_samples(AREA, HALF, 4, "transect", seed, transect=transect)
        for a, b in itertools.pairwise(places):
            assert (b.across - a.across, b.along - a.along) == pytest.approx((0.6, 0.8), abs=0.011)
        assert all(0.495 <= p.across <= 3.005 and 0.995 <= p.along <= 8.505 for p in places)  # to the centimetre
        starts.add(places[0])
    assert len(starts) > 50
    back = place_samples(AREA, HALF, 4, "transect", "a", transect=Transect(180, 2))
    assert [round(a.along - b.along, 2) for a, b in itertools.pairwise(back)] == [2, 2, 2]
    held = place_samples(AREA, HALF, 5, "transect", "a", transect=Transect(180, 1), held=back[:2])
    assert held[:2] == back[:2]
    with pytest.raises(Refused, match="smaller spacing, fewer samples or another direction"):
        place_samples(AREA, HALF, 4, "transect", "a", transect=Transect(90, 2))
    with pytest.raises(Refused, match="Set a larger spacing"):
        place_samples(AREA, HALF, 4, "transect", "a", transect=Transect(0, 0.3))
    with pytest.raises(Refused, match="which way the transect runs"):
        place_samples(AREA, HALF, 4, "transect", "a")


def test_a_stratified_sample_has_one_place_in_each_part_of_the_length():
    for seed in map(str, range(40)):
        places = place_samples(AREA, HALF, 4, "stratified", seed)
        assert [int((p.along - 1.0) // 2.0) for p in places] == [0, 1, 2, 3], places


def test_every_part_of_the_sampled_ground_is_as_likely():
    across = [place_samples(AREA, HALF, 1, "random", str(seed))[0].across for seed in range(2000)]
    share = sum(x < 1.75 for x in across) / len(across)
    assert 0.45 < share < 0.55, share  # 13 of the 26 places of the grid lie below
    along = [place_samples(AREA, HALF, 2, "line", str(seed))[0].along for seed in range(2000)]
    assert 0.45 < sum(y < 1.0 + 7.5 / 4 for y in along) / len(along) < 0.55


def test_ground_that_was_cut_is_left_alone_and_held_places_stay():
    cut = [Rectangle(1.0, 2.0, 0.5, 0.5), Rectangle(2.0, 6.0, 0.5, 0.5)]
    for seed in map(str, range(100)):
        for p in place_samples(AREA, HALF, 4, "stratified", seed, avoided=cut):
            assert all(apart(p, Place(r.x, r.y), by=0.25) for r in cut), p
    held = place_samples(AREA, HALF, 2, "random", "first")
    more = place_samples(AREA, HALF, 4, "random", "second", held=held)
    assert more[:2] == held
    assert all(apart(a, b) for a, b in combinations(more, 2))


def test_a_marked_quadrat_keeps_its_number_when_more_are_taken():
    three, five = (place_samples(AREA, HALF, n, "fixed", "season") for n in (3, 5))
    assert five[:3] == three


@pytest.mark.parametrize(
    ("area", "quadrat", "n", "says"),
    [
        (Rectangle(0, 0, 0.4, 5), HALF, 1, "0.4 × 5 m of the plot is sampled"),
        (Rectangle(0, 0, 1, 1), HALF, 9, "no room for 9 samples"),
    ],
)
def test_what_finds_no_room_is_refused_and_says_so(area, quadrat, n, says):
    with pytest.raises(Refused, match=says):
        place_samples(area, quadrat, n, "random", "a")


def test_what_is_laid_down_follows_from_the_sheets_settings():
    assert quadrat_of({"area": 0.25, "frames": 3}) == HALF
    assert quadrat_of({"area": 0.25, "frame_width": 1.0}) == Quadrat(1.0, 0.25)
    assert quadrat_of({"area": 0.1}) == Quadrat(math.sqrt(0.1), math.sqrt(0.1))  # exactly a square
    assert quadrat_of({"row_length": 3, "row_spacing": 0.15}) == Quadrat(0.15, 3)
    assert quadrat_of({"side": 20}) == Quadrat(0.2, 0.2)
    assert quadrat_of({"area": 27.0}) is None  # a strip of the combine
    assert quadrat_of({}) is None


def test_the_corner_has_the_name_that_a_compass_gives_it():
    assert corner_said(None) == "the corner at the lower left on the map"
    assert [corner_said(b) for b in (0, 90, 180, 45)] == [
        "the south-west corner", "the north-west corner", "the north-east corner", "the west corner",
    ]  # fmt: skip


def test_whole_blocks_go_to_one_person_with_the_reason():
    four = {"1": 5, "2": 5, "3": 5, "4": 5}
    assert allot(["Ada", "Ben"], four).blocks == {"Ada": ("1", "2"), "Ben": ("3", "4")}
    assert allot(["Ada", "Ben", "Cy"], four).blocks == {"Ada": ("1",), "Ben": ("2", "3"), "Cy": ("4",)}
    uneven = allot(["Ada", "Ben"], {"1": 8, "2": 2, "3": 6})
    assert uneven.blocks == {"Ada": ("1",), "Ben": ("2", "3")}
    assert (uneven.why, allot(["Ada"], four).why) == (WHY, WHY_ALONE)
    crowd = allot(list("abcdef"), {"1": 4, "2": 4})
    assert sorted(b for own in crowd.blocks.values() for b in own) == ["1", "2"]
    assert crowd.why == WHY_SHARED
    assert allot([], four).blocks == {}
