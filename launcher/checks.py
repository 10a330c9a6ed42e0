"""`./apercu test`: every check of the project, one after another."""

from __future__ import annotations

import os
import subprocess
import time
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from pathlib import Path

from launcher.instance import only_one
from launcher.machine import CHROMIUM, POSTGRES, require_packages
from launcher.places import ROOT, WEB, state_folder, venv_python
from launcher.postgres import Cluster
from launcher.run import ONE_THREAD, die_with_parent
from launcher.say import say
from launcher.setup import python_environment, web_build, web_packages
from launcher.trouble import Exit, Trouble

COMMAND_LINE = ("analyse_cli", "plan_cli", "table_cli", "species_cli", "calculate_cli", "cover_cli", "verdict_cli")


@dataclass(frozen=True)
class Check:
    """A command that passes with exit code 0. `needs`: what must be set up besides the Python environment.

    `alone`: it uses all cores itself; the rest run two at a time.
    """

    name: str
    command: tuple[str | Path, ...]
    cwd: Path = ROOT
    needs: frozenset[str] = field(default_factory=frozenset)
    alone: bool = False


def _python(*arguments: str | Path) -> tuple[str | Path, ...]:
    return (venv_python(), *arguments)


def all_checks() -> list[Check]:
    """What is quick to find first, then the longest before the shorter, so that two lanes end together."""
    tool = venv_python().parent
    both_cores = ("-m", "pytest", "-n", "2", "--dist", "worksteal", "--reuse-db")
    database, web, browser = frozenset({"database"}), frozenset({"web"}), frozenset({"database", "build", "chromium"})
    return [
        Check("lint", (tool / "ruff", "check", ".")),
        Check("format", (tool / "ruff", "format", "--check", ".")),
        Check("types", (tool / "mypy", "apercu_core", *COMMAND_LINE, "launcher", "server", "standins")),
        Check("imports", (tool / "lint-imports", "--no-cache")),
        Check("species", _python("docs/list_species.py", "--check")),
        Check("set-up", _python("tests/launcher/interrupted_setup.py")),
        Check("core", _python("-m", "pytest", "tests/core", "tests/launcher")),
        Check("web-types", ("npm", "run", "--silent", "types"), WEB, web),
        Check("web-lint", ("npm", "run", "--silent", "lint"), WEB, web),
        Check("web-units", ("npm", "run", "--silent", "test"), WEB, web),
        Check("api-types", _python("-m", "launcher.api_types", "--check"), ROOT, web | database),
        Check("server", _python(*both_cores, "tests/server"), ROOT, database, alone=True),
        Check("browser", _python(*both_cores, "tests/browser"), ROOT, browser, alone=True),
    ]


def _prepare(needs: frozenset[str], cluster: Cluster) -> None:
    if "database" in needs:
        require_packages(POSTGRES)
    if "chromium" in needs:
        require_packages(CHROMIUM)
    python_environment("dev")
    if needs & {"web", "build"}:
        web_packages()
    if "build" in needs:
        web_build()
    if "database" in needs:
        cluster.start()


def run_checks(only: list[str]) -> int:
    """Run all checks, or the named ones; returns 0 when all pass, else 1. Failing output is shown whole."""
    checks = all_checks()
    if unknown := set(only) - {check.name for check in checks}:
        names = ", ".join(check.name for check in checks)
        raise Trouble(f"There is no check called {sorted(unknown)[0]!r}.", f"The checks are: {names}.", Exit.USAGE)
    chosen = [check for check in checks if not only or check.name in only]
    chosen = _with_databases_made_once(chosen)
    cluster = Cluster("test", durable=False)
    with only_one("test"):
        return _run(chosen, cluster)


def _with_databases_made_once(chosen: list[Check]) -> list[Check]:
    """The first of the checks that share test databases makes them anew; the next ones find them migrated."""
    first = next((check for check in chosen if check.alone), None)
    return [replace(check, command=(*check.command, "--create-db")) if check is first else check for check in chosen]


def _run(chosen: list[Check], cluster: Cluster) -> int:
    failed = []
    say("Setting up")
    try:
        _prepare(frozenset().union(*(check.needs for check in chosen)), cluster)
        environment = {"APERCU_STATE": str(state_folder())}
        if cluster.port:
            environment["DATABASE_URL"] = cluster.url("apercu")
        say("Checking")
        start = time.monotonic()
        failed = _failures(chosen, environment)
    finally:
        cluster.stop()
    say(f"{len(chosen) - len(failed)} of {len(chosen)} checks passed in {time.monotonic() - start:.0f} s.")
    if failed:
        say(f"Failed: {', '.join(failed)}. Run one alone with  ./apercu test {failed[0]}")
    return 1 if failed else 0


def _failures(chosen: list[Check], environment: Mapping[str, str]) -> list[str]:
    """Names of the checks that fail: first those that share the machine, two at a time, then the others by turns."""
    together = [check for check in chosen if not check.alone]
    with ThreadPoolExecutor(max_workers=2) as lanes:
        passed = dict(zip(together, lanes.map(lambda check: _passes(check, environment), together), strict=True))
    passed |= {check: _passes(check, environment) for check in chosen if check.alone}
    return [check.name for check in chosen if not passed[check]]


def _passes(check: Check, environment: Mapping[str, str]) -> bool:
    start = time.monotonic()
    done = subprocess.run(
        [str(part) for part in check.command],
        cwd=check.cwd,
        env={**os.environ, "PYTHONPATH": f"{ROOT}:{ROOT / 'server'}", "DJANGO_SETTINGS_MODULE": "config.settings",
             "APERCU_TESTING": "1", **ONE_THREAD, **environment},
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        errors="replace",
        preexec_fn=die_with_parent,
    )  # fmt: skip
    good = done.returncode == 0
    lines = done.stdout.strip().splitlines()
    say(f"  {'passed' if good else 'FAILED'}  {check.name:<10} {time.monotonic() - start:6.1f} s  "
        f"{lines[-1] if good and lines else ''}")  # fmt: skip
    if not good:
        say("\n".join(f"    {line}" for line in lines))
    return good
