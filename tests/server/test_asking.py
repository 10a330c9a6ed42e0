"""Ask and Plan: one page kept whole, a map drawn by chance, free before the first record and fixed after it."""

import uuid

import pytest

from apercu_core.power.chances import PlannedComparison, outlook
from apercu_core.power.differences import Spread
from tests.server.asking import PLAN, Trial, measure_in, page, site_in
from tests.server.bringing import bring_trial, read
from tests.server.conftest import TABLE
from trials.models import GroundPlot, Season


def seen(trial):
    return trial.client.get(f"/api/v1/trials/{trial.id}").json()


def test_the_page_is_kept_as_it_was_sent_and_sending_it_again_changes_nothing(trial):
    first = seen(trial)
    assert [(t["name"], t["code"], t["is_control"]) for t in first["treatments"]] == [
        ("Bare", "BARE", True), ("Phacelia", "PH", False), ("Common vetch", "CV", False)
    ]  # fmt: skip
    assert [(m["name"], m["sheet"], m["settings"]) for m in first["measures"]] == [
        ("Weeds", "frame-count", {"area": 0.25, "frames": 2.0}), ("Barley", "moist-yield", {"standard": 14.0})
    ]  # fmt: skip
    assert (first["site"]["last_frost"], first["starts"]) == ("04-28", "2026-08-20")
    assert trial.ask(trial.page).status_code == 200
    assert seen(trial) == first


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"treatments": [{"id": str(uuid.uuid4()), "name": n} for n in ("Oat", "oat ")]}, "Two treatments are called"),
        ({"starts": "2026-09-01", "ends": "2026-08-01"}, "ends before it starts"),
        ({"sites": [site_in(time_zone="Fen/Middle")]}, "no time zone"),
        ({"sites": [site_in(last_frost="31-04")]}, "pattern"),
    ],
)
def test_a_page_that_contradicts_itself_says_where(owner, workspace, change, says):
    answer = owner.put(f"/api/v1/trials/{uuid.uuid4()}/ask", page(workspace, **change), format="json")
    assert answer.status_code in (400, 422)
    assert says in str(answer.json())


def test_the_same_seed_draws_the_same_map_and_each_block_holds_every_treatment(trial):
    first = seen(trial)
    names = {t["id"]: t["name"] for t in first["treatments"]}
    for block in "ABCD":
        inside = sorted(names[p["treatment"]] for p in first["plots"] if p["block"] == block)
        assert inside == ["Bare", "Common vetch", "Phacelia"]
    drawn = [(p["label"], p["treatment"], p["x"], p["y"]) for p in first["plots"]]
    trial.plan(**{**PLAN, "seed": 12})
    assert [(p["label"], p["treatment"], p["x"], p["y"]) for p in seen(trial)["plots"]] != drawn
    again = trial.plan(**PLAN).json()
    assert [(p["label"], p["treatment"], p["x"], p["y"]) for p in again["plots"]] == drawn
    assert (again["plan"]["ground_width"], again["plan"]["ground_length"]) == (10.0, 46.0)
    assert GroundPlot.objects.count() == 12  # the maps that were drawn over are gone


def test_chance_picks_a_seed_that_is_kept_and_lengths_may_have_units(trial):
    drawn = trial.plan(**{**PLAN, "seed": None, "width": "10 ft"}).json()["plan"]
    assert 0 <= drawn["seed"] < 2**53
    assert (drawn["width"], drawn["algorithm"]) == (pytest.approx(3.048), "fisher-yates-pcg64-1")
    for wrong, says in (
        ({"width": "wide"}, "isn’t a number"),
        ({"length": "-4"}, "above 0"),
        ({"blocks": 1}, "demonstration"),
    ):
        answer = trial.plan(**{**PLAN, **wrong})
        assert answer.status_code in (400, 422)
        assert says in str(answer.json())


def test_after_the_first_record_the_map_and_the_treatments_stay_but_names_may_change(trial):
    trial.enter(trial.typed("101", "7"))
    before = seen(trial)["plots"]
    answer = trial.plan(**PLAN)
    assert (answer.status_code, answer.json()["code"]) == (409, "conflict")
    assert "Values are recorded" in answer.json()["detail"]
    fewer = {**trial.page, "treatments": trial.page["treatments"][:2]}
    assert "can be renamed but not added" in trial.ask(fewer).json()["detail"]
    coarser = [{**trial.page["measures"][0], "settings": {"area": 1, "frames": 2}}, trial.page["measures"][1]]
    assert "has records" in trial.ask({**trial.page, "measures": coarser}).json()["detail"]
    assert "has records" in trial.ask({**trial.page, "measures": coarser[1:]}).json()["detail"]
    renamed = [{**t, "name": t["name"] + " 2"} for t in trial.page["treatments"]]
    assert trial.ask({**trial.page, "treatments": renamed}).status_code == 200
    assert seen(trial)["plots"] == before


def test_treatments_may_swap_names_and_a_change_of_their_number_takes_the_map_away(trial):
    first, control, last = trial.page["treatments"]
    swapped = [{**first, "name": last["name"]}, control, {**last, "name": first["name"]}]
    assert trial.ask({**trial.page, "treatments": swapped}).status_code == 200
    assert len(seen(trial)["plots"]) == 12
    trial.ask({**trial.page, "treatments": [*swapped, {"id": str(uuid.uuid4()), "name": "Black oat"}]})
    assert (seen(trial)["plots"], seen(trial)["plan"]) == ([], None)


def test_the_outlook_is_the_cores_and_grows_with_blocks(trial):
    def ask(blocks):
        return trial.client.post(f"/api/v1/trials/{trial.id}/outlook", {"blocks": blocks}, format="json").json()

    weeds, barley = ask(4)["measures"]
    core = outlook(PlannedComparison("rcbd", 3, "dunnett"), 4, Spread(10.0), 10.0)
    assert weeds["outlook"]["detectable"] == core.detectable
    assert weeds["outlook"]["chances"][2]["clear_right"] == core.chances[2].clear_right
    assert (barley["sigma"], barley["spread"]["source"]) == (pytest.approx(0.35), "as you expect")
    assert weeds["outlook"]["detectable_with_one_more"] == ask(5)["measures"][0]["outlook"]["detectable"]


def test_spread_comes_from_own_past_trials_before_the_librarys_thumb(owner, workspace):
    measures = [{**m, "expected": None, "cv_percent": None} for m in page(workspace)["measures"]]
    trial = Trial(owner, workspace, measures=measures)
    body = {"blocks": 4}
    sources = lambda: [m["spread"]["source"] for m in trial.client.post(  # noqa: E731
        f"/api/v1/trials/{trial.id}/outlook", body, format="json").json()["measures"]]  # fmt: skip
    assert sources() == [f"from experience, {spread} % is usual" for spread in ("40 to 80", "4 to 10")]
    past = bring_trial(owner, workspace, TABLE)
    Season.objects.get(trial=past).trial.measures.filter(version__measure__name="Weeds").update(order=0)
    full = next(m for m in read(owner, past)["measures"] if m["name"] == "Weeds")["full"]
    assert full["cv_percent"] > 0
    own = {**trial.page, "measures": [{**measures[0], "unit": "1/m²", "catalogue": ""}, measures[1]]}
    assert trial.ask(own).status_code == 200
    assert sources() == ["from Brought", "from experience, 4 to 10 % is usual"]


def asked_hours(trial, **changes):
    body = {"blocks": 4, "plot_minutes": 4, "frame_minutes": 1, **changes}
    return trial.client.post(f"/api/v1/trials/{trial.id}/outlook", body, format="json").json()["measures"]


def test_the_curve_says_what_more_blocks_cost_in_plots_and_hours(trial):
    weeds, barley = asked_hours(trial)
    three = next(point for point in weeds["curve"] if point["blocks"] == 3)
    assert (three["plots"], three["hours"]) == (9, pytest.approx(9 * (4 + 2 * 1) / 60))  # two frames a plot
    assert barley["curve"][0]["hours"] == pytest.approx(6 * 5 / 60)


def test_frames_are_weighed_against_plots_once_it_is_known_how_much_they_vary(trial):
    weeds, barley = asked_hours(trial)
    assert (weeds["sampled"], weeds["frames"], barley["sampled"]) == (True, None, False)
    weeds = asked_hours(trial, frame_cv={weeds["id"]: 25}, hours=2)[0]
    found = weeds["frames"]
    # means of two frames vary by 10 and frames by 10 (expected mean 40), so plots beyond them by √50: √4 · √2 = 2.8
    assert (found["now"], found["best"], found["cv_percent"], found["source"]) == (2, 3, 25, "as you say")
    assert [(c["frames"], c["blocks"]) for c in found["choices"][:3]] == [(1, 8), (2, 6), (3, 5)]
    assert found["choices"][1]["detectable"] == pytest.approx(
        next(p for p in weeds["curve"] if p["blocks"] == 6)["detectable"]
    )


@pytest.mark.parametrize(
    ("change", "where"),
    [
        ({"measures": [measure_in(margin="2 t")]}, "measures.0.margin"),
        ({"measures": [measure_in(expected="about 40")]}, "measures.0.expected"),
        ({"measures": [measure_in(settings={"area": "1/4", "frames": "2"})]}, "measures.0.area"),
        ({"sites": [site_in(latitude="52.7 N")]}, "sites.0.latitude"),
        ({"sites": [site_in(bearing_deg="north")]}, "sites.0.bearing_deg"),
    ],
)
def test_what_is_typed_and_no_number_is_refused_at_its_field_and_nothing_is_kept(owner, workspace, change, where):
    asked = page(workspace, **change)
    answer = owner.put(f"/api/v1/trials/{uuid.uuid4()}/ask", asked, format="json")
    assert (answer.status_code // 100, [error["where"] for error in answer.json()["errors"]]) == (4, [where])
    assert "Type" in answer.json()["errors"][0]["what"]


def test_numbers_are_kept_as_a_person_means_them(owner, workspace):
    measures = [
        measure_in(margin="9,125", expected="1 234,5", cv_percent="25", settings={"area": "0,25", "frames": "3"})
    ]
    trial = Trial(owner, workspace, measures=measures, sites=[site_in(latitude="52,704", bearing_deg="−30")])
    kept = owner.get(f"/api/v1/trials/{trial.id}").json()
    (measure,) = kept["measures"]
    assert (measure["margin"], measure["expected"], measure["settings"]["area"]) == (9.125, 1234.5, 0.25)
    assert (kept["site"]["latitude"], kept["site"]["bearing_deg"]) == (52.704, -30.0)


def test_how_much_frames_vary_comes_from_own_past_trials(owner, workspace):
    past = Trial(owner, workspace, name="Weeds last year")
    for n, label in enumerate(f"{block}0{place}" for block in (1, 2, 3, 4) for place in (1, 2, 3)):
        past.enter(*(past.typed(label, str(10 + n % 5 + 4 * frame), frame) for frame in (1, 2)))
    read(owner, past.id)
    mean = 4 * (10 + sum(n % 5 for n in range(12)) / 12 + 6)
    frames = asked_hours(Trial(owner, workspace))[0]["frames"]
    # two frames of 0.25 m² that differ by 4 counts, 16 a square metre: a standard deviation of 16/√2
    assert frames["cv_percent"] == pytest.approx(100 * 16 / 2**0.5 / mean)


def test_the_sentence_follows_its_margin_and_one_that_says_another_size_is_told(owner, workspace):
    said = "Compare covers on Barley, where a difference of at least 0.5 t/ha would change what I do."
    trial = Trial(owner, workspace, question=said)
    url = f"/api/v1/trials/{trial.id}"
    assert owner.get(url).json()["contradictions"] == []
    owner.patch(f"/api/v1/measures/{trial.measures[1]}", {"margin": "0,8"}, format="json")
    assert owner.get(url).json()["question"] == said.replace("0.5", "0.8")
    measures = [trial.page["measures"][0], {**trial.page["measures"][1], "margin": "1"}]
    trial.ask({**trial.page, "question": said, "measures": measures})
    told = ["The question names 0.5 t/ha, and the margin of Barley is 1 t/ha."]
    assert owner.get(url).json()["contradictions"] == told
    (doubt,) = [d for d in read(owner, trial.id)["doubts"] if d["id"] == "question-and-margin"]
    assert doubt["finding"] == told[0]


def test_ask_takes_a_change_of_the_question_after_results_were_opened_only_with_a_reason(owner, workspace):
    trial = Trial(owner, workspace)
    read(owner, trial.id)
    page = {**trial.page, "question": "Reworded, and nothing else"}
    assert trial.ask(page).status_code == 200
    page["measures"] = [{**trial.page["measures"][0], "margin": 25}, trial.page["measures"][1]]
    refused = trial.ask(page)
    assert (refused.status_code, refused.json()["code"]) == (409, "needs-reason")
    assert "Weeds changes its margin" in refused.json()["detail"]
    assert owner.get(f"/api/v1/trials/{trial.id}").json()["measures"][0]["margin"] == 10
    assert trial.ask({**page, "reason": "the adviser’s limit is 25"}).status_code == 200
    found = read(owner, trial.id)["measures"][0]["doubts"]
    assert any("the adviser’s limit is 25" in d["finding"] for d in found)
