"""The list of a day's work over all trials, to hand to whoever does it."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from typing import Any
from uuid import UUID

from apercu_core.amounts import amounts_in
from apercu_core.cautions import caution_for, caution_for_visit
from apercu_core.units import System
from apercu_core.words import listed
from crew.models import Person
from operations.agenda import with_agenda
from operations.models import Operation
from operations.warnings import watch
from records.models import Visit
from trials.models import Season

MOST = 200


def day_lines(person: Person, day: date, system: System) -> list[dict[str, Any]]:
    """What is due on the day or overdue by then, trial by trial."""
    operations = Operation.objects.visible_to(person).filter(done=None, due__lte=day, season__trial__archived_at=None)
    visits = Visit.objects.visible_to(person).filter(whole=False, due__lte=day, season__trial__archived_at=None)
    own = list(operations.order_by("due", "id").values_list("pk", "season")[:MOST])
    walks = list(visits.order_by("due", "id").values_list("pk", "season")[:MOST])
    seasons: Any = with_agenda(Season.objects.filter(pk__in={season for _, season in (*own, *walks)}))
    wanted: dict[UUID, set[UUID]] = defaultdict(set)
    for id, season in (*own, *walks):
        wanted[season].add(id)
    lines = []
    for one in seasons.prefetch_related("trial__treatments").order_by("trial__name", "site__name", "pk"):
        seen = watch(one, day).sentences
        lines += [_operation(o, seen, system) for o in one.operations.all() if o.pk in wanted[one.pk]]
        lines += [_visit(v, seen, system) for v in one.visits.all() if v.pk in wanted[one.pk]]
    return lines


def _about(season: Season, id: UUID, seen: dict[str, list[str]]) -> dict[str, Any]:
    return {"trial_name": season.trial.name, "site": season.site.name, "watched": seen.get(str(id), [])}


def _operation(one: Operation, seen: dict[str, list[str]], system: System) -> dict[str, Any]:
    codes = [t.code or t.name for t in one.treatments.all()]
    plots = [unit.label for unit in one.plots.all()]
    where = ", ".join(codes) or (f"plots {', '.join(plots)}" if plots else "the whole trial")
    where += f", in {listed(one.zones)}" if one.zones else ""
    left_out = [unit.label for unit in one.exempt.all()]
    said = [
        f"without plots {', '.join(left_out)}" if left_out else "",
        one.exempt_quadrats and f"without {one.exempt_quadrats}",
    ]
    how = [one.amount, one.machine, one.setting, one.operator, *said, one.note]
    return {
        **_about(one.season, one.pk, seen), "kind": one.kind, "name": one.name, "due": one.due, "where": where,
        "how": [text for text in how if text], "caution": amounts_in(caution_for(one.kind), system),
    }  # fmt: skip


def _visit(visit: Visit, seen: dict[str, list[str]], system: System) -> dict[str, Any]:
    measures = [taken.measure.version for taken in visit.taken.all()]
    return {
        **_about(visit.season, visit.pk, seen), "kind": "visit", "name": visit.name, "due": visit.due,
        "where": "the whole trial", "how": [version.measure.name for version in measures],
        "caution": amounts_in(caution_for_visit(version.catalogue for version in measures), system),
    }  # fmt: skip
