"""Helpers that bring a table through the API, as the page does."""

import uuid

from django.core.files.uploadedfile import SimpleUploadedFile

ROLES = {"Block": "block", "Plot": "plot", "Cover": "treatment", "Yield (t/ha)": "value", "Weeds": "value"}


def bring(client, workspace, text, name="table.csv"):
    data = text if isinstance(text, bytes) else text.encode()
    file = SimpleUploadedFile(name, data, "text/csv")
    return client.post("/api/v1/uploads", {"file": file, "workspace": str(workspace.id)}, format="multipart")


def acceptance(**changes):
    return {
        "id": str(uuid.uuid4()),
        "name": "Brought",
        "roles": ROLES,
        "answers": {},
        "control": "Bare",
        "allocation": "drawn",
        "measures": [
            {"column": "Yield (t/ha)", "name": "Yield", "unit": "t/ha", "margin": 1.0, "margin_kind": "absolute",
             "direction": "higher", "planned": "none"},
            {"column": "Weeds", "name": "Weeds", "unit": "1/m²", "margin": 10, "margin_kind": "percent",
             "direction": "lower", "planned": "none"},
        ],
        **changes,
    }  # fmt: skip


def bring_trial(client, workspace, text, **changes):
    """The id of a trial made of the text."""
    upload = bring(client, workspace, text).json()
    answer = client.post(f"/api/v1/uploads/{upload['id']}/trial", acceptance(**changes), format="json")
    assert answer.status_code == 201, answer.content
    return answer.json()["trial"]


def read(client, trial, **how):
    """Open the results, as somebody who may does before anybody sees them, and look at them."""
    client.post(f"/api/v1/trials/{trial}/results", {}, format="json")
    return look(client, trial, **how)


def look(client, trial, **how):
    return client.post(f"/api/v1/trials/{trial}/readings", how, format="json").json()
