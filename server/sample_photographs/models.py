"""Photographs of the samples of a visit: which plot, zone and sample each one shows."""

from __future__ import annotations

from typing import ClassVar

from django.db import models

from crew.visible import Visible
from photographs.models import Photograph
from records.models import Visit
from trials.models import Unit


class SamplePhotograph(models.Model):
    """What a photograph shows. `sample` 0: the plot as a whole."""

    photograph = models.OneToOneField(Photograph, models.CASCADE, primary_key=True, related_name="shows")
    visit = models.ForeignKey(Visit, models.CASCADE, related_name="photographs")
    unit = models.ForeignKey(Unit, models.CASCADE, related_name="photographs")
    zone = models.CharField(max_length=80, blank=True)
    sample = models.PositiveIntegerField(default=1)

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["unit__order", "zone", "sample", "photograph__received_at", "photograph"]
