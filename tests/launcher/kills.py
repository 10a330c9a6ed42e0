"""Shows that a running demo comes back from kills of its parts, and that nobody waits long meanwhile."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

BACK_WITHIN = 15.0
LONGEST_ANSWER = 8.0
"""Seconds that one request may take while parts are dead."""


@dataclass
class Demo:
    """`launcher`: process id; `state`: its state folder."""

    launcher: int
    state: Path
    port: int
    waited: list[float] = field(default_factory=list)

    @property
    def postmaster(self) -> int:
        return int((self.state / "postgres-demo/data/postmaster.pid").read_text().split("\n")[0])

    def child(self, said: str) -> int:
        """The launcher's child whose command line says so."""
        return next(pid for pid in _children(self.launcher) if said in _command(pid))

    def backends(self) -> list[int]:
        return [pid for pid in _children(self.postmaster) if "postgres: apercu" in _command(pid)]

    def answers(self) -> int:
        """Status of a request that needs the database, 0 where nobody listens. Raises where it isn't a problem."""
        begun = time.monotonic()
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/v1/health", timeout=30) as answer:
                status = int(answer.status)
        except urllib.error.HTTPError as error:
            status = error.code
            body = json.loads(error.read())
            assert (status, body["code"]) == (503, "unavailable"), body
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            status = 0
        self.waited.append(time.monotonic() - begun)
        return status


def _children(parent: int) -> list[int]:
    found = subprocess.run(["pgrep", "-P", str(parent)], capture_output=True, text=True).stdout.split()
    return [int(pid) for pid in found]


def _command(pid: int) -> str:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode()
    except OSError:
        return ""


def _all_back(demo: Demo) -> bool:
    try:
        return bool(demo.child("procrastinate worker") and demo.child("gunicorn")) and demo.answers() == 200
    except StopIteration:
        return False


def _killed(demo: Demo, victims: Sequence[int]) -> float:
    """Seconds until web and worker serve again after these processes were killed."""
    for pid in victims:
        os.kill(pid, signal.SIGKILL)
    begun = time.monotonic()
    time.sleep(0.2)
    while not _all_back(demo):
        assert time.monotonic() - begun < BACK_WITHIN, f"not back after {BACK_WITHIN:.0f} s"
        time.sleep(0.2)
    return time.monotonic() - begun


def _does_its_work(manage: Callable[[str], str]) -> None:
    """The worker finishes a task that is given to it now."""
    given = (
        "from records.tasks import remove_old_uploads\n"
        "from procrastinate.contrib.django.models import ProcrastinateJob\n"
        "import time; id = remove_old_uploads.defer(timestamp=0);\n"
        "for _ in range(150):\n"
        "    status = ProcrastinateJob.objects.get(id=id).status\n"
        "    if status in ('succeeded', 'failed'): break\n"
        "    time.sleep(0.1)\n"
        "print(status)"
    )
    assert manage(given).strip().endswith("succeeded")


def comes_back(demo: Demo, manage: Callable[[str], str]) -> str:
    """Kills each part and several together. `manage`: runs Python in the server's shell and gives what it prints."""
    scenes: list[tuple[str, Callable[[], list[int]]]] = [
        ("a database backend", lambda: demo.backends()[:1]),
        ("the worker", lambda: [demo.child("procrastinate worker")]),
        ("the web master", lambda: [demo.child("gunicorn")]),
        ("a web worker", lambda: _children(demo.child("gunicorn"))[:1]),
        ("the postmaster", lambda: [demo.postmaster]),
        ("postmaster, web and worker", lambda: [
            demo.postmaster, demo.child("gunicorn"), demo.child("procrastinate worker")]),
    ]  # fmt: skip
    took = []
    for name, victims in scenes:
        seconds = _killed(demo, victims())
        took.append(f"{name} {seconds:.1f} s")
        assert max(demo.waited) < LONGEST_ANSWER, f"a request took {max(demo.waited):.1f} s after the kill of {name}"
    _does_its_work(manage)
    return "back after the kill of " + ", ".join(took) + f"; longest answer {max(demo.waited):.1f} s"
