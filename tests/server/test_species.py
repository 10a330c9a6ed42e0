"""The species guide of a workspace: asked, mixed, added to, and taken out and in as a table."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from library.models import OwnSpecies


@pytest.fixture
def guide(workspace):
    return f"/api/v1/workspaces/{workspace.id}/species"


def test_the_guide_ranks_for_a_sowing_date_and_says_what_cannot_work(client_of, guide):
    wish = {"weights": {"nitrogen_supply": 3}, "sown": "2026-10-10", "first_frost": "10-15", "after": "cereals"}
    fits = client_of("reader").post(f"{guide}/fit", wish, format="json").json()
    vetch = next(f for f in fits if f["key"] == "hairy-vetch")
    assert vetch["out"] == ["Sown 5 days before the first frost; it needs at least 30 days before it."]
    assert (vetch["score"], fits[-1]["score"]) == (None, None)
    assert fits[0]["key"] == "winter-faba-bean"
    assert fits[0]["why"] == [{"service": "Nitrogen supply", "rating": 4.0, "weight": 3, "why": ""}]
    assert fits[0]["score"] == 80 - sum(cost["points"] for cost in fits[0]["costs"])
    own = {"common": "Fen lentil", "nitrogen_supply": "4"}
    client_of("owner").put(f"{guide}/fen-lentil", {"cells": own}, format="json")
    again = client_of("reader").post(f"{guide}/fit", wish, format="json").json()
    lentil = next(f for f in again if f["key"] == "fen-lentil")
    assert lentil["unknown"] == ["It isn’t known how long before the first frost it has to be sown."]
    wrong = client_of("reader").post(f"{guide}/fit", {**wish, "first_frost": "15-10"}, format="json")
    assert "'15-10' isn’t a day of the year" in wrong.json()["detail"]


def test_a_record_says_of_each_value_whether_it_is_cited_or_from_experience(client_of, guide):
    radish = next(s for s in client_of("reader").get(guide).json()["species"] if s["key"] == "forage-radish")
    facts = {f["field"]: f for f in radish["facts"]}
    assert (facts["kill"]["lines"], facts["kill"]["source"]) == (["−8 to −4"], "experience")
    assert facts["drilled"]["cited"].startswith("Clark A (ed.) 2007")
    assert facts["hosts"]["lines"][0] == "clubroot → brassicas (strong)"


def test_an_own_record_stands_before_the_shipped_one_until_it_is_taken_away(client_of, guide):
    owner, rates = client_of("owner"), {"common": "Cereal rye, ours", "drilled": "120 to 160", "tkw": "31,5"}
    kept = owner.put(f"{guide}/rye", {"cells": rates}, format="json").json()
    assert (kept["name"], kept["own"]) == ("Cereal rye, ours", True)
    mix = {"parts": [{"key": "rye", "share": 50}]}
    assert owner.post(f"{guide}/mix", mix, format="json").json()["total"] == pytest.approx(70)
    wrong = owner.put(f"{guide}/rye", {"cells": {**rates, "tkw": "heavy", "weeds": "9"}}, format="json")
    assert [e["where"] for e in wrong.json()["errors"]] == ["Thousand-kernel weight", "Weed suppression"]
    owner.delete(f"{guide}/rye")
    assert owner.post(f"{guide}/mix", mix, format="json").json()["total"] == pytest.approx(50.5)


def test_a_mix_comes_with_both_ladders_and_what_was_typed_for_the_lot(client_of, guide):
    parts = [{"key": "rye", "share": 40, "tkw": 40}, {"key": "hairy-vetch", "share": 60, "full": 30}]
    mix = client_of("reader").post(f"{guide}/mix", {"parts": parts, "steps": 3}, format="json").json()
    rye, vetch = mix["components"]
    assert (rye["seeds"], vetch["rate"]) == pytest.approx((40.4 * 100 / 40, 18))
    assert [step["name"] for step in mix["replacement"]] == [
        "Cereal rye 101 kg/ha", "Cereal rye and Hairy vetch 50:50", "Hairy vetch 30 kg/ha",
    ]  # fmt: skip
    assert mix["additive"][2]["rates"] == [{"key": "rye", "rate": 101.0}, {"key": "hairy-vetch", "rate": 30.0}]
    nothing = client_of("reader").post(f"{guide}/mix", {"parts": [{"key": "rye", "share": 0}]}, format="json")
    assert "add up to 0" in nothing.json()["detail"]


def test_the_table_goes_out_is_changed_and_comes_back_whole_or_not_at_all(client_of, guide):
    owner = client_of("owner")
    table = owner.get(f"{guide}/table.csv").content.decode()
    before = len(owner.get(guide).json()["species"])

    def bring(text):
        return owner.post(f"{guide}/table.csv", {"file": SimpleUploadedFile("s.csv", text.encode())})

    assert bring(table).json() == []  # nothing of it is new
    again = bring(table + "fen-lentil,Fen lentil" + "," * 20 + "\n")
    assert [one["key"] for one in again.json()] == ["fen-lentil"]
    wrong = bring("common,weeds\nA,3\nB,many\n")
    assert wrong.status_code == 422
    assert wrong.json()["errors"] == [
        {"where": "line 3, Weed suppression", "what": "'many' can’t be read: this isn’t a number."}
    ]
    assert len(owner.get(guide).json()["species"]) == before + 1


def test_a_record_that_an_earlier_release_kept_is_still_there_without_what_is_not_read_any_more(
    client_of, guide, workspace
):
    cells = {"common": "Old rye", "kill": "-31", "tkw": "nan", "hosts": "many crops: root-knot", "frost_risk": "yes"}
    OwnSpecies.objects.create(workspace=workspace, key="old-rye", cells=cells)
    found = next(s for s in client_of("reader").get(guide).json()["species"] if s["key"] == "old-rye")
    assert {f["field"]: f["text"] for f in found["facts"]} == {
        "common": "Old rye", "kill": "-31", "hosts": "many crops: root-knot",
    }  # fmt: skip


def test_who_reads_us_units_asks_reads_and_changes_the_guide_in_them(client_of, guide):
    client = client_of("owner")
    client.patch("/api/v1/session", {"units": "us"}, format="json")
    shown = client.get(guide).json()
    units = {f["key"]: f["unit"] for f in shown["fields"]}
    assert [units[key] for key in ("kill", "drilled", "depth", "gdd_flower", "tkw")] == [
        "°F",
        "lb/ac",
        "in",
        "°F d",
        "g",
    ]
    rye = next(s for s in shown["species"] if s["key"] == "rye")
    cells = {f["field"]: f["text"] for f in rye["facts"]} | {f"{f['field']}_source": f["source"] for f in rye["facts"]}
    metric = next(
        s for s in client_of("reader").get(guide).json()["species"] if s["key"] == "rye"
    )  # a colleague with metric units
    stored = {f["field"]: f["text"] for f in metric["facts"]}
    assert (stored["depth"], cells["depth"]) == ("1.9 to 5.1", "0.748 to 2.01")
    client.put(f"{guide}/rye", {"cells": {**cells, "drilled": "70 to 120"}}, format="json")  # only one changed
    again = next(s for s in client_of("reader").get(guide).json()["species"] if s["key"] == "rye")
    now = {f["field"]: f["text"] for f in again["facts"]}
    assert {key for key in stored if stored[key] != now[key]} == {"drilled"}
    assert now["drilled"] == "78.46 to 134.5"
    wish = {"weights": {"weeds": 3}, "harsh_winter": "0", "winter": "lives"}
    metric_wish = {**wish, "harsh_winter": "-17.78"}
    scores = [
        [(f["key"], f["score"]) for f in one.post(f"{guide}/fit", asked, format="json").json()]
        for one, asked in ((client, wish), (client_of("reader"), metric_wish))
    ]
    assert scores[0] == scores[1]
    parts = [{"key": "rye", "share": 50, "full": 100}, {"key": "hairy-vetch", "share": 50, "full": 20}]
    mix = client.post(f"{guide}/mix", {"parts": parts}, format="json").json()
    assert (mix["rate_unit"], mix["total"]) == ("lb/ac", pytest.approx(60))
