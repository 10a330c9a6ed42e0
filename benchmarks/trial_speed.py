"""How long a large trial takes to open and a whole visit to save: 96 plots, 12 visits, server time without the network.

    PYTHONPATH=.:server .apercu/venv/bin/python benchmarks/trial_speed.py

starts a PostgreSQL of its own, makes the trial through the same actions as the pages, and prints medians of 20.
"""

from __future__ import annotations

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

PLOTS, VISITS, RUNS = 96, 12, 20
PLAN = {"blocks": 12, "width": "3", "length": "10", "gap": "0", "alley": "2", "seed": 5}


def median_ms(act: Callable[[], object]) -> float:
    act()  # warm
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return 1000 * statistics.median(times)


def main() -> None:
    cluster = Cluster("benchmark", durable=True)
    cluster.start()
    os.environ |= {
        "DATABASE_URL": cluster.url("postgres"), "DJANGO_SETTINGS_MODULE": "config.settings",
        "APERCU_SECRET_KEY": "benchmark", "APERCU_TESTING": "1",
    }  # fmt: skip
    try:
        import django

        django.setup()
        measure()
    finally:
        cluster.stop()


def measure() -> None:
    from django.core.management import call_command
    from rest_framework.test import APIClient

    call_command("migrate", verbosity=0)
    from crew.actions import add_person
    from crew.models import Person, Workspace
    from tests.server.asking import Trial, measure_in

    name = f"bench-{uuid.uuid4().hex[:8]}"
    add_person(email=f"{name}@fen.example", name="Bench", password=uuid.uuid4().hex, workspace=name, role="owner")
    client = APIClient(HTTP_IF_MATCH="*")
    person = Person.objects.get(email=f"{name}@fen.example")
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    treatments = [{"id": str(uuid.uuid4()), "name": f"Cover {i}", "is_control": i == 0} for i in range(8)]
    one = {"unit": "t/ha", "catalogue": "", "sheet": "figure", "settings": {}, "direction": "higher", "margin": 1}
    measures = [measure_in(f"Measure {i}", **one) for i in range(VISITS)]
    trial = Trial(client, Workspace.objects.get(name=name), plan=PLAN, treatments=treatments, measures=measures[:1])
    trial.ask({**trial.page, "measures": measures})
    units = [p["id"] for p in client.get(f"/api/v1/trials/{trial.id}").json()["plots"]]
    assert len(units) == PLOTS

    def entries(measure: str) -> list[dict[str, object]]:
        return [
            {"id": str(uuid.uuid4()), "unit": unit, "measure": measure, "fields": {"value": f"{5 + i % 7}"},
             "entered_at": "2026-06-24T08:00:00Z"}
            for i, unit in enumerate(units)
        ]  # fmt: skip

    saved = []
    for i, m in enumerate(measures):
        visit = trial.visit if i == 0 else str(uuid.uuid4())
        body = {"name": f"Visit {i}", "measures": [m["id"]]}
        assert client.put(f"/api/v1/trials/{trial.id}/visits/{visit}", body, format="json").status_code == 200
        sent = {"entries": entries(m["id"])}
        start = time.perf_counter()
        answer = client.put(f"/api/v1/visits/{visit}/entries", sent, format="json")
        saved.append(1000 * (time.perf_counter() - start))
        assert {o["state"] for o in answer.json()["outcomes"]} == {"saved"}

    opening = (f"trials/{trial.id}", f"trials/{trial.id}/season")
    each = {path.split("/")[-1][:6]: median_ms(lambda path=path: client.get(f"/api/v1/{path}")) for path in opening}
    visit_ms = median_ms(lambda: client.get(f"/api/v1/visits/{trial.visit}"))
    today_ms = median_ms(lambda: client.get("/api/v1/today"))
    print(f"{PLOTS} plots, {VISITS} visits of {PLOTS} values each")
    print(f"open the trial     {sum(each.values()):6.1f} ms   (bar: 150 ms; a test holds the number of queries)")
    print(f"save a visit       {statistics.median(saved):6.1f} ms   {PLOTS} values, one bulk write   (bar: 100 ms)")
    print(f"open a visit       {visit_ms:6.1f} ms")
    print(f"today              {today_ms:6.1f} ms")


if __name__ == "__main__":
    main()
