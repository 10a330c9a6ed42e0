"""Operations that were done, as the core's doubts want them."""

from __future__ import annotations

from apercu_core.trial.facts import OperationFacts
from operations.models import Operation
from trials.models import Season


def operation_facts(season: Season) -> tuple[OperationFacts, ...]:
    done = Operation.objects.filter(season=season).exclude(done=None).prefetch_related("treatments", "plots", "exempt")
    return tuple(
        OperationFacts(
            one.kind, one.name, tuple(t.name for t in one.treatments.all()), tuple(u.label for u in one.plots.all()),
            tuple(u.label for u in one.exempt.all()),
        )
        for one in done
    )  # fmt: skip
