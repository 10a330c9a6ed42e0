"""Counting on photographs: corners, the straightened picture, marks of two people, lengths, who may what."""

import uuid
from io import BytesIO

import numpy as np
import pytest
from PIL import Image, ImageDraw

from sample_photographs.models import PhotoCount, SamplePhotograph
from standins.camera.photograph import Conditions, photograph
from tests.server.asking import Trial
from tests.server.test_sample_photographs import send
from trials.models import TrialMeasure

CORNERS = [[0.25, 0.2], [0.75, 0.2], [0.9, 0.9], [0.1, 0.9]]


@pytest.fixture
def trial(client_of, workspace, settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path
    return Trial(client_of("owner"), workspace)


@pytest.fixture
def shown(trial):
    """A photograph of a grey ground with a frame on it, seen from the side, whose left half is red."""
    image = Image.new("RGB", (800, 600), (90, 90, 90))
    at = [(x * 800, y * 600) for x, y in CORNERS]
    middle = [((at[0][0] + at[1][0]) / 2, at[0][1]), ((at[3][0] + at[2][0]) / 2, at[2][1])]
    ImageDraw.Draw(image).polygon(at, fill=(30, 30, 200))
    ImageDraw.Draw(image).polygon([at[0], middle[0], middle[1], at[3]], fill=(200, 30, 30))
    out = BytesIO()
    image.save(out, "JPEG", quality=95)
    id = uuid.uuid4()
    assert send(trial, out.getvalue(), id).status_code == 200
    return f"/api/v1/photographs/{id}"


def mark(x, y, suggested=False):
    return {"x": x, "y": y, "suggested": suggested}


def counted(client, shown, marks, corners=CORNERS, **changes):
    return client.put(f"{shown}/count", {"marks": marks, "corners": corners, **changes}, format="json")


def test_the_frame_is_straightened_with_the_measure_s_own_size(trial, shown):
    before = trial.client.get(f"{shown}/count").json()
    assert (before["straightened"], before["width"], before["shape"], before["marks"]) == (False, None, 0.75, None)
    assert before["note"].endswith("Counts are taken as of 0.25 m².")
    kept = trial.client.put(f"{shown}/corners", {"corners": CORNERS}, format="json").json()
    assert (kept["straightened"], kept["width"], kept["length"], kept["unit"]) == (True, 50, 50, "cm")  # 0.25 m²
    assert kept["note"] == ""
    picture = Image.open(BytesIO(trial.client.get(f"{shown}/straight").content)).convert("RGB")
    assert picture.size == (1600, 1600)
    pixels = np.asarray(picture).astype(int)
    assert (pixels[40:-40, 40:760, 0] > 150).all()
    assert (pixels[40:-40, 840:-40, 2] > 150).all()
    wide = trial.client.put(f"{shown}/corners", {"corners": CORNERS, "width": "1", "length": "0,5 m"}, format="json")
    assert wide.status_code == 422  # 1 cm
    wide = trial.client.put(f"{shown}/corners", {"corners": CORNERS, "width": "100", "length": "0,5 m"}, format="json")
    assert (wide.json()["width"], wide.json()["length"], wide.json()["shape"]) == (100, 50, 0.5)
    assert wide.json()["note"].startswith("The frame on the picture has 0.5 m², but counts are taken as of 0.25 m².")
    for wrong in (CORNERS[:3], CORNERS[::-1], [[0, 0]] * 4, "frame"):
        assert trial.client.put(f"{shown}/corners", {"corners": wrong}, format="json").status_code in (400, 422)
    assert SamplePhotograph.objects.get().corners == CORNERS


@pytest.mark.parametrize(("width", "sides"), [(None, (31.6228, 31.6228)), (0.5, (50, 20))])
def test_a_frame_of_any_shape_is_the_measure_s_own_and_another_area_is_said(trial, shown, width, sides):
    version = TrialMeasure.objects.get(id=trial.measures[0]).version
    version.settings = {**version.settings, "area": 0.1, **({"frame_width": width} if width else {})}
    version.save()
    own = trial.client.put(f"{shown}/corners", {"corners": CORNERS}, format="json").json()
    assert (own["width"], own["length"], own["note"]) == (pytest.approx(sides[0]), pytest.approx(sides[1]), "")
    other = {"corners": CORNERS, "width": "50", "length": "50"}
    note = trial.client.put(f"{shown}/corners", other, format="json").json()["note"]
    assert note.startswith("The frame on the picture has 0.25 m², but counts are taken as of 0.1 m².")


def test_marks_stay_on_their_plants_when_the_corners_are_set_anew(trial, shown):
    trial.client.put(f"{shown}/corners", {"corners": CORNERS}, format="json")
    first = counted(trial.client, shown, [mark(0.5, 0.5), mark(0.1, 0.9, suggested=True)]).json()
    assert [(round(m["x"], 4), round(m["y"], 4), m["suggested"]) for m in first["marks"]] == [
        (0.5, 0.5, False), (0.1, 0.9, True),
    ]  # fmt: skip
    whole = trial.client.put(f"{shown}/corners", {"corners": None}, format="json").json()
    assert whole["marks"][0]["x"] == pytest.approx(0.5, abs=1e-3)
    assert 0.2 < whole["marks"][0]["y"] < 0.55  # the far half of the frame is shorter on the photograph
    unsaved = {"corners": CORNERS, "marks": [mark(0.5, 0.55)], "were": [[0, 0], [1, 0], [1, 1], [0, 1]]}
    [kept] = trial.client.put(f"{shown}/corners", unsaved, format="json").json()["marks"]
    assert kept["x"] == pytest.approx(0.5, abs=1e-6)  # by hand: the middle line of the frame is that of the photograph
    assert len(PhotoCount.objects.get().marks) == 2  # what isn't saved is carried along and not kept
    back = trial.client.put(f"{shown}/corners", {"corners": CORNERS}, format="json").json()
    assert [(round(m["x"], 3), round(m["y"], 3)) for m in back["marks"]] == [(0.5, 0.5), (0.1, 0.9)]


def test_a_second_person_counts_without_seeing_the_first_and_is_then_told_how_far_both_agree(trial, shown, client_of):
    recorder = client_of("technician")
    counted(trial.client, shown, [mark(0.2, 0.2), mark(0.5, 0.5), mark(0.8, 0.8)])
    [other] = recorder.get(f"{shown}/count").json()["others"]
    assert (other["number"], other["agreement"], other["marks"]) == (None, None, [])
    mine = counted(recorder, shown, [mark(0.205, 0.2), mark(0.5, 0.6)]).json()
    [other] = mine["others"]
    assert (other["number"], len(other["marks"])) == (3, 3)
    assert other["agreement"].startswith("40 % of the marks agree: 1 are marked in both counts")
    again = counted(recorder, shown, [mark(0.2, 0.2), mark(0.5, 0.5), mark(0.8, 0.8)]).json()
    assert again["others"][0]["agreement"] == "Both counts mark the same 3."
    assert PhotoCount.objects.count() == 2
    assert counted(trial.client, shown, [mark(0.2, 0.2)], component="Fat hen").json()["others"] == []


def test_lengths_need_a_frame_of_known_size_and_are_in_the_reader_s_unit(trial, shown, client_of):
    id = uuid.uuid4()
    body = {"name": "Root", "corners": CORNERS, "ends": [[0.2, 0.5], [0.8, 0.5]]}
    refused = trial.client.put(f"{shown}/lengths/{id}", body, format="json")
    assert refused.status_code == 422
    assert "Mark the corners" in refused.json()["detail"]
    trial.client.put(f"{shown}/corners", {"corners": CORNERS, "width": "50", "length": "40"}, format="json")
    for _ in range(2):
        [kept] = trial.client.put(f"{shown}/lengths/{id}", body, format="json").json()["lengths"]
    assert (kept["name"], kept["length"]) == ("Root", pytest.approx(30, abs=0.01))
    assert client_of("reader").put(f"{shown}/lengths/{id}", body, format="json").status_code == 403
    assert trial.client.delete(f"{shown}/lengths/{id}").json()["lengths"] == []


def test_a_ruler_gives_the_scale_of_the_whole_photograph(trial, shown):
    ruler = {"ends": [[0.1, 0.5], [0.6, 0.5]], "length": "20"}  # 400 of 800 pixels
    kept = trial.client.put(f"{shown}/ruler", ruler, format="json").json()
    assert (kept["straightened"], kept["width"], kept["length"]) == (False, pytest.approx(40), pytest.approx(30))
    whole = [[0, 0], [1, 0], [1, 1], [0, 1]]
    body = {"name": "Root", "corners": whole, "ends": [[0.5, 0.2], [0.5, 0.7]]}
    [root] = trial.client.put(f"{shown}/lengths/{uuid.uuid4()}", body, format="json").json()["lengths"]
    assert root["length"] == pytest.approx(15, abs=0.01)
    for wrong in ({**ruler, "length": "0"}, {**ruler, "ends": [[0.1, 0.1], [0.1, 0.1]]}, {**ruler, "length": "long"}):
        assert trial.client.put(f"{shown}/ruler", wrong, format="json").status_code in (400, 422)
    [of_visit] = trial.client.get(f"/api/v1/visits/{trial.visit}/photographs").json()
    [of_plot] = trial.client.get(f"/api/v1/trials/{trial.id}/plots/{trial.unit('101')}/photographs").json()
    assert of_plot == of_visit
    assert of_plot["size_m"] == [pytest.approx(0.4), pytest.approx(0.3)]
    assert (of_plot["visit_name"], of_plot["straightened"]) == ("Weeds in June", False)
    assert trial.client.get(f"/api/v1/trials/{trial.id}/plots/{trial.unit('102')}/photographs").json() == []


def test_marks_are_suggested_and_a_missing_file_is_said(trial, tmp_path):
    made = photograph(5, "clay", "small", 0.02, conditions=Conditions())
    id = uuid.uuid4()
    send(trial, made.jpeg, id)
    found = trial.client.get(f"/api/v1/photographs/{id}/suggested-marks").json()
    assert len(found["marks"]) == pytest.approx(len(made.scene.plants), rel=0.2)
    assert all(one["suggested"] for one in found["marks"])
    assert "Check every mark" in found["note"]
    assert not PhotoCount.objects.exists()
    for file in tmp_path.rglob("*.jpg"):
        file.unlink()
    for what in ("suggested-marks", "straight"):
        gone = trial.client.get(f"/api/v1/photographs/{id}/{what}")
        assert gone.status_code == 404
