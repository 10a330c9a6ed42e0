"""Changes of the library."""

from __future__ import annotations

from crew.models import Workspace
from library.models import Measure, MeasureVersion


def measure_version(workspace: Workspace, name: str, unit: str) -> MeasureVersion:
    """The version of the measure with this unit: the one that exists, or a new one. Runs inside a transaction."""
    measure, _ = Measure.objects.select_for_update().get_or_create(workspace=workspace, name=name)
    same = measure.versions.filter(unit=unit).order_by("number").last()
    if same:
        return same
    return MeasureVersion.objects.create(measure=measure, number=measure.versions.count() + 1, unit=unit)
