"""A layout that lies in the field already, taken in as the trial's map."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from django.db import transaction

from apercu_core.design.imported import ImportedPlot, read_layout
from apercu_core.design.layout import PlotSize
from apercu_core.doubts.doubt import PlotFacts
from apercu_core.errors import Refused
from config import clock
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from trials.actions import keep_size, lay_out
from trials.ask import clear_ground, has_records
from trials.layout import origin_of
from trials.models import Allocation, Design, Season, Treatment

HowPlaced = Literal["drawn", "systematic", "unknown"]


def import_layout(
    *, by: Person, season: Season, data: bytes, allocation: HowPlaced, size: PlotSize | None
) -> Season:  # fmt: skip
    """Replace the map by the plots of the file; free before the first record.

    `allocation`: how treatments came to their plots, as the person says. Raises `Refused` with each wrong row.
    """
    require(by, "plan", season.trial.workspace)
    with transaction.atomic():
        season = (
            Season.objects.select_for_update(of=("self",)).select_related("trial__workspace", "site").get(pk=season.pk)
        )
        if has_records(season):
            raise Conflict("The first records are in, so the map stays. Copy the trial if its layout has to change.")
        treatments = {t.name: t for t in season.trial.treatments.all()}
        names = {t.code: t.name for t in treatments.values()} | {name: name for name in treatments}
        # Several sites may share their list in part; what others are compared with grows at all of them.
        several = season.trial.seasons.count() > 1
        needed = {t.name for t in treatments.values() if t.is_control} if several else None
        found = read_layout(data, names, size, origin_of(season.site), needed=needed)
        design, whole = _design_of(found.plots, treatments)
        if found.origin and season.site.latitude is None:
            season.site.latitude, season.site.longitude = found.origin.latitude, found.origin.longitude
            season.site.bearing_deg = found.origin.bearing
            season.site.save()
        clear_ground(season)
        season.design, season.whole_factor, season.column_factor = design, whole, ""
        season.seed, season.algorithm, season.constraints, season.moved = None, "", [], []
        placed = {plot.treatment for plot in found.plots}
        season.left_out = [str(t.id) for name, t in treatments.items() if name not in placed]
        season.drawn_at = clock.now()
        season.trial.allocation = Allocation(allocation)
        season.trial.save(update_fields=["allocation"])
        first = found.plots[0].place
        keep_size(season, PlotSize(first.width, first.length), len({p.block for p in found.plots if p.block}) or None)
        facts = [PlotFacts(p.label, p.block, p.treatment, p.position, p.whole_plot, row=p.row, column=p.column)
                 for p in found.plots]  # fmt: skip
        lay_out(season, facts, treatments, PlotSize(first.width, first.length), [p.place for p in found.plots])
    return season


def _design_of(plots: Sequence[ImportedPlot], treatments: dict[str, Treatment]) -> tuple[str, str]:
    """How a reading should take the plots: (design, factor of its whole plots)."""
    if not any(p.whole_plot for p in plots):
        return (Design.RCBD if all(p.block for p in plots) else Design.CRD), ""
    held: dict[tuple[str, str], list[Treatment]] = {}
    for plot in plots:
        held.setdefault((plot.block, plot.whole_plot), []).append(treatments[plot.treatment])
    for factor in dict.fromkeys(name for t in treatments.values() for name in t.levels):
        if all(len({t.levels.get(factor, "") for t in inside}) == 1 for inside in held.values()):
            return Design.SPLIT_PLOT, factor
    raise Refused(
        "bad-design",
        "The file names whole plots, but no factor of the trial has one level in each of them. Name the factors and "
        "their levels in Ask, or leave the column whole_plot out.",
    )
