"""A trial that many tests begin with is made through the API once; after that its rows are put back under new ids.

Most of what a test of a trial waits for is the trial. What its making leaves depends on what stands in the database, on
what is asked and on the day; where all of these are as they were the first time, the rows that the first time left are
inserted instead, with the ids that this test has. Otherwise, as with a second trial of a workspace, it is made anew.
"""

import json
import re
import uuid
from functools import cache

from django.apps import apps
from django.db import connection, models

from config import clock

UUID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")
OF_THE_MOMENT = re.compile(r'"(password|last_login)":("[^"]*"|null)|"(history_)?id":\d+|\d{4}-\d\d-\d\dT[\d:.+]+')
NOT_OF_TRIALS = {"sessions", "contenttypes", "auth"}


def remembered(asked, make):
    """Call `make`, or put back what it left. `asked`: all that it depends on beside the database, in JSON's terms.

    `asked` has the ids that the test will use; those which the server makes are new ones each time.
    """
    before = _rows()
    # Numbers that the database counts and texts of the moment differ at each test, and nothing hangs on them.
    state = [table + OF_THE_MOMENT.sub("", row) for table, rows in before.items() for row in rows]
    said = json.dumps([state, asked, str(clock.now().date())])
    ids = list(dict.fromkeys(UUID.findall(said)))
    place = {one: f"<{number}>" for number, one in enumerate(ids)}
    key = UUID.sub(lambda found: place[found[0]], said)
    if key in _LEFT:
        _put_back(*_LEFT[key], ids)
        return
    make()
    after = _rows()
    if all(set(before[table]) <= set(rows) for table, rows in after.items()):
        new = {table: [row for row in rows if row not in before[table]] for table, rows in after.items()}
        _LEFT[key] = ({table: rows for table, rows in new.items() if rows}, ids)


_LEFT: dict[str, tuple[dict[str, list[str]], list[str]]] = {}


def forget():
    """So that each is made through the API again."""
    _LEFT.clear()


@cache
def _tables():
    """Table → the columns that a row is put back with: all but a number that the database counts."""
    found = {}
    for model in apps.get_models(include_auto_created=True):
        if model._meta.app_label not in NOT_OF_TRIALS:
            counted = isinstance(model._meta.pk, models.AutoField)
            fields = [field for field in model._meta.concrete_fields if not (counted and field.primary_key)]
            found[model._meta.db_table] = [field.column for field in fields if not getattr(field, "generated", False)]
    return found


def _rows():
    """Table → its rows as JSON."""
    each = " UNION ALL ".join(f"SELECT '{table}', row_to_json(t)::text FROM {table} t" for table in _tables())
    found = {table: [] for table in _tables()}
    with connection.cursor() as cursor:
        cursor.execute(each)
        for table, row in cursor.fetchall():
            found[table].append(row)
    return found


def _put_back(left, then, now):
    new = dict(zip(then, now, strict=True))

    def id_now(found):
        return new.setdefault(found[0], str(uuid.uuid4()))

    with connection.cursor() as cursor:
        for table, rows in left.items():
            columns = ", ".join(f'"{column}"' for column in _tables()[table])
            given = UUID.sub(id_now, f"[{','.join(rows)}]")
            cursor.execute(
                f"INSERT INTO {table} ({columns}) SELECT {columns} FROM json_populate_recordset(NULL::{table}, %s)",
                [given],
            )
