"""Files that take a while to make: pages, labels, the data package. Each is a job, and waits there to be fetched."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import Any
from uuid import UUID

from crew.models import Person
from crew.permissions import require
from jobs.models import Job
from jobs.running import KINDS, JobKind, Made, Report, ask_for
from reports.bag_labels import bag_labels
from reports.field_sheet import field_sheet
from reports.labels import SHEETS, stake_labels
from reports.package import data_package
from reports.packing_list import packing_list
from reports.page import growers_page
from reports.stake_out import map_page
from trials.actions import season_still_there
from trials.models import Season
from trials.taken_out import note_taken_out

PDF, ZIP = "application/pdf", "application/zip"
Maker = Callable[[Person, Season, Mapping[str, Any]], bytes]


def _labels(by: Person, season: Season, asked: Mapping[str, Any]) -> bytes:
    return stake_labels(by=by, season=season, sheet=SHEETS[asked["sheet"]], address=asked["address"])


def _bags(by: Person, season: Season, asked: Mapping[str, Any]) -> bytes:
    return bag_labels(by=by, season=season, sheet=SHEETS[asked["sheet"]], address=asked["address"])


_MAKERS: dict[str, tuple[str, str, Maker]] = {
    "page.pdf": (PDF, "", lambda by, season, asked: growers_page(by=by, season=season)),
    "package.zip": (ZIP, "data package", lambda by, season, asked: data_package(by=by, season=season)),
    "labels.pdf": (PDF, "labels", _labels),
    "bags.pdf": (PDF, "bag labels", _bags),
    "packing-list.pdf": (PDF, "packing list", lambda by, season, asked: packing_list(by=by, season=season)),
    "field-sheet.pdf": (
        PDF,
        "",
        lambda by, season, asked: field_sheet(by=by, season=season, visit=UUID(asked["visit"])),
    ),
    "map.pdf": (PDF, "printed map", lambda by, season, asked: map_page(by=by, season=season, ink=asked["ink"])),
}
"""File → its media type, what is taken out of the map with it, and how it is made."""
FILES = tuple(_MAKERS)
ENDINGS = {"page.pdf": "pdf", "package.zip": "zip"}


def ask_for_file(*, by: Person, season: Season, file: str, asked: Mapping[str, str]) -> Job:
    """Queue its making. `asked`: `sheet` and `address` of labels, `ink` of the map, `visit` of a field sheet."""
    require(by, "see", season)
    said = {"season": str(season.pk), "file": file, "units": by.units, **asked}
    return ask_for("file", by=by, workspace=season.trial.workspace, asked=said)


def make_file(by: Person, asked: Mapping[str, Any], report: Report) -> Made:
    season = season_still_there(by, asked["season"])
    by.units = asked.get("units", by.units)  # of the page that asked; nobody saves it
    report(0, 0)
    media, taken_out, make = _MAKERS[asked["file"]]
    if taken_out:  # first, so that who changes the map meanwhile waits and is told
        note_taken_out(by=by, season=season, what=taken_out)
    content = make(by, season, asked)
    return Made(file_name(season, ENDINGS.get(asked["file"], asked["file"])), media, content)


def file_name(season: Season, ending: str) -> str:
    name = re.sub(r"[^A-Za-z0-9]+", "-", season.trial.name).strip("-").lower()[:150] or "trial"
    return f"{name}.{ending}"


KINDS["file"] = JobKind(make_file, "see", reads_what_changes=True)
