"""Shapes of the species guide and the mix builder."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from apercu_core.species.fitting import Reason
from apercu_core.species.record import SERVICES, SpeciesField
from apercu_core.species.rules.finding import Finding
from apercu_core.species.sheet import MOST_TEXT
from apercu_core.species.wish import WAYS
from config.dataclass_shapes import Shape
from config.typed_number import TypedNumber, TypedTemperature


class SpeciesFieldOut(Shape):
    class Meta:
        dataclass = SpeciesField
        exclude = ("below_zero",)


class FactOut(serializers.Serializer[Any]):
    field = serializers.CharField()
    text = serializers.CharField()
    lines = serializers.ListField(child=serializers.CharField(), help_text="What stands between semicolons, each.")
    source = serializers.CharField()  # type: ignore[assignment]
    cited = serializers.CharField()


class SpeciesOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    own = serializers.BooleanField()
    facts = FactOut(many=True)


class KeyLabelOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]


class SourceOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    cited = serializers.CharField()


class GuideOut(serializers.Serializer[Any]):
    fields = SpeciesFieldOut(many=True)  # type: ignore[assignment]
    purposes = KeyLabelOut(many=True)
    crops = serializers.ListField(child=serializers.CharField())
    species = SpeciesOut(many=True)
    sources = SourceOut(many=True)


class WishIn(serializers.Serializer[Any]):
    """`first_frost`, `last_frost`: MM-DD, usual at the site; `before`, `after`: of the guide's crops; `mild_winter`,
    `harsh_winter`: lowest temperatures of the mildest and harshest winter in ten years; `days`: to the end.
    """

    weights = serializers.DictField(child=serializers.IntegerField(min_value=0, max_value=3), default=dict)
    sown = serializers.DateField(allow_null=True, default=None)
    first_frost = serializers.CharField(allow_blank=True, max_length=5, default="")
    last_frost = serializers.CharField(allow_blank=True, max_length=5, default="")
    soil = TypedTemperature(allow_null=True, default=None, least=-20, most=50)
    mild_winter = TypedTemperature(allow_null=True, default=None, least=-70, most=40)
    harsh_winter = TypedTemperature(allow_null=True, default=None, least=-70, most=40)
    ways = serializers.ListField(child=serializers.ChoiceField(choices=WAYS), default=list)
    days = TypedNumber(allow_null=True, default=None, least=1, most=2000)
    winter = serializers.ChoiceField(choices=("dies", "lives", ""), default="")
    wet = serializers.BooleanField(default=False)
    saline = serializers.BooleanField(default=False)
    shaded = serializers.BooleanField(default=False)
    grazed = serializers.BooleanField(default=False)
    before = serializers.CharField(allow_blank=True, max_length=40, default="")
    after = serializers.CharField(allow_blank=True, max_length=40, default="")


class ReasonOut(Shape):
    class Meta:
        dataclass = Reason


class CostOut(Shape):
    """What takes points from a score of 100."""

    class Meta:
        dataclass = Finding
        exclude = ("kind",)


class SpeciesFitOut(serializers.Serializer[Any]):
    """`out` isn't empty where it can't work, `unknown` where it can't be judged; only the others have a score.
    `partners`: keys of species.
    """

    key = serializers.CharField()
    name = serializers.CharField()
    own = serializers.BooleanField()
    score = serializers.FloatField(allow_null=True)
    out = serializers.ListField(child=serializers.CharField())
    why = ReasonOut(many=True)
    costs = CostOut(many=True)
    notes = serializers.ListField(child=serializers.CharField())
    unknown = serializers.ListField(child=serializers.CharField())
    partners = serializers.ListField(child=serializers.CharField())


class PartIn(serializers.Serializer[Any]):
    """`full` in the person's unit of rates and `tkw` g: None takes the record's."""

    key = serializers.CharField(max_length=60)
    share = TypedNumber(allow_null=True)
    full = TypedNumber(allow_null=True, default=None)
    tkw = TypedNumber(allow_null=True, default=None)


class MixIn(serializers.Serializer[Any]):
    parts = serializers.ListField(child=PartIn(), max_length=12)
    way = serializers.ChoiceField(choices=("of_full", "mass", "seeds"), default="of_full")
    total = TypedNumber(allow_null=True, default=None)
    broadcast = serializers.BooleanField(default=False)
    stage = serializers.ChoiceField(choices=("cn_young", "cn_flower", "cn_mature"), default="cn_flower")
    weights = serializers.DictField(child=serializers.IntegerField(min_value=0, max_value=3), default=dict)
    steps = serializers.IntegerField(min_value=3, max_value=11, default=5)

    def validate_weights(self, weights: dict[str, int]) -> dict[str, int]:
        unknown = set(weights) - set(SERVICES)
        if unknown:
            raise serializers.ValidationError(f"{sorted(unknown)[0]!r} is no purpose.")
        return weights


class MixComponentOut(serializers.Serializer[Any]):
    """Rates and seeds in the person's units, shares in per cent; null where what it needs is unknown."""

    key = serializers.CharField()
    name = serializers.CharField()
    rate = serializers.FloatField()
    of_full = serializers.FloatField(allow_null=True)
    of_mass = serializers.FloatField()
    of_seeds = serializers.FloatField(allow_null=True)
    seeds = serializers.FloatField(allow_null=True)
    full = serializers.FloatField(allow_null=True)
    tkw = serializers.FloatField(allow_null=True)
    brings = serializers.ListField(child=serializers.CharField())


class RateOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    rate = serializers.FloatField()


class StepOut(serializers.Serializer[Any]):
    name = serializers.CharField()
    rates = RateOut(many=True)


class ServiceOut(serializers.Serializer[Any]):
    service = serializers.CharField()
    rating = serializers.FloatField()


class MixOut(serializers.Serializer[Any]):
    components = MixComponentOut(many=True)
    total = serializers.FloatField()
    rate_unit = serializers.CharField()
    seeds_unit = serializers.CharField()
    sum_of_full = serializers.FloatField(allow_null=True)
    separation = serializers.CharField(allow_blank=True)
    carbon_nitrogen = serializers.FloatField(allow_null=True)
    carbon_nitrogen_note = serializers.CharField()
    services = ServiceOut(many=True)
    notes = serializers.ListField(child=serializers.CharField())
    enough = serializers.ListField(child=serializers.CharField())
    replacement = StepOut(many=True)
    additive = StepOut(many=True)


class CellsIn(serializers.Serializer[Any]):
    cells = serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=MOST_TEXT))


class TableIn(serializers.Serializer[Any]):
    file = serializers.FileField()
