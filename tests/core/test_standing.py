"""What counts come to while they are taken, in words: worked by hand."""

import pytest

from apercu_core.reporting.standing import stand_said, threshold_said


def test_a_stand_is_told_against_what_was_sown():
    # 240 of 400 live seeds: 60 %; 20 kg/ha gave 240, so 300 would have taken 20 × 300 / 240 = 25 kg/ha
    assert stand_said(240, "plants/m²", 400, 300, 20, False, "metric") == (
        "240 plants/m² of 300 plants/m² expected: 60 % of the live seed stands as plants. "
        "25 kg/ha in place of 20 kg/ha would have given what was expected."
    )
    assert stand_said(0, "plants/m²", 400, 300, 20, True, "metric") == (
        "0 plants/m²: 0 % of the live seed stands as plants. Some facts of the seed are assumed: see Sow."
    )
    assert stand_said(240, "plants/m²", None, None, None, False, "metric") == ""
    assert "22.3 lb/ac in place of 17.8 lb/ac" in stand_said(240, "plants/m²", 400, 300, 20, False, "us")


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
    assert "more frames would tell, if they are like these." in said
    near = threshold_said([14, 16, 18, 16], 16.0, "weeds/m²", "frames", "metric")
    assert near.endswith("no reasonable number of frames would tell.")
