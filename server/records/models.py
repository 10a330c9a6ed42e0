"""Visits, observations that are only ever added to, and the room for files that people bring."""

from __future__ import annotations

import uuid
from typing import TYPE_CHECKING, ClassVar

from django.db import models

from crew.models import Person, UnitSystem, Workspace
from crew.visible import Visible
from library.models import MeasureVersion
from trials.models import Season, TrialMeasure, Unit

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager


FOLDER = "tables"
"""Where brought files lie in the storage."""


class Visit(models.Model):
    """A walk over the plots on one day. `due`: planned for; `date`: walked, as far as that is known."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="visits")
    name = models.CharField(max_length=120)
    due = models.DateField(null=True, blank=True)
    date = models.DateField(null=True, blank=True)
    walked = models.DateField(
        null=True,
        blank=True,
        help_text="The day as a person said it, as of paper typed later; `date` follows it.",
    )
    order = models.PositiveIntegerField(default=0)
    series = models.UUIDField(null=True, db_index=True, help_text="Visits that were planned as several dates of one.")
    timing = models.JSONField(
        null=True,
        blank=True,
        help_text="What `due` follows: `after` (an operation) and `days`, or a `trigger`; none: a date that was set.",
    )
    only = models.ManyToManyField(Unit, related_name="+", help_text="The plots that are visited; none: all.")
    placement = models.CharField(
        max_length=12, blank=True, help_text="How places of samples are drawn (`field.sample_places`); empty: not said."
    )
    bearing = models.FloatField(null=True, help_text="Of a transect, degrees clockwise from north.")
    spacing = models.FloatField(null=True, help_text="From sample to sample of a transect, m.")
    places = models.JSONField(
        null=True, blank=True, help_text="What they were drawn for, and those of each plot: across and along, m."
    )
    blind = models.BooleanField(
        null=True, help_text="Whether treatment names are hidden; none: where the measures are scores."
    )
    guess_first = models.BooleanField(default=False, help_text="Whether a guess is asked for before the count.")
    counted = models.CharField(
        max_length=16, null=True, help_text="What the counts below are of; none: to be counted (`records.progress`)."
    )
    done = models.PositiveIntegerField(default=0)
    begun = models.PositiveIntegerField(default=0)
    conflicts = models.PositiveIntegerField(default=0)
    whole = models.BooleanField(default=False)
    newest = models.DateTimeField(null=True)

    objects = Visible.as_manager()
    if TYPE_CHECKING:
        observations: RelatedManager[Observation]
        taken: RelatedManager[VisitMeasure]

    class Meta:
        ordering: ClassVar = ["order", "id"]
        indexes: ClassVar = [
            models.Index(fields=["season"], condition=models.Q(counted=None), name="visits_to_be_counted"),
            models.Index(fields=["season"], condition=models.Q(whole=False), name="visits_not_whole"),
            models.Index(fields=["season"], condition=models.Q(conflicts__gt=0), name="visits_in_conflict"),
        ]


class VisitMeasure(models.Model):
    """A measure that is taken at a visit."""

    visit = models.ForeignKey(Visit, models.CASCADE, related_name="taken")
    measure = models.ForeignKey(TrialMeasure, models.CASCADE, related_name="visits")
    order = models.PositiveIntegerField(default=0)
    samples = models.PositiveIntegerField(null=True, help_text="In a plot this time; none: as many as the measure has.")

    class Meta:
        ordering: ClassVar = ["order", "id"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["visit", "measure"], name="measure_once_a_visit")]


class Observer(models.Model):
    """Somebody who counts at a visit; which blocks are whose follows from their order."""

    visit = models.ForeignKey(Visit, models.CASCADE, related_name="observers")
    person = models.ForeignKey(Person, models.CASCADE, related_name="+")
    order = models.PositiveIntegerField(default=0)

    class Meta:
        ordering: ClassVar = ["order", "id"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["visit", "person"], name="observer_once_a_visit")]


class MissingStatus(models.TextChoices):
    """Why a plot has no figure. Only what failed by its treatment counts, as zero; the rest is left out."""

    FAILED = "failed"
    DAMAGED = "damaged"
    NOT_TAKEN = "not-taken"


class ComponentKind(models.TextChoices):
    """What a value is one part of, where a measure is told by parts."""

    SPECIES = "species"
    LAYER = "layer"
    DEPTH = "depth"
    GRADE = "grade"
    CUT = "cut"


class Source(models.TextChoices):
    PERSON = "person"
    FILE = "file"
    DEVICE = "device"


class Observation(models.Model):
    """One figure at one place, never changed: a correction, an undo or a recount is a further row.

    Its place is its key: unit, visit, measure version, zone, component, sample (docs/observations.md). One row per
    place is `current`. `value` None with a `missing_reason` is a gap that somebody explained, or that its `bound`
    explains; None without one is an entry that was undone. `in_conflict`: it met another person's figure and waits for
    a decision. The id is made where the figure was typed.

    A row that somebody entered is a state of its place. Undo and redo add rows that stand for an earlier state
    (`stands_for`; None with no value: the empty place), so that each goes one step further. `decides`: the other row of
    the conflict that this one settled.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    unit = models.ForeignKey(Unit, models.RESTRICT, related_name="observations")
    visit = models.ForeignKey(Visit, models.RESTRICT, related_name="observations")
    version = models.ForeignKey(MeasureVersion, models.PROTECT, related_name="observations")
    zone = models.CharField(max_length=80, blank=True, help_text="Of the plot, where the measure is taken in zones.")
    component_kind = models.CharField(max_length=10, choices=ComponentKind, blank=True)
    component = models.CharField(max_length=80, blank=True, help_text="Which one of its kind; empty: all together.")
    sample = models.PositiveIntegerField(default=1)
    source = models.CharField(
        max_length=6, choices=Source, blank=True, help_text="How the value came in; empty: before that was kept."
    )
    value = models.FloatField(null=True, help_text="In the version's unit.")
    bound = models.FloatField(
        null=True, help_text="Where the value lies beyond what was measured: the end that is known of it."
    )
    typed = models.CharField(max_length=80, blank=True)
    fields = models.JSONField(default=dict, blank=True, help_text="Each field of the sheet, as typed.")
    units = models.CharField(
        max_length=6, choices=UnitSystem, default=UnitSystem.METRIC, help_text="That a bare number of `fields` is in."
    )
    missing_reason = models.CharField(max_length=200, blank=True)
    missing_status = models.CharField(max_length=10, choices=MissingStatus, blank=True)
    why = models.CharField(max_length=300, blank=True, help_text="Why an earlier row was corrected.")
    replaces = models.ForeignKey("self", models.RESTRICT, null=True, related_name="replaced_by")
    stands_for = models.ForeignKey("self", models.RESTRICT, null=True, related_name="+")
    decides = models.ForeignKey("self", models.RESTRICT, null=True, related_name="+")
    current = models.BooleanField(default=True)
    in_conflict = models.BooleanField(default=False)
    confirmed = models.BooleanField(default=False, help_text="Somebody kept a figure that was questioned.")
    blind = models.BooleanField(
        null=True, help_text="Whether treatment names were hidden where it was typed; none: not known."
    )
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(help_text="By the clock where it was typed.")
    received_at = models.DateTimeField(help_text="By the server's clock.")

    objects = Visible.as_manager()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["unit", "visit", "version", "zone", "component_kind", "component", "sample"],
                condition=models.Q(current=True),
                name="one_current_observation",
            ),
        ]
        indexes: ClassVar = [
            models.Index(fields=["visit", "version"], condition=models.Q(current=True), name="current_by_visit"),
            models.Index(fields=["visit"], condition=models.Q(in_conflict=True), name="conflicts_by_visit"),
        ]

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing in this place again: an entry that was undone."""
        return self.value is None and not self.missing_reason


class Note(models.Model):
    """Words about a plot, or about the whole visit, as somebody left them."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    visit = models.ForeignKey(Visit, models.RESTRICT, related_name="notes")
    unit = models.ForeignKey(Unit, models.RESTRICT, null=True, related_name="notes")
    text = models.CharField(max_length=1000)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering: ClassVar = ["at", "id"]


class Upload(models.Model):
    """A file that somebody brought, in a private place, until it is accepted or a week old."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="uploads")
    by = models.ForeignKey(Person, models.CASCADE, related_name="+")
    name = models.CharField(max_length=200)
    file = models.FileField(upload_to=f"{FOLDER}/")
    size = models.PositiveIntegerField()
    rows = models.PositiveIntegerField(default=0)
    described = models.JSONField(null=True, help_text="What a data package says beside its table.")
    created_at = models.DateTimeField()

    objects = Visible.as_manager()
