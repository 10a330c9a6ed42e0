"""A value unlike those beside it is asked about; few things that are counted, and growth, aren't."""

import pytest

from apercu_core.measures.entries import evaluate
from apercu_core.measures.neighbours import Expected, expected_from
from apercu_core.measures.sheets import SHEETS


def test_the_other_plots_of_the_treatment_say_what_is_usual():
    assert expected_from([2400, 3000, 2700], past=None) == Expected("beside", 800.0, 9000.0, (2400, 3000))
    assert expected_from([2400], past=None) is None
    assert expected_from([0, 2400, 3000], past=2000) is None


def test_with_too_few_others_only_a_slip_of_ten_is_told_from_growth():
    asked = expected_from([40], past=7.0)
    assert asked == Expected("past", 1.0, 49.0, (7.0, 7.0))
    assert asked.low <= 35 <= asked.high  # grown five times
    assert not asked.low <= 70 <= asked.high


def test_a_few_things_in_a_frame_vary_many_times_by_chance():
    frame = 1 / 0.25  # one weed in a frame, per m²
    weeds = expected_from([4.0, 8.0, 4.0], None, counted=frame)
    assert (weeds.low, weeds.high) == (0.0, 120.0)  # 30 in a frame
    stand = expected_from([240.0, 300.0, 260.0], None, counted=frame)
    assert (stand.low, stand.high) == (80.0, 900.0)


@pytest.mark.parametrize(
    ("typed", "asked"), [("2.6", False), ("26", True), ("0.26", True), ("0", True), ("8.9", False)]
)
def test_a_slip_of_the_decimal_point_is_asked_about_and_never_refused(typed, asked):
    beside = expected_from([2.4, 3.0, 2.7], None)
    entered = evaluate(SHEETS["figure"], {"value": typed}, {}, unit="t/ha", expected=beside)
    assert bool(entered.questions) is asked
    if asked:
        said = f"{float(typed):g} t/ha is unlike the other plots of this treatment, which have 2.4 to 3 t/ha. "
        assert entered.questions == (said + "Check the decimal point and the unit, or confirm it.",)


def test_the_question_is_asked_in_the_readers_units():
    beside = expected_from([], past=3000.0)
    entered = evaluate(SHEETS["figure"], {"value": "100"}, {}, unit="kg/ha", system="us", expected=beside)
    assert entered.questions[0].startswith("100 lb/ac is unlike the last value of this plot, 2677 lb/ac.")
