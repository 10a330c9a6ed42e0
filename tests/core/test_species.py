"""Species records: every value has its basis and lies where a practitioner expects it; records go out and come back."""

import pytest

from apercu_core.errors import Refused
from apercu_core.species.carried import dangers_in, parts_of, pests_in
from apercu_core.species.crops import CROPS, crop_named
from apercu_core.species.record import EXPERIENCE, FIELDS, SERVICES, SOURCES, Fact, Species
from apercu_core.species.sheet import from_csv, to_csv
from apercu_core.species.shipped import SHIPPED


def test_every_shipped_value_has_a_basis_and_the_kind_of_its_field():
    assert len(SHIPPED) >= 50
    kinds = {"text": str, "choice": str, "rating": float, "range": tuple}
    for species in SHIPPED.values():
        assert {"common", "botanical", "family", "life_cycle", "season", "kill", *SERVICES} <= set(species.facts)
        for key, fact in species.facts.items():
            assert fact.source in SOURCES
            assert isinstance(fact.value, kinds[FIELDS[key].kind])
            assert fact.value in FIELDS[key].choices or FIELDS[key].kind != "choice"
            assert FIELDS[key].kind != "range" or fact.value[0] <= fact.value[1]
        assert all(p.strip() in SHIPPED for p in species.text("partners").split(",") if p.strip())


def test_spring_and_winter_types_are_records_apart():
    for spring, winter in (("oat", "winter-oat"), ("field-pea", "winter-field-pea"), ("faba-bean", "winter-faba-bean"),
                           ("spring-barley", "winter-barley")):  # fmt: skip
        assert SHIPPED[spring].range("kill")[0] > SHIPPED[winter].range("kill")[0]


# Where good sources would put it, hardy to tender type, °C.
@pytest.mark.parametrize(
    ("key", "kill"),
    [
        ("forage-radish", (-8, -4)), ("white-mustard", (-8, -4)), ("field-pea", (-8, -4)), ("rye", (-30, -20)),
        ("winter-wheat", (-22, -15)), ("hairy-vetch", (-25, -15)), ("berseem-clover", (-8, -3)), ("cowpea", (-1, 0)),
    ],
)  # fmt: skip
def test_kill_temperatures_are_those_of_practice_for_both_types(key, kill):
    assert SHIPPED[key].range("kill") == kill
    assert SHIPPED[key].facts["kill"].source == EXPERIENCE
    assert SHIPPED[key].text("kill_basis")


def test_values_of_a_source_are_that_source_in_metric_units():
    rye = SHIPPED["rye"]
    assert rye.range("drilled") == (67, 135)  # 60 to 120 lb/acre
    assert rye.range("tkw") == (25, 25)  # 40 seeds per gram
    assert SHIPPED["phacelia"].range("gdd_flower") is None  # unknown stays unknown


def test_what_a_review_found_wrong_is_mended():
    of = {key: species.text for key, species in SHIPPED.items()}
    assert (of["white-lupin"]("mycorrhiza"), of["buckwheat"]("mycorrhiza")) == ("no", "weak")
    assert "take-all" not in of["oat"]("hosts")
    assert SHIPPED["hairy-vetch"].range("germination_min") == (2, 6)
    assert SHIPPED["sorghum-sudangrass"].range("tkw") == (22, 35)
    for brassica in ("white-mustard", "brown-mustard", "forage-radish", "winter-rape", "turnip"):
        (nematode,) = [p for p in pests_in(of[brassica]("hosts")) if p.organism == "beet cyst nematode"]
        assert nematode.strength == "strong"
        assert nematode.meets(CROPS["sugar beet"])
        assert "cultivar" in nematode.note


def test_pests_and_dangers_of_all_records_are_told_apart_and_name_crops_of_the_list():
    groups = set().union(*(crop.named for crop in CROPS.values()))
    for species in SHIPPED.values():
        hosts, stock = species.text("hosts"), species.text("stock_danger")
        assert len(pests_in(hosts)) == len(parts_of(hosts))
        assert all(set(pest.crops) <= groups for pest in pests_in(hosts))
        assert all(danger.gravity for danger in dangers_in(stock))
    grave = [d for d in dangers_in(SHIPPED["sorghum-sudangrass"].text("stock_danger")) if d.gravity == "grave"]
    assert grave[0].what == "cyanide"
    assert "after frost" in grave[0].when
    assert [d.gravity for d in dangers_in("bloat on pure stands; none known")] == [""]
    assert pests_in("many crops: root knot") == ()


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("Sugar beets", "sugar beet"), ("beet", "sugar beet"), ("corn", "maize"), ("onions", "onion"),
        ("winter wheat", "wheat"), ("canola", "oilseed rape"), ("potatoes", "potato"), ("soya-bean", "soybean"),
        ("grapes", "vines"), ("peanuts", "groundnut"),
    ],
)  # fmt: skip
def test_crops_are_known_by_their_usual_names_and_no_others(text, name):
    assert crop_named(text) == CROPS[name]
    assert crop_named(f"{text} in a pot") is None


def test_records_go_out_and_come_back_the_same():
    back = from_csv(to_csv(SHIPPED.values()))
    assert [(s.key, dict(s.facts)) for s in back] == [(s.key, dict(s.facts)) for s in SHIPPED.values()]


def test_cells_that_cannot_be_read_are_listed_by_line_and_field():
    text = (
        "common,drilled,weeds,kill,life_cycle,frost_risk\nFen lentil,40 to 20,9,−12,,\n,,,,forever,\n"
        'Good,"1,5 to 2",3,-8,annual,yes\n'
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
        "kill": Fact((-8.0, -8.0), "not said"), "life_cycle": Fact("annual", "not said"),
    }, own=True)  # fmt: skip
    with pytest.raises(Refused, match="no field called 'colour'"):
        from_csv("common,colour\nx,y\n")
    for odd in ("nan", "3 4", "1e999"):
        with pytest.raises(Refused, match="can’t be read"):
            from_csv(f"common,weeds\nx,{odd}\n")
