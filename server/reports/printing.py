"""HTML → tagged PDF, in the type that ships with the interface."""

from __future__ import annotations

import base64
import importlib
from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any

from django.conf import settings
from django.template.loader import render_to_string

_PICTURE = "data:image/png;base64,"


def document_of(html: str) -> Any:
    """The laid-out document. The printer takes seconds to load, so it is fetched when something is first printed."""
    printer = importlib.import_module("weasyprint")
    return printer.HTML(string=html, url_fetcher=_no_fetch).render()


def pdf_of(document: Any) -> bytes:
    pdf: bytes = document.write_pdf(pdf_variant="pdf/ua-1")
    return pdf


def printed(template: str, shown: Mapping[str, Any]) -> str:
    """The HTML of a template of this app, with the type that it is set in."""
    return render_to_string(f"reports/{template}", {**shown, "font_face": _font_face()})


def _font_face() -> str:
    """The rule that brings the type, called Page."""
    rules = []
    for font, only in ((_font("hyperlegible-next"), ""), (_font("onest"), "; unicode-range: U+30")):
        if font:  # the second has the zero: the first one's is slashed
            rules.append(f"@font-face {{font-family: Page; src: url('{font.as_uri()}'){only}}}")
    return "\n".join(rules)


def _no_fetch(url: str, *_: object) -> Any:
    """Only the fonts that ship with the interface are read, and pictures that stand in the page itself."""
    answer = importlib.import_module("weasyprint.urls").URLFetcherResponse
    if url.startswith(_PICTURE):
        return answer(url, base64.b64decode(url.removeprefix(_PICTURE)), {"Content-Type": "image/png"})
    for font in filter(None, (_font("hyperlegible-next"), _font("onest"))):
        if url == font.as_uri():
            return answer(url, font.read_bytes(), {"Content-Type": "font/woff2"})
    raise ValueError(f"The page asks for {url}, which it may not.")


@lru_cache(maxsize=2)
def _font(name: str) -> Path | None:
    return next(iter(sorted((settings.WEB_DIST / "assets").glob(f"*{name}-latin-wght-normal*.woff2"))), None)
