"""Work for the worker."""

from __future__ import annotations

import uuid

from procrastinate.contrib.django import app

from jobs.running import run, take_up_again


@app.task(queue="jobs")
def run_job(job_id: str) -> None:
    run(uuid.UUID(job_id))


@app.periodic(cron="* * * * *")
@app.task(queueing_lock="take_up_again")
def take_up_jobs_again(timestamp: int) -> int:
    """Every minute: jobs whose worker has died."""
    return take_up_again()
