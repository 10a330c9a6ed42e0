"""Rules as data: one bundle, one evaluator, and the vectors that the browser's must answer too."""

import json
from concurrent.futures import ThreadPoolExecutor

import pytest

from apercu_core.errors import Refused
from apercu_core.measures.entries import evaluate
from apercu_core.measures.expressions import NO_VALUE, holds, value_of
from apercu_core.measures.rules import bundle
from apercu_core.measures.sheet import Sheet, SheetField
from tests.rules import vectors


def test_the_vectors_are_what_the_core_answers():
    assert vectors.FILE.read_text(encoding="utf-8") == vectors.written()


def test_the_bundle_is_plain_data_and_its_hash_is_of_all_of_it():
    rules = bundle()
    assert json.loads(json.dumps(rules, allow_nan=False)) == rules
    assert {sheet["key"] for sheet in rules["sheets"]} >= {"figure", "readings", "moist-yield-strip"}
    assert len(rules["hash"]) == 64
    stand = next(one for one in rules["measures"] if one["key"] == "stand")
    assert (stand["zero_when"], stand["possible"]) == (["failed"], [0, 1e5])


@pytest.mark.parametrize(("formula", "given", "value"), [
    ("a / b", {"a": 7, "b": 2}, 3.5), ("$sum(parts.(mass * share))", {"parts": [{"mass": 2, "share": 3}]}, 6),
    ("$average(x)", {"x": [1, 2, 6]}, 3), ("$count(x)", {"x": [5.0]}, 1), ("a > 3 ? a : 0", {"a": 4}, 4),
])  # fmt: skip
def test_formulas_know_lists_parts_and_choices(formula, given, value):
    assert value_of(formula, given) == value


@pytest.mark.parametrize("formula", ["a / 0", "b + 1", "a > 3", "'a'", "$power(10, 400)", "$error('no')", "$sqrt(-1)"])
def test_what_makes_no_number_is_refused_and_never_a_value(formula):
    with pytest.raises(Refused, match=NO_VALUE):
        value_of(formula, {"a": 4})
    assert holds("a > 3", {"a": 4})
    assert not holds("a", {"a": 4})
    assert not holds("b > 3", {"a": 4})


def test_formulas_are_evaluated_by_many_threads_at_once_without_mixing_them_up():
    def work(n):
        return [value_of(f"a * {k} + b", {"a": n, "b": k}) == n * k + k for k in range(40)]

    with ThreadPoolExecutor(8) as pool:
        assert all(all(found) for found in pool.map(work, range(64)))


def test_fields_that_are_chosen_written_or_dated():
    fields = (
        SheetField("stage", "Stage", "", kind="choice", choices=("boot", "heading")),
        SheetField("seen", "Seen at", "", kind="moment"), SheetField("note", "Note", "", kind="text"),
    )  # fmt: skip
    sheet = Sheet("stage", "Stage", fields, (), "stage = 'heading' ? 2 : 1", "")
    typed = {"stage": "Heading ", "seen": "2026-05-03 14:30", "note": " late "}
    entered = evaluate(sheet, typed, {})
    assert entered.value == 2
    assert entered.typed == {"stage": "heading", "seen": "2026-05-03T14:30:00", "note": "late"}
    for key, text, says in (
        ("stage", "milk", "isn’t one of boot and heading"), ("seen", "May", "isn’t a date and time"),
        ("note", "", "empty"),
    ):  # fmt: skip
        with pytest.raises(Refused, match=says):
            evaluate(sheet, {**typed, key: text}, {})
