"""The catalogue of measures: each against its worked example, and its formulas against the functions of agronomy."""

import math
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from apercu_core.agronomy.evenness import gaps, patchiness
from apercu_core.agronomy.soil_in_plots import earthworms, infiltration, resistance
from apercu_core.agronomy.stand import stand_from_leaves
from apercu_core.agronomy.weeds import diversity
from apercu_core.errors import Refused
from apercu_core.measures.catalogue import CATALOGUE
from apercu_core.measures.entries import evaluate
from apercu_core.measures.ranges import ranges_of
from apercu_core.measures.settings import settings_for
from apercu_core.measures.sheets import SHEETS
from apercu_core.measures.table import measures_table


def entered(sheet, typed, **given):
    return evaluate(SHEETS[sheet], typed, settings_for(SHEETS[sheet], given))


def masses(*grams):
    return dict(zip(("wet", "tare", "sub_wet", "sub_dry", "sub_tare"), map(str, grams), strict=True))


def listed(values):
    return " ".join("" if v is None else repr(v) for v in values)


@pytest.mark.parametrize("one", CATALOGUE.values(), ids=CATALOGUE)
def test_each_measure_makes_the_value_of_its_example_without_a_question(one):
    held = settings_for(one.sheet, {**one.settings, **one.example.settings})
    ranges = ranges_of(one.key, one.sheet_key, held, one.name, one.unit)
    found = evaluate(
        one.sheet, one.example.typed, held, unit=one.unit, plausible=ranges.plausible, possible=ranges.possible
    )
    assert found.value == pytest.approx(one.example.value, rel=1e-9)
    assert not found.questions
    assert one.possible[0] <= one.plausible[0] <= one.usual <= one.plausible[1] <= one.possible[1]
    assert one.spread[0] <= one.cv_percent <= one.spread[1]


def test_the_table_in_the_documents_is_that_of_the_catalogue():
    assert Path("docs/measures.md").read_text(encoding="utf-8") == measures_table()


WHOLE = st.lists(st.integers(0, 60).map(float), min_size=2, max_size=8)
POSITIVE = st.floats(0.01, 5000, allow_nan=False)


@settings(max_examples=40)
@given(WHOLE, WHOLE.filter(any), st.floats(0.05, 2))
def test_stand_from_leaves_is_that_of_agronomy(leaves, plants, area):
    found = entered("leaf-count", {"leaves": listed(leaves), "leaves_per_plant": listed(plants)}, area=area)
    stand = stand_from_leaves(leaves, area, plants)
    assert found.value == pytest.approx(stand.plants_m2)
    if any(leaves):
        assert found.derived["se"] == pytest.approx(stand.se)


@settings(max_examples=40)
@given(st.lists(st.integers(0, 3000).map(lambda mm: mm / 10), min_size=1, max_size=12).map(sorted), st.floats(5, 60))
def test_gaps_are_those_of_agronomy(positions, longer):
    found = entered("row-gaps", {"positions": listed(positions)}, row_length=3, longer_than=longer)
    known = gaps(positions, 3, longer)
    assert found.value == pytest.approx(known.gaps_per_m)
    assert found.derived["share"] / 100 == pytest.approx(known.share_in_gaps)


@settings(max_examples=40)
@given(st.lists(POSITIVE, min_size=2, max_size=8), POSITIVE)
def test_patchiness_is_that_of_agronomy(frames, floor):
    found = entered("patchiness", {"values": listed(frames)}, floor=floor)
    known = patchiness(frames, floor)
    assert found.value == pytest.approx(known.cv_percent, abs=1e-9)
    assert found.derived["below"] / 100 == pytest.approx(known.share_below_floor)


@settings(max_examples=40)
@given(WHOLE.filter(any))
def test_diversity_is_that_of_agronomy(counts):
    found = entered("diversity", {"counts": listed(counts)})
    known = diversity(counts)
    assert found.value == pytest.approx(known.shannon, abs=1e-12)
    assert found.derived["species"] == known.species


@settings(max_examples=40)
@given(st.lists(st.floats(1, 5000), min_size=1, max_size=7))
def test_infiltration_is_that_of_agronomy(fills):
    stopped = entered("infiltration", {"fills": listed(fills[1:]), "stopped": str(fills[0])})
    assert (stopped.value, stopped.derived) == (None, {})  # what was steady before says nothing of the last one
    assert stopped.bound == pytest.approx(infiltration([*fills[1:], None], fills[0]).below_mm_h)
    found = entered("infiltration", {"fills": listed(fills)})
    known = infiltration(fills)
    assert found.value == pytest.approx(known.value_mm_h)
    assert found.derived["steady"] == float(known.steady)


@settings(max_examples=60)
@given(st.lists(st.lists(st.floats(0.1, 5), min_size=1, max_size=6), min_size=1, max_size=3))
def test_the_depth_of_resistance_is_that_of_agronomy(profiles):
    longest = max(len(one) for one in profiles)
    depths = [5.0 * (i + 1) for i in range(longest)]
    known = resistance(depths, [[*one, *[None] * (longest - len(one))] for one in profiles])
    typed = dict(zip(("first", "second", "third"), map(listed, profiles), strict=False))
    found = entered("resistance", typed)
    assert (found.value, found.bound) == (pytest.approx(known.first_crossing_cm), known.deeper_than_cm)


@settings(max_examples=30)
@given(st.lists(st.tuples(st.integers(0, 30), st.integers(0, 30)).map(sorted), min_size=1, max_size=5))
def test_earthworms_are_those_of_agronomy(blocks):
    adults, worms = ([float(one[i]) for one in blocks] for i in (0, 1))
    known = earthworms(worms, adults)
    found = entered("earthworms", {"worms": listed(worms), "adults": listed(adults)})
    assert (found.value, found.derived["adults_m2"]) == (pytest.approx(known.per_m2), pytest.approx(known.adults_m2))
    assert entered("earthworms", {"worms": listed(worms)}).derived == {}


@pytest.mark.parametrize(
    ("sheet", "typed", "given", "says"),
    [
        ("leaf-count", {"leaves": "3.5", "leaves_per_plant": "3"}, {}, "Leaves are counted"),
        ("leaf-count", {"leaves": "3", "leaves_per_plant": "0 0"}, {}, "No leaf was counted"),
        ("emergence", {"plants": "200", "viable": "100"}, {}, "200 plants from 100 viable seeds"),
        ("log-ratio", {"before": "240", "now": "0"}, {}, "No plant is left"),
        ("row-gaps", {"positions": "12 5"}, {}, "Positions run along the row"),
        ("row-gaps", {"positions": "310"}, {}, "beyond the end of the row"),
        ("patchiness", {"values": "0 0"}, {}, "no spread to give"),
        ("patchiness", {"values": "4"}, {}, "two frames or more"),
        ("light", {"above": "100", "below": "120"}, {}, "swapped"),
        ("half-life", {"start": "100", "now": "100", "days": "9"}, {}, "Nothing has decayed"),
        ("diversity", {"counts": "0 0"}, {}, "Nothing was found"),
        ("infiltration", {"fills": "0 20"}, {}, "more than no time"),
        ("infiltration", {"fills": " ", "stopped": ""}, {}, "time of each fill"),
        ("infiltration", {"stopped": "0"}, {}, "more than 0"),
        ("earthworms", {"worms": "3 1", "adults": "2 2"}, {}, "more adults than worms"),
        ("earthworms", {"worms": "3 1", "adults": "2"}, {}, "as many numbers"),
        ("biomass-sample", masses(90, 10, 20, 30, 5), {}, "heavier dry"),
        ("biomass-sample", masses(90, 10, 200, 30, 5), {}, "whole sample"),
        ("biomass-sample", masses(5, 10, 20, 10, 5), {}, "more than itself"),
        ("carbon-to-nitrogen", {"dry": "10 20", "nitrogen": "1"}, {}, "as many of one"),
        ("carbon-to-nitrogen", {"dry": "10", "nitrogen": "0"}, {}, "no ratio"),
        ("bulk-density", {"dry": "100", "stones": "100"}, {}, "nothing but stones"),
        ("water-content", {"wet": "100", "dry": "110", "tare": "5"}, {}, "heavier dry"),
        ("share-of-mass", {"part": "5", "whole": "4"}, {}, "heavier than the whole"),
        ("relative-yield", {"mixed": "5 5", "alone": "4"}, {}, "as many of one"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_with_what_to_do(sheet, typed, given, says):
    with pytest.raises(Refused, match=says):
        entered(sheet, typed, **given)


def test_one_of_several_samples_is_called_what_is_counted_in():
    named = {key: sheet.sample_name for key, sheet in SHEETS.items() if sheet.sampled}
    assert {named["frame-count"], named["dug-count"], named["row-count"]} == {"frame", "length of row"}
    for sheet in SHEETS.values():
        asks = [setting.name for setting in sheet.settings if setting.key == "frames"]
        assert (sheet.sample_name != "sample") == bool(asks), asks


def test_values_of_samples_by_hand():
    # 1,200 g wet; a quarter of the 300 g taken is 60 g dry: 240 g on 0.25 m².
    assert entered("biomass-sample", masses(1250, 50, 320, 80, 20)).value == pytest.approx(10 * 1200 * 60 / 300 / 0.25)
    # 42 % of 3,000 kg over 24 + 36 kg of nitrogen, not the mean of 35 and 11.7.
    assert entered("carbon-to-nitrogen", {"dry": "2000 1000", "nitrogen": "1.2 3.6"}).value == pytest.approx(1260 / 60)
    ring = math.pi * 2.5**2 * 5
    stones = entered("bulk-density", {"dry": "150", "stones": "26.5"})
    assert stones.value == pytest.approx((150 - 26.5) / (ring - 10))
    assert entered("bulk-density", {"dry": "150"}).value == pytest.approx(150 / ring)
    layer = {"concentration": "50", "form": "no3", "density": "1.4", "stones": "10"}
    assert entered("soil-n-layer", layer, depth_to=30).value == pytest.approx(50 * 0.2259 * 1.4 * 30 * 0.1 * 0.9)
