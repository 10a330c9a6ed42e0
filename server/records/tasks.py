"""Work for the worker."""

from procrastinate.contrib.django import app

from config.orphans import remove_orphans
from records.models import FOLDER, Upload
from records.uploads import remove_old


@app.periodic(cron="17 3 * * *")
@app.task
def remove_old_uploads(timestamp: int) -> int:
    """Every night: tables that were brought and never accepted, and files that belong to nothing."""
    return remove_old() + remove_orphans(Upload, FOLDER, "file")
