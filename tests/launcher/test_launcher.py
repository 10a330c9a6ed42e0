"""The launcher: each thing that can fail has its own exit code and says what to do."""

import fcntl
import os
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from launcher import machine
from launcher.machine import Need, require_packages
from launcher.places import Stamp
from launcher.trouble import Exit, Trouble, explain_failure

ROOT = Path(__file__).resolve().parents[2]


def apercu(tmp_path, *arguments, **environment):
    kept = {k: v for k, v in os.environ.items() if k not in ("DATABASE_URL", "APERCU_SECRET_KEY", "APERCU_ORIGINS")}
    return subprocess.run(
        [sys.executable, ROOT / "apercu", *arguments],
        env={**kept, "APERCU_STATE": str(tmp_path), **environment}, capture_output=True, text=True,
    )  # fmt: skip


@pytest.mark.parametrize("command", ["demo", "test", "serve", "analyse", "shots", "doctor", "setup"])
def test_every_command_explains_itself(command):
    done = subprocess.run([sys.executable, ROOT / "apercu", command, "--help"], capture_output=True, text=True)
    assert done.returncode == 0
    assert f"{command}" in done.stdout.split("\n")[0]


def test_a_taken_port_is_said_with_another_to_choose(tmp_path):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        done = apercu(tmp_path, "demo", "--port", str(port))
    assert done.returncode == Exit.PORT_TAKEN
    assert f"Port {port}" in done.stderr
    assert f"--port {port + 1}" in done.stderr


def test_a_second_demo_says_that_one_runs_already(tmp_path):
    with (tmp_path / "demo.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        done = apercu(tmp_path, "demo", "--port", "1")
    assert done.returncode == Exit.ALREADY_RUNNING
    assert "Stop it with Ctrl-C" in done.stderr


def test_serve_names_the_settings_that_are_missing(tmp_path):
    done = apercu(tmp_path, "serve", DATABASE_URL="postgresql://x/y")
    assert done.returncode == Exit.USAGE
    assert "APERCU_SECRET_KEY, APERCU_ORIGINS" in done.stderr


def test_a_check_that_does_not_exist_is_answered_with_those_that_do(tmp_path):
    done = apercu(tmp_path, "test", "everything")
    assert done.returncode == Exit.USAGE
    assert "lint" in done.stderr
    assert "browser" in done.stderr


def test_a_missing_package_without_root_gives_the_exact_command(monkeypatch):
    monkeypatch.setattr(machine, "am_root", lambda: False)
    with pytest.raises(Trouble) as caught:
        require_packages(Need("postgresql", "the database", lambda: False), Need("bash", "a shell", lambda: True))
    assert caught.value.code is Exit.PACKAGE_MISSING
    assert "sudo apt-get install -y --no-install-recommends postgresql\n" in caught.value.mend


@pytest.mark.parametrize(
    ("output", "code"),
    [
        ("npm error code ENOSPC\nnospc: no space left on device", Exit.DISK_FULL),
        ("error: Request failed after 3 retries\n  Caused by: dns error", Exit.REGISTRY_UNREACHABLE),
        ("npm error code ENOTFOUND", Exit.REGISTRY_UNREACHABLE),
        ("E: Failed to fetch http://x/y  Temporary failure resolving", Exit.REGISTRY_UNREACHABLE),
        ("SyntaxError: unexpected token", Exit.FAILED),
        ("ModuleNotFoundError: No module named 'config.turns'", Exit.FAILED),
        ('Could not resolve "./merging" from "src/AskForm.vue"', Exit.FAILED),
    ],
)
def test_a_failed_command_is_explained_by_its_output(output, code):
    trouble = explain_failure("Installing", "packages", output)
    assert trouble.code is code
    assert trouble.mend


def test_a_step_counts_as_done_only_for_the_inputs_it_was_done_for(monkeypatch, tmp_path):
    monkeypatch.setenv("APERCU_STATE", str(tmp_path))
    stamp = Stamp("step", "abc")
    assert not stamp.is_current()
    stamp.write()
    assert stamp.is_current()
    assert not Stamp("step", "abd").is_current()
