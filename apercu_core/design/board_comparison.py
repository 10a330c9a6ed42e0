"""The comparison that the board will make under a plan, from the model that a reading would fit."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from apercu_core.design.differences import Difference
from apercu_core.design.simulation import compared_indices
from apercu_core.statistics.balanced_reml import expectations
from apercu_core.statistics.classical import projections
from apercu_core.statistics.means import mean_functions
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.specification import Against, Method
from apercu_core.statistics.strata_critical import StrataCritical


def board_comparison(
    model: LinearModel, sigmas: Sequence[float], base: Against, method: Method, alpha: float = 0.05
) -> Difference:
    """The least precise of the board's comparisons at the standard deviations that the plan assumes.

    `sigmas`: of the model's strata in their order, then of plots. Its critical value has the board's own correlations.
    """
    to_means = mean_functions(model, model.treatments)[:, model.kept]
    q, r = np.linalg.qr(model.x)
    means = to_means @ np.linalg.inv(r) @ q.T
    levels = model.factors[model.treatments[0]].levels
    others, controls = compared_indices(levels, base)
    contrasts = means[others] - means[controls]
    rests = projections(model)
    dfs = np.array([float(rest.shape[1]) for rest in rests])
    squares = expectations(model, rests) @ np.square(np.asarray(sigmas))
    parts = np.stack([(contrasts @ basis) @ (contrasts @ basis).T for basis in projections(model, whole=True)])
    comparing = StrataCritical(parts, dfs, method, len(levels), alpha)
    variance, df = comparing.variance_and_df(squares[:, None])
    critical = comparing.critical(squares[:, None], df)
    half = critical * np.sqrt(variance)
    worst = int(np.argmax(half[:, 0]))
    return Difference(
        "as the board compares", float(np.sqrt(variance[worst, 0])), float(df[worst, 0]), len(levels), board=True,
        exact=len(model.strata) == 0, critical=float(critical[worst, 0]),
    )  # fmt: skip
