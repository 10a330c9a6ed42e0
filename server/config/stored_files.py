"""Files behind Django's storage: nothing is left of one that wasn't written whole, or whose row wasn't kept."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.core.files.storage import FileSystemStorage
from django.db.models.fields.files import FieldFile


class WholeFiles(FileSystemStorage):
    """The local storage, which leaves half a file behind where the disk runs full. This one removes it."""

    def _save(self, name: str, content: Any) -> str:
        try:
            return str(super()._save(name, content))  # type: ignore[misc]  # the stubs lack it
        except OSError:
            self.delete(name)  # ours: names hold a random id
            raise


@contextmanager
def files_only_if_kept(*files: FieldFile) -> Iterator[None]:
    """Around the transaction that writes these files and the row that names them: what fails leaves no file."""
    try:
        yield
    except BaseException:
        remove_files(*files)
        raise


def remove_files(*files: FieldFile) -> None:
    for file in files:
        if file.name:
            file.storage.delete(str(file.name))
