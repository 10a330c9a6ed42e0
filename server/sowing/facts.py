"""What was sown, as the core's doubts want it."""

from __future__ import annotations

from apercu_core.sowing.delivered import off
from apercu_core.trial.facts import SownFacts
from sowing.models import Sowing
from sowing.seed import SeasonSeed
from trials.models import Season


def sown_facts(season: Season) -> tuple[SownFacts, ...]:
    """By entry and treatment; one query where nothing was entered."""
    sowings = list(Sowing.objects.filter(season=season).prefetch_related("units"))
    if not sowings:
        return ()
    there = SeasonSeed(season)
    names = {str(t.id): t.name for t in there.treatments}
    out = []
    for one in sowings:
        rates = {amount["treatment"]: amount["rate_kg_ha"] for amount in one.amounts}
        for key in dict.fromkeys(str(unit.treatment_id) for unit in one.units.all()):
            wanted, got = there.intended(key), rates.get(key)
            share = off(got, wanted) if wanted and got is not None else None
            out.append(SownFacts(names[key], one.day, share, one.depth_cm))
    return tuple(out)
