"""Numbers and lists as people read them."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.words import decimals_for, listed, number, p_value, with_unit

ROUNDED = json.loads((Path(__file__).parents[1] / "numbers" / "rounded.json").read_text(encoding="utf-8"))
"""Run by the browser's tests as well: a number is rounded by one rule, wherever it is shown."""


@pytest.mark.parametrize(
    ("value", "decimals", "text"),
    [
        (3.14159, None, "3.14"),
        (2.0, None, "2"),
        (1234.5, None, "1235"),
        (0.00123, None, "0.00123"),
        (0, None, "0"),
        *((one["value"], one["decimals"], one["text"]) for one in ROUNDED),
    ],
)
def test_number(value, decimals, text):
    assert number(value, decimals) == text


def test_with_unit_leaves_no_blank_where_there_is_no_unit():
    assert (with_unit(2, "t/ha"), with_unit(2, "")) == ("2 t/ha", "2")


@given(st.floats(1e-4, 1e4))
def test_the_last_digit_is_worth_at_most_a_third_of_the_standard_error(se):
    decimals = decimals_for(se)
    assert 10.0**-decimals <= se / 3 * (1 + 1e-9) or decimals == 6
    assert 10.0 ** -(decimals - 1) > se / 3 * (1 - 1e-9)


@pytest.mark.parametrize("se", [0.0, float("nan"), float("inf")])
def test_without_a_standard_error_there_are_two_decimals(se):
    assert decimals_for(se) == 2


@pytest.mark.parametrize(
    ("p", "text"), [(0.0002, "p < 0.001"), (0.0123, "p = 0.012"), (0.0999, "p = 0.100"), (0.456, "p = 0.46")]
)
def test_p_value(p, text):
    assert p_value(p) == text


@pytest.mark.parametrize(
    ("names", "text"),
    [
        (["a"], "a"),
        (["a", "b"], "a and b"),
        (list("abc"), "a, b and c"),
        (list("abcdefgh"), "a, b, c, d, e, f and 2 more"),
    ],
)
def test_listed(names, text):
    assert listed(names) == text
