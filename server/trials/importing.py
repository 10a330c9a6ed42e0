"""A layout that lies in the field already, taken in as the trial's map."""

from __future__ import annotations

from typing import Literal

from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize
from apercu_core.layout_files.design import design_of
from apercu_core.layout_files.read import Imported, read_layout
from apercu_core.trial.facts import PlotFacts
from apercu_core.words import listed
from config import clock
from crew.models import Person
from crew.permissions import require
from trials.actions import keep_size, lay_out
from trials.ask import clear_ground
from trials.layout import origin_of
from trials.models import Allocation, Season
from trials.plan import require_own_plots
from trials.recorded import require_unrecorded
from trials.taken_out import only_knowingly

HowPlaced = Literal["drawn", "systematic", "unknown"]


def import_layout(
    *, by: Person, season: Season, data: bytes, allocation: HowPlaced, size: PlotSize | None, design: str = "",
    although: bool = False,
) -> Season:  # fmt: skip
    """Replace the map by the plots of the file; free before the first record.

    `allocation`: how treatments came to their plots, as the person says; `design`: of the plots, empty where the file
    says it. Raises `Refused` with each wrong row.
    """
    require(by, "plan", season)
    with transaction.atomic():
        season = (
            Season.objects.select_for_update(of=("self",), no_key=True)
            .select_related("trial__workspace", "site")
            .get(pk=season.pk)
        )
        require_unrecorded(season, "the plot map can’t change. Copy the trial if its layout has to change.")
        require_own_plots(season)
        treatments = {t.name: t for t in season.trial.treatments.all()}
        names = {t.code: t.name for t in treatments.values()} | {name: name for name in treatments}
        # Several sites may share their list in part; what others are compared with grows at all of them.
        several = season.trial.seasons.count() > 1
        needed = {t.name for t in treatments.values() if t.is_control} if several else None
        found = read_layout(data, names, size, origin_of(season.site), needed=needed)
        _require_site(found, season)
        read_as = design_of(found, {name: t.levels for name, t in treatments.items()}, design)
        blocked = read_as.design != "crd"
        if found.origin and season.site.latitude is None:
            season.site.latitude, season.site.longitude = found.origin.latitude, found.origin.longitude
            season.site.bearing_deg = found.origin.bearing
            season.site.save()
        with only_knowingly([season], although):
            clear_ground(season)
            season.design, season.whole_factor = read_as.design, read_as.whole_factor
            season.column_factor, season.block_size = read_as.column_factor, read_as.block_size
            season.seed, season.algorithm, season.constraints, season.moved = None, "", [], []
            placed = {plot.treatment for plot in found.plots}
            season.not_grown.set(t for name, t in treatments.items() if name not in placed)
            season.drawn_at = clock.now()
            season.allocation = Allocation(allocation)
            first = found.plots[0].place
            blocks = len({p.block for p in found.plots if p.block}) if blocked else None
            keep_size(season, PlotSize(first.width, first.length), blocks or None)
            facts = [
                PlotFacts(
                    p.label, p.block if blocked else "", p.treatment, p.position if blocked else None,
                    p.whole_plot if read_as.design == "split_plot" else "", row=p.row, column=p.column,
                    incomplete_block=p.incomplete_block if read_as.design == "incomplete_block" else "",
                )
                for p in found.plots
            ]  # fmt: skip
            lay_out(season, facts, treatments, PlotSize(first.width, first.length), [p.place for p in found.plots])
    return season


def _require_site(found: Imported, season: Season) -> None:
    """Raises `Refused` where the file names another site, or several."""
    others = [name for name in found.sites if name != season.site.name]
    if others or len(found.sites) > 1:
        raise Refused(
            "bad-value",
            f"The file holds plots of {listed(list(found.sites))}, and this map is of {season.site.name}. Choose the "
            "site that the file is of, or leave the rows of other sites out.",
        )
