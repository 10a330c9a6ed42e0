"""What happened on the plots beside operations and visits: notes, troubles, decisions, and whether a kill worked."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from simple_history.models import HistoricalRecords

from crew.models import Person
from crew.visible import Visible
from operations.models import Operation
from photographs.models import Photograph
from trials.models import Season, Treatment, Unit


class EntryKind(models.TextChoices):
    NOTE = "note"
    TROUBLE = "trouble"
    DECISION = "decision"


class TroubleKind(models.TextChoices):
    WATER = "water"
    HAIL = "hail"
    DROUGHT = "drought"
    FROST = "frost"
    RODENTS = "rodents"
    BROWSING = "browsing"
    SLUGS = "slugs"
    VOLUNTEERS = "volunteers"
    WHEEL_TRACK = "wheel_track"
    DRIFT = "drift"
    MISSED_STRIP = "missed_strip"
    OTHER = "other"


class TroubleEffect(models.TextChoices):
    """What it means for values from its day on."""

    NONE = "none"
    DOUBTFUL = "doubtful"
    LOST = "lost"


class DecisionKind(models.TextChoices):
    KILL = "kill"
    REPEAT = "repeat"
    ABANDON = "abandon"
    CHANGE = "change"
    OTHER = "other"


class LogEntry(models.Model):
    """A dated note, trouble or decision. `treatments`, `plots`: where; neither: the whole trial.

    `rule`: what was agreed in advance, `known`: what was known on the day, of a decision.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="log")
    kind = models.CharField(max_length=8, choices=EntryKind)
    trouble = models.CharField(max_length=12, choices=TroubleKind, blank=True)
    decision = models.CharField(max_length=7, choices=DecisionKind, blank=True)
    effect = models.CharField(max_length=8, choices=TroubleEffect, default=TroubleEffect.NONE)
    day = models.DateField()
    text = models.CharField(max_length=1000, blank=True)
    rule = models.CharField(max_length=500, blank=True)
    known = models.CharField(max_length=1000, blank=True)
    treatments = models.ManyToManyField(Treatment, related_name="+")
    plots = models.ManyToManyField(Unit, related_name="log_entries")
    photographs = models.ManyToManyField(Photograph, related_name="log_entries")
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    history = HistoricalRecords(m2m_fields=[treatments, plots])

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["-day", "id"]


class KillLimit(models.Model):
    """The share of a cover, %, that may live after its kill: set for a season, best before anything was seen."""

    season = models.OneToOneField(Season, models.CASCADE, related_name="kill_limit")
    percent = models.FloatField(validators=[MinValueValidator(0), MaxValueValidator(100)])
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    history = HistoricalRecords()


class LivingShare(models.Model):
    """How much of a plot's cover lived on a day after its kill, and how high it had grown again."""

    operation = models.ForeignKey(Operation, models.CASCADE, related_name="living")
    unit = models.ForeignKey(Unit, models.RESTRICT, related_name="living_shares")
    day = models.DateField()
    percent = models.FloatField(validators=[MinValueValidator(0), MaxValueValidator(100)])
    regrowth_cm = models.FloatField(null=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    history = HistoricalRecords()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["operation", "unit", "day"], name="one_living_share_of_a_plot_and_day")
        ]
