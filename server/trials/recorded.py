"""What was recorded in the plots of a season, and the lock at which its writers and changes of the plot map meet.

Who writes values, notes or photographs of plots shares the season (`share_season`); who randomises, clears, swaps or
moves plots, or changes Ask, holds its row alone (`SELECT … FOR NO KEY UPDATE`) and asks only then what is recorded.
Writers don't wait for each other here. Assumes READ COMMITTED: who waited sees in the next query what was committed.
"""

from __future__ import annotations

import uuid

from django.db import connection
from django.db.models import Exists, OuterRef

from config.problems import Conflict
from trials.models import Season

_KINDS = {
    "observations": "Values are recorded",
    "notes": "There are notes about plots",
    "photographs": "There are photographs of plots",
    "living_shares": "The living share after a kill is recorded",
    "log_entries": "Notes or troubles in Season name plots",
}
"""Each relation of a unit that holds what somebody recorded there, in words that begin a sentence."""


def share_season(season: uuid.UUID) -> None:
    """Within a transaction: to its end nobody changes the plot map or Ask. Raises `Conflict` if the season is gone."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1 FROM trials_season WHERE id = %s FOR SHARE", [season])
        if cursor.fetchone() is None:
            raise Conflict("This site was removed from the trial in the meantime. Open the trial again.")


def recorded_in(season: Season) -> str:
    """What is recorded in plots of the season, in words that begin a sentence; empty: nothing."""
    here = Season.objects.filter(pk=OuterRef("pk"))
    ways = {name: f"units__{name}" for name in _KINDS} | {"observations": "visits__observations"}
    asked = {f"any_{name}": Exists(here.filter(**{f"{way}__isnull": False})) for name, way in ways.items()}
    found = Season.objects.filter(pk=season.pk).annotate(**asked)
    row = found.values(*(f"any_{name}" for name in _KINDS)).first() or {}
    return next((said for name, said in _KINDS.items() if row.get(f"any_{name}")), "")


def has_records(season: Season) -> bool:
    """Whether anything was recorded in a plot; from then on the map and the treatments stay as they are."""
    return bool(recorded_in(season))


def require_unrecorded(season: Season, so: str) -> None:
    """Raises `Conflict` where something is recorded in plots, with what follows from it (`so`)."""
    if found := recorded_in(season):
        raise Conflict(f"{found}, so {so}")


def require_unsown(season: Season) -> None:
    """Raises `Conflict` where plots are sown, or operations are kept for single plots: they stay what they were."""
    if season.sowings.exists():
        raise Conflict("Plots are entered as sown, so the plot map stays. Remove the sowing in Sow, or copy the trial.")
    if season.operations.filter(plots__isnull=False).exists():
        raise Conflict(
            "Operations are kept for single plots, so the plot map stays. Change them to treatments in Season, or copy "
            "the trial."
        )
