"""Answers that are files."""

from __future__ import annotations

from typing import Any

from rest_framework.negotiation import BaseContentNegotiation
from rest_framework.request import Request


class AnyFile(BaseContentNegotiation):
    """A file is what it is, whatever the browser says it would rather have; errors stay problem+json."""

    def select_parser(self, request: Request, parsers: Any) -> Any:
        return parsers[0]

    def select_renderer(self, request: Request, renderers: Any, format_suffix: str | None = None) -> Any:
        return renderers[0], renderers[0].media_type
