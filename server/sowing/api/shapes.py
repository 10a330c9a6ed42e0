"""Shapes of Sow. Numbers are in the person's units: masses of seed, areas, lengths and rates are named in `units`."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rest_framework import serializers

from apercu_core.sowing.go import CHECKS
from apercu_core.sowing.rates import WAYS
from config.typed_number import TypedIn, TypedNumber, TypedWhole

KNOWN_BY = ("remains", "counter", "nothing")
FILLINGS = ("by_treatment", "by_plot")
QUALITIES = ("good", "caution", "poor")

DECISIONS = ("go", "wait")


class LotIn(serializers.Serializer[Any]):
    """What stands on the label, as typed; empty: not said here."""

    key = serializers.CharField(max_length=300)
    purity_percent = TypedNumber(allow_null=True, default=None, least=0, most=100)
    germination_percent = TypedNumber(allow_null=True, default=None, least=0, most=100)
    hard_seed_percent = TypedNumber(allow_null=True, default=None, least=0, most=100)
    emergence_percent = TypedNumber(allow_null=True, default=None, least=0, most=100)
    coat_percent = TypedNumber(allow_null=True, default=None, least=0, most=99)
    tkw_g = TypedNumber(allow_null=True, default=None, least=0)
    bag_kg = TypedIn("kg", allow_null=True, default=None, least=0)
    price_per_kg = TypedIn("1/kg", allow_null=True, default=None, least=0)
    bushel_lb = TypedNumber(allow_null=True, default=None, least=0)
    count_hard_seed = serializers.BooleanField(default=False)
    coat_counted = serializers.BooleanField(default=False)


class RateIn(serializers.Serializer[Any]):
    """`value` in the unit that `way` names."""

    treatment = serializers.CharField(max_length=40)
    lot = serializers.CharField(max_length=300)
    way = serializers.ChoiceField(choices=list(WAYS))
    value = TypedNumber(allow_null=True, default=None, least=0)


class SeedPlanIn(serializers.Serializer[Any]):
    lots = serializers.ListField(child=LotIn(), max_length=60)
    rates = serializers.ListField(child=RateIn(), max_length=400)
    allowance_g = TypedIn("g", default=0, least=0)
    spare_percent = TypedNumber(default=10, least=0, most=100)
    filling = serializers.ChoiceField(choices=FILLINGS, default="by_treatment")
    currency = serializers.CharField(max_length=8, allow_blank=True, default="")


class WayOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    said = serializers.CharField()


class UnitsOut(serializers.Serializer[Any]):
    """Unit of each kind of figure on the page."""

    seed = serializers.CharField(help_text="Of a plot's seed.")
    order = serializers.CharField(help_text="Of bags and orders.")
    rate = serializers.CharField()
    per_area = serializers.CharField(help_text="Of seeds and plants.")
    row = serializers.CharField(help_text="Of rows: seeds for each.")
    area = serializers.CharField()
    length = serializers.CharField()
    spacing = serializers.CharField(help_text="Of rows and depth.")
    volume = serializers.CharField()
    volume_rate = serializers.CharField()
    density = serializers.CharField(help_text="Of the seed itself.")
    mixture = serializers.CharField(help_text="Of seed in a sample of the tank.")


class LotOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    cultivar = serializers.CharField(allow_blank=True)
    lot = serializers.CharField(allow_blank=True)
    typed = LotIn(help_text="What was said, here or in Ask.")
    used = serializers.DictField(child=serializers.FloatField(allow_null=True), help_text="With what is assumed.")
    assumed = serializers.DictField(child=serializers.CharField(), help_text="Field → where its figure comes from.")
    asks = serializers.DictField(
        child=serializers.ListField(child=serializers.FloatField()),
        help_text="Field → what Ask has, where that is something else, or two things.",
    )
    asked = serializers.ListField(child=serializers.CharField(), help_text="Fields that a rate needs, and nobody said.")


class PartOut(serializers.Serializer[Any]):
    lot = serializers.CharField()
    way = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    here = serializers.BooleanField(help_text="Said on this page; else it is Ask’s rate.")
    bulk = serializers.FloatField(allow_null=True)
    live = serializers.FloatField(allow_null=True)
    seeds = serializers.FloatField(allow_null=True)
    live_seeds = serializers.FloatField(allow_null=True)
    plants = serializers.FloatField(allow_null=True)
    per_row = serializers.FloatField(allow_null=True)
    missing = serializers.ListField(child=serializers.CharField())
    assumed = serializers.ListField(child=serializers.CharField())
    total = serializers.FloatField(allow_null=True)


class PlotSeedOut(serializers.Serializer[Any]):
    plot = serializers.CharField()
    block = serializers.CharField(allow_blank=True)
    amounts = serializers.ListField(child=serializers.FloatField(allow_null=True))
    total = serializers.FloatField(allow_null=True)


class TreatmentSeedOut(serializers.Serializer[Any]):
    id = serializers.CharField()
    name = serializers.CharField()
    code = serializers.CharField()
    parts = PartOut(many=True)
    plots = PlotSeedOut(many=True)
    warnings = serializers.ListField(child=serializers.CharField())
    intended = serializers.FloatField(allow_null=True)


class OrderOut(serializers.Serializer[Any]):
    lot = serializers.CharField()
    needed = serializers.FloatField()
    order = serializers.FloatField()
    bags = serializers.IntegerField(allow_null=True)
    price = serializers.FloatField(allow_null=True)
    one_less = serializers.CharField(allow_blank=True)
    complete = serializers.BooleanField()


class SownAreaOut(serializers.Serializer[Any]):
    gross = serializers.FloatField()
    sown = serializers.FloatField()
    fraction = serializers.FloatField(allow_null=True)
    strips = serializers.DictField(
        child=serializers.ListField(child=serializers.ListField(child=serializers.FloatField())),
        help_text="Plot → its sown strips: x, y, width, length in metres; only where less than all of it is.",
    )
    unplaced = serializers.BooleanField(help_text="Whether some strips show a share alone, and not where it lies.")


class LegOut(serializers.Serializer[Any]):
    """A leg of the drill’s way, m from the trial’s corner. `plot`: which one is sown on it; empty for driving on."""

    plot = serializers.CharField(allow_blank=True)
    points = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class StopOut(serializers.Serializer[Any]):
    plot = serializers.CharField()
    treatment = serializers.CharField()
    clean = serializers.BooleanField()
    upwards = serializers.BooleanField()
    packed = serializers.BooleanField()
    placed = serializers.BooleanField()
    repack = serializers.BooleanField(help_text="It was packed, and its plot needs something else now.")
    total = serializers.FloatField(allow_null=True)


class SowingTestOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    kind = serializers.CharField()
    about = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField()
    said = serializers.CharField()
    quality = serializers.ChoiceField(choices=QUALITIES)


class SowingDecisionOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    day = serializers.DateField()
    checks = serializers.DictField(child=serializers.CharField())
    advice = serializers.ChoiceField(choices=("go", "wait", "look"), help_text="What the checks say together.")
    decision = serializers.CharField()
    note = serializers.CharField(allow_blank=True)
    by = serializers.CharField()


class DeliveredOut(serializers.Serializer[Any]):
    treatment = serializers.CharField()
    intended = serializers.FloatField(allow_null=True)
    delivered = serializers.FloatField(allow_null=True)
    off_percent = serializers.FloatField(allow_null=True)
    far = serializers.BooleanField()


class SowingOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    etag = serializers.CharField()
    day = serializers.DateField()
    plots = serializers.ListField(child=serializers.CharField())
    known_by = serializers.ChoiceField(choices=KNOWN_BY)
    amounts = serializers.ListField(child=serializers.DictField())
    delivered = DeliveredOut(many=True)
    depth = serializers.FloatField(allow_null=True)
    moisture = serializers.CharField(allow_blank=True)
    machine = serializers.CharField(allow_blank=True)
    operator = serializers.CharField(allow_blank=True)
    note = serializers.CharField(allow_blank=True)
    by = serializers.CharField()


class SowOut(serializers.Serializer[Any]):
    """All of Sow. `scaled`: whether there is a plot map to scale; without one nothing can be weighed out."""

    etag = serializers.CharField()
    today = serializers.DateField()
    scaled = serializers.BooleanField()
    units = UnitsOut()
    ways = WayOut(many=True)
    row_spacing = serializers.FloatField(allow_null=True)
    allowance = serializers.FloatField()
    spare_percent = serializers.FloatField()
    filling = serializers.CharField()
    currency = serializers.CharField(allow_blank=True)
    lots = LotOut(many=True)
    treatments = TreatmentSeedOut(many=True)
    order = OrderOut(many=True)
    area = SownAreaOut()
    stops = StopOut(many=True)
    way = LegOut(many=True)
    bare = serializers.ListField(child=serializers.CharField(), help_text="Plots that get no seed.")
    tests = SowingTestOut(many=True)
    checks = serializers.ListField(child=serializers.CharField())
    ahead = serializers.ListField(child=serializers.CharField(), help_text="The weather forecast, where there is one.")
    decisions = SowingDecisionOut(many=True)
    sowings = SowingOut(many=True)


class BagIn(serializers.Serializer[Any]):
    packed = serializers.BooleanField()


class PlacedIn(serializers.Serializer[Any]):
    """`bag`: number of the bag that was scanned or tapped."""

    bag = serializers.CharField(max_length=160)
    placed = serializers.BooleanField(default=True)


class SowingDecisionIn(serializers.Serializer[Any]):
    day = serializers.DateField()
    checks = serializers.DictField(child=serializers.ChoiceField(choices=("good", "bad", "unknown")))
    decision = serializers.ChoiceField(choices=DECISIONS)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")

    def validate_checks(self, value: Mapping[str, str]) -> Mapping[str, str]:
        if strange := set(value) - set(CHECKS):
            raise serializers.ValidationError(f"There is no check {sorted(strange)[0]!r}.")
        return value


class AmountIn(serializers.Serializer[Any]):
    treatment = serializers.CharField(max_length=40)
    filled_g = TypedIn("g", allow_null=True, default=None, least=0)
    left_g = TypedIn("g", allow_null=True, default=None, least=0)
    rate_kg_ha = TypedIn("kg/ha", allow_null=True, default=None, least=0)


class SowingIn(serializers.Serializer[Any]):
    day = serializers.DateField()
    plots = serializers.ListField(child=serializers.CharField(max_length=160), max_length=2000)
    known_by = serializers.ChoiceField(choices=KNOWN_BY)
    amounts = serializers.ListField(child=AmountIn(), max_length=200, default=list)
    depth_cm = TypedIn("cm", allow_null=True, default=None, least=0, most=30)
    moisture = serializers.CharField(max_length=60, allow_blank=True, default="")
    machine = serializers.CharField(max_length=120, allow_blank=True, default="")
    operator = serializers.CharField(max_length=120, allow_blank=True, default="")
    note = serializers.CharField(max_length=500, allow_blank=True, default="")


class DrillIn(serializers.Serializer[Any]):
    bulk_kg_ha = TypedIn("kg/ha", least=0)
    row_spacing_m = TypedIn("cm", least=0, per=100)
    rows = TypedWhole(least=1)
    distance_m = TypedIn("m", least=0)
    catches_g = serializers.ListField(child=TypedIn("g", least=0), min_length=1, max_length=30)
    limit = TypedNumber(default=5, least=0, most=50, help_text="Per cent of the rate.")
    setting = TypedNumber(allow_null=True, default=None, least=0)

    def validate_limit(self, value: float) -> float:
        return value / 100


class SpreaderIn(serializers.Serializer[Any]):
    left = TypedWhole(least=1, most=60)
    right = TypedWhole(least=1, most=60)
    centre = serializers.BooleanField(default=True)
    spacing_m = TypedIn("m", least=0)
    tray_area_m2 = TypedIn("m²", least=0)
    masses_g = serializers.ListField(child=TypedIn("g", least=0), max_length=200)
    passes_per_tray = TypedWhole(default=1, least=1, most=50)
    mode = serializers.ChoiceField(choices=("same_way", "there_and_back"))
    width_m = TypedIn("m", least=0)


class TankIn(serializers.Serializer[Any]):
    tank_l = TypedIn("L", least=0)
    volume_l_ha = TypedIn("L/ha", least=0)
    bulk_kg_ha = TypedIn("kg/ha", least=0)
    seed_density_kg_l = TypedIn("kg/L", least=0)
    area_ha = TypedIn("ha", least=0)
    samples_g_l = serializers.ListField(child=TypedIn("g/L", least=0), max_length=3, default=list)
    minutes_in_tank = TypedNumber(allow_null=True, default=None, least=0)
    longest_minutes = TypedNumber(allow_null=True, default=None, least=0)


MEASURED = {"drill": DrillIn, "spreader": SpreaderIn, "tank": TankIn}


class DrillOut(serializers.Serializer[Any]):
    """`off` and the ends of its interval: shares of the rate, 0.05 is 5 % too much."""

    said = serializers.CharField()
    quality = serializers.ChoiceField(choices=QUALITIES)
    decision = serializers.ChoiceField(choices=("accept", "adjust", "catch_again"))
    expected_g = serializers.FloatField()
    mean_g = serializers.FloatField()
    off = serializers.FloatField()
    off_low = serializers.FloatField(allow_null=True)
    off_high = serializers.FloatField(allow_null=True)
    catches = serializers.ListField(child=serializers.FloatField())
    limit = serializers.FloatField()
    next_setting = serializers.FloatField(allow_null=True)


class TankOut(serializers.Serializer[Any]):
    said = serializers.CharField()
    quality = serializers.ChoiceField(choices=QUALITIES)
    loads = serializers.IntegerField()
    seed_g_per_l = serializers.FloatField()
    samples_off = serializers.ListField(child=serializers.FloatField())


class WidthOut(serializers.Serializer[Any]):
    width = serializers.FloatField()
    cv_percent = serializers.FloatField()


class ByWayOut(serializers.Serializer[Any]):
    """Pieces of the seed under overlapping laps: from, to, at its start, at its end."""

    same_way = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    there_and_back = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class WidthsOut(serializers.Serializer[Any]):
    same_way = WidthOut(many=True)
    there_and_back = WidthOut(many=True)


class SpreaderOut(serializers.Serializer[Any]):
    said = serializers.CharField()
    quality = serializers.ChoiceField(choices=QUALITIES)
    positions = serializers.ListField(child=serializers.FloatField())
    masses = serializers.ListField(child=serializers.FloatField())
    laps = ByWayOut()
    widths = WidthsOut()
    width = serializers.FloatField()
    widest = serializers.FloatField(allow_null=True)
    least_cv_width = serializers.FloatField()
    cv_percent = serializers.FloatField()
    left_share = serializers.FloatField()
    achieved = serializers.FloatField()


class SowingTestIn(serializers.Serializer[Any]):
    """`given`: what was measured, in the shape that the calibration of that kind takes."""

    kind = serializers.ChoiceField(choices=list(MEASURED))
    about = serializers.CharField(max_length=120, allow_blank=True, default="")
    given = serializers.DictField()
