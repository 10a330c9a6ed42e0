"""What is done to the plots between sowing and harvest."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from crew.models import Person
from crew.visible import Visible
from trials.models import Season, Treatment, Unit


class OperationKind(models.TextChoices):
    SOW = "sow"
    KILL = "kill"
    ROLL = "roll"
    CRIMP = "crimp"
    PLANT = "plant"
    TILL = "till"
    FERTILISE = "fertilise"
    SPRAY = "spray"
    MOW = "mow"
    GRAZE = "graze"
    GRAZE_OUT = "graze_out"
    IRRIGATE = "irrigate"
    COVER_ON = "cover_on"
    COVER_OFF = "cover_off"
    SAMPLE = "sample"
    HARVEST = "harvest"
    OTHER = "other"


class Operation(models.Model):
    """A pass over plots: planned for `due`, done on `done`; both are local dates of the site.

    `treatments`, `plots`: what it is for; neither: the whole trial. `after`: the operation whose day it follows by
    `after_days`, or from which a trigger counts. `due` is then worked out from that or the `trigger`, and kept so that
    what is due can be looked for.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="operations")
    kind = models.CharField(max_length=10, choices=OperationKind)
    name = models.CharField(max_length=120)
    due = models.DateField(null=True, blank=True)
    done = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=500, blank=True)
    treatments = models.ManyToManyField(Treatment, related_name="operations")
    plots = models.ManyToManyField(Unit, related_name="operations")
    after = models.ForeignKey("self", models.PROTECT, null=True, blank=True, related_name="followed_by")
    after_days = models.IntegerField(default=0)
    trigger = models.JSONField(null=True, blank=True, help_text="What brings it on instead of a date.")
    closes = models.JSONField(null=True, blank=True, help_text="When it is too late: a trigger, a day, or days after.")
    early = models.DateField(null=True, blank=True, help_text="Of the forecast's range; worked out as `due` is.")
    late = models.DateField(null=True, blank=True)
    why = models.JSONField(default=list, blank=True, help_text="What the forecast hangs on, a sentence each.")
    closes_day = models.DateField(null=True, blank=True)
    closes_early = models.DateField(null=True, blank=True)
    closes_why = models.JSONField(default=list, blank=True)
    amount = models.CharField(max_length=120, blank=True, help_text="What was applied or taken off, with its unit.")
    machine = models.CharField(max_length=120, blank=True)
    setting = models.CharField(max_length=120, blank=True, help_text="Of the machine.")
    exempt = models.ManyToManyField(Unit, related_name="+", help_text="Plots that were left out.")
    exempt_quadrats = models.CharField(max_length=200, blank=True, help_text="Marked quadrats that were left out.")
    intervals = models.JSONField(
        default=dict, blank=True, help_text="Waiting times of the label, as the core has them."
    )
    grazing = models.JSONField(null=True, blank=True, help_text="Head, days, area, cuts; as the core takes them.")
    lot = models.JSONField(null=True, blank=True, help_text="Of manure or fertiliser: rate, unit, analysis.")
    planting = models.JSONField(null=True, blank=True, help_text="Planting quality, as `PlantingIn` takes it, in cm.")
    zones = models.JSONField(default=list, blank=True, help_text="Names of the zones in each plot; none: all of it.")
    operator = models.CharField(max_length=120, blank=True)
    hours = models.FloatField(null=True, blank=True)
    cost = models.DecimalField(max_digits=12, decimal_places=2, null=True, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    history = HistoricalRecords(m2m_fields=[treatments, plots, exempt])

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["done", "due", "id"]
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(due__isnull=False)
                | models.Q(done__isnull=False)
                | models.Q(after__isnull=False)
                | models.Q(trigger__isnull=False),
                name="operation_has_a_date",
            ),
        ]


class GrowthStage(models.Model):
    """A stage that somebody saw in a treatment, or in some of its plots.

    `plant`: key of a species of the treatment, or `crop:` and the name of a cash crop. `code`: BBCH.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="stages")
    treatment = models.ForeignKey(Treatment, models.CASCADE, related_name="stages")
    plots = models.ManyToManyField(Unit, related_name="+")
    plant = models.CharField(max_length=120)
    code = models.PositiveSmallIntegerField()
    day = models.DateField()
    note = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    history = HistoricalRecords(m2m_fields=[plots])

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["-day", "-code", "id"]
