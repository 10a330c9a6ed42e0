"""A backup put in place of an empty database."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from backups.archive import restore
from backups.database import NoBackup


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--key", type=Path)
        parser.add_argument("--replace", action="store_true")

    def handle(self, *args: Any, **given: Any) -> None:
        try:
            manifest = restore(given["file"], key=given["key"], replace=given["replace"])
        except NoBackup as refusal:
            raise CommandError(str(refusal)) from refusal
        call_command("migrate", verbosity=0)
        rows = sum(int(count) for count, _ in manifest["tables"].values())
        self.stdout.write(
            f"Restored the backup of {manifest['made_at'][:16]}: {rows:,} rows and {len(manifest['parts']) - 1} "
            "files, each table as it was."
        )
