"""A backup taken while people write, restored onto an empty database: everything as it was, checked, or a reason."""

import io
import json
import os
import subprocess
import sys
import tarfile
from pathlib import Path

import psycopg
import pytest
from django.conf import settings as configured
from django.core.management import CommandError, call_command

from backups import database
from launcher.machine import postgres_programs
from readings.bridge import gather
from records.models import Upload
from tests.server.asking import Trial
from tests.server.bringing import bring, bring_trial
from tests.server.conftest import TABLE
from trials.models import Season

ROOT = Path(__file__).parents[2]
pytestmark = pytest.mark.django_db(transaction=True)
FINGERPRINTS = """
import django, json
django.setup()
from tests.server.test_backups import fingerprints
print(json.dumps(fingerprints()))
"""


def fingerprints():
    """Season → the fingerprint of the data that it is read from."""
    from apercu_core.reading.trial import fingerprint
    from readings.actions import recorded

    found = {}
    for season in Season.objects.all():
        given = gather(season)
        found[str(season.id)] = fingerprint(given.facts, recorded(given, None))
    return found


@pytest.fixture(autouse=True)
def _programs(monkeypatch):
    monkeypatch.setenv("PATH", f"{postgres_programs()}:{os.environ['PATH']}")


@pytest.fixture
def filled(client_of, workspace):
    trial = Trial(client_of("owner"), workspace)
    trial.enter(*(trial.typed(label, "7") for label in ("101", "102", "201")))
    bring_trial(client_of("owner"), workspace, TABLE)
    bring(client_of("owner"), workspace, TABLE)  # a file that nobody has accepted yet
    return trial


@pytest.fixture
def empty():
    """The address of an empty database on the same server."""
    one = configured.DATABASES["default"]
    server = f"postgresql://{one['USER']}@{one['HOST']}:{one['PORT']}"
    name = f"{one['NAME']}_restored"
    with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
        connection.execute(f'DROP DATABASE IF EXISTS "{name}"')
        connection.execute(f'CREATE DATABASE "{name}"')
        yield f"{server}/{name}"
        connection.execute(f'DROP DATABASE "{name}" WITH (FORCE)')


def on(url, media, *command):
    """Run the server's Python on another database, as the launcher does."""
    environment = {
        **os.environ, "DATABASE_URL": url, "APERCU_STATE": str(media), "DJANGO_SETTINGS_MODULE": "config.settings",
        "PYTHONPATH": f"{ROOT}:{ROOT / 'server'}", "APERCU_TESTING": "1",
    }  # fmt: skip
    return subprocess.run([sys.executable, *command], env=environment, capture_output=True, text=True)


def test_a_restored_backup_has_the_same_fingerprints_rows_and_files(filled, empty, tmp_path):
    archive, key = tmp_path / "a.backup", tmp_path / "backup.key"
    call_command("backup", key, new_key=True, stdout=io.StringIO())
    public = key.read_text().splitlines()[0].removeprefix("# public key: ")
    call_command("backup", archive, encrypt_to=public, stdout=io.StringIO())
    assert (archive.stat().st_mode & 0o077, key.stat().st_mode & 0o077) == (0, 0)
    assert b"Covers before barley" not in archive.read_bytes()
    assert archive.read_bytes().startswith(b"age-encryption.org/v1")
    done = on(empty, tmp_path / "state", "-m", "manage", "restore", str(archive), "--key", str(key))
    assert done.returncode == 0, done.stderr
    assert "each table as it was" in done.stdout
    before = fingerprints()
    assert len(before) == 2
    assert json.loads(on(empty, tmp_path / "state", "-c", FINGERPRINTS).stdout) == before
    upload = Upload.objects.get()
    back = tmp_path / "state" / "uploads" / str(upload.file.name)
    assert (back.read_bytes(), back.stat().st_mode & 0o777) == (Path(upload.file.path).read_bytes(), 0o600)
    again = on(empty, tmp_path / "state", "-m", "manage", "restore", str(archive), "--key", str(key))
    assert (again.returncode, "isn’t empty" in again.stderr) == (1, True)
    replaced = on(empty, tmp_path / "state", "-m", "manage", "restore", str(archive), "--key", str(key), "--replace")
    assert replaced.returncode == 0, replaced.stderr
    assert json.loads(on(empty, tmp_path / "state", "-c", FINGERPRINTS).stdout) == before


def test_a_damaged_backup_is_refused_before_anything_is_touched(filled, tmp_path):
    archive = tmp_path / "a.backup"
    call_command("backup", archive, stdout=io.StringIO())
    before = database.checksums()
    whole = archive.read_bytes()
    at = whole.index(b"PGDMP") + 2000
    for damaged in (whole[: len(whole) // 2], whole[:at] + bytes([whole[at] ^ 1]) + whole[at + 1 :], b"", b"not a tar"):
        archive.write_bytes(damaged)
        with pytest.raises(CommandError, match=r"isn’t a whole backup|is damaged"):
            call_command("restore", archive, replace=True)
    with tarfile.open(archive, "w"):
        pass
    with pytest.raises(CommandError, match="isn’t a whole backup"):
        call_command("restore", archive, replace=True)
    assert database.checksums() == before


def test_a_restore_that_fails_half_way_leaves_what_was_there(filled, tmp_path, monkeypatch):
    archive = tmp_path / "a.backup"
    call_command("backup", archive, stdout=io.StringIO())
    before = database.checksums()
    monkeypatch.setattr(database, "checksums", dict)
    with pytest.raises(CommandError, match="aren’t what was backed up"):
        call_command("restore", archive, replace=True)
    monkeypatch.undo()
    assert database.checksums() == before


def test_what_cannot_be_written_or_opened_says_why(filled, tmp_path):
    with pytest.raises(CommandError, match="can’t be written to"):
        call_command("backup", tmp_path / "nowhere" / "a.backup")
    with pytest.raises(CommandError, match="isn’t an age public key"):
        call_command("backup", tmp_path / "a.backup", encrypt_to="age1nothing")
    assert not list(tmp_path.glob("*.backup"))
    key = tmp_path / "key"
    key.write_text("kept")
    with pytest.raises(CommandError, match="is there already"):
        call_command("backup", key, new_key=True)
    assert key.read_text() == "kept"
