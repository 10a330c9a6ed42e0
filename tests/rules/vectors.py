"""The rules, and entries with what they come to: made by the core, and run by the tests of the core and of the browser.

`python -m tests.rules.vectors` writes `entries.json` anew after a change of the rules.
"""

import json
from dataclasses import asdict
from pathlib import Path

from apercu_core.errors import Refused
from apercu_core.measures.catalogue import CATALOGUE
from apercu_core.measures.entries import evaluate
from apercu_core.measures.neighbours import expected_from
from apercu_core.measures.own import OwnField, OwnMeasure, OwnNumber, grades_from, own_sheet, ranges_of_own
from apercu_core.measures.own_checks import require_own
from apercu_core.measures.ranges import ranges_of
from apercu_core.measures.rules import ShownUnit, bundle, for_device
from apercu_core.measures.settings import settings_for
from apercu_core.measures.sheets import SHEETS
from apercu_core.measures.standing import SownThere, stand_said, threshold_said
from apercu_core.units import shown_in

FILE = Path(__file__).parent / "entries.json"
STRIP = {"standard": 14.5, "width": 1.5}
MEASURES = [  # sheet, settings, unit, catalogue, name, system
    ("figure", {}, "cm", "crop-height", "Crop height", "metric"),
    ("figure", {}, "cm", "crop-height", "Crop height", "us"),
    ("figure", {}, "%", "", "Ground covered", "metric"),
    ("readings", {}, "cm", "height", "Cover height", "metric"),
    ("readings", {}, "cm", "height", "Cover height", "us"),
    ("soil-layer", {"depth_to": 30}, "% by volume", "soil-moisture", "Soil moisture", "metric"),
    ("soil-mg-per-kg", {"depth_to": 60, "bulk_density": 1.4}, "kg/ha", "soil-nitrate", "Soil nitrate-N", "metric"),
    ("percentage", {}, "%", "", "Disease", "metric"),
    ("failed-area", {"along": 16}, "%", "failed-area", "Failed area", "us"),
    ("k-of-n", {}, "%", "", "Infested plants", "metric"),
    ("score", {"lowest": 1, "highest": 9}, "", "", "Structure", "metric"),
    ("frame-count", {}, "plants/m²", "stand", "Cover stand", "metric"),
    ("frame-count", {}, "plants/m²", "stand", "Cover stand", "us"),
    ("row-count", {"row_spacing": 0.75}, "plants/ac", "crop-stand", "Crop stand", "us"),
    ("moist-yield", {"standard": 14.5}, "t/ha", "grain-yield", "Grain yield", "metric"),
    ("moist-yield-strip", STRIP, "dt/ha", "grain-yield", "Grain yield", "metric"),
    ("moist-yield-strip", {**STRIP, "bushel": 60}, "t/ha", "grain-yield", "Grain yield", "us"),
    ("fresh-yield", {}, "t/ha", "tuber-yield", "Tuber yield", "metric"),
    ("fresh-yield-strip", {"width": 1.5}, "t/ha", "tuber-yield", "Tuber yield", "metric"),
]
OWN_EARS = require_own(OwnMeasure(
    (OwnField("Mass of ears", unit="g", most=5000.0),
     OwnField("Cover", "choice", grades=grades_from("thin\npatchy\nclosed")),
     OwnField("Ears in a metre", "readings"), OwnField("Note", "text", optional=True)),
    formula="Mass of ears × Cover / (Area cut × mean(Ears in a metre)) − 0.5^2",
    numbers=(OwnNumber("Area cut", 0.5, "m²"),), plausible=(10.0, 200.0), possible=(-1.0, 2000.0),
))  # fmt: skip
EARS = {"f1": "120", "f2": "3 closed", "f3": "5 6 7"}
TYPED = {
    "value": ["5", "12,5", "0", "-3", "101", "2000", ".5", "1 200", "7 in", "soon", ""],
    "readings": ["31 28 33.5", "31; 28,5;", "12", "900 900", "31 x", "  ", ";", "12 cm; 31"],
    "concentration": ["10", "10000", "10001", "-1"],
    "count": ["60", "7", "0", "7.5", "400", "100001", "-1", "1e3"],
    "squares": ["3-8 14", "0", "0 5", "80", "81", "1-80", "4;3,3–5", "8-3", "161", "1-9999", "7.5", "all", " "],
    "k": ["3", "12"],
    "n": ["12", "10", "0"],
    "mass": ["25", "0", "100001", "700"],
    "moisture": ["20", "99", "99,5"],
    "area": ["30", "0"],
    "length": ["20", "0", "20 m"],
}


def entries():
    """Each field's values in turn, the others at their first; then the example of each measure of the catalogue."""
    for sheet_key, given, unit, catalogue, name, system in MEASURES:
        sheet = SHEETS[sheet_key]
        first = {field.key: TYPED[field.key][0] for field in sheet.fields}
        tried = [{**first, field.key: text} for field in sheet.fields for text in TYPED[field.key]]
        yield tries(sheet_key, given, unit, catalogue, name, system, tried)
    for system, others, past in (("metric", [180, 240], None), ("us", [], 200.0)):
        tried = [{"value": text} for text in ("190", "20", "2500", "2100", "-1")]
        yield tries("figure", {}, "kg/ha", "", "Seed yield", system, tried, expected_from(others, past))
    for system in ("metric", "us"):
        sheet = own_sheet(OWN_EARS, "Ear mass")
        tried = [
            EARS, {**EARS, "f1": "0"}, {**EARS, "f2": "none"}, {**EARS, "f2": "1 THIN"}, {**EARS, "f2": ""},
            {**EARS, "f3": "5 6 x"}, {**EARS, "f1": "9000"}, {"f1": "120", "f2": "2", "f3": "5"},
        ]  # fmt: skip
        yield tries_on(sheet, settings_for(sheet, {}), "g/m²", system, ranges_of_own(OWN_EARS), tried)
    yield from beyond_what_was_measured()
    for one in CATALOGUE.values():
        given = {**one.settings, **one.example.settings}
        yield tries(one.sheet_key, given, one.unit, one.key, one.name, "metric", [dict(one.example.typed)])


def beyond_what_was_measured():
    for sheet_key, unit, catalogue, tried in (
        (
            "resistance",
            "cm",
            "penetration",
            [{"first": "0.8 1.2"}, {"first": "1", "second": "0.5 1.9"}, {"first": "3"}, {"first": "1;" * 50}],
        ),
        (
            "infiltration",
            "mm/h",
            "infiltration",
            [{"fills": "900", "stopped": "3600"}, {"stopped": "1800"}, {"stopped": "0"}, {"stopped": "1"}, {}],
        ),
    ):
        for system in ("metric", "us"):
            yield tries(sheet_key, {}, unit, catalogue, "", system, tried)


def tries(sheet_key, given, unit, catalogue, name, system, tried, expected=None):
    sheet = SHEETS[sheet_key]
    settings = settings_for(sheet, given)
    ranges = ranges_of(catalogue, sheet_key, settings, name, unit)
    return tries_on(sheet, settings, unit, system, ranges, tried, expected)


def tries_on(sheet, settings, unit, system, ranges, tried, expected=None):
    kept = {"unit": unit, "system": system, "plausible": ranges.plausible, "possible": ranges.possible,
            "expected": expected}  # fmt: skip
    return {
        "measure": {**asdict(for_device(sheet, settings, unit, system, ranges)), "hash": ""},
        "expected": expected and asdict(expected),
        "entries": [{"typed": typed, **outcome(sheet, typed, settings, kept)} for typed in tried],
    }


def outcome(sheet, typed, settings, kept):
    try:
        entered = evaluate(sheet, typed, settings, **kept)
    except Refused as refusal:
        return {"state": "refused", "message": refusal.message}
    found = {"value": entered.value, "derived": entered.derived}
    if entered.bound is not None:
        found["bound"] = entered.bound
    return {"state": "question", "message": entered.questions[0], **found} if entered.questions else {
        "state": "fine", **found
    }  # fmt: skip


def standing():
    """Counts against a threshold, from too few to clear ones, and against what was sown."""
    for system in ("metric", "us"):
        shown, stand, rate = (asdict(ShownUnit(*shown_in(one, system))) for one in ("insects/m²", "plants/m²", "kg/ha"))
        for values in ([], [4.0], [3.0, 5.0, 4.0], [4.0, 4.0], [0.0, 0.0, 0.0], [3.9 + i % 3 / 10 for i in range(120)]):
            for threshold in (0.5, 3.95, 4.0, 40.0):
                said = threshold_said(values, threshold, "insects/m²", "frames", system)
                given = {"values": values, "threshold": threshold}
                yield {"rule": "threshold", "given": given, "units": {"measure": shown}, "each": "frames", "said": said}
        for values in ([], [0.0], [190.0], [200.0, 180.0]):
            for sown in ((250.0, 210.0, 120.0), (250.0, None, 120.0), (None, None, None)):
                there = SownThere(*sown, assumed=len(values) > 1)
                said, given = stand_said(values, there, system), {"values": values, **asdict(there)}
                yield {
                    "rule": "sown",
                    "given": given,
                    "units": {"stand": stand, "rate": rate},
                    "each": "",
                    "said": said,
                }


def written():
    """A line for the rules and one for each measure and each standing."""
    rules, *measures = (json.dumps(one, ensure_ascii=False, sort_keys=True) for one in (bundle(), *entries()))
    stands = [json.dumps(one, ensure_ascii=False, sort_keys=True) for one in standing()]
    return (
        f'{{"rules": {rules}, "measures": [\n' + ",\n".join(measures)
        + '\n], "standing": [\n' + ",\n".join(stands) + "\n]}\n"
    )  # fmt: skip


if __name__ == "__main__":
    FILE.write_text(written(), encoding="utf-8")
