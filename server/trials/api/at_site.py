"""Which of a trial's seasons a request speaks of: the one at the site that it names, else the trial's first."""

from __future__ import annotations

from typing import cast
from uuid import UUID

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter
from rest_framework import serializers
from rest_framework.request import Request

from crew.models import Person
from trials.models import Season

AT_SITE = [OpenApiParameter("site", UUID, description="Which of the trial’s sites; its first if none is named.")]


def site_named(request: Request) -> UUID | None:
    """The site in the query, if any. Raises a validation error where it can't be one."""
    given = request.query_params.get("site")
    return serializers.UUIDField().to_internal_value(given) if given else None


def season_of(request: Request, trial: UUID) -> Season:
    """The trial's season at the named site, or 404 where the signed-in person may not see it."""
    own = Season.objects.visible_to(cast(Person, request.user)).filter(trial_id=trial)
    seasons = own.select_related("trial__workspace", "site").prefetch_related("trial__treatments")
    site = site_named(request)
    season = (seasons.filter(site_id=site) if site else seasons).first()
    if season is None:
        raise Http404("There is no such trial, or it isn’t at this site.")
    return season
