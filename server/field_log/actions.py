"""Changes of the field log."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from django.core.files.uploadedfile import UploadedFile
from django.db import transaction

from apercu_core.errors import Place, Refused
from config import clock
from config.client_ids import made_before
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from field_log.models import EntryKind, KillLimit, LivingShare, LogEntry, TroubleEffect
from operations.actions import ENDS_A_COVER
from operations.models import Operation, OperationKind
from photographs.keeping import keep_photograph, remove_photograph
from photographs.models import Photograph
from trials.models import Season, Unit, UnitKind


@dataclass(frozen=True, slots=True)
class Written:
    """An entry as a person wrote it."""

    kind: str
    day: date
    text: str = ""
    trouble: str = ""
    decision: str = ""
    effect: str = TroubleEffect.NONE
    rule: str = ""
    known: str = ""
    treatments: Sequence[uuid.UUID] = ()
    plots: Sequence[str] = ()


def keep_entry(*, by: Person, season: Season, id: uuid.UUID, written: Written) -> LogEntry:
    """A note, trouble or decision under the id that the client made; the same again is harmless."""
    require(by, "record", season)
    _require_whole(season, written)
    units = plots_named(season, written.plots)
    own = {one.pk for one in season.trial.treatments.all()}
    if any(one not in own for one in written.treatments):
        raise Refused("bad-value", "A treatment isn’t one of the trial’s. Open the page again.")
    with transaction.atomic():
        take_turns(id)
        Season.objects.select_for_update(no_key=True).get(pk=season.pk)
        entry = made_before(LogEntry, id, season_id=season.pk) or LogEntry(id=id, season=season)
        for name in ("kind", "day", "trouble", "decision", "effect"):
            setattr(entry, name, getattr(written, name))
        entry.text, entry.rule, entry.known, entry.by = (
            written.text.strip(),
            written.rule.strip(),
            written.known.strip(),
            by,
        )
        entry.save()
        entry.treatments.set(season.trial.treatments.filter(pk__in=list(written.treatments)))
        entry.plots.set(units)
    return entry


def _require_whole(season: Season, written: Written) -> None:
    places = []
    if written.day > clock.today(season.site.time_zone):
        places.append(Place("day", "This day lies ahead. Enter the day on which it was seen or decided."))
    if written.kind == EntryKind.TROUBLE and not written.trouble:
        places.append(Place("trouble", "Choose the kind of trouble."))
    if written.kind == EntryKind.DECISION and not written.decision:
        places.append(Place("decision", "Choose what was decided."))
    if written.kind == EntryKind.NOTE and not written.text.strip():
        places.append(Place("text", "Write the note."))
    if written.kind != EntryKind.TROUBLE and written.effect != TroubleEffect.NONE:
        places.append(Place("effect", "Only a trouble marks plots."))
    if written.effect != TroubleEffect.NONE and not (written.plots or written.treatments):
        places.append(
            Place("plots", "Choose the plots whose values are doubtful or don’t count. It can’t be the whole trial.")
        )
    if places:
        raise Refused("bad-value", places[0].what, places)


def forget_entry(*, by: Person, entry: LogEntry) -> None:
    """Remove an entry, which the history keeps, and its photographs, which nothing keeps."""
    require(by, "record", entry.season)
    with transaction.atomic():
        photographs = list(entry.photographs.all())
        entry.delete()
        for photograph in photographs:
            remove_photograph(photograph)


MOST_PHOTOGRAPHS = 20


def add_photograph(*, by: Person, entry: LogEntry, id: uuid.UUID, file: UploadedFile[bytes]) -> None:
    """Keep a photograph with an entry, under the id that the client made; the same again is harmless."""

    def attach(photograph: Photograph) -> None:
        held = LogEntry.objects.select_for_update(no_key=True).get(pk=entry.pk)
        if held.photographs.exclude(pk=photograph.pk).count() >= MOST_PHOTOGRAPHS:
            raise Refused(
                "bad-value",
                f"This entry has {MOST_PHOTOGRAPHS} photographs, the most that one may have. Write a further entry.",
            )
        held.photographs.add(photograph)

    keep_photograph(by=by, season=entry.season, id=id, file=file, attach=attach)


def drop_photograph(*, by: Person, entry: LogEntry, photograph: Photograph) -> None:
    """Remove a photograph of an entry; nothing keeps it."""
    require(by, "record", entry.season)
    with transaction.atomic():
        remove_photograph(photograph)


def plots_named(season: Season, labels: Sequence[str]) -> list[Unit]:
    units = list(season.units.filter(kind=UnitKind.PLOT, label__in=list(labels)))
    if gone := sorted(set(labels) - {unit.label for unit in units}):
        what = f"There is no plot {gone[0]!r}. Choose from the map."
        raise Refused("bad-value", what, [Place("plots", what)])
    return units


def keep_limit(*, by: Person, season: Season, percent: float) -> None:
    """Set the share that may live after a kill, %. The history keeps what it was."""
    require(by, "plan", season)
    with transaction.atomic():
        Season.objects.select_for_update(no_key=True).get(pk=season.pk)
        KillLimit.objects.update_or_create(season=season, defaults={"percent": percent, "by": by})


def keep_living(
    *, by: Person, operation: Operation, day: date, shares: Mapping[str, tuple[float, float | None]]
) -> None:
    """How much lived in each plot on a day after its kill: label → (%, height of regrowth in cm or None).

    Raises `Refused` for another operation than a kill that was done, and for days before it.
    """
    require(by, "record", operation.season)
    if operation.kind not in (*ENDS_A_COVER, OperationKind.MOW) or operation.done is None:
        raise Refused("bad-value", "Only of a kill that was done it can be said how much lived after it.")
    if day < operation.done or day > clock.today(operation.season.site.time_zone):
        what = "Enter a day from the kill to today."
        raise Refused("bad-value", what, [Place("day", what)])
    units = plots_named(operation.season, list(shares))
    with transaction.atomic():
        Season.objects.select_for_update(no_key=True).get(pk=operation.season_id)
        for unit in units:
            percent, height = shares[unit.label]
            LivingShare.objects.update_or_create(
                operation=operation, unit=unit, day=day,
                defaults={"percent": percent, "regrowth_cm": height, "by": by},
            )  # fmt: skip
