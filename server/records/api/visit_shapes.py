"""Shapes of visits and of what is entered at them."""

from __future__ import annotations

from typing import Any, get_args
from uuid import UUID

from rest_framework import serializers

from apercu_core.field.sample_places import PLACEMENTS
from apercu_core.measures.parts import LONGEST_NAME, Part
from apercu_core.measures.rules import DeviceRules
from apercu_core.measures.sheet import FieldKind
from config.dataclass_shapes import Shape
from config.former_names import WithFormerNames
from config.typed_number import TypedIn, TypedNumber
from crew.models import UnitSystem
from records.entering import Outcome
from records.models import ComponentKind, MissingStatus

MOST_TYPED = 400
"""Letters in a field: a list of readings is one."""
MOST_SAMPLES = 200
PLACEMENT_KEYS = tuple(PLACEMENTS)
FIELD_KINDS = get_args(FieldKind)
STATES = ("saved", "question", "refused", "conflict")


class DepthsOut(serializers.Serializer[Any]):
    """Readings one below the other: where the first lies, how far apart they are, at which value a line is drawn."""

    first = serializers.FloatField()
    step = serializers.FloatField()
    unit = serializers.CharField()
    limit = serializers.FloatField(allow_null=True, help_text="In the unit of the field.")


class FieldOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True, help_text="In which a value without a unit is read for this person.")
    kind = serializers.ChoiceField(choices=FIELD_KINDS)
    optional = serializers.BooleanField()
    choices = serializers.ListField(
        child=serializers.CharField(), help_text="To choose from: of a choice, or the grades of a short scale."
    )
    timed = serializers.BooleanField(help_text="A time that can be taken with a watch.")
    depths = DepthsOut(allow_null=True, help_text="Where its readings lie, if they lie one below the other.")


class ListedPartOut(Shape):
    class Meta:
        dataclass = Part


class ListedPartsOut(serializers.Serializer[Any]):
    parts = ListedPartOut(many=True)


class ListedPartIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=LONGEST_NAME)
    group = serializers.CharField(max_length=LONGEST_NAME, allow_blank=True, default="")


class ListedPartsIn(serializers.Serializer[Any]):
    parts = serializers.ListField(child=ListedPartIn(), max_length=200)


class ActionThresholdIn(serializers.Serializer[Any]):
    threshold = serializers.CharField(max_length=40, allow_blank=True)


class DeviceRulesOut(Shape):
    class Meta:
        dataclass = DeviceRules


class SheetMeasureOut(serializers.Serializer[Any]):
    """A measure as it is entered at a visit. `unit`, `factor`: what its values are shown in, and from what is sent."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    factor = serializers.FloatField()
    fields = FieldOut(many=True)  # type: ignore[assignment]
    samples = serializers.IntegerField()
    samples_due = serializers.IntegerField(help_text="Without which a plot isn’t done.")
    sample_name = serializers.CharField(
        help_text="What one of several samples is called: frame, length of row, sample."
    )
    part_kind = serializers.CharField(allow_blank=True, help_text="What an entry is told by; empty: it is the whole.")
    parts = ListedPartOut(many=True)
    common_parts = ListedPartOut(many=True, help_text="To add to the list from.")
    zones = serializers.ListField(child=serializers.CharField(), help_text="Where it is taken; none: the whole plot.")
    formula = serializers.CharField()
    settings = serializers.ListField(child=serializers.CharField())
    pitfall = serializers.CharField(allow_blank=True)
    watched = serializers.FloatField(allow_null=True, help_text="For how long one watches and counts, min.")
    zero_when_failed = serializers.BooleanField(
        help_text="Measured on the cover itself: a failed cover is a true zero."
    )
    by_photograph = serializers.BooleanField(help_text="Its value can be worked out from photographs.")
    counted_on_photograph = serializers.BooleanField(
        help_text="It is counted in frames, of which one can be a picture."
    )
    beyond = serializers.CharField(
        allow_blank=True, help_text="Whether a value is `more` or `less` than its bound; empty: its values have none."
    )
    rules = DeviceRulesOut()


class RowOut(serializers.Serializer[Any]):
    """One figure as it stands; `value` in the measure's stored unit."""

    id = serializers.UUIDField()
    unit = serializers.UUIDField()
    measure = serializers.UUIDField()
    zone = serializers.CharField(allow_blank=True)
    component_kind = serializers.ChoiceField(choices=ComponentKind.choices, allow_blank=True)
    component = serializers.CharField(allow_blank=True)
    sample = serializers.IntegerField()
    value = serializers.FloatField(allow_null=True)
    bound = serializers.FloatField(
        allow_null=True, help_text="Where the value lies beyond what was measured: the end that is known of it."
    )
    fields = serializers.DictField(child=serializers.CharField(allow_blank=True))  # type: ignore[assignment]
    missing_status = serializers.ChoiceField(choices=MissingStatus.choices, allow_blank=True)
    missing_reason = serializers.CharField(allow_blank=True)
    by = serializers.CharField()
    at = serializers.DateTimeField()


class NoteOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    unit = serializers.UUIDField(source="unit_id", allow_null=True)
    text = serializers.CharField()
    by = serializers.CharField(source="by.name")
    at = serializers.DateTimeField()


class ProgressOut(serializers.Serializer[Any]):
    done = serializers.IntegerField()
    begun = serializers.IntegerField()
    of = serializers.IntegerField()
    conflicts = serializers.IntegerField()


class SamplePlaceOut(serializers.Serializer[Any]):
    """The corner of a sample that is nearest to the plot’s corner; m from there."""

    across = serializers.FloatField()
    along = serializers.FloatField()


class SampledAreaOut(serializers.Serializer[Any]):
    """What is sampled of a plot, m from its corner."""

    x = serializers.FloatField()
    y = serializers.FloatField()
    width = serializers.FloatField()
    length = serializers.FloatField()


class PlacesOut(serializers.Serializer[Any]):
    """Where samples are taken. `said`: how they were drawn; `corner`: that they are measured from, in words."""

    said = serializers.CharField(allow_blank=True)
    corner = serializers.CharField()
    width = serializers.FloatField(help_text="Of what is laid down, across the plot, m.")
    length = serializers.FloatField(help_text="Of what is laid down, along the plot, m.")
    by_plot = serializers.DictField(child=SamplePlaceOut(many=True))
    area = serializers.DictField(child=SampledAreaOut())
    why_none = serializers.CharField(allow_blank=True)


class OwnBlocksOut(serializers.Serializer[Any]):
    """Blocks that a person counts at a visit."""

    person = serializers.UUIDField()
    name = serializers.CharField()
    blocks = serializers.ListField(child=serializers.CharField())


class PastOut(serializers.Serializer[Any]):
    """The plot’s value at the visit before that has one; `value` in the measure’s stored unit."""

    unit = serializers.UUIDField()
    measure = serializers.UUIDField()
    zone = serializers.CharField(allow_blank=True)
    component = serializers.CharField(allow_blank=True)
    value = serializers.FloatField()
    visit = serializers.CharField()
    date = serializers.DateField(allow_null=True)


class ExpectedOut(serializers.Serializer[Any]):
    """Between which values nothing is asked, by what stands beside; all in the measure’s stored unit."""

    unit = serializers.UUIDField()
    measure = serializers.UUIDField()
    zone = serializers.CharField(allow_blank=True)
    which = serializers.ChoiceField(choices=("beside", "past"))
    low = serializers.FloatField()
    high = serializers.FloatField()
    seen = serializers.ListField(child=serializers.FloatField(), min_length=2, max_length=2)


class VisitOut(serializers.Serializer[Any]):
    """A visit with its sheet. `order`: plots in walking order; `zones`: plot → the zones that it has."""

    id = serializers.UUIDField()
    etag = serializers.CharField(help_text="Of the visit’s plan: name, date and measures.")
    trial = serializers.UUIDField()
    site = serializers.UUIDField()
    units = serializers.ChoiceField(choices=UnitSystem.choices, help_text="In which values are shown and typed.")
    name = serializers.CharField()
    due = serializers.DateField(allow_null=True)
    date = serializers.DateField(allow_null=True)
    measures = SheetMeasureOut(many=True)
    order = serializers.ListField(child=serializers.UUIDField())
    page = serializers.IntegerField(
        help_text="Which page of the sheet this is, from 1; `order` and `rows` are its own."
    )
    pages = serializers.IntegerField()
    zones = serializers.DictField(child=serializers.ListField(child=serializers.CharField()))
    blind = serializers.BooleanField(help_text="Treatment names and colours are hidden.")
    guess_first = serializers.BooleanField()
    observers = OwnBlocksOut(many=True)
    why_so = serializers.CharField(allow_blank=True, help_text="Why blocks are allotted as they are.")
    places = PlacesOut()
    past = PastOut(many=True)
    expected = ExpectedOut(many=True)
    rows = RowOut(many=True)
    conflicts = RowOut(many=True)
    notes = NoteOut(many=True)
    progress = ProgressOut()


class HowWalkedIn(serializers.Serializer[Any]):
    placement = serializers.ChoiceField(choices=PLACEMENT_KEYS)
    samples = serializers.DictField(child=serializers.IntegerField(min_value=1, max_value=MOST_SAMPLES), default=dict)
    plots = serializers.ListField(child=serializers.CharField(max_length=160), max_length=2000, default=list)
    observers = serializers.ListField(child=serializers.UUIDField(), max_length=40, default=list)
    blind = serializers.BooleanField(allow_null=True, default=None)
    guess_first = serializers.BooleanField(default=False)
    bearing = TypedNumber(least=0, most=360, allow_null=True, default=None, help_text="Of a transect, ° from north.")
    spacing = TypedIn("m", least=0.05, most=1000, allow_null=True, default=None, help_text="From sample to sample.")
    walked = serializers.DateField(
        allow_null=True, default=None, help_text="The day on which the plots were walked, where entries don’t tell it."
    )

    def validate_samples(self, value: dict[str, int]) -> dict[UUID, int]:
        try:
            return {UUID(key): samples for key, samples in value.items()}
        except ValueError:
            raise serializers.ValidationError("This names no measure. Open the page again.") from None


class VisitIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=120)
    due = serializers.DateField(allow_null=True, default=None)
    measures = serializers.ListField(child=serializers.UUIDField(), max_length=40)
    how = HowWalkedIn(default=None, allow_null=True, help_text="None: as it was, or as is usual.")


class PlaceIn(WithFormerNames):
    """A place in the visit. Devices of earlier releases say `part` for the zone, `subsample` for the sample and
    `fate` for the missing status; what they have queued still arrives.
    """

    former = {"part": "zone", "subsample": "sample", "fate": "missing_status"}
    unit = serializers.UUIDField()
    measure = serializers.UUIDField()
    zone = serializers.CharField(allow_blank=True, max_length=80, default="")
    component_kind = serializers.ChoiceField(choices=ComponentKind.choices, allow_blank=True, default="")
    component = serializers.CharField(allow_blank=True, max_length=80, default="")
    sample = serializers.IntegerField(min_value=1, max_value=MOST_SAMPLES, default=1)


class EntryIn(PlaceIn):
    id = serializers.UUIDField()
    fields = serializers.DictField(  # type: ignore[assignment]
        child=serializers.CharField(allow_blank=True, max_length=MOST_TYPED), default=dict
    )
    replaces = serializers.UUIDField(allow_null=True, default=None)
    missing_status = serializers.ChoiceField(choices=MissingStatus.choices, allow_blank=True, default="")
    missing_reason = serializers.CharField(allow_blank=True, max_length=200, default="")
    confirmed = serializers.BooleanField(default=False)
    blind = serializers.BooleanField(
        allow_null=True, default=None, help_text="Whether treatment names were hidden where it was typed."
    )
    entered_at = serializers.DateTimeField()
    units = serializers.ChoiceField(
        choices=UnitSystem.choices, allow_blank=True, default="",
        help_text="In which the values were typed; empty: the person’s own.",
    )  # fmt: skip


class EntriesIn(serializers.Serializer[Any]):
    entries = serializers.ListField(child=EntryIn(), min_length=1, max_length=2000)
    sent_at = serializers.DateTimeField(
        allow_null=True, default=None, help_text="By the device’s clock, so that a wrong one is known."
    )


class OutcomeOut(Shape):
    state = serializers.ChoiceField(choices=STATES)
    other = RowOut(allow_null=True)

    class Meta:
        dataclass = Outcome


class OutcomesOut(serializers.Serializer[Any]):
    outcomes = OutcomeOut(many=True)
    progress = ProgressOut()
    clock_off = serializers.CharField(allow_blank=True, help_text="That the device’s clock is wrong, in words.")


class UndoIn(serializers.Serializer[Any]):
    id = serializers.UUIDField()


class RedoIn(PlaceIn):
    """Where in the visit to redo. `id`: of the further row, made by the client."""

    id = serializers.UUIDField()


class DecisionIn(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    keep = serializers.UUIDField()
    why = serializers.CharField(max_length=300, allow_blank=True)


class NoteIn(serializers.Serializer[Any]):
    unit = serializers.UUIDField(allow_null=True, default=None)
    text = serializers.CharField(max_length=1000, allow_blank=True)
