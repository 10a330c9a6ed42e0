"""Things that can stop the launcher, each with its own exit code and the way out."""

from __future__ import annotations

import re
from enum import IntEnum


class Exit(IntEnum):
    """Exit codes; CONTRIBUTING.md lists them."""

    FAILED = 1
    USAGE = 2
    PACKAGE_MISSING = 10
    REGISTRY_UNREACHABLE = 11
    PORT_TAKEN = 12
    DISK_FULL = 13
    DATABASE = 14
    ALREADY_RUNNING = 15
    WRONG_VERSION = 16


class Trouble(Exception):
    """A plain sentence on what is wrong, what to do, and the exit code."""

    def __init__(self, what: str, mend: str, code: Exit = Exit.FAILED) -> None:
        super().__init__(what)
        self.what, self.mend, self.code = what, mend, code


_DISK_FULL = re.compile(r"no space left|ENOSPC|disk quota exceeded", re.I)
_UNREACHABLE = re.compile(
    r"\bENOTFOUND|ECONNREFUSED|ECONNRESET|ETIMEDOUT|EAI_AGAIN|failed to fetch|could not resolve host|"
    r"temporary failure|connection (refused|reset|timed out)|connect timeout|dns error|network is unreachable|"
    r"no matching distribution|name resolution|unable to connect|ERR_SOCKET_TIMEOUT|request failed after",
    re.I,
)


def explain_failure(step: str, source: str, output: str) -> Trouble:
    """Turn a failed command's output into the trouble that a person can act on.

    `step`: what was being done; `source`: where the files come from ("Python packages").
    """
    if _DISK_FULL.search(output):
        return Trouble(
            f"{step}: the disk is full.",
            "Free some space (about 2 GB are needed; `df -h .` shows what is left), then run the same command again.",
            Exit.DISK_FULL,
        )
    if _UNREACHABLE.search(output):
        return Trouble(
            f"{step}: the registry for {source} can’t be reached.",
            "Check the network or the proxy settings, then run the same command again: it goes on where it stopped.",
            Exit.REGISTRY_UNREACHABLE,
        )
    tail = "\n".join(output.strip().splitlines()[-20:])
    return Trouble(f"{step} failed:\n{tail}", "Run `./apercu doctor` to see what this machine lacks.")
