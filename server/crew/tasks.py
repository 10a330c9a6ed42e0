"""Work for the worker."""

from __future__ import annotations

from procrastinate.contrib.django import app

from crew.throttle import forget_old


@app.periodic(cron="47 3 * * *")
@app.task
def forget_old_failures(timestamp: int) -> int:
    """Every night: counts of failed tries that don't matter any more."""
    return forget_old()
