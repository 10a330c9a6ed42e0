"""What of a map was printed or exported: a map that changes afterwards says first that those copies would be wrong."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager

from django.db import transaction
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from apercu_core.words import listed
from config import clock
from config.etags import etag_of
from config.problems import Conflict
from crew.models import Person
from trials.models import Season, Unit

ALTHOUGH = [
    OpenApiParameter(
        "although_taken_out", bool, description="Change the map although somebody has printed or exported it."
    )
]
KEPT, SHOWN = 40, 4


class TakenOut(Conflict):
    """The map that would change was printed or exported; it is changed where somebody says that they know."""

    default_code = "map-taken-out"


def although_taken_out(request: Request) -> bool:
    return request.query_params.get("although_taken_out") == "true"


def note_taken_out(*, by: Person, season: Season, what: str) -> None:
    """Keep that somebody has `what` of the map as it is now, in words (`labels`); the same once for each map."""
    with transaction.atomic():
        season = Season.objects.select_for_update(of=("self",), no_key=True).get(pk=season.pk)
        now = _map_of(season)
        if not now:
            return
        for one in season.taken_out:
            if (one["map"], one["what"], one["by"]) == (now, what, by.name):
                return
        one = {"what": what, "by": by.name, "at": clock.now().isoformat(), "map": now}
        season.taken_out = [*season.taken_out, one][-KEPT:]
        season.save(update_fields=["taken_out"])


@contextmanager
def only_knowingly(seasons: Iterable[Season], although: bool) -> Iterator[None]:
    """Around a change, within a transaction: raises `TakenOut` at its end where it makes another map than the one that
    somebody has taken out, unless the person goes on `although`.
    """
    before = [] if although else [(one, _map_of(one)) for one in seasons if one.taken_out]
    yield
    for season, then in before:
        found = [one for one in season.taken_out if one["map"] == then]
        if found and _map_of(season) != then:
            said = listed([f"{one['what']} ({one['by']}, {one['at'][:10]})" for one in found], SHOWN)
            raise TakenOut(
                f"This map was printed or exported: {said}. If it changes, those copies show another map than Apercu. "
                "Nothing was changed."
            )


def _map_of(season: Season) -> str:
    """Which treatment stands where, to the centimetre, as a hash; empty where there is no map."""
    plots = Unit.objects.filter(season_id=season.pk).plots().order_by("label")
    placed = plots.values_list("label", "treatment_id", "ground__x_m", "ground__y_m")
    found = [[label, str(treatment), _cm(x), _cm(y)] for label, treatment, x, y in placed]
    return etag_of(found) if found else ""


def _cm(metres: float | None) -> int | None:
    return None if metres is None else round(100 * metres)
