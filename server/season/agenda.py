"""What is due, half done and waiting in a season."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, Literal

from django.db.models import Max, OuterRef, Subquery

from config import clock
from records.models import Observation, Visit
from records.visits import Figure, Progress, figures_of, progress_of
from trials.models import Season, UnitKind
from trials.zones import shares_in

SOON = timedelta(days=14)
State = Literal["overdue", "due", "soon", "later", "begun", "done", "contested"]


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


def with_agenda(seasons: Any) -> Any:
    """Season query set with all that `agenda_of` reads, in a constant number of queries."""
    return seasons.select_related("trial", "site").prefetch_related(
        "visits__taken__measure__version__measure", "operations"
    )


def with_news(seasons: Any) -> Any:
    """Seasons with `newest`, when their last figure came in, and `read_at`, when they were last read."""
    figures = Observation.objects.filter(visit__season=OuterRef("pk")).order_by("-received_at")
    return seasons.annotate(newest=Subquery(figures.values("received_at")[:1]), read_at=Max("readings__created_at"))


def is_news(season: Any, agenda: Agenda) -> bool:
    """Whether a whole visit has come in that nobody has read yet. `season` comes from `with_news`."""
    walked = any(visit.state == "done" and visit.progress.begun for visit in agenda.visits)
    return walked and (season.read_at is None or season.newest > season.read_at)


def agenda_of(seasons: list[Season]) -> dict[Any, Agenda]:
    """Agenda by season id. `seasons` come from `with_agenda`; two more queries for all, one for each with zones."""
    ids = [season.id for season in seasons]
    plots: dict[Any, int] = dict.fromkeys(ids, 0)
    for season_id in _plot_seasons(ids):
        plots[season_id] += 1
    rows: dict[Any, list[Figure]] = {}
    for row in figures_of(Observation.objects.filter(visit__season__in=ids)):
        rows.setdefault(row.visit_id, []).append(row)
    return {season.id: _agenda(season, plots[season.id], rows) for season in seasons}


def _plot_seasons(ids: list[Any]) -> Any:
    from_units = Season.objects.filter(id__in=ids, units__kind=UnitKind.PLOT)
    return from_units.values_list("id", flat=True)


def _agenda(season: Season, plots: int, rows: dict[Any, list[Figure]]) -> Agenda:
    today = clock.today(season.site.time_zone)
    visits, shares = [], shares_in(season)
    for visit in season.visits.all():
        progress = progress_of(visit, plots, rows.get(visit.id, []), shares)
        visits.append(VisitState(visit, progress, _visit_state(visit, progress, today)))
    operations = tuple(OperationState(o, "done" if o.done else _by_date(o.due, today)) for o in season.operations.all())
    return Agenda(today, tuple(visits), operations)


def _visit_state(visit: Visit, progress: Progress, today: date) -> State:
    if progress.contested:
        return "contested"
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
