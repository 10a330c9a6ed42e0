"""A PostgreSQL of Apercu's own: its folder, its free port, loopback only."""

from __future__ import annotations

import os
import secrets
import shutil
import socket
import subprocess
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from launcher.machine import POSTGRES, postgres_programs, require_packages
from launcher.places import am_root, state_folder
from launcher.say import say, step
from launcher.trouble import Exit, Trouble, explain_failure

USER = "apercu"


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


@dataclass
class Cluster:
    """One database server. `durable`: fsync on and a password (demo, real use); else quick and open (tests)."""

    name: str
    durable: bool
    port: int = 0

    @property
    def home(self) -> Path:
        return state_folder() / f"postgres-{self.name}"

    @property
    def data(self) -> Path:
        return self.home / "data"

    def _as_owner(self, program: str, *arguments: str | Path) -> subprocess.CompletedProcess[str]:
        programs = postgres_programs()
        assert programs is not None, "require_packages(POSTGRES) comes first"
        drop = ["setpriv", "--reuid=postgres", "--regid=postgres", "--init-groups"] if am_root() else []
        return subprocess.run(
            [*drop, str(programs / program), *map(str, arguments)],
            cwd=self.home,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            env={**os.environ, "LC_ALL": "C.UTF-8"},
        )

    def _password(self) -> str:
        return (self.home / "password").read_text().strip()

    def url(self, database: str) -> str:
        secret = f":{self._password()}" if self.durable else ""
        return f"postgresql://{USER}{secret}@127.0.0.1:{self.port}/{database}"

    def create(self) -> None:
        """Make the cluster once; a half-made one is thrown away and made again."""
        require_packages(POSTGRES)
        if (self.data / "PG_VERSION").exists():
            return
        with step(f"making the {self.name} database"):
            shutil.rmtree(self.home, ignore_errors=True)
            self.home.mkdir()
            password = self.home / "password"
            password.touch(mode=0o600)
            password.write_text(secrets.token_urlsafe(24) + "\n")
            if am_root():
                shutil.chown(self.home, "postgres", "postgres")
                shutil.chown(password, "postgres", "postgres")
            login = "scram-sha-256" if self.durable else "trust"
            fresh = self.home / "data.new"
            made = self._as_owner(
                "initdb",
                "-D",
                fresh,
                "-U",
                USER,
                f"--auth={login}",
                f"--pwfile={password}",
                "--encoding=UTF8",
                "--locale=C.UTF-8",
            )
            if made.returncode != 0:
                raise explain_failure("Making the database", "the database", made.stdout)
            fresh.rename(self.data)

    def is_running(self) -> bool:
        """Whether its first process is there; after a kill its file still names the dead one, which nobody may have
        buried.
        """
        try:
            process = (self.data / "postmaster.pid").read_text().split("\n")[0]
            state = Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0]
        except (OSError, IndexError):
            return False
        return state != "Z"

    def port_in_use(self) -> int:
        """The port of the running server, which its own file names in its fourth line."""
        return int((self.data / "postmaster.pid").read_text().split("\n")[3])

    def look_after(self) -> None:
        """Start it again where it was, if it has died. What still keeps it from starting is waited for."""
        if self.port and not self.is_running():
            say(f"The {self.name} database has died; starting it again.")
            with suppress(Trouble):  # processes of the dead one may still hold its memory: the next look tries again
                self._start()

    def start(self) -> None:
        """Start on a free loopback port; one left running by a killed launcher is stopped first."""
        self.create()
        self.stop()
        self.port = free_port()
        self._start()

    def _start(self) -> None:
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories=''"
        if not self.durable:
            options += " -F -c synchronous_commit=off -c full_page_writes=off"
        log = self.home / "log"
        started = self._as_owner("pg_ctl", "start", "-w", "-t", "60", "-D", self.data, "-l", log, "-o", options)
        if started.returncode != 0:
            said = log.read_text(errors="replace")[-3000:] if log.exists() else started.stdout
            cause = explain_failure("Starting the database", "the database", said)
            if cause.code is Exit.FAILED:
                mend = f"Its log is {log}. `./apercu demo --reset` makes the demo’s database anew."
                raise Trouble(cause.what, mend, Exit.DATABASE)
            raise cause

    def stop(self) -> None:
        if (self.data / "postmaster.pid").exists():
            self._as_owner("pg_ctl", "stop", "-D", self.data, "-m", "fast", "-w", "-t", "30")

    def remove(self) -> None:
        self.stop()
        shutil.rmtree(self.home, ignore_errors=True)
