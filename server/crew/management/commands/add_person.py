"""Add a person to a workspace, from the machine that serves."""

import getpass
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from crew.actions import add_person
from crew.models import Person, Role


class Command(BaseCommand):
    help = "Add a person with a role in a workspace; asks for the password."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("email")
        parser.add_argument("name")
        parser.add_argument("--workspace", required=True)
        parser.add_argument("--role", choices=Role.values, default=Role.OWNER)

    def handle(self, *args: Any, **options: Any) -> None:
        if Person.objects.filter(email__iexact=options["email"]).exists():
            raise CommandError(f"{options['email']} is there already.")
        password = getpass.getpass("Password (12 characters or more): ")
        if len(password) < 12:
            raise CommandError("That password is shorter than 12 characters. Choose a longer one.")
        add_person(
            email=options["email"], name=options["name"], password=password, workspace=options["workspace"],
            role=options["role"],
        )  # fmt: skip
        self.stdout.write(f"{options['name']} can sign in.")
