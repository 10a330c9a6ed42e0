"""Forecasts follow what they hang on: new weather, values that were measured, and the days that pass."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Q, QuerySet
from django.dispatch import receiver

from operations.actions import follow
from records.entering import values_changed
from trials.models import Season
from weather.actions import weather_changed

_WAITS = Q(operations__done=None) & (Q(operations__trigger__isnull=False) | Q(operations__closes__isnull=False))
_VISITS_WAIT = Q(visits__date=None, visits__timing__trigger__isnull=False)


def waiting_seasons() -> QuerySet[Season]:
    """Seasons with an operation or a visit that hangs on more than dates, and isn't done."""
    return Season.objects.filter(_WAITS | _VISITS_WAIT, trial__archived_at=None).distinct()


@receiver(weather_changed)
def follow_weather(sender: Any, station: Any, **_: Any) -> None:
    for season in waiting_seasons().filter(site__station__station=station).order_by("pk"):
        follow(season)


@receiver(values_changed)
def follow_values(sender: Any, season: UUID, **_: Any) -> None:
    """After the values were kept: a forecast that can't be made takes none of them back."""
    measured = Q(operations__trigger__kind__in=["height", "biomass"]) | Q(
        operations__closes__kind__in=["height", "biomass"]
    )
    for one in Season.objects.filter(measured, pk=season, operations__done=None).distinct():
        with transaction.atomic():
            follow(one)


def follow_all() -> int:
    """Each season by itself; returns how many."""
    found = list(waiting_seasons())
    for season in found:
        with transaction.atomic():
            follow(season)
    return len(found)
