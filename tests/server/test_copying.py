"""A trial copied for next year: its question alone, with a layout of its own, or carried on on the same plots."""

import uuid

import pytest

from tests.server.asking import Trial
from tests.server.bringing import read
from trials.models import Season, Unit
from trials.models import Trial as TrialRow


@pytest.fixture
def trial(owner, workspace):
    return Trial(owner, workspace, starts="2024-02-29", ends="2024-09-01")


def copied(owner, trial, layout, **changes):
    body = {"id": str(uuid.uuid4()), "name": "Next year", "layout": layout, **changes}
    return owner.post(f"/api/v1/trials/{trial.id}/copy", body, format="json")


def grounds(trial):
    units = Unit.objects.filter(season__trial=trial, kind="plot")
    return {u.label: (u.ground_id, u.ground.x_m, u.ground.y_m, u.treatment.name) for u in units}


def test_without_a_layout_the_question_treatments_and_measures_come_along_a_year_later(owner, trial):
    made = copied(owner, trial, "none").json()
    old = owner.get(f"/api/v1/trials/{trial.id}").json()
    assert (made["plots"], made["plan"]) == ([], None)
    assert (made["starts"], made["ends"]) == ("2025-02-28", "2025-09-01")
    assert [t["name"] for t in made["treatments"]] == [t["name"] for t in old["treatments"]]
    assert not {t["id"] for t in made["treatments"]} & {t["id"] for t in old["treatments"]}
    assert [(m["name"], m["margin"]) for m in made["measures"]] == [(m["name"], m["margin"]) for m in old["measures"]]


def test_a_layout_is_copied_to_its_own_ground_or_carried_on_on_the_same(owner, trial):
    old = grounds(trial.id)
    like = grounds(copied(owner, trial, "copied").json()["id"])
    same_answer = copied(owner, trial, "same-plots").json()
    assert {label: row[1:] for label, row in like.items()} == {label: row[1:] for label, row in old.items()}
    assert not {row[0] for row in like.values()} & {row[0] for row in old.values()}
    assert grounds(same_answer["id"]) == old
    assert same_answer["earlier"][trial.page["sites"][0]["id"]] == [trial.page["name"], "Next year"]
    trial.enter(trial.typed("101", "7"))  # what is recorded now belongs to the old one
    assert owner.get(f"/api/v1/trials/{same_answer['id']}").json()["recorded"] is False
    moved = {"field": {}, "shifts": {"A": [2, 0]}}
    late = owner.put(f"/api/v1/trials/{same_answer['id']}/layout", moved, format="json")
    assert late.status_code == 409  # it would carry the recorded plots along
    assert grounds(trial.id) == old


CROSSED = {"factor": {"name": "nitrogen", "levels": ["0", "60"], "kind": ""}}


@pytest.mark.parametrize(
    ("layout", "how", "more"),
    [
        ("none", "repeats", {}),
        ("copied", "repeats", {}),
        ("same-plots", "continues", {}),
        ("crossed", "crosses", CROSSED),
    ],
)
def test_a_series_names_each_trial_and_what_treatments_and_measures_came_from(owner, trial, layout, how, more):
    made = copied(owner, trial, layout, **more).json()
    assert made["follows"] == {"id": trial.id, "name": trial.page["name"], "how": how}
    assert owner.get(f"/api/v1/trials/{trial.id}").json()["followed_by"] == [
        {"id": made["id"], "name": "Next year", "how": how}
    ]
    row = TrialRow.objects.get(id=made["id"])
    names = [(t.name.removesuffix(", 0").removesuffix(", 60"), t.came_from.name) for t in row.treatments.all()]
    assert len(names) >= 3
    assert all(name == earlier for name, earlier in names)
    assert {str(m.came_from_id) for m in row.measures.all()} == set(trial.measures)


def test_a_copy_of_a_trial_whose_results_were_opened_is_a_trial_that_nobody_has_seen_results_of(owner, trial):
    trial.enter(trial.typed("101", "7"))
    assert owner.post(f"/api/v1/trials/{trial.id}/results", {}, format="json").status_code == 204
    owner.get(f"/api/v1/trials/{trial.id}/stake-out.csv")
    made = copied(owner, trial, "copied").json()
    assert (made["results_opened"], made["recorded"]) == (False, False)
    season = Season.objects.get(trial=made["id"])
    assert (season.results_how, season.reweighed, season.taken_out) == (None, [], [])
    patch = owner.patch(f"/api/v1/measures/{made['measures'][0]['id']}", {"margin": "12"}, format="json")
    assert patch.status_code == 200  # the question may change without a reason


def test_sent_twice_it_is_made_once_and_a_trial_without_plots_has_no_layout(owner, trial):
    made = copied(owner, trial, "none").json()
    assert copied(owner, trial, "none", id=made["id"]).json()["id"] == made["id"]
    empty = copied(owner, Gone(made["id"]), "copied")
    assert "no plots yet" in empty.json()["detail"]
    assert copied(owner, trial, "none", name=" ").status_code == 400


class Gone:
    def __init__(self, id):
        self.id = id


def test_common_trials_come_with_their_treatments_crossed(owner):
    found = {one["key"]: one for one in owner.get("/api/v1/templates").json()}
    kill = found["kill-timing-species"]
    assert [f["whole_strips"] for f in kill["factors"]] == [True, False]
    assert [f["control"] for f in kill["factors"]] == ["", "no cover"]
    bare = [t for t in kill["treatments"] if t["levels"]["cover"] == "no cover"]
    assert [t["name"] for t in bare] == ["early, no cover", "late, no cover"]


NITROGEN = {"name": "nitrogen", "levels": ["0 kg N", "50 kg N"]}


def crossed(owner, trial, **changes):
    return copied(owner, trial, "crossed", **{"factor": NITROGEN, **changes})


def test_a_new_factor_is_drawn_inside_each_old_plot_on_ground_that_remembers(owner, trial):
    old = {u.label: u for u in Unit.objects.filter(season__trial=trial.id, kind="plot").select_related("treatment")}
    made = crossed(owner, trial).json()
    assert (made["design"], made["plan"]["whole_factor"], made["allocation"]) == (
        "split_plot", "earlier treatment", "drawn",
    )  # fmt: skip
    assert [f["levels"] for f in made["factors"]] == [["Bare", "Phacelia", "Common vetch"], ["0 kg N", "50 kg N"]]
    parts = Unit.objects.filter(season__trial=made["id"], kind="plot").select_related("ground", "treatment", "parent")
    assert len(parts) == 24
    for part in parts:
        before = old[part.label[:-1]]
        assert part.ground.part_of_id == before.ground_id
        assert (part.parent.label, part.block) == (before.parent.label + before.label, before.parent.label)
        assert part.treatment.levels["earlier treatment"] == before.treatment.name
        assert (part.ground.x_m, part.ground.length_m) == (before.ground.x_m, before.ground.length_m / 2)
    assert {t["name"] for t in made["treatments"] if t["is_control"]} == {"Bare, 0 kg N", "Bare, 50 kg N"}
    outlook = owner.post(
        f"/api/v1/trials/{made['id']}/outlook",
        {"blocks": 4, "design": "split_plot", "whole_factor": "earlier treatment"}, format="json",
    )  # fmt: skip
    assert len(outlook.json()["measures"][0]["outlook"]["kinds"]) == 4


@pytest.mark.parametrize(
    ("factor", "says"),
    [
        (None, "Name the factor"),
        ({"name": "earlier treatment", "levels": ["a", "b"]}, "another name"),
        ({"name": "N", "levels": ["0"]}, "at least two levels"),
        ({"name": "N", "levels": [str(n) for n in range(12)]}, "Use fewer levels"),
    ],
)
def test_a_factor_that_cannot_be_crossed_is_refused_and_nothing_is_made(owner, trial, factor, says):
    answer = crossed(owner, trial, factor=factor)
    assert (answer.status_code, says in answer.json()["detail"]) == (422, True)
    assert TrialRow.objects.count() == 1


def test_what_the_treatments_left_is_told_by_the_last_reading(owner, trial):
    def left():
        return owner.get(f"/api/v1/trials/{trial.id}/carry-over").json()

    assert left() == {"read": False, "differ": [], "open": [], "even": []}
    level = {"Bare": 40, "Phacelia": 10, "Common vetch": 41}
    for n, unit in enumerate(Unit.objects.filter(season__trial=trial.id, kind="plot").select_related("treatment")):
        frames = (str(level[unit.treatment.name] + n % 3), str(level[unit.treatment.name] + n % 2))
        trial.enter(*(trial.typed(unit.label, text, frame) for frame, text in enumerate(frames, start=1)))
    read(owner, trial.id)
    found = left()
    assert found["read"]
    assert len(found["differ"]) == 1
    assert found["differ"][0].startswith("Weeds: Phacelia had 1")
    assert "weeds/m² less than Bare (" in found["differ"][0]
    assert found["open"] == ["Barley"]  # nothing was harvested


def test_a_rotation_moves_on_by_a_year_when_it_is_carried_on_and_needs_every_phase(owner, workspace):
    crops = ["potato", "barley", "beet"]
    factors = [{"name": "cover", "levels": ["none", "rye"]}, {"name": "starts", "levels": crops, "kind": "phase"}]
    answer = owner.post("/api/v1/crossing", {"factors": factors, "removed": []}, format="json").json()
    assert answer["rotation"][2] == {"starts_with": "beet", "crops": ["beet", "potato", "barley", "beet"]}
    cells = [{"id": str(uuid.uuid4()), **one} for one in answer["treatments"]]
    trial = Trial(owner, workspace, factors=factors, treatments=cells)
    second = copied(owner, trial, "same-plots").json()
    assert (owner.get(f"/api/v1/trials/{trial.id}").json()["rotation_year"], second["rotation_year"]) == (0, 1)
    assert copied(owner, trial, "none").json()["rotation_year"] == 0
    # a plot's name says what stands in it that year, on maps, lists and boards
    first, third = (
        owner.get(f"/api/v1/trials/{trial.id}").json(),
        copied(owner, Gone(second["id"]), "same-plots").json(),
    )
    stands = [{p["label"]: name[p["treatment"]] for p in one["plots"]} for one in (first, second, third)
              for name in [{t["id"]: t["name"] for t in one["treatments"]}]]  # fmt: skip
    for label, name in stands[0].items():
        cover, crop = name.split(", ")
        at = crops.index(crop)
        later = [f"{cover}, {crops[(at + year) % 3]}" for year in (1, 2)]
        assert [stands[1][label], stands[2][label]] == later
    sheet = owner.get(f"/api/v1/trials/{second['id']}/stake-out.csv").content.decode()
    assert all(f'"{name}"' in line for name, line in zip(stands[1].values(), sheet.splitlines()[1:], strict=True))
    assert copied(owner, Gone(third["id"]), "copied").json()["treatments"] != third["treatments"]
    short = trial.ask({**trial.page, "treatments": cells[:-1]})
    assert "rye has no plots that start with beet" in short.json()["detail"]
