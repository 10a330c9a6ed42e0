"""Stations, the services that some of them come from, and their daily records."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.db import models

from crew.models import Person, Workspace
from crew.visible import Visible
from trials.models import Site


class WeatherService(models.Model):
    """A service that an owner registered. `stations`: those that it named when it was last asked.

    `trouble`: what went wrong at the last try, empty once one succeeded.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="weather_services")
    name = models.CharField(max_length=120)
    url = models.CharField(max_length=300)
    stations = models.JSONField(default=list)
    tried_at = models.DateTimeField(null=True)
    answered_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(Person, models.PROTECT, related_name="+")

    objects = Visible.as_manager()


class Station(models.Model):
    """Where weather is recorded. `key`: the service's own name for it; no service: filled by hand and from files.

    `forecast`: days ahead as the service said them on `forecast_issued`.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, models.CASCADE, related_name="weather_stations")
    service = models.ForeignKey(WeatherService, models.SET_NULL, null=True, blank=True, related_name="used")
    key = models.CharField(max_length=120, blank=True)
    name = models.CharField(max_length=120)
    latitude = models.FloatField(null=True)
    longitude = models.FloatField(null=True)
    elevation_m = models.FloatField(null=True)
    forecast = models.JSONField(default=list)
    forecast_issued = models.DateField(null=True)
    tried_at = models.DateTimeField(null=True)
    answered_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=300, blank=True)

    objects = Visible.as_manager()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["service", "key"], condition=models.Q(service__isnull=False), name="one_station_of_a_key"
            )
        ]


class SiteStation(models.Model):
    """The station whose weather stands for a site's."""

    site = models.OneToOneField(Site, models.CASCADE, primary_key=True, related_name="station")
    station = models.ForeignKey(Station, models.CASCADE, related_name="sites")


class Source(models.TextChoices):
    HAND = "hand"
    FILE = "file"
    SERVICE = "service"


class DayRecord(models.Model):
    """One day as one source has it; where several have it, the order of `Source` says which counts, value by value."""

    station = models.ForeignKey(Station, models.CASCADE, related_name="records")
    day = models.DateField()
    source = models.CharField(max_length=7, choices=Source)
    tmin_c = models.FloatField(null=True)
    tmax_c = models.FloatField(null=True)
    rain_mm = models.FloatField(null=True)
    soil_c = models.FloatField(null=True)
    by = models.ForeignKey(Person, models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["station", "day", "source"], name="one_record_of_a_day_and_source")
        ]
