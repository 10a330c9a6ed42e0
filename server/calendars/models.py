"""Addresses from which a calendar program may read what is due."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models

from crew.models import Person
from trials.models import Trial


class CalendarFeed(models.Model):
    """Of a person: over all their trials, or of one. Whoever has its address may read it until it is removed.

    The address is signed from `id`, so that it can be shown again and isn't kept.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    person = models.ForeignKey(Person, models.CASCADE, related_name="calendar_feeds")
    trial = models.ForeignKey(Trial, models.CASCADE, null=True, related_name="+")
    made_at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["person", "trial"], nulls_distinct=False, name="one_calendar_feed_of_a_person_and_trial"
            )
        ]
