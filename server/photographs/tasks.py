"""Work for the worker."""

from procrastinate.contrib.django import app

from config.orphans import remove_orphans
from photographs.models import FOLDER, Photograph


@app.periodic(cron="27 3 * * *")
@app.task
def remove_old_photographs(timestamp: int) -> int:
    """Every night: files of photographs that belong to nothing."""
    return remove_orphans(Photograph, FOLDER, "file", "preview")
