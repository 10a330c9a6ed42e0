"""Work for the worker."""

from __future__ import annotations

from procrastinate.contrib.django import app

from operations.following import follow_all


@app.periodic(cron="23 * * * *")
@app.task(queueing_lock="follow_forecasts")
def follow_forecasts(timestamp: int) -> int:
    """Every hour, since a day may have begun somewhere."""
    return follow_all()
