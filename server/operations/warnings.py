"""What falls into a waiting time of a label, which plots are closed, and machines that are wanted twice on a day."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from apercu_core.timing.intervals import Applied, Later, closed_plots, within
from apercu_core.words import listed
from config import clock
from crew.models import Person
from operations.models import Operation, OperationKind
from trials.models import Season, Unit, UnitKind

_WHAT = {
    OperationKind.HARVEST: "harvest", OperationKind.PLANT: "plant", OperationKind.SOW: "sow",
    OperationKind.GRAZE: "graze", OperationKind.SAMPLE: "visit",
}  # fmt: skip
AHEAD = timedelta(days=60)
"""Machines that are wanted twice are looked for so far ahead."""


@dataclass(frozen=True, slots=True)
class Watch:
    """`sentences`: operation or visit → warnings; `closed`: plot label → the first day on which it may be entered."""

    sentences: dict[str, list[str]]
    closed: dict[str, date]


def watch(season: Season, today: date) -> Watch:
    """Of a season with its operations and visits prefetched."""
    operations = list(season.operations.all())
    kept_out = _exempt_quadrats(season, operations)
    if not any(one.intervals for one in operations):
        return Watch(kept_out, {})
    units = list(Unit.objects.filter(season=season, kind=UnitKind.PLOT).values_list("label", "treatment"))
    everything = frozenset(label for label, _ in units)

    def plots_of(one: Operation) -> frozenset[str]:
        treatments, plots = {t.pk for t in one.treatments.all()}, {u.label for u in one.plots.all()}
        own = {label for label, treatment in units if treatment in treatments or label in plots}
        return (frozenset(own) if treatments or plots else everything) - {u.label for u in one.exempt.all()}

    applied = [
        Applied(str(one.pk), one.name, day, plots_of(one), one.intervals)
        for one in operations
        if one.intervals and (day := one.done or one.due)
    ]
    later = [
        Later(str(one.pk), one.name, _WHAT[OperationKind(one.kind)], one.due, plots_of(one))
        for one in operations
        if one.done is None and one.due and one.kind in _WHAT
    ]
    later += [
        Later(str(one.pk), one.name, "visit", one.due, everything)
        for one in season.visits.all()
        if one.date is None and one.due
    ]
    sentences: dict[str, list[str]] = defaultdict(list, kept_out)
    for found in within(applied, later):
        sentences[found.later].append(found.sentence)
    done = [one for one in applied if any(str(op.pk) == one.key and op.done for op in operations)]
    return Watch(dict(sentences), closed_plots(done, today))


_LEAVES_OUT = {
    OperationKind.SPRAY, OperationKind.FERTILISE, OperationKind.KILL, OperationKind.MOW, OperationKind.TILL,
    OperationKind.IRRIGATE, OperationKind.GRAZE,
}  # fmt: skip


def _exempt_quadrats(season: Season, operations: list[Operation]) -> dict[str, list[str]]:
    """Planned operation → that some quadrats of its plots are to be left out."""
    names = [one.name for one in season.visits.all() if one.placement == "exempt"]
    if not names:
        return {}
    said = f"Leave out the exempt quadrats of {listed(names)}. The visit’s map shows them; cover or mark them first."
    return {str(one.pk): [said] for one in operations if one.done is None and one.kind in _LEAVES_OUT}


@dataclass(frozen=True, slots=True)
class WantedTwice:
    """A machine that several operations of different trials or sites want on one day."""

    machine: str
    day: date
    operations: tuple[Operation, ...]


def wanted_twice(person: Person) -> list[WantedTwice]:
    """Over all that a person sees, from today on, by the machine's name; two passes of one trial are no conflict."""
    today = clock.now().date()
    own: Any = Operation.objects.visible_to(person).exclude(machine="").filter(
        done=None, due__gte=today - timedelta(days=1), due__lte=today + AHEAD, season__trial__archived_at=None
    )  # fmt: skip
    by_day: dict[tuple[Any, str, date], list[Operation]] = defaultdict(list)
    for one in own.select_related("season__trial", "season__site").order_by("due", "season__trial__name", "id")[:500]:
        if one.due is not None:
            by_day[one.season.trial.workspace_id, _plain(one.machine), one.due].append(one)
    return [
        WantedTwice(found[0].machine, day, tuple(found))
        for (_, _, day), found in by_day.items()
        if len({one.season_id for one in found}) > 1
    ]


def _plain(name: str) -> str:
    return " ".join(name.casefold().split())
