"""The launcher: each thing that can fail has its own exit code and says what to do."""

import fcntl
import os
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from launcher import machine
from launcher.logs import rotate
from launcher.machine import Need, require_packages
from launcher.places import Stamp
from launcher.safety import require_safe
from launcher.trouble import Exit, Trouble, explain_failure

ROOT = Path(__file__).resolve().parents[2]


def apercu(tmp_path, *arguments, **environment):
    kept = {k: v for k, v in os.environ.items() if k not in ("DATABASE_URL", "APERCU_SECRET_KEY", "APERCU_ORIGINS")}
    return subprocess.run(
        [sys.executable, ROOT / "apercu", *arguments],
        env={**kept, "APERCU_STATE": str(tmp_path), **environment}, capture_output=True, text=True,
    )  # fmt: skip


@pytest.mark.parametrize(
    "command", ["demo", "test", "serve", "analyse", "backup", "restore", "shots", "doctor", "setup"]
)
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


SAFE = {"DATABASE_URL": "postgresql://x@127.0.0.1:1/x", "APERCU_SECRET_KEY": "aB3-" + "kqzjvwxy" * 6,
        "APERCU_ORIGINS": "https://trials.example.org"}  # fmt: skip


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"APERCU_SECRET_KEY": "short"}, "APERCU_SECRET_KEY is too easy to guess"),
        ({"APERCU_SECRET_KEY": "ab" * 40}, "APERCU_SECRET_KEY is too easy to guess"),
        ({"APERCU_ORIGINS": "http://trials.example.org"}, "isn’t encrypted"),
        ({"APERCU_ORIGINS": "https://trials.example.org,http://10.0.0.5:8000"}, "'http://10.0.0.5:8000'"),
        ({"APERCU_ORIGINS": "https://*.example.org"}, "isn’t an address like"),
        ({"APERCU_ORIGINS": "trials.example.org"}, "isn’t an address like"),
        ({"APERCU_ORIGINS": "https://trials.example.org/path"}, "isn’t an address like"),
        ({"APERCU_ORIGINS": "https://testserver"}, "the name that tests use"),
        ({"DJANGO_DEBUG": "1"}, "DJANGO_DEBUG is set"),
        ({"APERCU_TESTING": "1"}, "APERCU_TESTING is set"),
        ({"APERCU_CLOCK": "2026-01-01T00:00:00+00:00"}, "APERCU_CLOCK is set"),
    ],
)
def test_serve_refuses_what_is_not_safe(tmp_path, changes, says):
    with pytest.raises(Trouble) as refused:
        require_safe({**SAFE, **changes})
    assert (refused.value.code, says in refused.value.what) == (Exit.USAGE, True)
    if "APERCU_ORIGINS" in changes:
        done = apercu(tmp_path, "serve", **{**SAFE, **changes, "APERCU_TESTING": ""})
        assert (done.returncode, says in done.stderr) == (Exit.USAGE, True)


@pytest.mark.parametrize(
    "origins",
    ["https://a.example,https://b.example:8443", "http://localhost:8000", "http://127.0.0.1", "http://[::1]:80"],
)
def test_serve_takes_encrypted_addresses_and_this_machine(origins):
    require_safe({**SAFE, "APERCU_ORIGINS": origins, "DEBUG": "false"})


def test_a_full_log_is_copied_away_and_goes_on_in_the_same_file(tmp_path):
    log = tmp_path / "web.log"
    with log.open("ab") as written:
        for n in range(5):
            written.write(b"%d" % n * 30)
            written.flush()
            rotate(log, most=20, kept=3)
    assert [(tmp_path / f"web.log.{n}").read_bytes()[:1] for n in (1, 2, 3)] == [b"4", b"3", b"2"]
    assert (log.stat().st_size, len(list(tmp_path.iterdir()))) == (0, 4)
    rotate(tmp_path / "none.log")


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
