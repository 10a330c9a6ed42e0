"""What is kept of a season's sowing; grams, litres and the drill's way are worked out of it."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from crew.models import Person
from crew.visible import Visible
from trials.models import Season, Unit


class SeedPlan(models.Model):
    """The page of seed lots and rates; what Ask says of a component stands until it is said here."""

    season = models.OneToOneField(Season, models.CASCADE, primary_key=True, related_name="seed_plan")
    lots = models.JSONField(default=dict, help_text="Lot → what its label says, in per cent, g and kg.")
    rates = models.JSONField(default=list, help_text="Treatment, lot, way and value of each rate said here.")
    allowance_g = models.FloatField(default=0, help_text="Start-up and clean-out of the drill, per plot and component.")
    spare_percent = models.FloatField(default=10)
    filling = models.CharField(max_length=12, default="by_treatment")
    currency = models.CharField(max_length=8, blank=True)
    history = HistoricalRecords()


class SowingTest(models.Model):
    """A calibration as it was typed; its answer is worked out from that."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="sowing_tests")
    kind = models.CharField(max_length=10)
    about = models.CharField(max_length=120, help_text="Which seed, and which machine.")
    given = models.JSONField(help_text="What was measured, in metric units.")
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    at = models.DateTimeField()

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["-at", "id"]


class SowingDecision(models.Model):
    """Go or wait, with what was seen, and why where it goes against that."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="sowing_decisions")
    day = models.DateField()
    checks = models.JSONField(default=dict)
    decision = models.CharField(max_length=8)
    note = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    at = models.DateTimeField()

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["-at", "id"]


class SeedBag(models.Model):
    """A plot's bag: when it was packed, and when it was at its plot. `holds`: what was put into it then, each lot with
    its mass in g, and the code of the treatment that this was; none: packed before that was kept.
    """

    unit = models.OneToOneField(Unit, models.CASCADE, primary_key=True, related_name="seed_bag")
    packed_at = models.DateTimeField(null=True, blank=True)
    packed_by = models.ForeignKey(Person, models.PROTECT, null=True, related_name="+")
    placed_at = models.DateTimeField(null=True, blank=True)
    placed_by = models.ForeignKey(Person, models.PROTECT, null=True, related_name="+")
    holds = models.JSONField(null=True)


class Sowing(models.Model):
    """What was really sown on some plots on a day, and how that is known. `amounts`: by treatment."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="sowings")
    day = models.DateField()
    units = models.ManyToManyField(Unit, related_name="sowings")
    known_by = models.CharField(max_length=8, help_text="remains, counter or nothing")
    amounts = models.JSONField(default=list, help_text="Treatment, and filled_g with left_g, or rate_kg_ha.")
    depth_cm = models.FloatField(null=True, blank=True)
    moisture = models.CharField(max_length=60, blank=True)
    machine = models.CharField(max_length=120, blank=True)
    operator = models.CharField(max_length=120, blank=True)
    note = models.CharField(max_length=500, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    at = models.DateTimeField()
    history = HistoricalRecords(m2m_fields=[units])

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["day", "id"]
