"""Tell: the words, the page on one side, and a package that brings the same verdicts back."""

import csv
import io
import json
import re
import uuid
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from rest_framework.test import APIClient

from config import clock
from crew.models import Person
from demo.harrow_fen import plots
from demo.loading import load
from readings.models import DoubtAnswer
from readings.said_once import every_doubt, said_once
from records.models import Observation
from reports import page as growers
from reports import printing, season_report
from reports.page import growers_page
from tests.server.asking import Trial, measure_in
from tests.server.bringing import bring_trial, look, read
from tests.server.conftest import TABLE
from tests.server.waiting import file_of
from trials.models import Season, TrialMeasure


@pytest.fixture
def harvested(db, settings):
    """The demo's harvested trial, and a client for its owner."""
    settings.CLOCK = "2026-09-18T09:30:00+00:00"
    load()
    client = APIClient(HTTP_IF_MATCH="*")
    client.force_login(
        Person.objects.get(email="maren@harrowfen.example"), backend="django.contrib.auth.backends.ModelBackend"
    )
    season = Season.objects.get(trial__name="Covers before maincrop potato")
    return client, str(season.trial_id)


def package(client, trial):
    answer = file_of(client, trial, "package.zip")
    assert (answer.status_code, answer["Content-Type"]) == (200, "application/zip")
    return answer.content


def bring_back(client, workspace, data):
    """Drop the ZIP and accept what is proposed, changing nothing."""
    file = SimpleUploadedFile("package.zip", data, "application/zip")
    body = {"file": file, "workspace": str(workspace)}
    brought = client.post("/api/v1/uploads", body, format="multipart").json()
    known = brought["described"]
    acceptance = {
        "id": str(uuid.uuid4()),
        "name": known["name"],
        "question": known["question"],
        "roles": {c["name"]: c["role"] for c in brought["columns"]},
        "answers": {q["id"]: q["answer"] or q["choices"][0]["key"] for q in brought["proposed"]["questions"]},
        "control": known["control"],
        "allocation": known["allocation"],
        "measures": known["measures"],
    }
    answer = client.post(f"/api/v1/uploads/{brought['id']}/trial", acceptance, format="json")
    assert answer.status_code == 201, answer.content
    return answer.json()["trial"]


def verdicts(client, trial):
    return {
        (m["name"], c["treatment"]): (c["verdict"], c["estimate"], c["lower"], c["upper"], c["blocks"])
        for m in read(client, trial)["measures"]
        for c in m["cells"]
    }


def test_the_package_comes_back_with_the_same_verdicts(harvested):
    client, trial = harvested
    workspace = client.get("/api/v1/session").json()["memberships"][0]["workspace"]
    again = bring_back(client, workspace, package(client, trial))
    first, second = verdicts(client, trial), verdicts(client, again)
    assert len(first) == 20
    assert {k: (v[0], v[4]) for k, v in second.items()} == {k: (v[0], v[4]) for k, v in first.items()}
    for key, values in first.items():
        assert second[key][1:4] == pytest.approx(values[1:4], rel=1e-9)
    doubts = lambda t: {d["id"] for m in read(client, t)["measures"] for d in m["doubts"]}  # noqa: E731
    assert doubts(again) == doubts(trial)


def test_frames_and_a_failed_plot_come_back_too(owner, workspace):
    trial = Trial(owner, workspace)
    trial.plan_visit(measures=trial.measures[:1])
    for i, label in enumerate(p["label"] for p in owner.get(f"/api/v1/trials/{trial.id}").json()["plots"]):
        if label == "203":
            trial.enter(trial.typed(label, {}, missing_status="failed", missing_reason="never came up"))
        else:
            trial.enter(trial.typed(label, str(5 + i % 4 + i)), trial.typed(label, str(4 + i * 2 % 7), 2))
    again = bring_back(owner, workspace.id, package(owner, trial.id))
    kept, back = (
        Observation.objects.filter(visit__season__trial=one, unit__label="101").order_by("sample")
        for one in (trial.id, again)
    )
    assert [(row.fields, row.value) for row in back] == [(row.fields, row.value) for row in kept]
    assert {k: v for k, v in verdicts(owner, again).items() if k[0] == "Weeds"} == {
        k: v for k, v in verdicts(owner, trial.id).items() if k[0] == "Weeds"
    }


def test_what_each_question_names_comes_back(owner, workspace):
    """Two controls; weeds are compared with the second, and tested as planned for one treatment only."""
    names = ("Bare", "Mustard", "Phacelia", "Vetch")
    treatments = [{"id": str(uuid.uuid4()), "name": n, "is_control": n in names[:2]} for n in names]
    of = {t["name"]: t["id"] for t in treatments}
    asked = {"control": of["Mustard"], "planned": "equivalence", "planned_for": [of["Vetch"]], "primary": True}
    named = measure_in("Sample weeds", **asked)  # by its name alone, its column would be taken for one of samples
    trial = Trial(owner, workspace, treatments=treatments, measures=[named])
    for i, plot in enumerate(owner.get(f"/api/v1/trials/{trial.id}").json()["plots"]):
        trial.enter(*(trial.typed(plot["label"], str(5 + (i * k) % 7), k) for k in (1, 2)))
    again = bring_back(owner, workspace.id, package(owner, trial.id))
    for one in (trial.id, again):
        measure = read(owner, one)["measures"][0]
        assert (measure["base"], measure["primary"]) == ("Mustard", True)
        assert [p["treatment"] for p in measure["planned"]] == ["Vetch"]
        treatments = owner.get(f"/api/v1/trials/{one}").json()["treatments"]
        assert [t["name"] for t in treatments if t["is_control"]] == ["Bare", "Mustard"]


def test_the_package_describes_every_column_with_its_unit_and_holds_reading_plan_and_seed(harvested):
    client, trial = harvested
    data = package(client, trial)
    assert data == package(client, trial)  # the same bytes for the same trial
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        files = {name: archive.read(name).decode() for name in archive.namelist()}
    rows = list(csv.DictReader(io.StringIO(files["data.csv"])))
    schema = json.loads(files["datapackage.json"])["resources"][0]["schema"]
    assert list(rows[0]) == [field["name"] for field in schema["fields"]]
    assert {f["title"]: f["unit"] for f in schema["fields"] if f["type"] == "number"}["Potato yield"] == "t/ha"
    assert schema["primaryKey"] == ["Plot", "Sample"]
    assert list(dict.fromkeys(row["Plot"] for row in rows)) == [p.label for p in plots()]
    stored = json.loads(files["trial.json"])
    assert (stored["plan"]["seed"], stored["plan"]["algorithm"]) == (20250828, "fisher-yates-pcg64-1")
    assert len(stored["plan"]["plots"]) == 20
    assert json.loads(files["reading.json"])["measures"][0]["cells"][0]["verdict"]


@pytest.mark.parametrize(
    ("files", "says"),
    [
        ({"data.csv": "Plot,Treatment,Y\n1,a,3\n", "trial.json": "{"}, "trial.json can’t be read"),
        (
            {"data.csv": "Plot,Treatment,Y\n1,a,3\n", "trial.json": '{"measures": [{}]}'},
            "can’t be read ('column' is missing)",
        ),
        ({"data.csv": "x" * 20_000_001, "trial.json": "{}"}, "larger than 20 MB"),
        ({"other.txt": "hello"}, "spreadsheet or ZIP"),
    ],
    ids=["broken", "incomplete", "bomb", "another ZIP"],
)
def test_a_package_that_is_none_says_why(owner, workspace, files, says):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in files.items():
            archive.writestr(name, text)
    file = SimpleUploadedFile("p.zip", out.getvalue(), "application/zip")
    answer = owner.post("/api/v1/uploads", {"file": file, "workspace": str(workspace.id)}, format="multipart")
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_the_page_is_one_side_in_words_with_map_doubts_name_and_date(harvested, monkeypatch):
    client, trial = harvested
    report = client.get(f"/api/v1/trials/{trial}/report").json()
    lines = {m["name"]: {line["treatment"]: line["sentence"] for line in m["lines"]} for m in report["measures"]}
    oat = lines["Cover biomass"]["Oat + clover"]
    assert oat.startswith("3800 kg/ha more than Bare stubble (between +2700 and +5000)")
    assert oat.endswith("This is a clear gain, larger than the margin of 1000 kg/ha.")
    assert lines["Potato yield"]["Oat + clover"].startswith("not settled (between −1.1 and +12.9)")  # four blocks
    assert "Clearly higher cover biomass: " in report["short"]
    assert report["signed"] == "Maren Oake, 18 September 2026"
    assert any("Drain and hail" in d["answer"] for d in report["doubts"])
    assert not any(re.search(r"\bp [=<]", one["finding"]) for one in report["doubts"])
    printed = []
    make = growers._html
    monkeypatch.setattr(growers, "_html", lambda *given: printed.append(make(*given)) or printed[-1])
    season = Season.objects.get(trial=trial)
    pdf = growers_page(by=Person.objects.get(email="maren@harrowfen.example"), season=season)
    assert pdf.startswith(b"%PDF-")
    assert pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page ") <= 1
    for words in (oat, report["short"], "Maren Oake", 'aria-label="Plot map"', " m</text>"):
        assert words in re.sub('<span class="whole">|</span>', "", printed[-1]).replace("&#x27;", "'")


def test_the_page_does_not_grow_with_answers(harvested, monkeypatch):
    client, trial = harvested
    season = Season.objects.get(trial=trial)
    maren = Person.objects.get(email="maren@harrowfen.example")
    monkeypatch.setattr(season_report, "MOST_ANSWERED", 3)  # fewer than this trial has
    reading = look(client, trial)
    every = [*reading["doubts"], *(d for m in reading["measures"] for d in m["doubts"])]
    DoubtAnswer.objects.bulk_create(
        DoubtAnswer(season=season, doubt=doubt["key"], note=f"{n} " + "long " * 190, by=maren, at=clock.now())
        for doubt in every for n in range(200)
    )  # fmt: skip
    report = client.get(f"/api/v1/trials/{trial}/report").json()
    answered = [d for d in report["doubts"] if d["answer"]]
    assert len(report["doubts"]) <= 13
    assert 1 <= len(answered) <= 8
    assert all(len(d["answer"]) < 400 and "see the full analysis for the whole answer" in d["answer"] for d in answered)
    assert report["more_doubts"] > 0
    printed, made = [], growers._html
    monkeypatch.setattr(growers, "_html", lambda *given: printed.append(made(*given)) or printed[-1])
    page = growers_page(by=maren, season=season)
    assert len(page) < 200_000
    assert f"{report['more_doubts']} further doubt" in printed[-1]
    assert len(printed[-1].split('class="doubts"')[1]) < 8_000


def test_the_page_fetches_nothing_but_its_font():
    for address in ("http://fen.example/x.css", "file:///etc/passwd"):
        with pytest.raises(ValueError, match="may not"):
            printing._no_fetch(address)


def test_who_reads_us_units_is_told_in_them(harvested):
    client, trial = harvested
    client.patch("/api/v1/session", {"units": "us"}, format="json")
    report = client.get(f"/api/v1/trials/{trial}/report").json()
    cover = next(m for m in report["measures"] if m["name"] == "Cover biomass")
    assert cover["unit"] == "lb/ac"
    assert any("3400 lb/ac more" in line["sentence"] for line in cover["lines"])  # 3808 kg/ha, to hundreds
    board = read(client, trial)["measures"][-1]
    assert (board["unit"], board["margin"]) == ("ton/ac", 0.8922)
    measure = board["id"]
    changed = client.patch(f"/api/v1/measures/{measure}", {"margin": 1, "reason": "rounder"}, format="json").json()
    assert (changed["margin"], changed["shown_unit"]) == (1.0, "ton/ac")
    assert TrialMeasure.objects.get(id=measure).margin == pytest.approx(1 / 0.44608956)  # kept in t/ha


def test_names_are_escaped_and_a_trial_without_figures_says_so(owner, workspace):
    trial = Trial(owner, workspace, question="Is <b>this</b> & that?")
    read(owner, trial.id)
    report = owner.get(f"/api/v1/trials/{trial.id}/report").json()
    assert report["short"] == "There is nothing to compare yet."
    page = file_of(owner, trial.id, "page.pdf")
    assert (page.status_code, page["Content-Disposition"]) == (200, 'attachment; filename="covers-before-barley.pdf"')
    unknown = owner.post(f"/api/v1/trials/{uuid.uuid4()}/files", {"file": "page.pdf"}, format="json")
    assert (unknown.status_code, unknown.json()["code"]) == (404, "not-found")


def test_a_table_by_itself_is_described_by_nobody(owner, workspace):
    trial = bring_trial(owner, workspace, TABLE)
    read(owner, trial)
    assert "Not stated" not in owner.get(f"/api/v1/trials/{trial}/report").json()["where"]


def test_what_several_measures_share_is_said_once_the_gravest_first_with_an_answer_to_any_of_them():
    def doubt(subject, severity="weakens", finding="Plot 203 is lost.", note=None):
        return {"id": "lost", "subject": subject, "severity": severity, "finding": finding, "answer": note}

    shared = [doubt("Yield"), doubt("Weeds", note="A drain."), doubt("", "stops", "One block.")]
    result = {"doubts": [doubt("", "worth-knowing", "No corner.")], "measures": [{"doubts": shared}]}
    said = said_once(every_doubt(result))
    assert [(one["finding"], one["subject"], one["answer"]) for one in said] == [
        ("One block.", "", None), ("Plot 203 is lost.", "Yield, Weeds", "A drain."), ("No corner.", "", None),
    ]  # fmt: skip
    assert shared[0]["subject"] == "Yield"
