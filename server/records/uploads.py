"""The one room that files from outside come in by: size, kind by content, a private place, a short stay."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.core.files.base import ContentFile
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.tables.package import is_package, read_package
from apercu_core.tables.proposal import Proposal, propose
from apercu_core.tables.questions import Answers
from apercu_core.tables.roles import Role
from config import clock
from config.stored_files import files_only_if_kept
from crew.models import Person, Workspace
from crew.permissions import require
from records.models import Upload


def receive_table(*, by: Person, workspace: Workspace, file: UploadedFile[bytes]) -> tuple[Upload, Proposal]:
    """Keep a table that can be read, by itself or in a data package; refuse what can't, and keep nothing of it."""
    require(by, "plan", workspace)
    if file.size is not None and file.size > settings.UPLOAD_MOST_BYTES:
        most = settings.UPLOAD_MOST_BYTES / 1e6
        raise Refused("not-a-table", f"The file has {file.size / 1e6:.0f} MB; the most is {most:.0f} MB.")
    data, described = file.read(), None
    if is_package(data):
        data, described = read_package(data)
    said = asdict(described) if described else None
    proposal = propose(data, roles_said(said), answers_said(said))
    upload = Upload(
        workspace=workspace, by=by, name=(file.name or "table")[:200], size=len(data), rows=len(proposal.table.rows),
        created_at=clock.now(), described=said,
    )  # fmt: skip
    with files_only_if_kept(upload.file), transaction.atomic():
        upload.file.save(f"{upload.id}.csv", ContentFile(data), save=False)
        upload.save()
    return upload, proposal


def proposal_of(upload: Upload, roles: Mapping[str, Role], answers: Answers) -> Proposal:
    """What the table would become with these roles and answers."""
    try:
        with upload.file.open("rb") as file:
            data = file.read()
    except FileNotFoundError:
        raise Refused("not-a-table", "The file isn’t on the server any more. Import it again.") from None
    return propose(data, roles, answers)


def roles_said(described: Mapping[str, Any] | None) -> dict[str, Role]:
    """A data package says which columns are values; nothing has to be guessed."""
    return {m["column"]: "value" for m in described["measures"]} if described else {}


def answers_said(described: Mapping[str, Any] | None) -> dict[str, str]:
    """A data package is written with decimal points."""
    return {f"decimal_mark:{m['column']}": "point" for m in described["measures"]} if described else {}


def remove(upload: Upload) -> None:
    """The row now, the file once that is committed: what fails at the commit can be tried again."""
    storage, name = upload.file.storage, str(upload.file.name)
    upload.delete()
    transaction.on_commit(lambda: storage.delete(name))


def remove_old() -> int:
    """Throw away what nobody accepted in time; returns how many."""
    old = list(Upload.objects.filter(created_at__lt=clock.now() - timedelta(days=settings.UPLOAD_KEPT_DAYS)))
    for upload in old:
        remove(upload)
    return len(old)
