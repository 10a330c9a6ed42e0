"""Readings that were seen, and answers to doubts."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models

from crew.models import Person
from trials.models import Season


class Reading(models.Model):
    """A reading as somebody saw it: the data it was made of, the method, and the result.

    `asked`: margins, directions and method; `given`: measure id → plot label → values; together with `core_version`
    they make the result again. `tried_after`: another method than the first one that this season was read with.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="readings")
    asked = models.JSONField()
    given = models.JSONField()
    result = models.JSONField()
    fingerprint = models.CharField(max_length=64)
    asked_hash = models.CharField(max_length=64)
    core_version = models.CharField(max_length=20)
    tried_after = models.BooleanField(default=False)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    created_at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["season", "fingerprint", "asked_hash", "core_version"], name="one_reading_of_the_same"
            ),
        ]
        indexes: ClassVar = [models.Index(fields=["season", "created_at"], name="readings_of_a_season")]


class DoubtAnswer(models.Model):
    """What somebody answered to a doubt; the newest counts, the older ones are kept."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="answers")
    doubt = models.CharField(max_length=240, help_text="The doubt's id and subject.")
    note = models.CharField(max_length=1000, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    at = models.DateTimeField()
