"""The grower's page: one side of A4 as PDF."""

from __future__ import annotations

from typing import cast

from apercu_core.units import System
from crew.models import Person
from reports.map_svg import key_of, map_svg
from reports.printing import document_of, pdf_of, printed
from reports.season_report import SeasonReport, season_report
from trials.models import Season

_SIZES = (10.8, 10.0, 9.2, 8.4, 7.6, 6.8)
"""Text sizes in points, tried from the largest until the page is one side."""


def growers_page(*, by: Person, season: Season) -> bytes:
    """The page as a tagged PDF. Text shrinks until it fits on one side; past the smallest, doubts are left to Read."""
    report = season_report(by=by, season=season)
    for size in _SIZES:
        document = document_of(_html(report, cast(System, by.units), size))
        if len(document.pages) == 1:
            break
    return pdf_of(document.copy(document.pages[:1]))


def _html(report: SeasonReport, system: System, size: float) -> str:
    season, trial = report.season, report.season.trial
    units = [u for u in season.units.plots() if u.ground_id]  # type: ignore[attr-defined]
    treatments = list(trial.treatments.all())
    ground = map_svg(units, treatments, width=230, height=330, bearing=season.site.bearing_deg, system=system)
    shown = {"report": report, "trial": trial, "size": size, "map": ground, "key": key_of(treatments)}
    return printed("growers_page.html", shown)
