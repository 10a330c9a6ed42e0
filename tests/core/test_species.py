"""The species guide rules out and ranks with reasons; a mix is told in three ways; records go out and come back."""

from datetime import date

import pytest

from apercu_core.errors import Refused
from apercu_core.species.fitting import Wish, days_until, ranked
from apercu_core.species.mixing import Part, additive_series, full_rate, mixed, replacement_series
from apercu_core.species.record import FIELDS, SERVICES, SOURCES, Fact, Species
from apercu_core.species.sheet import from_csv, to_csv
from apercu_core.species.shipped import SHIPPED


def fit_of(key, **wish):
    fits = {f.species.key: f for f in ranked(SHIPPED.values(), Wish(wish.pop("weights", {"weeds": 1}), **wish))}
    return fits[key]


def part(key, share, broadcast=False, **changes):
    species = SHIPPED[key]
    known = {"full": full_rate(species, broadcast=broadcast), "tkw": species.number("tkw")}
    return Part(species, share, **(known | changes))


def test_every_shipped_figure_has_a_named_source_and_the_kind_of_its_field():
    assert 30 <= len(SHIPPED) <= 40
    kinds = {"text": str, "choice": str, "number": float, "rating": float, "range": tuple}
    for species in SHIPPED.values():
        assert {"common", "botanical", "family", "life_cycle", *SERVICES} <= set(species.facts)
        for key, fact in species.facts.items():
            assert fact.source in SOURCES
            assert isinstance(fact.value, kinds[FIELDS[key].kind])
            assert fact.value in FIELDS[key].choices or FIELDS[key].kind != "choice"
        assert all(p.strip() in SHIPPED for p in species.text("partners").split(",") if p.strip())


def test_figures_are_their_sources_in_metric():
    rye = SHIPPED["rye"]
    assert rye.range("drilled") == (67, 135)  # 60 to 120 lb/acre
    assert rye.number("kill") == -40  # hardy through zone 3
    assert rye.number("tkw") == 25  # 40 seeds per gram
    assert SHIPPED["hairy-vetch"].number("germination_min") == 16  # 60 °F
    assert SHIPPED["phacelia"].range("drilled") is None  # unknown stays unknown


@pytest.mark.parametrize(
    ("key", "wish", "says"),
    [
        ("hairy-vetch", {"days_before_frost": 20}, "Sown 20 days before the first frost; it needs at least 30"),
        ("buckwheat", {"days_before_frost": 12}, "The first frost kills it, 12 days after sowing"),
        ("cowpea", {"days_before_frost": -5}, "sown after the first frost"),
        ("sorghum-sudangrass", {"soil": 14}, "Germinates from 18 °C; the soil has 14 °C"),
        ("crimson-clover", {"winter": "lives", "coldest": -22}, "Survives down to −18 °C; winters here go to −22 °C"),
        ("rye", {"winter": "dies", "coldest": -22}, "Winter won't kill it"),
        ("field-pea", {"wet": True}, "Rated 1 of 5 on wet ground"),
        ("sunflower", {"shaded": True}, "Rated 1 of 5 on shade"),
    ],
)
def test_what_cannot_work_is_out_with_its_reason_and_stands_last(key, wish, says):
    assert any(says in reason for reason in fit_of(key, **wish).out)
    fits = ranked(SHIPPED.values(), Wish({"weeds": 1}, **wish))
    outs = [bool(f.out) for f in fits]
    assert outs == sorted(outs)
    near = {"days_before_frost": 60, "soil": 25, "coldest": -10 if wish.get("winter") == "lives" else -45}
    good = {k: near.get(k, v) for k, v in wish.items() if k not in ("wet", "shaded")}
    assert fit_of(key, **good).out == ()


def test_days_to_frost_are_to_the_nearest_one():
    assert days_until(date(2026, 9, 10), "10-15") == 35
    assert days_until(date(2026, 12, 20), "10-15") == -66
    assert days_until(date(2026, 12, 20), "01-05") == 16
    with pytest.raises(Refused, match="no day of the year"):
        days_until(date(2026, 9, 10), "10-35")


def test_what_is_unknown_rules_nothing_out_and_is_said():
    found = fit_of("phacelia", winter="dies", coldest=-15, soil=10)
    assert found.out == ()
    assert len(found.unknown) == 2


def test_the_rest_is_ranked_by_weighed_ratings_less_clashes():
    weights = {"nitrogen_supply": 3, "weeds": 1}
    first = fit_of("hairy-vetch", weights=weights)
    assert first.score == pytest.approx(100 * (3 * 5 + 1 * 4) / 20)
    assert [r.service for r in first.why] == ["nitrogen_supply", "weeds"]
    after = fit_of("hairy-vetch", weights=weights, after="cereals")
    assert after.clashes == ("Shed seed can't be cleaned out of wheat and other small grains.",)
    assert after.score == pytest.approx(first.score - 10)
    assert "same family" in fit_of("sunn-hemp", before="peas and beans").clashes[0]
    assert "clubroot" in fit_of("white-mustard", after="brassicas").clashes[0]
    assert "wait 10 to 21 days" in fit_of("rye", after="sugar beet").clashes[0]


def test_a_weight_or_crop_that_is_none_is_refused():
    for wrong in ({"weights": {"weeds": 4}}, {"weights": {"beauty": 1}}, {"weights": {}, "after": "mangolds"}):
        with pytest.raises(Refused):
            Wish(**wrong)


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
    assert mix.carbon_nitrogen == pytest.approx(2 / (1 / 26 + 1 / 11))
    assert mixed([part("rye", 50), part("oat", 50)], "of_full", None, {}).carbon_nitrogen is None


def test_a_mix_says_what_partners_do_and_how_many_are_enough():
    weights = {"nitrogen_supply": 2, "weeds": 2}
    mix = mixed([part("rye", 70), part("hairy-vetch", 50), part("crimson-clover", 30)], "of_full", None, weights)
    said = " ".join(mix.notes)
    assert "Cereal rye can carry Hairy vetch" in said
    assert "balances itself" in said
    assert "crowd out" in said
    assert "clover and pea and vetch; each legume needs its own" in said
    assert "weeds" in mix.brings["rye"]
    assert mix.enough == ("hairy-vetch", "rye")
    assert "8 times" in mix.separation or "9 times" in mix.separation
    assert mixed([part("rye", 50), part("hairy-vetch", 50)], "of_full", None, {}).separation == ""


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
        ([("rye", 0), ("oat", 0)], "of_full", None, "add up to nothing"),
        ([("phacelia", 50)], "of_full", None, "Phacelia: its full rate is unknown"),
        ([("oat", 50)], "seeds", 50, "Oat: its thousand-kernel weight is unknown"),
        ([("rye", 50)], "mass", None, "kg/ha the mix has together"),
        ([], "mass", 50, "at least one species"),
    ],
)
def test_shares_that_make_no_mix_are_refused_in_words(parts, way, total, says):
    with pytest.raises(Refused, match=says):
        mixed([part(key, share) for key, share in parts], way, total, {})


def test_records_go_out_and_come_back_the_same():
    back = from_csv(to_csv(SHIPPED.values()))
    assert [(s.key, dict(s.facts)) for s in back] == [(s.key, dict(s.facts)) for s in SHIPPED.values()]


def test_cells_that_cannot_be_read_are_listed_by_line_and_field():
    text = (
        'common,drilled,weeds,kill,life_cycle\nFen lentil,40 to 20,9,−12,\n,,,,forever\nGood,"1,5 to 2",3,-8,annual\n'
    )
    with pytest.raises(Refused) as refused:
        from_csv(text)
    places = [(p.where, p.what) for p in refused.value.places]
    assert [where for where, _ in places] == [
        "line 2, Full rate drilled", "line 2, Weed suppression", "line 3, Life cycle", "line 3, Name",
    ]  # fmt: skip
    assert "from 0 to 5" in places[1][1]
    good = from_csv(text.splitlines()[0] + "\n" + text.splitlines()[-1])[0]
    assert good == Species("good", {
        "common": Fact("Good", "not said"), "drilled": Fact((1.5, 2.0), "not said"), "weeds": Fact(3.0, "not said"),
        "kill": Fact(-8.0, "not said"), "life_cycle": Fact("annual", "not said"),
    }, own=True)  # fmt: skip
    with pytest.raises(Refused, match="no field called 'colour'"):
        from_csv("common,colour\nx,y\n")
