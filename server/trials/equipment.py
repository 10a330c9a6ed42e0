"""The machines of a workspace: how wide they work."""

from __future__ import annotations

from dataclasses import asdict, fields

from apercu_core.field.machines import Machines
from crew.models import Person, Workspace
from crew.permissions import require
from trials.models import Equipment


def machines_of(workspace: Workspace) -> Machines:
    """What is known; nothing, where nobody said."""
    kept = Equipment.objects.filter(workspace=workspace).first()
    return Machines(**{f.name: getattr(kept, f.name) for f in fields(Machines)}) if kept else Machines()


def keep_machines(*, by: Person, workspace: Workspace, machines: Machines) -> Machines:
    """Keep the widths; sending them again is harmless."""
    require(by, "plan", workspace)
    Equipment.objects.update_or_create(workspace=workspace, defaults=asdict(machines))
    return machines
