"""Where things lie on this machine."""

from __future__ import annotations

import hashlib
import os
import stat
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
WEB = ROOT / "web"
SERVER = ROOT / "server"


def am_root() -> bool:
    return os.geteuid() == 0


def _others_may_enter(folder: Path) -> bool:
    return all(parent.stat().st_mode & stat.S_IXOTH for parent in [folder, *folder.parents] if parent.exists())


def state_folder() -> Path:
    """Where set-up, logs and databases live; APERCU_STATE moves it.

    PostgreSQL refuses to run as root and then runs as the user postgres, who must be able to walk into the
    folder: a project under root's home keeps its state in /var/lib instead.
    """
    given = os.environ.get("APERCU_STATE")
    if given:
        folder = Path(given).resolve()
    elif am_root() and not _others_may_enter(ROOT):
        folder = Path("/var/lib/apercu") / hashlib.sha256(str(ROOT).encode()).hexdigest()[:12]
    else:
        folder = ROOT / ".apercu"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def venv_python() -> Path:
    return state_folder() / "venv" / "bin" / "python"


def keep_compiled() -> None:
    """Programs that are started from here keep their compiled modules with the state, whatever the machine's habit.

    Without it each of them compiles Django and the rest anew, which takes as long as what it is started for.
    """
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    os.environ["PYTHONPYCACHEPREFIX"] = str(state_folder() / "compiled")


def fingerprint(*files: Path) -> str:
    """One hash over the contents of the files (folders: all files below), for the stamps of finished steps."""
    digest = hashlib.sha256()
    for top in files:
        for file in sorted(top.rglob("*")) if top.is_dir() else [top]:
            if file.is_file():
                digest.update(str(file.relative_to(ROOT)).encode() + b"\0" + file.read_bytes())
    return digest.hexdigest()


class Stamp:
    """Remembers that a step was finished for exactly these inputs; written only once the step is whole."""

    def __init__(self, name: str, value: str) -> None:
        self._file, self._value = state_folder() / "stamps" / name, value

    def is_current(self) -> bool:
        return self._file.exists() and self._file.read_text() == self._value

    def write(self) -> None:
        self._file.parent.mkdir(exist_ok=True)
        fresh = self._file.with_suffix(".new")
        fresh.write_text(self._value)
        fresh.replace(self._file)

    def clear(self) -> None:
        self._file.unlink(missing_ok=True)
