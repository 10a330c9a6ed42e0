"""Long work as jobs: queued once, done by a worker, its progress seen at once, stopped, failed, taken up again."""

import uuid
from datetime import timedelta

import pytest
from django.db import connection

from config import clock
from jobs import running
from jobs.models import Job
from records.models import Observation, Upload
from tests.server.asking import Trial as Trial_
from tests.server.bringing import acceptance, bring
from tests.server.conftest import TABLE
from tests.server.waiting import finished
from trials.models import Trial

pytestmark = pytest.mark.usefixtures("empty_queue")


@pytest.fixture(autouse=True)
def _large(monkeypatch):
    monkeypatch.setattr("records.api.views.MOST_ROWS_AT_ONCE", 5)
    monkeypatch.setattr("records.bring.AT_ONCE", 5)


def queued():
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT args->>'job_id' FROM procrastinate_jobs WHERE task_name = 'jobs.tasks.run_job' ORDER BY id"
        )
        return [row[0] for row in cursor.fetchall()]


def accept(client, upload, accepted):
    return client.post(f"/api/v1/uploads/{upload}/trial", accepted, format="json")


@pytest.fixture
def asked(client_of, workspace):
    """A client, the file, what is accepted, and the first answer."""
    client = client_of("owner")
    upload, accepted = bring(client, workspace, TABLE).json()["id"], acceptance()
    return client, upload, accepted, accept(client, upload, accepted)


def test_a_large_table_is_made_into_a_trial_by_a_job_and_asking_twice_is_one(asked):
    client, upload, accepted, first = asked
    assert (first.status_code, first.json()["trial"]) == (202, accepted["id"])
    assert accept(client, upload, accepted).json() == first.json()
    job = first.json()["job"]
    assert queued() == [job]
    assert client.get(f"/api/v1/jobs/{job}").json()["state"] == "queued"
    assert not Trial.objects.exists()
    running.run(uuid.UUID(job))
    seen = client.get(f"/api/v1/jobs/{job}").json()
    assert (seen["state"], seen["done"], seen["of"], seen["error"]) == ("done", 24, 24, None)
    assert (Trial.objects.get().id, Observation.objects.count()) == (uuid.UUID(accepted["id"]), 24)
    running.run(uuid.UUID(job))  # delivered twice
    again = accept(client, upload, accepted)
    assert (again.status_code, again.json()["trial"], again.json()["job"]) == (201, accepted["id"], None)
    assert (Trial.objects.count(), Observation.objects.count()) == (1, 24)


def test_progress_is_seen_while_the_work_is_not_committed_and_a_stop_undoes_it(asked, monkeypatch):
    client, _, _, first = asked
    url, seen = f"/api/v1/jobs/{first.json()['job']}", []
    handler = running.KINDS["import"].handler

    def watched(by, given, report):
        def report_and_look(done, of):
            seen.append((done, of))
            if done >= 10:
                Job.objects.filter(kind="import").count()  # on the work's own connection
                _from_aside(lambda: seen.append(client.get(url).json()["done"]))
                _from_aside(lambda: client.delete(url))
            report(done, of)

        return handler(by, given, report_and_look)

    monkeypatch.setitem(running.KINDS, "import", running.JobKind(watched, "plan"))
    running.run(uuid.UUID(first.json()["job"]))
    assert seen == [(0, 24), (5, 24), (10, 24), 5]
    assert client.get(url).json()["state"] == "stopped"
    assert not Trial.objects.exists()
    assert Upload.objects.count() == 1  # the file is still there, to be accepted again
    assert client.delete(url).json()["state"] == "stopped"


def _from_aside(act):
    """As another person's request does, on a connection of its own."""
    from threading import Thread

    def acted():
        act()
        connection.close()

    thread = Thread(target=acted)
    thread.start()
    thread.join()


def test_a_job_that_waits_can_be_stopped_and_asked_for_again(asked):
    client, upload, accepted, first = asked
    url = f"/api/v1/jobs/{first.json()['job']}"
    assert client.delete(url).json()["state"] == "stopped"
    running.run(uuid.UUID(first.json()["job"]))
    assert not Trial.objects.exists()
    again = accept(client, upload, accepted).json()["job"]
    assert again != first.json()["job"]
    running.run(uuid.UUID(again))
    assert Trial.objects.count() == 1


def test_what_goes_wrong_stands_with_the_job(client_of, workspace, monkeypatch):
    client = client_of("owner")
    upload = bring(client, workspace, TABLE).json()["id"]
    refused = accept(client, upload, acceptance(control="Mustard")).json()["job"]
    running.run(uuid.UUID(refused))
    seen = client.get(f"/api/v1/jobs/{refused}").json()
    assert (seen["state"], seen["error"]["code"]) == ("failed", "bad-specification")
    assert "isn’t one of the table’s treatments" in seen["error"]["detail"]

    def fail(*_given):
        raise RuntimeError("inside")

    monkeypatch.setitem(running.KINDS, "import", running.JobKind(fail, "plan"))
    fault = accept(client, upload, acceptance()).json()["job"]
    running.run(uuid.UUID(fault))
    seen = client.get(f"/api/v1/jobs/{fault}").json()
    assert (seen["state"], seen["error"]["code"]) == ("failed", "fault")
    assert "inside" not in seen["error"]["detail"]


def test_what_a_dead_worker_left_is_taken_up_again(asked):
    client, _, _, first = asked
    job = Job.objects.get(id=first.json()["job"])
    Job.objects.filter(id=job.id).update(state="running", beat_at=clock.now() - timedelta(minutes=3), done=7)
    assert running.take_up_again() == 1
    assert running.take_up_again() == 0
    assert queued() == [str(job.id)] * 2
    for _ in range(2):
        running.run(job.id)
    assert (Trial.objects.count(), Observation.objects.count()) == (1, 24)
    assert client.get(f"/api/v1/jobs/{job.id}").json()["state"] == "done"


def test_nobody_else_sees_a_job_and_who_may_not_plan_cannot_stop_it(asked, client_of):
    url = f"/api/v1/jobs/{asked[3].json()['job']}"
    assert [client_of(who).get(url).status_code for who in ("technician", "reader", "stranger", "nobody")] == [
        200, 200, 404, 401,
    ]  # fmt: skip
    assert [client_of(who).delete(url).status_code for who in ("technician", "stranger", "nobody")] == [403, 404, 401]


def test_who_only_looks_may_ask_for_a_file_and_stop_that_and_files_are_kept_for_a_day(client_of, workspace, settings):
    trial = Trial_(client_of("owner"), workspace)
    reader, url = client_of("reader"), f"/api/v1/trials/{trial.id}/files"
    asked = reader.post(url, {"file": "package.zip"}, format="json")
    assert reader.post(url, {"file": "package.zip"}, format="json").json()["id"] == asked.json()["id"]
    job = finished(reader, asked)
    assert (job["state"], job["has_file"]) == ("done", True)
    fetched = f"/api/v1/jobs/{job['id']}/file"
    assert [client_of(who).get(fetched).status_code for who in ("reader", "stranger", "nobody")] == [200, 404, 401]
    other = reader.post(url, {"file": "page.pdf"}, format="json").json()
    assert (other["state"], reader.delete(f"/api/v1/jobs/{other['id']}").json()["state"]) == ("queued", "stopped")
    assert reader.get(f"/api/v1/jobs/{other['id']}/file").status_code == 404
    settings.CLOCK = (clock.now() + timedelta(hours=23)).isoformat()
    assert running.remove_files() == 0
    settings.CLOCK = (clock.now() + timedelta(hours=2)).isoformat()
    assert running.remove_files() == 1
    assert reader.get(fetched).status_code == 404


def test_who_asks_again_for_what_is_being_read_gets_it_as_it_is_now(client_of, workspace):
    client = client_of("owner")
    url = f"/api/v1/trials/{Trial_(client, workspace).id}/files"
    ask = lambda: client.post(url, {"file": "package.zip"}, format="json").json()["id"]  # noqa: E731
    first = ask()
    Job.objects.filter(id=first).update(state="running", beat_at=clock.now())
    second = ask()
    assert second != first
    assert ask() == second
    assert queued() == [first, second]


def test_a_rehearsal_that_is_stopped_keeps_the_seasons_that_it_has_read(client_of, workspace, monkeypatch):
    client = client_of("owner")
    trial = Trial_(client, workspace)
    asked = client.post(f"/api/v1/trials/{trial.id}/rehearsals", {"seed": 1, "seasons": 500}, format="json")
    handler, url = running.KINDS["rehearsal"].handler, f"/api/v1/jobs/{asked.json()['id']}"

    def watched(by, given, report):
        def report_and_stop(done, of):
            if done >= 15:
                _from_aside(lambda: client.delete(url))
            report(done, of)

        return handler(by, given, report_and_stop)

    monkeypatch.setitem(running.KINDS, "rehearsal", running.JobKind(watched, "see"))
    job = finished(client, asked)
    assert (job["state"], job["of"]) == ("done", 500)
    found = client.get(f"/api/v1/rehearsals/{job['id']}").json()
    assert found["seasons"] == job["done"] < 500
    assert {sum(c["counts"].values()) for m in found["measures"] for c in m["cells"]} == {found["seasons"]}
