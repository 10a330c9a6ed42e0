"""Amounts for readers of US units: numbers that come back as they were shown, temperatures, sentences."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.amounts import (
    amounts_in,
    parse_temperature,
    shown_number,
    shown_temperature,
    stored_amount,
    stored_number,
)
from apercu_core.errors import Refused

FEET = 3.280839895


@pytest.mark.parametrize(
    ("metres", "feet"),
    [(3, 9.843), (9.144, 30), (3.048, 10), (149.352, 490), (0.125, 0.4101), (5000, 16404)],  # as the browser shows them
)
def test_lengths_are_round_where_they_were_typed_and_four_digits_else(metres, feet):
    assert shown_number(metres, FEET) == feet
    assert stored_amount(feet, FEET) == pytest.approx(metres, abs=3e-3)


@given(st.integers(1, 500_000).map(lambda mm: mm / 1000))
def test_a_length_that_comes_back_as_shown_is_shown_the_same_again(metres):
    shown = shown_number(metres, FEET)
    again = stored_amount(shown, FEET)
    assert shown_number(again, FEET) == shown
    assert again == pytest.approx(metres, rel=1e-3)


@given(st.floats(0.001, 1e5), st.sampled_from([0.44608956, 0.09290304, 1.0, 0.892179]))
def test_a_number_that_was_only_shown_is_the_stored_one(stored, factor):
    assert stored_number(shown_number(stored, factor), factor, stored) == stored


def test_temperatures_are_points_on_a_scale():
    assert [shown_temperature(c, "us") for c in (-11.5, 0, 4)] == [11.3, 32, 39.2]
    assert [parse_temperature(text, "us") for text in ("11.3", "−12 C", "32 °F")] == [-11.5, -12, 0]
    assert [parse_temperature(text, "metric") for text in ("-11,5", "14F")] == [-11.5, -10]
    with pytest.raises(Refused, match="Type a number in °F"):
        parse_temperature("cold", "us")


@pytest.mark.parametrize(
    ("metric", "us"),
    [
        ("Dry at 60 to 65 °C until dry.", "Dry at 140 to 149 °F until dry."),
        ("30, 60 or 90 cm are common.", "12, 24 or 35 in are common."),
        ("Plots of 6 × 12 m; survives −15 °C.", "Plots of 20 × 39 ft; survives 5 °F."),
        ("base 5 °C, 300 to 480 °C d", "base 41 °F, 540 to 860 °F d"),
        ("3,600 plants/m² in a 0.25 m² frame", "330 plants/ft² in a 2.7 ft² frame"),
        (
            "Two treatments are called 'oat, 40 kg/ha'. It isn’t 3 m long.",
            "Two treatments are called 'oat, 40 kg/ha'. It isn’t 9.8 ft long.",
        ),
        ("Plot 101 holds vetch, 40 kg N.", "Plot 101 holds vetch, 40 kg N."),
        ("“30 m” isn’t a number. 3 mg/kg, 2 months.", "“30 m” isn’t a number. 3 mg/kg, 2 months."),
    ],
)
def test_sentences_have_their_amounts_in_the_reader_s_units(metric, us):
    assert amounts_in(metric, "us") == us
    assert amounts_in(metric, "metric") == metric
