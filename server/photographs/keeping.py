"""Photographs come in, and go."""

from __future__ import annotations

import hashlib
import uuid
from collections.abc import Callable
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from django.core.files.base import ContentFile
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction

from apercu_core.errors import Refused
from config import clock
from config.client_ids import IdInUse, made_before
from config.stored_files import files_only_if_kept, remove_files
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from photographs.models import Photograph
from photographs.picture import read_picture
from trials.models import Season
from trials.recorded import share_season

MOST_BYTES = 30_000_000


def keep_photograph(
    *, by: Person, season: Season, id: uuid.UUID, file: UploadedFile[bytes], attach: Callable[[Photograph], None]
) -> Photograph:
    """Keep a photograph under the id that the client made, and attach it; the same sent again is harmless.

    Raises `Refused` for what isn't a photograph that can be read or is too large, `IdInUse` for another one under the
    same id.
    """
    require(by, "record", season)
    if file.size is not None and file.size > MOST_BYTES:
        size, most = file.size / 1e6, MOST_BYTES / 1e6
        raise Refused(
            "not-a-photograph", f"The file has {size:.0f} MB; the most is {most:.0f} MB. Make the photograph smaller."
        )
    data = file.read()
    fingerprint = hashlib.sha256(data).hexdigest()
    picture = read_picture(data)  # outside the transaction: it takes its time
    new = Photograph(
        id=id, season=season, width=picture.width, height=picture.height, fingerprint=fingerprint, by=by,
        taken=_moment(picture.taken, season), received_at=clock.now(),
    )  # fmt: skip
    with files_only_if_kept(new.file, new.preview), transaction.atomic():
        take_turns(id)
        share_season(season.pk)
        photograph = made_before(Photograph, id, season_id=season.pk)
        if photograph is not None and photograph.fingerprint != fingerprint:
            raise IdInUse
        if photograph is None:
            new.file.save(f"{id}.jpg", ContentFile(picture.jpeg), save=False)
            new.preview.save(f"{id}.small.jpg", ContentFile(picture.preview), save=False)
            new.save(force_insert=True)
        attach(photograph or new)
    return photograph or new


def _moment(taken: datetime | None, season: Season) -> datetime | None:
    """The camera's clock is taken for the site's where it names no zone; a moment to come is a clock set wrong."""
    if taken is None:
        return None
    there = taken if taken.tzinfo else taken.replace(tzinfo=ZoneInfo(season.site.time_zone))
    return there if there < clock.now() + timedelta(days=1) else None


def remove_photograph(photograph: Photograph) -> None:
    """The row now, its files once that is committed."""
    photograph.delete()
    transaction.on_commit(lambda: remove_files(photograph.file, photograph.preview))
