"""Who sees what: every row lies in a workspace, and who belongs to that sees it. The one place that says so."""

from __future__ import annotations

from typing import Any, Self, TypeVar

from django.db import models

Row = TypeVar("Row", bound=models.Model, covariant=True)

WORKSPACE_BY = {
    "crew.Workspace": "",
    "jobs.Job": "workspace",
    "library.OwnSpecies": "workspace",
    "trials.Site": "workspace",
    "trials.Trial": "workspace",
    "trials.TrialMeasure": "trial__workspace",
    "trials.Season": "trial__workspace",
    "season.Operation": "season__trial__workspace",
    "season.GrowthStage": "season__trial__workspace",
    "photographs.Photograph": "season__trial__workspace",
    "sample_photographs.SamplePhotograph": "visit__season__trial__workspace",
    "sample_photographs.PhotoCount": "shown__visit__season__trial__workspace",
    "sample_photographs.PhotoLength": "shown__visit__season__trial__workspace",
    "field_log.LogEntry": "season__trial__workspace",
    "sowing.SowingTest": "season__trial__workspace",
    "sowing.SowingDecision": "season__trial__workspace",
    "sowing.Sowing": "season__trial__workspace",
    "weather.WeatherService": "workspace",
    "weather.Station": "workspace",
    "records.Upload": "workspace",
    "records.Visit": "season__trial__workspace",
    "records.Observation": "visit__season__trial__workspace",
}
"""Model → the way from it to its workspace; empty: it is one."""


class Visible(models.QuerySet[Row]):
    def visible_to(self, person: models.Model) -> Self:
        """Those of the workspaces that the person belongs to; everything else isn't there."""
        way = _way(self.model)
        return self.filter(**{f"{way}__memberships__person" if way else "memberships__person": person})

    def with_role_of(self, person: models.Model) -> Self:
        """Those, with what the person is in their workspace, so that `require` needs no query of its own."""
        way = _way(self.model)
        role = models.F(f"{way}__memberships__role" if way else "memberships__role")
        return self.visible_to(person).annotate(seen_as=role, seen_by=models.Value(person.pk))


def workspace_of(row: models.Model) -> Any:
    """The workspace that a row lies in; a workspace itself as it is."""
    found: Any = row
    for step in filter(None, _way(type(row)).split("__")):
        found = getattr(found, step)
    return found


def _way(model: type[models.Model]) -> str:
    return WORKSPACE_BY[model._meta.label]
