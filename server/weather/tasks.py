"""Work for the worker."""

from __future__ import annotations

from procrastinate.contrib.django import app

from weather.fetching import due_stations, fetch


@app.periodic(cron="*/10 * * * *")
@app.task(queue="jobs", queueing_lock="fetch_weather")
def fetch_weather(timestamp: int) -> None:
    """Ask the services whose stations are due, one after another; a service that is down is left for an hour."""
    for station in due_stations():
        fetch(station)
