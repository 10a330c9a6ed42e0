"""A trial at several sites: a map, visits and a reading at each, and what is common to all of them."""

import uuid

import pytest

from readings.bridge import asked_of, gather
from reports.stake_out import map_html
from tests.server.asking import PLAN, Trial, site_in
from trials.models import Season, Unit

HOW = {"method": "dunnett"}


@pytest.fixture
def sites():
    return [site_in("Mill Ground"), site_in("Cold Acre", bearing_deg=0), site_in("Far Twelve")]


@pytest.fixture
def trial(owner, workspace, sites):
    return Trial(owner, workspace, sites=sites)


def at(trial, site, path="", **query):
    return f"/api/v1/trials/{trial.id}{path}?site={site['id']}"


def draw(trial, site, **changes):
    return trial.client.post(at(trial, site, "/plan"), {**PLAN, **changes}, format="json")


def labels(trial, site):
    return [p["label"] for p in trial.client.get(at(trial, site)).json()["plots"]]


def test_each_site_has_a_map_of_its_own_whose_numbers_begin_with_the_sites(trial, sites):
    mill, cold, far = sites
    drawn = draw(trial, cold, blocks=3).json()
    assert [one["name"] for one in drawn["sites"]] == ["Mill Ground", "Cold Acre", "Far Twelve"]
    assert (drawn["site"]["name"], drawn["plan"]["blocks"]) == ("Cold Acre", 3)
    assert labels(trial, cold) == [str(2000 + 100 * block + n) for block in (1, 2, 3) for n in (1, 2, 3)]
    assert labels(trial, mill)[0] == "1101"
    assert labels(trial, far) == []
    assert trial.client.get(at(trial, cold, "/stake-out.csv")).content.count(b"\n") == 10
    assert trial.client.get(at(trial, {"id": uuid.uuid4()})).status_code == 404
    assert trial.client.get(at(trial, {"id": "here"})).status_code == 400


def test_what_is_typed_at_one_site_is_read_there_and_nowhere_else(trial, sites):
    mill, cold, _ = sites
    draw(trial, cold)
    for label in labels(trial, mill):
        trial.enter(*(trial.typed(label, str(int(label) % 7 + 5 + frame), frame=frame) for frame in (1, 2)))
    for site in (mill, cold):
        trial.client.post(at(trial, site, "/results"), {}, format="json")
    here = trial.client.post(at(trial, mill, "/readings"), HOW, format="json").json()
    there = trial.client.post(at(trial, cold, "/readings"), HOW, format="json").json()
    assert [cell["verdict"] for cell in here["measures"][0]["cells"]] != ["no-answer", "no-answer"]
    assert [cell["verdict"] for cell in there["measures"][0]["cells"]] == ["no-answer", "no-answer"]
    seasons = [trial.client.get(at(trial, site, "/season")).json() for site in (mill, cold)]
    assert [len(season["visits"]) for season in seasons] == [1, 0]
    assert trial.open()["site"] == mill["id"]
    line = next(row for rows in trial.client.get("/api/v1/today").json().values() for row in rows)
    assert (line["trial_name"], line["site"]) == ("Covers before barley, Mill Ground", mill["id"])


def test_lists_may_be_common_in_part_but_the_control_grows_everywhere(trial, sites):
    _, cold, far = sites
    control, vetch = trial.page["treatments"][1]["id"], trial.page["treatments"][2]["id"]
    drawn = draw(trial, cold, not_grown=[vetch]).json()
    assert (drawn["not_grown"], len(drawn["plots"])) == ([vetch], 8)
    assert {p["treatment"] for p in drawn["plots"]} == {t["id"] for t in trial.page["treatments"]} - {vetch}
    outlook = trial.client.post(at(trial, cold, "/outlook"), {"blocks": 4, "not_grown": [vetch]}, format="json").json()
    assert (outlook["plots"], outlook["per_block"]) == (8, 2)
    trial.client.post(at(trial, cold, "/results"), {}, format="json")
    cells = trial.client.post(at(trial, cold, "/readings"), HOW, format="json").json()["measures"][0]["cells"]
    assert [cell["treatment"] for cell in cells] == ["Phacelia"]
    assert draw(trial, cold, left_out=[vetch]).json()["not_grown"] == [vetch]  # as an earlier release says it
    refused = draw(trial, far, not_grown=[control])
    assert refused.status_code == 422
    assert "every site has to grow it" in refused.json()["detail"]


def test_what_three_sites_see_together_is_told_beside_what_one_sees(trial, sites):
    """Three sites like one of 4 blocks × 3 treatments: variance a third, 3 × 6 degrees of freedom."""
    answer = trial.client.post(at(trial, sites[0], "/outlook"), {"blocks": 4}, format="json").json()
    one, all_of_them = answer["measures"][0]["outlook"]["kinds"]
    assert all_of_them["name"] == "two treatments, over 3 sites like this one"
    assert (one["df"], all_of_them["df"]) == (6, 18)
    assert all_of_them["detectable"] < one["detectable"] / 3**0.5


def test_a_site_is_added_exchanged_and_taken_away_but_not_from_under_its_records(trial, sites):
    mill, cold, far = sites
    draw(trial, cold)
    other = site_in("Drove Piece")
    assert trial.ask({**trial.page, "sites": [mill, other, far]}).status_code == 200
    assert [s.site.name for s in Season.objects.filter(trial=trial.id)] == ["Mill Ground", "Drove Piece", "Far Twelve"]
    assert labels(trial, other) == []  # a map isn't carried to another field
    trial.enter(trial.typed("1101", "12"))
    refused = trial.ask({**trial.page, "sites": [other]})
    assert refused.status_code == 409
    assert "Values are recorded, so the site Mill Ground can’t be removed" in refused.json()["detail"]
    sown = {"kind": "sow", "name": "Sow", "done": "2026-08-28"}
    trial.client.put(at(trial, far, f"/operations/{uuid.uuid4()}"), sown, format="json")
    kept = trial.ask({**trial.page, "sites": [mill]})
    assert (kept.status_code, "operations and notes at Far Twelve" in kept.json()["detail"]) == (409, True)
    Season.objects.get(trial=trial.id, site=far["id"]).operations.all().delete()
    assert trial.ask({**trial.page, "sites": [mill]}).status_code == 200
    assert Season.objects.filter(trial=trial.id).count() == 1
    twice = trial.ask({**trial.page, "sites": [mill, mill]})
    assert (twice.status_code, "listed twice" in twice.json()["detail"]) == (422, True)
    assert trial.ask({**trial.page, "sites": []}).status_code == 400


def test_numbers_of_plots_stay_unique_when_sites_are_put_in_another_order(trial, sites):
    mill, cold, far = sites
    draw(trial, cold)
    assert trial.ask({**trial.page, "sites": [far, cold, mill]}).status_code == 200
    draw(trial, far)
    every = [label for site in sites for label in labels(trial, site)]
    assert len(every) == len(set(every)) == 36
    assert (labels(trial, mill)[0], labels(trial, far)[0]) == ("1101", "3101")


def test_the_printed_map_lists_what_is_grown_at_the_site_and_what_was_swapped(trial, sites, people):
    _, cold, _ = sites
    draw(trial, cold, not_grown=[trial.page["treatments"][2]["id"]])
    first, second = (p["id"] for p in trial.client.get(at(trial, cold)).json()["plots"][:2])
    sent = {"first": first, "second": second, "why": "a wet hollow"}
    assert trial.client.post(at(trial, cold, "/swap"), sent, format="json").status_code == 200
    page = map_html(by=people["owner"], season=Season.objects.get(trial=trial.id, site=cold["id"]), ink="black")
    assert "Phacelia" in page
    assert "Common vetch" not in page
    assert "2101 and 2102 were swapped (a wet hollow)" in page


def test_a_copy_goes_to_all_sites_with_what_each_leaves_out(trial, sites):
    _, cold, _ = sites
    draw(trial, cold, not_grown=[trial.page["treatments"][2]["id"]])
    body = {"id": str(uuid.uuid4()), "name": "Again", "layout": "same-plots"}
    made = trial.client.post(f"/api/v1/trials/{trial.id}/copy", body, format="json")
    assert made.status_code == 201
    plots = [Unit.objects.filter(season=s, kind="plot").count() for s in Season.objects.filter(trial=body["id"])]
    assert plots == [12, 8, 0]
    copied = trial.client.get(f"/api/v1/trials/{body['id']}?site={cold['id']}").json()
    names = {t["id"]: t["name"] for t in copied["treatments"]}
    assert [names[id] for id in copied["not_grown"]] == ["Common vetch"]


def test_a_test_that_was_planned_for_what_a_site_does_not_grow_is_planned_for_nothing_there(trial, sites):
    _, cold, _ = sites
    draw(trial, cold)
    phacelia = trial.page["treatments"][0]["id"]
    measures = [{**trial.page["measures"][0], "planned": "equivalence", "planned_for": [phacelia]}]
    page = {**trial.page, "measures": [*measures, *trial.page["measures"][1:]]}
    assert trial.ask(page).status_code == 200
    season = Season.objects.get(trial=trial.id, site__name="Cold Acre")
    for grown, planned in ((True, ("equivalence", ("Phacelia",))), (False, ("none", ()))):
        if not grown:
            season.not_grown.add(phacelia)
        given = gather(season)
        [asked] = [asked_of(m, "metric", given.names) for m in given.measures[:1]]
        assert (asked.planned, asked.planned_for) == planned
