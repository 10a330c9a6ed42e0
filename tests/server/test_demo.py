"""The demo is what a field could give: values, spreads, stands and dates by the catalogue and the seed."""

from datetime import date, timedelta

import pytest

from demo import growing, harrow_fen, plausible


def test_the_demo_is_plausible():
    assert plausible.implausible() == []


@pytest.mark.parametrize(
    ("changed", "says"),
    [
        ({"STAND": {**growing.STAND, "Radish + vetch": 130}}, "Radish + vetch stands at 130 plants/m²"),
        ({"VISITS": (("Stand count", date(2026, 10, 19), ""), *growing.VISITS[1:])}, "counted 54 days after sowing"),
        ({"VISITS": (growing.VISITS[0], ("Biomass cut", date(2026, 10, 30), ""), *growing.VISITS[2:])},
         "cut after the first frost"),
        ({"VISITS": (*growing.VISITS[:2], ("Weed count", date(2027, 6, 10), ""))}, "counted after they were sprayed"),
    ],
)  # fmt: skip
def test_what_no_field_would_give_is_told(monkeypatch, changed, says):
    for name, value in changed.items():
        monkeypatch.setattr(growing, name, value)
    assert any(says in sentence for sentence in plausible.implausible())


def test_frosts_move_with_the_dates_of_the_demo():
    assert harrow_fen.shifted_day("10-22", timedelta(days=70)) == "12-31"
    assert harrow_fen.shifted_day("10-22", timedelta(days=-30)) == "09-22"
