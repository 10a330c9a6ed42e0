"""The data package: a ZIP that says everything about a trial, and that can be brought back.

`data.csv` is tidy, one row per plot and sample; `datapackage.json` describes every column and its unit as an open Table
Schema (Data Package standard, version 2); `trial.json` holds the question, the margins and the plan with its seed;
`reading.json` the reading. Where measures are taken in zones of plots, `zones.csv` has what was found in each; where
values lie beyond what was measured, `beyond.csv` has the ends that are known. All figures are in stored, metric units.
"""

from __future__ import annotations

import io
import json
import math
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import asdict, astuple, dataclass, field, replace
from typing import Any, get_args

from apercu_core.cells import read_rows, written
from apercu_core.errors import Refused
from apercu_core.tables.read import MOST_BYTES
from apercu_core.trial.facts import Allocation, PlotFacts
from apercu_core.verdicts.verdict import Direction, Planned

DATA, SCHEMA, TRIAL, READING = "data.csv", "datapackage.json", "trial.json", "reading.json"
ZONES, BEYOND = "zones.csv", "beyond.csv"
_DAMAGED = (zipfile.BadZipFile, zlib.error, EOFError, RuntimeError, ValueError)
"""What a ZIP that was damaged or made in an unusual way can raise; places in it that can't be are ValueErrors."""
_ODD = (ValueError, TypeError, KeyError, AttributeError, RecursionError, ArithmeticError)
"""What reading a `trial.json` that isn't ours can raise."""
_WHY = {
    RecursionError: "it is nested too deeply",
    AttributeError: "it isn’t laid out like a trial’s",
    TypeError: "it isn’t laid out like a trial’s",
    OverflowError: "a number is far too large",
    json.JSONDecodeError: "it isn’t JSON",
    UnicodeDecodeError: "it isn’t UTF-8",
}
_SAME_DATE = (1980, 1, 1, 0, 0, 0)
"""So that the same trial gives the same bytes."""

_OF_BOUNDED = ["Plot", "Measure", "Visit", "Zone", "Part", "Sample", "Side", "Bound"]
_READ_FROM_A_TABLE = ("crd", "rcbd", "paired_strips")
Samples = Mapping[str, Sequence[float | None]]


@dataclass(frozen=True, slots=True)
class PackagedMeasure:
    """`column`: its header in the table; the margin in `unit`, or in per cent of the control.

    `base`: the control that it names, empty for the trial's; `planned_for`: treatments with a planned test, none: all.
    `area`: of a count, what each sample was taken from; value × area is the count. `own_controls`: treatment → the
    control at its own levels of other factors; `base` then says it.
    """

    column: str
    name: str
    unit: str
    margin: float | None
    margin_kind: str
    direction: Direction
    planned: Planned
    base: str = ""
    planned_for: tuple[str, ...] = ()
    primary: bool = False
    area: float | None = None
    own_controls: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class InZone:
    """What was found in one zone of a plot; `share`: of the plot's ground, 0 to 1."""

    plot: str
    measure: str
    zone: str
    share: float
    sample: int
    value: float | None


@dataclass(frozen=True, slots=True)
class Bounded:
    """A sample whose value lies beyond what was measured: `side` ("more" or "less") than `bound`. `zone`, `part`: empty
    where the measure has none.
    """

    plot: str
    measure: str
    visit: str
    zone: str
    part: str
    sample: int
    side: str
    bound: float


@dataclass(frozen=True, slots=True)
class PackagedTrial:
    """What a table alone can't say. `more_controls`: beside the first; `beyond`: whose cells in the table are empty."""

    name: str
    question: str
    control: str | None
    allocation: Allocation
    measures: tuple[PackagedMeasure, ...]
    more_controls: tuple[str, ...] = ()
    beyond: tuple[Bounded, ...] = ()


def column_of(name: str, unit: str) -> str:
    return f"{name} ({unit})" if unit else name


def write_package(
    described: PackagedTrial, plots: Sequence[PlotFacts], samples: Sequence[Samples], plan: Mapping[str, Any],
    reading: Mapping[str, Any], zones: Sequence[InZone] = (),
) -> bytes:  # fmt: skip
    """The ZIP. `samples` runs beside `described.measures`: plot label → its samples, None where lost.

    A measure without a single value is left out: there is nothing of it to bring back.
    """
    found = [any(v is not None for values in of_plots.values() for v in values) for of_plots in samples]
    samples = [of_plots for of_plots, there in zip(samples, found, strict=True) if there]
    measures = tuple(m for m, there in zip(described.measures, found, strict=True) if there)
    described = replace(described, measures=measures)
    header = _header(plots, samples)
    said = {key: value for key, value in asdict(described).items() if key != "beyond"}
    trial = {"format": "apercu-trial-1", **said, "plan": dict(plan)}
    files = {
        DATA: _csv(header, described, plots, samples),
        SCHEMA: _json(_schema(header, described)),
        TRIAL: _json(trial),
        READING: _json(dict(reading)),
    }
    if zones:
        files[ZONES] = _zones_csv(zones)
    if described.beyond:
        files[BEYOND] = written([_OF_BOUNDED, *map(astuple, described.beyond)])
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, text in files.items():
            archive.writestr(zipfile.ZipInfo(name, _SAME_DATE), text, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _json(value: Mapping[str, Any]) -> str:
    return json.dumps(value, indent=1, ensure_ascii=False, sort_keys=True) + "\n"


def _header(plots: Sequence[PlotFacts], samples: Sequence[Samples]) -> list[str]:
    blocks = ["Block"] if any(plot.block for plot in plots) else []
    several = any(len(values) > 1 for measure in samples for values in measure.values())
    return [*blocks, "Plot", "Treatment", *(["Sample"] if several else [])]


def _csv(header: list[str], described: PackagedTrial, plots: Sequence[PlotFacts], samples: Sequence[Samples]) -> str:
    table: list[list[object]] = [[*header, *(m.column for m in described.measures)]]
    rows = max([1, *(len(values) for measure in samples for values in measure.values())])  # a lost plot has as many
    for plot in plots:
        of_plot = [list(measure.get(plot.label, [])) for measure in samples]
        for i in range(rows):
            cells = {"Block": plot.block, "Plot": plot.label, "Treatment": plot.treatment, "Sample": i + 1}
            values = [taken[i] if i < len(taken) else None for taken in of_plot]
            table.append([*(cells[h] for h in header), *(None if v is None else float(v) for v in values)])
    return written(table)


def _zones_csv(zones: Sequence[InZone]) -> str:
    header = ["Plot", "Measure", "Zone", "Share", "Sample", "Value"]
    return written([header, *([z.plot, z.measure, z.zone, z.share, z.sample, z.value] for z in zones)])


_ABOUT = {
    "Block": ("string", "Block: plots that lie together."),
    "Plot": ("string", "Label of the plot, the experimental unit."),
    "Treatment": ("string", "What the plot was given."),
    "Sample": ("integer", "Number of the sample within its plot; samples aren’t replicates."),
}


def _schema(header: list[str], described: PackagedTrial) -> dict[str, Any]:
    fields: list[dict[str, Any]] = [{"name": h, "type": _ABOUT[h][0], "description": _ABOUT[h][1]} for h in header]
    fields += [
        {"name": m.column, "type": "number", "unit": m.unit, "title": m.name,
         "description": f"{m.name} in {m.unit or 'the unit of its name'}; empty where there is none."}
        for m in described.measures
    ]  # fmt: skip
    table = {"fields": fields, "missingValues": [""], "primaryKey": [h for h in ("Plot", "Sample") if h in header]}
    resource = {
        "name": "data", "path": DATA, "format": "csv", "mediatype": "text/csv", "encoding": "utf-8", "schema": table,
    }  # fmt: skip
    return {
        "$schema": "https://datapackage.org/profiles/2.0/datapackage.json",
        "title": described.name,
        "description": described.question,
        "resources": [resource],
    }


def is_package(data: bytes) -> bool:
    """Whether these bytes are a ZIP that holds a table and a trial."""
    if not data.startswith(b"PK\x03\x04"):
        return False
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return {DATA, TRIAL} <= set(archive.namelist())
    except _DAMAGED:
        return False


def read_package(data: bytes) -> tuple[bytes, PackagedTrial]:
    """The table's bytes and what is said about it. Raises `Refused` for what is too large or can't be read."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        table, text = (_unpacked(archive, name) for name in (DATA, TRIAL))
        beyond = _bounded(_unpacked(archive, BEYOND)) if BEYOND in archive.namelist() else ()
    try:
        trial = json.loads(text)
        design = str(trial.get("plan", {}).get("design", "rcbd"))[:40]
        described = _described(trial)
    except _ODD as fault:
        why = _WHY.get(type(fault)) or (f"{fault} is missing" if isinstance(fault, KeyError) else str(fault)[:200])
        raise Refused(
            "not-a-table", f"The package’s {TRIAL} can’t be read ({why}). Unpack it and import {DATA} by itself."
        ) from fault
    if design not in _READ_FROM_A_TABLE:
        held = "trial in incomplete blocks" if design == "incomplete_block" else str(design).replace("_", " ")
        raise Refused(
            "not-built",
            f"The package holds a {held}. Only trials of single plots in blocks can be imported from a package, "
            "since others would be tested against the wrong error.",
        )
    return table, replace(described, beyond=beyond)


def _bounded(table: bytes) -> tuple[Bounded, ...]:
    """The rows of `beyond.csv`."""
    try:
        header, *rows = read_rows(table.decode("utf-8-sig"))
        if missing := [name for name in _OF_BOUNDED if name not in {*header, "Visit"}]:  # early ones name no visit
            raise ValueError(f"there is no column {', '.join(missing)}")
        if short := [line for line, row in enumerate(rows, start=2) if row and len(row) != len(header)]:
            raise ValueError(f"line {short[0]} doesn’t have {len(header)} columns")
        return tuple(_one_bounded(dict(zip(header, row, strict=True))) for row in rows if row)
    except (ValueError, Refused) as fault:
        why = _WHY.get(type(fault)) or f"{fault}"[:200]
        raise Refused(
            "not-a-table", f"The package’s {BEYOND} can’t be read ({why}). Unpack it and import {DATA} by itself."
        ) from fault


def _one_bounded(row: Mapping[str, str]) -> Bounded:
    plot, measure, visit, zone, part = (_text(row.get(name, "")) for name in _OF_BOUNDED[:5])
    side, sample = _one_of(row["Side"], ("more", "less")), int(_number(row["Sample"]))
    return Bounded(plot, measure, visit, zone, part, sample, side, _number(row["Bound"]))


def _number(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise ValueError(f"{text[:40]!r} isn’t a number")
    return value


def _unpacked(archive: zipfile.ZipFile, name: str) -> bytes:
    """What is inside, but never more than a table may have, whatever the archive claims."""
    if archive.getinfo(name).compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
        raise Refused(
            "not-a-table", f"{name} in the package is compressed in an unknown way. Export the package again."
        )
    try:
        with archive.open(name) as file:
            content = file.read(MOST_BYTES + 1)
    except _DAMAGED as fault:
        raise Refused(
            "not-a-table", f"{name} in the package can’t be unpacked ({fault}). Export the package again."
        ) from fault
    if len(content) > MOST_BYTES:
        raise Refused("not-a-table", f"{name} in the package is larger than {MOST_BYTES / 1e6:.0f} MB.")
    return content


def _described(given: Mapping[str, Any]) -> PackagedTrial:
    measures = tuple(
        PackagedMeasure(
            _text(m["column"]), _text(m["name"], 120), _text(m["unit"], 40), _margin(m["margin"]),
            _one_of(m["margin_kind"], ("absolute", "percent")), _one_of(m["direction"], get_args(Direction)),
            _one_of(m["planned"], get_args(Planned)), _text(m.get("base", "")), _names(m.get("planned_for", ())),
            m.get("primary") is True, _margin(m.get("area")), _pairs(m.get("own_controls", {})),
        )
        for m in given["measures"]
    )  # fmt: skip
    control = None if given["control"] is None else _text(given["control"])
    allocation: Allocation = _one_of(given["allocation"], get_args(Allocation))
    more = _names(given.get("more_controls", ()))
    return PackagedTrial(_text(given["name"], 160), _text(given["question"], 300), control, allocation, measures, more)


def _text(value: Any, most: int = 200) -> str:
    """A name or sentence, cut to what its place holds. Raises `ValueError` for what no place can hold."""
    if not isinstance(value, str):
        raise ValueError(f"{str(value)[:40]!r} isn’t a text")
    if "\0" in value or any("\ud800" <= letter <= "\udfff" for letter in value):
        raise ValueError("a text holds a character that can’t be kept")
    return value[:most]


def _names(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list | tuple):
        raise ValueError(f"{value!r} isn’t a list of names")
    return tuple(map(_text, value))


def _pairs(value: Any) -> dict[str, str]:
    if not isinstance(value, dict):
        raise ValueError(f"{value!r} isn’t treatments with their controls")
    return {_text(name): _text(control) for name, control in value.items()}


def _margin(value: Any) -> float | None:
    if value is None:
        return None
    if not (isinstance(value, int | float) and math.isfinite(value) and value > 0):
        raise ValueError(f"margin {value!r}")
    return float(value)


def _one_of(value: Any, known: Sequence[str]) -> Any:
    if value not in known:
        raise ValueError(f"{value!r} is none of {', '.join(known)}")
    return value
