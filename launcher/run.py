"""Running other programs."""

from __future__ import annotations

import ctypes
import os
import signal
import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path

from launcher.trouble import explain_failure

_PR_SET_PDEATHSIG = 1
ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1"}
"""For what reads trials: their matrices are small, and threads that wait for each other take several times as long.
What the environment says itself goes first.
"""


def die_with_parent() -> None:
    """In a child: be told to stop when the launcher is gone, even if it was killed outright (Linux only)."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def run(
    command: Sequence[str | Path],
    step: str,
    source: str = "this step",
    cwd: Path | None = None,
    env: Mapping[str, str] | None = None,
) -> str:
    """Run to the end and return what it printed; a failure becomes a `Trouble` in plain words."""
    done = subprocess.run(
        [str(part) for part in command],
        cwd=cwd,
        env={**os.environ, **(env or {})},
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        errors="replace",
        preexec_fn=die_with_parent,
    )
    if done.returncode != 0:
        raise explain_failure(step, source, done.stdout)
    return done.stdout
