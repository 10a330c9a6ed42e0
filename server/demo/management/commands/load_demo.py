"""Bring the database up to date and load the demo data, once: one start of Django for both."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from demo.loading import load


class Command(BaseCommand):
    help = "Migrate, then load the made-up trials of Harrow Fen unless they are there."
    requires_system_checks = ()  # they load every page of the API; the tests have made them

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        self.stdout.write("loaded" if load() else "there already")
