"""The margins that measures are asked with, as the core's question has them."""

from __future__ import annotations

from collections.abc import Iterable

from apercu_core.protocol.question import AskedMargin
from trials.models import MarginKind, TrialMeasure


def asked_margins(measures: Iterable[TrialMeasure]) -> tuple[AskedMargin, ...]:
    """Of the measures that have a margin, in stored units."""
    return tuple(
        AskedMargin(m.version.measure.name, m.version.unit, m.margin, m.margin_kind == MarginKind.PERCENT)
        for m in measures
        if m.margin
    )
