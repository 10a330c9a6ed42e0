"""Codes of treatments: short, all different, and a person can tell from them what a treatment is."""

from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.design.codes import LONGEST, codes_for, codes_of_levels

NAMES = st.lists(st.text(min_size=1, max_size=30), unique=True, min_size=1, max_size=40)


def of_crossing(factors, **given):
    return codes_of_levels(
        factors, [dict(zip(factors, one, strict=True)) for one in product(*factors.values())], **given
    )


@given(st.lists(st.text(min_size=1, max_size=30), unique=True, min_size=1, max_size=40))
def test_codes_are_short_and_all_different(names):
    codes = codes_for(names)
    assert len(set(codes)) == len(names)
    assert all(1 <= len(code) <= 6 for code in codes)


@pytest.mark.parametrize(
    ("names", "codes"),
    [
        (["Bare stubble", "Winter camelina", "Black oat"], ["BS", "WC", "BO"]),
        (["Black oat", "Bristle oat"], ["BO", "BR"]),
        (["Öat", "0", "40"], ["OAT", "0", "40"]),
    ],
)
def test_codes_are_what_a_person_would_write(names, codes):
    assert codes_for(names) == codes


@given(st.lists(NAMES.map(lambda levels: levels[:5]), min_size=1, max_size=3))
def test_codes_of_levels_are_short_and_all_different_whatever_the_levels(levels):
    factors = {f"factor {n}": names for n, names in enumerate(levels)}
    codes = of_crossing(factors)
    assert len({code.casefold() for code in codes}) == len(codes)
    assert all(1 <= len(code) <= LONGEST for code in codes)


@pytest.mark.parametrize(
    ("factors", "codes"),
    [
        ({"cover": ["Vetch", "Oat"], "kill": ["early", "late"]}, ["V-early", "V-late", "O-early", "O-late"]),
        (
            {"kill": ["4 weeks before", "2 weeks before"], "N": ["0 kg N", "40 kg N/ha"]},
            ["4w-N0", "4w-N40", "2w-N0", "2w-N40"],
        ),
        ({"cover": ["none", "oat"], "N": ["none", "N 40"]}, ["none-N0", "none-N40", "oat-N0", "oat-N40"]),
        ({"cover": ["Vetch", "Vicia"], "sown": ["July", "August"]}, ["Vetch-J", "Vetch-A", "Vicia-J", "Vicia-A"]),
        (
            {"cover": ["Black oat", "Bristle oat", "Bare stubble"], "tillage": ["ploughed", "no-till"]},
            ["BO-P", "BO-NT", "BR-P", "BR-NT", "BS-P", "BS-NT"],
        ),
        ({"seed": ["1,000 kg", "1,500 kg"], "roller": ["with", "no"]}, ["1000k-W", "1000k-N", "1500k-W", "1500k-N"]),
    ],
)
def test_codes_say_the_levels(factors, codes):
    assert of_crossing(factors) == codes


def test_a_code_that_is_taken_isn_t_given_again():
    codes = of_crossing({"cover": ["Vetch", "Oat"], "kill": ["early", "late"]}, taken=["v-late"])
    assert "V-late" not in codes
    assert len(set(codes)) == 4
