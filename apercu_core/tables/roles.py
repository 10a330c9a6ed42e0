"""Which column is block, treatment, plot, sample or a value: proposed, for a person to confirm."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from typing import Literal

from apercu_core.tables.figures import is_missing, read_number
from apercu_core.tables.read import Table
from apercu_core.verdicts.verdict import Direction

Role = Literal["block", "treatment", "plot", "sample", "value", "ignore"]

_NAMES: dict[Role, tuple[str, ...]] = {
    "block": ("block", "blk", "rep", "replicate", "replication", "bloc", "bloque", "wiederholung", "herhaling", "blok"),
    "treatment": ("treatment", "treat", "trt", "treatments", "variant", "variante", "cover", "cover crop", "species",
                  "mix", "entry", "behandlung", "objet", "tratamiento", "variety"),
    "plot": ("plot", "plot no", "plot number", "plot id", "parcel", "parzelle", "parcelle", "unit", "strip"),
    "sample": ("sample", "subsample", "sub sample", "frame", "quadrat", "spot", "reading", "probe"),
    "value": (),
    "ignore": ("date", "observer", "notes", "note", "remark", "remarks", "comment", "comments", "row", "column", "col",
               "year", "site", "x", "y", "lat", "lon"),
}  # fmt: skip
_UNIT_IN_BRACKETS = re.compile(r"^(.*?)\s*[(\[]\s*([^)\]]+?)\s*[)\]]\s*$")
_UNIT_AFTER_COMMA = re.compile(r"^(.*?),\s*([^,]{1,20})$")
_UNITS_IN_NAMES = (
    ("kg_ha", "kg/ha"), ("t_ha", "t/ha"), ("lb_ac", "lb/ac"), ("bu_ac", "bu/ac"), ("g_m2", "g/m²"), ("per_m2", "1/m²"),
    ("plants_m2", "plants/m²"), ("m2", "1/m²"), ("mg_kg", "mg/kg"), ("pct", "%"), ("percent", "%"), ("cm", "cm"),
    ("mm", "mm"), ("kg", "kg"), ("degc", "°C"),
)  # fmt: skip
_LESS_IS_WANTED = (
    "weed",
    "damage",
    "disease",
    "slug",
    "cull",
    "loss",
    "lodging",
    "penetration",
    "bulk density",
    "cost",
)
_MORE_IS_WANTED = (
    "yield",
    "biomass",
    "cover",
    "stand",
    "plants",
    "emergence",
    "survival",
    "protein",
    "earthworm",
    "infiltration",
)


@dataclass(frozen=True, slots=True)
class Column:
    """A column with its proposed role. `label`, `unit`: from the header; `direction`: what is usually wanted."""

    name: str
    role: Role
    label: str
    unit: str
    direction: Direction
    examples: tuple[str, ...]
    distinct: int
    empty: int
    numeric: bool


def propose_roles(table: Table) -> tuple[Column, ...]:
    """One proposal for each column; one each of block, plot and sample at most, treatments as many as are crossed."""
    columns = {name: _Contents(table, name) for name in table.header}
    taken: dict[Role, str] = {}
    for role in ("treatment", "block", "plot", "sample"):
        scored = [(_score(role, name, contents, columns, taken), name) for name, contents in columns.items()]
        scored = [(score, name) for score, name in scored if score > 0 and name not in taken.values()]
        if scored:
            taken[role] = max(scored, key=lambda pair: pair[0])[1]
    roles = {name: role for role, name in taken.items()}
    if "treatment" in taken:
        roles |= dict.fromkeys(_further_factors(columns, roles, taken["treatment"]), "treatment")
    return tuple(_column(name, roles.get(name), contents) for name, contents in columns.items())


def _further_factors(columns: dict[str, _Contents], roles: dict[str, Role], treatment: str) -> list[str]:
    """Columns of words that are crossed with the treatment, so that a treatment is really a combination."""
    first = columns[treatment]
    return [
        name
        for name, contents in columns.items()
        if name not in roles and not contents.numeric and not _named("ignore", name)
        and contents.filled and contents.balanced and _crosses(contents, first) and _crosses(first, contents)
    ]  # fmt: skip


def likely_direction(label: str) -> Direction:
    """Which way is usually wanted, from the name of a measure; `none` where opinions differ."""
    text = label.lower()
    if any(word in text for word in _LESS_IS_WANTED):
        return "lower"
    return "higher" if any(word in text for word in _MORE_IS_WANTED) else "none"


def split_unit(name: str) -> tuple[str, str]:
    """`Yield (t/ha)`, `Yield, t/ha` or `yield_t_ha` → label and unit; the unit is empty where none is told."""
    for pattern in (_UNIT_IN_BRACKETS, _UNIT_AFTER_COMMA):
        found = pattern.match(name)
        if found and found[1]:
            return _readable(found[1]), found[2]
    for ending, unit in _UNITS_IN_NAMES:
        if name.lower().endswith("_" + ending):
            return _readable(name[: -len(ending) - 1]), unit
    return _readable(name), ""


def _readable(name: str) -> str:
    text = name.replace("_", " ").strip()
    return text[:1].upper() + text[1:] if text else name


class _Contents:
    """What a column holds."""

    def __init__(self, table: Table, name: str) -> None:
        self.cells = table.column(name)
        self.filled = [cell for cell in self.cells if not is_missing(cell)]
        self.levels = Counter(self.filled)
        numbers = sum(read_number(cell, decimal_comma=table.decimal_comma) is not None for cell in self.filled)
        self.numeric = bool(self.filled) and numbers >= 0.8 * len(self.filled)

    @property
    def balanced(self) -> bool:
        counts = self.levels.values()
        return 2 <= len(counts) <= 60 and min(counts) >= 2 and max(counts) <= 2 * min(counts)


def _named(role: Role, name: str) -> bool:
    plain = re.sub(r"[^a-z ]", " ", split_unit(name)[0].lower())
    plain = " ".join(plain.split())
    return plain in _NAMES[role] or any(plain.startswith(known + " ") for known in _NAMES[role])


def _score(role: Role, name: str, contents: _Contents, columns: dict[str, _Contents], taken: dict[Role, str]) -> float:
    """0: can't be; a right name counts more than contents, contents decide between right names."""
    if not contents.filled or _named("ignore", name):
        return 0
    named = 4.0 if _named(role, name) else 0.0
    words = not contents.numeric
    if role == "treatment":
        return named + (2.0 if words and contents.balanced else 0) if named or (words and contents.balanced) else 0
    if role == "block":
        fits = (
            contents.balanced
            and len(contents.levels) <= 12
            and _crosses(contents, columns.get(taken.get("treatment", "")))
        )
        return named + (1.0 if fits else 0) if named or (fits and not _decimal(contents)) else 0
    return named


def _decimal(contents: _Contents) -> bool:
    return any("." in cell or "," in cell for cell in contents.filled)


def _crosses(contents: _Contents, treatment: _Contents | None) -> bool:
    """Every level meets at least two treatments, nearly all of them."""
    if treatment is None or treatment is contents:
        return False
    met: dict[str, set[str]] = {}
    for level, cell in zip(contents.cells, treatment.cells, strict=True):
        met.setdefault(level, set()).add(cell)
    return min(len(cells) for cells in met.values()) >= max(2, 0.7 * len(treatment.levels))


def _column(name: str, role: Role | None, contents: _Contents) -> Column:
    if role is None:
        role = "value" if contents.numeric and not _named("ignore", name) else "ignore"
    label, unit = split_unit(name)
    empty = len(contents.cells) - len(contents.filled)
    examples = tuple(dict.fromkeys(contents.filled))[:3]
    return Column(
        name, role, label, unit, likely_direction(label), examples, len(contents.levels), empty, contents.numeric
    )
