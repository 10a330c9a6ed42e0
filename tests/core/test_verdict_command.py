"""`./apercu verdict`: the board of a table, by the same core as the station."""

import csv
import json

import numpy as np
import pytest

from apercu_core.errors import Refused
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.reporting.board_table import read_board_specification
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from verdict_cli.__main__ import FEW, main

NAMES = ("bare", "oat", "rye")
SPEC = {
    "design": "randomised_complete_block", "treatment": "cover", "block": "block", "control": "bare",
    "measures": [
        {"column": "yield", "kind": "value", "wanted": "more", "margin": 0.5},
        {"column": "weeds", "kind": "count", "area": "m2", "wanted": "less", "margin": 50, "margin_is": "percent"},
        {"column": "stand", "kind": "k_of_n", "of": "looked", "wanted": "neither", "margin": 10},
    ],
}  # fmt: skip


def table(boards=1, **changes):
    rng = np.random.default_rng(boards)
    rows = []
    for board in range(boards):
        for block in "ABCD":
            for i, cover in enumerate(NAMES):
                rows.append({
                    "field": f"F{board}", "block": block, "cover": cover, "yield": f"{8 + i + rng.normal(0, 0.4):.3f}",
                    "weeds": int(rng.poisson(30 / (1 + 3 * i))), "m2": "0.5" if block == "A" else "0.25",
                    "stand": int(rng.binomial(40, 0.8 - 0.2 * i)), "looked": 40, **changes,
                })  # fmt: skip
    return rows


def run(tmp_path, capsys, rows, spec):
    data, asked = tmp_path / "t.csv", tmp_path / "s.json"
    with data.open("w", newline="") as file:
        writer = csv.DictWriter(file, rows[0])
        writer.writeheader()
        writer.writerows(rows)
    asked.write_text(json.dumps(spec))
    code = main([str(data), str(asked)])
    shown = capsys.readouterr()
    return code, [json.loads(line) for line in shown.out.splitlines()], shown.err


def test_it_says_what_the_core_says_of_the_same_trial(tmp_path, capsys):
    rows = table()
    code, [board], _ = run(tmp_path, capsys, rows, SPEC)
    assert (code, board["board"], [m["column"] for m in board["measures"]]) == (0, None, ["yield", "weeds", "stand"])
    plots = tuple(PlotFacts(str(i), row["block"], row["cover"]) for i, row in enumerate(rows))
    areas = {str(i): float(row["m2"]) for i, row in enumerate(rows)}
    values = {
        "yield": {str(i): [float(row["yield"])] for i, row in enumerate(rows)},
        "weeds": {str(i): [row["weeds"] / areas[str(i)]] for i, row in enumerate(rows)},
        "stand": {str(i): [100 * row["stand"] / 40] for i, row in enumerate(rows)},
    }
    weeds = Asked("weeds", "1/m²", Margin(50, "percent"), "lower", kind="count")
    stand = Asked("stand", "%", Margin(10), kind="k-of-n")
    measures = [
        Recorded(Asked("yield", "", Margin(0.5), "higher"), values["yield"]),
        Recorded(weeds, values["weeds"], area=1.0, areas=areas),
        Recorded(stand, values["stand"], examined={label: [40.0] for label in areas}),
    ]
    reading = read_trial(TrialFacts(plots, "bare", "unknown"), "rcbd", measures, How(), "bare")
    for shown, read in zip(board["measures"], reading.measures, strict=True):
        assert shown["refused"] is None
        for cell, own in zip(shown["cells"], read.cells, strict=True):
            assert (cell["treatment"], cell["verdict"]) == (own.treatment, own.verdict.value)
            for name, value in (("estimate", own.estimate), ("low", own.lower), ("high", own.upper), ("p", own.p)):
                assert cell[name] == pytest.approx(value)
            assert (cell["blocks_if_it_stays"], cell["blocks_for_80"]) == (own.blocks, own.blocks_likely)
            assert cell["sentence"].endswith((".", "!"))
        family = read.analysis.families[0]
        assert {m["treatment"]: m["mean"] for m in shown["means"]} == pytest.approx(
            dict(zip(family.labels, family.mean, strict=True))
        )
    assert "not-randomised" in {doubt["id"] for doubt in board["doubts"]}


def test_a_column_parts_the_file_into_boards_that_are_read_one_by_one_in_their_order(tmp_path, capsys):
    rows = table(FEW + 2)
    code, boards, _ = run(tmp_path, capsys, rows, {**SPEC, "board": "field"})
    assert (code, [one["board"] for one in boards]) == (0, [f"F{i}" for i in range(FEW + 2)])
    alone = [row for row in rows if row["field"] == "F7"]
    assert run(tmp_path, capsys, alone, {**SPEC, "board": "field"})[1] == [boards[7]]


DESIGNS = {
    "completely_randomised": ({}, {}),
    "paired_strips": ({"block": "block"}, {}),
    "incomplete_block": ({"block": "block"}, {}),
    "latin_square": ({"row": "r", "column": "c"}, {}),
    "split_plot": ({"block": "block", "whole_plot_factor": "kill", "treatment": ["cover", "kill"]}, {}),
    "strip_plot": ({"block": "block", "treatment": ["cover", "kill"]}, {}),
}


@pytest.mark.parametrize("design", DESIGNS)
@pytest.mark.parametrize("control", [True, False])
def test_every_design_is_read_with_and_without_a_control(tmp_path, capsys, design, control):
    rng = np.random.default_rng(3)
    columns, _ = DESIGNS[design]
    rows = []
    for i, block in enumerate("ABCD"):
        for j, cover in enumerate((*NAMES, "vetch") if design == "latin_square" else NAMES):
            for kill in ("early", "late") if "treatment" in columns else ("",):
                if design == "incomplete_block" and cover == NAMES[i % 3]:
                    continue
                values = {"yield": f"{8 + j + rng.normal(0, 0.4):.3f}", "weeds": int(rng.poisson(20 / (1 + j)))}
                rows.append({"block": block, "cover": cover, "kill": kill, "r": i, "c": (i + j) % 4, **values})
    if design == "paired_strips":
        rows = [row for row in rows if row["cover"] != "rye"]
    measures = [SPEC["measures"][0], {"column": "weeds", "kind": "count", "wanted": "less", "margin": 5}]
    spec = {"design": design, "treatment": "cover", "measures": measures, **columns}
    if control:
        spec["control"] = ["bare", "early"] if "treatment" in columns else "bare"
    code, [board], err = run(tmp_path, capsys, rows, spec)
    assert (code, err) == (0, "")
    names = {row["cover"] + (f":{row['kill']}" if row["kill"] else "") for row in rows}
    for shown in board["measures"]:
        assert shown["refused"] is None
        assert {one["treatment"] for one in shown["means"]} == names
        assert len(shown["cells"]) == len(names) - 1
        assert all(cell["low"] < cell["estimate"] < cell["high"] for cell in shown["cells"])


@pytest.mark.parametrize(
    ("spec", "rows", "says"),
    [
        ({**SPEC, "design": "spiral"}, table(), "design must be one of completely_randomised"),
        ({**SPEC, "colour": 1}, table(), "'colour' isn’t known"),
        ({**SPEC, "block": None}, table(), "needs 'block'"),
        ({**SPEC, "control": None, "comparison": "dunnett"}, table(), "need 'control'"),
        ({**SPEC, "measures": []}, table(), "at least one measure"),
        ({**SPEC, "measures": [{"column": "stand", "kind": "k_of_n"}]}, table(), "n of k of n"),
        ({**SPEC, "measures": [{"column": "height"}]}, table(), "no column 'height'"),
        (SPEC, table(weeds="2,5"), "Line 2: 'weeds' is '2,5'"),
        (SPEC, table(weeds="2.5"), "counts are whole numbers"),
        (SPEC, table(stand="41"), "41 of 40"),
        (SPEC, table(m2="0"), "must be a number above 0"),
        (SPEC, table(cover=""), "'cover' is empty"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_refused_with_one_message_and_nothing_else(tmp_path, capsys, spec, rows, says):
    code, boards, err = run(tmp_path, capsys, rows, spec)
    assert (code, boards, err.count("\n")) == (2, [], 1)
    assert says in err


def test_a_measure_that_has_no_answer_says_why_and_leaves_the_others(tmp_path, capsys):
    _, [board], _ = run(tmp_path, capsys, table(weeds=0), SPEC)
    refused = {one["column"]: one["refused"] for one in board["measures"]}
    assert refused["yield"] is None
    assert refused["weeds"].startswith("Nothing was counted in any plot")
    _, [gone], _ = run(tmp_path, capsys, table(), {**SPEC, "control": "fallow"})
    assert all("'fallow' has no plots" in one["refused"] for one in gone["measures"])


def test_a_margin_that_is_no_number_above_zero_is_refused():
    for margin in (0, -1, "5"):
        with pytest.raises(Refused, match="margin"):
            read_board_specification({**SPEC, "measures": [{"column": "yield", "margin": margin}]})
