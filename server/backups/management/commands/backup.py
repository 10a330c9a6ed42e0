"""Database and files in one archive."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from backups.archive import back_up, new_key
from backups.database import NoBackup


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--encrypt-to", default="")
        parser.add_argument("--new-key", action="store_true")

    def handle(self, *args: Any, **given: Any) -> None:
        try:
            if given["new_key"]:
                public = new_key(given["file"])
                self.stdout.write(
                    f"The key is in {given['file']}. Keep it away from this machine. Encrypt for:  {public}"
                )
                return
            manifest = back_up(given["file"], recipient=given["encrypt_to"])
        except NoBackup as refusal:
            raise CommandError(str(refusal)) from refusal
        rows = sum(int(count) for count, _ in manifest["tables"].values())
        size = given["file"].stat().st_size / 1e6
        files = len(manifest["parts"]) - 1
        self.stdout.write(f"{given['file']}: {rows:,} rows and {files} files, checked; {size:.1f} MB.")
