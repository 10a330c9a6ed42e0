"""Many treatments in incomplete blocks, through the API: proposed, drawn, looked at, rehearsed, changed and read."""

import io
import json
import uuid
import zipfile

import pytest

from tests.server.asking import PLAN, YIELD, Trial, measure_in
from tests.server.bringing import read
from tests.server.test_readings_of_designs import HEIGHT, grow
from tests.server.test_swapping import standing, swap
from tests.server.waiting import file_of, rehearsed

MANY = [{"id": str(uuid.uuid4()), "name": "Bare", "is_control": True},
        *({"id": str(uuid.uuid4()), "name": f"Cover {n}"} for n in range(1, 12))]  # fmt: skip
DESIGN = {"blocks": 4, "design": "incomplete_block", "block_size": "4"}


@pytest.fixture
def trial(owner, workspace):
    return Trial(owner, workspace, plan={**PLAN, **DESIGN}, treatments=MANY, measures=[measure_in("Barley", **YIELD)])


def outlook(trial, **changes):
    return trial.client.post(f"/api/v1/trials/{trial.id}/outlook", {**DESIGN, **changes}, format="json").json()


def test_they_are_proposed_for_twelve_treatments_with_a_size_and_drawn_as_asked(trial, owner):
    page = owner.get(f"/api/v1/trials/{trial.id}").json()
    assert (page["proposal"]["design"], page["proposal"]["block_size"]) == ("incomplete_block", 4)
    assert page["plan"]["block_size"] == 4
    inside = {}
    for plot in page["plots"]:
        inside.setdefault(plot["incomplete_block"], set()).add((plot["block"], plot["treatment"]))
    assert sorted(inside) == sorted(f"{b}{n}" for b in "ABCD" for n in (1, 2, 3))
    assert {len(held) for held in inside.values()} == {4}
    for replicate in "ABCD":
        held = [t for name, plots in inside.items() for b, t in plots if b == replicate]
        assert sorted(held) == sorted(t["id"] for t in MANY)
    usual = {**PLAN, **DESIGN, "block_size": None, "seed": 12}
    assert trial.plan(**usual).json()["plan"]["block_size"] == 4
    refused = trial.plan(**{**usual, "block_size": 9})
    assert (refused.status_code, "they have 2 to 6" in refused.json()["detail"]) == (422, True)


def test_the_outlook_says_how_replicates_are_parted_and_whether_that_brings_anything(trial):
    found = outlook(trial, whole_share=1)
    assert (found["plots"], found["per_block"]) == (48, 12)
    assert found["incomplete"]["sizes"] == [4, 4, 4]
    assert found["incomplete"]["efficiency"] == pytest.approx(0.793, abs=0.001)
    seen = found["measures"][0]
    assert seen["outlook"]["detectable"] < seen["in_complete_blocks"]
    assert [c["runs"] for c in seen["outlook"]["chances"]] == [10_000] * 3
    curve = [point["detectable"] for point in seen["curve"]]
    assert curve == sorted(curve, reverse=True)
    even = outlook(trial, whole_share=0)["measures"][0]
    assert even["outlook"]["detectable"] > even["in_complete_blocks"]
    assert outlook(trial, design="rcbd", block_size=None)["measures"][0]["in_complete_blocks"] is None


def test_a_planned_test_counts_replicates_and_a_rehearsal_reads_them(owner, workspace):
    barley = measure_in("Barley", **{**YIELD, "planned": "equivalence"})
    trial = Trial(owner, workspace, plan={**PLAN, **DESIGN}, treatments=MANY, measures=[barley])
    planned = outlook(trial, whole_share=0.5)["measures"][0]["planned"]
    assert 0 < planned["chance_at_half"] < planned["chance"] < 1
    assert planned["blocks"] > 4
    body = {"margins": {MANY[3]["id"]: 6}, "seed": 3, "seasons": 3, "lost": ["101"]}
    done = rehearsed(owner, trial.id, **body)
    counts = {cell["treatment"]: cell["counts"] for cell in done["measures"][0]["cells"]}
    assert counts[MANY[3]["id"]] == {"clear-gain": 3}


def test_plots_change_places_within_an_incomplete_block_only(trial):
    assert "one incomplete block" in swap(trial, "104", "105").json()["detail"]
    before = standing(trial)
    assert swap(trial, "101", "104").status_code == 200
    assert standing(trial)["101"] == before["104"]


def test_the_board_says_its_model_and_the_package_keeps_the_blocks(owner, workspace):
    trial = Trial(owner, workspace, plan={**PLAN, **DESIGN}, treatments=MANY, measures=[measure_in(**HEIGHT)])
    grow(owner, trial.id, trial.page["sites"][0])
    shown = read(owner, trial.id)["measures"][0]
    assert "treatments and replicates fixed, incomplete blocks random" in shown["full"]["model"]
    assert {part["label"] for part in shown["full"]["variance_components"]} == {
        "between incomplete blocks", "between plots",
    }  # fmt: skip
    assert "Replicates" in {line["label"] for line in shown["full"]["anova"]}
    package = io.BytesIO(file_of(owner, trial.id, "package.zip").content)
    with zipfile.ZipFile(package) as files:
        plan = json.loads(files.read("trial.json"))["plan"]
    assert {one["incomplete_block"] for one in plan["plots"]} == {f"{b}{n}" for b in "ABCD" for n in (1, 2, 3)}
    package.seek(0)
    package.name = "package.zip"
    asked = {"file": package, "workspace": str(workspace.id)}
    answer = owner.post("/api/v1/uploads", asked, format="multipart")
    assert (answer.status_code, "holds a trial in incomplete blocks" in answer.json()["detail"]) == (422, True)
    assert file_of(owner, trial.id, "page.pdf").content.startswith(b"%PDF-")
