"""Planned equivalence and non-inferiority tests against a margin: two one-sided tests, not adjusted."""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.statistics.comparisons import compare
from apercu_core.statistics.distributions import t_quantile, t_upper
from apercu_core.statistics.inference import Inference
from apercu_core.statistics.means import Family
from apercu_core.statistics.specification import Comparison, Equivalence


@dataclass(frozen=True, slots=True)
class EquivalenceTest:
    """`p_lower` tests difference ≤ −margin, `p_upper` difference ≥ margin; `lower`, `upper`: 1 − 2α interval."""

    treatment: str
    estimate: float
    se: float
    df: float
    p_lower: float
    p_upper: float
    p_noninferiority: float
    lower: float
    upper: float
    equivalent: bool
    non_inferior: bool

    @property
    def p_tost(self) -> float:
        return max(self.p_lower, self.p_upper)


def equivalence_tests(
    family: Family, inference: Inference, asked: Equivalence, *, limits: tuple[float, float] | None = None
) -> tuple[EquivalenceTest, ...]:
    """Each level against the control, which the family must hold. `limits`: on the family's scale; ± the margin else.

    Schuirmann (1987), J. Pharmacokinet. Biopharm. 15, 657–680.
    """
    pairs = compare(family, inference, Comparison("lsd", None, asked.alpha), against=asked.control)
    low, high = limits or (-asked.margin, asked.margin)
    tests = []
    for i in range(len(pairs)):
        d, se, df = float(pairs.estimate[i]), float(pairs.se[i]), float(pairs.df[i])
        p_lower = float(t_upper((d - low) / se, df))
        p_upper = float(t_upper((high - d) / se, df))
        half = float(t_quantile(asked.alpha, df)) * se
        worse = p_lower if asked.higher_is_better else p_upper
        tests.append(
            EquivalenceTest(
                family.labels[pairs.a[i]], d, se, df, p_lower, p_upper, worse, d - half, d + half,
                equivalent=max(p_lower, p_upper) < asked.alpha, non_inferior=worse < asked.alpha,
            )
        )  # fmt: skip
    return tuple(tests)
