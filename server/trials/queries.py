"""Named, chainable query sets, each with its own prefetching."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Self

from django.db import models

if TYPE_CHECKING:
    from crew.models import Person


class Trials(models.QuerySet[Any]):
    def visible_to(self, person: Person) -> Self:
        """Trials of the workspaces that the person belongs to."""
        return self.filter(workspace__memberships__person=person)

    def newest_first(self) -> Self:
        return self.order_by("-created_at", "id")

    def whole(self) -> Self:
        """With everything that opening a trial shows, in a constant number of queries."""
        return self.select_related("workspace").prefetch_related(
            "treatments", "measures__version__measure", "seasons__site__seasons__trial", "seasons__units__ground",
            "seasons__units__parent__parent",
        )  # fmt: skip


class Units(models.QuerySet[Any]):
    def plots(self) -> Self:
        return self.filter(kind="plot").select_related("parent__parent", "treatment").order_by("order", "id")
