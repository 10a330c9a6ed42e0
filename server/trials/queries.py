"""Named, chainable query sets, each with its own prefetching."""

from __future__ import annotations

from typing import Any, Self

from django.db import models

from crew.visible import Visible


class Trials(Visible[Any]):
    def newest_first(self) -> Self:
        return self.order_by("-created_at", "id")

    def whole(self) -> Self:
        """With everything that opening a trial shows, in a constant number of queries."""
        return self.select_related("workspace", "follows").prefetch_related(
            "treatments", "followed_by", "measures__version__measure", "seasons__site__seasons__trial",
            "seasons__units__ground", "seasons__units__parent__parent",
        )  # fmt: skip


class Units(models.QuerySet[Any]):
    def plots(self) -> Self:
        return self.filter(kind="plot").select_related("parent__parent", "treatment").order_by("order", "id")
