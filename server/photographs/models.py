"""Photographs of a trial, each without its camera's notes."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models

from crew.models import Person
from crew.visible import Visible
from trials.models import Season

FOLDER = "photographs"


class Photograph(models.Model):
    """A photograph that somebody took in a season. `taken`: by the camera's clock; null where it said none.

    `fingerprint`: SHA-256 of the file as it was sent, so that the same sent again is known.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="photographs")
    file = models.FileField(upload_to=f"{FOLDER}/")
    preview = models.FileField(upload_to=f"{FOLDER}/")
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    fingerprint = models.CharField(max_length=64)
    taken = models.DateTimeField(null=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    received_at = models.DateTimeField()

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["received_at", "id"]
