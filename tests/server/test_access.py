"""Who may do what: a table of role × address × method, tested whole; the content policy."""

import json
import re
import uuid
from pathlib import Path
from types import SimpleNamespace

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client
from django.urls import get_resolver

from calendars.feed import make_feed, token_of
from config import clock
from demo.loading import load
from field_log.actions import add_photograph
from field_log.models import LogEntry
from jobs.models import Job, JobFile
from operations.models import GrowthStage, Operation
from records.models import Observation, Visit
from sample_photographs.actions import photograph_sample
from sample_photographs.counting import keep_corners, keep_length
from sample_photographs.models import SamplePhotograph
from tests.server.asking import PLAN, Trial, measure_in, page
from tests.server.bringing import ROLES, acceptance, bring, bring_trial
from tests.server.conftest import TABLE
from tests.server.test_photographs import photograph
from tests.server.test_sowing import DRILL, OAT, SPREADER, TANK, described
from trials.models import Season, TrialMeasure
from weather.models import SiteStation, Station, WeatherService

WHO = ("owner", "researcher", "technician", "reader", "stranger", "nobody")
PLANNING = (200, 200, 403, 403, 404, 401)
OPENING = (204, 204, 403, 403, 404, 401)
MANAGING = (200, 403, 403, 403, 404, 401)
RECORDING = (200, 200, 200, 403, 404, 401)
WHOLE = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
SEEING = (200, 200, 200, 200, 404, 401)
ANYONE = (200, 200, 200, 200, 200, 401)


def made(codes):
    return tuple({200: 201}.get(code, code) for code in codes)


def accepted(codes):
    return tuple({200: 202}.get(code, code) for code in codes)


def emptied(codes):
    return tuple({200: 204}.get(code, code) for code in codes)


# What each of WHO gets. A stranger learns nothing, not even that there is something.
EXPECTED = {
    ("GET", "/trials"): ANYONE,
    ("GET", "/trials/{id}"): SEEING,
    ("POST", "/trials/{id}/results"): OPENING,
    ("POST", "/trials/{id}/readings"): SEEING,
    ("POST", "/trials/{id}/answers"): emptied(PLANNING),
    ("PATCH", "/measures/{id}"): PLANNING,
    ("PUT", "/observations/{id}"): RECORDING,
    ("GET", "/observations/{id}/sheet"): SEEING,
    ("POST", "/visits/{id}/redo"): RECORDING,
    ("POST", "/observations/{id}/undo"): RECORDING,
    ("POST", "/observations/{id}/decision"): RECORDING,
    ("PUT", "/trials/{id}/ask"): PLANNING,
    ("POST", "/trials/{id}/plan"): PLANNING,
    ("POST", "/trials/{id}/outlook"): SEEING,
    ("POST", "/trials/{id}/rehearsals"): accepted(SEEING),
    ("GET", "/trials/{id}/carry-over"): SEEING,
    ("GET", "/trials/{id}/stake-out.csv"): SEEING,
    ("GET", "/trials/{id}/plots.geojson"): SEEING,
    ("POST", "/trials/{id}/files"): accepted(SEEING),
    ("GET", "/trials/{id}/layout"): SEEING,
    ("PUT", "/trials/{id}/layout"): PLANNING,
    ("POST", "/trials/{id}/layout/check"): SEEING,
    ("POST", "/trials/{id}/layout/outline"): SEEING,
    ("POST", "/trials/{id}/copy"): made(PLANNING),
    ("PUT", "/trials/{id}/archive"): emptied(PLANNING),
    ("POST", "/trials/{id}/swap"): PLANNING,
    ("GET", "/trials/{id}/zones"): SEEING,
    ("PUT", "/trials/{id}/zones"): PLANNING,
    ("POST", "/trials/{id}/plan/file"): PLANNING,
    ("POST", "/trials/{id}/kill-dates"): RECORDING,
    ("GET", "/trials/{id}/sow"): SEEING,
    ("PUT", "/trials/{id}/sow"): RECORDING,
    ("POST", "/trials/{id}/sow/drill"): SEEING,
    ("POST", "/trials/{id}/sow/spreader"): SEEING,
    ("POST", "/trials/{id}/sow/tank"): SEEING,
    ("PUT", "/trials/{id}/sow/tests/{test}"): RECORDING,
    ("PUT", "/trials/{id}/sow/bags/{plot}"): RECORDING,
    ("PUT", "/trials/{id}/sow/placed/{plot}"): RECORDING,
    ("PUT", "/trials/{id}/sow/decisions/{decision}"): RECORDING,
    ("PUT", "/trials/{id}/sow/sowings/{sowing}"): RECORDING,
    ("DELETE", "/trials/{id}/sow/sowings/{sowing}"): RECORDING,
    ("GET", "/templates"): ANYONE,
    ("POST", "/crossing"): ANYONE,
    ("POST", "/confounding"): SEEING,
    ("GET", "/aspects"): ANYONE,
    ("PUT", "/workspaces/{id}/equipment"): PLANNING,
    ("GET", "/workspaces/{id}/own-measures"): SEEING,
    ("POST", "/own-measures/try"): ANYONE,
    ("GET", "/workspaces/{id}/species"): SEEING,
    ("POST", "/workspaces/{id}/species/fit"): SEEING,
    ("POST", "/workspaces/{id}/species/mix"): SEEING,
    ("GET", "/workspaces/{id}/species/table.csv"): SEEING,
    ("POST", "/workspaces/{id}/species/table.csv"): made(PLANNING),
    ("PUT", "/workspaces/{id}/species/{key}"): PLANNING,
    ("DELETE", "/workspaces/{id}/species/{key}"): emptied(PLANNING),
    ("PUT", "/measures/{id}/parts"): RECORDING,
    ("PUT", "/trials/{id}/visits/{visit}"): PLANNING,
    ("PUT", "/trials/{id}/visit-series/{series}"): PLANNING,
    ("GET", "/visits/{id}"): SEEING,
    ("PUT", "/visits/{id}/entries"): RECORDING,
    ("PUT", "/visits/{id}/notes/{note}"): RECORDING,
    ("GET", "/trials/{id}/season"): SEEING,
    ("PUT", "/trials/{id}/operations/{operation}"): RECORDING,
    ("GET", "/trials/{id}/log"): SEEING,
    ("PUT", "/trials/{id}/log/{entry}"): RECORDING,
    ("DELETE", "/trials/{id}/log/{entry}"): RECORDING,
    ("PUT", "/trials/{id}/log/{entry}/photographs/{photograph}"): RECORDING,
    ("DELETE", "/trials/{id}/log/{entry}/photographs/{photograph}"): RECORDING,
    ("GET", "/photographs/{id}"): SEEING,
    ("GET", "/photographs/{id}/preview"): SEEING,
    ("GET", "/photographs/{id}/cover"): SEEING,
    ("GET", "/photographs/{id}/cover/picture"): SEEING,
    ("GET", "/photographs/{id}/count"): SEEING,
    ("PUT", "/photographs/{id}/count"): RECORDING,
    ("PUT", "/photographs/{id}/corners"): RECORDING,
    ("PUT", "/photographs/{id}/ruler"): RECORDING,
    ("GET", "/trials/{id}/plots/{plot}/photographs"): SEEING,
    ("GET", "/photographs/{id}/straight"): SEEING,
    ("GET", "/photographs/{id}/suggested-marks"): SEEING,
    ("PUT", "/photographs/{id}/lengths/{length}"): RECORDING,
    ("DELETE", "/photographs/{id}/lengths/{length}"): RECORDING,
    ("GET", "/visits/{id}/photographs"): SEEING,
    ("GET", "/visits/{id}/standing"): SEEING,
    ("PUT", "/measures/{id}/threshold"): emptied(RECORDING),
    ("PUT", "/visits/{id}/photographs/{photograph}"): RECORDING,
    ("DELETE", "/visits/{id}/photographs/{photograph}"): emptied(RECORDING),
    ("GET", "/trials/{id}/kills"): SEEING,
    ("PUT", "/trials/{id}/kill-limit"): PLANNING,
    ("PUT", "/trials/{id}/kills/{operation}/{day}"): RECORDING,
    ("PUT", "/trials/{id}/kills/{operation}/checks"): PLANNING,
    ("GET", "/trials/{id}/kill-windows"): SEEING,
    ("GET", "/trials/{id}/stages"): SEEING,
    ("PUT", "/trials/{id}/stages/{stage}"): RECORDING,
    ("DELETE", "/trials/{id}/stages/{stage}"): RECORDING,
    ("GET", "/trials/{id}/weather"): SEEING,
    ("PUT", "/trials/{id}/weather/station"): RECORDING,
    ("PUT", "/trials/{id}/weather/days/{day}"): RECORDING,
    ("POST", "/trials/{id}/weather/file"): RECORDING,
    ("POST", "/trials/{id}/weather/fetch"): accepted(RECORDING),
    ("PUT", "/trials/{id}/weather/services/{service}"): MANAGING,
    ("DELETE", "/trials/{id}/weather/services/{service}"): MANAGING,
    ("POST", "/trials/{id}/weather/services/{service}/stations"): accepted(RECORDING),
    ("GET", "/trials/{id}/report"): SEEING,
    ("GET", "/today"): ANYONE,
    ("GET", "/calendars"): ANYONE,
    ("POST", "/calendars"): SEEING,
    ("DELETE", "/calendars/{id}"): (200, 404, 404, 404, 404, 401),
    ("GET", "/calendars/{token}.ics"): (200, 200, 200, 200, 200, 200),
    ("GET", "/day-list"): ANYONE,
    ("GET", "/sites"): ANYONE,
    ("GET", "/glossary"): ANYONE,
    ("GET", "/catalogue"): ANYONE,
    ("GET", "/rules"): ANYONE,
    ("PATCH", "/session"): ANYONE,
    ("POST", "/uploads"): made(PLANNING),
    ("POST", "/uploads/{id}/check"): SEEING,
    ("POST", "/uploads/{id}/trial"): made(PLANNING),
    ("GET", "/jobs/{id}"): SEEING,
    ("DELETE", "/jobs/{id}"): PLANNING,
    ("GET", "/jobs/{id}/file"): SEEING,
    ("GET", "/rehearsals/{id}"): SEEING,
    ("GET", "/session"): ANYONE,
    ("DELETE", "/session"): emptied(ANYONE),
}


FILES = ("table.csv", "plan/file", "weather/file", "photographs/{photograph}")
POLYGON = {"type": "Polygon", "coordinates": [[[0.1, 52.7], [0.102, 52.7], [0.102, 52.701], [0.1, 52.701]]]}


@pytest.fixture
def world(client_of, workspace):
    """What stands in the place of the ids, and what is sent, by address."""
    owner = client_of("owner")
    trial = bring_trial(owner, workspace, TABLE)
    upload = bring(owner, workspace, TABLE).json()["id"]
    owner.post(f"/api/v1/trials/{trial}/results", {}, format="json")
    old = str(Observation.objects.filter(current=True).first().id)
    walked = Trial(owner, workspace)
    entry = walked.typed("102", "7")
    walked.enter(walked.typed("101", "7"))
    standing = walked.open()["rows"][0]["id"]
    met = walked.typed("101", "9")
    walked.enter(met)
    new = uuid.uuid4()
    undone = walked.typed("103", "7")
    walked.enter(undone)
    owner.post(f"/api/v1/observations/{undone['id']}/undo", {"id": str(uuid.uuid4())}, format="json")
    place = {"id": uuid.uuid4(), "unit": undone["unit"], "measure": undone["measure"]}
    drawn, unseen = Trial(owner, workspace), Trial(owner, workspace)
    layout = owner.get(f"/api/v1/trials/{drawn.id}/stake-out.csv").content
    sown = Trial(owner, workspace, treatments=[described("Oat", OAT), described("Bare", is_control=True)])
    shown = owner.get(f"/api/v1/trials/{sown.id}/sow").json()
    bag, of_sown = shown["stops"][0]["plot"], {"id": sown.id}
    sowing = {"day": "2026-01-02", "plots": [bag], "known_by": "nothing"}
    test = {"kind": "tank", "given": TANK}
    decision = {"day": "2026-01-02", "checks": {}, "decision": "wait"}
    kills = [
        {"id": str(uuid.uuid4()), "name": "Kill", "treatments": [shown["treatments"][0]["id"]], "due": "2027-04-01"}
    ]
    by_species = measure_in(catalogue="weeds-by-species", sheet="species-count")
    told = Trial(owner, workspace, measures=[by_species])
    of_trial, of_visit = {"id": walked.id}, {"id": walked.visit}
    operation = {"kind": "sow", "name": "Sow", "due": "2026-08-28"}
    job = Job.objects.create(
        workspace=workspace, by=workspace.memberships.first().person, kind="rehearsal", asked={}, key="k",
        created_at=clock.now(), state="done", result={"seasons": 1, "left_out": [], "measures": []},
    )  # fmt: skip
    JobFile.objects.create(job=job, name="a.pdf", media="application/pdf", content=b"%PDF-")
    oat = next(one for one in shown["treatments"] if one["name"] == "Oat")
    seen = {"treatment": oat["id"], "plant": "black-oat", "code": 13, "day": "2026-01-02"}
    stage = GrowthStage.objects.create(
        season=Season.objects.get(trial=sown.id), treatment_id=oat["id"], plant="black-oat", code=11, day="2026-01-01",
        by=workspace.memberships.first().person,
    )  # fmt: skip
    maren = workspace.memberships.get(role="owner").person
    noted = LogEntry.objects.create(season=stage.season, kind="note", day="2026-01-01", text="t", by=maren)
    taken = uuid.uuid4()
    add_photograph(by=maren, entry=noted, id=taken, file=SimpleUploadedFile("field.jpg", photograph()))
    pictured = uuid.uuid4()
    photograph_sample(
        by=maren, visit=Visit.objects.get(pk=walked.visit), id=pictured, unit=uuid.UUID(walked.unit("101")), zone="",
        sample=1, file=SimpleUploadedFile("frame.jpg", photograph()),
    )  # fmt: skip
    on = SamplePhotograph.objects.get(pk=pictured)
    keep_corners(by=maren, shown=on, corners=WHOLE, width=0.5, length=0.5)
    ends = [(0.0, 0.0), (1.0, 1.0)]
    length = keep_length(by=maren, shown=on, id=uuid.uuid4(), name="Root", ends=ends, corners=WHOLE)
    feed = make_feed(person=maren, trial=None)
    killed = Operation.objects.create(season=stage.season, kind="kill", name="K", done="2026-01-02", by=maren)
    service = WeatherService.objects.create(workspace=workspace, name="w", url="http://w", by=maren)
    station = Station.objects.create(workspace=workspace, service=service, key="k", name="Sluice")
    SiteStation.objects.create(site=Season.objects.get(trial=walked.id).site, station=station)
    return {
        "/trials/{id}": ({"id": trial}, None),
        "/trials/{id}/results": ({"id": trial}, {}),
        "/trials/{id}/readings": ({"id": trial}, {}),
        "/trials/{id}/answers": ({"id": trial}, {"doubt": "x", "note": "y"}),
        "/measures/{id}": ({"id": TrialMeasure.objects.filter(trial=trial).first().id}, {"margin": 2, "reason": "w"}),
        "/observations/{id}": ({"id": new}, {"replaces": old, "fields": {"value": "40"}, "why": "w"}),
        "/observations/{id}/sheet": ({"id": old}, None),
        "/visits/{id}/redo": (of_visit, place),
        "/observations/{id}/undo": ({"id": standing}, {"id": new}),
        "/observations/{id}/decision": ({"id": met["id"]}, {"id": new, "keep": standing, "why": "w"}),
        "/uploads/{id}/check": ({"id": upload}, {"roles": ROLES}),
        "/uploads/{id}/trial": ({"id": upload}, acceptance()),
        "/trials/{id}/ask": ({"id": new}, page(workspace)),
        "/trials/{id}/plan": ({"id": drawn.id}, PLAN),
        "/trials/{id}/plan/file": ({"id": drawn.id}, {"file": layout, "allocation": "drawn"}),
        "/trials/{id}/swap": (
            {"id": unseen.id},
            {"first": unseen.unit("101"), "second": unseen.unit("102"), "why": "stones"},
        ),
        "/trials/{id}/outlook": (of_trial, {"blocks": 4}),
        "/trials/{id}/carry-over": (of_trial, None),
        "/trials/{id}/rehearsals": (of_trial, {"seed": 1, "seasons": 1}),
        "/trials/{id}/archive": (of_trial, {"archived": False}),
        "/trials/{id}/stake-out.csv": (of_trial, None),
        "/trials/{id}/plots.geojson": (of_trial, None),
        "/trials/{id}/files": (of_trial, {"file": "map.pdf"}),
        "/trials/{id}/layout": (of_trial, {"field": {}}),
        "/trials/{id}/zones": (of_trial, {"zones": [], "by_zone": {}}),
        "/trials/{id}/layout/check": (of_trial, {"field": {}}),
        "/trials/{id}/layout/outline": (of_trial, {"geojson": POLYGON}),
        "/trials/{id}/copy": (of_trial, {"id": str(new), "name": "Next year"}),
        "/trials/{id}/kill-dates": (of_sown, {"dates": kills}),
        "/trials/{id}/sow": (of_sown, {"lots": [], "rates": []}),
        "/trials/{id}/sow/drill": (of_sown, {**DRILL, "catches_g": ["400"]}),
        "/trials/{id}/sow/spreader": (of_sown, SPREADER),
        "/trials/{id}/sow/tank": (of_sown, TANK),
        "/trials/{id}/sow/tests/{test}": ({**of_sown, "test": new}, test),
        "/trials/{id}/sow/bags/{plot}": ({**of_sown, "plot": bag}, {"packed": True}),
        "/trials/{id}/sow/placed/{plot}": ({**of_sown, "plot": bag}, {"bag": bag}),
        "/trials/{id}/sow/decisions/{decision}": ({**of_sown, "decision": new}, decision),
        "/trials/{id}/sow/sowings/{sowing}": ({**of_sown, "sowing": new}, sowing),
        "/crossing": ({}, {"factors": [{"name": "kill", "levels": ["early", "late"]}]}),
        "/confounding": ({}, {"workspace": str(workspace.id), "treatments": []}),
        "/workspaces/{id}/equipment": ({"id": workspace.id}, {"drill": "3"}),
        "/workspaces/{id}/own-measures": ({"id": workspace.id}, None),
        "/own-measures/try": ({}, {"name": "x", "unit": "", "own": {"fields": [{"name": "Mass"}]}}),
        "/workspaces/{id}/species": ({"id": workspace.id}, None),
        "/workspaces/{id}/species/fit": ({"id": workspace.id}, {"weights": {"weeds": 1}}),
        "/workspaces/{id}/species/mix": ({"id": workspace.id}, {"parts": [{"key": "rye", "share": 100}]}),
        "/workspaces/{id}/species/table.csv": ({"id": workspace.id}, {"file": b"common\nFen lentil\n"}),
        "/workspaces/{id}/species/{key}": ({"id": workspace.id, "key": "lentil"}, {"cells": {"common": "Lentil"}}),
        "/trials/{id}/visits/{visit}": ({**of_trial, "visit": new}, {"name": "v", "measures": []}),
        "/measures/{id}/parts": ({"id": told.measures[0]}, {"parts": [{"name": "Fat hen"}]}),
        "/trials/{id}/visit-series/{series}": (
            {**of_trial, "series": new},
            {
                "name": "v",
                "measures": [walked.measures[0]],
                "dates": ["2026-07-01"],
            },
        ),
        "/visits/{id}": (of_visit, None),
        "/visits/{id}/entries": (of_visit, {"entries": [entry]}),
        "/visits/{id}/notes/{note}": ({**of_visit, "note": new}, {"text": "n"}),
        "/trials/{id}/season": (of_trial, None),
        "/calendars": ({}, {"trial": walked.id}),
        "/calendars/{id}": ({"id": feed.id}, None),
        "/calendars/{token}.ics": ({"token": token_of(feed)}, None),
        "/trials/{id}/log": (of_sown, None),
        "/trials/{id}/log/{entry}": (
            {**of_sown, "entry": noted.id},
            {"kind": "note", "day": "2026-01-02", "text": "n"},
        ),
        "/trials/{id}/log/{entry}/photographs/{photograph}": (
            {**of_sown, "entry": noted.id, "photograph": taken},
            {"file": photograph()},
        ),
        "/photographs/{id}": ({"id": taken}, None),
        "/photographs/{id}/preview": ({"id": taken}, None),
        "/photographs/{id}/cover": ({"id": taken}, None),
        "/photographs/{id}/cover/picture": ({"id": taken}, None),
        "/photographs/{id}/count": ({"id": pictured}, {"marks": [], "corners": WHOLE}),
        "/photographs/{id}/corners": ({"id": pictured}, {"corners": WHOLE}),
        "/photographs/{id}/ruler": ({"id": pictured}, {"ends": [[0, 0], [1, 1]], "length": "50"}),
        "/trials/{id}/plots/{plot}/photographs": ({**of_trial, "plot": walked.unit("101")}, None),
        "/photographs/{id}/straight": ({"id": pictured}, None),
        "/photographs/{id}/suggested-marks": ({"id": pictured}, None),
        "/photographs/{id}/lengths/{length}": (
            {"id": pictured, "length": length.id},
            {"name": "Root", "corners": WHOLE, "ends": [[0, 0], [1, 1]]},
        ),
        "/visits/{id}/photographs": (of_visit, None),
        "/visits/{id}/standing": (of_visit, None),
        "/measures/{id}/threshold": ({"id": walked.measures[0]}, {"threshold": "12"}),
        "/visits/{id}/photographs/{photograph}": (
            {**of_visit, "photograph": pictured},
            {"file": photograph(), "unit": walked.unit("101")},
        ),
        "/trials/{id}/kills": (of_sown, None),
        "/trials/{id}/kill-limit": (of_sown, {"limit_percent": "5"}),
        "/trials/{id}/kills/{operation}/checks": ({**of_sown, "operation": killed.id}, {}),
        "/trials/{id}/kills/{operation}/{day}": (
            {**of_sown, "operation": killed.id, "day": "2026-01-09"},
            {"shares": [{"plot": bag, "percent": "4"}]},
        ),
        "/trials/{id}/kill-windows": (of_sown, None),
        "/trials/{id}/stages": (of_trial, None),
        "/trials/{id}/stages/{stage}": ({**of_sown, "stage": stage.id}, seen),
        "/trials/{id}/weather": (of_trial, None),
        "/trials/{id}/weather/station": (of_trial, {"id": str(new), "name": "Gauge"}),
        "/trials/{id}/weather/days/{day}": ({**of_trial, "day": "2026-01-02"}, {"rain_mm": "1"}),
        "/trials/{id}/weather/file": (of_trial, {"file": b"date,rain (mm)\n2026-01-02,1\n"}),
        "/trials/{id}/weather/fetch": (of_trial, None),
        "/trials/{id}/weather/services/{service}": (
            {**of_trial, "service": service.id},
            {"name": "w", "url": "http://w"},
        ),
        "/trials/{id}/weather/services/{service}/stations": ({**of_trial, "service": service.id}, None),
        "/trials/{id}/operations/{operation}": ({**of_trial, "operation": new}, operation),
        "/trials/{id}/report": ({"id": trial}, None),
        "/jobs/{id}": ({"id": job.id}, None),
        "/jobs/{id}/file": ({"id": job.id}, None),
        "/rehearsals/{id}": ({"id": job.id}, None),
        "/session": ({}, {"units": "us"}),
    }


def asked(method, path, client, workspace, world):
    """The status of one person's request; what it did is gone before the next one asks."""
    with transaction.atomic():
        if path == "/uploads":
            answer = bring(client, workspace, TABLE)
        else:
            ids, body = world.get(path, ({}, None))
            sent = "multipart" if path.endswith(FILES) else "json"
            if sent == "multipart" and method in ("POST", "PUT"):
                body = {**body, "file": SimpleUploadedFile("table.csv", body["file"])}
            answer = getattr(client, method.lower())(f"/api/v1{path.format(**ids)}", body, format=sent)
        if answer.streaming:
            b"".join(answer.streaming_content)  # read to its end, a file is closed
        transaction.set_rollback(True)
    return answer.status_code


def test_role_by_address_by_method(client_of, workspace, world, monkeypatch):
    printed = SimpleNamespace(pages=["one"], copy=lambda pages: None)
    for module in ("page", "stake_out", "labels"):  # who may have a page is asked here; what stands on it elsewhere
        monkeypatch.setattr(f"reports.{module}.document_of", lambda html: printed)
        monkeypatch.setattr(f"reports.{module}.pdf_of", lambda document: b"%PDF")
    clients, found = {who: client_of(who) for who in WHO}, {}
    for method, path in EXPECTED:  # the last one signs out
        for who in WHO:
            if path == "/uploads/{id}/trial":  # accepting lets go of the file, which no transaction brings back
                world[path] = ({"id": bring(client_of("owner"), workspace, TABLE).json()["id"]}, acceptance())
            found.setdefault((method, path), []).append(asked(method, path, clients[who], workspace, world))
    assert {key: tuple(codes) for key, codes in found.items()} == EXPECTED


@pytest.mark.django_db
def test_every_address_of_the_api_is_in_the_table_or_open_on_purpose():
    described = json.loads((Path(__file__).parents[2] / "docs/openapi.json").read_text())
    methods = {(m.upper(), path.removeprefix("/api/v1")) for path, ops in described["paths"].items() for m in ops if m
               in ("get", "post", "put", "patch", "delete")}  # fmt: skip
    assert methods - set(EXPECTED) == {("POST", "/session")}  # signing in
    assert set(EXPECTED) <= methods
    routes = {re.sub(r"\^|\$", "", str(p.pattern)) for p in get_resolver().url_patterns}
    assert {"api/v1/health", "api/v1/schema"} <= routes
    for path in ("health", "schema"):
        assert Client().get(f"/api/v1/{path}").status_code == {"health": 200, "schema": 401}[path]


def test_a_stranger_sees_an_empty_list(client_of, workspace):
    bring_trial(client_of("owner"), workspace, TABLE)
    assert client_of("owner").get("/api/v1/trials").json()["count"] == 1
    assert client_of("stranger").get("/api/v1/trials").json()["count"] == 0


@pytest.mark.django_db
def test_the_page_has_a_content_policy_without_unsafe_anything_and_a_fresh_nonce():
    policies = [Client().get("/trials/any").headers["Content-Security-Policy"] for _ in range(2)]
    assert policies[0] != policies[1]
    assert all("unsafe" not in policy and "default-src 'none'" in policy for policy in policies)


@pytest.mark.django_db
def test_demo_loads_once_and_reads_with_its_troubles(settings):
    settings.CLOCK = "2026-09-18T09:30:00+00:00"
    assert (load(), load()) == (True, False)
    client = Client()
    client.post("/api/v1/session", json.dumps({"email": "maren@harrowfen.example", "password": "demo-of-apercu"}),
                content_type="application/json")  # fmt: skip
    trial = client.get("/api/v1/trials").json()["results"][0]
    whole = client.get(f"/api/v1/trials/{trial['id']}").json()
    assert [t["code"] for t in whole["treatments"]] == ["BS", "WC", "BC", "BO", "OC"]
    assert whole["ends"] == "2026-09-16"
    season = client.get(f"/api/v1/trials/{trial['id']}/season").json()
    assert [v["name"] for v in season["visits"] if v["date"] is None] == ["Soil at planting"]
    reading = client.post(f"/api/v1/trials/{trial['id']}/readings", "{}", content_type="application/json").json()
    found = {(m["name"], d["id"]) for m in reading["measures"] for d in m["doubts"]}
    assert {
        ("Potato yield", "lost-plots"),
        ("Soil nitrate-N", "outlier"),
        ("Weeds", "subsamples-not-replicates"),
    } <= found
    assert not any(m["refusal"] for m in reading["measures"])


def test_nothing_of_another_workspace_can_be_slipped_in_by_its_id(client_of, workspace, world, people):
    """A stranger who knows ids can't tie what is not theirs to what is."""
    stranger = client_of("stranger")
    own = people["stranger"].memberships.get().workspace
    theirs = Trial(client_of("owner"), workspace)
    mine = Trial(stranger, own)
    site = {**page(own), "sites": [{**page(own)["sites"][0], "id": theirs.page["sites"][0]["id"]}]}
    assert stranger.put(f"/api/v1/trials/{uuid.uuid4()}/ask", site, format="json").status_code == 409
    assert stranger.put(f"/api/v1/trials/{theirs.id}/ask", page(own), format="json").status_code == 409
    visit = f"/api/v1/trials/{mine.id}/visits/{theirs.visit}"
    assert stranger.put(visit, {"name": "v", "measures": []}, format="json").status_code == 409
    foreign = {**mine.typed("101", "5"), "unit": theirs.unit("101")}
    assert mine.enter(foreign)[0]["state"] == "refused"
    foreign = {**mine.typed("101", "5"), "measure": theirs.measures[0]}
    assert mine.enter(foreign)[0]["state"] == "refused"
    note = f"/api/v1/visits/{mine.visit}/notes/{uuid.uuid4()}"
    assert stranger.put(note, {"unit": theirs.unit("101"), "text": "x"}, format="json").status_code == 404
    assert {s["name"] for s in stranger.get("/api/v1/sites").json()["results"]} == {"Mill Ground"}
    assert stranger.get("/api/v1/today").json()["due"][0]["trial"] == mine.id
