"""What each role may do. Every action asks here first."""

from __future__ import annotations

from typing import Literal

from crew.models import Membership, Person, Role, Workspace

Act = Literal["see", "record", "plan", "answer"]

MAY: dict[str, frozenset[Act]] = {
    Role.OWNER: frozenset({"see", "record", "plan", "answer"}),
    Role.RESEARCHER: frozenset({"see", "record", "plan", "answer"}),
    Role.TECHNICIAN: frozenset({"see", "record"}),
    Role.READER: frozenset({"see"}),
}
_SAID: dict[Act, str] = {
    "see": "see this workspace",
    "record": "enter or change records",
    "plan": "set up or change trials",
    "answer": "answer doubts",
}


class NotAllowed(Exception):
    """A person may not do this; the text says what and why."""


def require(person: Person, act: Act, workspace: Workspace) -> None:
    """Pass, or raise `NotAllowed` with the reason."""
    role = Membership.objects.filter(person=person, workspace=workspace).values_list("role", flat=True).first()
    if role is None or act not in MAY[role]:
        whose = f"As {role} you" if role else "You"
        raise NotAllowed(f"{whose} may not {_SAID[act]} in {workspace.name}. Ask an owner of the workspace.")
