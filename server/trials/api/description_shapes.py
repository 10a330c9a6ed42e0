"""Shapes of what is said of treatments, and of comparisons that change several things at once."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from apercu_core.trial.descriptions import ASPECTS
from config.typed_number import TypedOrShown

SEED_SET = ("prevent", "wanted")
FACTOR_KINDS = (*(key for key in ASPECTS if key not in ("cultivar", "crop_variety", "row_spacing")), "other")


def _percent() -> TypedOrShown:
    return TypedOrShown(least=0, most=100, allow_null=True, default=None)


class ComponentShape(serializers.Serializer[Any]):
    """One species of a cover. `species`: key of the guide, if it is there; `rate`: as typed, with or without unit."""

    species = serializers.CharField(max_length=60, allow_blank=True, default="")
    name = serializers.CharField(max_length=120, allow_blank=True)
    cultivar = serializers.CharField(max_length=80, allow_blank=True, default="")
    rate = serializers.CharField(max_length=20, allow_blank=True, default="")
    lot = serializers.CharField(max_length=80, allow_blank=True, default="")
    purity_percent = _percent()
    germination_percent = _percent()
    tkw_g = TypedOrShown(least=0.001, most=5000, allow_null=True, default=None)


class DetailsShape(serializers.Serializer[Any]):
    """What is sown and what is done. `said`: aspect → in the person's words."""

    components = ComponentShape(many=True, default=list)
    seed_set = serializers.ChoiceField(choices=SEED_SET, allow_blank=True, default="")
    said = serializers.DictField(child=serializers.CharField(max_length=120, allow_blank=True), default=dict)


class AcceptedShape(serializers.Serializer[Any]):
    """A comparison that is kept though it changes several things, and why. Ids of treatments."""

    base = serializers.UUIDField()
    treatment = serializers.UUIDField()
    why = serializers.CharField(max_length=200)


class ComparedTreatmentIn(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField(max_length=160)
    is_control = serializers.BooleanField(default=False)
    levels = serializers.DictField(child=serializers.CharField(max_length=80), default=dict)
    details = DetailsShape(default=dict)


class ComparedFactorIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=60)
    kind = serializers.CharField(max_length=20, allow_blank=True, default="")
    control = serializers.CharField(max_length=80, allow_blank=True, default="")


class ConfoundingIn(serializers.Serializer[Any]):
    workspace = serializers.UUIDField()
    factors = ComparedFactorIn(many=True, default=list)
    treatments = ComparedTreatmentIn(many=True)


class OfferOut(serializers.Serializer[Any]):
    """`add`: a treatment as `like` but with `aspect` as in `other`; `hold`: `other` gets the aspect of `like`; `share`:
    the components of `other` get `rates`, as one types them. `value`: what is then said of the aspect.
    """

    kind = serializers.ChoiceField(choices=("add", "hold", "share"))
    aspect = serializers.CharField()
    like = serializers.UUIDField()
    other = serializers.UUIDField()
    said = serializers.CharField()
    value = serializers.CharField(allow_blank=True)
    rates = serializers.ListField(child=serializers.CharField())


class MixedOut(serializers.Serializer[Any]):
    base = serializers.UUIDField()
    treatment = serializers.UUIDField()
    said = serializers.CharField()
    offers = OfferOut(many=True)
    remark = serializers.CharField(allow_blank=True)


class CautionOut(serializers.Serializer[Any]):
    treatment = serializers.UUIDField()
    said = serializers.ListField(child=serializers.CharField())


class ConfoundingOut(serializers.Serializer[Any]):
    """Comparisons that change several things at once with nothing between, what isn't known of the covers, and what is
    worth knowing of the comparisons.
    """

    mixed = MixedOut(many=True)
    worth_knowing = serializers.ListField(child=serializers.CharField())
    cautions = CautionOut(many=True)


class AspectOut(serializers.Serializer[Any]):
    """Something that is said of a treatment, or that a factor changes."""

    key = serializers.CharField()
    name = serializers.CharField()
    factor = serializers.BooleanField()
    said = serializers.BooleanField()
