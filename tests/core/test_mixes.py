"""A mix is told in three ways, with what its partners do to each other; ladders are made from it."""

import pytest

from apercu_core.errors import Refused
from apercu_core.species.mix_parts import Part
from apercu_core.species.mixing import additive_series, full_rate, mixed, replacement_series
from apercu_core.species.shipped import SHIPPED


def part(key, share, **changes):
    species = SHIPPED[key]
    return Part(
        species, share, **({"full": full_rate(species, broadcast=False), "tkw": species.middle("tkw")} | changes)
    )


def test_a_mix_tells_its_shares_in_three_ways_which_lead_to_the_same_rates():
    parts = [part("rye", 50), part("hairy-vetch", 70)]
    mix = mixed(parts, "of_full", None, {})
    rye, vetch = mix.components
    assert (rye.rate, vetch.rate) == pytest.approx((0.5 * 101, 0.7 * 19.5))
    assert mix.sum_of_full == pytest.approx(120)
    assert rye.seeds == pytest.approx(50.5 * 100 / 25)
    for way, shares in (("mass", (rye.of_mass, vetch.of_mass)), ("seeds", (rye.of_seeds, vetch.of_seeds))):
        again = mixed([part("rye", shares[0]), part("hairy-vetch", shares[1])], way, mix.total, {})
        assert [c.rate for c in again.components] == pytest.approx([rye.rate, vetch.rate])


def test_carbon_and_nitrogen_are_summed_not_averaged():
    mix = mixed([part("rye", 50), part("hairy-vetch", 50)], "of_full", None, {}, "cn_young")
    assert mix.carbon_nitrogen == pytest.approx(2 / (1 / 16 + 1 / 11))
    assert mixed([part("rye", 50), part("flax", 50)], "of_full", None, {}).carbon_nitrogen is None


def said_of(*parts):
    mix = mixed([part(*one) for one in parts], "of_full", None, {"nitrogen_supply": 2, "weeds": 2})
    return " ".join((mix.separation, *mix.notes))


@pytest.mark.parametrize(
    ("parts", "says", "but_not"),
    [
        ([("rye", 50), ("hairy-vetch", 50)], "Cereal rye can carry Hairy vetch", "crowd out the rest: keep it to 70"),
        ([("rye", 50), ("hairy-vetch", 50)], "Cereal rye at 50 % of its full rate is likely to", "Hairy vetch at"),
        ([("rye", 30), ("hairy-vetch", 80)], "adapts to the soil", "crowd out"),
        ([("field-pea", 50), ("hairy-vetch", 50), ("forage-radish", 20)],
         "Field pea and Hairy vetch need support, and no species of this mix gives it", "wants"),
        ([("forage-radish", 50), ("rye", 30)], "Forage radish at 50 %", "Cereal rye at"),
        ([("rye", 80), ("hairy-vetch", 70), ("crimson-clover", 60)], "add up to 210 %. That is expensive", "wants"),
        ([("rye", 10), ("hairy-vetch", 80)], "share of the stand falls with soil nitrogen", "adapts to the soil"),
        ([("field-pea", 50), ("crimson-clover", 50)], "Field pea is sown at 3.8 to 7.6 cm, Crimson", "wants"),
        ([("rye", 40), ("hairy-vetch", 50), ("crimson-clover", 30)],
         "Inoculant groups: clover; pea and vetch. Each legume needs its own", "clover and pea"),
        ([("forage-radish", 20), ("rye", 40)], "Forage radish dies in frost of −8 °C, Cereal rye lives on", "wants"),
        ([("rye", 40), ("hairy-vetch", 50)], "at different stages: Cereal rye, crimp from full anthesis on", "wants"),
        ([("annual-ryegrass", 30), ("crimson-clover", 70)], "Annual ryegrass grows again after crimping", "wants"),
        ([("rye", 40), ("hairy-vetch", 40), ("crimson-clover", 30)], "times as heavy as Crimson clover’s", "judged"),
        ([("rye", 40), ("cocksfoot", 40)], "Seed of Cocksfoot is chaffy", "judged"),
    ],
)  # fmt: skip
def test_a_mix_says_what_its_partners_do_to_each_other(parts, says, but_not):
    assert says in said_of(*parts)
    assert but_not not in said_of(*parts)


def test_seeds_of_unknown_weight_are_not_called_alike():
    unknown = [part("rye", 50), part("hairy-vetch", 50, tkw=None)]
    assert "in the box: the seed weight of Hairy vetch is unknown" in mixed(unknown, "of_full", None, {}).separation
    assert mixed([part("rye", 50), part("hairy-vetch", 50)], "of_full", None, {}).separation == ""


def test_a_partner_serves_by_its_share_and_fully_from_forty_per_cent_on():
    weights = {"nitrogen_supply": 2, "weeds": 2}
    little = mixed([part("rye", 50), part("hairy-vetch", 10)], "of_full", None, weights)
    assert little.services["nitrogen_supply"] == pytest.approx(5 * 0.1 / 0.4)
    enough = mixed([part("rye", 50), part("hairy-vetch", 40), part("crimson-clover", 10)], "of_full", None, weights)
    assert enough.services["nitrogen_supply"] == 5
    assert "nitrogen_supply" in enough.brings["hairy-vetch"]
    assert "weeds" in enough.brings["rye"]
    assert enough.enough == ("hairy-vetch", "rye")


def test_ladders_replace_or_add():
    rye, vetch = part("rye", 0), part("hairy-vetch", 0)
    steps = replacement_series(rye, vetch)
    assert [s.rates["rye"] for s in steps] == pytest.approx([101, 75.75, 50.5, 25.25, 0])
    assert [s.rates["hairy-vetch"] for s in steps] == pytest.approx([0, 4.875, 9.75, 14.625, 19.5])
    assert steps[2].name == "Cereal rye and Hairy vetch 50:50"
    added = additive_series(rye, vetch, 3)
    assert [tuple(s.rates.values()) for s in added] == [(101, 0), (101, 9.75), (101, 19.5)]
    with pytest.raises(Refused, match="3 to 11"):
        additive_series(rye, vetch, 2)


@pytest.mark.parametrize(
    ("parts", "way", "total", "says"),
    [
        ([("rye", -1)], "of_full", None, "below zero"),
        ([("rye", 0), ("oat", 0)], "of_full", None, "add up to 0"),
        ([("rye", 50, {"full": None})], "of_full", None, "Cereal rye: its full rate is unknown"),
        ([("oat", 50, {"tkw": None})], "seeds", 50, "Oat: its thousand-kernel weight is unknown"),
        ([("rye", 50)], "mass", None, "rate of the whole mix"),
        ([], "mass", 50, "at least one species"),
    ],
)
def test_shares_that_make_no_mix_are_refused_in_words(parts, way, total, says):
    with pytest.raises(Refused, match=says):
        mixed([part(key, share, **dict(*unknown)) for key, share, *unknown in parts], way, total, {})
