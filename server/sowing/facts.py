"""What was sown, as the core's doubts want it."""

from __future__ import annotations

from apercu_core.sowing.delivered import off
from apercu_core.trial.facts import SownFacts
from sowing.models import Sowing
from trials.models import Season


def sown_facts(season: Season) -> tuple[SownFacts, ...]:
    """By entry and treatment; one query where nothing was entered."""
    sowings = list(Sowing.objects.filter(season=season).prefetch_related("units"))
    if not sowings:
        return ()
    names = {str(t.id): t.name for t in season.trial.treatments.all()}
    out = []
    for one in sowings:
        amounts = {amount["treatment"]: amount for amount in one.amounts}
        for key in dict.fromkeys(str(unit.treatment_id) for unit in one.units.all()):
            wanted = amounts[key]["intended_kg_ha"] if key in amounts else None
            share = off(amounts[key]["rate_kg_ha"], wanted) if wanted else None
            out.append(SownFacts(names[key], one.day, share, one.depth_cm))
    return tuple(out)
