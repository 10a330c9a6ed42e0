"""Files that no row names, as a kill at the wrong moment leaves them."""

from __future__ import annotations

from datetime import timedelta

from django.db.models import Model

from config import clock


def remove_orphans(model: type[Model], folder: str, *fields: str) -> int:
    """Throw away files in the folder that none of the fields of any row names; returns how many.

    A file of the last hour may belong to a request that isn't committed yet, and stays.
    """
    storage, before = model._meta.get_field(fields[0]).storage, clock.now() - timedelta(hours=1)  # type: ignore[union-attr]
    try:
        names = [f"{folder}/{name}" for name in storage.listdir(folder)[1]]
    except FileNotFoundError:
        return 0
    kept = {name for row in model._default_manager.values_list(*fields) for name in row}
    orphans = [name for name in names if name not in kept and storage.get_modified_time(name) < before]
    for name in orphans:
        storage.delete(name)
    return len(orphans)
