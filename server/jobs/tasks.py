"""Work for the worker."""

from __future__ import annotations

import uuid

from django.db import connection
from procrastinate.contrib.django import app

from jobs.running import remove_files, run, take_up_again


@app.task(queue="jobs")
def run_job(job_id: str) -> None:
    try:
        run(uuid.UUID(job_id))
    finally:
        connection.close()  # this thread's own, which the next job may not get


@app.periodic(cron="* * * * *")
@app.task(queueing_lock="take_up_again")
def take_up_jobs_again(timestamp: int) -> int:
    """Every minute: jobs whose worker has died."""
    return take_up_again()


@app.periodic(cron="7 3 * * *")
@app.task
def remove_old_files(timestamp: int) -> int:
    """Every night: files that nobody has to fetch any more."""
    return remove_files()
