"""Factors become treatments, treatments a design, a design a map that is staked out, rehearsed and read."""

import csv
import io
import json
import uuid
from itertools import pairwise

import pytest

from apercu_core.design.plan_file import draw_plan, read_plan
from tests.server.asking import PLAN, Trial, site_in
from tests.server.bringing import read as read_trial_of
from tests.server.waiting import file_of, rehearsed
from trials.models import Season, Unit

FACTORS = [
    {"name": "kill", "levels": ["early", "late"], "whole_strips": True},
    {"name": "cover", "levels": ["vetch", "black oat", "phacelia"], "whole_strips": False},
]
SPLIT = {**PLAN, "design": "split_plot", "whole_factor": "kill"}


def cross(client, factors=FACTORS, removed=()):
    return client.post("/api/v1/crossing", {"factors": factors, "removed": list(removed)}, format="json")


def treatments_of(client, factors=FACTORS):
    made = cross(client, factors).json()["treatments"]
    bare = {"id": str(uuid.uuid4()), "name": "bare", "is_control": True}
    return [bare, *({"id": str(uuid.uuid4()), **one} for one in made)]


@pytest.fixture
def split(owner, workspace):
    return Trial(owner, workspace, plan=SPLIT, factors=FACTORS, treatments=treatments_of(owner))


def test_factors_cross_to_treatments_without_what_cannot_be(owner, people):
    made = cross(owner, removed=[{"levels": {"kill": "late", "cover": "phacelia"}, "why": "frost"}]).json()[
        "treatments"
    ]
    assert [t["name"] for t in made] == ["early, vetch", "early, black oat", "early, phacelia", "late, vetch",
                                         "late, black oat"]  # fmt: skip
    assert made[1]["levels"] == {"kill": "early", "cover": "black oat"}
    refused = cross(owner, [{"name": "kill", "levels": ["early"]}])
    assert refused.status_code == 422
    assert "at least two" in refused.json()["detail"]


def test_the_split_plot_of_the_server_is_the_one_the_core_draws(split):
    plots = Unit.objects.filter(season__trial=split.id, kind="plot").order_by("order").select_related("parent__parent")
    raw = {
        "design": "split_plot", "blocks": 4, "seed": 11, "whole_plot_factor": "kill", "control": "bare",
        "factors": {f["name"]: f["levels"] for f in FACTORS}, "plot_width_m": 3, "plot_length_m": 10, "alley_m": 2,
        "gap_m": 0.5,
    }  # fmt: skip
    asked = read_plan(raw)
    names = {t.name: t.name.replace(":", ", ") for t in asked.treatments}
    # the server lists the control first, as the map's colours do
    ordered = (asked.treatments[-1], *asked.treatments[:-1])
    drawn = draw_plan(type(asked)(**{**{f: getattr(asked, f) for f in asked.__slots__}, "treatments": ordered}))
    assert [(u.label, u.treatment.name, u.parent.label) for u in plots] == [
        (str(one.plot.number), names[one.plot.treatment], f"{chr(64 + one.plot.block)}{one.plot.whole_plot}")
        for one in drawn
    ]
    assert [(u.ground.x_m, u.ground.y_m) for u in plots] == [(one.place.x, one.place.y) for one in drawn]
    assert {u.block for u in plots} == {"A", "B", "C", "D"}


def test_the_trial_says_which_design_its_factors_ask_for_and_why(split, owner):
    trial = owner.get(f"/api/v1/trials/{split.id}").json()
    assert (trial["proposal"]["design"], trial["proposal"]["whole_factor"]) == ("split_plot", "kill")
    assert "Kill needs whole strips" in trial["proposal"]["why"]
    assert (trial["plan"]["design"], trial["plan"]["draws"]) == ("split_plot", 1)
    assert [p["whole_plot"] for p in trial["plots"][:4]] == ["A1", "A1", "A1", "A2"]


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"design": "split_plot", "whole_factor": ""}, "needs factors"),
        ({"design": "split_plot", "whole_factor": "rate"}, "'rate', isn’t a factor"),
        ({"design": "strip_plot", "whole_factor": "kill", "column_factor": "cover"}, "hold a control outside"),
        ({"design": "paired_strips"}, "compare two treatments; there are 7"),
        ({"constraints": [{"kind": "not-at-the-edge", "treatments": ["bare", "early, vetch", "late, vetch",
          "early, phacelia", "late, phacelia", "early, black oat"]}]}, "at most 5 don’t stand at its ends"),
    ],
)  # fmt: skip
def test_a_design_that_cannot_be_drawn_is_refused_and_the_map_stays(split, changes, says):
    before = list(Unit.objects.filter(season__trial=split.id).values_list("id", flat=True))
    refused = split.plan(**{**SPLIT, "design": "rcbd", "whole_factor": "", **changes})
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert list(Unit.objects.filter(season__trial=split.id).values_list("id", flat=True)) == before


def test_a_control_inside_the_crossing_is_told_where_two_things_change_at_once(owner, workspace):
    inside = treatments_of(owner)[1:]
    inside[0]["is_control"] = True
    trial = Trial(owner, workspace, plan=SPLIT, factors=FACTORS, treatments=inside)
    said = owner.get(f"/api/v1/trials/{trial.id}").json()["two_things"]
    assert "late, black oat and late, phacelia differ from early, vetch in kill and cover at once" in said
    reading = read_trial_of(owner, trial.id)
    assert "two-things-changed" in [doubt["id"] for doubt in reading["doubts"]]


def test_every_draw_is_logged_and_constraints_are_kept(split):
    kept = [{"kind": "not-behind-itself", "treatments": [], "most": 1}]
    again = split.plan(**{**PLAN, "design": "rcbd", "constraints": kept, "seed": 12}).json()
    assert again["plan"]["constraints"] == kept
    assert [draw["seed"] for draw in Season.objects.get(trial=split.id).draws] == [11, 12]
    columns = {}
    for plot in again["plots"]:
        columns.setdefault(plot["x"], []).append(plot["treatment"])
    assert all(a != b for stack in columns.values() for a, b in pairwise(stack))


def test_the_outlook_of_a_split_plot_has_four_kinds_a_curve_and_simulated_chances(split, owner):
    body = {"blocks": 4, "design": "split_plot", "whole_factor": "kill", "whole_share": 0.5}
    found = owner.post(f"/api/v1/trials/{split.id}/outlook", body, format="json").json()
    assert (found["plots"], found["per_block"]) == (36, 9)
    seen = found["measures"][1]
    kinds = seen["outlook"]["kinds"]
    assert [k["name"] for k in kinds] == [
        "levels of kill, over all cover", "levels of cover, over all kill", "levels of cover within one kill",
        "treatments in different kill",
    ]  # fmt: skip
    assert kinds[0]["df"] == 3
    assert [c["runs"] for c in seen["outlook"]["chances"]] == [10_000] * 3
    found = [point["detectable"] for point in seen["curve"]]
    assert found == sorted(found, reverse=True)
    worse = owner.post(f"/api/v1/trials/{split.id}/outlook", {**body, "whole_share": 3}, format="json").json()
    assert worse["measures"][1]["outlook"]["detectable"] > 2 * seen["outlook"]["detectable"]


def test_a_crossing_with_gaps_is_looked_at_and_rehearsed_like_a_whole_one(owner, workspace):
    treatments = [t for t in treatments_of(owner) if t["name"] != "late, phacelia"]
    trial = Trial(owner, workspace, plan=SPLIT, factors=FACTORS, treatments=treatments)
    body = {"blocks": 4, "design": "split_plot", "whole_factor": "kill"}
    seen = owner.post(f"/api/v1/trials/{trial.id}/outlook", body, format="json").json()
    assert seen["plots"] == 4 * (3 + 2 + 3)
    chances = seen["measures"][1]["outlook"]["chances"]
    clear = [c["clear_right"] for c in chances]
    assert clear == sorted(clear)
    assert chances[0]["clear_right"] < 0.05
    assert rehearsed(owner, trial.id, seed=1, seasons=1)["seasons"] == 1


def test_a_rehearsal_counts_the_verdicts_of_the_code_that_reads(split, owner):
    late = next(t["id"] for t in split.page["treatments"] if t["name"] == "late, vetch")
    body = {"margins": {late: 9}, "seed": 3, "seasons": 4, "lost": ["101"], "whole_share": 0.3}
    done = rehearsed(owner, split.id, **body)
    barley = next(m for m in done["measures"] if m["name"] == "Barley")
    counts = {cell["treatment"]: cell["counts"] for cell in barley["cells"]}
    assert counts[late] == {"clear-gain": 4}
    assert all(sum(c.values()) == 4 for c in counts.values())
    assert rehearsed(owner, split.id, **body) == done
    wrong = owner.post(f"/api/v1/trials/{split.id}/rehearsals", {**body, "lost": ["999"]}, format="json")
    assert "no plot 999" in wrong.json()["detail"]


def test_a_split_plot_is_read_by_whole_plots_and_its_package_is_not_brought_back_as_single_plots(split, owner):
    split.enter(*(
        split.typed(u.label, {"mass": str(50 + 3 * i % 7), "moisture": "14", "area": "60"}, measure=1)
        for i, u in enumerate(Unit.objects.filter(season__trial=split.id, kind="plot"))
    ))  # fmt: skip
    reading = read_trial_of(owner, split.id)
    barley = next(m for m in reading["measures"] if m["name"] == "Barley")
    assert [c["name"] for c in barley["full"]["variance_components"]] == ["block", "whole_plot", "residual"]
    package = file_of(owner, split.id, "package.zip").content
    file = io.BytesIO(package)
    file.name = "package.zip"
    answer = owner.post("/api/v1/uploads", {"file": file, "workspace": split.page["workspace"]}, format="multipart")
    assert answer.status_code == 422
    assert "holds a split plot" in answer.json()["detail"]


def test_the_map_goes_out_as_list_outlines_labels_and_page(split, owner):
    rows = list(csv.DictReader(io.StringIO(owner.get(f"/api/v1/trials/{split.id}/stake-out.csv").content.decode())))
    assert len(rows) == 36
    assert (rows[1]["across_from_m"], rows[1]["across_to_m"], rows[1]["along_to_m"]) == ("3.5", "6.5", "10.0")
    assert {r["kill"] for r in rows} == {"early", "late", ""}
    features = json.loads(owner.get(f"/api/v1/trials/{split.id}/plots.geojson").content)["features"]
    assert features[0]["geometry"]["coordinates"][0][0] == [0.1, 52.7]
    assert features[0]["properties"]["plot"] == rows[0]["plot"]
    for file, options in (
        ("labels.pdf", {}), ("labels.pdf", {"sheet": "letter"}), ("map.pdf", {}), ("map.pdf", {"ink": "black"}),
    ):  # fmt: skip
        answer = file_of(owner, split.id, file, **options)
        assert (answer["Content-Type"], answer.content[:5]) == ("application/pdf", b"%PDF-")
    unknown = owner.post(f"/api/v1/trials/{split.id}/files", {"file": "labels.pdf", "sheet": "a5"}, format="json")
    assert "Choose one of: a4-3x7" in unknown.json()["errors"][0]["what"]


def test_a_demonstration_and_a_fixed_order_are_laid_out_told_and_never_tested(owner, workspace):
    once = {**PLAN, "blocks": 1, "demonstration": True, "design": "latin_square"}  # chosen before it was ticked
    shown = Trial(owner, workspace, plan=once)
    listed = Trial(owner, workspace, plan={**PLAN, "systematic": True})
    for trial, says in ((shown, "has only one plot"), (listed, "fixed order")):
        plots = owner.get(f"/api/v1/trials/{trial.id}").json()["plots"]
        for i, plot in enumerate(plots):
            trial.enter(*(trial.typed(plot["label"], str(5 + (i * k) % 7), k) for k in (1, 2)))
        read = read_trial_of(owner, trial.id)
        measure = read["measures"][0]
        assert (says in measure["refusal"], measure["full"]) == (True, None)
        assert [one["plots"] for one in measure["described"]] == [len(plots) // 3] * 3
        assert {cell["verdict"] for cell in measure["cells"]} == {"no-answer"}
        report = owner.get(f"/api/v1/trials/{trial.id}/report").json()
        assert report["how"].startswith("Described, not tested.")
        assert report["short"] == "The observed values are described below. Nothing was tested."
        lines = [line["sentence"] for line in report["measures"][0]["lines"]]
        assert [line.endswith("than Bare; seen, not tested.") for line in lines] == [True, True]
        assert file_of(owner, trial.id, "map.pdf").status_code == 200
    assert {d["id"] for d in read["doubts"]} >= {"not-randomised"}
    for sketch, says in (
        ({"blocks": 1, "demonstration": True}, "demonstration"),
        ({"blocks": 4, "systematic": True}, "fixed order"),
    ):
        outlook = owner.post(f"/api/v1/trials/{shown.id}/outlook", sketch, format="json").json()
        assert (outlook["measures"][0]["outlook"], says in outlook["measures"][0]["reason"]) == (None, True)
    drawn = owner.get(f"/api/v1/trials/{listed.id}").json()
    assert (drawn["allocation"], drawn["plan"]["algorithm"]) == ("systematic", "as-listed-1")


def test_without_coordinates_there_are_no_outlines_and_the_answer_says_where_to_give_them(owner, workspace):
    trial = Trial(owner, workspace, sites=[site_in(latitude=None, longitude=None)])
    answer = owner.get(f"/api/v1/trials/{trial.id}/plots.geojson")
    assert answer.status_code == 409
    assert "latitude and longitude in Ask" in answer.json()["detail"]


def test_plots_narrower_than_the_machine_are_refused_and_the_fit_is_told_in_the_person_s_units(split, owner, workspace):
    address = f"/api/v1/workspaces/{workspace.id}/equipment"
    kept = owner.put(address, {"drill": "10 ft", "combine": "2,1"}, format="json")
    assert kept.json()["drill"] == pytest.approx(3.048)
    refused = split.plan(**SPLIT)
    assert refused.status_code == 422
    assert "narrower than the drill" in refused.json()["detail"]
    body = {"blocks": 4, "design": "split_plot", "whole_factor": "kill", "width": "5"}
    fit = owner.post(f"/api/v1/trials/{split.id}/outlook", body, format="json").json()["machines"]
    assert fit["width"] == pytest.approx(6.096)
    assert "isn’t a whole number of drill widths of 3.05 m" in fit["hints"][0]
    assert owner.get(f"/api/v1/trials/{split.id}").json()["equipment"]["combine"] == 2.1
    wrong = owner.put(address, {"drill": "wide"}, format="json")
    assert [(e["where"], "isn’t a number" in e["what"]) for e in wrong.json()["errors"]] == [("drill", True)]
