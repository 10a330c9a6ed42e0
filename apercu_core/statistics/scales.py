"""Scales on which a response may be analysed, and the way back to its own unit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import special

from apercu_core.arrays import Floats


@dataclass(frozen=True, slots=True)
class Scale:
    """`forward`: response → analysis scale; `inverse`: back; `slope`: the derivative of `inverse`.

    `low`, `high`: ends of the analysis scale, to which the ends of an interval are held before they go back.
    `ratio`: differences are logs of ratios (of odds ratios on the logit scale).
    """

    name: str
    forward: Callable[[Floats], Floats]
    inverse: Callable[[float], float]
    slope: Callable[[float], float]
    ratio: bool = False
    low: float = -np.inf
    high: float = np.inf

    def back(self, end: float) -> float:
        """The end of an interval in the response's unit."""
        return self.inverse(min(max(end, self.low), self.high))


IDENTITY = Scale("none", lambda y: y, lambda x: x, lambda x: 1.0)
SCALES = {
    scale.name: scale
    for scale in (
        IDENTITY,
        Scale("log", np.log, lambda x: float(np.exp(x)), lambda x: float(np.exp(x)), ratio=True),
        Scale("log1p", np.log1p, lambda x: float(np.expm1(x)), lambda x: float(np.exp(x))),
        Scale("sqrt", np.sqrt, lambda x: x * x, lambda x: 2 * x, low=0.0),
        Scale(
            "arcsine_sqrt", lambda y: np.arcsin(np.sqrt(y)), lambda x: float(np.sin(x) ** 2),
            lambda x: float(np.sin(2 * x)), low=0.0, high=float(np.pi / 2),
        ),
        Scale(
            "logit", special.logit, lambda x: float(special.expit(x)),
            lambda x: float(special.expit(x) * special.expit(-x)),
        ),
    )
}  # fmt: skip

PERCENT_LOGIT = Scale(
    "logit", lambda y: special.logit(y / 100), lambda x: 100 * float(special.expit(x)),
    lambda x: 100 * float(special.expit(x) * special.expit(-x)),
)  # fmt: skip
PERCENT_ARCSINE = Scale(
    "arcsine_sqrt", lambda y: np.arcsin(np.sqrt(y / 100)), lambda x: 100 * float(np.sin(x) ** 2),
    lambda x: 100 * float(np.sin(2 * x)), low=0.0, high=float(np.pi / 2),
)  # fmt: skip
"""The way back to per cent, for shares that are shown so."""
