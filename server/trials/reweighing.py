"""Shares of zones that change once values were recorded there: never without a word, and kept with the reason."""

from __future__ import annotations

import uuid
from collections.abc import Mapping

from apercu_core.words import listed
from config import clock
from config.problems import Conflict
from crew.models import Person
from trials.models import Season, Unit

Shares = Mapping[uuid.UUID, Mapping[str, float]]
SHOWN = 6


class ChangesValues(Conflict):
    """What is asked for would change values that are recorded; with a reason it is done."""

    default_code = "changes-values"


def keep_reweighing(*, by: Person, season: Season, before: Shares, after: Shares, why: str) -> None:
    """Keep on the season what a change of shares (plot → zone → share) does to recorded values, and why.

    Raises `ChangesValues` with what would change where no reason is given. Nothing is kept where no value changes.
    """
    season.visits.update(counted=None)  # what a plot needs may have changed
    recorded = Unit.objects.filter(season=season, observations__current=True).exclude(observations__zone="")
    changed = [
        u for u in recorded.distinct().order_by("order") if not _alike(before.get(u.id, {}), after.get(u.id, {}))
    ]
    if not changed:
        return
    said = _said(changed, before, after)
    if not why.strip():
        raise ChangesValues(
            f"This changes values that are recorded at {season.site.name}: {said}. If it is right, give the "
            "reason. It is saved and printed beside the results."
        )
    one = {"said": said, "why": why.strip(), "by": by.name, "at": clock.now().isoformat()}
    season.reweighed = [*season.reweighed, one]
    season.save(update_fields=["reweighed"])


def _alike(one: Mapping[str, float], other: Mapping[str, float]) -> bool:
    return all(abs(one.get(zone, 0.0) - other.get(zone, 0.0)) < 1e-6 for zone in {*one, *other})


def _said(units: list[Unit], before: Shares, after: Shares) -> str:
    """Plots whose shares change alike are said together."""
    alike: dict[str, list[str]] = {}
    for unit in units:
        then, now = before.get(unit.id, {}), after.get(unit.id, {})
        zones = [
            f"{zone} {100 * then.get(zone, 0.0):.0f} % becomes {100 * now.get(zone, 0.0):.0f} %"
            for zone in dict.fromkeys([*then, *now])
            if abs(then.get(zone, 0.0) - now.get(zone, 0.0)) >= 1e-6
        ]
        alike.setdefault(", ".join(zones), []).append(unit.label)
    return "; ".join(
        f"{'plot' if len(labels) == 1 else 'plots'} {listed(labels, SHOWN)} ({zones})"
        for zones, labels in alike.items()
    )
