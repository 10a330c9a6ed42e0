"""A backup is one tar: what it is (`manifest.json`), the database (`database.dump`), the files that people brought.

The manifest has a checksum of each part and of each table. An encrypted one is the same tar in the age format
(age-encryption.org/v1), which other programs open too.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import tarfile
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from pathlib import Path
from typing import Any

import pyrage
from django.conf import settings

from apercu_core import __version__
from backups import database
from backups.database import NoBackup
from config import clock

FORMAT = "apercu-backup-1"
MANIFEST, DUMP, FILES = "manifest.json", "database.dump", "files"
_AGE = b"age-encryption.org/v1"


def back_up(to: Path, *, recipient: str = "") -> dict[str, Any]:
    """Write the archive, while the application runs; returns its manifest. A half-written one is never left behind.

    `recipient`: whom it is encrypted for, an age public key. Raises `NoBackup` where it can't be written.
    """
    key = _recipient(recipient) if recipient else None
    with _room(to.parent) as room:
        parts = room / "parts"
        (parts / FILES).mkdir(parents=True)
        _copy_files(
            parts / FILES
        )  # before and after the snapshot: what is accepted between them may take its file away
        with database.snapshot() as (moment, tables):
            database.dump(parts / DUMP, moment)
        _copy_files(parts / FILES)
        database.require_readable(parts / DUMP)
        manifest = {
            "format": FORMAT, "made_at": clock.now().isoformat(), "version": __version__, "tables": tables,
            "parts": {name: _sha256(parts / name) for name in _names_in(parts)},
        }  # fmt: skip
        (parts / MANIFEST).write_text(json.dumps(manifest, indent=1, sort_keys=True))
        made = room / "archive"
        with tarfile.open(made, "w") as archive:
            for name in [MANIFEST, *manifest["parts"]]:
                archive.add(parts / name, name, recursive=False)
        shutil.rmtree(parts)
        with opened(made):  # what can't be read back is no backup
            pass
        if key is not None:
            pyrage.encrypt_file(str(made), str(room / "encrypted"), [key])
            made = room / "encrypted"
        made.chmod(0o600)
        os.replace(made, to)
    return manifest


@contextmanager
def opened(archive: Path, key: Path | None = None) -> Iterator[tuple[Path, dict[str, Any]]]:
    """The archive's parts in a folder of their own, each checked, and the manifest; `NoBackup` for a damaged one.

    `key`: the file of the age identity, for one that is encrypted.
    """
    with _room(Path(tempfile.gettempdir())) as room:
        plain = _decrypted(archive, key, room / "plain") if _is_encrypted(archive) else archive
        parts = room / "parts"
        parts.mkdir()
        try:
            with tarfile.open(plain) as tar:
                tar.extractall(parts, filter="data")
            manifest = json.loads((parts / MANIFEST).read_text())
        except (tarfile.TarError, OSError, ValueError) as fault:
            raise NoBackup(f"{archive} isn’t a whole backup of Apercu ({fault}).") from fault
        if manifest.get("format") != FORMAT:
            raise NoBackup(f"{archive} is a backup in a format that this version doesn’t read.")
        wrong = [name for name, sum in manifest["parts"].items() if _sha256(parts / name) != sum]
        if wrong or set(_names_in(parts)) != set(manifest["parts"]):
            raise NoBackup(f"{archive} is damaged: {', '.join(wrong) or 'a part is missing'}.")
        yield parts, manifest


def restore(archive: Path, *, key: Path | None = None, replace: bool = False) -> dict[str, Any]:
    """Put a backup in place of an empty database, and its files in place; returns the manifest.

    Nothing is touched before the whole archive has been checked. Raises `NoBackup` where the database isn't empty,
    unless it may be replaced, and where what stands there afterwards isn't what was backed up.
    """
    with opened(archive, key) as (parts, manifest):
        empty = database.is_empty()
        if not (replace or empty):
            raise NoBackup("The database isn’t empty. Restore into an empty one, or throw away what is there with"
                          "  --replace")  # fmt: skip
        with nullcontext() if empty else database.set_aside():
            database.load(parts / DUMP)
            found = database.checksums()
            differ = [table for table, sums in manifest["tables"].items() if found.get(table) != sums]
            if differ:
                raise NoBackup(f"These tables aren’t what was backed up: {', '.join(differ)}.")
        for name in manifest["parts"]:
            if name.startswith(f"{FILES}/"):
                target = Path(settings.MEDIA_ROOT) / name.removeprefix(f"{FILES}/")
                target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
                shutil.copyfile(parts / name, target)
                target.chmod(0o600)
    return manifest


def new_key(to: Path) -> str:
    """Make an age identity in a file that only its owner reads; returns the public key to encrypt for."""
    identity = pyrage.x25519.Identity.generate()
    try:
        to.touch(mode=0o600, exist_ok=False)
    except FileExistsError:
        raise NoBackup(f"{to} is there already. A key that is overwritten opens no backup any more.") from None
    to.write_text(f"# public key: {identity.to_public()}\n{identity}\n")
    return str(identity.to_public())


def _copy_files(to: Path) -> None:
    """All files of the storage; one that goes away meanwhile was accepted or thrown away."""
    root = Path(settings.MEDIA_ROOT)
    for file in root.rglob("*") if root.exists() else ():
        target = to / file.relative_to(root)
        if file.is_file() and not target.exists():
            target.parent.mkdir(parents=True, exist_ok=True)
            try:
                shutil.copyfile(file, target)
            except FileNotFoundError:
                target.unlink(missing_ok=True)


def _names_in(parts: Path) -> list[str]:
    return sorted(str(p.relative_to(parts)) for p in parts.rglob("*") if p.is_file() and p.name != MANIFEST)


def _sha256(path: Path) -> str:
    if not path.is_file():
        return ""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


@contextmanager
def _room(beside: Path) -> Iterator[Path]:
    try:
        room = Path(tempfile.mkdtemp(prefix=".apercu-", dir=beside))  # readable by its owner alone
    except OSError as fault:
        raise NoBackup(f"{beside} can’t be written to: {fault.strerror}.") from fault
    try:
        yield room
    finally:
        shutil.rmtree(room, ignore_errors=True)


def _is_encrypted(archive: Path) -> bool:
    try:
        with archive.open("rb") as file:
            return file.read(len(_AGE)) == _AGE
    except OSError as fault:
        raise NoBackup(f"{archive} can’t be read: {fault.strerror}.") from fault


def _decrypted(archive: Path, key: Path | None, to: Path) -> Path:
    if key is None:
        raise NoBackup(f"{archive} is encrypted. Name the file of its key:  --key FILE")
    try:
        lines = [line for line in key.read_text().splitlines() if line and not line.startswith("#")]
        pyrage.decrypt_file(str(archive), str(to), [pyrage.x25519.Identity.from_str(one) for one in lines])
    except (OSError, pyrage.DecryptError, pyrage.IdentityError) as fault:
        raise NoBackup(f"{archive} can’t be opened with {key} ({fault}).") from fault
    return to


def _recipient(text: str) -> Any:
    try:
        return pyrage.x25519.Recipient.from_str(text)
    except pyrage.RecipientError as fault:
        raise NoBackup(f"{text!r} isn’t an age public key ({fault}). Make one:  ./apercu backup --new-key FILE"
                      ) from fault  # fmt: skip
