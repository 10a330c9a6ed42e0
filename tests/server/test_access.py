"""Who may do what: a table of role × address × method, tested whole; sign-in and its throttle; the content policy."""

import json
import re
import uuid
from pathlib import Path

import pytest
from demo.loading import load
from django.test import Client
from django.urls import get_resolver

from records.models import Observation
from tests.server.bringing import ROLES, acceptance, bring, bring_trial
from tests.server.conftest import TABLE
from trials.models import TrialMeasure

WHO = ("owner", "researcher", "technician", "reader", "stranger", "nobody")
PLANNING = (200, 200, 403, 403, 404, 401)
SEEING = (200, 200, 200, 200, 404, 401)
ANYONE = (200, 200, 200, 200, 200, 401)


def made(codes):
    return tuple({200: 201}.get(code, code) for code in codes)


def emptied(codes):
    return tuple({200: 204}.get(code, code) for code in codes)


# What each of WHO gets. A stranger learns nothing, not even that there is something.
EXPECTED = {
    ("GET", "/trials"): ANYONE,
    ("GET", "/trials/{id}"): SEEING,
    ("POST", "/trials/{id}/readings"): SEEING,
    ("POST", "/trials/{id}/answers"): emptied(PLANNING),
    ("PATCH", "/measures/{id}"): PLANNING,
    ("PUT", "/observations/{id}"): (200, 200, 200, 403, 404, 401),
    ("POST", "/uploads"): made(PLANNING),
    ("POST", "/uploads/{id}/check"): SEEING,
    ("POST", "/uploads/{id}/trial"): made(PLANNING),
    ("GET", "/session"): ANYONE,
    ("DELETE", "/session"): emptied(ANYONE),
}


@pytest.fixture
def world(client_of, workspace):
    """What stands in the place of {id}, and what is sent, by address."""
    owner = client_of("owner")
    trial = bring_trial(owner, workspace, TABLE)
    upload = bring(owner, workspace, TABLE).json()["id"]
    old = str(Observation.objects.filter(current=True).first().id)
    return {
        "/trials/{id}": (trial, None),
        "/trials/{id}/readings": (trial, {}),
        "/trials/{id}/answers": (trial, {"doubt": "x", "note": "y"}),
        "/measures/{id}": (TrialMeasure.objects.filter(trial=trial).first().id, {"margin": 2}),
        "/observations/{id}": (uuid.uuid4(), {"replaces": old, "typed": "1", "why": "w"}),
        "/uploads/{id}/check": (upload, {"roles": ROLES}),
        "/uploads/{id}/trial": (upload, acceptance()),
    }


@pytest.mark.parametrize(("method", "path"), list(EXPECTED), ids=lambda value: value)
@pytest.mark.parametrize("who", WHO)
def test_role_by_address_by_method(who, method, path, client_of, workspace, world):
    client = client_of(who)
    if path == "/uploads":
        answer = bring(client, workspace, TABLE)
    else:
        id, body = world.get(path, (None, None))
        answer = getattr(client, method.lower())(f"/api/v1{path.format(id=id)}", body, format="json")
    assert answer.status_code == EXPECTED[method, path][WHO.index(who)]


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


@pytest.fixture
def signing_in(people):
    people["owner"].set_password("a-long-password")
    people["owner"].save()
    return people["owner"]


def sign_in(client, password, **headers):
    body = json.dumps({"email": "Owner@fen.example", "password": password})
    return client.post("/api/v1/session", body, content_type="application/json", **headers)


def test_signing_in_works_in_any_case_of_letters_and_is_throttled_after_five_failures(signing_in):
    assert sign_in(Client(), "a-long-password").status_code == 200
    for _ in range(5):
        assert sign_in(Client(), "wrong").json()["code"] in ("wrong-password", "too-many-tries")
    throttled = sign_in(Client(), "a-long-password")
    assert (throttled.status_code, throttled.json()["code"]) == (429, "too-many-tries")


def test_passwords_are_kept_with_argon2_and_writing_needs_the_csrf_token(signing_in):
    assert signing_in.password.startswith("argon2$argon2id$")
    assert sign_in(Client(enforce_csrf_checks=True), "a-long-password").status_code == 403
    client = Client(enforce_csrf_checks=True)
    client.get("/")
    token = client.cookies["csrftoken"].value
    assert sign_in(client, "a-long-password", HTTP_X_CSRFTOKEN=token).status_code == 200


@pytest.mark.django_db
def test_the_page_has_a_content_policy_without_unsafe_anything_and_a_fresh_nonce():
    policies = [Client().get("/trials/any").headers["Content-Security-Policy"] for _ in range(2)]
    assert policies[0] != policies[1]
    assert all("unsafe" not in policy and "default-src 'none'" in policy for policy in policies)


@pytest.mark.django_db
def test_demo_loads_once_and_reads_with_its_troubles(settings):
    settings.CLOCK = "2026-10-20T09:30:00+00:00"
    assert (load(), load()) == (True, False)
    client = Client()
    client.post("/api/v1/session", json.dumps({"email": "maren@harrowfen.example", "password": "demo-of-apercu"}),
                content_type="application/json")  # fmt: skip
    trial = client.get("/api/v1/trials").json()["results"][0]
    whole = client.get(f"/api/v1/trials/{trial['id']}").json()
    assert [t["code"] for t in whole["treatments"]] == ["BS", "WC", "BC", "BO", "OC"]
    assert whole["ends"] == "2026-10-14"
    assert [v["name"] for v in whole["visits"] if v["date"] is None] == ["Soil in May"]
    reading = client.post(f"/api/v1/trials/{trial['id']}/readings", "{}", content_type="application/json").json()
    found = {(m["name"], d["id"]) for m in reading["measures"] for d in m["doubts"]}
    assert {("Potato yield", "lost-plots"), ("Weeds, June", "outlier"), ("Cover biomass", "outlier")} <= found
    assert not any(m["refusal"] for m in reading["measures"])
