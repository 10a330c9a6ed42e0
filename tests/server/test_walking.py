"""Walk: figures as typed become values, doubtful ones are asked about, nothing is lost, nothing overwrites unseen."""

import uuid

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from records.models import Observation, Visit
from tests.server.asking import COVER, YIELD, Trial, measure_in, stands
from tests.server.bringing import bring_trial, look, read
from tests.server.conftest import TABLE
from trials.models import Unit

# --- from typed text to a value ---------------------------------------------------------------------------------


def test_a_count_becomes_a_density_and_what_was_typed_is_kept(trial):
    saved = trial.enter(trial.typed("101", " 7 "))[0]
    assert (saved["state"], saved["value"]) == ("saved", 28.0)
    row = Observation.objects.get()
    assert (row.fields, row.typed, row.value, row.units) == ({"count": "7"}, "7", 28.0, "metric")
    shown = stands(trial, "101")
    assert (shown["value"], shown["at"], shown["by"]) == (28.0, "2026-06-24T08:00:00Z", row.by.name)
    assert Visit.objects.get(id=trial.visit).date is not None


def test_a_yield_is_brought_to_standard_moisture_with_decimal_comma_and_units(trial):
    fields = {"mass": "26455,5 g", "moisture": "18", "area": "0.003 ha"}
    saved = trial.enter(trial.typed("101", fields, measure=1))[0]
    assert saved["value"] == pytest.approx(10 * 26.4555 * 82 / 86 / 30)


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"count": "7.5"}, "isn’t a whole number"),
        ({"count": "-1"}, "0 or more"),
        ({"count": "many"}, "isn’t a number"),
        ({"count": ""}, "Count is empty"),
        ({"count": "3 4"}, "isn’t a number"),
        ({"count": "99999"}, "isn’t possible"),
    ],
)
def test_an_impossible_figure_is_refused_with_its_reason_and_not_kept(trial, fields, says):
    good, bad = trial.enter(trial.typed("102", "3"), trial.typed("101", fields))
    assert (good["state"], bad["state"]) == ("saved", "refused")
    assert says in bad["message"]
    assert Observation.objects.count() == 1


def test_an_implausible_figure_is_questioned_and_kept_when_confirmed(trial):
    entry = trial.typed("101", "600")
    asked = trial.enter(entry)[0]
    assert (asked["state"], asked["message"]) == (
        "question", "2400 weeds/m² is unusual. The usual range is 0 to 2000 weeds/m². Check the value, or confirm it."
    )  # fmt: skip
    assert not Observation.objects.exists()
    assert trial.enter({**entry, "confirmed": True})[0]["state"] == "saved"
    assert Observation.objects.get().confirmed


def test_who_reads_us_units_types_and_sees_them_and_what_is_stored_stays_metric(trial, owner):
    assert owner.patch("/api/v1/session", {"units": "us"}, format="json").json()["units"] == "us"
    weeds, barley = trial.open()["measures"]
    assert (weeds["unit"], weeds["factor"]) == ("weeds/ft²", pytest.approx(0.09290304))
    assert [f["unit"] for f in barley["fields"]] == ["lb", "%", "ft²"]
    assert (weeds["settings"], barley["common_parts"]) == (["Frame area: 2.69 ft²"], [])
    assert weeds["pitfall"].startswith("Count")
    bare = trial.typed("101", {"mass": "50", "moisture": "14", "area": "300"}, measure=1)
    assert trial.enter(bare)[0]["value"] == pytest.approx(10 * 50 * 0.45359237 / (300 * 0.09290304))
    trial.enter(trial.typed("102", {"mass": "22 kg", "moisture": "14", "area": "300"}, measure=1))
    asked = trial.enter(trial.typed("101", "600"))[0]
    assert "223 weeds/ft² is unusual" in asked["message"]
    assert stands(trial, "101", measure=1)["fields"] == {"mass": "50", "moisture": "14", "area": "300"}
    owner.patch("/api/v1/session", {"units": "metric"}, format="json")  # who reads metric is told what was meant
    assert stands(trial, "101", measure=1)["fields"] == {"mass": "50 lb", "moisture": "14 %", "area": "300 ft²"}
    assert stands(trial, "102", measure=1)["fields"] == {"mass": "22 kg", "moisture": "14 %", "area": "300 ft²"}


# --- missing plots, and what Read makes of them -----------------------------------------------------------------


def fill(trial, measure=1):
    """Yields that differ by treatment, block and a little by plot."""
    gain = {"Bare": 0, "Phacelia": 3, "Common vetch": 6}
    entries = []
    for i, unit in enumerate(Unit.objects.filter(season__trial=trial.id, kind="plot").select_related("treatment")):
        mass = 20 + gain[unit.treatment.name] + i // 3 * 0.3 + (i * 7 % 5) * 0.1
        entries.append(
            trial.typed(unit.label, {"mass": f"{mass:.2f}", "moisture": "14", "area": "30"}, measure=measure)
        )
    assert {o["state"] for o in trial.enter(*entries)} == {"saved"}
    return entries


def test_a_failed_cover_is_zero_in_what_is_measured_on_it_and_the_rest_is_still_to_be_counted(owner, workspace):
    """Weeds are most where a cover failed: reading them as zero would call the failure a success."""
    measures = [measure_in(), measure_in("Barley", **YIELD), measure_in("Cover biomass", **COVER)]
    trial = Trial(owner, workspace, measures=measures)
    assert [m["zero_when_failed"] for m in trial.open()["measures"]] == [False, False, True]
    failed = {"missing_status": "failed", "missing_reason": "never came up"}
    weeds, barley, cover = trial.enter(*(trial.typed("101", {}, measure=i, **failed) for i in range(3)))
    assert (weeds["state"], barley["state"]) == ("refused", "refused")
    assert "Weeds isn’t measured on the cover itself" in weeds["message"]
    assert (cover["state"], cover["value"]) == ("saved", 0.0)
    assert trial.enter(trial.typed("101", "44"))[0]["value"] == 176.0  # and the weeds are counted
    kept = Observation.objects.filter(version__catalogue="weeds")
    kept.update(value=0.0, missing_status="failed", missing_reason="never came up")  # as an earlier release kept it
    values = {p["label"]: p["value"] for p in read(owner, trial.id)["measures"][0]["plots"]}
    assert values["101"] is None


def test_a_percentage_of_one_s_own_is_bounded_and_its_differences_are_percentage_points(owner, workspace):
    """In a cell, in a correction, and in what is told: 5 % more isn't 5 percentage points more."""
    own = {"unit": "%", "catalogue": "", "sheet": "figure", "settings": {}, "margin": 5, "direction": "higher",
           "expected": 40, "cv_percent": 20}  # fmt: skip
    trial = Trial(owner, workspace, measures=[measure_in("Ground cover", **own)])
    refused = trial.enter(trial.typed("101", {"value": "104"}))[0]
    assert (refused["state"], "104 % isn’t possible." in refused["message"]) == (
        "refused",
        True,
    )
    level = {"Bare": 20, "Phacelia": 60, "Common vetch": 62}
    for n, unit in enumerate(Unit.objects.filter(season__trial=trial.id, kind="plot").select_related("treatment")):
        trial.enter(trial.typed(unit.label, {"value": str(level[unit.treatment.name] + n % 3)}))
    row = Observation.objects.filter(unit__label="101", current=True).get()
    body = {"replaces": str(row.id), "fields": {"value": "140"}, "why": "read again"}
    assert owner.put(f"/api/v1/observations/{uuid.uuid4()}", body, format="json").status_code >= 400
    assert read(owner, trial.id)["measures"][0]["difference_unit"] == "percentage points"
    told = owner.get(f"/api/v1/trials/{trial.id}/report").json()["measures"][0]["lines"][0]["sentence"]
    assert "percentage points more than Bare" in told
    assert "larger than the margin of 5 percentage points" in told


def test_k_of_n_is_typed_as_two_counts_and_read_as_such(owner, workspace):
    own = {"unit": "%", "catalogue": "", "sheet": "k-of-n", "settings": {}, "margin": 10, "direction": "higher",
           "expected": 40, "cv_percent": 20}  # fmt: skip
    trial = Trial(owner, workspace, measures=[measure_in("Survival", **own)])
    refused = trial.enter(trial.typed("101", {"k": "41", "n": "40"}))[0]
    assert (refused["state"], "Found 41 of 40 can’t be" in refused["message"]) == ("refused", True)
    level = {"Bare": 6, "Phacelia": 20, "Common vetch": 21}
    for n, unit in enumerate(Unit.objects.filter(season__trial=trial.id, kind="plot").select_related("treatment")):
        kept = trial.enter(trial.typed(unit.label, {"k": str(level[unit.treatment.name] + n % 4), "n": "40"}))[0]
        assert kept["state"] == "saved"
    found = read(owner, trial.id)["measures"][0]
    assert "quasi-binomial" in found["full"]["model"]
    assert {c["verdict"] for c in found["cells"]} == {"clear-gain"}
    assert found["difference_unit"] == "percentage points"
    binomial = look(owner, trial.id, counts="poisson")
    assert (binomial["tried_after"], look(owner, trial.id)["tried_after"]) == (True, False)
    assert {p["df"] for p in binomial["measures"][0]["full"]["pairs"]} == {None}  # infinite
    assert "few-df-for-this-model" in {d["id"] for d in binomial["measures"][0]["doubts"]}


def test_a_failed_treatment_counts_as_zero_a_damaged_plot_is_left_out_and_read_says_so(owner, workspace):
    trial = Trial(owner, workspace, measures=[measure_in(), measure_in("Cover biomass", **COVER)])
    units = Unit.objects.filter(season__trial=trial.id, kind="plot").order_by("order")
    trial.enter(*(trial.typed(u.label, {"value": f"{2 + i % 3 * 0.4 + i * 7 % 5 * 0.1:.2f}"}, measure=1)
                  for i, u in enumerate(units)))  # fmt: skip
    failed, damaged = (
        Unit.objects.get(season__trial=trial.id, treatment__name="Common vetch", parent__label=block, kind="plot").label
        for block in "AB"
    )
    for label, missing_status, why in (
        (failed, "failed", "never came up"),
        (damaged, "damaged", "trenched for a drain"),
    ):
        change = {
            "replaces": stands(trial, label, measure=1)["id"],
            "missing_status": missing_status,
            "missing_reason": why,
        }
        assert trial.enter(trial.typed(label, {}, measure=1, **change))[0]["state"] == "saved"
    cover = read(owner, trial.id)["measures"][1]
    values = {p["label"]: p["value"] for p in cover["plots"]}
    assert (values[failed], values[damaged]) == (0.0, None)
    doubts = {d["id"]: d for d in cover["doubts"]}
    assert doubts["treatment-not-delivered"]["plots"] == [failed]
    assert doubts["lost-plots"]["plots"] == [damaged]


def test_a_missing_status_speaks_for_all_frames_of_the_plot_and_needs_a_reason(trial, owner):
    trial.enter(trial.typed("101", "7"), trial.typed("101", "9", 2))
    as_it_was_called = trial.typed("101", {}, fate="damaged", replaces=stands(trial, "101")["id"])
    silent = trial.enter(as_it_was_called)[0]
    assert (silent["state"], "Say why" in silent["message"]) == ("refused", True)
    trial.enter(
        trial.typed("101", {}, missing_status="damaged", missing_reason="hares", replaces=stands(trial, "101")["id"])
    )
    plot = next(p for p in read(owner, trial.id)["measures"][0]["plots"] if p["label"] == "101")
    assert (plot["value"], plot["samples"]) == (None, [None])
    assert trial.open()["progress"] == {"done": 0, "begun": 1, "of": 12, "conflicts": 0}  # the yield is still to come


def test_progress_counts_plots_with_all_frames_of_all_measures(trial):
    trial.plan_visit(measures=trial.measures[:1])
    trial.enter(trial.typed("101", "7"), trial.typed("101", "9", 2), trial.typed("102", "4"))
    assert trial.open()["progress"] == {"done": 1, "begun": 2, "of": 12, "conflicts": 0}


# --- size -----------------------------------------------------------------------------------------------------------


def test_saving_a_visit_is_one_bulk_write_and_opening_takes_the_same_queries_however_many_plots(trial, owner):
    entries = fill(trial)
    Observation.objects.all().delete()
    trial.enter(entries[0])
    with CaptureQueriesContext(connection) as one:
        trial.enter(entries[1])
    with CaptureQueriesContext(connection) as many:
        trial.enter(*entries[2:])
    assert len([q for q in many if q["sql"].startswith("INSERT")]) == 1
    assert len(many) == len(one) <= 10

    def opening():
        with CaptureQueriesContext(connection) as queries:
            for path in (f"trials/{trial.id}", f"trials/{trial.id}/season", f"visits/{trial.visit}", "today"):
                assert owner.get(f"/api/v1/{path}").status_code == 200
        return len(queries)

    opening()  # what is kept between requests is worked out once
    few = opening()
    Observation.objects.all().delete()
    trial.plan(blocks=20, width="3", length="10")
    fill(trial)
    owner.put(f"/api/v1/trials/{trial.id}/visits/{uuid.uuid4()}", {"name": "Later", "measures": []}, format="json")
    opening()  # counts what came in since somebody looked
    assert opening() == few


def test_a_measure_is_taken_at_one_visit_and_stays_where_it_has_records(trial):
    trial.enter(trial.typed("101", "7"))
    other = f"/api/v1/trials/{trial.id}/visits/{uuid.uuid4()}"
    answer = trial.client.put(other, {"name": "July", "measures": trial.measures}, format="json")
    assert "taken at the visit 'Weeds in June' already" in answer.json()["detail"]
    assert "has records at this visit" in trial.plan_visit(measures=[]).json()["detail"]


def test_a_note_is_kept_with_its_plot_and_an_empty_one_refused(trial):
    note = f"/api/v1/visits/{trial.visit}/notes/{uuid.uuid4()}"
    assert trial.client.put(note, {"unit": trial.unit("101"), "text": " "}, format="json").status_code == 422
    for _ in range(2):
        trial.client.put(note, {"unit": trial.unit("101"), "text": "hares here"}, format="json")
    assert [(n["text"], n["by"], n["unit"]) for n in trial.open()["notes"]] == [
        ("hares here", "Owner", trial.unit("101"))
    ]


def test_plots_are_walked_in_a_serpentine(trial):
    labels = {str(u.id): u.label for u in Unit.objects.filter(season__trial=trial.id)}
    assert [labels[id] for id in trial.open()["order"]][:7] == ["101", "102", "103", "203", "202", "201", "301"]


BARLEY = {"unit": "t/ha", "catalogue": "grain-yield", "sheet": "moist-yield-strip", "margin": 0.5,
          "direction": "higher", "expected": 7, "cv_percent": 5,
          "settings": {"standard": 14, "width": 1.5, "bushel": 48}}  # fmt: skip


def test_a_yield_from_length_and_width_is_in_bushels_for_who_reads_us_units(owner, workspace):
    trial = Trial(owner, workspace, measures=[measure_in("Barley", **BARLEY)])
    saved = trial.enter(trial.typed("101", {"mass": "25", "moisture": "20", "length": "20"}))
    assert saved[0]["value"] == pytest.approx(7.751938)  # 10 × 25 × 80/86 / (20 × 1.5)
    owner.patch("/api/v1/session", {"units": "us"}, format="json")
    sheet = owner.get(f"/api/v1/visits/{trial.visit}").json()["measures"][0]
    assert (sheet["unit"], sheet["factor"]) == ("bu/ac", pytest.approx(18.58695, rel=1e-5))
    assert [f["unit"] for f in sheet["fields"]] == ["lb", "%", "ft"]
    sheets = owner.get("/api/v1/catalogue").json()["sheets"]
    assert "bushel" in {s["key"] for one in sheets for s in one["settings"]}
    owner.patch("/api/v1/session", {"units": "metric"}, format="json")
    sheets = owner.get("/api/v1/catalogue").json()["sheets"]
    assert "bushel" not in {s["key"] for one in sheets for s in one["settings"]}


@pytest.mark.parametrize(("changes", "where"), [
    ({"unit": "cm"}, "measures.1.unit"), ({"settings": {"standard": 14, "width": ""}}, "measures.1.width"),
    ({"unit": "bu/ac", "settings": {"standard": 14, "width": 1.5}}, "measures.1.bushel"),
])  # fmt: skip
def test_a_unit_that_the_sheet_cannot_make_is_refused_where_it_stands(owner, workspace, changes, where):
    trial = Trial(owner, workspace)
    answer = trial.ask({**trial.page, "measures": [measure_in(), measure_in("Barley", **{**BARLEY, **changes})]})
    assert answer.status_code == 422
    assert [error["where"] for error in answer.json()["errors"]] == [where]
    assert answer.json()["detail"].startswith("Barley: ")


def whole(trial):
    """All figures of the visit."""
    fill(trial)
    labels = Unit.objects.filter(season__trial=trial.id, kind="plot").values_list("label", flat=True)
    trial.enter(*(trial.typed(label, "7", frame=frame) for label in labels for frame in (1, 2)))


def test_progress_is_counted_once_and_again_after_every_way_of_writing(trial, owner):
    whole(trial)

    def progress(counts):
        with CaptureQueriesContext(connection) as queries:
            state = owner.get(f"/api/v1/trials/{trial.id}/season").json()["visits"][0]
        assert any("WITH need AS" in q["sql"] for q in queries) == counts
        return tuple(state["progress"][name] for name in ("done", "begun", "of"))

    assert progress(counts=False) == (12, 12, 12)  # the save has counted it
    Observation.objects.filter(unit__label="101").delete()  # by whomever
    assert progress(counts=True) == (11, 11, 12)
    assert progress(counts=False) == (11, 11, 12)
    Observation.objects.filter(unit__label="102", sample=2).update(current=False)
    assert progress(counts=True) == (10, 11, 12)
    with connection.cursor() as cursor:
        cursor.execute("UPDATE records_observation SET in_conflict = true WHERE NOT current")
    visit = owner.get(f"/api/v1/visits/{trial.visit}").json()
    assert visit["progress"] == {"done": 10, "begun": 11, "of": 12, "conflicts": 1}


def test_a_large_sheet_comes_in_pages_of_plots(trial, owner, monkeypatch):
    monkeypatch.setattr("records.api.visits.MOST_STEPS", 20)
    whole(trial)
    url = f"/api/v1/visits/{trial.visit}"
    pages = [owner.get(f"{url}?page={n}").json() for n in (1, 2, 3)]
    assert [(one["page"], one["pages"]) for one in pages] == [(1, 3), (2, 3), (3, 3)]
    assert len({unit for one in pages for unit in one["order"]}) == 12
    assert all({row["unit"] for row in one["rows"]} == set(one["order"]) for one in pages)
    assert {one["progress"]["done"] for one in pages} == {12}
    last = pages[2]["order"][0]
    assert owner.get(f"{url}?plot={last}").json()["page"] == 3
    assert owner.get(f"{url}?plot={pages[1]['order'][0]}").json()["page"] == 2
    opened = owner.get(url).json()
    assert (opened["page"], len(opened["order"])) == (1, 4)
    assert owner.get(f"{url}?plot={uuid.uuid4()}").json()["page"] == 1  # of another trial
    assert [owner.get(f"{url}?page={odd}").json()["page"] for odd in ("0", "99", "x", "-1", "9" * 30, "²")] == [
        1, 3, 1, 1, 1, 1,
    ]  # fmt: skip
    row = pages[1]["rows"][0]["id"]
    back = owner.post(f"/api/v1/observations/{row}/undo?page=2", {"id": str(uuid.uuid4())}, format="json").json()
    assert (back["page"], len(back["rows"])) == (2, len(pages[1]["rows"]) - 1)


# --- the place of an observation ------------------------------------------------------------------------------------


def test_what_a_device_of_an_earlier_release_has_queued_still_arrives(trial):
    old = trial.typed("101", "7", frame=2)
    old |= {"part": "", "subsample": old.pop("sample")}
    assert trial.enter(old)[0]["state"] == "saved"
    (row,) = trial.open()["rows"]
    assert (row["zone"], row["component"], row["sample"]) == ("", "", 2)
    assert trial.enter(trial.typed("101", "9", frame=2, replaces=old["id"]))[0]["state"] == "saved"
    assert Observation.objects.filter(current=True).count() == 1


def test_each_row_says_how_it_came_in_and_no_sheet_is_told_by_parts_yet(trial, owner, workspace):
    typed = trial.typed("101", "7")
    trial.enter(typed)
    brought = bring_trial(owner, workspace, TABLE)
    assert Observation.objects.get(id=typed["id"]).source == "person"
    of_file = Observation.objects.filter(visit__season__trial=brought)
    assert set(of_file.values_list("source", flat=True)) == {"file"}
    row = of_file.first()
    corrected = {"replaces": str(row.id), "fields": {"value": "40"}, "why": "misread"}
    new = str(uuid.uuid4())
    assert owner.put(f"/api/v1/observations/{new}", corrected, format="json").status_code == 200
    assert Observation.objects.get(id=new).source == "person"
    back = str(uuid.uuid4())
    owner.post(f"/api/v1/observations/{new}/undo", {"id": back}, format="json")
    assert Observation.objects.get(id=back).source == "file"  # what the file said stands there again
    named = trial.typed("102", "7", component_kind="species", component="Fat hen")
    assert trial.enter(named)[0]["state"] == "refused"
    assert trial.enter(trial.typed("102", "7", component_kind="colour")).status_code == 400


def test_a_plot_or_a_measure_that_the_visit_does_not_have_is_refused(trial):
    for strange in ({"unit": str(uuid.uuid4())}, {"measure": str(uuid.uuid4())}):
        (outcome,) = trial.enter(trial.typed("101", "7") | strange)
        assert (outcome["state"], "doesn’t belong to the visit" in outcome["message"]) == ("refused", True)
    assert not Observation.objects.exists()


def test_a_field_that_the_sheet_does_not_have_is_refused_and_nothing_of_it_is_dropped_unseen(trial):
    (outcome,) = trial.enter(trial.typed("101", {"count": "7", "weight": "3"}))
    assert (outcome["state"], "has no field 'weight'" in outcome["message"]) == ("refused", True)
    assert not Observation.objects.exists()


def test_several_readings_are_one_value_and_readers_of_other_units_see_what_was_read(client_of, workspace):
    height = measure_in(
        "Plant height", unit="cm", catalogue="", sheet="readings", settings={}, direction="none", expected=40
    )
    trial = Trial(client_of("owner"), workspace, measures=[height])
    trial.enter(trial.typed("101", {"readings": "31 28 33,5", "guess": "30"}))
    assert trial.open()["rows"][0]["value"] == pytest.approx(92.5 / 3)
    us = client_of("technician")
    us.patch("/api/v1/session", {"units": "us"}, format="json")
    assert [one["unit"] for one in trial.open(us)["measures"][0]["fields"]] == ["in"]
    row = trial.open(us)["rows"][0]
    assert row["fields"] == {"readings": "31 cm; 28 cm; 33,5 cm", "guess": "30 cm"}
    (again,) = trial.enter(trial.typed("101", row["fields"], replaces=row["id"]), client=us)
    assert again["value"] == pytest.approx(92.5 / 3)
    refused = trial.enter(trial.typed("102", {"readings": "12; x"}))[0]
    assert (refused["state"], "isn’t a number" in refused["message"]) == ("refused", True)


def test_the_rules_are_sent_once_and_each_measure_says_which_it_goes_with(trial):
    sent = trial.client.get("/api/v1/rules")
    again = trial.client.get("/api/v1/rules", HTTP_IF_NONE_MATCH=sent["ETag"])
    assert (again.status_code, again.content) == (304, b"")
    device = trial.open()["measures"][0]["rules"]
    assert (device["hash"], device["sheet"]) == (sent.json()["hash"], "frame-count")
    assert (device["plausible"], device["settings"]["area"]) == ([0, 2000], 0.25)
