"""Changes of the library."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from apercu_core.errors import Place, Refused
from apercu_core.measures.catalogue import definition
from apercu_core.measures.own import OWN, OwnMeasure, own_sheet
from apercu_core.measures.own_checks import require_own
from apercu_core.measures.ranges import is_part_of_whole
from apercu_core.measures.settings import made_in, settings_for
from apercu_core.measures.sheet import Sheet
from apercu_core.measures.sheets import SHEETS
from crew.models import Workspace
from library.models import Measure, MeasureKind, MeasureVersion


@dataclass(frozen=True, slots=True)
class Defined:
    """What a measure is. `catalogue` empty: the workspace's own; `own`: with a sheet of its own."""

    name: str
    unit: str
    catalogue: str = ""
    sheet: str = "figure"
    settings: dict[str, float] = field(default_factory=dict)
    own: OwnMeasure | None = None

    @property
    def entry_sheet(self) -> Sheet:
        """Raises `Refused` where there is none."""
        if self.sheet == OWN and self.own:
            return own_sheet(self.own, self.name)
        if self.sheet not in SHEETS:
            raise Refused("bad-specification", f"There is no sheet called {self.sheet!r}.")
        return SHEETS[self.sheet]


def _kind(defined: Defined) -> MeasureKind:
    if values := defined.entry_sheet.values:
        return MeasureKind(values)
    if defined.own:
        return MeasureKind(defined.own.kind)
    return MeasureKind.PERCENTAGE if is_part_of_whole(defined.name, defined.unit) else MeasureKind.CONTINUOUS


def _required(own: OwnMeasure) -> OwnMeasure:
    """Raises `Refused` with the places of what is wrong, `own.fields.0.name`."""
    try:
        return require_own(own)
    except Refused as refusal:
        places = [Place(f"own.{one.where}", one.what) for one in refusal.places]
        raise Refused(refusal.code, refusal.message, places) from None


def own_measures(workspace: Workspace) -> list[MeasureVersion]:
    """The newest version of each measure that the workspace made itself, by name."""
    made = MeasureVersion.objects.filter(measure__workspace=workspace, sheet=OWN).select_related("measure")
    newest = made.order_by("measure__name", "-number").distinct("measure__name")
    return list(newest)


def hold_measures(workspace: Workspace, names: Iterable[str]) -> None:
    """Make and lock the measures of these names, always in one order. Inside a transaction."""
    for name in sorted(set(names)):
        Measure.objects.select_for_update(no_key=True).get_or_create(workspace=workspace, name=name)


def measure_version(workspace: Workspace, defined: Defined) -> MeasureVersion:
    """The version of the measure with this definition: the one that exists, or a new one. Inside a transaction.

    Raises `Refused` where the sheet makes values that can't be in the measure's unit.
    """
    if defined.sheet == OWN and defined.own:
        defined = replace(defined, own=_required(defined.own), catalogue="", settings={})
    sheet = defined.entry_sheet
    settings = settings_for(sheet, defined.settings)
    measure, _ = Measure.objects.select_for_update(no_key=True).get_or_create(workspace=workspace, name=defined.name)
    what = {"unit": defined.unit, "catalogue": defined.catalogue, "sheet": defined.sheet, "settings": settings,
            "own": defined.own.as_json if defined.own and defined.sheet == OWN else {}}  # fmt: skip
    same = measure.versions.filter(**what).order_by("number").last()
    if same:
        return same
    made_in(sheet, defined.unit, settings)
    shipped = definition(defined.catalogue)
    kind = MeasureKind(shipped.kind) if shipped and shipped.kind == "count" else _kind(defined)
    return MeasureVersion.objects.create(measure=measure, number=measure.versions.count() + 1, kind=kind, **what)
