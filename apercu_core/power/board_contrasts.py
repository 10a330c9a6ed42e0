"""The board's comparisons as weights of plots, and what each stratum of error adds to them, in a balanced plan."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Floats, Ints
from apercu_core.statistics.balanced_reml import expectations
from apercu_core.statistics.classical import projections
from apercu_core.statistics.means import mean_functions
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.specification import Against, Method
from apercu_core.statistics.strata_critical import StrataCritical


@dataclass(frozen=True, slots=True)
class BoardContrasts:
    """`others`, `controls`: indices of the treatments that are compared and of their controls; `means`: (t, n), plots →
    treatment means; `weights`: (m, n), plots → differences; `rests`: bases of each stratum's error; `dfs`: (strata,);
    `expected`: (strata, components); `comparing`: variances and critical values.
    """

    levels: tuple[str, ...]
    others: Ints
    controls: Ints
    means: Floats
    weights: Floats
    rests: list[Floats]
    dfs: Floats
    expected: Floats
    comparing: StrataCritical


def board_contrasts(model: LinearModel, base: Against, method: Method, alpha: float) -> BoardContrasts:
    """Of one treatment factor. `base`: the control of all, or each treatment's own."""
    to_means = mean_functions(model, model.treatments)[:, model.kept]
    q, r = np.linalg.qr(model.x)
    means = to_means @ np.linalg.inv(r) @ q.T
    levels = model.factors[model.treatments[0]].levels
    others, controls = compared(levels, base)
    weights = means[others] - means[controls]
    rests = projections(model)
    dfs = np.array([float(rest.shape[1]) for rest in rests])
    # What each stratum adds to the covariance of the differences, in plots' worth of its mean square.
    parts = np.stack([(weights @ basis) @ (weights @ basis).T for basis in projections(model, whole=True)])
    comparing = StrataCritical(parts, dfs, method, len(levels), alpha)
    return BoardContrasts(
        levels, others, controls, means, weights, rests, dfs, expectations(model, rests), comparing
    )  # fmt: skip


def compared(levels: Sequence[str], base: Against) -> tuple[Ints, Ints]:
    """Indices of the treatments that are compared, and of the control of each."""
    of = {level: base for level in levels if level != base} if isinstance(base, str) else base
    pairs = sorted((levels.index(a), levels.index(b)) for a, b in of.items() if a in levels and b in levels)
    return np.array([a for a, _ in pairs]), np.array([b for _, b in pairs])
