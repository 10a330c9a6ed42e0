"""Web and worker as child processes that stop together."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Mapping
from pathlib import Path
from types import FrameType

from launcher.places import SERVER, state_folder, venv_python
from launcher.run import die_with_parent
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
                f"Port {port} on {host} can't be used ({error.strerror}).",
                f"Stop what is using it, or choose another:  --port {port + 1}",
                Exit.PORT_TAKEN,
            ) from None


class Services:
    """Starts child processes in their own process groups and stops all of them."""

    def __init__(self, environment: Mapping[str, str]) -> None:
        self._environment = {**os.environ, **environment}
        self._children: dict[str, subprocess.Popen[bytes]] = {}

    def log(self, name: str) -> Path:
        folder = state_folder() / "logs"
        folder.mkdir(exist_ok=True)
        return folder / f"{name}.log"

    def _start(self, name: str, *arguments: str) -> None:
        with self.log(name).open("ab") as log:
            self._children[name] = subprocess.Popen(
                [venv_python(), "-m", *arguments],
                cwd=SERVER,
                env=self._environment,
                stdout=log,
                stderr=log,
                start_new_session=True,
                preexec_fn=die_with_parent,
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
            "4",
            "--graceful-timeout",
            "5",
            "--preload",
        )

    def start_worker(self) -> None:
        self._start("worker", "manage", "procrastinate", "worker", "--shutdown-graceful-timeout", "5")

    def wait_until_healthy(self, host: str, port: int, seconds: float = 60) -> None:
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            self.raise_if_stopped()
            try:
                with urllib.request.urlopen(f"http://{host}:{port}/api/v1/health", timeout=2):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        raise Trouble("The web server doesn't answer.", f"Its log is {self.log('web')}.")

    def raise_if_stopped(self) -> None:
        for name, child in self._children.items():
            if child.poll() is not None:
                tail = "\n".join(self.log(name).read_text(errors="replace").splitlines()[-12:])
                raise Trouble(f"{name} stopped by itself:\n{tail}", f"Its log is {self.log(name)}.")

    def wait(self) -> None:
        while True:
            self.raise_if_stopped()
            time.sleep(0.5)

    def stop(self) -> None:
        for child in self._children.values():
            if child.poll() is None:
                os.killpg(child.pid, signal.SIGTERM)
        for child in self._children.values():
            try:
                child.wait(timeout=10)
            except subprocess.TimeoutExpired:
                os.killpg(child.pid, signal.SIGKILL)
                child.wait()
        self._children.clear()
