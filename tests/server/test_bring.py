"""Bringing a table: proposed, checked, accepted whole or not at all."""

import re
import uuid
from importlib import import_module

import pytest
from django.db import connection

from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from library.models import MeasureVersion
from records.bring import with_sheet
from records.models import Observation, Upload, Visit, VisitMeasure
from records.uploads import remove_old
from tests.server.bringing import ROLES, acceptance, bring, bring_trial, read
from tests.server.conftest import TABLE
from trials.actions import NewMeasure
from trials.models import Trial


def test_a_brought_table_reads_exactly_as_the_core_reads_it(client_of, workspace):
    client = client_of("owner")
    trial = bring_trial(client, workspace, TABLE)
    reading = read(client, trial)
    lines = [line.split(",") for line in TABLE.splitlines()[1:]]
    plots = tuple(PlotFacts(p, b, t, i % 3 + 1) for i, (b, p, t, _, _) in enumerate(lines))
    values = {p: [float(y)] for _, p, _, y, _ in lines}
    core = read_trial(
        TrialFacts(plots, "Bare", "drawn"), "rcbd",
        [Recorded(Asked("Yield", "t/ha", Margin(1.0), "higher"), values)], How("dunnett"), "Bare",
    )  # fmt: skip
    shown = reading["measures"][0]["cells"]
    assert [(c["treatment"], c["verdict"]) for c in shown] == [(c.treatment, c.verdict) for c in core.measures[0].cells]
    assert [c["lower"] for c in shown] == pytest.approx([c.lower for c in core.measures[0].cells])
    assert reading["how"]["method"] == "dunnett"


def test_upload_proposes_roles_units_directions_and_the_control(client_of, workspace):
    answer = bring(client_of("researcher"), workspace, TABLE)
    assert answer.status_code == 201
    body = answer.json()
    assert {c["name"]: c["role"] for c in body["columns"]} == ROLES
    assert [(c["unit"], c["direction"]) for c in body["columns"][3:]] == [("t/ha", "higher"), ("", "lower")]
    assert body["proposed"]["refusal"] == ""
    assert (body["proposed"]["likely_control"], body["proposed"]["plots"]) == ("Bare", 12)
    assert Trial.objects.count() == 0


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"PK\x03\x04", "spreadsheet"),
        (b"word\nword\n", "isn’t a table"),
        (b"a,b\n\x81,2\n", "neither UTF-8 nor Windows-1252"),
    ],
)
def test_what_is_not_a_table_is_refused_and_nothing_is_kept(client_of, workspace, data, says):
    answer = bring(client_of("owner"), workspace, data)
    assert (answer.status_code, answer["Content-Type"]) == (422, "application/problem+json")
    assert says in answer.json()["detail"]
    assert Upload.objects.count() == 0


def test_a_table_without_a_comparison_says_so_and_accepting_it_makes_nothing(client_of, workspace):
    client = client_of("owner")
    upload = bring(client, workspace, TABLE.replace("Oat", "Bare").replace("Vetch", "Bare")).json()
    assert "only one treatment" in upload["proposed"]["refusal"]
    nothing = {"design": "", "plots": 0, "blocks": [], "treatments": [], "likely_control": "", "most_samples": 0,
               "gaps": 0, "measures": []}  # fmt: skip
    assert {key: upload["proposed"][key] for key in nothing} == nothing
    answer = client.post(f"/api/v1/uploads/{upload['id']}/trial", acceptance(), format="json")
    assert (answer.status_code, answer.json()["code"]) == (422, "bad-design")
    assert Trial.objects.count() == 0
    assert Upload.objects.count() == 1  # the person can still change the roles


def test_a_control_that_is_not_a_treatment_is_refused(client_of, workspace):
    client = client_of("owner")
    upload = bring(client, workspace, TABLE).json()
    answer = client.post(f"/api/v1/uploads/{upload['id']}/trial", acceptance(control="Rye"), format="json")
    assert (answer.status_code, "'Rye' isn’t one of" in answer.json()["detail"]) == (422, True)
    assert Trial.objects.count() == 0


def test_a_trial_without_a_control_is_read_against_its_first_treatment_by_tukey(client_of, workspace):
    client = client_of("owner")
    reading = read(client, bring_trial(client, workspace, TABLE, control=None))
    assert (reading["how"]["method"], reading["base"]) == ("tukey", "Bare")
    assert "no-control" in {d["id"] for d in reading["doubts"]}
    assert [c["treatment"] for c in reading["measures"][0]["cells"]] == ["Oat", "Vetch"]


def test_long_names_of_plots_and_treatments_are_kept_whole(client_of, workspace):
    client = client_of("owner")
    name = "A mixture of " + "camelina and clover and " * 5 + "oat"
    trial = bring_trial(client, workspace, TABLE.replace("Vetch", name))
    treatments = client.get(f"/api/v1/trials/{trial}").json()["treatments"]
    assert name in {t["name"] for t in treatments}


def test_bad_cells_come_with_line_column_value_and_reason(client_of, workspace):
    client = client_of("owner")
    bring(client, workspace, TABLE)  # of which nothing comes in
    upload = bring(client, workspace, TABLE.replace("43.6", "ca. 43")).json()
    answer = client.post(f"/api/v1/uploads/{upload['id']}/check", {"roles": ROLES}, format="json").json()
    assert answer["odd"] == [{"line": 5, "column": "Yield (t/ha)", "text": "ca. 43", "why": "this isn’t a number"}]
    assert [(c["line"], c["text"], c["value"]) for c in answer["read"][0]["cells"][2:4]] == [
        (4, TABLE.splitlines()[3].split(",")[3], float(TABLE.splitlines()[3].split(",")[3])), (5, "ca. 43", None)
    ]  # fmt: skip
    assert [(one["name"], one["more"]) for one in answer["read"]] == [("Yield (t/ha)", 0), ("Weeds", 0)]
    trial = bring_trial(client, workspace, TABLE.replace("43.6", "ca. 43"))
    assert [p["label"] for p in read(client, trial)["measures"][0]["plots"] if p["value"] is None] == ["4"]
    kept = Observation.objects.filter(unit__label__in=["3", "4"], version__measure__name="Yield").order_by(
        "unit__order"
    )
    assert [(row.typed, row.fields, row.missing_reason) for row in kept] == [
        ("44.0", {"value": "44.0"}, ""), ("ca. 43", {}, "missing or unreadable in the table"),
    ]  # fmt: skip


def test_a_measure_with_name_and_unit_of_the_catalogue_has_its_ranges(client_of, workspace):
    accepted = acceptance()["measures"]
    for measure, name, unit in zip(accepted, ("Crop height", "Green cover"), ("cm", "share"), strict=True):
        measure.update(name=name, unit=unit)
    bring_trial(client_of("owner"), workspace, TABLE, measures=accepted)
    assert dict(MeasureVersion.objects.values_list("measure__name", "catalogue")) == {
        "Crop height": "crop-height", "Green cover": "",
    }  # fmt: skip


def test_what_the_page_asks_beside_the_table_is_kept(client_of, workspace):
    client = client_of("owner")
    trial = bring_trial(client, workspace, TABLE, question="Which cover lifts yield?", allocation="systematic")
    kept = client.get(f"/api/v1/trials/{trial}").json()
    assert (kept["question"], kept["allocation"], kept["site"]["name"]) == (
        "Which cover lifts yield?", "systematic", "Not stated",
    )  # fmt: skip


def test_a_file_beyond_the_limit_is_refused_with_both_sizes(client_of, workspace, settings):
    settings.UPLOAD_MOST_BYTES = 3_000_000
    refused = bring(client_of("owner"), workspace, TABLE + "\n" * 4_000_000)
    assert (refused.status_code, refused.json()["detail"]) == (422, "The file has 4 MB; the most is 3 MB.")
    settings.UPLOAD_MOST_BYTES = len(TABLE.encode())
    assert bring(client_of("owner"), workspace, TABLE).status_code == 201


def test_a_count_from_a_known_area_goes_into_frames_whatever_area_its_unit_is_per():
    counted = with_sheet(NewMeasure("Stand", "Stand", "plants/ha"), 0.25 / 10_000)  # value × area is the count
    assert (counted.sheet, counted.settings) == ("frame-count", {"area": 0.25})
    weeds = with_sheet(NewMeasure("Weeds", "Weeds", "weeds/m²"), 0.25)
    assert (weeds.catalogue, weeds.settings) == ("weeds", {"area": 0.25})
    height = with_sheet(NewMeasure("Height", "Height", "cm"), 0.25)
    assert (height.sheet, height.settings) == ("figure", {})


def test_accepting_twice_with_one_id_makes_one_trial_and_lets_go_of_the_file(client_of, workspace):
    client = client_of("owner")
    first, second = bring(client, workspace, TABLE).json(), bring(client, workspace, TABLE).json()
    accepted = acceptance()
    once, again, other = (
        client.post(f"/api/v1/uploads/{upload['id']}/trial", accepted, format="json")
        for upload in (first, first, second)
    )
    assert [a.json()["trial"] for a in (once, again)] == [accepted["id"]] * 2
    assert (other.status_code, other.json()["code"]) == (409, "id-in-use")  # another file isn't that trial
    assert (Trial.objects.count(), Observation.objects.count()) == (1, 24)
    assert list(Upload.objects.values_list("id", flat=True)) == [uuid.UUID(second["id"])]


@pytest.mark.parametrize(
    ("change", "where"),
    [
        ({"name": ""}, "name"),
        ({"id": "not-an-id"}, "id"),
        ({"allocation": "guessed"}, "allocation"),
    ],
)
def test_entries_that_cannot_be_used_are_named(client_of, workspace, change, where):
    client = client_of("owner")
    upload = bring(client, workspace, TABLE).json()
    answer = client.post(f"/api/v1/uploads/{upload['id']}/trial", acceptance(**change), format="json")
    assert (answer.status_code, answer.json()["code"]) == (400, "invalid")
    assert {error["where"].split(".")[0] for error in answer.json()["errors"]} == {where}


def test_the_measures_have_to_be_those_of_the_table(client_of, workspace):
    client = client_of("owner")
    upload = bring(client, workspace, TABLE).json()
    answer = client.post(f"/api/v1/uploads/{upload['id']}/trial", acceptance(measures=[]), format="json")
    assert (answer.status_code, "don’t match the table" in answer.json()["detail"]) == (422, True)


def test_an_open_question_holds_the_import_until_it_is_answered(client_of, workspace):
    client = client_of("owner")
    first, second, *_ = TABLE.splitlines()[1:]
    text = TABLE.replace(first, re.sub(r"[\d]+\.\d", '"1,025"', first)).replace(
        second, re.sub(r"\d+\.\d", '"2,98"', second)
    )
    upload = bring(client, workspace, text).json()
    (question,) = (q for q in upload["proposed"]["questions"] if q["about"] == "decimal_mark")
    assert (upload["proposed"]["settled"], question["cells"]) == (
        False, [{"line": 2, "text": "1,025", "readings": ["1.025", "1025"]}]
    )  # fmt: skip
    assert question["answer"] == ""
    answered = {"roles": ROLES, "answers": {question["id"]: "comma"}}
    checked = client.post(f"/api/v1/uploads/{upload['id']}/check", answered, format="json").json()
    assert {q["about"]: q["answer"] for q in checked["questions"]} == {"decimal_mark": "comma"}
    address = f"/api/v1/uploads/{upload['id']}/trial"
    held = client.post(address, acceptance(), format="json")
    assert (held.status_code, "Answer it, then import" in held.json()["detail"]) == (422, True)
    assert Trial.objects.count() == 0
    answers = {question["id"]: "comma", "unusual:Yield (t/ha)": "keep"}
    kept = client.post(address, acceptance(answers=answers), format="json")
    assert kept.status_code == 201
    assert Observation.objects.get(typed="1,025").value == 1.025


def test_a_long_table_becomes_a_trial_with_a_visit_for_each_date(client_of, workspace):
    client = client_of("owner")
    rows = [line.split(",") for line in TABLE.splitlines()[1:]]
    text = "Block;Plot;Cover;Trait;Unit;Sampled;Value\n" + "".join(
        f"{b};{p};{t};{trait};{unit};{date};{value}\n"
        for b, p, t, y, w in rows
        for trait, unit, date, value in (("Yield", "t/ha", "2026-08-13", y), ("Weeds", "1/m²", "2026-05-02", w))
    )
    upload = bring(client, workspace, text).json()
    proposed = upload["proposed"]
    measures = [
        {"column": m["key"], "name": m["label"], "unit": m["unit"], "margin": "", "margin_kind": "absolute",
         "direction": m["direction"]}
        for m in proposed["measures"]
    ]  # fmt: skip
    roles = {c["name"]: c["role"] for c in upload["columns"]}
    answers = {q["id"]: q["choices"][0]["key"] for q in proposed["questions"]}
    body = acceptance(roles=roles, answers=answers, measures=measures)
    answer = client.post(f"/api/v1/uploads/{upload['id']}/trial", body, format="json")
    assert answer.status_code == 201, answer.content
    visits = {v.date.isoformat(): v for v in Visit.objects.all()}
    assert {date: v.observations.count() for date, v in visits.items()} == {"2026-08-13": 12, "2026-05-02": 12}
    read_back = visits["2026-08-13"].observations.order_by("unit__order").values_list("value", flat=True)
    assert list(read_back) == [float(y) for *_, y, _ in rows]
    opened = [client.get(f"/api/v1/visits/{one.pk}").json() for one in Visit.objects.order_by("order")]
    assert [(one["date"], [m["name"] for m in one["measures"]]) for one in opened] == [
        ("2026-08-13", ["Yield, 2026-08-13"]), ("2026-05-02", ["Weeds, 2026-05-02"]),
    ]  # fmt: skip


def test_a_margin_of_nothing_is_refused_with_its_place(client_of, workspace):
    accepted = acceptance()
    accepted["measures"][0]["margin"], accepted["measures"][1]["margin"] = 0, -1
    client = client_of("owner")
    path = f"/api/v1/uploads/{bring(client, workspace, TABLE).json()['id']}/trial"
    what = "The margin must be a number above 0, or empty."
    assert client.post(path, accepted, format="json").json()["errors"] == [
        {"where": "measures.0.margin", "what": what}, {"where": "measures.1.margin", "what": what}
    ]  # fmt: skip
    alike = acceptance()
    alike["measures"][1] |= {"name": "Yield", "unit": "t/ha"}
    assert client.post(path, alike, format="json").json()["errors"] == [
        {"where": "measures", "what": "Two measures have one name and unit; give each its own."}
    ]


def test_what_a_column_is_follows_the_answer_of_the_person(client_of, workspace):
    accepted = acceptance(roles={**ROLES, "Weeds": "ignore"})
    accepted["measures"].pop()
    client = client_of("owner")
    trial = bring_trial(client, workspace, TABLE, **accepted)
    assert [m["name"] for m in read(client, trial)["measures"]] == ["Yield"]
    assert Observation.objects.count() == 12


def test_tables_that_nobody_accepted_go_after_a_week(
    django_capture_on_commit_callbacks, client_of, workspace, settings
):
    upload = bring(client_of("owner"), workspace, TABLE).json()
    kept = Upload.objects.get(id=upload["id"])
    created = kept.created_at
    settings.CLOCK = created.replace(microsecond=0).isoformat()
    assert remove_old() == 0
    settings.CLOCK = created.replace(year=created.year + 1, day=1).isoformat()
    path = kept.file.path
    with django_capture_on_commit_callbacks(execute=True):
        assert remove_old() == 1
    with pytest.raises(FileNotFoundError):
        open(path)  # noqa: SIM115


def test_samples_of_a_plot_are_averaged_and_counted_once(client_of, workspace):
    client = client_of("owner")
    text = TABLE + "A,1,Bare,42.1,57\n"
    answers = {"repeated_rows": "samples", "uneven_rows": "lost"}
    trial = bring_trial(client, workspace, text, answers=answers, id=str(uuid.uuid4()))
    plot = next(p for p in read(client, trial)["measures"][0]["plots"] if p["label"] == "1")
    assert (plot["value"], plot["samples"]) == (pytest.approx(41.1), [40.1, 42.1])
    visit = client.get(f"/api/v1/visits/{Visit.objects.get().pk}").json()
    assert (visit["name"], [m["name"] for m in visit["measures"]]) == ("Imported as a table", ["Yield", "Weeds"])
    assert set(Observation.objects.filter(unit__label="1").values_list("sample", flat=True)) == {1, 2}
    assert visit["progress"]["done"] == 12
    # Each of them stands on the sheet, whatever else is planned of the visit.
    crop = visit["measures"][0]
    assert (crop["samples"], crop["samples_due"], crop["sample_name"]) == (2, 1, "sample")
    second = {row["measure"]: row for row in visit["rows"] if row["sample"] == 2}
    assert second[crop["id"]]["value"] == 42.1
    assert {m["name"]: second[m["id"]]["fields"] for m in visit["measures"]} == {
        "Yield": {"value": "42.1"},
        "Weeds": {"value": "57"},
    }
    path = f"/api/v1/trials/{trial}/visits/{visit['id']}"
    how = {"placement": "free", "samples": {}, "plots": [], "observers": [], "blind": None, "guess_first": False}
    plan = {"name": "Harvest", "measures": [m["id"] for m in visit["measures"]], "how": how}
    saved = client.put(path, plan, format="json", headers={"If-Match": visit["etag"]})
    assert (saved.status_code, saved.json()["measures"][0]["samples"]) == (200, 2)
    plan["how"] = {**how, "samples": {crop["id"]: 3}}
    refused = client.put(path, plan, format="json", headers={"If-Match": saved.json()["etag"]})
    assert (refused.status_code, refused.json()["detail"]) == (422, "Yield is one entry of each plot.")


def test_samples_of_a_table_imported_by_an_earlier_release_stand_on_its_sheet_too(client_of, workspace):
    answers = {"repeated_rows": "samples", "uneven_rows": "lost"}
    bring_trial(client_of("owner"), workspace, TABLE + "A,1,Bare,42.1,57\n", answers=answers)
    own = VisitMeasure.objects.order_by("order")
    own.update(samples=None)
    weeds = own.last().measure.version
    weeds.settings["frames"] = 2
    weeds.save()
    with connection.cursor() as cursor:
        cursor.execute(import_module("records.migrations.0014_samples_of_imported_tables").SET)
    assert list(own.values_list("samples", flat=True)) == [2, None]
