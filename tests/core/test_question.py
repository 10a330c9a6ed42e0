"""The question's sentence and the margins: what contradicts, what doesn't, and what follows a changed margin."""

import pytest

from apercu_core.protocol.question import AskedMargin, contradictions, with_margin

BARLEY = AskedMargin("Barley", "t/ha", 1.0)
COVER = AskedMargin("Ground cover", "%", 10.0)
WEEDS = AskedMargin("Weeds", "weeds/m²", 20.0, percent=True)


@pytest.mark.parametrize(
    ("question", "margins", "says"),
    [
        (
            "Is a difference of at least 0.5 t/ha worth it?",
            [BARLEY],
            "names 0.5 t/ha, and the margin of Barley is 1 t/ha",
        ),
        ("Does rye lift barley by 1 t/ha?", [BARLEY], None),
        ("Does rye lift barley by 1 000 kg/ha?", [BARLEY], None),  # no unit follows the 1
        ("Does rye lift barley by 1000 kg/ha?", [BARLEY], None),
        ("Does rye lift barley by 500 kg/ha?", [BARLEY], "names 500 kg/ha"),
        ("Does rye with 40 kg/ha of nitrogen lift barley?", [BARLEY], None),  # a rate, not a difference
        ("Does any cover lift barley by half a tonne?", [BARLEY], None),
        ("Is cover more by 20 %?", [COVER], "the margin of Ground cover is 10 percentage points"),
        ("Are weeds fewer by 20 %?", [WEEDS, COVER], None),
        ("Are weeds fewer by 30 %?", [WEEDS], "the margin of Weeds is 20 % of the control"),
        ("Barley by 1 t/ha, tubers by 1 t/ha?", [AskedMargin("Tubers", "t/ha", 2.0), BARLEY], None),
    ],
)
def test_a_size_that_is_no_measure_s_margin_is_told(question, margins, says):
    told = contradictions(question, margins)
    assert (len(told), (says or "") in "".join(told)) == (int(says is not None), True)


def test_a_sentence_follows_its_margin_in_the_measure_s_own_unit():
    before, after = AskedMargin("Barley", "t/ha", 0.5), BARLEY
    sentence = "where a difference of at least 0.5 t/ha would change what I do."
    assert with_margin(sentence, before, after) == sentence.replace("0.5", "1")
    assert with_margin("by 500 kg/ha", before, after) == "by 500 kg/ha"  # told as a contradiction instead
    assert with_margin("by 0.7 t/ha", before, after) == "by 0.7 t/ha"
