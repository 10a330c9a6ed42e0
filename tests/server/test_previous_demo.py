"""The demo database of the version before opens with the present migrations, and nothing in it is lost.

`previous_demo.sql.gz` is a pg_dump (--inserts) of the demo as the version before made it, on 20 October 2026.
"""

import gzip
import json
import os
import subprocess
import sys
import uuid
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

import psycopg
import pytest

SERVER = Path(__file__).parents[2] / "server"
LOOK = """
import json
from rest_framework.test import APIClient
from crew.models import Person
client = APIClient()
client.force_login(Person.objects.get(email="maren@harrowfen.example"), "django.contrib.auth.backends.ModelBackend")
get = lambda path: client.get(f"/api/v1/{path}").json()
trial = get("trials")["results"][0]
season, whole = get(f"trials/{trial['id']}/season"), get(f"trials/{trial['id']}")
client.post(f"/api/v1/trials/{trial['id']}/results", {}, format="json")
reading = client.post(f"/api/v1/trials/{trial['id']}/readings", {}, format="json").json()
visit = get(f"visits/{season['visits'][-1]['id']}")
print(json.dumps({
    "stage": trial["stage"], "plots": len(whole["plots"]), "rows": len(visit["rows"]),
    "visits": [[v["name"], v["state"], v["progress"]["done"]] for v in season["visits"]],
    "clear": [[m["name"], c["treatment"]] for m in reading["measures"] for c in m["cells"]
              if c["verdict"] == "clear-gain"],
    "answers": [d["answer"]["note"] for m in reading["measures"] for d in m["doubts"] if d["answer"]],
}))
"""


@pytest.fixture
def previous():
    """The address of a database that holds the demo as the version before left it."""
    url = urlsplit(os.environ["DATABASE_URL"])
    name = f"previous_{uuid.uuid4().hex[:8]}"
    at = lambda database: urlunsplit(url._replace(path=f"/{database}"))  # noqa: E731
    with psycopg.connect(at("postgres"), autocommit=True) as admin:
        admin.execute(f"CREATE DATABASE {name}")
    try:
        with psycopg.connect(at(name), autocommit=True) as connection:
            connection.execute(gzip.decompress((Path(__file__).parent / "previous_demo.sql.gz").read_bytes()))
        yield at(name)
    finally:
        with psycopg.connect(at("postgres"), autocommit=True) as admin:
            admin.execute(f"DROP DATABASE {name} WITH (FORCE)")


def rows_in(database):
    """Every observation by id: its place and its value, by the columns of that version."""
    with psycopg.connect(database) as connection:
        columns = connection.execute(
            "SELECT column_name FROM information_schema.columns WHERE table_name = 'records_observation'"
        )
        zone, sample = ("zone", "sample") if ("zone",) in columns.fetchall() else ("part", "subsample")
        query = f"SELECT id, unit_id, visit_id, version_id, {zone}, {sample}, value, current FROM records_observation"
        found = {row[0]: row[1:] for row in connection.execute(query).fetchall()}
    assert len(found) >= 100
    return found


@pytest.fixture
def manage(previous):
    environment = {**os.environ, "DATABASE_URL": previous, "APERCU_CLOCK": "2026-10-20T09:30:00+00:00"}

    def command(*arguments):
        done = subprocess.run(
            [sys.executable, "manage.py", *arguments], cwd=SERVER, env=environment, capture_output=True, text=True
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    return command


RELATED = """
import json
from trials.models import Season, TrialMeasure
measure = TrialMeasure.objects.exclude(planned_for=None).get()
print(json.dumps([[t.name for t in measure.planned_for.all()],
                  [sorted(str(one.treatment_id) for one in row.planned_for.all()) for row in measure.history.all()],
                  [t.name for s in Season.objects.all() for t in s.not_grown.all()]]))
measure.planned_for.clear()  # what is read after it is the trial as it was
Season.objects.get(trial=measure.trial).not_grown.clear()
"""


def lists_of_ids(previous):
    """Put lists of ids where the version before kept them: of a treatment that there is and of one that is gone since.

    Returns both ids as the history is to name them, the first one's name, and the number of history's rows.
    """
    gone = str(uuid.uuid4())
    with psycopg.connect(previous, autocommit=True) as connection:
        query = "SELECT id, trial_id FROM trials_trialmeasure WHERE planned_for = '[]' LIMIT 1"
        measure, trial = connection.execute(query).fetchone()
        id, name = connection.execute("SELECT id, name FROM trials_treatment WHERE trial_id = %s", [trial]).fetchone()
        ids = json.dumps([str(id), gone])
        connection.execute("UPDATE trials_trialmeasure SET planned_for = %s WHERE id = %s", [ids, measure])
        query = "UPDATE trials_historicaltrialmeasure SET planned_for = %s WHERE id = %s"
        rows = connection.execute(query, [ids, measure]).rowcount
        connection.execute("UPDATE trials_season SET left_out = %s WHERE trial_id = %s", [ids, trial])
    return sorted([str(id), gone]), name, rows


def test_the_demo_of_the_version_before_migrates_and_opens_whole(previous, manage):
    before = rows_in(previous)
    manage("migrate", "trials", "0022", "--verbosity", "0")
    both, name, rows = lists_of_ids(previous)
    manage("migrate", "--verbosity", "0")
    assert rows_in(previous) == before  # every observation, in its place
    # A treatment that is gone since stays in what the history says, and nowhere else.
    now, history, not_grown = json.loads(manage("shell", "-v", "0", "-c", RELATED).splitlines()[-1])
    assert (now, not_grown) == ([name], [name])
    assert (history, rows > 0) == ([both] * rows, True)
    found = json.loads(manage("shell", "-v", "0", "-c", LOOK).splitlines()[-1])
    found["clear"].sort()
    assert found == {
        "stage": "read",
        "plots": 20,
        "rows": 20,
        "visits": [
            ["Stand", "done", 0], ["Cover biomass", "done", 20], ["Soil in May", "done", 20], ["Weeds 1", "done", 20],
            ["Harvest", "done", 20],
        ],
        "clear": [
            ["Cover biomass", "Black oat"], ["Cover biomass", "Oat + clover"], ["Cover biomass", "Winter camelina"],
            ["Potato yield", "Oat + clover"],
        ],
        "answers": ["Drain and hail; neither had to do with the covers."],
    }  # fmt: skip
