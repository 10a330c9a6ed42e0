"""Which column is block, treatment, plot, sample or a value: proposed, for a person to confirm."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from typing import Literal

from apercu_core.measures.catalogue import CATALOGUE
from apercu_core.numbers import is_missing, read_number
from apercu_core.tables.read import Table
from apercu_core.tables.values import is_mostly_dates
from apercu_core.units import is_unit, split_unit_off
from apercu_core.verdicts.verdict import Direction

Role = Literal["block", "treatment", "plot", "sample", "value", "measure", "unit", "date", "ignore"]
"""`measure`: names of measures in a long table, `unit` their units; `date`: each date is a visit of its own."""

_NAMES: dict[Role, tuple[str, ...]] = {
    "block": ("block", "blk", "rep", "replicate", "replication", "bloc", "bloque", "wiederholung", "herhaling", "blok"),
    "treatment": ("treatment", "treat", "trt", "treatments", "variant", "variante", "cover", "cover crop", "species",
                  "mix", "entry", "behandlung", "objet", "tratamiento", "variety"),
    "plot": ("plot", "plot no", "plot number", "plot id", "parcel", "parzelle", "parcelle", "unit", "strip"),
    "sample": ("sample", "subsample", "sub sample", "frame", "quadrat", "spot", "reading", "probe"),
    "value": ("value", "values", "result", "amount", "observed", "measured value", "wert", "waarde", "valeur", "valor"),
    "measure": ("measure", "measures", "variable", "trait", "parameter", "measurement", "characteristic", "attribute",
                "quantity", "response", "indicator", "analyte", "merkmal", "kenngröße", "variabele", "what", "test",
                "item"),
    "unit": ("unit", "units", "einheit", "eenheid", "unité", "unidad"),
    "date": ("date", "day", "sampled", "sampling date", "sampled on", "visit", "datum", "fecha"),
    "ignore": ("date", "observer", "notes", "note", "remark", "remarks", "comment", "comments", "row", "column", "col",
               "year", "site", "x", "y", "lat", "lon", "observer", "sown", "harvested", "time", "farm", "location"),
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


_SURE_MEASURES = ("yield", "biomass", "weeds", "height", "emergence", "survival", "protein", "nitrate", "moisture",
                  "plants per", "dry matter", "earthworm", "infiltration", "ertrag")  # fmt: skip


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
    """One proposal for each column; one each of block, plot and sample at most, treatments as many as are crossed.

    A long table has its measures' names in one column and all values in another; its dates are visits.
    """
    columns = {name: _Contents(table, name) for name in table.header}
    roles: dict[str, Role] = _long_table(columns)
    for role in ("treatment", "block", "plot", "sample"):
        treatment = next((name for name, given in roles.items() if given == "treatment"), "")
        scored = [
            (_score(role, name, contents, columns, treatment), name)
            for name, contents in columns.items()
            if name not in roles
        ]
        scored = [(score, name) for score, name in scored if score > 0]
        if scored:
            roles[max(scored, key=lambda pair: pair[0])[1]] = role
    treatment = next((name for name, given in roles.items() if given == "treatment"), "")
    if treatment:
        factors = _further_factors(columns, roles, treatment)
        within = [name for name, given in roles.items() if given in ("block", "plot")]
        whole = [name for name in factors if "plot" not in roles.values() or _one_each(columns, within, name)]
        roles |= dict.fromkeys(whole, "treatment")
    return tuple(_column(table, name, roles.get(name), contents) for name, contents in columns.items())


def _long_table(columns: dict[str, _Contents]) -> dict[str, Role]:
    """The roles that make a table a long one; empty for a wide one, with a column for each measure."""
    numeric = [name for name, contents in columns.items() if contents.numeric]
    named = [name for name in numeric if _named("value", name)]
    names = [
        name
        for name, contents in columns.items()
        if contents.words and 2 <= len(contents.levels) <= 60 and min(contents.levels.values()) >= 2
        and not any(_named(role, name) for role in ("treatment", "block", "ignore"))
        and (_named("measure", name) or contents.names_measures)
    ]  # fmt: skip
    names.sort(key=lambda name: (not columns[name].names_measures, not _named("measure", name)))
    if not names or not numeric or not (named or columns[names[0]].names_measures):
        return {}
    measure = names[0]
    value = (named or [name for name in numeric if not _named("plot", name) and not _named("block", name)
                       and not _named("sample", name)] or [""])[-1]  # fmt: skip
    if not value:
        return {}
    roles: dict[str, Role] = {measure: "measure", value: "value"}
    for name, contents in columns.items():
        if name not in roles and contents.filled and all(is_unit(cell) for cell in contents.levels) and contents.words:
            roles[name] = "unit"
        elif name not in roles and contents.dates and len(contents.levels) > 1:
            roles[name] = "date"
    return roles


def _further_factors(columns: dict[str, _Contents], roles: dict[str, Role], treatment: str) -> list[str]:
    """Columns of words that are crossed with the treatment, so that a treatment is really a combination."""
    first = columns[treatment]
    return [
        name
        for name, contents in columns.items()
        if name not in roles and not _named("ignore", name) and not _named("date", name)
        and contents.words and contents.balanced and _crosses(contents, first) and _crosses(first, contents)
    ]  # fmt: skip


def _one_each(columns: dict[str, _Contents], plot: list[str], name: str) -> bool:
    """Whether each plot has one level only: what varies within a plot can't be a treatment of it."""
    keys = zip(*(columns[part].cells for part in plot), strict=True)
    return len(set(zip(keys, columns[name].cells, strict=True))) == len(
        set(zip(*(columns[part].cells for part in plot), strict=True))
    )


def likely_direction(label: str) -> Direction:
    """Which way is usually wanted, from the name of a measure; `none` where opinions differ."""
    text = label.lower()
    if any(word in text for word in _LESS_IS_WANTED):
        return "lower"
    return "higher" if any(word in text for word in _MORE_IS_WANTED) else "none"


def split_unit(name: str) -> tuple[str, str]:
    """`Yield (t/ha)`, `Yield, t/ha`, `Yield t/ha` or `yield_t_ha` → label and unit, empty where none is told."""
    for pattern in (_UNIT_IN_BRACKETS, _UNIT_AFTER_COMMA):
        found = pattern.match(name)
        if found and found[1]:
            return _readable(found[1]), found[2]
    label, _, last = name.rpartition(" ")
    if label and "/" in last and is_unit(last):
        return _readable(label), last
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
        self.numbers = sum(_is_number(cell) for cell in self.filled)
        self.numeric = bool(self.filled) and self.numbers >= 0.5 * len(self.filled)
        self.dates = is_mostly_dates(self.cells)
        self.words = bool(self.filled) and not self.numeric and not self.dates

    @property
    def names_measures(self) -> bool:
        """Whether most of its levels are what is usually measured, and not what is grown."""
        known = [level for level in self.levels if names_a_measure(level)]
        return len(known) >= 2 and len(known) >= 0.6 * len(self.levels)

    @property
    def balanced(self) -> bool:
        counts = self.levels.values()
        return 2 <= len(counts) <= 60 and min(counts) >= 2 and max(counts) <= 2 * min(counts)


def _is_number(cell: str) -> bool:
    text, unit = split_unit_off(cell)
    return read_number(text) is not None and (not unit or is_unit(unit))


def names_a_measure(text: str) -> bool:
    """Whether a header, or a cell that tells what was measured, is called like a measure."""
    label = split_unit(text)[0].lower()
    known = {d.name.lower() for d in CATALOGUE.values()} | {d.key.replace("-", " ") for d in CATALOGUE.values()}
    return label in known or any(re.search(rf"\b{word}", label) for word in _SURE_MEASURES)


def _named(role: Role, name: str) -> bool:
    plain = re.sub(r"[^a-z ]", " ", split_unit(name)[0].lower())
    plain = " ".join(plain.split())
    return plain in _NAMES[role] or any(plain.startswith(known + " ") for known in _NAMES[role])


def _score(role: Role, name: str, contents: _Contents, columns: dict[str, _Contents], treatment: str) -> float:
    """0: can't be; a right name counts more than contents, contents decide between right names."""
    if not contents.filled or _named("ignore", name) or contents.dates or (role != "treatment" and name == treatment):
        return 0
    named = 4.0 if _named(role, name) else 0.0
    if role == "treatment":
        fits = contents.words and contents.balanced and not _named("block", name) and not _named("plot", name)
        return named + (2.0 if fits else 0) if named or fits else 0
    if role == "block":
        fits = contents.balanced and len(contents.levels) <= 12 and _crosses(contents, columns.get(treatment))
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


def _column(table: Table, name: str, role: Role | None, contents: _Contents) -> Column:
    label, unit = split_unit(name)
    unit = unit or table.units.get(name, "")
    if role is None:
        # A measure's name or unit makes a column one of values, however many of its cells are odd.
        looks = contents.numeric or (contents.numbers and (is_unit(unit) or names_a_measure(name)))
        role = "value" if looks and not contents.dates and not _named("ignore", name) else "ignore"
    empty = len(contents.cells) - len(contents.filled)
    examples = tuple(dict.fromkeys(contents.filled))[:3]
    return Column(
        name, role, label, unit, likely_direction(label), examples, len(contents.levels), empty, contents.numeric
    )
