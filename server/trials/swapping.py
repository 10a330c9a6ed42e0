"""Plots that change places by hand: allowed within the smallest unit that chance drew in, and never forgotten."""

from __future__ import annotations

import uuid

from django.db import transaction

from apercu_core.errors import Refused
from config import clock
from crew.models import Person
from crew.permissions import require
from trials.models import Design, Season, Unit, UnitKind
from trials.recorded import require_unrecorded, require_unsown
from trials.taken_out import only_knowingly


def swap_plots(
    *, by: Person, season: Season, first: uuid.UUID, second: uuid.UUID, why: str, although: bool = False
) -> None:
    """Let two plots of one block exchange treatments, or of one whole plot or incomplete block where there are such.

    The reason is kept.

    Raises `Refused` where the design would fall apart, `Conflict` once something is recorded.
    """
    require(by, "plan", season)
    if not why.strip():
        raise Refused("bad-value", "Give a reason for the swap. It is printed with the results.")
    with transaction.atomic():
        season = Season.objects.select_for_update(of=("self",), no_key=True).select_related("trial").get(pk=season.pk)
        require_unrecorded(season, "plots keep their treatments. Copy the trial to plan another allocation.")
        require_unsown(season)
        a, b = (_plot(season, id) for id in (first, second))
        _require_together(season, a, b)
        said = f"{a.label} and {b.label} were swapped ({why.strip()})"
        with only_knowingly([season], although):
            a.treatment, b.treatment = b.treatment, a.treatment
            a.save(update_fields=["treatment"])
            b.save(update_fields=["treatment"])
        season.moved = [*season.moved, {"said": said, "by": by.name, "at": clock.now().isoformat()}]
        season.save(update_fields=["moved"])


def _plot(season: Season, id: uuid.UUID) -> Unit:
    plot = season.units.filter(id=id, kind=UnitKind.PLOT).select_related("parent", "treatment").first()
    if plot is None:
        raise Refused("bad-value", "One of these plots isn’t on the map any more. Choose again.")
    return plot


def _require_together(season: Season, a: Unit, b: Unit) -> None:
    if season.design in (Design.LATIN_SQUARE, Design.STRIP_PLOT):
        raise Refused(
            "bad-design",
            "In this design rows and columns hold their own treatments, so two plots can’t be swapped.",
        )
    if season.design != Design.CRD and a.parent_id != b.parent_id:
        inside = "whole plot" if a.whole_plot else "incomplete block" if a.incomplete_block else "block"
        raise Refused(
            "bad-design",
            f"{a.label} and {b.label} don’t lie in one {inside}: it would hold a treatment twice and miss another. "
            f"Choose two of one {inside}.",
        )
    if a.treatment_id == b.treatment_id:
        raise Refused("bad-value", f"{a.label} and {b.label} hold the same treatment: nothing would change.")
