"""How long 50 people wait who work at once, three seconds between acts; then the same with 16 loops guessing passwords.

    PYTHONPATH=.:server .apercu/venv/bin/python benchmarks/people.py [SECONDS]

starts a PostgreSQL and the web server of its own with the demo's data, on this machine, and prints medians and 95th
percentiles over all acts: Today, a trial, its season, a sheet, an entry, a reading of the board.
"""

from __future__ import annotations

import http.client
import json
import os
import random
import statistics
import subprocess
import sys
import threading
import time
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "server")]

from launcher.instance import server_environment  # noqa: E402
from launcher.places import SERVER, venv_python  # noqa: E402
from launcher.postgres import Cluster, free_port  # noqa: E402
from launcher.services import Services  # noqa: E402

PEOPLE, BETWEEN, GUESSERS = 50, 3.0, 16
PASSWORD = "a-long-password-of-fifty"
PEOPLE_MADE = """
import django; django.setup()
from crew.models import Membership, Person, Workspace
workspace = Workspace.objects.get(memberships__person__email="maren@harrowfen.example")
for n in range({n}):
    one = Person.objects.create_person(f"p{{n}}@fen.example", f"P{{n}}", "{password}")
    Membership.objects.create(person=one, workspace=workspace, role="owner")
"""


class Browser:
    """One person's connection, with cookies."""

    def __init__(self, port: int) -> None:
        self._port, self._cookies = port, dict[str, str]()
        self._connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, bytes]:
        headers = {
            "Content-Type": "application/json",
            "Cookie": "; ".join(f"{k}={v}" for k, v in self._cookies.items()),
        }
        headers["X-CSRFToken"] = self._cookies.get("csrftoken", "")
        for again in (True, False):
            try:
                self._connection.request(method, path, json.dumps(body) if body is not None else None, headers)
                answer = self._connection.getresponse()
                content = answer.read()
                break
            except (http.client.HTTPException, OSError):
                self._connection = http.client.HTTPConnection("127.0.0.1", self._port, timeout=60)
                if not again:  # the first time an idle connection was closed
                    return 0, b""
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = cookie.split(";")[0].partition("=")
            self._cookies[name] = value
        return answer.status, content

    def sign_in(self, email: str, password: str) -> int:
        self.ask("GET", "/")
        return self.ask("POST", "/api/v1/session", {"email": email, "password": password})[0]


def main(seconds: float) -> None:
    cluster = Cluster("people", durable=True)
    cluster.remove()
    cluster.start()
    port = free_port()
    environment = {**server_environment(cluster.url("postgres")), "APERCU_ORIGINS": f"http://127.0.0.1:{port}"}
    services = Services(environment)
    try:
        python = str(venv_python())
        given = {**os.environ, **environment}
        subprocess.run([python, "-m", "manage", "load_demo"], cwd=SERVER, env=given | {"APERCU_DEMO": "1"}, check=True)
        made = PEOPLE_MADE.format(n=PEOPLE, password=PASSWORD)
        subprocess.run([python, "-c", made], cwd=SERVER, env=given, check=True)
        services.start_web("127.0.0.1", port)
        services.wait_until_healthy("127.0.0.1", port)
        work(port, seconds)
    finally:
        services.stop()
        cluster.remove()


def work(port: int, seconds: float) -> None:
    people = [Browser(port) for _ in range(PEOPLE)]
    start = time.perf_counter()
    assert {one.sign_in(f"p{n}@fen.example", PASSWORD) for n, one in enumerate(people)} == {200}
    print(f"{PEOPLE} people signed in one after another in {time.perf_counter() - start:.1f} s")
    acts = acts_on(people[0])
    for act in acts:
        act(people[0])  # once, as after the first of the day
    alone = measured(people, acts, seconds)
    say(f"{PEOPLE} people, {BETWEEN:g} s between acts", alone)
    stop = threading.Event()
    tries: list[int] = []
    guessers = [threading.Thread(target=guess, args=(port, n, stop, tries)) for n in range(GUESSERS)]
    for one in guessers:
        one.start()
    try:
        beside = measured(people, acts, seconds)
    finally:
        stop.set()
        for one in guessers:
            one.join()
    say(f"the same beside {GUESSERS} loops of guesses ({len(tries)} tries, {tries.count(401)} of them hashed)", beside)
    print(f"95th percentile beside the guesses: × {p95(beside) / p95(alone):.2f}")


def acts_on(one: Browser) -> list[Callable[[Browser], int]]:
    def got(path: str) -> Any:
        return json.loads(one.ask("GET", path)[1])

    trials = got("/api/v1/trials")["results"]
    walked = next(
        t for t in trials if any(v["date"] is None for v in got(f"/api/v1/trials/{t['id']}/season")["visits"])
    )
    visit = next(v for v in got(f"/api/v1/trials/{walked['id']}/season")["visits"] if v["date"] is None)
    sheet = got(f"/api/v1/visits/{visit['id']}")
    read = next(t for t in trials if got(f"/api/v1/trials/{t['id']}")["results_opened"])
    measure = sheet["measures"][0]

    def enter(by: Browser) -> int:
        fields = {field["key"]: "10" for field in measure["fields"]}
        entry = {
            "id": str(uuid.uuid4()), "unit": random.choice(sheet["order"]), "measure": measure["id"],
            "sample": random.randint(1, measure["samples"]), "fields": fields, "confirmed": True,
            "entered_at": "2026-06-24T08:00:00Z",
        }  # fmt: skip
        return by.ask("PUT", f"/api/v1/visits/{visit['id']}/entries", {"entries": [entry]})[0]

    def get(path: str) -> Callable[[Browser], int]:
        return lambda by: by.ask("GET", path)[0]

    return [
        get("/api/v1/today"), get("/api/v1/trials"), get(f"/api/v1/trials/{walked['id']}"),
        get(f"/api/v1/trials/{walked['id']}/season"), get(f"/api/v1/visits/{visit['id']}"), enter, enter, enter,
        lambda by: by.ask("POST", f"/api/v1/trials/{read['id']}/readings", {})[0],
    ]  # fmt: skip


def measured(people: list[Browser], acts: list[Callable[[Browser], int]], seconds: float) -> list[tuple[int, float]]:
    """Status and milliseconds of each act."""
    found: list[tuple[int, float]] = []
    until = time.monotonic() + seconds

    def live(one: Browser) -> None:
        time.sleep(random.random() * BETWEEN)
        while time.monotonic() < until:
            start = time.perf_counter()
            status = random.choice(acts)(one)
            found.append((status, 1000 * (time.perf_counter() - start)))
            time.sleep(BETWEEN)

    threads = [threading.Thread(target=live, args=(one,)) for one in people]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


def guess(port: int, n: int, stop: threading.Event, tries: list[int]) -> None:
    one = Browser(port)
    one.ask("GET", "/")
    while not stop.is_set():
        body = {"email": f"p{n}@fen.example", "password": str(random.random())}
        tries.append(one.ask("POST", "/api/v1/session", body)[0])


def p95(found: list[tuple[int, float]]) -> float:
    return statistics.quantiles([ms for _, ms in found], n=20)[-1]


def say(what: str, found: list[tuple[int, float]]) -> None:
    wrong = [status for status, _ in found if status not in (200, 201)]
    median = statistics.median(ms for _, ms in found)
    print(
        f"{what}: {len(found)} acts, median {median:.0f} ms, p95 {p95(found):.0f} ms, errors {len(wrong)} {set(wrong)}"
    )


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 40)
