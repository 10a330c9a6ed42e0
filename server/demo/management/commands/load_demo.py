"""Load the demo data, once."""

from typing import Any

from django.core.management.base import BaseCommand

from demo.loading import load


class Command(BaseCommand):
    help = "Load the made-up trials of Harrow Fen, unless they are there."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write("loaded" if load() else "there already")
