"""Changes of the library."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from apercu_core.errors import Refused
from apercu_core.measures.catalogue import definition
from apercu_core.measures.ranges import is_part_of_whole
from apercu_core.measures.settings import made_in, settings_for
from apercu_core.measures.sheets import SHEETS
from crew.models import Workspace
from library.models import Measure, MeasureKind, MeasureVersion


@dataclass(frozen=True, slots=True)
class Defined:
    """What a measure is. `catalogue` empty: the workspace's own."""

    name: str
    unit: str
    catalogue: str = ""
    sheet: str = "figure"
    settings: dict[str, float] = field(default_factory=dict)


def _kind(defined: Defined) -> MeasureKind:
    if SHEETS[defined.sheet].values:
        return MeasureKind(SHEETS[defined.sheet].values)
    return MeasureKind.PERCENTAGE if is_part_of_whole(defined.name, defined.unit) else MeasureKind.CONTINUOUS


def hold_measures(workspace: Workspace, names: Iterable[str]) -> None:
    """Make and lock the measures of these names, always in one order. Inside a transaction."""
    for name in sorted(set(names)):
        Measure.objects.select_for_update(no_key=True).get_or_create(workspace=workspace, name=name)


def measure_version(workspace: Workspace, defined: Defined) -> MeasureVersion:
    """The version of the measure with this definition: the one that exists, or a new one. Inside a transaction.

    Raises `Refused` where the sheet makes values that can't be in the measure's unit.
    """
    if defined.sheet not in SHEETS:
        raise Refused("bad-specification", f"There is no sheet called {defined.sheet!r}.")
    settings = settings_for(SHEETS[defined.sheet], defined.settings)
    measure, _ = Measure.objects.select_for_update(no_key=True).get_or_create(workspace=workspace, name=defined.name)
    what = {"unit": defined.unit, "catalogue": defined.catalogue, "sheet": defined.sheet, "settings": settings}
    same = measure.versions.filter(**what).order_by("number").last()
    if same:
        return same
    made_in(SHEETS[defined.sheet], defined.unit, settings)
    shipped = definition(defined.catalogue)
    kind = MeasureKind(shipped.kind) if shipped and shipped.kind == "count" else _kind(defined)
    return MeasureVersion.objects.create(measure=measure, number=measure.versions.count() + 1, kind=kind, **what)
