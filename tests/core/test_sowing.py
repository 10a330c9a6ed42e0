"""Seed into plots: sheets against hand-worked figures, the drill's order, warnings, and what was delivered."""

from dataclasses import replace
from datetime import date

import pytest

from apercu_core.doubts.about_operations import unequal_operations
from apercu_core.doubts.about_sowing import doubts_about_sowing
from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle
from apercu_core.sowing.delivered import from_remains, off
from apercu_core.sowing.drill_order import drill_order
from apercu_core.sowing.lots import Lot, with_assumptions
from apercu_core.sowing.rates import Rate, rate_found
from apercu_core.sowing.seed_sheet import PartToSow, PlotToSow, seed_sheet
from apercu_core.sowing.warnings import SownPart, sowing_warnings
from apercu_core.species.shipped import SHIPPED
from apercu_core.trial.descriptions import TreatmentDescription
from apercu_core.trial.facts import OperationFacts, PlotFacts, SownFacts, TrialFacts

OAT = Lot("oat", "Black oat", tkw_g=20, purity=0.9, germination=0.8, emergence=0.5, bag_kg=1, price_per_kg=2)
VETCH = Lot("vetch", "Common vetch", tkw_g=50, purity=1.0, germination=0.9, emergence=0.8)
# 72 kg/ha × 0.9 × 0.8 = 51.84 live; 72 × 0.9 × 100 / 20 = 324 seeds; × 0.8 = 259.2 live; × 0.5 = 129.6 plants per m².
SAID = [
    (Rate(72), 72), (Rate(7.2, "g_m2"), 72), (Rate(51.84, "live_kg_ha"), 72), (Rate(324, "seeds_m2"), 72),
    (Rate(129.6, "plants_m2"), 72), (Rate(64.2369, "lb_ac"), 72),
]  # fmt: skip


@pytest.mark.parametrize(("rate", "bulk"), SAID)
def test_a_rate_is_the_same_however_it_is_said(rate, bulk):
    found = rate_found(OAT, rate)
    assert found.bulk_kg_ha == pytest.approx(bulk, rel=1e-5)
    assert (found.live_kg_ha, found.seeds_m2, found.plants_m2) == pytest.approx((51.84, 324, 129.6), rel=1e-5)
    assert found.seeds_per_metre(0.125) == pytest.approx(40.5, rel=1e-5)


def test_a_coat_is_no_seed_unless_the_label_left_it_out():
    coated = Lot("c", "Clover", tkw_g=1, purity=0.9, germination=0.8, emergence=0.5, coat=0.25)
    assert rate_found(coated, Rate(100, "seeds_m2")).bulk_kg_ha == pytest.approx(1 / 0.9 / 0.75)
    left_out = Lot("c", "Clover", tkw_g=1, purity=0.9, germination=0.8, emergence=0.5, coat=0.25, coat_counted=True)
    assert rate_found(left_out, Rate(100, "seeds_m2")).bulk_kg_ha == pytest.approx(1 / 0.9)


def test_what_a_label_has_to_say_is_asked_and_never_assumed():
    bare = with_assumptions(Lot("oat", "Oat"), SHIPPED["black-oat"])
    assert set(bare.assumed) == {"tkw_g", "emergence"}
    assert rate_found(bare, Rate(60)).bulk_kg_ha == 60
    assert rate_found(bare, Rate(60)).plants_m2 is None
    assert rate_found(bare, Rate(200, "plants_m2")).missing == ("purity", "germination")
    assert rate_found(Lot("x", "Unknown"), Rate(200, "seeds_m2")).missing == ("purity", "tkw_g")
    assert rate_found(OAT, Rate(2, "bu_ac")).missing == ("bushel_lb",)
    assert rate_found(OAT, Rate(None)).missing == ("rate",)
    with pytest.raises(Refused, match="germination"):
        Lot("x", "Oat", germination=1.2)
    with pytest.raises(Refused, match="more than 100 %"):
        Lot("x", "Clover", germination=0.9, hard_seed=0.2)


def test_a_sheet_has_grams_for_each_plot_and_says_what_a_bag_less_means():
    plots = [
        PlotToSow("101", "O", "A", 100), PlotToSow("201", "O", "B", 100, 0.5), PlotToSow("102", "M", "A", 100),
        PlotToSow("202", "bare", "B", 100),
    ]  # fmt: skip
    treatments = {
        "O": [PartToSow("oat", Rate(72))],
        "M": [PartToSow("oat", Rate(36)), PartToSow("vetch", Rate(40))],
        "bare": [],
    }
    sheet = seed_sheet(treatments, plots, {"oat": OAT, "vetch": VETCH}, allowance_g=30, spare=0.1)
    oats, mix, bare = sheet.treatments
    # 72 kg/ha × 100 m² / 10 = 720 g, and 30 g for the drill; half of the plot, half of the seed.
    assert oats.plots == {"101": (750,), "201": (390,)}
    assert mix.plots == {"102": (390, 430)}
    assert (bare.parts, bare.plots) == ((), {"202": ()})
    oat, vetch = sheet.order
    # 750 + 390 + 390 = 1530 g, a tenth to spare, in bags of 1 kg: two. With one, the 390 g twice fit, and 750 g don't.
    assert (oat.needed_kg, oat.order_kg, oat.bags, oat.price) == pytest.approx((1.53, 1.683, 2, 4))
    assert (oat.short_kg, oat.short_plots) == (pytest.approx(0.53), 1)
    assert (vetch.order_kg, vetch.bags, vetch.short_kg) == (pytest.approx(0.473), None, None)
    assert (sheet.gross_m2, sheet.sown_m2) == (300, 250)
    unknown = seed_sheet({"O": [PartToSow("oat", Rate(None))]}, plots[:1], {"oat": OAT}, 0, 0)
    assert unknown.treatments[0].plots == {"101": (None,)}
    assert unknown.order[0].complete is False


FIELD = {f"{row}0{column}": Rectangle(3.0 * column, 12.0 * row, 3.0, 10.0) for row in (1, 2) for column in (1, 2, 3, 4)}
WEAR = {"101": "O", "102": "M", "103": "bare", "104": "V", "201": "V", "202": "O", "203": "M", "204": "bare"}
SEEDS = {"O": frozenset({"oat"}), "V": frozenset({"vetch"}), "M": frozenset({"oat", "vetch"}), "bare": frozenset()}


def test_a_hopper_is_cleaned_as_rarely_as_it_can_be_and_bare_plots_are_driven_past():
    stops = drill_order(FIELD, WEAR, SEEDS, "by_treatment")
    assert {stop.plot for stop in stops} == {"101", "102", "104", "201", "202", "203"}
    # Oat or vetch before the mix needs no cleaning; the other single one then does, wherever it stands.
    assert sum(stop.clean for stop in stops) == 1
    order = list(dict.fromkeys(WEAR[stop.plot] for stop in stops))
    assert order.index("M") > 0
    rows = drill_order(FIELD, WEAR, SEEDS, "by_plot")
    assert [stop.plot for stop in rows] == ["101", "102", "104", "203", "202", "201"]
    assert [stop.upwards for stop in rows[:3]] == [True, False, True]
    assert not any(stop.clean for stop in rows)
    assert drill_order(FIELD, WEAR, dict.fromkeys(SEEDS, frozenset()), "by_treatment") == ()


def said(method, *lots, shared=""):
    parts = []
    for key, rate in lots:
        lot = with_assumptions(Lot(key, SHIPPED[key].name), SHIPPED[key])
        parts.append(SownPart(SHIPPED[key], lot, rate_found(lot, Rate(rate))))
    return " ".join(sowing_warnings(parts, method, shared))


def test_warnings_name_their_reason():
    mix = said("drilled", ("common-vetch", 60), ("balansa-clover", 5))
    assert "times as heavy as" in mix
    assert "Inoculant groups" in mix
    assert "often sold with coated seed" in said("drilled", ("balansa-clover", 5))
    assert "stays dry on the surface" in said("broadcast", ("common-vetch", 60))
    assert "frozen ground" in said("frost seeding", ("common-vetch", 60))
    assert "one pass with another job" in said("broadcast with fertiliser", ("white-mustard", 8))
    assert "kill inoculant" in said("drilled", ("common-vetch", 60), shared="slurry")
    assert said("drilled", ("white-mustard", 8)) == ""
    assert sowing_warnings((), "broadcast") == ()


def test_what_was_left_says_what_was_sown():
    assert from_remains(1000, 280, 100) == pytest.approx(72)
    assert off(79.2, 72) == pytest.approx(0.1)
    with pytest.raises(Refused, match="can’t be left"):
        from_remains(100, 280, 100)


PLOTS = tuple(
    PlotFacts(f"{block}{i}", block, name, i) for block in "AB" for i, name in enumerate(("Oat", "Vetch", "Bare"), 1)
)
SOWN = (SownFacts("Oat", date(2026, 9, 2), 0.1, 3.0), SownFacts("Vetch", date(2026, 9, 2), -0.02, 4.5))


def doubted(*sown, described=()):
    trial = TrialFacts(PLOTS, "Bare", "drawn", described, sown=sown)
    return {doubt.id: doubt for doubt in doubts_about_sowing(trial)}


def test_a_sowing_off_its_rate_or_unlike_the_others_is_doubted_and_its_near_twin_isn_t():
    assert doubted(*SOWN) == {}
    off = doubted(replace(SOWN[0], off=0.11), SOWN[1])["sown-off"]
    assert off.finding == "Oat got 11 % more seed than intended."
    assert off.plots == ("A1", "B1")
    apart = doubted(replace(SOWN[0], day=date(2026, 9, 12)), SOWN[1])["sown-apart"]
    assert apart.finding == "Covers were sown on different days: Oat on 12 September and Vetch on 2 September."
    assert (
        doubted(replace(SOWN[0], depth_cm=2.9), SOWN[1])["sown-apart"].finding == "They were sown 2.9 to 4.5 cm deep."
    )
    late = TreatmentDescription("Oat", {"sowing_date": "12 September"}, (), frozenset({"sowing_date"}))
    assert doubted(replace(SOWN[0], day=date(2026, 9, 12)), SOWN[1], described=(late,)) == {}


COVERED = (TreatmentDescription("Oat", {"species": "oat"}), TreatmentDescription("Vetch", {"species": "vetch"}),
           TreatmentDescription("Bare", {}))  # fmt: skip


def unequal(*operations, described=COVERED):
    trial = TrialFacts(PLOTS, "Bare", "drawn", described, operations=operations)
    return [(doubt.finding, doubt.plots) for doubt in unequal_operations(trial)]


def test_an_operation_on_some_plots_only_is_doubted_unless_it_is_part_of_the_treatments():
    pass_ = OperationFacts("till", "Second pass", ("Oat",))
    assert unequal(pass_) == [("“Second pass” was done on Oat only.", ("A1", "B1"))]
    assert unequal(OperationFacts("till", "Second pass")) == []
    assert unequal(OperationFacts("spray", "Spot spray", plots=("A1",)))[0][1] == ("A1",)
    tilled = (*COVERED[:2], TreatmentDescription("Bare", {"tillage": "twice"}))
    assert unequal(OperationFacts("till", "Second pass", ("Bare",)), described=tilled) == []
    kills = OperationFacts("kill", "Kill early", ("Oat",)), OperationFacts("kill", "Kill late", ("Vetch",))
    assert unequal(*kills) == []  # each cover its own; a bare plot has nothing to kill
    assert unequal(kills[0]) == [("“Kill early” was done on Oat only.", ("A1", "B1"))]
