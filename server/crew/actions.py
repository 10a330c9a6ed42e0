"""Changes of the crew."""

from __future__ import annotations

from django.db import transaction

from crew.models import Membership, Person, Workspace


def add_person(*, email: str, name: str, password: str, workspace: str, role: str) -> Person:
    """A person with a role in a workspace, which is made if there is none of that name."""
    with transaction.atomic():
        person = Person.objects.create_person(email, name, password)
        place, _ = Workspace.objects.get_or_create(name=workspace)
        Membership.objects.create(person=person, workspace=place, role=role)
    return person


def prefer_units(person: Person, units: str) -> Person:
    """In which units the person is shown figures; what is stored stays metric."""
    person.units = units
    person.save(update_fields=["units"])
    return person
