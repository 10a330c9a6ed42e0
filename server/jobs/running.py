"""Long work apart from the request that asks for it: queued in the database, done by any worker, stopped on request."""

from __future__ import annotations

import hashlib
import json
import logging
import uuid
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from datetime import timedelta
from typing import Any

from django.db import connection, transaction
from procrastinate.contrib.django import app
from rest_framework.exceptions import APIException

from apercu_core.errors import Refused
from config import clock
from config.turns import take_turns
from crew.models import Person, Workspace
from crew.permissions import Act, NotAllowed, can, require
from jobs.models import UNFINISHED, Job, JobFile, JobState

SILENT_FOR = timedelta(minutes=2)
"""A running job whose worker hasn't said anything for so long is taken up again."""
FILES_KEPT = timedelta(days=1)
_LOG = logging.getLogger(__name__)

Report = Callable[[int, int], None]
Handler = Callable[[Person, Mapping[str, Any], Report], Any]
"""Given who asked, what was asked, and how to report steps done and in all; returns what JSON can hold, or `Made`.

It does its work in one transaction and may be run again from the start, if its worker dies.
"""


@dataclass(frozen=True, slots=True)
class JobKind:
    """`act`: what one has to be allowed to, to ask for it. `reads_what_changes`: one that has begun may have read what
    was changed since, so that who asks then gets another one.
    """

    handler: Handler
    act: Act
    reads_what_changes: bool = False


@dataclass(frozen=True, slots=True)
class Made:
    """A file that came of a job; `media`: its media type."""

    name: str
    media: str
    content: bytes


KINDS: dict[str, JobKind] = {}


class Stopped(Exception):
    """Somebody doesn't want the job any more."""


def ask_for(kind: str, *, by: Person, workspace: Workspace, asked: Mapping[str, Any]) -> Job:
    """Queue a job; the same again, while it isn't finished, is the same job."""
    known = KINDS[kind]
    require(by, known.act, workspace)
    said = json.dumps([kind, str(workspace.pk), str(by.pk), asked], sort_keys=True)
    key = hashlib.sha256(said.encode()).hexdigest()
    with transaction.atomic():
        take_turns(uuid.UUID(key[:32]))
        while (there := Job.objects.filter(key=key, state__in=UNFINISHED).first()) is not None:
            if there.state == JobState.QUEUED or not known.reads_what_changes:
                return there
            key = hashlib.sha256(f"after {there.pk}".encode()).hexdigest()
        job = Job.objects.create(
            workspace=workspace, by=by, kind=kind, asked=dict(asked), key=key, created_at=clock.now()
        )
        _queue(job)
    return job


def stop(*, by: Person, job: Job) -> Job:
    """Don't go on with it: at once if it waits, at its next step if it runs. Stopping twice is harmless.

    Who asked for it may, and who plans here.
    """
    if job.by_id != by.pk or not can(by, "see", job):
        require(by, "plan", job)
    with transaction.atomic():
        job = Job.objects.select_for_update().get(pk=job.pk)
        if job.state == JobState.QUEUED:
            job.state, job.ended_at = JobState.STOPPED, clock.now()
        job.stop_wanted = True
        job.save(update_fields=["state", "ended_at", "stop_wanted"])
    return job


def remove_files() -> int:
    """Throw away what jobs made more than a day ago; it can be made again. Returns how many."""
    return JobFile.objects.filter(job__created_at__lt=clock.now() - FILES_KEPT).delete()[0]


def run(id: uuid.UUID) -> None:
    """Do a queued job, in the worker. What goes wrong stands with the job."""
    taken = Job.objects.filter(id=id, state=JobState.QUEUED).update(state=JobState.RUNNING, beat_at=clock.now())
    if not taken:
        return
    job = Job.objects.select_related("by", "workspace").get(id=id)
    try:
        with _reporting(job) as report, transaction.atomic():
            result = KINDS[job.kind].handler(job.by, job.asked, report)
            if isinstance(result, Made):
                made = {"name": result.name, "media": result.media, "content": result.content}
                JobFile.objects.update_or_create(job=job, defaults=made)
                result = None
        _end(job, JobState.DONE, result=result)
    except Stopped:
        _end(job, JobState.STOPPED)
    except (Refused, APIException, NotAllowed) as refusal:
        _end(job, JobState.FAILED, error=_said(refusal))
    except Exception:
        _LOG.exception("job %s (%s) failed", job.id, job.kind)
        detail = "Something went wrong in the application, and it is in the log. Nothing was saved."
        _end(job, JobState.FAILED, error={"code": "fault", "detail": detail, "errors": []})


def take_up_again() -> int:
    """Queue anew what a dead worker has left; returns how many. Its transaction is undone, so nothing is doubled."""
    silent = Job.objects.filter(state=JobState.RUNNING, beat_at__lt=clock.now() - SILENT_FOR)
    found = 0
    for job in silent:
        with transaction.atomic():
            if silent.filter(pk=job.pk).update(state=JobState.QUEUED, done=0):
                _queue(job)
                found += 1
    return found


def _queue(job: Job) -> None:
    # By its name: the task itself stands on this room.
    app.configure_task("jobs.tasks.run_job", queue="jobs").defer(job_id=str(job.id))


def _end(job: Job, state: JobState, *, result: Any = None, error: Any = None) -> None:
    ended = {"state": state, "result": result, "error": error, "ended_at": clock.now()}
    Job.objects.filter(id=job.id, state=JobState.RUNNING).update(**ended)


@contextmanager
def _reporting(job: Job) -> Any:
    """A report that is seen at once, though the work's own transaction isn't committed: on a connection of its own."""
    with ThreadPoolExecutor(1) as aside:

        def kept(done: int, of: int) -> bool:
            own = Job.objects.filter(id=job.id)
            own.update(done=done, of=of, beat_at=clock.now())
            return own.filter(stop_wanted=True).exists()

        def report(done: int, of: int) -> None:
            if aside.submit(kept, done, of).result():
                raise Stopped

        try:
            yield report
        finally:
            aside.submit(lambda: connection.close()).result()  # that thread's own


def _said(refusal: Exception) -> dict[str, Any]:
    if isinstance(refusal, Refused):
        return {"code": refusal.code, "detail": refusal.message, "errors": [asdict(one) for one in refusal.places]}
    if isinstance(refusal, APIException):
        return {"code": str(refusal.default_code), "detail": str(refusal.detail), "errors": []}
    return {"code": "not-allowed", "detail": str(refusal), "errors": []}
