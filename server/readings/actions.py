"""Reading a trial, and answering doubts."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, cast

from apercu_core import __version__
from apercu_core.reading.asked import How, in_force
from apercu_core.reading.trial import fingerprint, read_trial
from apercu_core.statistics.specification import Method
from apercu_core.units import System
from config import clock
from crew.models import Person
from crew.permissions import require
from readings.bridge import asked_json, gather, hash_of, recorded
from readings.models import DoubtAnswer, Reading
from readings.shape import reading_json
from trials.models import Season


def default_method(season: Season) -> Method:
    """Dunnett where there is a control to compare with, Tukey where there is none."""
    return "dunnett" if any(t.is_control for t in season.trial.treatments.all()) else "tukey"


def read_season(*, by: Person, season: Season, how: How) -> tuple[Reading, dict[str, Any]]:
    """Read the season with this method; the same data, question and method give the reading that is there.

    Returns the stored reading and its result with the present answers to its doubts.
    """
    require(by, "see", season.trial.workspace)
    given = gather(season, cast(System, by.units))
    how = in_force(how, given.design, given.facts.plots)
    first = season.readings.order_by("created_at", "id").first()
    measures = recorded(given, first.given if first else None)
    seen = fingerprint(given.facts, recorded(replace(given, system="metric"), None))
    asked = asked_json(given, how)
    key = {"season": season, "fingerprint": seen, "asked_hash": hash_of(asked), "core_version": __version__}
    reading = Reading.objects.filter(**key).first()
    if reading is None:
        result = reading_json(read_trial(given.facts, given.design, measures, how, given.base), given)
        tried = first is not None and first.asked["how"] != asked["how"]
        reading, _ = Reading.objects.get_or_create(
            **key,
            defaults={
                "asked": asked, "given": given.samples, "result": result, "tried_after": tried, "by": by,
                "created_at": clock.now(),
            },
        )  # fmt: skip
    return reading, _with_answers(season, reading.result)


def _with_answers(season: Season, result: dict[str, Any]) -> dict[str, Any]:
    answers: dict[str, dict[str, Any]] = {}
    for answer in DoubtAnswer.objects.filter(season=season).select_related("by").order_by("at", "id"):
        answers[answer.doubt] = {"note": answer.note, "by": answer.by.name, "at": answer.at.isoformat()}
    every = [*result["doubts"], *(doubt for measure in result["measures"] for doubt in measure["doubts"])]
    for doubt in every:
        found = answers.get(doubt["key"])
        doubt["answer"] = found if found and found["note"] else None
    return result


def answer_doubt(*, by: Person, season: Season, doubt: str, note: str) -> DoubtAnswer:
    """Keep a note beside a doubt; an empty note takes the answer back. Earlier answers stay on record."""
    require(by, "answer", season.trial.workspace)
    return DoubtAnswer.objects.create(season=season, doubt=doubt[:240], note=note.strip(), by=by, at=clock.now())
