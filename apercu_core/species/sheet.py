"""Species records as a table with a line per species: a column for each field, and one for its source."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping

from apercu_core.cells import read_rows, written
from apercu_core.errors import Place, Refused
from apercu_core.numbers import read_number, why_not_a_number
from apercu_core.species.record import FIELDS, RETIRED, Fact, Species, SpeciesField, Value

_SOURCE = "_source"
MOST_TEXT = 1000


def header() -> list[str]:
    """The two ends of a range stand in one cell as "low to high"."""
    return ["key", *(column for key in FIELDS for column in (key, key + _SOURCE))]


def to_csv(species: Iterable[Species]) -> str:
    rows = [header()]
    for one in species:
        cells = {"key": one.key}
        for key, fact in one.facts.items():
            cells |= {key: shown(fact.value), key + _SOURCE: fact.source}
        rows.append([cells.get(column, "") for column in header()])
    return written(rows, line_end="\n")


def shown(value: Value) -> str:
    if isinstance(value, tuple):
        return f"{value[0]:g} to {value[1]:g}" if value[0] != value[1] else f"{value[0]:g}"
    return f"{value:g}" if isinstance(value, float) else value


def from_csv(text: str) -> list[Species]:
    """Records of one's own. Refused with every line and column that can't be read."""
    columns, *rows = read_rows(text) or [[]]
    if not rows or "common" not in columns:
        raise Refused("not-a-table", "This isn’t a table of species: it needs a header with a column 'common'.")
    known = {*header(), *RETIRED, *(key + _SOURCE for key in RETIRED)}
    unknown = [c for c in columns if c and c not in known]
    if unknown:
        raise Refused("bad-value", f"There is no field called {unknown[0]!r}. Take the header of the downloaded table.")
    wrong: list[Place] = []
    found = []
    for line, row in enumerate(rows, start=2):
        if not any(row):
            continue
        cells = {k: v.strip() for k, v in zip(columns, row, strict=False) if k}
        try:
            found.append(species_of(cells))
        except Refused as refusal:
            wrong += [Place(f"line {line}, {place.where}", place.what) for place in refusal.places]
    if wrong:
        raise Refused("bad-value", "Some cells can’t be read. Nothing was imported.", wrong)
    return found


def species_of(cells: Mapping[str, str], *, of_earlier: bool = False) -> Species:
    """A record from cells as typed: `field`, and `field_source` beside it; an empty cell is unknown.

    `of_earlier`: kept by an earlier release, so that a cell that isn't read any more is unknown instead of refused.
    """
    facts: dict[str, Fact] = {}
    wrong: list[Place] = []
    for key, field in FIELDS.items():
        text = cells.get(key, "").strip()
        if not text:
            continue
        try:
            facts[key] = Fact(_value(field, text), cells.get(key + _SOURCE, "").strip() or "not said")
        except ValueError as error:
            wrong.append(Place(field.label, str(error)))
    if of_earlier:
        wrong = []
        facts.setdefault("common", Fact(cells.get("common", "").strip() or cells.get("key", "species"), "not said"))
    if "common" not in facts:
        wrong.append(Place(FIELDS["common"].label, "Give the species a name."))
    if wrong:
        raise Refused("bad-value", "Some values can’t be read.", wrong)
    name = str(facts["common"].value)
    key = cells.get("key", "").strip() or re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "species"
    return Species(key[:60], facts, own=True)


def _value(field: SpeciesField, text: str) -> Value:
    if field.kind == "text":
        if len(text) > MOST_TEXT:
            raise ValueError(f"The text has {len(text)} characters; {MOST_TEXT} are the most.")
        return text
    if field.kind == "choice":
        if text not in field.choices:
            raise ValueError(f"{text!r} is none of: {', '.join(field.choices)}.")
        return text
    if field.kind == "range":
        ends = [_number(end) for end in re.split(r"\s+to\s+|\s*–\s*", text)]
        if len(ends) > 2 or ends[0] > ends[-1]:
            raise ValueError(f"{text!r} isn’t a range. Write the lower value, 'to' and the higher value.")
        if ends[0] < 0 and field.unit != "°C" and not field.below_zero:
            raise ValueError(f"{ends[0]:g} is below zero.")
        return ends[0], ends[-1]
    value = _number(text)
    if not 0 <= value <= 5:
        raise ValueError(f"A rating goes from 0 to 5, not {value:g}.")
    return value


def _number(text: str) -> float:
    value = read_number(text)
    if value is None:
        raise ValueError(f"{text!r} can’t be read: {why_not_a_number(text)}.")
    return value
