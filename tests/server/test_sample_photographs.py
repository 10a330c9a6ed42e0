"""Photographs of samples: kept with their plot, their green cover as the command has it, and what was counted shown."""

import uuid
from io import BytesIO

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from cover_cli.__main__ import cover_of
from photographs.models import Photograph
from sample_photographs.models import SamplePhotograph
from standins.camera.photograph import photograph
from tests.server.asking import Trial, measure_in

COVER = {"unit": "%", "sheet": "percentage", "catalogue": "green-cover", "direction": "higher", "settings": {}}


@pytest.fixture
def trial(client_of, workspace, settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path
    return Trial(client_of("owner"), workspace, measures=[measure_in("Green cover", **COVER)])


def taken(seed=3, cover=0.4):
    return photograph(seed, "silt", "broad", cover, size=(800, 600))


def send(trial, data, id, label="101", **changes):
    body = {"file": SimpleUploadedFile("frame.jpg", data), "unit": trial.unit(label), "sample": 1, **changes}
    return trial.client.put(f"/api/v1/visits/{trial.visit}/photographs/{id}", body, format="multipart")


def test_a_photograph_is_kept_with_its_plot_once_and_goes_with_its_files(trial, tmp_path):
    id, data = uuid.uuid4(), taken().jpeg
    for _ in range(2):
        answer = send(trial, data, id)
        assert answer.status_code == 200, answer.content
    [shown] = trial.client.get(f"/api/v1/visits/{trial.visit}/photographs").json()
    assert (shown["id"], shown["unit"], shown["sample"], shown["width"]) == (str(id), trial.unit("101"), 1, 800)
    assert send(trial, taken(seed=4).jpeg, id).status_code == 409  # another one under the same id
    assert trial.client.delete(f"/api/v1/visits/{trial.visit}/photographs/{id}").status_code == 204
    assert not Photograph.objects.exists()


def test_its_green_cover_is_the_commands_and_can_be_set_by_hand(trial):
    id, made = uuid.uuid4(), taken()
    send(trial, made.jpeg, id)
    found = trial.client.get(f"/api/v1/photographs/{id}/cover").json()
    assert found["percent"] == pytest.approx(cover_of(made.jpeg).percent, abs=0.5)  # it was kept as JPEG once more
    assert found["percent"] == pytest.approx(made.scene.cover_percent, abs=3)
    assert found["notes"][0].startswith("Weeds count as cover")
    by_hand = trial.client.get(f"/api/v1/photographs/{id}/cover?threshold=0.5").json()
    assert by_hand["threshold"] == 0.5
    assert by_hand["percent"] < found["percent"]
    for wrong in ("3", "soon", "nan"):
        assert trial.client.get(f"/api/v1/photographs/{id}/cover?threshold={wrong}").status_code in (400, 422), wrong


def test_the_picture_keeps_the_colour_of_what_was_counted_and_of_nothing_else(trial):
    id, made = uuid.uuid4(), taken()
    send(trial, made.jpeg, id)
    answer = trial.client.get(f"/api/v1/photographs/{id}/cover/picture")
    shown = np.asarray(Image.open(BytesIO(answer.content)).convert("RGB")).astype(int)
    coloured = (shown.max(axis=-1) - shown.min(axis=-1)) > 30
    percent = trial.client.get(f"/api/v1/photographs/{id}/cover").json()["percent"]
    assert 100 * coloured.mean() == pytest.approx(percent, abs=6)


@pytest.mark.parametrize("data", [b"", b"hello", b"\x89PNG\r\n\x1a\n damaged"])
def test_what_is_no_photograph_is_refused_and_leaves_nothing(trial, data):
    answer = send(trial, data, uuid.uuid4())
    assert answer.status_code in (400, 422), answer.content
    assert not SamplePhotograph.objects.exists()


def test_a_plot_of_another_trial_takes_no_photograph(trial, client_of, workspace):
    other = Trial(client_of("owner"), workspace)
    answer = send(trial, taken().jpeg, uuid.uuid4(), unit=other.unit("101"))
    assert answer.status_code == 422
    assert "doesn’t belong to the visit" in answer.json()["detail"]
    assert not Photograph.objects.exists()
