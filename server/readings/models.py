"""Readings that were seen, and answers to doubts."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models

from crew.models import Person
from trials.models import Season


class Reading(models.Model):
    """A reading as it was when results were opened: the data it was made of, the method, and the result.

    All in stored units, in the core's own shape, whoever looked. `asked`: margins, directions and method; `given`:
    measure id → plot label → values; `identity`: hash of everything that the core was given (`identity_of`).
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="readings")
    asked = models.JSONField()
    given = models.JSONField()
    result = models.JSONField()
    fingerprint = models.CharField(max_length=64)
    identity = models.CharField(max_length=64, blank=True, default="")
    core_version = models.CharField(max_length=20)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    created_at = models.DateTimeField()

    class Meta:
        indexes: ClassVar = [models.Index(fields=["season", "created_at"], name="readings_of_a_season")]


class DoubtAnswer(models.Model):
    """What somebody answered to a doubt; the newest counts, the older ones are kept."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="answers")
    doubt = models.CharField(max_length=240, help_text="The doubt's id and subject.")
    note = models.CharField(max_length=1000, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    at = models.DateTimeField()
