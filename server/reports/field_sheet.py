"""A visit on paper: plots in walking order, where each sample is taken, and boxes for what is counted there.

The order is that of the sheet on the screen, row by row, so that what was written is typed back as it stands.
"""

from __future__ import annotations

import uuid
from typing import Any, cast

from django.db.models import prefetch_related_objects

from apercu_core.measures.entries import unit_of_field
from apercu_core.units import System, shown_in
from apercu_core.words import with_unit
from config import clock
from config.problems import Conflict
from crew.models import Person
from records.models import Visit, VisitMeasure
from records.places import places_at
from records.progress import samples_at, taken_with_measures
from records.visits import allotment_of, is_blind, walking_order
from reports.printing import document_of, pdf_of, printed
from trials.measure_parts import parts_of
from trials.models import Season
from trials.zones import measured_in, shares_in

MOST_COLUMNS = 12
"""Boxes side by side on a page; a sheet with more has several tables, one after another."""


def field_sheet(*, by: Person, season: Season, visit: uuid.UUID) -> bytes:
    return pdf_of(document_of(field_sheet_html(by=by, season=season, visit=visit)))


def field_sheet_html(*, by: Person, season: Season, visit: uuid.UUID) -> str:
    """Raises `Conflict` where the visit is gone meanwhile."""
    there = Visit.objects.visible_to(by).filter(season=season, pk=visit).select_related("season__site").first()
    if there is None:
        raise Conflict("This visit isn’t there any more. Open the page again.")
    prefetch_related_objects([there], taken_with_measures(), "observers__person")
    system, walk, taken = cast(System, by.units), walking_order(there), list(there.taken.all())
    places, shares = places_at(there, walk), shares_in(season)
    allotted = allotment_of(there, walk)
    blind = is_blind(there)
    tables: list[dict[str, Any]] = [
        {
            "name": ", ".join(t.measure.version.measure.name for t in part.taken), "settings": part.settings,
            "heads": part.heads,
            "rows": [row for unit in walk for row in part.rows(unit, places.by_plot.get(unit.id, ()), shares, system)],
        }
        for part in _tables(taken, season, system)
    ]  # fmt: skip
    codes = {} if blind else {unit.label: unit.treatment.code for unit in walk if unit.treatment}
    for table in tables:
        for row in table["rows"]:
            row["code"] = codes.get(row["plot"], "")
    shown = {
        "trial": season.trial, "visit": there, "where": ", ".join(filter(None, [season.site.name, season.site.place])),
        "tables": tables, "places": places, "blind": blind, "today": clock.today(season.site.time_zone),
        "blocks": any(unit.block for unit in walk), "why_so": allotted.why,
        "observers": [
            f"{one.person.name}: blocks {', '.join(allotted.blocks[str(one.person_id)]) or 'none'}"
            for one in there.observers.all()
        ],
    }  # fmt: skip
    return printed("field_sheet.html", shown)


class _Table:
    """Measures with as many samples of a plot as each other, in the same zones: one row a sample."""

    def __init__(self, taken: list[VisitMeasure], zones: tuple[str, ...], system: System) -> None:
        self.taken, self.zones, self.samples = taken, zones, samples_at(taken[0])
        self.heads = [head for t in taken for head in _heads(t, system)]
        self.settings = [
            f"{s.name}: {with_unit(value * shown_in(s.unit, system)[1], shown_in(s.unit, system)[0])}"
            for t in taken
            for s in t.measure.version.entry_sheet.settings
            if s.key != "frames" and (value := t.measure.version.settings.get(s.key, s.usual)) is not None
        ]

    def rows(self, unit: Any, places: Any, shares: Any, system: System) -> list[dict[str, Any]]:
        length, factor = shown_in("m", system)
        own = [zone for zone in self.zones if zone in shares.get(unit.id, {})] if self.zones else [""]
        out: list[dict[str, Any]] = []
        for zone in own:
            for n in range(self.samples):
                spot = places[n] if n < len(places) else None
                said = f"{spot.along * factor:.1f} × {spot.across * factor:.1f} {length}" if spot else ""
                out.append({
                    "plot": unit.label, "block": unit.block, "first": not out, "zone": zone,
                    "sample": n + 1 if self.samples > 1 else "", "place": said,
                })  # fmt: skip
        return out


def _tables(taken: list[VisitMeasure], season: Season, system: System) -> list[_Table]:
    groups: list[tuple[int, tuple[str, ...], list[VisitMeasure]]] = []
    for one in taken:
        zones, samples = measured_in(season, one.measure), samples_at(one)
        width = len(_heads(one, system))
        if groups:
            known_samples, known_zones, own = groups[-1]
            wide = sum(len(_heads(t, system)) for t in own)
            if (known_samples, known_zones) == (samples, zones) and wide + width <= MOST_COLUMNS:
                own.append(one)
                continue
        groups.append((samples, zones, [one]))
    return [_Table(own, zones, system) for _, zones, own in groups]


def _heads(taken: VisitMeasure, system: System) -> list[str]:
    """A column for each part and field, and one more for a part that nobody has listed yet."""
    version = taken.measure.version
    sheet = version.entry_sheet
    parts = [part.name for part in parts_of(taken.measure)] if sheet.parts else [""]
    heads = []
    for part in [*parts, *(["Other:"] if sheet.parts else [])]:
        for field in sheet.fields:
            unit = shown_in(unit_of_field(field, version.unit), system)[0]
            name = part or (version.measure.name if len(sheet.fields) == 1 else field.name)
            name = f"{part}: {field.name}" if part and len(sheet.fields) > 1 else name
            heads.append(f"{name}, {unit}" if unit else name)
    return heads
