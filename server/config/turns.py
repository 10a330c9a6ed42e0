"""Who makes the same thing at the same moment takes turns, so that the second finds what the first has made.

Locks are always taken in one order, so that no two writers wait for each other: the id that a client made, the trial,
its seasons by id, their sites by id, measures of the library by name, visits, then rows. They are taken
without the key (`no_key`): references to a locked row, which PostgreSQL checks at the commit, don't wait for it.
"""

from __future__ import annotations

import uuid

from django.db import connection


def take_turns(id: uuid.UUID) -> None:
    """Within a transaction: wait for others that make or change what has this id, until they are done."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, 0))", [str(id)])
