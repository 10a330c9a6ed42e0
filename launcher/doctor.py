"""`./apercu doctor`: what is missing or wrong on this machine, each with the command that mends it."""

from __future__ import annotations

import re
import shutil
import socket
import subprocess
import sys

from launcher.machine import CHROMIUM, HARFBUZZ, NODE_AT_LEAST, PANGO, POSTGRES, VENV, node_version
from launcher.places import am_root, state_folder
from launcher.say import say

_ROOM_NEEDED = 2_000_000_000


def findings() -> list[tuple[bool, str, str]]:
    """(fine, what was looked at, what to do if it isn't)."""
    sudo = "" if am_root() else "sudo "
    out = [(sys.version_info >= (3, 11), f"Python {sys.version.split()[0]}", f"{sudo}apt-get install python3")]
    node = node_version()
    wanted = ".".join(map(str, NODE_AT_LEAST))
    out.append(
        (
            node is not None and node >= NODE_AT_LEAST,
            f"Node.js {'.'.join(map(str, node))} with npm" if node else "Node.js with npm",
            f"install Node.js {wanted} or newer from its maker’s Debian packages",
        )
    )
    for need in (VENV, POSTGRES, PANGO, HARFBUZZ, CHROMIUM):
        command = f"{sudo}apt-get install -y --no-install-recommends {need.package}"
        out.append((need.present(), f"{need.package}: {need.purpose}", command))
    free = shutil.disk_usage(state_folder()).free
    out.append((free > _ROOM_NEEDED, f"disk: {free / 1e9:.1f} GB free in {state_folder()}", "free at least 2 GB there"))
    return [*out, _registry()]


def network_reaches_registries() -> bool:
    """Whether the host of this machine's first package source can be looked up; its own settings name it."""
    listed = subprocess.run(["apt-get", "--print-uris", "update"], capture_output=True, text=True).stdout
    hosts = re.findall(r"https?://([^/'\s:]+)", listed)
    try:
        return bool(hosts) and bool(socket.getaddrinfo(hosts[0], 80))
    except OSError:
        return False


def _registry() -> tuple[bool, str, str]:
    """Needed for the first set-up, not afterwards."""
    return network_reaches_registries(), "network", "check network and proxy; once set up, Apercu works without"


def doctor() -> int:
    bad = 0
    for fine, what, mend in findings():
        bad += not fine
        say(f"  {'fine   ' if fine else 'MISSING'}  {what}" + ("" if fine else f"\n           mend: {mend}"))
    say("Nothing is missing." if not bad else f"{bad} thing{'s' if bad > 1 else ''} to mend.")
    return 1 if bad else 0
