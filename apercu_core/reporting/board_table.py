"""The board of a table: each row a plot, read as the station reads a trial, one board for each label of a column."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, get_args

from apercu_core.doubts.doubt import Doubt
from apercu_core.errors import Refused
from apercu_core.numbers import is_missing, with_mark
from apercu_core.reading.asked import Asked, How, Recorded, Scale, ValueKind
from apercu_core.reading.found import Cell, MeasureReading
from apercu_core.reading.trial import read_trial
from apercu_core.reporting.sentences import measure_report
from apercu_core.statistics.specification import Design, Method
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Direction

Row = Mapping[str, str]
_DESIGNS: dict[str, Design] = {
    "completely_randomised": "crd", "randomised_complete_block": "rcbd", "paired_strips": "rcbd",
    "latin_square": "latin_square", "split_plot": "split_plot", "strip_plot": "strip_plot",
    "incomplete_block": "incomplete_block",
}  # fmt: skip
_METHODS: dict[str, Method] = {"dunnett": "dunnett", "tukey": "tukey", "lsd": "lsd", "holm": "holm"}
_KINDS: dict[str, ValueKind] = {
    "value": "continuous", "count": "count", "k_of_n": "k-of-n", "score": "score", "percentage": "percentage",
}  # fmt: skip
_WANTED: dict[str, Direction] = {"more": "higher", "less": "lower", "neither": "none"}
BETWEEN = ":"
"""Between the levels of a treatment that is made of factors."""


@dataclass(frozen=True, slots=True)
class TableMeasure:
    """A column of values. `area`: of the samples of a count, m², a number or a column; `of`: the column of n of k."""

    column: str
    kind: ValueKind
    wanted: Direction
    margin: Margin | None
    scale: Scale
    area: float | str = 1.0
    of: str = ""


@dataclass(frozen=True, slots=True)
class BoardSpecification:
    """What each column is. `treatment`: one column, or several factors; `control`: its label, None: there is none."""

    design: Design
    treatment: tuple[str, ...]
    control: str | None
    measures: tuple[TableMeasure, ...]
    method: Method | None
    alpha: float
    block: str = ""
    row: str = ""
    column: str = ""
    whole_plot_factor: str = ""
    incomplete_block: str = ""
    board: str = ""

    @property
    def columns(self) -> tuple[str, ...]:
        """Every column of the table that is named."""
        more = [m.area for m in self.measures if isinstance(m.area, str)] + [m.of for m in self.measures if m.of]
        grouping = (self.block, self.row, self.column, self.whole_plot_factor, self.incomplete_block, self.board)
        return (*self.treatment, *filter(None, grouping), *(m.column for m in self.measures), *more)


def read_board_specification(raw: Any) -> BoardSpecification:
    """From JSON. Raises `Refused` with what is wrong and what is allowed."""
    given = _object(raw, "the specification")
    known = {"design", "treatment", "block", "row", "column", "whole_plot_factor", "incomplete_block", "control",
             "comparison", "alpha", "measures", "board"}  # fmt: skip
    _require_known(given, known, "the specification")
    design = _one_of(given, "design", _DESIGNS, None)
    treatment = _names(given.get("treatment"), "treatment")
    measures = given.get("measures")
    if not isinstance(measures, list) or not measures:
        raise _wrong("measures", "a list with at least one measure")
    alpha = given.get("alpha", 0.05)
    if not _is_number(alpha) or not 0 < alpha < 1:
        raise _wrong("alpha", "a number between 0 and 1")
    comparison = given.get("comparison")
    spec = BoardSpecification(
        design, treatment, _control(given.get("control"), treatment),
        tuple(_measure(one, i) for i, one in enumerate(measures, start=1)),
        None if comparison is None else _one_of(given, "comparison", _METHODS, None), float(alpha),
        **{name: _name(given.get(name, ""), name) for name in (
            "block", "row", "column", "whole_plot_factor", "incomplete_block", "board")},
    )  # fmt: skip
    _require_design(spec)
    return spec


def _require_design(spec: BoardSpecification) -> None:
    needs = {
        "rcbd": ("block",), "latin_square": ("row", "column"), "split_plot": ("block", "whole_plot_factor"),
        "strip_plot": ("block",), "incomplete_block": ("block",),
    }  # fmt: skip
    for name in needs.get(spec.design, ()):
        if not getattr(spec, name):
            raise Refused("bad-specification", f"A {spec.design} design needs {name!r}: the column that says it.")
    if spec.design == "strip_plot" and not (spec.row and spec.column) and len(spec.treatment) != 2:
        raise Refused("bad-specification", "A strip plot needs 'row' and 'column', or a treatment of two factors.")
    if spec.method == "dunnett" and spec.control is None:
        raise Refused(
            "bad-specification", "Dunnett’s comparisons need 'control', the label that others are compared to."
        )


def _control(given: Any, treatment: Sequence[str]) -> str | None:
    if given is None:
        return None
    labels = [str(one) for one in (given if isinstance(given, list) else [given])]
    if isinstance(given, list) and len(given) != len(treatment):
        raise _wrong("control", f"a label for each of the {len(treatment)} factors")
    return BETWEEN.join(label.strip() for label in labels)


def _measure(raw: Any, i: int) -> TableMeasure:
    where = f"measures, {i}"
    given = _object(raw, where)
    _require_known(given, {"column", "kind", "area", "of", "wanted", "margin", "margin_is", "scale"}, where)
    column = given.get("column")
    if not isinstance(column, str) or not column:
        raise _wrong(f"{where}: column", "the name of a column")
    kind = _one_of(given, "kind", _KINDS, "value", where)
    margin, margin_is = given.get("margin"), given.get("margin_is", "absolute")
    if margin_is not in ("absolute", "percent"):
        raise _wrong(f"{where}: margin_is", "'absolute' or 'percent'")
    if margin is not None and not _is_number(margin):
        raise _wrong(f"{where}: margin", "a number above 0")
    scale = given.get("scale", "measured")
    if scale not in get_args(Scale):
        raise _wrong(f"{where}: scale", "'measured' or 'log'")
    area = given.get("area", 1.0)
    if not isinstance(area, str) and not (_is_number(area) and area > 0):
        raise _wrong(f"{where}: area", "a number of m² above 0, or the name of a column")
    of = given.get("of", "")
    if kind == "k-of-n" and not (isinstance(of, str) and of):
        raise _wrong(f"{where}: of", "the name of the column with n of k of n")
    return TableMeasure(
        column, kind, _one_of(given, "wanted", _WANTED, "neither", where),
        None if margin is None else Margin(float(margin), margin_is), scale,
        area if isinstance(area, str) else float(area), of if kind == "k-of-n" else "",
    )  # fmt: skip


def _one_of(given: Mapping[str, Any], name: str, allowed: Mapping[str, Any], usual: str | None, where: str = "") -> Any:
    value = given.get(name, usual)
    if not isinstance(value, str) or value not in allowed:
        raise _wrong(f"{where}: {name}" if where else name, f"one of {', '.join(allowed)}")
    return allowed[value]


def _names(given: Any, where: str) -> tuple[str, ...]:
    names = given if isinstance(given, list) else [given]
    if not names or not all(isinstance(one, str) and one for one in names):
        raise _wrong(where, "the name of a column, or a list of names")
    return tuple(names)


def _name(given: Any, where: str) -> str:
    if not isinstance(given, str | None):
        raise _wrong(where, "the name of a column")
    return given or ""


def _object(raw: Any, where: str) -> Mapping[str, Any]:
    if not isinstance(raw, dict):
        raise _wrong(where, "an object with named entries")
    return raw


def _require_known(given: Mapping[str, Any], known: set[str], where: str) -> None:
    if odd := sorted(set(given) - known):
        raise Refused("bad-specification", f"{where}: {odd[0]!r} isn’t known. Known are: {', '.join(sorted(known))}.")


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)


def _wrong(where: str, wanted: str) -> Refused:
    return Refused("bad-specification", f"{where} must be {wanted}.")


def boards_in(rows: Sequence[Row], spec: BoardSpecification) -> list[tuple[str | None, list[tuple[int, Row]]]]:
    """The rows of each board with their line in the file (the header is line 1), in order of first appearance.

    Raises `Refused` for a column that isn't there, and a table without rows.
    """
    if not rows:
        raise Refused("not-a-table", "The table has no rows below its header.")
    for name in spec.columns:
        if name not in rows[0]:
            there = ", ".join(rows[0])
            raise Refused("missing-column", f"The table has no column {name!r}. Its columns are: {there}.")
    boards: dict[str | None, list[tuple[int, Row]]] = {}
    for line, row in enumerate(rows, start=2):
        boards.setdefault(row[spec.board].strip() if spec.board else None, []).append((line, row))
    return list(boards.items())


def read_board(label: str | None, rows: Sequence[tuple[int, Row]], spec: BoardSpecification) -> dict[str, Any]:
    """One board as plain values (docs/verdict.md). Raises `Refused` for cells that can't be read."""
    plots = tuple(_plot(line, row, spec) for line, row in rows)
    control = spec.control
    measures = [_recorded(one, rows) for one in spec.measures]
    shown: dict[str, Any] = {"board": label}
    try:
        trial = TrialFacts(plots, control, "unknown")
        base = control if control is not None else plots[0].treatment
        method = spec.method or ("dunnett" if control is not None else "tukey")
        # Without replicates around them, blocks that don't hold every treatment are random.
        design = spec.design if spec.design != "incomplete_block" or spec.incomplete_block else "rcbd"
        reading = read_trial(trial, design, measures, How(method=method, alpha=spec.alpha), base)
    except Refused as refusal:
        refused = [_refused(one, refusal.message) for one in spec.measures]
        return shown | {"measures": refused, "doubts": []}
    named = list(zip(spec.measures, reading.measures, strict=True))
    return shown | {"measures": [_shown(m, r) for m, r in named], "doubts": _doubts(reading.doubts)}


def _plot(line: int, row: Row, spec: BoardSpecification) -> PlotFacts:
    def text(name: str) -> str:
        value = row[name].strip() if name else ""
        if name and not value:
            raise Refused("bad-value", f"Line {line}: {name!r} is empty. Fill it in, or leave the row out.")
        return value

    treatment, block = [text(name) for name in spec.treatment], text(spec.block)
    more: dict[str, str] = {}
    if spec.design == "latin_square":
        more = {"row": text(spec.row), "column": text(spec.column)}
    if spec.design == "split_plot":
        more = {"whole_plot": f"{block} {text(spec.whole_plot_factor)}"}
    if spec.design == "strip_plot":
        strips = (spec.row, spec.column) if spec.row and spec.column else spec.treatment
        more = {"row_strip": f"{block} {text(strips[0])}", "column_strip": f"{block} {text(strips[1])}"}
    if spec.design == "incomplete_block" and spec.incomplete_block:
        more = {"incomplete_block": text(spec.incomplete_block)}
    return PlotFacts(str(line), block, BETWEEN.join(treatment), **more)  # type: ignore[arg-type]


def _recorded(measure: TableMeasure, rows: Sequence[tuple[int, Row]]) -> Recorded:
    samples: dict[str, list[float | None]] = {}
    examined: dict[str, list[float | None]] = {}
    areas: dict[str, float] = {}
    for line, row in rows:
        label, value = str(line), _number(row[measure.column], measure.column, line)
        if measure.kind == "count" and value is not None:
            area = measure.area if not isinstance(measure.area, str) else _above_zero(row, measure.area, line)
            if value < 0 or value != int(value):
                raise Refused(
                    "bad-value", f"Line {line}: {measure.column!r} is {value:g}, but counts are whole numbers from 0."
                )
            areas[label], value = area, value / area
        if measure.kind == "k-of-n":
            n = None if value is None else _above_zero(row, measure.of, line)
            if value is not None and n is not None and not 0 <= value <= n:
                raise Refused("bad-value", f"Line {line}: {measure.column!r} is {value:g} of {n:g}, which can’t be.")
            examined[label] = [n]
            value = None if value is None or n is None else 100 * value / n
        samples[label] = [value]
    unit = {"count": "1/m²", "k-of-n": "%", "percentage": "%"}.get(measure.kind, "")
    asked = Asked(measure.column, unit, measure.margin, measure.wanted, kind=measure.kind)
    common = 1.0 if measure.kind == "count" else None
    return Recorded(asked, samples, area=common, areas=areas, examined=examined, scale=measure.scale)


def _number(text: str, name: str, line: int) -> float | None:
    if is_missing(text):
        return None
    value = with_mark(text, ".")
    if value is None:
        raise Refused(
            "bad-value",
            f"Line {line}: {name!r} is {text!r}, which isn’t a number with a decimal point. Correct it or empty it.",
        )
    return float(value)


def _above_zero(row: Row, name: str, line: int) -> float:
    value = _number(row[name], name, line)
    if value is None or value <= 0:
        raise Refused("bad-value", f"Line {line}: {name!r} must be a number above 0 where there is a value.")
    return value


def _refused(measure: TableMeasure, why: str) -> dict[str, Any]:
    return {"column": measure.column, "refused": why, "means": [], "cells": [], "doubts": []}


def _shown(measure: TableMeasure, reading: MeasureReading) -> dict[str, Any]:
    sentences = {line.treatment: line.sentence for line in measure_report(reading).lines}
    return {
        "column": measure.column,
        "refused": reading.refusal or None,
        "means": _means(reading),
        "cells": [_cell(cell, sentences.get(cell.treatment, "")) for cell in reading.cells],
        "doubts": _doubts(reading.doubts),
    }


def _means(reading: MeasureReading) -> list[dict[str, Any]]:
    if reading.analysis is None:
        return [{"treatment": one.treatment, "mean": _finite(one.mean)} for one in reading.described]
    family = reading.analysis.families[0]
    return [
        {"treatment": label, "mean": _finite(float(mean))}
        for label, mean in zip(family.labels, family.mean, strict=True)
    ]


def _cell(cell: Cell, sentence: str) -> dict[str, Any]:
    return {
        "treatment": cell.treatment, "estimate": _finite(cell.estimate), "low": _finite(cell.lower),
        "high": _finite(cell.upper), "p": _finite(cell.p), "verdict": cell.verdict.value,
        "blocks_if_it_stays": cell.blocks, "blocks_for_80": cell.blocks_likely, "sentence": sentence,
    }  # fmt: skip


def _doubts(doubts: Sequence[Doubt]) -> list[dict[str, str]]:
    return [{"id": doubt.id, "sentence": doubt.finding} for doubt in doubts]


def _finite(value: float | None) -> float | None:
    return value if value is not None and math.isfinite(value) else None
