"""What is done to the plots between sowing and harvest."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from crew.models import Person
from crew.visible import Visible
from trials.models import Season


class OperationKind(models.TextChoices):
    SOW = "sow"
    KILL = "kill"
    PLANT = "plant"
    TILL = "till"
    FERTILISE = "fertilise"
    SPRAY = "spray"
    MOW = "mow"
    GRAZE = "graze"
    IRRIGATE = "irrigate"
    HARVEST = "harvest"
    OTHER = "other"


class Operation(models.Model):
    """A pass over the plots: planned for `due`, done on `done`; both are local dates of the site."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="operations")
    kind = models.CharField(max_length=10, choices=OperationKind)
    name = models.CharField(max_length=120)
    due = models.DateField(null=True, blank=True)
    done = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=500, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    history = HistoricalRecords()

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["done", "due", "id"]
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(due__isnull=False) | models.Q(done__isnull=False), name="operation_has_a_date"
            ),
        ]
