"""Shapes of bringing a table, and of corrections."""

from typing import Any

from rest_framework import serializers

from apercu_core.tables.assemble import MeasureColumn
from apercu_core.tables.questions import OddCell, Question
from apercu_core.tables.roles import Column
from config.dataclass_shapes import Shape
from config.typed_number import TypedNumber
from records.api.visit_shapes import MOST_TYPED
from records.entering import Outcome
from trials.measures_as_typed import ABOVE_0
from trials.models import Allocation, Direction, MarginKind, Planned

ROLES = ("block", "treatment", "plot", "sample", "value", "measure", "unit", "date", "ignore")


class ColumnOut(Shape):
    direction = serializers.ChoiceField(choices=Direction.choices)

    class Meta:
        dataclass = Column


class OddCellOut(Shape):
    class Meta:
        dataclass = OddCell


class QuestionOut(Shape):
    """What has to be settled before the table can be kept. `answer`: the choice that was taken, empty while open."""

    id = serializers.CharField()
    answer = serializers.CharField(allow_blank=True)

    class Meta:
        dataclass = Question


class ReadCellOut(serializers.Serializer[object]):
    line = serializers.IntegerField()
    text = serializers.CharField()
    value = serializers.FloatField(allow_null=True)


class ReadColumnOut(serializers.Serializer[object]):
    """A column of values as written beside as read; only its first cells where there are very many (`more`)."""

    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    cells = ReadCellOut(many=True)
    more = serializers.IntegerField()


class MeasureColumnOut(Shape):
    direction = serializers.ChoiceField(choices=Direction.choices)

    class Meta:
        dataclass = MeasureColumn
        exclude = ("visit", "date")


class AssembledOut(serializers.Serializer[object]):
    """What the table would become. `refusal`: why nothing can be made of it with these roles."""

    refusal = serializers.CharField()
    design = serializers.CharField()
    plots = serializers.IntegerField()
    blocks = serializers.ListField(child=serializers.CharField())
    treatments = serializers.ListField(child=serializers.CharField())
    likely_control = serializers.CharField(allow_blank=True)
    most_samples = serializers.IntegerField()
    gaps = serializers.IntegerField()
    measures = MeasureColumnOut(many=True)
    read = ReadColumnOut(many=True)
    odd = OddCellOut(many=True)
    questions = QuestionOut(many=True)
    settled = serializers.BooleanField()


class DescribedMeasureOut(serializers.Serializer[object]):
    column = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    margin = serializers.FloatField(allow_null=True)
    margin_kind = serializers.ChoiceField(choices=MarginKind.choices)
    direction = serializers.ChoiceField(choices=Direction.choices)
    planned = serializers.ChoiceField(choices=Planned.choices)


class PackagedTrialOut(serializers.Serializer[object]):
    """What a data package says beside its table."""

    name = serializers.CharField(allow_blank=True)
    question = serializers.CharField(allow_blank=True)
    control = serializers.CharField(allow_null=True)
    allocation = serializers.ChoiceField(choices=Allocation.choices)
    measures = DescribedMeasureOut(many=True)
    beyond = serializers.IntegerField(help_text="Plots with values beyond what was measured; empty in the table.")


class UploadOut(serializers.Serializer[object]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    encoding = serializers.CharField()
    separator = serializers.CharField()
    rows = serializers.IntegerField()
    columns = ColumnOut(many=True)
    proposed = AssembledOut()
    described = PackagedTrialOut(allow_null=True)


class UploadIn(serializers.Serializer[object]):
    file = serializers.FileField()
    workspace = serializers.UUIDField()


class RolesIn(serializers.Serializer[object]):
    roles = serializers.DictField(child=serializers.ChoiceField(choices=ROLES))
    answers = serializers.DictField(child=serializers.CharField(), default=dict)


class MeasureIn(serializers.Serializer[object]):
    column = serializers.CharField()
    name = serializers.CharField(max_length=120)
    unit = serializers.CharField(max_length=40, allow_blank=True)
    margin = TypedNumber(allow_null=True)
    margin_kind = serializers.ChoiceField(choices=MarginKind.choices)
    direction = serializers.ChoiceField(choices=Direction.choices)
    planned = serializers.ChoiceField(choices=Planned.choices, default=Planned.NONE)

    def validate_margin(self, value: float | None) -> float | None:
        if value is not None and value <= 0:
            raise serializers.ValidationError(ABOVE_0)
        return value


class AcceptIn(RolesIn):
    id = serializers.UUIDField()
    name = serializers.CharField(max_length=160)
    question = serializers.CharField(max_length=300, allow_blank=True, default="")
    control = serializers.CharField(allow_null=True)
    allocation = serializers.ChoiceField(choices=Allocation.choices)
    measures = MeasureIn(many=True)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        keys = [(measure["name"], measure["unit"]) for measure in attrs["measures"]]
        if len(set(keys)) < len(keys):
            raise serializers.ValidationError({"measures": "Two measures have one name and unit; give each its own."})
        return attrs


class AcceptedOut(serializers.Serializer[object]):
    trial = serializers.UUIDField()
    job = serializers.UUIDField(allow_null=True, help_text="That makes it, of a large table; none: it is there.")


class CorrectedFieldOut(serializers.Serializer[object]):
    key = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    typed = serializers.CharField(allow_blank=True)


class ObservationOut(serializers.Serializer[object]):
    """A value as it was typed, by the fields of its sheet."""

    id = serializers.UUIDField()
    fields = CorrectedFieldOut(many=True)  # type: ignore[assignment]


class CorrectionIn(serializers.Serializer[object]):
    """Fields that are all empty mark the value as missing. `confirmed`: an unusual value is right."""

    replaces = serializers.UUIDField()
    fields = serializers.DictField(  # type: ignore[assignment]
        child=serializers.CharField(max_length=MOST_TYPED, allow_blank=True)
    )
    why = serializers.CharField(max_length=200, allow_blank=True)
    confirmed = serializers.BooleanField(default=False)


class CorrectionOut(Shape):
    """`state` question: nothing is kept until the value is confirmed; `message` says why it is asked."""

    state = serializers.ChoiceField(choices=("saved", "question"))

    class Meta:
        dataclass = Outcome
        exclude = ("other",)
