"""Pairs that change several things at once are found, and what would part them is offered."""

from dataclasses import replace

import pytest

from apercu_core.protocol.confounding import compared, differing, mixed, worth_knowing
from apercu_core.trial.cover import Component, Cover, cautions_about
from apercu_core.trial.descriptions import TreatmentDescription, alike, describe_treatment

RYE = Component("rye", rate_kg_ha=100, full_kg_ha=100)
VETCH = Component("vetch", rate_kg_ha=30, full_kg_ha=30)


def sown(name, *components, **said):
    return describe_treatment(name, levels={}, kinds={}, said=said, components=components)


def apart(a, b, *more):
    return mixed([a, b, *more], [(a.name, b.name)])


BARE = sown("bare")
A = sown("A", RYE, sowing_date="1 Sep")


@pytest.mark.parametrize(
    ("other", "found"),
    [
        (sown("B", VETCH, sowing_date="1 Sep"), ("species",)),
        (sown("B", VETCH, sowing_date="20 Sep"), ("species", "sowing_date")),
        (sown("B", VETCH, sowing_date="Sept 1st"), ("species",)),  # the same day, written otherwise
        (sown("B", Component("vetch", rate_kg_ha=15, full_kg_ha=30), sowing_date="1 Sep"), ("species", "rate")),
        (sown("B", Component("vetch", rate_kg_ha=15), sowing_date="1 Sep"), ("species",)),  # full rate unknown
        (sown("B", Component("rye", rate_kg_ha=50), sowing_date="1 Sep"), ("rate",)),
        (sown("B", Component("rye", "Fenland", 100), sowing_date="1 Sep"), ()),  # the other's cultivar isn't stated
        (
            sown("B", RYE, sowing_date="1 Sep", herbicides="twice"),
            ("herbicides",),
        ),  # said of one: absent from the other
        (sown("B", RYE), ("sowing_date",)),
    ],
)
def test_two_covers_differ_in_what_was_said_of_them(other, found):
    assert differing(A, other) == found
    assert set(differing(other, A)) == set(found)


def test_two_stated_cultivars_of_one_species_are_a_difference():
    one, other = (sown(name, Component("rye", name, 100)) for name in ("Early Fen", "Late Fen"))
    assert differing(one, other) == ("cultivar",)


def test_a_cover_and_none_differ_in_one_thing_though_sowing_and_killing_come_with_it():
    assert differing(BARE, sown("B", RYE, sowing_date="1 Sep", kill_method="rolled")) == ("with-cover",)
    assert differing(BARE, sown("B", RYE, tillage="ploughed")) == ("with-cover", "tillage")


def test_a_control_outside_the_crossing_lacks_the_factors_without_differing_in_them():
    kinds = {"tilled": "tillage", "cover": "species", "boxes": "other"}
    inside = describe_treatment("x", levels={"tilled": "no", "cover": "rye", "boxes": "two"}, kinds=kinds, said={})
    assert inside.by_factor == {"tillage", "species", "boxes"}
    assert differing(TreatmentDescription("outside"), inside) == ("with-cover",)


def rye(rate=100.0, full=100.0, **lot):
    return Component(lot.pop("name", "Rye"), rate_kg_ha=rate, full_kg_ha=full, species="rye", **lot)


def vetch(rate=30.0, full=30.0, **lot):
    return Component("Vetch", rate_kg_ha=rate, full_kg_ha=full, species="hairy-vetch", **lot)


def oat(rate, full=100.0):
    return Component("Oat", rate_kg_ha=rate, full_kg_ha=full, species="oat")


LOTS = ({"germination_percent": 95, "tkw_g": 22}, {"germination_percent": 60, "tkw_g": 38})
CROSSED = [
    describe_treatment(f"{kill} {cover}", levels={"kill": kill, "cover": cover}, said={},
              kinds={"kill": "kill_timing", "cover": "species"})
    for kill in ("early", "late") for cover in ("vetch", "oat")
]  # fmt: skip
# A list of treatments, whether the first is the control → for each pair that is mixed its aspects, and through what.
LISTS = {
    "three covers at full rates": ([BARE, sown("r", rye()), sown("v", vetch()), sown("o", oat(100))], True, {}),
    "two covers and their mix": ([sown("r", rye()), sown("v", vetch()), sown("m", rye(50), vetch(15))], False, {}),
    "one species added": ([sown("r", rye()), sown("rv", rye(), vetch(20))], False, {}),
    "the crop follows the kill": (
        [sown("e", rye(), kill_timing="early", crop_date="1 May"),
         sown("l", rye(), kill_timing="late", crop_date="15 May")], False,
        {("e", "l"): ({"kill_timing", "crop_date"}, "")}),
    "fertiliser on the cover": (
        [BARE, sown("r", rye(), cover_fertiliser="30 kg N")], True,
        {("bare", "r"): ({"with-cover", "cover_fertiliser"}, "")}),
    "no fertiliser, said of the cover": ([BARE, sown("r", rye(), cover_fertiliser="none")], True, {}),
    "ploughed in beside untilled": (
        [BARE, sown("r", rye(), kill_method="ploughed in")], True, {("bare", "r"): ({"with-cover", "tillage"}, "")}),
    "ploughed both": ([sown("bare", tillage="Ploughed in"), sown("r", rye(), kill_method="ploughed in")], True, {}),
    "burndown in all": ([sown("bare", kill_method="sprayed"), sown("r", rye(), kill_method="sprayed")], True, {}),
    "burndown beside crimped": (
        [sown("bare", kill_method="sprayed"), sown("r", rye(), kill_method="crimped")], True, {}),
    "grazed with the cover between": (
        [BARE, sown("r", rye()), sown("g", rye(), grazing="sheep")], True,
        {("bare", "g"): ({"with-cover", "grazing"}, "r")}),
    "a rate off by little": (
        [sown("c", rye(100), kill_method="crimped"), sown("m", rye(100.4), kill_method="mown")], False, {}),
    "drilled and broadcast at full rates": (
        [sown("d", rye(100, 101), sowing_method="drilled"), sown("b", rye(140, 140), sowing_method="broadcast")],
        False, {}),
    "two lots at equal weight": (
        [sown("a", rye(cultivar="A", **LOTS[0])), sown("b", rye(cultivar="B", **LOTS[1]))], False,
        {("a", "b"): ({"cultivar", "live-seed"}, "")}),
    "two lots at equal live seed": (
        [sown("a", rye(cultivar="A", **LOTS[0])), sown("b", rye(273.5, cultivar="B", **LOTS[1]))], False, {}),
    "one record, two spellings": ([sown("a", rye(name="Rye")), sown("b", rye(60, name="Cereal rye"))], False, {}),
    "a ladder": ([sown(f"{share} %", rye(share)) for share in (25, 50, 75, 100)], False, {}),
    "two factors and bare outside": ([BARE, *CROSSED], True, {}),
    "cover by nitrogen": (
        [sown(f"{n} {c}", *([rye()] if c else []), crop_nitrogen=n) for c in (0, 1) for n in ("0", "60")], True,
        {("0 0", "60 1"): ({"with-cover", "crop_nitrogen"}, "60 0")}),
    "more nitrogen where it is bare": (
        [sown("bare", crop_nitrogen="120"), sown("v", vetch(), crop_nitrogen="60")], True,
        {("bare", "v"): ({"with-cover", "crop_nitrogen"}, "")}),
    "an inoculated legume": ([sown("v", vetch(), inoculation="yes"), sown("r", rye())], False, {}),
    "each species at its own date": (
        [sown("o", oat(100), sowing_date="20 Aug"), sown("r", rye(), sowing_date="1 Oct")], False, {}),
    "weedy, weed-free, cover with a programme": (
        [sown("weedy"), sown("free", herbicides="full"), sown("r", rye()), sown("rp", rye(), herbicides="full")], True,
        {("weedy", "rp"): ({"with-cover", "herbicides"}, "free")}),
    "planted green and brown in other rows": (
        [sown("g", rye(), kill_timing="at sowing", row_spacing="38 cm"), sown("b", rye(), kill_timing="14 days ahead")],
        False,
        {("g", "b"): ({"kill_timing", "row_spacing"}, "")}),
    "one day, two spellings": (
        [sown("o", oat(100), sowing_date="5 Sep"), sown("r", rye(), sowing_date="September 5")], False, {}),
    "shares near enough": ([sown("r", rye(99)), sown("o", oat(85))], False, {}),
    "a mix with more seed": (
        [sown("r", rye(99)), sown("m", rye(34), vetch(18), oat(40))], False, {("r", "m"): ({"species", "rate"}, "")}),
    "rate unknown": ([sown("r", rye(None)), sown("v", vetch())], False, {}),
    "undersown without herbicide": (
        [BARE, sown("u", vetch(), herbicides="none")], True, {("bare", "u"): ({"with-cover", "herbicides"}, "")}),
}  # fmt: skip


@pytest.mark.parametrize(("treatments", "controlled", "found"), LISTS.values(), ids=LISTS)
def test_a_list_of_treatments_is_called_as_an_agronomist_would(treatments, controlled, found):
    names = [one.name for one in treatments]
    called = mixed(treatments, compared(names, names[:1] if controlled else []))
    assert {(one.base, one.treatment): (set(one.aspects), one.through) for one in called} == found


def worth(*treatments):
    return " ".join(worth_knowing(treatments))


def test_what_a_comparison_holds_besides_is_said_once():
    dated = (sown("o", oat(100), sowing_date="20 Aug"), sown("r", rye(), sowing_date="1 Oct"))
    assert worth(*dated) == worth(BARE, *dated)
    assert "belongs to its species' window" in worth(*dated)
    assert worth(BARE, sown("a", rye(), sowing_date="1 Sep"), sown("b", rye(), sowing_date="1 Oct")) == ""
    assert "Add a bare control at each kill date" in worth(BARE, *CROSSED)
    late = sown("bare", kill_timing="late")
    assert "bare control" not in worth(late, *CROSSED)
    drilled = sown("r", rye(), sowing_method="drilled")
    assert "Does bare get the same pass of the drill" in worth(BARE, drilled)
    assert worth(sown("bare", machine_pass="drill, empty"), drilled) == ""


def test_what_would_part_a_pair_makes_sense_in_a_field():
    (one,) = apart(sown("bare", crop_nitrogen="120"), sown("v", vetch(), crop_nitrogen="60"))
    assert [(o.kind, o.said) for o in one.offers] == [
        ("add", "Add a treatment: bare with the nitrogen to the crop of v (60)"),
        ("hold", "Give v the nitrogen to the crop of bare (120)"),
    ]
    (one,) = apart(BARE, sown("r", rye(), kill_method="ploughed in"))
    assert [(o.kind, o.like, o.other, o.value) for o in one.offers] == [
        ("add", "bare", "r", "ploughed in"), ("hold", "r", "bare", "ploughed in"),
    ]  # fmt: skip
    (one,) = apart(sown("e", rye(), kill_timing="early", crop_date="1 May"), sown("l", rye(), kill_timing="late"))
    assert "both can’t be held" in one.remark


@pytest.mark.parametrize(
    ("a", "b", "same"),
    [
        ("5 Sep", "September 5", True), ("2026-09-05", "5th Sept. 2026", True), ("5 Sep", "6 Sep", False),
        ("at flower", "At  flower", True), ("5 spoons", "spoons 5", False), ("", None, True), ("may 1", "1 May", True),
    ],
)  # fmt: skip
def test_dates_are_read_as_dates(a, b, same):
    assert alike("sowing_date", a, b) == same


def test_what_lies_between_two_treatments_parts_them_step_by_step():
    early, late = "early", "late"
    rye_early = sown("rye early", RYE, kill_timing=early)
    vetch_late = sown("vetch late", VETCH, kill_timing=late)
    (alone,) = apart(rye_early, vetch_late, sown("rye late oddly", RYE, kill_timing="in between"))
    assert (alone.aspects, alone.through) == (("species", "kill_timing"), "")
    (parted,) = apart(rye_early, vetch_late, sown("rye late", RYE, kill_timing=late))
    assert parted.through == "rye late"
    assert parted.offers == ()


def test_three_things_need_two_treatments_between():
    a = sown("a", RYE, kill_timing="early", tillage="none")
    d = sown("d", VETCH, kill_timing="late", tillage="ploughed")
    b = sown("b", VETCH, kill_timing="early", tillage="none")
    c = sown("c", VETCH, kill_timing="late", tillage="none")
    assert apart(a, d, b)[0].through == ""
    assert apart(a, d, b, c)[0].through == "c"


def test_offers_name_the_treatment_to_add_and_the_constant_to_hold():
    (one,) = apart(sown("rye", RYE, crop_variety="Gault"), sown("vetch", VETCH, crop_variety="Marl"))
    assert [(o.kind, o.aspect) for o in one.offers] == [
        ("add", "species"), ("hold", "species"), ("add", "crop_variety"), ("hold", "crop_variety"),
    ]  # fmt: skip
    said = [o.said for o in one.offers]
    assert said[2] == "Add a treatment: rye with the crop variety of vetch (Marl)"
    assert said[3] == "Give vetch the crop variety of rye (Gault)"


def test_levels_of_factors_are_not_offered_since_the_crossing_makes_them():
    kinds = {"cover": "species"}
    one, other = (describe_treatment(n, levels={"cover": n}, kinds=kinds, said={"tillage": n}) for n in ("oat", "rye"))
    (found,) = apart(one, other)
    assert {o.aspect for o in found.offers} == {"tillage"}


def test_each_treatment_meets_each_control_or_all_meet_where_there_is_none():
    assert compared(["a", "b", "c", "d"], ["a", "d"]) == [("a", "b"), ("a", "c"), ("d", "b"), ("d", "c")]
    assert compared(["a", "b", "c"], []) == [("a", "b"), ("a", "c"), ("b", "c")]


def test_what_is_not_known_of_a_cover_is_said_with_its_risk():
    bare = cautions_about(Cover())
    said = cautions_about(Cover((Component("rye"), Component("vetch", "Dene", 30, None, "L7", 98, 85, 40))))
    whole = cautions_about(Cover((Component("vetch", "Dene", 30, None, "L7", 98, 85, 40),), "prevent"))
    assert (bare, whole) == ((), ())
    assert said[0].startswith("Cultivar not stated: rye.")
    assert "this lot only" in said[0]
    assert [line.split(":")[0] for line in said[1:3]] == [
        "Rate not stated", "Germination or purity of the lot not stated",
    ]  # fmt: skip
    assert "seed set" in said[3]


def test_one_species_rate_is_never_offered_to_another():
    half = sown("vetch", Component("vetch", rate_kg_ha=15, full_kg_ha=30))
    (found,) = apart(sown("rye", RYE), half)
    assert found.aspects == ("species", "rate")
    (rate,) = [offer for offer in found.offers if offer.aspect == "rate"]
    assert (rate.kind, rate.rates_kg_ha) == ("share", (30.0,))  # rye is sown at its full rate, so vetch at its 30 kg/ha
    assert rate.said == "Sow vetch at 100 % of the full rate, as rye is"
    mix = sown("mix", replace(VETCH, rate_kg_ha=10), Component("oat", rate_kg_ha=20, full_kg_ha=100))
    (shared,) = [o for m in apart(sown("rye", RYE), mix) for o in m.offers if o.kind == "share"]
    assert shared.rates_kg_ha == pytest.approx((18.8, 37.5))  # 1/3 + 1/5 = 8/15 of full, to full: × 15/8
    (same,) = apart(sown("rye", RYE, tillage="none"), sown("thin", Component("rye", rate_kg_ha=50), tillage="twice"))
    assert {offer.aspect for offer in same.offers} == {"rate", "tillage"}
