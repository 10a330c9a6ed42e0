"""Reading a trial, and answering doubts."""

from __future__ import annotations

import copy
import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, cast

from django.core.cache import cache
from django.db import transaction

from apercu_core import __version__
from apercu_core.errors import Refused
from apercu_core.reading.asked import How, Recorded, in_force
from apercu_core.reading.identity import identity_of
from apercu_core.reading.trial import fingerprint, read_trial
from apercu_core.statistics.specification import Method
from apercu_core.units import System
from config import clock
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from readings.bridge import asked_json, gather, how_json, recorded
from readings.models import DoubtAnswer, Reading
from readings.said_once import every_doubt, said_once
from readings.shape import reading_json
from trials.models import Season


def default_method(season: Season) -> Method:
    """Dunnett where there is a control to compare with, Tukey where there is none."""
    return "dunnett" if any(t.is_control for t in season.trial.treatments.all()) else "tukey"


class NotOpened(Conflict):
    """Nobody has opened the results yet, so nobody sees them by the way."""

    default_code = "results-not-opened"


def open_results(*, by: Person, season: Season, how: How) -> Season:
    """See the results for the first time: an act, recorded with who, when and with which method.

    What is changed from then on is told as a change after results were seen. Opening again changes nothing.
    """
    require(by, "answer", season)
    with transaction.atomic():
        locked = (
            Season.objects.select_for_update(of=("self",), no_key=True)
            .select_related("trial__workspace", "site")
            .get(pk=season.pk)
        )
        if locked.results_opened_at is not None:
            return locked
        given = gather(locked)
        how = in_force(how, given.design, given.facts.plots)
        measures = recorded(given, None)
        Reading.objects.create(
            season=locked, asked=asked_json(given, how), given=given.samples, by=by, created_at=clock.now(),
            result=reading_json(read_trial(given.facts, given.design, measures, how, given.base), given),
            fingerprint=fingerprint(given.facts, measures), core_version=__version__,
            identity=identity_of(given.facts, given.design, measures, how, given.base),
        )  # fmt: skip
        locked.results_opened_at, locked.results_opened_by = clock.now(), by
        locked.results_how = how_json(how)
        locked.save(update_fields=["results_opened_at", "results_opened_by", "results_how"])
    return locked


@dataclass(frozen=True, slots=True)
class Seen:
    """A reading that somebody looks at. `tried_after`: by another method than results were opened with."""

    identity: str
    tried_after: bool
    result: dict[str, Any]


def read_season(*, by: Person, season: Season, how: How, against: str = "") -> Seen:
    """Read the season with this method, in the person's units. Looking never writes.

    `against`: a treatment that all measures are compared with in place of their controls; planned tests, which are
    against these, are left out then. Raises `NotOpened` until somebody who may has opened the results, `Refused` where
    there is no such treatment.
    """
    require(by, "see", season)
    if season.results_opened_at is None:
        raise NotOpened(
            "Nobody has opened the results yet. Opening them is recorded, so that later changes can be told from "
            "earlier ones."
        )
    stored = gather(season)
    first = season.readings.order_by("created_at", "id").first()
    if against and against not in stored.names.values():
        raise Refused("bad-specification", f"No treatment here is called {against!r}. Choose one of the trial’s.")
    if against:
        stored = replace(stored, base=against)
    measures = _compared(recorded(stored, first), against)
    how = in_force(how, stored.design, stored.facts.plots)
    identity = identity_of(stored.facts, stored.design, measures, how, stored.base)
    # The result names rows as well, to be corrected from the table: they are part of the key, not of the identity.
    rows = hashlib.sha256(json.dumps(stored.observations, sort_keys=True).encode()).hexdigest()
    key = f"reading2:{season.id}:{identity}:{rows}:{by.units}"
    result = cache.get(key)
    if result is None:
        shown = stored if by.units == "metric" else replace(stored, system=cast(System, by.units))
        read = read_trial(shown.facts, shown.design, _compared(recorded(shown, first), against), how, shown.base)
        result = reading_json(read, shown)
        cache.set(key, result, timeout=24 * 3600)
    return Seen(identity, how_json(how) != season.results_how, _with_answers(season, result))


def _compared(measures: Sequence[Recorded], against: str) -> list[Recorded]:
    """All measures asked against one treatment, where one is named."""
    if not against:
        return list(measures)
    anew: dict[str, Any] = {"base": "", "own_controls": {}, "planned": "none", "planned_for": ()}
    return [replace(one, asked=replace(one.asked, **anew)) for one in measures]


def _with_answers(season: Season, result: dict[str, Any]) -> dict[str, Any]:
    answers: dict[str, dict[str, Any]] = {}
    newest = DoubtAnswer.objects.filter(season=season).order_by("doubt", "-at", "-id").distinct("doubt")
    for answer in newest.select_related("by"):
        answers[answer.doubt] = {"note": answer.note, "by": answer.by.name, "at": answer.at.isoformat()}
    result = copy.deepcopy(result)
    for doubt in every_doubt(result):
        found = answers.get(doubt["key"])
        doubt["answer"] = found if found and found["note"] else None
    result["board_doubts"] = said_once(every_doubt(result))
    return result


def answer_doubt(*, by: Person, season: Season, doubt: str, note: str) -> DoubtAnswer:
    """Keep a note beside a doubt; an empty note takes the answer back. Earlier answers stay on record."""
    require(by, "answer", season)
    return DoubtAnswer.objects.create(season=season, doubt=doubt[:240], note=note.strip(), by=by, at=clock.now())
