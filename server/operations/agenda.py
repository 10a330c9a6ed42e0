"""What is due, half done and waiting in a season."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, Literal

from django.db.models import Count, Exists, F, Max, OuterRef, Q, Subquery

from config import clock
from crew.models import Person
from operations.models import Operation
from records.models import Visit
from records.progress import Progress, progress_of
from trials.models import Season, Unit, UnitKind
from trials.zones import shares_in

SOON = timedelta(days=14)
State = Literal["overdue", "due", "soon", "later", "begun", "done", "conflict"]


@dataclass(frozen=True, slots=True)
class VisitState:
    visit: Visit
    progress: Progress
    state: State


@dataclass(frozen=True, slots=True)
class OperationState:
    operation: Any
    state: State


@dataclass(frozen=True, slots=True)
class Agenda:
    """Visits in order, operations by date, and the site's own today."""

    today: date
    visits: tuple[VisitState, ...]
    operations: tuple[OperationState, ...]


SHOWN = 30
"""The most lines of a kind that Today shows."""


def open_on(person: Person) -> tuple[list[Visit], list[Operation], list[Season]]:
    """What may be due, half done or soon, and the seasons with whole visits that nobody has read, of all that a person
    sees: as many of each as are shown, and one more. Whoever reads them works out the states.
    """
    count_stale(person)
    horizon = clock.now().date() + SOON + timedelta(days=1)  # further east it may be tomorrow already
    visits = Visit.objects.visible_to(person).filter(season__trial__archived_at=None)
    visits = visits.filter(Q(whole=False) | Q(conflicts__gt=0))
    visits = visits.filter(Q(due__lte=horizon) | Q(begun__gt=0) | Q(conflicts__gt=0))
    visits = visits.select_related("season__trial", "season__site").prefetch_related(
        "taken__measure__version__measure", "only", "observers"
    )
    operations = Operation.objects.visible_to(person).filter(done=None, due__lte=horizon)
    operations = operations.filter(season__trial__archived_at=None)
    walked = Visit.objects.filter(season=OuterRef("pk"), begun__gt=0)
    news = (
        Season.objects.visible_to(person).filter(trial__archived_at=None).annotate(read_at=Max("readings__created_at"))
    )
    news = news.annotate(newest=Subquery(walked.order_by("-newest").values("newest")[:1]))
    news = news.filter(Exists(walked.filter(whole=True))).filter(Q(read_at=None) | Q(newest__gt=F("read_at")))
    return (
        list(visits.order_by("due", "season__trial__name", "name", "id")[: 2 * SHOWN + 1]),
        list(operations.select_related("season__trial", "season__site").order_by("due", "name", "id")[: SHOWN + 1]),
        list(news.select_related("trial", "site").order_by("-newest", "id")[: SHOWN + 1]),
    )


def count_stale(person: Person) -> None:
    """Count the visits in which something was recorded since somebody looked."""
    stale = set(Visit.objects.visible_to(person).filter(counted=None).values_list("season", flat=True))
    if stale:
        agenda_of(list(with_agenda(Season.objects.filter(id__in=stale))))


def with_agenda(seasons: Any) -> Any:
    """Season query set with all that `agenda_of` reads, in a constant number of queries."""
    return seasons.select_related("trial", "site").prefetch_related(
        "visits__taken__measure__version__measure",
        "visits__only",
        "visits__observers__person",
        "operations__treatments",
        "operations__plots",
        "operations__exempt",
    )


def agenda_of(seasons: list[Season]) -> dict[Any, Agenda]:
    """Agenda by season id. `seasons` come from `with_agenda`; one more query for all, one for each with zones, and
    some where something was recorded since somebody looked.
    """
    visits = [visit for season in seasons for visit in season.visits.all()]
    progress = progress_at(visits, seasons)
    return {season.id: _agenda(season, progress) for season in seasons}


def progress_at(visits: Sequence[Visit], seasons: Iterable[Season]) -> dict[uuid.UUID, Progress]:
    """Of visits in these seasons."""
    own = {season.id: season for season in seasons}
    plots = dict.fromkeys(own, 0)
    counted = Unit.objects.filter(season__in=own, kind=UnitKind.PLOT).values("season").annotate(n=Count("id"))
    plots |= {row["season"]: row["n"] for row in counted.order_by()}
    return progress_of(visits, plots, {id: shares_in(season) for id, season in own.items()})


def state_of(visit: Visit, progress: Progress) -> VisitState:
    """`visit` comes with its season and site."""
    return VisitState(visit, progress, _visit_state(visit, progress, clock.today(visit.season.site.time_zone)))


def operation_state(operation: Operation) -> OperationState:
    today = clock.today(operation.season.site.time_zone)
    return OperationState(operation, "done" if operation.done else _by_date(operation.due, today))


def _agenda(season: Season, progress: Mapping[Any, Progress]) -> Agenda:
    today = clock.today(season.site.time_zone)
    visits = tuple(
        VisitState(visit, progress[visit.id], _visit_state(visit, progress[visit.id], today))
        for visit in season.visits.all()
    )
    operations = tuple(OperationState(o, "done" if o.done else _by_date(o.due, today)) for o in season.operations.all())
    return Agenda(today, visits, operations)


def _visit_state(visit: Visit, progress: Progress, today: date) -> State:
    if progress.conflicts:
        return "conflict"
    if progress.of and progress.done >= progress.of:
        return "done"
    if progress.begun:
        return "begun"
    if visit.date and not visit.taken.all():
        return "done"  # walked, and nothing to fill in
    return _by_date(visit.due, today)


def _by_date(due: date | None, today: date) -> State:
    if due is None:
        return "later"
    if due < today:
        return "overdue"
    return "due" if due == today else "soon" if due - today <= SOON else "later"
