"""Measures that the application adds to a trial by itself, from the catalogue, when something needs them."""

from __future__ import annotations

from apercu_core.measures.catalogue import CATALOGUE
from library.actions import Defined, measure_version
from trials.models import Trial, TrialMeasure


def measure_of_catalogue(trial: Trial, key: str) -> TrialMeasure:
    """The trial's measure of this key, added behind the others if it has none. Inside a transaction."""
    Trial.objects.select_for_update(no_key=True).get(pk=trial.pk)
    there = trial.measures.filter(version__catalogue=key).order_by("order").first()
    if there is not None:
        return there
    shipped = CATALOGUE[key]
    defined = Defined(shipped.name, shipped.unit, key, shipped.sheet_key, shipped.settings)
    version = measure_version(trial.workspace, defined)
    last = trial.measures.order_by("-order").values_list("order", flat=True).first()
    return TrialMeasure.objects.create(
        trial=trial, version=version, order=0 if last is None else last + 1, direction=shipped.direction
    )
