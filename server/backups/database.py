"""The database as PostgreSQL's own dump, and a checksum of each table to tell whether a copy is the same."""

from __future__ import annotations

import os
import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psycopg
from django.conf import settings
from psycopg import sql


class NoBackup(Exception):
    """Something can't be backed up or restored; the text says what and what to do."""


def _address() -> dict[str, str]:
    """As libpq's programs take it from the environment, so that no password shows in a list of processes."""
    one: dict[str, Any] = settings.DATABASES["default"]
    parts = {"PGHOST": one["HOST"], "PGPORT": one["PORT"], "PGUSER": one["USER"], "PGPASSWORD": one["PASSWORD"],
             "PGDATABASE": one["NAME"]}  # fmt: skip
    return {name: str(value) for name, value in parts.items() if value}


def _run(program: str, *arguments: str) -> None:
    found = shutil.which(program)
    if found is None:
        raise NoBackup(f"{program} isn’t installed. On Debian:  apt-get install postgresql-client")
    done = subprocess.run([found, *arguments], env={**os.environ, **_address()}, capture_output=True, text=True)
    if done.returncode:
        raise NoBackup(f"{program} failed:\n{done.stderr.strip()[-2000:]}")


def _connect() -> psycopg.Connection[Any]:
    given = {name.removeprefix("PG").lower(): value for name, value in _address().items()}
    given["dbname"] = given.pop("database")
    return psycopg.connect(**given, autocommit=True)  # type: ignore[arg-type]


@contextmanager
def snapshot() -> Iterator[tuple[str, dict[str, list[str]]]]:
    """One moment of the database, for as many readers as want it: its name, and the checksum of each table then."""
    with _connect() as connection, connection.transaction():
        connection.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
        row = connection.execute("SELECT pg_export_snapshot()").fetchone()
        assert row is not None
        yield row[0], _checksums(connection)


def checksums() -> dict[str, list[str]]:
    """Table → number of rows and the sum of their hashes, whatever their order."""
    with _connect() as connection:
        return _checksums(connection)


def _checksums(connection: psycopg.Connection[Any]) -> dict[str, list[str]]:
    connection.execute("SET timezone TO 'UTC'")
    tables = connection.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY 1").fetchall()
    found = {}
    for (table,) in tables:
        query = sql.SQL("SELECT count(*), coalesce(sum(hashtextextended(t::text, 0)), 0) FROM {} t")
        row = connection.execute(query.format(sql.Identifier(table))).fetchone()
        assert row is not None
        found[table] = [str(value) for value in row]
    return found


def dump(to: Path, of: str) -> None:
    """`of`: the name of a snapshot that is held open."""
    _run("pg_dump", "--format=custom", "--no-owner", "--no-privileges", f"--snapshot={of}", f"--file={to}")


def require_readable(dumped: Path) -> None:
    _run("pg_restore", "--list", str(dumped))


def is_empty() -> bool:
    with _connect() as connection:
        row = connection.execute("SELECT count(*) FROM pg_tables WHERE schemaname = 'public'").fetchone()
    return row is not None and row[0] == 0


@contextmanager
def set_aside() -> Iterator[None]:
    """Around a restore: what is there goes once it has succeeded, and stands there again where it fails."""
    with _connect() as connection:
        connection.execute(f"ALTER SCHEMA public RENAME TO {_ASIDE}")
        connection.execute("CREATE SCHEMA public")
        try:
            yield
        except BaseException:
            connection.execute("DROP SCHEMA public CASCADE")
            connection.execute(f"ALTER SCHEMA {_ASIDE} RENAME TO public")
            raise
        connection.execute(f"DROP SCHEMA {_ASIDE} CASCADE")


_ASIDE = "before_restore"


def load(dumped: Path) -> None:
    """All of it, or nothing."""
    name = str(settings.DATABASES["default"]["NAME"])
    whole = ["--single-transaction", "--exit-on-error", "--no-owner", "--no-privileges"]
    _run("pg_restore", f"--dbname={name}", *whole, str(dumped))
