"""Troubles and kills as the core's doubts want them, and plots that are lost from a day on."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from apercu_core.trial.facts import KillFacts, TroubleFacts
from field_log.kills import kills_in, limit_of
from field_log.models import EntryKind, LogEntry, TroubleEffect
from trials.models import Season


def _marking(season: Season) -> list[LogEntry]:
    marked = LogEntry.objects.filter(season=season, kind=EntryKind.TROUBLE).exclude(effect=TroubleEffect.NONE)
    return list(marked.prefetch_related("treatments", "plots").order_by("day", "id"))


def _plots_of(entry: LogEntry, plots: Mapping[str, str | None]) -> tuple[str, ...]:
    """`plots`: label → id of its treatment."""
    treatments = {str(one.pk) for one in entry.treatments.all()}
    own = {one.label for one in entry.plots.all()}
    return tuple(label for label, treatment in plots.items() if label in own or treatment in treatments)


def lost_from(season: Season, plots: Mapping[str, str | None]) -> dict[str, date]:
    """Plot label → the day from which what stands there doesn't count."""
    found: dict[str, date] = {}
    for entry in _marking(season):
        if entry.effect == TroubleEffect.LOST:
            for label in _plots_of(entry, plots):
                found.setdefault(label, entry.day)
    return found


def trouble_facts(season: Season, plots: Mapping[str, str | None]) -> tuple[TroubleFacts, ...]:
    return tuple(
        TroubleFacts(
            entry.get_trouble_display().replace("_", " ").lower(), entry.day, _plots_of(entry, plots),
            entry.effect == TroubleEffect.LOST, entry.text,
        )
        for entry in _marking(season)
    )  # fmt: skip


def kill_facts(season: Season) -> tuple[KillFacts, ...]:
    """Kills with a check, each with what lived at the last one."""
    limit = limit_of(season) / 100
    return tuple(
        KillFacts(
            kill.operation.name, kill.checks[-1].day,
            {one.treatment.name: one.percent / 100 for one in kill.checks[-1].means},
            limit,
        )
        for kill in kills_in(season)
        if kill.checks
    )  # fmt: skip
