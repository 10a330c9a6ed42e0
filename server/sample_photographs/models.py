"""Photographs of the samples of a visit: which plot, zone and sample each one shows."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models

from crew.models import Person
from crew.visible import Visible
from photographs.models import Photograph
from records.models import Visit
from trials.models import Unit


class SamplePhotograph(models.Model):
    """What a photograph shows. `sample` 0: the plot as a whole."""

    photograph = models.OneToOneField(Photograph, models.CASCADE, primary_key=True, related_name="shows")
    visit = models.ForeignKey(Visit, models.RESTRICT, related_name="photographs")
    unit = models.ForeignKey(Unit, models.RESTRICT, related_name="photographs")
    zone = models.CharField(max_length=80, blank=True)
    sample = models.PositiveIntegerField(default=1)
    corners = models.JSONField(
        null=True, help_text="Of the frame on it, as shares of its width and height; null: the whole photograph."
    )
    frame_width_m = models.FloatField(null=True)
    frame_length_m = models.FloatField(null=True)

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["unit__order", "zone", "sample", "photograph__received_at", "photograph"]


class PhotoCount(models.Model):
    """What one person marked on a photograph. `marks`: x and y on it, as shares of its width and height, and whether
    the mark was suggested; `component`: the species that was counted, empty where it is the whole.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    shown = models.ForeignKey(SamplePhotograph, models.CASCADE, related_name="counts")
    component = models.CharField(max_length=80, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    marks = models.JSONField(default=list)
    counted_at = models.DateTimeField()

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["counted_at", "id"]
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["shown", "component", "by"], name="one_photo_count_of_a_person")
        ]


class PhotoLength(models.Model):
    """A length that was measured on a photograph: its ends on it, as shares of its width and height."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    shown = models.ForeignKey(SamplePhotograph, models.CASCADE, related_name="lengths")
    name = models.CharField(max_length=80)
    ends = models.JSONField()
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    measured_at = models.DateTimeField()

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["measured_at", "id"]
