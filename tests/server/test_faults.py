"""What isn't anybody's entry: the database away, a fault of ours. Each is a problem that says what to do."""

import pytest
from django.db import InterfaceError, OperationalError
from django.db.backends.utils import CursorWrapper

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
