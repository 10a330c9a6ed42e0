"""What each role may do. Every action asks here first."""

from __future__ import annotations

from typing import Literal

from django.db.models import Model

from crew.models import Membership, Person, Role
from crew.visible import workspace_of

Act = Literal["see", "record", "plan", "answer", "manage"]

MAY: dict[str, frozenset[Act]] = {
    Role.OWNER: frozenset({"see", "record", "plan", "answer", "manage"}),
    Role.RESEARCHER: frozenset({"see", "record", "plan", "answer"}),
    Role.TECHNICIAN: frozenset({"see", "record"}),
    Role.READER: frozenset({"see"}),
}
_SAID: dict[Act, str] = {
    "see": "see this workspace",
    "record": "enter or change records",
    "plan": "set up or change trials",
    "answer": "answer doubts",
    "manage": "register services",
}


class NotAllowed(Exception):
    """A person may not do this; the text says what and why."""


def rights_of(person: Person, row: Model) -> frozenset[Act]:
    """What the person may do with a workspace, or with what lies in one; nothing for who doesn't belong to it."""
    return MAY.get(_role(person, row), frozenset())


def can(person: Person, act: Act, row: Model) -> bool:
    return act in rights_of(person, row)


def require(person: Person, act: Act, row: Model) -> None:
    """Pass, or raise `NotAllowed` with the reason. `row`: a workspace, or what lies in one."""
    role = _role(person, row)
    if act not in MAY.get(role, ()):
        whose = f"As {role} you" if role else "You"
        where = f" in {workspace_of(row).name}" if role else ""
        raise NotAllowed(f"{whose} may not {_SAID[act]}{where}. Ask an owner of the workspace.")


def _role(person: Person, row: Model) -> str:
    if getattr(row, "seen_by", None) == person.pk:
        return str(row.seen_as)  # type: ignore[attr-defined]
    roles = Membership.objects.filter(person=person, workspace=workspace_of(row)).values_list("role", flat=True)
    return roles.first() or ""
