"""Photographs of samples come in, and go."""

from __future__ import annotations

import uuid

from django.core.files.uploadedfile import UploadedFile
from django.db import transaction

from apercu_core.errors import Refused
from config.client_ids import IdInUse
from crew.models import Person
from crew.permissions import require
from photographs.keeping import keep_photograph, remove_photograph
from photographs.models import Photograph
from records.models import Visit
from sample_photographs.models import SamplePhotograph
from trials.models import UnitKind

MOST_IN_A_VISIT = 2000


def photograph_sample(
    *, by: Person, visit: Visit, id: uuid.UUID, file: UploadedFile[bytes], unit: uuid.UUID, zone: str, sample: int
) -> SamplePhotograph:
    """Keep a photograph of a sample under the id that the client made; the same again is harmless, and
    with another plot moves it there.

    Raises `Refused` for what isn't a photograph, and for a plot that isn't the season's.
    """
    plot = visit.season.units.filter(kind=UnitKind.PLOT, pk=unit).first()
    if plot is None:
        raise Refused("bad-value", "This plot doesn’t belong to the visit. Open it again.")

    def attach(photograph: Photograph) -> None:
        there = SamplePhotograph.objects.filter(photograph=photograph).first()
        if there is not None:
            if there.visit_id != visit.pk:
                raise IdInUse
            there.unit, there.zone, there.sample = plot, zone, sample  # it was of another plot than was thought
            there.save()
            return
        if SamplePhotograph.objects.filter(visit=visit).count() >= MOST_IN_A_VISIT:
            raise Refused("bad-value", f"This visit has {MOST_IN_A_VISIT} photographs, the most that one may have.")
        SamplePhotograph.objects.create(photograph=photograph, visit=visit, unit=plot, zone=zone, sample=sample)

    kept = keep_photograph(by=by, season=visit.season, id=id, file=file, attach=attach)
    return SamplePhotograph.objects.select_related("photograph__by", "visit").get(photograph=kept)


def drop_sample_photograph(*, by: Person, shown: SamplePhotograph) -> None:
    """Remove a photograph of a sample; values that were taken from it stay."""
    require(by, "record", shown.visit)
    with transaction.atomic():
        remove_photograph(shown.photograph)
