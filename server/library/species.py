"""A workspace's species: those that ship, and its own records before them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.species.record import Species
from apercu_core.species.sheet import from_csv, shown, species_of
from apercu_core.species.shipped import SHIPPED
from crew.models import Person, Workspace
from crew.permissions import require
from library.models import OwnSpecies

MOST_OWN = 500


def species_in(workspace: Workspace) -> dict[str, Species]:
    """All that the workspace can choose from, by key."""
    own = {row.key: species_of({"key": row.key} | row.cells, of_earlier=True) for row in workspace.species.all()}
    return {**SHIPPED, **own}


def species_named(workspace: Workspace, key: str) -> Species:
    found = species_in(workspace).get(key)
    if found is None:
        raise Refused("bad-value", f"There is no species {key!r} in the guide. Choose one of the list.")
    return found


def keep_species(*, by: Person, workspace: Workspace, key: str, cells: Mapping[str, str]) -> Species:
    """Keep an own record under its key, new or changed; sending it again is harmless."""
    require(by, "plan", workspace)
    species = species_of({"key": key} | dict(cells))
    with transaction.atomic():
        _keep(workspace, [species])
    return species


def take_in(*, by: Person, workspace: Workspace, text: str) -> list[Species]:
    """Keep a table of own records; all of it or, where a cell can't be read, nothing. Shipped ones are passed over."""
    require(by, "plan", workspace)
    changed = [one for one in from_csv(text) if one.key not in SHIPPED or SHIPPED[one.key].facts != one.facts]
    with transaction.atomic():
        _keep(workspace, changed)
    return changed


def forget_species(*, by: Person, workspace: Workspace, key: str) -> None:
    """Take an own record away; the shipped one of that key, if any, stands again."""
    require(by, "plan", workspace)
    workspace.species.filter(key=key).delete()


def cells_of(species: Species) -> dict[str, str]:
    """A record as cells, as they would be typed."""
    cells: dict[str, str] = {}
    for key, fact in species.facts.items():
        cells |= {key: shown(fact.value), f"{key}_source": fact.source}
    return cells


def _keep(workspace: Workspace, species: Sequence[Species]) -> None:
    there = set(workspace.species.values_list("key", flat=True))
    if len(there | {one.key for one in species}) > MOST_OWN:
        raise Refused("bad-value", f"A workspace keeps at most {MOST_OWN} species of its own.")
    for one in species:
        OwnSpecies.objects.update_or_create(workspace=workspace, key=one.key, defaults={"cells": cells_of(one)})
