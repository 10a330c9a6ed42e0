"""The plants of a season, cover by cover and the cash crop, and where each of them stands."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any
from uuid import UUID

from apercu_core.errors import Place, Refused
from apercu_core.stages.forecast import Needs, SeenStage
from apercu_core.stages.scales import StageScale, require_stage, scale_of, scale_of_crop
from apercu_core.triggers.expect import Stand
from library.species import species_in
from operations.models import GrowthStage, Operation, OperationKind
from trials.models import Season, Treatment

CROP = "crop:"
"""What the key of a cash crop begins with."""


@dataclass(frozen=True, slots=True)
class Plant:
    """`key`: of its record in the guide, or `crop:` and a name. `winter`: it lives through winter before it flowers.
    `treatments`: those that grow it.
    """

    key: str
    name: str
    scale: StageScale | None
    cold: bool
    winter: bool
    treatments: tuple[UUID, ...]


def season_with_plants(pk: UUID) -> Season:
    """The season with its operations and treatments, fresh, for reading what grows in it in few queries."""
    related = Season.objects.select_related("trial__workspace", "site")
    return related.prefetch_related("operations__treatments", "operations__plots", "trial__treatments").get(pk=pk)


def plants_in(season: Season, crops: Iterable[str] = ()) -> dict[str, Plant]:
    """By key: every species that a treatment of the season sows, and the cash crops whose stages somebody names."""
    known = species_in(season.trial.workspace)
    names: dict[str, str] = {}
    grown: dict[str, list[UUID]] = {}
    gone = _not_grown(season)
    treatments = [one for one in season.trial.treatments.all() if one.pk not in gone]
    for treatment in treatments:
        for part in treatment.details.get("components", ()):
            key = part.get("species") or part["name"].strip().lower()
            names.setdefault(key, part["name"])
            grown.setdefault(key, []).append(treatment.pk)
    found = {}
    for key, name in names.items():
        record = known.get(key)
        cold = record is not None and record.is_one_of("cold_need", "yes")
        winter = record is not None and (cold or record.is_one_of("season", "winter"))
        scale = None if record is None else scale_of(record)
        found[key] = Plant(key, name, scale, cold, winter, tuple(dict.fromkeys(grown[key])))
    for crop in crops:
        name = crop.removeprefix(CROP)
        found[crop] = Plant(crop, name, scale_of_crop(name), False, False, tuple(one.pk for one in treatments))
    return found


def _not_grown(season: Season) -> set[UUID]:
    return set(season.not_grown.values_list("pk", flat=True))


def crops_named(season: Season) -> list[str]:
    """Cash crops of which a stage was seen, or on which an operation waits."""
    seen = season.stages.filter(plant__startswith=CROP).values_list("plant", flat=True)
    asked = [(one.trigger or {}).get("plant", "") for one in season.operations.all()]
    asked += [(one.closes or {}).get("plant", "") for one in season.operations.all()]
    return sorted({*seen, *(plant for plant in asked if plant.startswith(CROP))})


def require_plant(season: Season, key: str, code: int, where: str) -> Plant:
    """The plant of this key, if it has the stage. Raises `Refused` at the field `where`."""
    crops = [key] if key.startswith(CROP) else []
    plant = plants_in(season, crops).get(key)
    if plant is None:
        what = "No treatment has this plant. Choose one of the list, or name a cash crop."
        raise Refused("bad-value", what, [Place(where, what)])
    if plant.scale is None:
        what = (
            f"Apercu has no growth stages for “{plant.name}”. Choose a plant of the guide, or another name of the crop."
        )
        raise Refused("bad-value", what, [Place(where, what)])
    require_stage(plant.scale, code, plant.name)
    return plant


def stands_in(season: Season) -> tuple[Stand, ...]:
    """Each plant of each treatment with the last stage seen there; before that its sowing, done or planned.

    Where plots of a treatment were seen at different stages on one day, the slowest counts.
    """
    plants = plants_in(season, crops_named(season))
    latest: dict[tuple[UUID, str], SeenStage] = {}
    for one in season.stages.all().order_by("day", "-code"):
        latest[one.treatment_id, one.plant] = SeenStage(one.code, one.day)
    latitude = season.site.latitude
    return tuple(
        Stand(
            str(treatment), plant.key, plant.name, plant.scale,
            latest.get((treatment, plant.key)) or _sown(season, plant, treatment),
            Needs(plant.cold, latitude, plant.winter),
        )
        for plant in plants.values()
        for treatment in plant.treatments
    )  # fmt: skip


def _sown(season: Season, plant: Plant, treatment: UUID) -> SeenStage | None:
    """Covers by the sowing, crops by the planting; the last that was done, else the first that is planned."""
    kind = OperationKind.PLANT if plant.key.startswith(CROP) else OperationKind.SOW
    own = [one for one in season.operations.all() if one.kind == kind and concerns(one, treatment)]
    if done := [one.done for one in own if one.done]:
        return SeenStage(0, max(done))
    planned: list[date] = [one.due for one in own if one.due]
    return SeenStage(0, min(planned), planned=True) if planned else None


def sowing_to_come(season: Season, plant: str, treatments: Iterable[UUID]) -> Operation | None:
    """The sowing or planting that a plant still waits for, the last of those that concern the treatments."""
    kind = OperationKind.PLANT if plant.startswith(CROP) else OperationKind.SOW
    wanted = list(treatments)
    own = [one for one in season.operations.all() if one.kind == kind and one.done is None]
    own = [one for one in own if any(concerns(one, treatment) for treatment in wanted)]
    return max(own, key=lambda one: (one.due is not None, one.due or date.min), default=None)


def concerns(operation: Operation, treatment: UUID) -> bool:
    """Whether an operation is for the treatment, or for some of its plots."""
    own = {one.pk for one in operation.treatments.all()}
    if own:
        return treatment in own
    plots = [unit.treatment_id for unit in operation.plots.all()]
    return treatment in plots if plots else True


def treatments_of(operation: Operation, season: Season) -> list[Treatment]:
    """Those that it is for: all where it is for the whole trial."""
    gone = _not_grown(season)
    return [one for one in season.trial.treatments.all() if one.pk not in gone and concerns(operation, one.pk)]


def last_seen(season: Season) -> list[GrowthStage]:
    """All stages that were seen, newest first."""
    stages: Any = season.stages.select_related("treatment", "by").prefetch_related("plots")
    return list(stages)
