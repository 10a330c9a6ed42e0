"""The parts that a measure of a trial is told by: the trial's own list of species or grades."""

from __future__ import annotations

from collections.abc import Iterable

from django.db import transaction

from apercu_core.measures.parts import SELF_SOWN, SOWN, Part, require_parts
from apercu_core.words import listed
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from trials.models import TrialMeasure

OF_THE_MIX = ("stand-by-species", "biomass-by-species")
"""Measures whose parts are what the treatments sow, until somebody lists others."""


def kind_of_parts(measure: TrialMeasure) -> str:
    return measure.version.entry_sheet.parts


def parts_of(measure: TrialMeasure) -> tuple[Part, ...]:
    """The list, in its order; for what is told by species of the mix, those that are sown and the self-sown ones."""
    if measure.parts or measure.version.catalogue not in OF_THE_MIX:
        return tuple(Part(**one) for one in measure.parts)
    names = [
        part["name"] for treatment in measure.trial.treatments.all() for part in treatment.details.get("components", ())
    ]
    sown = [Part(name, SOWN) for name in dict.fromkeys(names)]
    return (*sown, *([Part("Self-sown plants", SELF_SOWN)] if sown else []))


def keep_parts(*, by: Person, measure: TrialMeasure, parts: Iterable[tuple[str, str]]) -> TrialMeasure:
    """List what the measure is told by. Raises `Conflict` where a part would go that has values."""
    require(by, "record", measure)
    kind = kind_of_parts(measure)
    if not kind:
        raise Conflict(f"{measure.version.measure.name} isn’t told by parts. Choose a measure by species or by grade.")
    wanted = require_parts(parts, kind)
    with transaction.atomic():
        locked = TrialMeasure.objects.select_for_update(of=("self",), no_key=True).get(pk=measure.pk)
        rows = locked.version.observations.filter(visit__season__trial=locked.trial_id, current=True)
        names = {one.name for one in wanted}
        gone = sorted(set(rows.exclude(value=None).values_list("component", flat=True)) - names - {""})
        if gone:
            raise Conflict(f"{listed(gone, 4)} {'has' if len(gone) == 1 else 'have'} values, so it stays on the list.")
        locked.parts = [{"name": one.name, "group": one.group} for one in wanted]
        locked.save()
    return locked


def add_parts(measure: TrialMeasure, names: Iterable[str]) -> None:
    """Put parts that were met in the field behind those of the list. Within a transaction."""
    locked = TrialMeasure.objects.select_for_update(of=("self",), no_key=True).get(pk=measure.pk)
    there = parts_of(locked)
    known = {one.name for one in there}
    new = [Part(name) for name in dict.fromkeys(names) if name not in known]
    if new:
        locked.parts = [{"name": one.name, "group": one.group} for one in (*there, *new)]
        locked.save()
