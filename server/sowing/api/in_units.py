"""Figures in the units of one system, and as they are said."""

from __future__ import annotations

from apercu_core.units import System, shown_in
from apercu_core.words import number


class InUnits:
    """Factors of one system of units."""

    def __init__(self, system: System) -> None:
        self.system = system

    def unit(self, metric: str) -> str:
        return shown_in(metric, self.system)[0]

    def to(self, metric: str, value: float | None) -> float | None:
        return None if value is None else float(f"{value * shown_in(metric, self.system)[1]:.6g}")

    def said(self, metric: str, value: float, digits: int = 3) -> str:
        shown = value * shown_in(metric, self.system)[1]
        return f"{number(float(f'{shown:.{digits}g}'))} {self.unit(metric)}"
