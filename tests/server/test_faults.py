"""What isn't anybody's entry: the database away, a fault of ours. Each is a problem that says what to do."""

import json
import logging
import os
import re
from pathlib import Path

import pytest
from django.conf import settings
from django.db import InterfaceError, OperationalError
from django.db.backends.utils import CursorWrapper
from django.test import Client
from rest_framework.test import APIClient

from config import clock
from config.orphans import remove_orphans
from config.requests import Utc, WhoAndWhich
from records.models import Observation, Upload
from tests.server.asking import Trial
from tests.server.bringing import ROLES, bring
from tests.server.conftest import TABLE
from trials.api.views import TrialView


@pytest.mark.parametrize("error", [OperationalError("the connection is closed"), InterfaceError("closed")])
@pytest.mark.parametrize("path", ["/api/v1/trials", "/api/v1/health", "/api/v1/session"])
def test_while_the_database_is_away_requests_are_told_so_and_when_to_come_again(client_of, monkeypatch, error, path):
    client = client_of("owner")
    client.raise_request_exception = False

    def fail(*_given, **_more):
        raise error

    monkeypatch.setattr(CursorWrapper, "execute", fail)
    answer = client.get(path)
    monkeypatch.undo()
    assert (answer.status_code, answer.json()["code"]) == (503, "unavailable")
    assert answer["Content-Type"] == "application/problem+json"
    assert answer["Retry-After"] == "5"


def test_a_fault_of_ours_is_a_problem_without_its_inside(client_of, monkeypatch):
    client = client_of("owner")
    client.raise_request_exception = False

    def fail(*_given, **_more):
        raise RuntimeError("secret inside")

    monkeypatch.setattr(TrialView, "get", fail)
    answer = client.get("/api/v1/trials/00000000-0000-4000-8000-000000000000")
    assert (answer.status_code, answer.json()["code"]) == (500, "fault")
    assert "secret" not in answer.content.decode()


ODD = ["\0", "\ud800", "a\0b", "x\udfffy"]


@pytest.mark.parametrize("odd", ODD)
def test_texts_that_no_database_holds_are_refused_wherever_they_stand(client_of, workspace, odd):
    trial = Trial(client_of("owner"), workspace)
    url, visit = f"/api/v1/trials/{trial.id}", f"/api/v1/visits/{trial.visit}"
    page = trial.page
    first = page["treatments"][0]
    bodies = [
        ("put", f"{url}/ask", {**page, "name": odd}),
        ("put", f"{url}/ask", {**page, "treatments": [{**first, "levels": {odd: odd}}, *page["treatments"][1:]]}),
        ("put", f"{url}/ask", {**page, "measures": [{**page["measures"][0], "settings": {odd: 1}}]}),
        ("post", f"{url}/plan", {"blocks": 4, "width": odd, "length": "10"}),
        ("put", f"{visit}/entries", {"entries": [trial.typed("101", {odd: odd})]}),
        ("put", f"{url}/zones", {"zones": [{"name": odd, "share": 1}], "by_zone": {odd: [odd]}}),
        ("post", f"{url}/rehearsals", {"margins": {odd: 1}, "seed": 1, "seasons": 1}),
    ]
    for method, address, body in bodies:
        text = json.dumps(body)
        answer = getattr(trial.client, method)(address, text, content_type="application/json")
        assert (answer.status_code, answer.json()["code"]) == (400, "parse-error"), address
        assert "can’t be kept" in answer.json()["detail"]


def test_an_address_with_characters_that_no_text_holds_is_refused_while_tries_are_slowed(db, client_of):
    for _ in range(6):
        client_of("nobody").post("/api/v1/session", {"email": "a@b.example", "password": "x"}, format="json")
    odd = client_of("nobody").generic(
        "POST", "/api/v1/session", '{"email": "\\ud800", "password": "x"}', "application/json"
    )
    assert odd.status_code in (400, 422, 429), odd.content


@pytest.mark.parametrize(
    ("entered_at", "sent_at"),
    [
        ("9999-12-31T00:00:00Z", "2020-01-01T00:00:00Z"),
        ("0001-01-01T00:00:00Z", "2030-01-01T00:00:00Z"),
        ("2026-06-24T08:00:00Z", "9999-12-31T00:00:00Z"),
        ("9999-12-31T00:00:00Z", None),
        ("0001-01-01T00:00:00Z", None),
    ],
)
def test_a_time_that_no_clock_shows_is_that_of_coming_in(client_of, workspace, entered_at, sent_at):
    trial = Trial(client_of("owner"), workspace)
    body = {"entries": [trial.typed("101", "7", entered_at=entered_at)], **({"sent_at": sent_at} if sent_at else {})}
    answer = trial.client.put(f"/api/v1/visits/{trial.visit}/entries", body, format="json")
    assert answer.status_code == 200
    kept = Observation.objects.get()
    assert abs(kept.entered_at - kept.received_at).days < 1


@pytest.mark.parametrize("depth", [80, 100_000])
def test_a_request_that_is_too_deep_is_refused(client_of, depth):
    text = '{"a":' + "[" * depth + "]" * depth + "}"
    answer = client_of("owner").post("/api/v1/crossing", text, content_type="application/json")
    assert (answer.status_code, "deep" in answer.json()["detail"]) == (400, True)


@pytest.mark.parametrize("path", ["trials?page=%00", "trials/x%00", "sites?page=%ED%A0%80", "species/%00"])
def test_odd_addresses_are_answered_as_not_there_or_wrong(client_of, path):
    client = client_of("owner")
    client.raise_request_exception = False
    assert client.get(f"/api/v1/{path}").status_code in (400, 404)


@pytest.mark.parametrize("part", ["treatments", "measures"])
def test_ids_of_another_trial_are_refused_and_nothing_of_it_changes(client_of, workspace, part):
    owner = client_of("owner")
    owner.raise_request_exception = False
    other, trial = Trial(owner, workspace), Trial(owner, workspace)
    before = owner.get(f"/api/v1/trials/{other.id}").json()
    stolen = {**trial.page[part][0], "id": before[part][0]["id"]}
    answer = trial.ask({**trial.page, part: [stolen, *trial.page[part][1:]]})
    assert (answer.status_code, answer.json()["code"]) == (409, "id-in-use")
    assert owner.get(f"/api/v1/trials/{other.id}").json()[part] == before[part]


def test_factors_that_make_too_many_combinations_are_refused_at_once(client_of):
    factors = [{"name": f"F{i}", "levels": [str(j) for j in range(20)]} for i in range(6)]
    answer = client_of("owner").post("/api/v1/crossing", {"factors": factors, "removed": []}, format="json")
    assert (answer.status_code, "64,000,000 combinations" in answer.json()["detail"]) == (422, True)


def test_every_kind_of_error_is_a_problem_that_carries_the_id_of_its_request(client_of, workspace, caplog, settings):
    settings.ALLOWED_HOSTS = ["testserver"]
    owner, nobody = client_of("owner"), APIClient()
    nowhere = "00000000-0000-4000-8000-000000000000"
    answers = {
        400: owner.post("/api/v1/crossing", "{", content_type="application/json"),
        401: nobody.get("/api/v1/trials"),
        403: client_of("reader").put(f"/api/v1/workspaces/{workspace.id}/equipment", {"drill": "3"}, format="json"),
        404: owner.get(f"/api/v1/trials/{nowhere}"),
        405: owner.delete("/api/v1/trials"),
        415: owner.post("/api/v1/crossing", "x", content_type="text/plain"),
        422: owner.post("/api/v1/crossing", {"factors": [{"name": "a", "levels": ["x"]}] * 2}, format="json"),
    }
    more = {
        404: owner.get("/api/v1/nothing/of/this"),
        400: owner.get("/api/v1/trials", HTTP_HOST="elsewhere.example"),
        413: owner.post("/api/v1/crossing", json.dumps({"x": "a" * 6_000_000}), content_type="application/json"),
    }
    for status, answer in [*answers.items(), *more.items()]:
        assert (answer.status_code, answer["Content-Type"]) == (status, "application/problem+json"), answer.content
        body = answer.json()
        assert body["request"] == answer["X-Request-Id"]
        assert {"type", "title", "status", "code", "detail"} <= set(body)
    ids = [answer["X-Request-Id"] for answer in [*answers.values(), *more.values()]]
    assert len(set(ids)) == len(ids)


def test_lines_of_the_log_carry_time_person_and_request(client_of, people):
    client = client_of("owner")
    lines = []
    handler = logging.StreamHandler()
    handler.emit = lambda record: handler.filter(record) and lines.append(handler.format(record))
    handler.addFilter(WhoAndWhich())
    handler.setFormatter(Utc(settings.LOGGING["formatters"]["line"]["format"], style="{"))
    log = logging.getLogger("apercu.requests")
    log.addHandler(handler)
    log.setLevel("INFO")
    try:
        answer = client.get("/api/v1/trials")
    finally:
        log.removeHandler(handler)
        log.setLevel("WARNING")
    (line,) = lines
    pattern = (
        r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z INFO apercu\.requests "
        r"person=(\S+) request=(\S+) GET /api/v1/trials 200 \d+ ms"
    )
    person, request = re.fullmatch(pattern, line).groups()
    assert (person, request) == (str(people["owner"].id), answer["X-Request-Id"])


def test_the_schema_says_of_every_operation_that_errors_are_problems():
    described = json.loads((Path(__file__).parents[2] / "docs/openapi.json").read_text())
    operations = [o for path in described["paths"].values() for o in path.values() if isinstance(o, dict)]
    assert operations
    for operation in operations:
        content = operation["responses"]["default"]["content"]
        assert content["application/problem+json"]["schema"]["$ref"] == "#/components/schemas/Problem"


def test_static_files_and_pages_alike_carry_the_safe_headers(db):
    for path in ("/", "/static/index.html", "/api/v1/health"):
        answer = Client().head(path)
        assert "camera=(self)" in answer["Permissions-Policy"]
        assert "microphone=()" in answer["Permissions-Policy"]
        assert "default-src 'none'" in answer["Content-Security-Policy"]
        assert answer["X-Content-Type-Options"] == "nosniff"
        assert answer["X-Frame-Options"] == "DENY"
        assert answer["Referrer-Policy"] == "same-origin"


def test_files_that_belong_to_nothing_are_found_and_removed_and_a_lost_one_is_said(client_of, workspace, settings):
    owner = client_of("owner")
    kept, lost = (bring(owner, workspace, TABLE).json()["id"] for _ in range(2))
    folder = Path(settings.MEDIA_ROOT) / "tables"
    old, young = folder / "old.csv", folder / "young.csv"
    for file in (old, young):
        file.write_text("a,b")
    hours_ago = clock.now().timestamp() - 7200
    os.utime(old, (hours_ago, hours_ago))
    file = Path(Upload.objects.get(id=kept).file.path)
    os.utime(file, (hours_ago, hours_ago))
    assert (file.stat().st_mode & 0o777, folder.stat().st_mode & 0o777) == (0o600, 0o700)
    assert remove_orphans(Upload, "tables", "file") == 1
    assert (old.exists(), young.exists(), file.exists()) == (False, True, True)
    Path(Upload.objects.get(id=lost).file.path).unlink()
    answer = owner.post(f"/api/v1/uploads/{lost}/check", {"roles": ROLES}, format="json")
    assert (answer.status_code, "isn’t on the server any more" in answer.json()["detail"]) == (422, True)
