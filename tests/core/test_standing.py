"""What counts come to while they are taken, in words: worked by hand."""

import random

import pytest

from apercu_core.agronomy.action_threshold import against_threshold
from apercu_core.agronomy.stand import emergence
from apercu_core.measures.expressions import found_in
from apercu_core.measures.standing import RULES, SownThere, stand_said, threshold_said

SOWN = SownThere(400, 300, 20, assumed=False)


def test_a_stand_is_told_against_what_was_sown():
    # 240 of 400 live seeds: 60 %; 20 kg/ha gave 240, so 300 would have taken 20 × 300 / 240 = 25 kg/ha
    assert stand_said([230, 250], SOWN, "metric") == (
        "240 plants/m² of 300 plants/m² expected: 60 % of the live seed stands as plants. "
        "25 kg/ha in place of 20 kg/ha would have given what was expected."
    )
    assert stand_said([0], SownThere(400, 300, 20, assumed=True), "metric") == (
        "0 plants/m²: 0 % of the live seed stands as plants. Some facts of the seed are assumed: see Sow."
    )
    assert stand_said([240], SownThere(None, None, None, assumed=False), "metric") == ""
    assert "22.3 lb/ac in place of 17.8 lb/ac" in stand_said([240], SOWN, "us")


@pytest.mark.parametrize(
    ("values", "threshold", "says"),
    [
        ([12.0], 10, "Threshold 10 weeds/m²: count at least 2 frames to tell."),
        # mean 16, sd 2, n 4: half-width t(0.95; 3) 2.353 × 2 / √4 = 2.35
        ([14, 16, 18, 16], 10, "Above the threshold of 10 weeds/m²: 16 weeds/m² on average of 4 frames"),
        ([14, 16, 18, 16], 20, "Below the threshold of 20 weeds/m²: 16 weeds/m² on average of 4 frames"),
        ([14, 16, 18, 16], 15.5, "Can’t tell yet: 16 weeds/m² on average of 4 frames, the threshold is 15.5 weeds/m²."),
        ([10, 10, 10], 10, "Above the threshold of 10 weeds/m²"),
    ],
)
def test_a_threshold_is_passed_or_not_or_cannot_be_told_yet(values, threshold, says):
    assert threshold_said(values, threshold, "weeds/m²", "frames", "metric").startswith(says)


def test_how_many_more_would_tell_is_said_or_that_none_would():
    said = threshold_said([14, 16, 18, 16], 15.5, "weeds/m²", "frames", "metric")
    assert "more would tell, if they are like these." in said
    near = threshold_said([14, 16, 18, 16], 16.0, "weeds/m²", "frames", "metric")
    assert near.endswith("no reasonable number of frames would tell.")


def test_the_rules_that_a_device_has_answer_as_the_calculations_do():
    drawn = random.Random(1)
    for _ in range(40):
        values = [drawn.gauss(20, drawn.choice([1, 5, 15])) for _ in range(drawn.randint(2, 130))]
        threshold = drawn.choice([15, 20, 20.1, 22, 30])
        wanted = against_threshold(values, threshold)
        found = found_in(RULES["threshold"], {**RULES["given"], "values": values, "threshold": threshold})
        undecided = "more_would_tell" if wanted.more else "too_near"
        assert found["say"] == (undecided if wanted.decision == "cannot_tell" else wanted.decision)
        assert (found["plain"]["more"] or None) == wanted.more
        limits = (found["measure"]["lower"], found["measure"]["upper"])
        assert limits == pytest.approx((wanted.lower, wanted.upper), rel=1e-9)
    given = {"values": [230, 250], "live_seeds_m2": 400, "expected_m2": 300, "bulk_kg_ha": 20}
    sown, wanted = found_in(RULES["sown"], given), emergence(240, 400, 20, 300)
    assert (sown["plain"]["percent"], sown["rate"]["wanted"]) == (wanted.percent, wanted.rate_for_target_kg_ha)
