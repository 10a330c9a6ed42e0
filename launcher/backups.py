"""`backup` and `restore`: on the database that the environment names, else on the demo's."""

from __future__ import annotations

import os
from contextlib import ExitStack
from pathlib import Path

from launcher.instance import only_one, server_environment
from launcher.machine import POSTGRES, postgres_programs, require_packages
from launcher.places import SERVER
from launcher.postgres import Cluster
from launcher.run import run
from launcher.say import say
from launcher.setup import python_environment


def on_data(what: str, command: str, file: str, *options: str) -> int:
    """Run a command of the server with PostgreSQL's programs at hand, and print what it says."""
    require_packages(POSTGRES)
    python = python_environment("run")
    with ExitStack() as stack:
        url = os.environ.get("DATABASE_URL") or _demo(stack)
        environment = {**server_environment(url), "PATH": f"{postgres_programs()}:{os.environ.get('PATH', '')}"}
        place = str(Path(file).resolve())
        given = [str(Path(one).resolve()) if before == "--key" else one
                 for before, one in zip(("", *options), options, strict=False)]  # fmt: skip
        say(
            run(
                [python, "-m", "manage", command, place, *given], what.capitalize(), cwd=SERVER, env=environment
            ).strip()
        )
    return 0


def _demo(stack: ExitStack) -> str:
    """The demo's database: as it runs, or started for as long as it is needed."""
    cluster = Cluster("demo", durable=True)
    if cluster.is_running():
        cluster.port = cluster.port_in_use()
    else:
        stack.enter_context(only_one("demo"))
        cluster.start()
        stack.callback(cluster.stop)
    return cluster.url("postgres")
