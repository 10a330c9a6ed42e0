"""Measures that people make themselves: formulas as written, what can't be, and the values by hand."""

from dataclasses import replace

import pytest

from apercu_core.errors import Refused
from apercu_core.measures.entries import evaluate
from apercu_core.measures.expressions import value_of
from apercu_core.measures.own import (
    Grade,
    OwnField,
    OwnMeasure,
    OwnNumber,
    grades_from,
    grades_said,
    own_from,
    own_sheet,
    ranges_of_own,
)
from apercu_core.measures.own_checks import require_own
from apercu_core.measures.settings import settings_for
from apercu_core.measures.written_formulas import Named, read_formula

NUMBERS = {"Mass": Named("f1"), "Mass of ears": Named("f2"), "Area cut": Named("n1"), "Leaf": Named("f3", True)}
GIVEN = {"f1": 6.0, "f2": 4.0, "n1": 0.5, "f3": [1.0, 2.0, 6.0]}


def made(formula, given=GIVEN):
    return value_of(read_formula(formula, NUMBERS).jsonata, given)


@pytest.mark.parametrize(
    ("formula", "value"),
    [
        ("Mass + Mass of ears × 2", 14.0),  # the longer name is meant, and × goes before +
        ("(mass + mass  of ears)*2", 20.0),
        ("Mass ÷ Area cut − 1", 11.0),
        ("Mass / Area cut / 2", 6.0),
        ("2^Mass of ears^0.5", 4.0),  # powers from the right
        ("-Mass + 1,5", -4.5),
        ("mean(Leaf) + number(Leaf) + highest(Leaf) - lowest(Leaf) + sum(Leaf)", 20.0),
        ("sqrt(Mass of ears) + ln(2.718281828459045)", 3.0),
    ],
)
def test_a_written_formula_is_worked_out_as_on_paper(formula, value):
    assert made(formula) == pytest.approx(value, abs=1e-12)


@pytest.mark.parametrize(
    ("formula", "said"),
    [
        ("", "Write the formula"),
        ("2 + 3", "names none of the fields"),
        ("Mass +", "can’t be read"),
        ("Mass × Straw", "“Straw”, which isn’t a field. It can name Mass, Mass of ears, Area cut and Leaf."),
        ("Mass × Leaf", "several values as one number"),
        ("mean(Mass)", "isn’t a field of several values"),
        ("Mass if Mass else 2", "“if”"),
        ("Mass[0]", "isn’t arithmetic"),
        ("Mass % 2", "a sign that isn’t"),
        ("(" * 250 + "Mass" + ")" * 40, "can’t be read"),
        ("Mass" + "+Mass" * 80, "letters"),
        ('Mass + "x"', "“x”"),
        ("__import__(Mass)", "“__import__”"),
    ],
)
def test_what_isn_t_arithmetic_over_the_fields_is_refused_with_what_it_is(formula, said):
    with pytest.raises(Refused) as refusal:
        read_formula(formula, NUMBERS)
    assert said in refusal.value.message


def test_grades_are_read_with_their_numbers_or_numbered_in_order():
    assert grades_from("0 none\n 2,5  some plants \n-1 dead") == (
        Grade("none", 0.0), Grade("some plants", 2.5), Grade("dead", -1.0),
    )  # fmt: skip
    assert grades_from("thin\nclosed") == (Grade("thin", 1.0), Grade("closed", 2.0))
    assert grades_from(grades_said(grades_from("0.125 a\n100000.5 b"))) == grades_from("0.125 a\n100000.5 b")
    with pytest.raises(Refused, match="“closed” has no number"):
        grades_from("1 thin\nclosed")


EARS = OwnMeasure(
    (OwnField("Mass", unit="g"), OwnField("Cover", "choice", grades=grades_from("1 thin\n3 closed")),
     OwnField("Note", "text", optional=True)),
    formula="Mass × Cover / Area cut", numbers=(OwnNumber("Area cut", 0.5, "m²"),), plausible=(1.0, 900.0),
)  # fmt: skip


def entered(own, typed, **kept):
    sheet = own_sheet(require_own(own), "Ears")
    return evaluate(sheet, typed, settings_for(sheet, {}), unit="g/m²", **kept)


def test_values_are_those_worked_out_by_hand_in_either_units():
    assert entered(EARS, {"f1": "120", "f2": "3 Closed"}).value == pytest.approx(720)  # 120 × 3 / 0.5
    assert entered(EARS, {"f1": "1 lb", "f2": "1"}).value == pytest.approx(907.185, rel=1e-5)
    assert entered(EARS, {"f1": "4", "f2": "1 thin"}, system="us").value == pytest.approx(226.796, rel=1e-5)  # ounces
    with pytest.raises(Refused, match="“dense” isn’t one of 1 thin and 3 closed"):
        entered(EARS, {"f1": "120", "f2": "dense"})
    zero = replace(EARS, formula="Mass / (Cover − 1)", numbers=())
    with pytest.raises(Refused, match="No value can be worked out"):
        entered(zero, {"f1": "120", "f2": "1"})


def test_a_number_without_a_unit_isn_t_taken_for_one_in_the_measure_s_unit():
    ratio = OwnMeasure((OwnField("Ratio"), OwnField("Mass", unit="kg")), formula="Ratio × Mass")
    sheet = own_sheet(require_own(ratio), "Yield")
    pounds = evaluate(sheet, {"f1": "2", "f2": "10"}, {}, unit="t/ha", system="us")
    assert pounds.value == pytest.approx(2 * 10 * 0.45359237)
    alone = own_sheet(require_own(OwnMeasure((OwnField("Yield"),))), "Yield")
    assert evaluate(alone, {"f1": "3"}, {}, unit="t/ha").value == 3


def test_ends_follow_from_the_kind_and_all_of_it_comes_back_from_what_is_kept():
    share = require_own(OwnMeasure((OwnField("Share"),), "percentage"))
    assert ranges_of_own(share).possible == (0.0, 100.0)
    score = require_own(OwnMeasure((OwnField("Cover", "choice", grades=grades_from("0 no\n4 all")),), "score"))
    assert ranges_of_own(score).possible == (0.0, 4.0)
    assert own_from(require_own(EARS).as_json) == require_own(EARS)
    assert own_sheet(replace(EARS, parts="layer"), "x").parts_make == "mean"
    assert own_sheet(replace(EARS, parts="cut"), "x").parts_make == "sum"


def test_a_note_before_the_value_isn_t_taken_for_it():
    own = require_own(OwnMeasure((OwnField("Note", "text", optional=True), OwnField("Yield"))))
    sheet = own_sheet(own, "Yield")
    assert (sheet.said, sheet.fields[1].bare) == ("Yield, as typed", False)
    assert evaluate(sheet, {"f2": "3"}, {}, unit="t/ha").value == 3


@pytest.mark.parametrize(
    ("changes", "where", "said"),
    [
        ({"fields": (OwnField("Note", "text"),)}, "formula", "Only notes are typed"),
        ({"fields": ()}, "fields", "1 to 12 fields"),
        ({"fields": (OwnField(" "),)}, "fields.0.name", "begins with a letter"),
        ({"fields": (OwnField("Mean"),)}, "fields.0.name", "something else"),
        ({"fields": (OwnField("Mass"), OwnField("mass"))}, "fields.1.name", "there twice"),
        ({"fields": (OwnField("Mass", least=5, most=5),)}, "fields.0.most", "above the lowest"),
        ({"fields": (OwnField("Cover", "choice", grades=(Grade("a", 1.0),)),)}, "fields.0.grades", "2 to 20"),
        ({"fields": (OwnField("Mass"), OwnField("Area")), "formula": "Mass"}, "formula", "doesn’t use Area"),
        ({"fields": (OwnField("Mass"), OwnField("Area"))}, "formula", "write the formula"),
        ({"fields": (OwnField("Mass", optional=True),)}, "fields.0.optional", "can’t be left empty"),
        ({"fields": (OwnField("Mass"),), "kind": "count"}, "kind", "whole numbers added up"),
        ({"fields": (OwnField("Mass"),), "kind": "score"}, "possible", "lowest and the highest score"),
        ({"fields": (OwnField("Mass"),), "kind": "percentage", "possible": (0, 120)}, "possible", "0 to 100"),
        ({"fields": (OwnField("Mass"),), "plausible": (5, 2)}, "plausible", "above the lowest"),
        ({"fields": (OwnField("Mass"),), "plausible": (0, 9), "possible": (1, 8)}, "plausible", "inside"),
        ({"fields": (OwnField("Mass"),), "samples": 99}, "samples", "1 to 24"),
    ],
)
def test_what_can_t_be_is_told_at_its_place(changes, where, said):
    with pytest.raises(Refused) as refusal:
        require_own(OwnMeasure(**changes))
    assert said in next(place.what for place in refusal.value.places if place.where == where)


def test_a_count_adds_up_whole_numbers():
    pods = OwnMeasure((OwnField("Full", "whole"), OwnField("Empty", "whole")), "count", formula="Full + Empty")
    sheet = own_sheet(require_own(pods), "Pods")
    assert (sheet.values, evaluate(sheet, {"f1": "7", "f2": "2"}, {}).value) == ("count", 9)
    with pytest.raises(Refused, match="whole numbers added up"):
        require_own(replace(pods, formula="Full + 2 × Empty"))
