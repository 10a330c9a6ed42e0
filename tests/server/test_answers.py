"""What the server answers when something isn't as it should be, and what it serves to anyone."""

import json

import pytest
from django.test import Client
from rest_framework.test import APIClient

from readings.models import Reading
from records.models import Upload
from tests.server.bringing import ROLES, bring, bring_trial, look, read
from tests.server.conftest import TABLE


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "code"),
    [
        ("get", "trials/6f0f7f0e-0000-4000-8000-000000000000", None, 404, "not-found"),
        ("put", "trials", {}, 405, "method-not-allowed"),
        ("get", "trials?page=99", None, 404, "not-found"),
        ("post", "uploads", {"file": "text"}, 415, "unsupported-media-type"),
    ],
)
def test_every_error_is_a_problem_with_a_code_and_a_sentence(client_of, workspace, method, path, body, status, code):
    answer = getattr(client_of("owner"), method)(f"/api/v1/{path}", body, format="json")
    assert (answer.status_code, answer["Content-Type"]) == (status, "application/problem+json")
    assert (answer.json()["code"], answer.json()["status"]) == (code, status)
    assert answer.json()["detail"].endswith(".")


def test_a_body_that_is_not_json_is_said_to_be_so(client_of, workspace):
    client = client_of("owner")
    trial = bring_trial(client, workspace, TABLE)
    answer = client.generic("POST", f"/api/v1/trials/{trial}/readings", "{nonsense", content_type="application/json")
    assert (answer.status_code, answer.json()["code"]) == (400, "parse-error")


@pytest.mark.django_db
@pytest.mark.parametrize("path", ["/", "/trials/x/read", "/bring", "/anything/else"])
def test_pages_of_the_interface_are_served_at_any_depth(path):
    answer = Client().get(path)
    assert (answer.status_code, answer.headers["Content-Type"]) == (200, "text/html; charset=utf-8")
    assert "no-store" in answer.headers["Cache-Control"]
    assert "csrftoken" in answer.cookies


@pytest.mark.django_db
@pytest.mark.parametrize("path", ["/api/v1/nothing", "/static/nothing.js", "/api/v2/trials"])
def test_addresses_of_programs_never_answer_with_the_page(path):
    assert Client().get(path).status_code == 404


@pytest.mark.django_db
def test_health_is_open_and_the_description_of_the_api_is_not():
    assert Client().get("/api/v1/health").json() == {"status": "ok"}
    assert Client().get("/api/v1/schema").status_code == 401


def test_lists_are_paged_capped_and_in_a_total_order(client_of, workspace):
    client = client_of("owner")
    made = [bring_trial(client, workspace, TABLE) for _ in range(3)]
    first = client.get("/api/v1/trials?page_size=2").json()
    second = client.get("/api/v1/trials?page_size=2&page=2").json()
    assert (first["count"], len(first["results"]), len(second["results"])) == (3, 2, 1)
    assert [t["id"] for t in first["results"] + second["results"]] == made[::-1]
    assert client.get("/api/v1/trials?page_size=9999").status_code == 200


def test_files_that_were_brought_have_no_address(client_of, workspace):
    client = client_of("owner")
    bring(client, workspace, TABLE)
    kept = Upload.objects.get()
    assert kept.name == "table.csv"
    assert str(kept.id) in kept.file.name
    for path in (f"/uploads/{kept.file.name}", f"/media/{kept.file.name}", f"/static/{kept.file.name}"):
        assert client.get(path).content != TABLE.encode()
        assert b"43.6" not in client.get(path).content


def test_a_kept_reading_holds_all_that_its_result_was_made_of(client_of, workspace):
    client = client_of("owner")
    trial = bring_trial(client, workspace, TABLE)
    how = {"method": "sidak", "alpha": 0.1}
    client.post(f"/api/v1/trials/{trial}/results", how, format="json")
    shown = look(client, trial, **how)
    kept = Reading.objects.get(identity=shown["identity"])
    assert kept.asked["how"] == {
        "method": "sidak", "alpha": 0.1, "block_effect": "fixed", "df_method": "kenward_roger"
    }  # fmt: skip
    assert kept.given[shown["measures"][0]["id"]]["1"] == [40.1]
    assert kept.fingerprint == shown["fingerprint"]
    json.dumps(kept.result, allow_nan=False)


def test_a_reading_of_lost_and_equal_values_is_still_valid_json(client_of, workspace):
    client = client_of("owner")
    text = "\n".join(
        line if i == 0 else ",".join([*line.split(",")[:3], "40", "" if i % 2 else "3"])
        for i, line in enumerate(TABLE.strip().splitlines())
    )
    trial = bring_trial(client, workspace, text + "\n")
    reading = read(client, trial)
    assert [bool(m["refusal"]) for m in reading["measures"]] == [True, True]
    assert {c["verdict"] for m in reading["measures"] for c in m["cells"]} == {"no-answer"}
    assert all(c["reason"] for m in reading["measures"] for c in m["cells"])


def test_roles_that_leave_no_value_are_refused_at_their_place(client_of, workspace):
    client = client_of("owner")
    upload = bring(client, workspace, TABLE).json()
    roles = {**ROLES, "Yield (t/ha)": "ignore", "Weeds": "ignore"}
    answer = client.post(f"/api/v1/uploads/{upload['id']}/check", {"roles": roles}, format="json").json()
    assert answer["refusal"] == "No column is marked as a value. Mark at least one: what was measured."
    bad = client.post(f"/api/v1/uploads/{upload['id']}/check", {"roles": {"Plot": "boss"}}, format="json")
    assert bad.json()["errors"][0]["where"] == "roles.Plot"


@pytest.mark.django_db
def test_an_unknown_person_and_a_wrong_password_get_the_same_answer(people):
    answers = [
        APIClient().post("/api/v1/session", {"email": email, "password": "x"}, format="json")
        for email in ("owner@fen.example", "nobody@fen.example")
    ]
    same = [{key: value for key, value in answer.json().items() if key != "request"} for answer in answers]
    assert same[0] == same[1]
    assert answers[0].status_code == 401
