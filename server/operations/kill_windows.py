"""The kill window of each treatment that has a cover, from the season's plants, operations and weather."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any, cast

from apercu_core.kill_window.window import EARLY_DAYS, Given, KillWindow, Plant, kill_window
from apercu_core.species.record import Species
from apercu_core.timing.expected import Expected, on
from apercu_core.trial.cover import SeedSet
from apercu_core.triggers.expect import Known, expect
from apercu_core.triggers.trigger import Trigger
from library.species import species_in
from operations.actions import ENDS_A_COVER
from operations.forecasts import known_in
from operations.models import Operation, OperationKind
from operations.plants import CROP, concerns, season_with_plants
from trials.models import Season, Treatment
from weather.known import climate_of_site


@dataclass(frozen=True, slots=True)
class TreatmentWindow:
    """`kill`, `crop`: the operations that it is told by, if they are planned."""

    treatment: Treatment
    kill: Operation | None
    crop: Operation | None
    window: KillWindow


def kill_windows(asked: Season, early_days: int = EARLY_DAYS) -> list[TreatmentWindow]:
    """One for each treatment with a cover, in their order."""
    season = season_with_plants(asked.pk)
    known, species = known_in(season), species_in(season.trial.workspace)
    climate = climate_of_site(season.site)
    found = []
    for treatment in season.trial.treatments.all():
        plants = _plants(known, species, treatment)
        if not plants:
            continue
        kill = _operation(season, treatment, ENDS_A_COVER)
        crop = _operation(season, treatment, (OperationKind.PLANT,))
        biomass = known.biomass.get(str(treatment.pk))
        given = Given(
            known.today, plants, known.warmth, climate, _expected(kill), _expected(crop),
            _height(known, plants, treatment), biomass[-1] if biomass else None, _sown(season, treatment),
            cast(SeedSet, treatment.details.get("seed_set", "")), season.site.latitude, early_days,
        )  # fmt: skip
        found.append(TreatmentWindow(treatment, kill, crop, kill_window(given)))
    return found


def _plants(known: Known, species: dict[str, Species], treatment: Treatment) -> tuple[Plant, ...]:
    own = [one for one in known.stands if one.treatment == str(treatment.pk) and not one.plant.startswith(CROP)]
    return tuple(Plant(one, species.get(one.plant)) for one in own)


def _operation(season: Season, treatment: Treatment, kinds: Any) -> Operation | None:
    """The next of these kinds for the treatment; the last that was done where none is left."""
    own = [one for one in season.operations.all() if one.kind in kinds and concerns(one, treatment.pk)]
    ahead = sorted((one for one in own if one.done is None and one.due), key=lambda one: one.due)  # type: ignore[arg-type,return-value]
    done = sorted((one for one in own if one.done), key=lambda one: one.done)  # type: ignore[arg-type,return-value]
    return ahead[0] if ahead else done[-1] if done else None


def _sown(season: Season, treatment: Treatment) -> date | None:
    sowing = _operation(season, treatment, (OperationKind.SOW,))
    return None if sowing is None else sowing.done or sowing.due


def _expected(operation: Operation | None) -> Expected | None:
    if operation is None:
        return None
    if operation.done is not None:
        return on(operation.done)
    return Expected(operation.due, operation.early or operation.due, operation.late or operation.due)


def _height(known: Known, plants: tuple[Plant, ...], treatment: Treatment) -> tuple[float, Expected] | None:
    """The least height at which its plants are full grown, by the guide."""
    grown = [ends[0] for one in plants if one.species is not None and (ends := one.species.range("height"))]
    if not grown:
        return None
    target = min(grown)
    return target, expect(Trigger("height", target), known, [str(treatment.pk)], None)
