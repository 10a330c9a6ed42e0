"""Pairs that change several things at once are found, and what would part them is offered."""

from dataclasses import replace

import pytest

from apercu_core.design.cover import Component, Cover, cautions_about
from apercu_core.design.one_thing import Described, compared, described, differing, mixed

RYE = Component("rye", rate_kg_ha=100, full_kg_ha=100)
VETCH = Component("vetch", rate_kg_ha=30, full_kg_ha=30)


def sown(name, *components, **said):
    return described(name, levels={}, kinds={}, said=said, components=components)


def apart(a, b, *more):
    return mixed([a, b, *more], [(a.name, b.name)])


BARE = sown("bare")
A = sown("A", RYE, sowing_date="1 Sep")


@pytest.mark.parametrize(
    ("other", "found"),
    [
        (sown("B", VETCH, sowing_date="1 Sep"), ("species",)),
        (sown("B", VETCH, sowing_date="20 Sep"), ("species", "sowing_date")),
        (sown("B", VETCH, sowing_date="1 SEP"), ("species",)),  # a capital letter is no difference
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
    inside = described("x", levels={"tilled": "no", "cover": "rye", "boxes": "two"}, kinds=kinds, said={})
    assert inside.by_factor == {"tillage", "species", "boxes"}
    assert differing(Described("outside"), inside) == ("with-cover",)


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
    one, other = (described(n, levels={"cover": n}, kinds=kinds, said={"tillage": n}) for n in ("oat", "rye"))
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
