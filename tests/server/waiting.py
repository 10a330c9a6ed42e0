"""Jobs done at once, as a worker would, for tests of what comes of them."""

import uuid

from jobs import running


def finished(client, answer):
    """What `GET /jobs/{id}` says of the job that was asked for, once a worker has done it."""
    assert answer.status_code == 202, answer.content
    running.run(uuid.UUID(answer.json()["id"]))
    return client.get(f"/api/v1/jobs/{answer.json()['id']}").json()


def file_of(client, trial, file, **options):
    """The answer that brings the file."""
    job = finished(client, client.post(f"/api/v1/trials/{trial}/files", {"file": file, **options}, format="json"))
    assert job["state"] == "done", job
    return client.get(f"/api/v1/jobs/{job['id']}/file", HTTP_ACCEPT="text/html")


def rehearsed(client, trial, **truth):
    """The rehearsal, or its job where that failed."""
    asked = client.post(f"/api/v1/trials/{trial}/rehearsals", truth, format="json")
    job = finished(client, asked)
    return client.get(f"/api/v1/rehearsals/{job['id']}").json() if job["state"] == "done" else job
