"""What Debian has to bring: found, installed when root, or named with the exact command."""

from __future__ import annotations

import importlib.util
import os
import re
import shutil
import subprocess
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from launcher.places import am_root
from launcher.run import run
from launcher.say import step
from launcher.trouble import Exit, Trouble

NODE_AT_LEAST = (20, 19)


def postgres_programs() -> Path | None:
    """Debian keeps PostgreSQL's programs off the path, one folder per version; the newest is taken."""
    homes = [home for home in Path("/usr/lib/postgresql").glob("*/bin") if (home / "initdb").exists()]
    return max(homes, key=lambda home: int(home.parent.name), default=None)


def chromium() -> Path | None:
    path = Path("/usr/bin/chromium")
    return path if path.exists() else None


def node_version() -> tuple[int, ...] | None:
    node = shutil.which("node")
    if not node or not shutil.which("npm"):
        return None
    text = subprocess.run([node, "--version"], capture_output=True, text=True).stdout
    return tuple(int(part) for part in re.findall(r"\d+", text)) or None


def has_library(name: str) -> bool:
    """Whether a shared library of Debian's lies where the loader looks."""
    folders = [*Path("/usr/lib").glob("*-linux-*"), Path("/usr/lib"), Path("/lib")]
    return any(next(folder.glob(f"{name}*"), None) for folder in folders)


def _has_postgres_user() -> bool:
    import pwd

    try:
        pwd.getpwnam("postgres")
    except KeyError:
        return not am_root()
    return True


@dataclass(frozen=True)
class Need:
    """A Debian package, what it is for, and how to tell that it is there."""

    package: str
    purpose: str
    present: Callable[[], bool]


POSTGRES = Need("postgresql", "the database", lambda: postgres_programs() is not None and _has_postgres_user())
CHROMIUM = Need("chromium", "browser tests and pictures", lambda: chromium() is not None)
PANGO = Need("libpangoft2-1.0-0", "pages as PDF", lambda: has_library("libpangoft2-1.0.so"))
HARFBUZZ = Need("libharfbuzz-subset0", "fonts in pages", lambda: has_library("libharfbuzz-subset.so"))
VENV = Need("python3-venv", "a Python environment", lambda: importlib.util.find_spec("ensurepip") is not None)


def require_node() -> None:
    found = node_version()
    wanted = ".".join(map(str, NODE_AT_LEAST))
    mend = f"Install Node.js {wanted} or newer with npm (on Debian 12 from its maker’s packages), then run this again."
    if found is None:
        raise Trouble("Node.js with npm isn’t installed; it builds the interface.", mend, Exit.PACKAGE_MISSING)
    if found < NODE_AT_LEAST:
        text = ".".join(map(str, found))
        raise Trouble(f"Node.js {wanted} or newer is needed; this is {text}.", mend, Exit.WRONG_VERSION)


def require_packages(*needs: Need) -> None:
    """Install what is missing when root; otherwise stop with the exact command."""
    missing = [need for need in needs if not need.present()]
    if not missing:
        return
    names = " ".join(need.package for need in missing)
    purposes = ", ".join(f"{need.package} ({need.purpose})" for need in missing)
    command = f"apt-get install -y --no-install-recommends {names}"
    if not am_root() or not shutil.which("apt-get"):
        raise Trouble(
            f"Missing from this machine: {purposes}.",
            f"Run:  sudo {command}\nthen the same command again.",
            Exit.PACKAGE_MISSING,
        )
    quiet = {"DEBIAN_FRONTEND": "noninteractive", "LC_ALL": "C"}
    with step(f"installing from Debian’s packages: {names}"):
        run(["dpkg", "--configure", "-a"], "Finishing an interrupted installation", env=quiet)
        run(["apt-get", "update", "-q"], "Reading the package lists", "Debian’s packages", env=quiet)
        run(
            [*command.split(), "-q", "-o", "DPkg::Lock::Timeout=300"],
            f"Installing {names}",
            "Debian’s packages",
            env={**os.environ, **quiet},
        )
    if still := [need.package for need in missing if not need.present()]:
        raise Trouble(
            f"{', '.join(still)} was installed but isn’t where it should be.",
            "Run `./apercu doctor` and follow what it says.",
            Exit.PACKAGE_MISSING,
        )
