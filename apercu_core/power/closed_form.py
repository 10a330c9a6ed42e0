"""What a plan can see: power, and the smallest difference with an 80 % chance of being found."""

from __future__ import annotations

import math
from collections.abc import Callable

from scipy import special

from apercu_core.errors import Refused
from apercu_core.power.error_df import error_df
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.quadrature import scale_axis
from apercu_core.statistics.root import increasing_root
from apercu_core.statistics.specification import Design, Method

USUAL_POWER = 0.80


def f_test_power(treatments: int, blocks: int, difference: float, sigma: float, *, design: Design = "rcbd",
                 alpha: float = 0.05) -> float:  # fmt: skip
    """Power of the overall F test when two treatments differ by `difference` and the rest lie halfway.

    The least favourable case, λ = b·δ²/(2σ²): Cohen (1988), *Statistical Power Analysis*, section 8.2, pattern 1.
    `difference` and `sigma` in one unit (or both in per cent of the mean).
    """
    _require_positive(sigma=sigma)
    df1, df2 = treatments - 1, error_df(design, treatments, blocks)
    noncentrality = blocks * difference**2 / (2 * sigma**2)
    critical = float(special.fdtri(df1, df2, 1 - alpha))
    power = 1 - float(special.ncfdtr(df1, df2, noncentrality, critical))
    return power if math.isfinite(power) else _patnaik_upper(critical, df1, df2, noncentrality)


def _patnaik_upper(f: float, df1: float, df2: float, noncentrality: float) -> float:
    """P(F′ > f) where the series gives up, far out: a scaled central F. Patnaik (1949), Biometrika 36, 202–232."""
    scale = (df1 + noncentrality) / df1
    df = (df1 + noncentrality) ** 2 / (df1 + 2 * noncentrality)
    return float(special.fdtrc(df, df2, f / scale))


def pair_power(difference: float, standard_error: float, df: float, critical: float) -> float:
    """Chance that a two-sided comparison with this critical value excludes zero; both tails counted."""
    _require_positive(standard_error=standard_error)
    shift = abs(difference) / standard_error
    if shift > critical + 40:  # certain to more digits than there are, and past where the series holds
        return 1.0
    power = float(1 - special.nctdtr(df, shift, critical) + special.nctdtr(df, shift, -critical))
    return power if math.isfinite(power) else _pair_power_by_integration(shift, df, critical)


def _pair_power_by_integration(shift: float, df: float, critical: float) -> float:
    """The same where the series gives up (few df, large shift): the normal, averaged over the estimated spread."""
    scale, weight = scale_axis(df, 400)
    beyond = special.ndtr(shift - critical * scale) + special.ndtr(-shift - critical * scale)
    return float(weight @ beyond)


def minimum_detectable_difference(
    sigma: float, treatments: int, blocks: int, *, design: Design = "rcbd", method: Method = "lsd", alpha: float = 0.05,
    against_control: bool = True, power: float = USUAL_POWER,
) -> float:  # fmt: skip
    """The true difference of a pair that the plan finds with probability `power`, in the unit of `sigma`.

    `sigma`: standard deviation between plots within blocks, known beforehand or from the residual; never from the
    observed effect (Hoenig and Heisey, 2001, American Statistician 55, 19–24).
    """
    _require_positive(sigma=sigma)
    df = error_df(design, treatments, blocks)
    critical = critical_value(method, treatments, df, alpha, against_control=against_control)
    return detectable_difference(sigma * math.sqrt(2 / blocks), df, critical, power)


def detectable_difference(standard_error: float, df: float, critical: float, power: float = USUAL_POWER) -> float:
    """The true difference that a comparison with this critical value finds with probability `power`."""
    _require_positive(standard_error=standard_error)
    return standard_error * increasing_root(lambda shift: pair_power(shift, 1.0, df, critical) - power, 3.0)


def blocks_needed(treatments: int, difference: float, sigma: float, *, power: float = USUAL_POWER,
                  alpha: float = 0.05, most: int = 200) -> int | None:  # fmt: skip
    """Fewest randomised complete blocks that reach `power` in the overall F test; None past `most`."""
    return _fewest(lambda blocks: f_test_power(treatments, blocks, difference, sigma, alpha=alpha) >= power, most)


def pairs_needed(difference: float, sd_of_differences: float, *, power: float = USUAL_POWER, alpha: float = 0.05,
                 most: int = 1_000_000) -> int | None:  # fmt: skip
    """Fewest pairs of strips whose two-sided paired t test reaches `power`; None past `most`."""

    def enough(n: int) -> bool:
        critical = float(t_quantile(alpha / 2, n - 1))
        return pair_power(difference, sd_of_differences / math.sqrt(n), n - 1, critical) >= power

    return _fewest(enough, most)


def _fewest(enough: Callable[[int], bool], most: int) -> int | None:
    """The smallest number from 2 that is enough, by doubling and halving: power never falls with more."""
    high = 2
    while not enough(high):
        if high >= most:
            return None
        high = min(2 * high, most)
    low = max(1, high // 2)
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high


def _require_positive(**values: float) -> None:
    for name, value in values.items():
        if not (math.isfinite(value) and value > 0):
            raise Refused("bad-value", f"{name} is {value:g}; it must be a number above 0.")
