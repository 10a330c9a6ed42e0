"""What 10 million observations in the database cost somebody who has 3 million of them.

    PYTHONPATH=.:server .apercu/venv/bin/python benchmarks/large_database.py [MILLIONS]

starts a PostgreSQL of its own and fills it by SQL with copies of a trial of 100 plots and 10 visits. It prints queries
and the median time of Today, a trial, a sheet and the save of one entry, before and after, and what a sheet of 99,000
values takes page by page.
"""

from __future__ import annotations

import logging
import os
import statistics
import sys
import time
import uuid
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "server")]

from launcher.postgres import Cluster  # noqa: E402

RUNS = 15
PLAN = {"blocks": 34, "width": "3", "length": "10", "gap": "0", "alley": "2", "seed": 5}
VISITS, SAMPLES = 10, 10


def main(millions: float) -> None:
    cluster = Cluster("benchmark", durable=True)
    cluster.remove()
    cluster.start()
    os.environ |= {
        "DATABASE_URL": cluster.url("postgres"), "DJANGO_SETTINGS_MODULE": "config.settings",
        "APERCU_SECRET_KEY": "benchmark", "APERCU_TESTING": "",
    }  # fmt: skip
    try:
        import django

        django.setup()
        measure(millions)
    finally:
        cluster.stop()


def measure(millions: float) -> None:
    from django.conf import settings
    from django.core.management import call_command
    from django.test.utils import CaptureQueriesContext
    from rest_framework.test import APIClient

    settings.ALLOWED_HOSTS.append("testserver")
    logging.disable(logging.INFO)
    call_command("migrate", verbosity=0)
    from django.db import connection

    from crew.actions import add_person
    from crew.models import Person, Workspace
    from tests.server.asking import Trial, measure_in

    def person(name: str) -> tuple[APIClient, Workspace]:
        add_person(email=f"{name}@fen.example", name=name, password="-" * 20, workspace=name, role="owner")
        client = APIClient(HTTP_IF_MATCH="*")
        client.force_login(Person.objects.get(name=name), backend="django.contrib.auth.backends.ModelBackend")
        return client, Workspace.objects.get(name=name)

    def trial_of(client: APIClient, workspace: Workspace, *, large: bool = False) -> Trial:
        measures = [measure_in(f"Weeds {n}", settings={"area": 0.25, "frames": SAMPLES}) for n in range(VISITS)]
        covers = [{"id": str(uuid.uuid4()), "name": f"Cover {n}"} for n in range(33)]
        more = {"treatments": covers} if large else {}
        trial = Trial(client, workspace, plan=PLAN | ({"blocks": 30} if large else {}), measures=measures, **more)
        if large:
            return trial  # all measures at one visit
        trial.plan_visit(measures=trial.measures[:1])
        for n, one in enumerate(trial.measures[1:], 2):
            visit = {"name": f"Visit {n}", "due": "2026-06-24", "measures": [one]}
            client.put(f"/api/v1/trials/{trial.id}/visits/{uuid.uuid4()}", visit, format="json")
        return trial

    mine, theirs = person("Mine"), person("Theirs")
    own, foreign = trial_of(*mine), trial_of(*theirs)
    fill(own.id)
    client = mine[0]
    entry = iter(range(10**9))
    rows = client.get(f"/api/v1/visits/{own.visit}").json()["rows"]
    last = [next(row["id"] for row in rows if row["unit"] == own.unit("101") and row["sample"] == 1)]

    def save() -> None:
        row = own.typed("101", str(next(entry) % 90)) | {"replaces": last[0]}
        saved = client.put(f"/api/v1/visits/{own.visit}/entries", {"entries": [row]}, format="json").json()
        assert saved["outcomes"][0]["state"] == "saved"
        last[0] = row["id"]

    def get(path: str) -> Callable[[], None]:
        def act() -> None:
            assert client.get(f"/api/v1/{path}").status_code == 200

        return act

    acts = {
        "Today": get("today"), "trials": get("trials"), "trial": get(f"trials/{own.id}"),
        "sheet": get(f"visits/{own.visit}"), "save of one entry": save,
    }  # fmt: skip

    def all_acts() -> dict[str, tuple[int, float]]:
        found = {}
        for name, act in acts.items():
            act()
            with CaptureQueriesContext(connection) as queries:
                act()
            found[name] = len(queries), median_ms(act)
            if os.environ.get("SAID"):
                print(name, *(q["sql"][:150] for q in queries), sep="\n   ")
        return found

    before = all_acts()
    each = count(own.id)
    start = time.perf_counter()
    fill(foreign.id)
    copies = round(millions * 1e6 / each)
    multiply(own.id, max(1, round(0.3 * copies)) - 1)
    multiply(foreign.id, max(1, copies - round(0.3 * copies)) - 1)
    with connection.cursor() as cursor:
        cursor.execute("VACUUM ANALYZE")
    print(f"{total():,} observations made in {time.perf_counter() - start:.0f} s, {count(own.id, True):,} of them "
          "one’s own")  # fmt: skip
    start = time.perf_counter()
    acts["Today"]()
    print(f"Today for the first time after that: {time.perf_counter() - start:.1f} s")
    after = all_acts()
    for name in acts:
        (queries, ms), (queries_then, ms_then) = before[name], after[name]
        print(
            f"{name:<18} {queries:>3} → {queries_then:>3} queries   {ms:7.1f} → {ms_then:7.1f} ms  × {ms_then / ms:.2f}"
        )
    large = trial_of(client, mine[1], large=True)
    fill(large.id)
    sheet = client.get(f"/api/v1/visits/{large.visit}").json()
    page = median_ms(get(f"visits/{large.visit}?page={sheet['pages']}"))
    print(f"a trial of {count(large.id):,} values: a page of its sheet ({sheet['pages']} of them) {page:.0f} ms")


def median_ms(act: Callable[[], object]) -> float:
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return 1000 * statistics.median(times)


def fill(trial: str) -> None:
    """Every figure of every visit of a trial, by SQL."""
    from django.db import connection

    with connection.cursor() as cursor:
        cursor.execute(
            """
            INSERT INTO records_observation (id, unit_id, visit_id, version_id, zone, component_kind, component, sample,
                source, value, typed, fields, units, missing_reason, missing_status, why,
                current, in_conflict, confirmed, by_id, entered_at, received_at)
            SELECT gen_random_uuid(), u.id, v.id, m.version_id, '', '', '', s,
                '', 20 + random() * 40, '10', '{"count": "10"}', 'metric', '', '', '', true, false, false,
                t.created_by_id, now(), now()
            FROM trials_trial t JOIN trials_season e ON e.trial_id = t.id JOIN records_visit v ON v.season_id = e.id
                JOIN trials_unit u ON u.season_id = e.id AND u.kind = 'plot'
                JOIN records_visitmeasure k ON k.visit_id = v.id JOIN trials_trialmeasure m ON m.id = k.measure_id
                JOIN library_measureversion w ON w.id = m.version_id,
                LATERAL generate_series(1, (w.settings->>'frames')::float::int) s
            WHERE t.id = %s ON CONFLICT DO NOTHING
            """,
            [trial],
        )


COPIED = ("trials_site", "trials_trial", "trials_treatment", "trials_trialmeasure", "trials_season", "trials_unit",
          "records_visit", "records_visitmeasure", "records_observation")  # fmt: skip


def multiply(trial: str, times: int) -> None:
    """Copies of a trial with all that hangs on it; each id becomes the hash of itself and the copy's number."""
    from django.db import connection

    def new(column: str) -> str:
        return f"md5({column}::text || n)::uuid"

    ids = {"id", "site_id", "trial_id", "treatment_id", "season_id", "parent_id", "unit_id", "visit_id", "measure_id"}
    where = {
        "trials_site": "id IN (SELECT site_id FROM trials_season WHERE trial_id = %(t)s)",
        "trials_trial": "id = %(t)s", "trials_treatment": "trial_id = %(t)s", "trials_trialmeasure": "trial_id = %(t)s",
        "trials_season": "trial_id = %(t)s",
        "trials_unit": "season_id IN (SELECT id FROM trials_season WHERE trial_id = %(t)s)",
        "records_visit": "season_id IN (SELECT id FROM trials_season WHERE trial_id = %(t)s)",
        "records_visitmeasure": "visit_id IN (SELECT v.id FROM records_visit v JOIN trials_season s "
        "ON s.id = v.season_id WHERE s.trial_id = %(t)s)",
        "records_observation": "visit_id IN (SELECT v.id FROM records_visit v JOIN trials_season s "
        "ON s.id = v.season_id WHERE s.trial_id = %(t)s)",
    }  # fmt: skip
    with connection.cursor() as cursor:
        for table in COPIED:
            cursor.execute("SELECT column_name FROM information_schema.columns WHERE table_name = %s", [table])
            columns = [row[0] for row in cursor.fetchall()]
            if table == "records_visitmeasure":
                columns.remove("id")
            quoted = ", ".join(f'"{c}"' for c in columns)
            values = ", ".join("NULL" if c == "counted" else new(f'"{c}"') if c in ids else f'"{c}"' for c in columns)
            batch = 20
            for first in range(1, times + 1, batch):
                cursor.execute(
                    f"INSERT INTO {table} ({quoted}) SELECT {values} FROM {table}, "
                    f"generate_series({first}, {min(first + batch - 1, times)}) n WHERE {where[table]}",
                    {"t": trial},
                )


def count(trial: str, whole_workspace: bool = False) -> int:
    from records.models import Observation
    from trials.models import Trial

    own = Observation.objects.filter(visit__season__trial=trial)
    if whole_workspace:
        own = Observation.objects.filter(visit__season__trial__workspace=Trial.objects.get(id=trial).workspace_id)
    return own.count()


def total() -> int:
    from records.models import Observation

    return Observation.objects.count()


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 10)
