"""Ground and season: plots lie on a site's ground and keep their history; a season of a trial assigns treatments."""

from __future__ import annotations

import uuid
from typing import TYPE_CHECKING, ClassVar

from django.core.validators import MinValueValidator
from django.db import models
from simple_history.models import HistoricalRecords

from crew.models import Person, Workspace
from crew.visible import Visible
from library.models import MeasureVersion
from trials.queries import Trials, Units

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager


class Design(models.TextChoices):
    CRD = "crd"
    RCBD = "rcbd"
    PAIRED_STRIPS = "paired_strips"
    LATIN_SQUARE = "latin_square"
    SPLIT_PLOT = "split_plot"
    STRIP_PLOT = "strip_plot"
    INCOMPLETE_BLOCK = "incomplete_block"


class Allocation(models.TextChoices):
    DRAWN = "drawn"
    SYSTEMATIC = "systematic"
    UNKNOWN = "unknown"


class Direction(models.TextChoices):
    HIGHER = "higher"
    LOWER = "lower"
    NONE = "none"


class MarginKind(models.TextChoices):
    ABSOLUTE = "absolute"
    PERCENT = "percent"


class Planned(models.TextChoices):
    NONE = "none"
    EQUIVALENCE = "equivalence"
    NON_INFERIORITY = "non-inferiority"


class Site(models.Model):
    """A piece of ground: a field at a farm."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="sites")
    name = models.CharField(max_length=120)
    place = models.CharField(max_length=120, blank=True)
    time_zone = models.CharField(max_length=60, default="UTC")
    gradient = models.CharField(max_length=120, blank=True, help_text="What the blocks lie across, in words.")
    bearing_deg = models.FloatField(default=0, help_text="Direction of +y, clockwise from north.")
    latitude = models.FloatField(null=True, blank=True, help_text="Of the corner where x and y are 0; WGS84.")
    longitude = models.FloatField(null=True, blank=True)
    field = models.JSONField(
        default=dict, help_text="Outline, headland, gradient, obstacles, tracks, tree rows; metres from the corner."
    )
    soil = models.CharField(max_length=120, blank=True)
    slope_percent = models.FloatField(null=True, blank=True)
    drainage = models.CharField(max_length=120, blank=True)
    coldest_c = models.FloatField(null=True, blank=True, help_text="Usual extreme minimum of a winter, °C.")
    grown = models.JSONField(default=list, help_text="What grew before, newest first: year, crop, cover, tillage.")
    weeds = models.CharField(max_length=300, blank=True, help_text="Known weeds, and what they resist.")
    pests = models.CharField(max_length=300, blank=True, help_text="Known pests and diseases of the soil.")
    carry_over = models.CharField(max_length=300, blank=True, help_text="What an earlier trial has left here.")
    previous_crop = models.CharField(max_length=120, blank=True)
    last_frost = models.CharField(max_length=5, blank=True, help_text="Usual last frost of spring, MM-DD.")
    first_frost = models.CharField(max_length=5, blank=True, help_text="Usual first frost of autumn, MM-DD.")

    objects = Visible.as_manager()

    def __str__(self) -> str:
        return self.name


class Equipment(models.Model):
    """Working widths of a workspace's machines, in metres; what isn't known is empty."""

    workspace = models.OneToOneField(Workspace, models.CASCADE, primary_key=True, related_name="equipment")
    drill = models.FloatField(null=True, blank=True)
    spreader = models.FloatField(null=True, blank=True)
    sprayer = models.FloatField(null=True, blank=True)
    mower = models.FloatField(null=True, blank=True)
    roller = models.FloatField(null=True, blank=True)
    cultivator = models.FloatField(null=True, blank=True)
    sprayer_section = models.FloatField(null=True, blank=True)
    combine = models.FloatField(null=True, blank=True)
    row_spacing = models.FloatField(null=True, blank=True)
    rows_caught = models.PositiveIntegerField(null=True, blank=True)
    history = HistoricalRecords()


class GroundPlot(models.Model):
    """A rectangle on the ground, in metres from the site's corner; trials of later years can use it again.

    `schematic`: drawn from a table without dimensions, so only the arrangement means something; `part_of`: the plot of
    an earlier trial that it was parted from, whose history it shares.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, models.CASCADE, related_name="plots")
    x_m = models.FloatField()
    y_m = models.FloatField()
    width_m = models.FloatField(validators=[MinValueValidator(0.001)])
    length_m = models.FloatField(validators=[MinValueValidator(0.001)])
    schematic = models.BooleanField(default=False)
    part_of = models.ForeignKey("self", models.SET_NULL, null=True, blank=True, related_name="parts")


class Follows(models.TextChoices):
    """What a trial is to the one before it in its series."""

    REPEATS = "repeats"
    CONTINUES = "continues"
    CROSSES = "crosses"


class Trial(models.Model):
    """A question and the treatments that answer it.

    `follows`: the trial before it in a series. It repeats that one on other ground or with a new map, continues it on
    the same plots, or crosses a factor onto them; treatments and measures name what they came from there, so that
    years can be pooled by identity.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="trials")
    name = models.CharField(max_length=160)
    question = models.CharField(max_length=300, blank=True)
    factors = models.JSONField(default=list, help_text="Name, levels and whole_strips of each; none: a plain list.")
    removed = models.JSONField(default=list, help_text="Combinations that can't be: their levels, and why.")
    accepted = models.JSONField(default=list, help_text="Comparisons kept though they change several things, and why.")
    follows = models.ForeignKey("self", models.SET_NULL, null=True, related_name="followed_by")
    follows_as = models.CharField(max_length=10, choices=Follows, blank=True)
    brought_from = models.UUIDField(null=True, help_text="The file that it was made of; that is gone since.")
    created_by = models.ForeignKey(Person, models.PROTECT, related_name="+")
    created_at = models.DateTimeField()
    archived_at = models.DateTimeField(null=True, help_text="Since when it is kept apart from the trials at work.")
    history = HistoricalRecords()

    objects = Trials.as_manager()
    if TYPE_CHECKING:
        treatments: RelatedManager[Treatment]
        measures: RelatedManager[TrialMeasure]
        seasons: RelatedManager[Season]
        followed_by: RelatedManager[Trial]

    def __str__(self) -> str:
        return self.name


class Treatment(models.Model):
    """One of the things compared. `hue` and `pattern`: which of the palette it wears."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    trial = models.ForeignKey(Trial, models.CASCADE, related_name="treatments")
    order = models.PositiveIntegerField()
    name = models.CharField(max_length=160)
    code = models.CharField(max_length=8)
    is_control = models.BooleanField(default=False)
    levels = models.JSONField(default=dict, help_text="Factor → level; empty outside the crossing.")
    came_from = models.ForeignKey("self", models.SET_NULL, null=True, related_name="+", help_text="In `follows`.")
    details = models.JSONField(default=dict, help_text="The cover's components, seed set, and what else was said.")
    history = HistoricalRecords()

    class Meta:
        ordering: ClassVar = ["order", "id"]
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["trial", "name"], name="one_treatment_of_a_name"),
            models.UniqueConstraint(fields=["trial", "code"], name="one_treatment_of_a_code"),
        ]

    def __str__(self) -> str:
        return self.name


class OverVisits(models.TextChoices):
    LAST = "last"
    MEAN = "mean"
    SUM = "sum"


class TrialMeasure(models.Model):
    """A measure as one trial uses it: the margin that matters and the direction that is wanted.

    `control`: what this question compares with, none for the trial's first control.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    trial = models.ForeignKey(Trial, models.CASCADE, related_name="measures")
    version = models.ForeignKey(MeasureVersion, models.PROTECT, related_name="+")
    order = models.PositiveIntegerField()
    margin = models.FloatField(null=True, blank=True)
    margin_kind = models.CharField(max_length=10, choices=MarginKind, default=MarginKind.ABSOLUTE)
    direction = models.CharField(max_length=8, choices=Direction, default=Direction.NONE)
    planned = models.CharField(max_length=16, choices=Planned, default=Planned.NONE)
    planned_for = models.ManyToManyField(
        Treatment, related_name="+", help_text="Treatments whose test is planned; none: all."
    )
    control = models.ForeignKey(Treatment, models.SET_NULL, null=True, blank=True, related_name="+")
    own_controls = models.JSONField(
        default=dict,
        help_text="Treatment → its control at the same levels of other factors, by id, and how that is said; none: "
        "the control.",
    )
    primary = models.BooleanField(default=False, help_text="Whether the question is decided by it.")
    expected = models.FloatField(null=True, blank=True, help_text="Mean expected under the control, to plan with.")
    came_from = models.ForeignKey("self", models.SET_NULL, null=True, related_name="+", help_text="In `follows`.")
    cv_percent = models.FloatField(null=True, blank=True, help_text="Spread expected between plots of a block.")
    over_visits = models.CharField(
        max_length=4,
        choices=OverVisits,
        blank=True,
        help_text="Its value of several visits; empty: as is usual for it.",
    )
    action_threshold = models.FloatField(
        null=True, blank=True, help_text="From which on something is to be done, in the version's unit."
    )
    parts = models.JSONField(default=list, blank=True, help_text="What it is told by: name and group of each part.")
    history = HistoricalRecords(m2m_fields=[planned_for])

    objects = Visible.as_manager()

    class Meta:
        ordering: ClassVar = ["order", "id"]
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(margin__isnull=True) | models.Q(margin__gt=0), name="margin_above_0"
            ),
            models.UniqueConstraint(fields=["trial", "version"], name="measure_once_a_trial"),
        ]


class Season(models.Model):
    """A trial on the ground of a site for one season; the lengths are of its plots, as planned.

    A trial at several sites has a season at each, in the order in which they are asked for.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    trial = models.ForeignKey(Trial, models.CASCADE, related_name="seasons")
    site = models.ForeignKey(Site, models.PROTECT, related_name="seasons")
    order = models.PositiveIntegerField(default=0)
    number = models.PositiveIntegerField(
        default=1, help_text="Of the site in the trial, which its plots' numbers begin with; it never changes."
    )
    not_grown = models.ManyToManyField(Treatment, related_name="+", help_text="Treatments that this site doesn't grow.")
    design = models.CharField(max_length=16, choices=Design)
    allocation = models.CharField(
        max_length=12, choices=Allocation, default=Allocation.UNKNOWN, help_text="How treatments came to their plots."
    )
    whole_factor = models.CharField(max_length=60, blank=True, help_text="Of whole plots, or rows of a strip plot.")
    column_factor = models.CharField(max_length=60, blank=True)
    block_size = models.PositiveIntegerField(
        default=0, help_text="The most plots in an incomplete block; 0 for other designs."
    )
    constraints = models.JSONField(default=list)
    draws = models.JSONField(default=list, help_text="Every draw: seed, when, by whom.")
    moved = models.JSONField(default=list, help_text="Plots that changed places by hand after the draw, and why.")
    starts = models.DateField(null=True, blank=True)
    ends = models.DateField(null=True, blank=True)
    seed = models.BigIntegerField(null=True, blank=True)
    algorithm = models.CharField(max_length=40, blank=True)
    blocks = models.PositiveIntegerField(null=True, blank=True)
    plot_width_m = models.FloatField(null=True, blank=True)
    plot_length_m = models.FloatField(null=True, blank=True)
    gap_m = models.FloatField(default=0)
    alley_m = models.FloatField(default=0)
    serpentine = models.BooleanField(default=False)
    side_by_side = models.BooleanField(default=False, help_text="Blocks lie beside each other instead of behind.")
    harvest_width_m = models.FloatField(null=True, blank=True, help_text="What the combine takes of a plot.")
    guard_m = models.FloatField(default=0, help_text="Left standing at a plot's ends.")
    drawn_at = models.DateTimeField(null=True, blank=True)
    taken_out = models.JSONField(
        default=list, help_text="What of the map was printed or exported, by whom, when, and of which map."
    )
    zones = models.JSONField(default=list, help_text="Zones in each plot: name, share, sown, sowing.")
    reweighed = models.JSONField(
        default=list, help_text="Shares of zones changed once values were recorded there: what, why, by whom, when."
    )
    by_zone = models.JSONField(default=dict, help_text="Measure → the zones in which it is taken.")
    results_opened_at = models.DateTimeField(null=True, blank=True, help_text="When somebody first saw the results.")
    results_opened_by = models.ForeignKey(Person, models.PROTECT, null=True, related_name="+")
    results_how = models.JSONField(null=True, help_text="The method that they were opened with.")
    rotation_year = models.PositiveIntegerField(default=0, help_text="Years since the trial's first on these plots.")

    objects = Visible.as_manager()
    if TYPE_CHECKING:
        units: RelatedManager[Unit]

    class Meta:
        ordering: ClassVar = ["order", "id"]
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["trial", "site"], name="one_season_at_a_site"),
        ]


class UnitKind(models.TextChoices):
    TRIAL = "trial"
    LOCATION = "location"
    BLOCK = "block"
    WHOLE_PLOT = "whole_plot"
    INCOMPLETE_BLOCK = "incomplete_block"
    PLOT = "plot"
    ZONE = "zone"


class Unit(models.Model):
    """A node of the unit tree: trial → location → block → whole plot → plot → zone. Observations hang on any of them.

    In place of whole plots there may be incomplete blocks; the block is then a replicate.

    `position`: place along the block, from 1, where known; `row`, `column`: in the field's grid, of drawn plans.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    season = models.ForeignKey(Season, models.CASCADE, related_name="units")
    parent = models.ForeignKey("self", models.CASCADE, null=True, related_name="children")
    kind = models.CharField(max_length=16, choices=UnitKind)
    label = models.CharField(max_length=160)
    order = models.PositiveIntegerField()
    position = models.PositiveIntegerField(null=True)
    row = models.PositiveIntegerField(null=True)
    column = models.PositiveIntegerField(null=True)
    ground = models.ForeignKey(GroundPlot, models.PROTECT, null=True, related_name="units")
    treatment = models.ForeignKey(Treatment, models.RESTRICT, null=True, related_name="units")

    objects = Units.as_manager()

    class Meta:
        ordering: ClassVar = ["order", "id"]
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["season", "kind", "label"], name="one_unit_of_a_label"),
        ]

    def __str__(self) -> str:
        return self.label

    @property
    def block(self) -> str:
        """Label of the block that a plot lies in, empty where there is none."""
        inside = self.parent and self.parent.kind in (UnitKind.WHOLE_PLOT, UnitKind.INCOMPLETE_BLOCK)
        above = self.parent.parent if self.parent and inside else self.parent
        return above.label if above and above.kind == UnitKind.BLOCK else ""

    @property
    def whole_plot(self) -> str:
        """Label of the whole plot that a plot lies in, empty where there is none."""
        return self.parent.label if self.parent and self.parent.kind == UnitKind.WHOLE_PLOT else ""

    @property
    def incomplete_block(self) -> str:
        """Label of the incomplete block that a plot lies in, empty where there is none."""
        return self.parent.label if self.parent and self.parent.kind == UnitKind.INCOMPLETE_BLOCK else ""
