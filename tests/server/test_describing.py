"""What is said of treatments is kept as typed, looked at for a second difference, and reaches the reading."""

import uuid

import pytest

from apercu_core.species.mixing import full_rate
from apercu_core.species.shipped import SHIPPED
from tests.server.asking import Trial, measure_in, page
from tests.server.bringing import read
from trials.models import Treatment

LOT = {"lot": "HF 27", "purity_percent": 98, "germination_percent": 90, "tkw_g": 32.5}
RYE = {"species": "rye", "name": "Cereal rye", "cultivar": "Fen Gold", "rate": "100", **LOT}
VETCH = {"species": "common-vetch", "name": "Common vetch", "rate": "72 kg/ha"}


def treatment(name, *components, control=False, seed_set="", **said):
    details = {"components": components, "seed_set": seed_set, "said": said}
    return {"id": str(uuid.uuid4()), "name": name, "is_control": control, "details": details}


BARE, FALLOW = treatment("Bare", control=True), treatment("Fallow", control=True)
EARLY = treatment("Rye", RYE, sowing_date="1 Sep", seed_set="prevent")
LATE = treatment("Vetch", VETCH, sowing_date="20 Sep", herbicides="twice")


def looked_at(client, workspace, *treatments, **changes):
    sent = {"workspace": str(workspace.id), "treatments": treatments, **changes}
    return client.post("/api/v1/confounding", sent, format="json").json()


def details_of(client, trial, name):
    return next(t for t in client.get(f"/api/v1/trials/{trial}").json()["treatments"] if t["name"] == name)["details"]


def test_a_cover_is_kept_with_its_lot_and_its_rate_is_shown_in_the_reader_s_unit(owner, workspace, people):
    trial = Trial(owner, workspace, treatments=[BARE, EARLY, LATE])
    (rye,) = details_of(owner, trial.id, "Rye")["components"]
    assert (rye["rate"], rye["cultivar"], rye["lot"], rye["tkw_g"]) == ("100", "Fen Gold", "HF 27", 32.5)
    assert details_of(owner, trial.id, "Rye")["seed_set"] == "prevent"
    assert Treatment.objects.get(name="Vetch").details["said"] == {"sowing_date": "20 Sep", "herbicides": "twice"}
    people["owner"].units = "us"
    people["owner"].save()
    shown = details_of(owner, trial.id, "Rye")["components"][0]["rate"]
    assert float(shown) == pytest.approx(100 * 0.4046856 / 0.4535924, rel=1e-3)  # lb/ac
    again = [t | {"details": details_of(owner, trial.id, t["name"])} for t in (BARE, EARLY, LATE)]
    assert trial.ask({**trial.page, "treatments": again}).status_code == 200
    assert Treatment.objects.get(name="Rye").details["components"][0]["rate_kg_ha"] == pytest.approx(100, rel=1e-3)


@pytest.mark.parametrize(
    ("component", "says"),
    [
        ({"rate": "-5"}, "Rye, Cereal rye: A seed rate can’t be below zero; -5 is."),
        ({"rate": "a lot"}, "isn’t a number"),
        ({"rate": "30 t"}, "can’t be turned into kg/ha"),
        ({"purity_percent": 104}, "100"),
    ],
)
def test_a_rate_or_share_that_cannot_be_is_refused_where_it_stands_and_nothing_is_kept(
    owner, workspace, component, says
):
    given = page(workspace, treatments=[BARE, treatment("Rye", RYE | component)])
    answer = owner.put(f"/api/v1/trials/{uuid.uuid4()}/ask", given, format="json")
    assert answer.status_code in (400, 422)
    assert says in str(answer.json())
    assert not Treatment.objects.exists()


def test_a_second_difference_is_found_with_what_would_part_it(owner, workspace):
    found = looked_at(owner, workspace, EARLY, LATE)
    (one,) = found["mixed"]
    assert one["said"] == "Rye and Vetch differ in species or mix, sowing date and herbicide programme at once."
    assert {"add", "hold"} == {offer["kind"] for offer in one["offers"]}
    held = next(o for o in one["offers"] if (o["kind"], o["aspect"]) == ("hold", "sowing_date"))
    assert held["said"] == "Give Vetch the sowing date of Rye (1 Sep)"
    assert (held["like"], held["other"]) == (EARLY["id"], LATE["id"])
    (vetch,) = [c["said"] for c in found["cautions"] if c["treatment"] == LATE["id"]]
    assert vetch[0].startswith("Cultivar not stated: Common vetch.")
    assert not [c for c in found["cautions"] if c["treatment"] == EARLY["id"]]


def test_rates_of_two_species_are_alike_at_like_shares_of_their_full_rates(owner, workspace):
    middle = {key: full_rate(SHIPPED[key], broadcast=False) for key in ("rye", "oat")}

    def sown(key, share):
        return treatment(key, {"species": key, "name": key, "rate": str(middle[key] * share)})

    assert looked_at(owner, workspace, sown("rye", 1), sown("oat", 1))["mixed"] == []
    (half,) = looked_at(owner, workspace, sown("rye", 1), sown("oat", 0.5))["mixed"]
    assert half["said"] == "rye and oat differ in species or mix and sowing rate at once."


def test_a_crossing_parts_its_factors_and_a_gap_in_it_does_not(owner, workspace):
    factors = [{"name": "kill", "kind": "kill_timing"}, {"name": "cover", "kind": "species"}]
    cells = [
        {**treatment(f"{k} {c}"), "levels": {"kill": k, "cover": c}} for k in ("early", "late") for c in ("rye", "oat")
    ]  # fmt: skip
    cells[0]["is_control"] = True
    assert looked_at(owner, workspace, *cells, factors=factors)["mixed"] == []
    (gap,) = looked_at(owner, workspace, cells[0], cells[3], factors=factors)["mixed"]
    assert gap["said"].startswith("early rye and late oat differ in species or mix and kill timing")


def test_an_accepted_departure_is_kept_and_stands_as_a_doubt_in_the_reading(owner, workspace):
    odd = treatment("Rye sprayed", RYE, herbicides="twice")
    accepted = [{"base": BARE["id"], "treatment": odd["id"], "why": "the grower sprays it all"}]
    trial = Trial(owner, workspace, treatments=[BARE, EARLY, odd], accepted=accepted)
    assert owner.get(f"/api/v1/trials/{trial.id}").json()["accepted"] == accepted
    doubts = read(owner, trial.id)["doubts"]
    (doubt,) = [d for d in doubts if d["id"] == "two-things-changed"]
    assert "Accepted when it was planned (Rye sprayed: the grower sprays it all)." in doubt["finding"]
    assert doubt["severity"] == "weakens"


def test_each_question_names_its_control_what_is_planned_and_which_decides(owner, workspace):
    cover = treatment("Oat")
    weeds = measure_in(primary=True)
    depth = measure_in(
        "Depth", unit="cm", catalogue="", sheet="figure", settings={}, margin=1, control=FALLOW["id"],
        planned="equivalence", planned_for=[cover["id"]],
    )  # fmt: skip
    trial = Trial(owner, workspace, treatments=[BARE, FALLOW, cover], measures=[weeds, depth])
    for n, label in enumerate(f"{block}0{place}" for block in (1, 2, 3, 4) for place in (1, 2, 3)):
        trial.enter(trial.typed(label, {"value": f"{4 + n % 5}.{n}"}, measure=1))
    board = read(owner, trial.id)
    assert board["base"] == "Bare"
    first, second = board["measures"]
    assert (first["base"], first["primary"], second["base"], second["primary"]) == ("Bare", True, "Fallow", False)
    assert [cell["treatment"] for cell in second["cells"]] == ["Bare", "Oat"]
    assert [test["treatment"] for test in second["planned"]] == ["Oat"]
    copied = owner.post(f"/api/v1/trials/{trial.id}/copy", {"id": str(uuid.uuid4()), "name": "x"}, format="json").json()
    names = {t["id"]: t["name"] for t in copied["treatments"]}
    assert [names.get(m["control"]) for m in copied["measures"]] == [None, "Fallow"]
    assert [names[id] for id in copied["measures"][1]["planned_for"]] == ["Oat"]
    other = {**trial.page, "measures": [weeds, {**depth, "planned_for": []}]}
    assert "changes its planned test" in trial.ask(other).json()["detail"]
    assert trial.ask({**other, "reason": "all of them pay"}).status_code == 200
    (doubt,) = (
        d for d in read(owner, trial.id)["measures"][1]["doubts"] if d["id"] == "question-changed-after-reading"
    )
    assert doubt["finding"].startswith("planned for: Oat became all treatments (Owner, ")
    assert doubt["finding"].endswith(": all of them pay).")


@pytest.mark.parametrize(
    ("measures", "says"),
    [
        ([measure_in(primary=True), measure_in("Yield", unit="t/ha", primary=True)], "the one that decides"),
        ([measure_in(control=EARLY["id"])], "Weeds names a control that isn’t marked as one"),
        ([measure_in(planned="equivalence", planned_for=[str(uuid.uuid4())])], "a treatment that isn’t there"),
    ],
)
def test_a_question_that_names_what_is_not_there_is_refused(owner, workspace, measures, says):
    given = page(workspace, treatments=[BARE, EARLY], measures=measures)
    assert says in owner.put(f"/api/v1/trials/{uuid.uuid4()}/ask", given, format="json").json()["detail"]


def test_what_can_be_said_of_a_treatment_is_listed(owner):
    aspects = {a["key"]: a for a in owner.get("/api/v1/aspects").json()}
    assert aspects["kill_timing"] == {"key": "kill_timing", "name": "kill timing", "factor": True, "said": True}
    assert not aspects["species"]["said"]
    assert not aspects["row_spacing"]["factor"]


def test_a_departure_from_the_second_control_reaches_the_reading_too(owner, workspace):
    fed = treatment("Rye fed", RYE, tillage="twice")
    fallow = treatment("Fallow", control=True, tillage="twice", herbicides="once")
    accepted = [{"base": fallow["id"], "treatment": fed["id"], "why": "as the farm does"}]
    trial = Trial(owner, workspace, treatments=[BARE, fallow, fed], accepted=accepted)
    (doubt,) = [d for d in read(owner, trial.id)["doubts"] if d["id"] == "two-things-changed"]
    assert "Rye fed against Fallow" in doubt["finding"]
    assert "as the farm does" in doubt["finding"]
    assert "Fallow against Bare" not in doubt["finding"]
