"""Measures: the definitions of what is counted, weighed and scored, in versions."""

from __future__ import annotations

import uuid
from functools import cached_property
from typing import Any, ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from apercu_core.measures.catalogue import usual_over_visits, zero_when_failed
from apercu_core.measures.over_visits import OverVisits
from apercu_core.measures.own import OWN, OwnMeasure, own_from, own_sheet, ranges_of_own
from apercu_core.measures.ranges import Ranges, ranges_of
from apercu_core.measures.sheet import Sheet
from apercu_core.measures.sheets import SHEETS
from apercu_core.units import System, shown_in
from crew.models import Workspace
from crew.visible import Visible


class Measure(models.Model):
    """What is measured. Its definition stands in its versions, so that old observations keep theirs."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="measures")
    name = models.CharField(max_length=120)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["workspace", "name"], name="one_measure_of_a_name")]

    def __str__(self) -> str:
        return self.name


class MeasureKind(models.TextChoices):
    CONTINUOUS = "continuous"
    COUNT = "count"
    PERCENTAGE = "percentage"
    K_OF_N = "k-of-n"
    SCORE = "score"


class MeasureVersion(models.Model):
    """One definition. It never changes once an observation uses it; a change is a new version.

    `sheet`: how its values are entered (`apercu_core.measures.sheets`), with `settings`; `catalogue`: the shipped
    measure that it was made from, whose ranges question and refuse figures; `own`: the sheet of a measure that people
    made themselves (`apercu_core.measures.own`), of which `sheet` is then "own".
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    measure = models.ForeignKey(Measure, models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField(default=1)
    unit = models.CharField(max_length=40, blank=True)
    kind = models.CharField(max_length=12, choices=MeasureKind, default=MeasureKind.CONTINUOUS)
    catalogue = models.CharField(max_length=40, blank=True)
    sheet = models.CharField(max_length=20, default="figure")
    settings = models.JSONField(default=dict, blank=True)
    own: Any = models.JSONField(default=dict, blank=True)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["measure", "number"], name="one_version_of_a_number")]

    @cached_property
    def own_measure(self) -> OwnMeasure | None:
        return own_from(self.own) if self.sheet == OWN else None

    @cached_property
    def entry_sheet(self) -> Sheet:
        """The sheet that its values are typed into: a shipped one, or its own."""
        return own_sheet(self.own_measure, self.measure.name) if self.own_measure else SHEETS[self.sheet]

    @cached_property
    def ranges(self) -> Ranges:
        if self.own_measure:
            return ranges_of_own(self.own_measure)
        return ranges_of(self.catalogue, self.sheet, self.settings, self.measure.name, self.unit)

    @property
    def zero_when_failed(self) -> bool:
        """Whether a plot whose cover failed counts as zero."""
        return self.own_measure.zero_when_failed if self.own_measure else zero_when_failed(self.catalogue)

    @property
    def usual_over_visits(self) -> OverVisits:
        return self.own_measure.over_visits if self.own_measure else usual_over_visits(self.catalogue)

    def shown_in(self, system: System) -> tuple[str, float]:
        """The unit that readers of this custom are shown, and the factor to it; yields of a crop may be in bushels."""
        return shown_in(self.unit, system, self.settings.get("bushel") or 0.0)


class OwnSpecies(models.Model):
    """A workspace's own record of a species, beside the shipped ones; with the key of one it stands before it.

    `cells`: as typed, field → text and field_source → text (`apercu_core.species.sheet`).
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="species")
    key = models.CharField(max_length=60)
    cells = models.JSONField(default=dict)
    history = HistoricalRecords()

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["key"]
        constraints: ClassVar = [models.UniqueConstraint(fields=["workspace", "key"], name="one_species_of_a_key")]

    def __str__(self) -> str:
        return self.key
