"""A large table becomes a trial by a job, so that nobody waits at a page that might be closed."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder

from apercu_core.errors import Refused
from crew.models import Person
from jobs.models import Job
from jobs.running import KINDS, JobKind, Report, ask_for
from records.bring import Brought, accept
from records.models import Upload
from trials.actions import NewMeasure

MOST_ROWS_AT_ONCE = 5000
"""A table with more rows is made into a trial by a job."""


def ask_to_import(*, by: Person, upload: Upload, brought: Brought) -> Job:
    """Queue the import."""
    asked = {"upload": str(upload.pk), "brought": json.loads(json.dumps(asdict(brought), cls=DjangoJSONEncoder))}
    return ask_for("import", by=by, workspace=upload.workspace, asked=asked)


def import_table(by: Person, asked: Mapping[str, Any], report: Report) -> dict[str, str]:
    said = dict(asked["brought"])
    measures = [NewMeasure(**measure) for measure in said.pop("measures")]
    brought = Brought(**{**said, "id": uuid.UUID(said["id"]), "measures": measures})
    try:
        return {"trial": str(accept(by=by, upload=uuid.UUID(asked["upload"]), brought=brought, report=report).pk)}
    except Upload.DoesNotExist:
        raise Refused("not-a-table", "The file isn’t on the server any more. Import it again.") from None


KINDS["import"] = JobKind(import_table, "plan")
