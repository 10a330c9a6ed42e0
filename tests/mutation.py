"""Mutation testing: each line is changed in turn, and some test has to notice.

    .apercu/venv/bin/python -m tests.mutation statistics
    .apercu/venv/bin/python -m tests.mutation records "*entering*"
    .apercu/venv/bin/python -m tests.mutation records 300 "records.places.x__said__mutmut_7"

The first argument is a part of `PARTS`, further ones name mutants as `mutmut run` does; a number before them says how
many tests may meet a change of a module in `NEAREST`. What survives is listed at the end; `show NAME` in place of a
part's arguments prints one of them. Results are kept in .apercu/mutation, so that a second run goes on where the first
ended. A whole part takes hours; lines that hold only text aren't changed.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tomllib
from pathlib import Path

from launcher.places import ROOT, state_folder, venv_python
from launcher.postgres import Cluster

CORE = ("statistics", "verdicts", "doubts", "reading")
PARTS = {**{part: f"apercu_core/{part}/*" for part in CORE}, "records": "records/*"}
SLOW = ("test_simulated", "test_rehearsal", "test_many_seasons")
"""Simulations: too slow to meet every change, and their tolerance lets small ones pass."""
NOT_OF_CODE = ("test_glossary",)
"""Asks of documents and of rooms that aren't laid out."""
RECORDS = (
    "walking", "undo", "two_people", "conflicts", "client_ids", "beyond", "zones", "visit_plan", "parts", "records",
    "answers", "bring", "season", "at_once", "visit_series", "triggers", "watched", "us_units", "own_measures",
    "own_controls", "taken_out", "incomplete_blocks", "jobs", "reports",
)  # fmt: skip
"""The server's tests that plan visits, enter, import, correct or undo values; which notice most comes first."""

NEAREST = {
    "api.views": ("bring", "records", "jobs", "own_controls", "us_units"),
    "api.visits": ("walking", "visit_plan", "us_units", "parts", "zones", "watched", "own_measures", "conflicts"),
    "bring": ("bring", "jobs", "own_controls"),
    "device_clock": ("visit_plan",),
    "import_job": ("jobs",),
    "neighbours": ("visit_plan", "zones", "watched"),
    "past": ("visit_plan",),
    "places": ("visit_plan",),
    "progress": ("season", "zones", "parts", "visit_plan"),
    "uploads": ("bring",),
    "visits": ("visit_plan", "visit_series", "season"),
}
"""A module of `records` → the tests that are about it: they come before all others, in this order."""
MOST_TESTS = 25
"""That meet a change of a module in `NEAREST`, since more than a hundred open a visit: a further one may notice what
survives.
"""


EMPTIED_CACHES = """
import functools
import gc


def pytest_sessionstart(session):
    for one in gc.get_objects():
        if type(one) is functools._lru_cache_wrapper and str(one.__module__).startswith("apercu_core"):
            one.cache_clear()
"""
"""A plugin of pytest: a change is tried in a copy of the process that ran all tests before, with what functions kept
then; a changed function whose results are kept would never be called.
"""


OF_RECORDS = """
import fcntl
import itertools
import os
import pathlib

import psycopg
import pytest

from tests.server import remembered

FIRST, NEAREST, MOST = %r
HELD = []


def require_server():
    try:
        psycopg.connect(os.environ["DATABASE_URL"], dbname="postgres").close()
    except psycopg.OperationalError:
        pytest.exit("The database isn't there.", 35)


def pytest_sessionstart(session):
    from django.db import connection

    require_server()
    remembered.forget()
    for number in itertools.count():
        slot = pathlib.Path(f"database-{number}.lock").open("w")
        try:
            fcntl.flock(slot, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            slot.close()
            continue
        HELD.append(slot)
        connection.settings_dict["TEST"]["NAME"] = f"test_records_{number}"
        return


def pytest_sessionfinish(session):
    HELD.pop().close()
    require_server()


def pytest_collection_modifyitems(items):
    changed = os.environ.get("MUTANT_UNDER_TEST", "")
    nearest = NEAREST.get(changed.removeprefix("records.").rpartition(".")[0], ())

    def place(item):
        marked = item.get_closest_marker("django_db")
        whole = bool(marked and marked.kwargs.get("transaction"))
        name = item.path.stem.removeprefix("test_")
        return name not in nearest, whole, (nearest if name in nearest else FIRST).index(name)

    items.sort(key=place)
    if nearest:
        del items[MOST:]


@pytest.fixture(scope="session", autouse=True)
def emptied_database(django_db_setup, django_db_blocker):
    from django.core.management import call_command
    from django.db import connection

    with django_db_blocker.unblock(), connection.cursor() as cursor:
        cursor.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
            " WHERE datname = current_database() AND pid <> pg_backend_pid()"
        )
        cursor.execute("SELECT EXISTS (SELECT FROM crew_person)")
        if cursor.fetchone()[0]:
            call_command("flush", interactive=False, verbosity=0)
"""
"""A plugin for the server's tests. Changes are tried two at a time, each in a database of its own: in one database they
would fail each other's tests, and every change would look noticed. The tests of its module come first, then those that
notice most, and last those that commit, since a changed line meets no further test once one has failed. One that was
stopped because a change made it run too long leaves what it had committed, and all later ones would fail by that, as if
they had noticed a change; so they would without a database server: a try of that kind ends with the code that stands
for a doubtful one. What the process that ran all tests remembers of trials is forgotten: a change in how they are made
would never be met.
"""


def main(part: str, *names: str) -> int:
    if part not in PARTS:
        print(f"There is no part called {part!r}. The parts are: {', '.join(PARTS)}.", file=sys.stderr)
        return 2
    folder = state_folder() / "mutation" / part
    most, names = (int(names[0]), names[1:]) if names and names[0].isdigit() else (MOST_TESTS, names)
    _lay_out(folder, part, most)
    if part != "records":
        return _mutmut(folder, {}, names)
    cluster = Cluster("mutation", durable=False)
    cluster.start()
    try:
        database = {"DATABASE_URL": cluster.url("apercu"), "DJANGO_SETTINGS_MODULE": "config.settings"}
        return _mutmut(folder, {**database, "APERCU_TESTING": "1"}, names)
    finally:
        cluster.stop()


def _lay_out(folder: Path, part: str, most: int) -> None:
    """The project as one flat folder, so that a module's name is its path: mutants are found by both."""
    folder.mkdir(parents=True, exist_ok=True)
    server = [path for path in (ROOT / "server").iterdir() if path.name != "__pycache__"]
    rooms = [
        "apercu_core",
        "analyse_cli",
        "plan_cli",
        "table_cli",
        "species_cli",
        "calculate_cli",
        "cover_cli",
        "picture_files",
        "standins",
        "launcher",
        "benchmarks",
        "tests",
        "docs",
    ]
    for source in (*server, *(ROOT / room for room in rooms)):
        target = folder / source.name
        if source.is_dir():
            shutil.copytree(source, target, dirs_exist_ok=True, ignore=shutil.ignore_patterns("__pycache__"))
        else:
            shutil.copy(source, target)
    (folder / "emptied_caches.py").write_text(EMPTIED_CACHES, encoding="utf-8")
    (folder / "of_records.py").write_text(OF_RECORDS % ((RECORDS, NEAREST, most),), encoding="utf-8")
    settings = (ROOT / "pyproject.toml").read_text(encoding="utf-8").replace('pythonpath = [".", "server"]', "")
    (folder / "pyproject.toml").write_text(settings + _settings(folder, part), encoding="utf-8")
    tomllib.loads(settings)


def _settings(folder: Path, part: str) -> str:
    mutated = "records" if part == "records" else "apercu_core"
    beside = sorted(path.name for path in folder.iterdir() if path.name not in (mutated, "mutants", "tests"))
    tests = [f"tests/server/test_{name}.py" for name in RECORDS] if part == "records" else ["tests/core"]
    given = ["-o", "filterwarnings=", "-o", "pythonpath=.", "-p", "no:playwright"]
    given += ["-p", "emptied_caches"]
    given += ["--reuse-db", "-p", "of_records"] if part == "records" else ["-p", "no:django"]
    given += [f"--ignore=tests/core/{name}.py" for name in (*SLOW, *NOT_OF_CODE)]
    return f"""
[tool.mutmut]
source_paths = ["{mutated}"]
only_mutate = ["{PARTS[part]}"]
do_not_mutate = ["*/migrations/*"]
also_copy = {beside}
do_not_mutate_patterns = ['^\\s*f?"[^"]*",?$', '(message|said) ?= ?f?"', 'raise (Refused|Conflict)', 'assert ']
pytest_add_cli_args_test_selection = {tests}
pytest_add_cli_args = {given}
timeout_multiplier = 3.0
timeout_constant = 20.0
"""


def _mutmut(folder: Path, environment: dict[str, str], names: tuple[str, ...]) -> int:
    def run(*arguments: str) -> int:
        command = [str(venv_python()), "-m", "mutmut", *arguments]
        return subprocess.run(command, cwd=folder, env={**os.environ, **environment}).returncode

    few = ("--max-children", "2") if environment else ()
    if names[:1] == ("show",):
        return run(*names)
    return run("run", *few, *names) or run("results")


if __name__ == "__main__":
    if len(sys.argv) < 2:
        sys.exit(f"Name a part: {', '.join(PARTS)}.")
    sys.exit(main(*sys.argv[1:]))
