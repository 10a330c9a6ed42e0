"""Plots that change places by hand: kept with the reason, a doubt in the reading, and never against the design."""

import pytest

from tests.server.asking import PLAN, Trial
from tests.server.bringing import read
from trials.models import Unit

FACTORS = [
    {"name": "kill", "levels": ["early", "late"], "whole_strips": True},
    {"name": "cover", "levels": ["oat", "rye"]},
]
SPLIT = [
    {"id": f"00000000-0000-4000-8000-00000000000{n}", "name": f"{k}, {c}", "levels": {"kill": k, "cover": c}}
    for n, (k, c) in enumerate((k, c) for k in ("early", "late") for c in ("oat", "rye"))
]  # fmt: skip


def swap(trial, first, second, why="stones in it"):
    sent = {"first": trial.unit(first), "second": trial.unit(second), "why": why}
    return trial.client.post(f"/api/v1/trials/{trial.id}/swap", sent, format="json")


def standing(trial):
    units = Unit.objects.filter(season__trial=trial.id, kind="plot").select_related("treatment")
    return {u.label: u.treatment.name for u in units}


def test_two_plots_of_a_block_exchange_treatments_and_the_reading_says_so(owner, workspace):
    trial = Trial(owner, workspace)
    before = standing(trial)
    seen = swap(trial, "101", "103").json()
    after = standing(trial)
    assert (after["101"], after["103"]) == (before["103"], before["101"])
    assert {k: v for k, v in after.items() if k not in ("101", "103")} == {
        k: v for k, v in before.items() if k not in ("101", "103")
    }
    (moved,) = seen["moved"]
    assert (moved["said"], moved["by"]) == ("101 and 103 were swapped (stones in it)", "Owner")
    (doubt,) = [d for d in read(owner, trial.id)["doubts"] if d["id"] == "not-randomised"]
    assert (doubt["title"], doubt["severity"]) == ("Changed by hand", "weakens")
    assert "101 and 103 were swapped (stones in it)" in doubt["finding"]


def test_drawing_the_map_again_gives_chance_the_last_word(owner, workspace):
    trial = Trial(owner, workspace)
    drawn = standing(trial)
    swap(trial, "101", "103")
    seen = trial.plan(**PLAN).json()
    assert (standing(trial), seen["moved"]) == (drawn, [])
    assert not [d for d in read(owner, trial.id)["doubts"] if d["id"] == "not-randomised"]


@pytest.mark.parametrize(
    ("first", "second", "why", "says"),
    [
        ("101", "201", "stones", "101 and 201 don’t lie in one block"),
        ("101", "101", "stones", "hold the same treatment"),
        ("101", "103", "  ", "Give a reason for the swap"),
    ],
)
def test_a_change_that_breaks_the_design_or_has_no_reason_is_refused(owner, workspace, first, second, why, says):
    trial = Trial(owner, workspace)
    before = standing(trial)
    answer = swap(trial, first, second, why)
    assert (answer.status_code, says in answer.json()["detail"]) == (422, True)
    assert standing(trial) == before


def test_in_a_split_plot_places_change_within_a_whole_plot_only(owner, workspace):
    plan = PLAN | {"design": "split_plot", "whole_factor": "kill"}
    trial = Trial(owner, workspace, plan=plan, factors=FACTORS, treatments=SPLIT)
    assert "one whole plot" in swap(trial, "102", "103").json()["detail"]
    before = standing(trial)
    assert swap(trial, "101", "102").status_code == 200
    assert standing(trial)["101"] == before["102"]


def test_in_a_latin_square_no_two_plots_change_places(owner, workspace):
    trial = Trial(owner, workspace, plan=PLAN | {"design": "latin_square"})
    first, *others = sorted(standing(trial))
    other = next(one for one in others if standing(trial)[one] != standing(trial)[first])
    assert "rows and columns" in swap(trial, first, other).json()["detail"]


def test_once_something_is_recorded_plots_keep_their_treatments(owner, workspace):
    trial = Trial(owner, workspace)
    trial.enter(trial.typed("101", "7"))
    answer = swap(trial, "101", "103")
    assert (answer.status_code, "Values are recorded" in answer.json()["detail"]) == (409, True)
