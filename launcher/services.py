"""Web and worker as child processes that stop together, and that are started again when one of them dies."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from types import FrameType

from launcher.logs import rotate
from launcher.places import SERVER, state_folder, venv_python
from launcher.run import ONE_THREAD, die_with_parent
from launcher.say import say
from launcher.trouble import Exit, Trouble


class StopAsked(Exception):
    """Ctrl-C or a termination signal reached the launcher."""


def stop_on_signals() -> None:
    def stop(_signal: int, _frame: FrameType | None) -> None:
        raise StopAsked

    signal.signal(signal.SIGINT, stop)
    signal.signal(signal.SIGTERM, stop)


def require_port(host: str, port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise Trouble(
                f"Port {port} on {host} can’t be used ({error.strerror}).",
                f"Stop what is using it, or choose another:  --port {port + 1}",
                Exit.PORT_TAKEN,
            ) from None


LOOK_EVERY = 0.5
LONGEST_WAIT = 8.0
"""Seconds before a child that keeps dying is started again."""


@dataclass
class _Child:
    """`started`: on the monotonic clock; `wait`: how long to wait before it is started again."""

    arguments: tuple[str, ...]
    process: subprocess.Popen[bytes]
    started: float
    wait: float = LOOK_EVERY


class Services:
    """Starts child processes in their own process groups and stops all of them."""

    def __init__(self, environment: Mapping[str, str]) -> None:
        self._environment = {**ONE_THREAD, **os.environ, **environment}
        self._children: dict[str, _Child] = {}

    def log(self, name: str) -> Path:
        folder = state_folder() / "logs"
        folder.mkdir(mode=0o700, exist_ok=True)
        return folder / f"{name}.log"

    def _start(self, name: str, *arguments: str) -> None:
        self._children[name] = _Child(arguments, self._spawned(name, arguments), time.monotonic())

    def _spawned(self, name: str, arguments: tuple[str, ...]) -> subprocess.Popen[bytes]:
        with self.log(name).open("ab") as log:
            return subprocess.Popen(
                [venv_python(), "-m", *arguments],
                cwd=SERVER,
                env=self._environment,
                stdout=log,
                stderr=log,
                start_new_session=True,
                preexec_fn=_as_child,
            )

    def start_web(self, host: str, port: int) -> None:
        self._start(
            "web",
            "gunicorn",
            "config.wsgi",
            "--bind",
            f"{host}:{port}",
            "--worker-class",
            "gthread",
            "--workers",
            "2",
            "--threads",
            "16",
            "--keep-alive",
            "15",
            "--graceful-timeout",
            "5",
            "--preload",
        )

    def start_worker(self) -> None:
        self._start(
            "worker", "manage", "procrastinate", "worker", "--concurrency", "2", "--shutdown-graceful-timeout", "5"
        )

    def start_weather(self, port: int, today: str) -> None:
        """The simulated weather service; `today`: where its records end, empty: the real one."""
        self._start("weather", "standins.weather", "--port", str(port), *(["--today", today] if today else []))

    def wait_until_healthy(self, host: str, port: int, seconds: float = 60) -> None:
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            self.raise_if_stopped()
            try:
                with urllib.request.urlopen(f"http://{host}:{port}/api/v1/health", timeout=2):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        raise Trouble("The web server doesn’t answer.", f"Its log is {self.log('web')}.")

    def wait_for_port(self, host: str, port: int, seconds: float = 20) -> None:
        """Until something listens there, or the time is over."""
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            with socket.socket() as probe:
                if probe.connect_ex((host, port)) == 0:
                    return
            time.sleep(0.05)

    def raise_if_stopped(self) -> None:
        for name, child in self._children.items():
            if child.process.poll() is not None:
                tail = "\n".join(self.log(name).read_text(errors="replace").splitlines()[-12:])
                raise Trouble(f"{name} stopped by itself:\n{tail}", f"Its log is {self.log(name)}.")

    def keep_running(self, look_after: Callable[[], None]) -> None:
        """Start again what died, until a signal comes. The end of one child never stops another.

        `look_after`: what else has to be kept, such as a database of one's own; called at every look.
        """
        while True:
            look_after()
            for name, child in self._children.items():
                rotate(self.log(name))
                if child.process.poll() is not None:
                    self._revive(name, child)
            time.sleep(LOOK_EVERY)

    def _revive(self, name: str, child: _Child) -> None:
        """Waits longer each time for one that dies soon after its start, as it does while the database is away."""
        now = time.monotonic()
        lived = now - child.started
        if lived < child.wait:
            return
        say(f"{name} ended by itself; starting it again. Its log is {self.log(name)}.")
        _kill_group(child.process.pid)  # a killed master may leave workers that hold its port
        child.wait = min(LONGEST_WAIT, 2 * child.wait) if lived < 2 * LONGEST_WAIT else LOOK_EVERY
        child.process, child.started = self._spawned(name, child.arguments), now

    def stop(self) -> None:
        for child in self._children.values():
            if child.process.poll() is None:
                os.killpg(child.process.pid, signal.SIGTERM)
        for child in self._children.values():
            try:
                child.process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                _kill_group(child.process.pid)
                child.process.wait()
        self._children.clear()


def _as_child() -> None:
    die_with_parent()
    os.umask(0o077)  # what people bring, and what stands in logs, is for the service alone


def _kill_group(leader: int) -> None:
    with suppress(ProcessLookupError):
        os.killpg(leader, signal.SIGKILL)
