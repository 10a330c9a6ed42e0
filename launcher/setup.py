"""The set-up steps. Each is remembered only when whole, so an interrupted one is simply done again."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

from launcher.machine import HARFBUZZ, PANGO, VENV, require_node, require_packages
from launcher.places import ROOT, WEB, Stamp, fingerprint, state_folder, venv_python
from launcher.run import run
from launcher.say import step

REQUIREMENTS = ROOT / "requirements"


def _works(python: Path) -> bool:
    return python.exists() and subprocess.run([python, "-c", "import pip"], capture_output=True).returncode == 0


def python_environment(kind: str) -> Path:
    """The virtual environment with the packages of requirements/<kind>.txt (`run` or `dev`); returns its Python.

    `dev` holds all of `run`, so an environment made for the tests also serves the demo.
    """
    python = venv_python()
    stamps = {
        name: Stamp(f"python-{name}", fingerprint(REQUIREMENTS / f"{name}.txt") + sys.version)
        for name in ("run", "dev")
    }
    require_packages(PANGO, HARFBUZZ)
    wanted = [stamps["dev"]] if kind == "dev" else [stamps["run"], stamps["dev"]]
    if any(stamp.is_current() for stamp in wanted) and python.exists():
        return python
    require_packages(VENV)
    if not _works(python):
        with step("making a Python environment"):
            shutil.rmtree(python.parent.parent, ignore_errors=True)
            run([sys.executable, "-m", "venv", python.parent.parent], "Making a Python environment")
    with step(f"installing Python packages ({kind})"):
        hashed: list[str | Path] = ["install", "-q", "--require-hashes", "-r"]
        run([python, "-m", "pip", *hashed, REQUIREMENTS / "tools.txt"], "Installing uv", "Python packages")
        uv: list[str | Path] = [python.parent / "uv", "pip", *hashed, REQUIREMENTS / f"{kind}.txt", "--python", python]
        run(uv, "Installing Python packages", "Python packages")
    stamps[kind].write()
    return python


def web_packages() -> None:
    """The front end's packages, exactly as locked."""
    stamp = Stamp("web-packages", fingerprint(WEB / "package-lock.json", WEB / "package.json"))
    if stamp.is_current() and (WEB / "node_modules").is_dir():
        return
    require_node()
    stamp.clear()
    with step("installing the front end’s packages"):
        run(
            ["npm", "ci", "--no-audit", "--no-fund", "--prefer-offline"],
            "Installing the front end’s packages",
            "JavaScript packages",
            cwd=WEB,
        )
    stamp.write()


def web_build() -> None:
    """The built interface in web/dist; built aside and swapped in, so a half build is never served."""
    sources = [WEB / name for name in ("src", "public", "index.html", "vite.config.ts", "package-lock.json")]
    stamp = Stamp("web-build", fingerprint(*[source for source in sources if source.exists()]))
    if stamp.is_current() and (WEB / "dist" / "index.html").exists():
        return
    web_packages()
    stamp.clear()
    fresh = state_folder() / "web-dist.new"
    with step("building the interface"):
        run(
            ["npx", "--no-install", "vite", "build", "--outDir", fresh, "--emptyOutDir"],
            "Building the interface",
            cwd=WEB,
        )
        shutil.rmtree(WEB / "dist", ignore_errors=True)
        shutil.move(fresh, WEB / "dist")
    stamp.write()
