"""The comparison that the board will make under a plan, from the model that a reading would fit."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from apercu_core.power.board_contrasts import board_contrasts
from apercu_core.power.differences import Difference
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.specification import Against, Method


def board_comparison(
    model: LinearModel, sigmas: Sequence[float], base: Against, method: Method, alpha: float = 0.05
) -> Difference:
    """The least precise of the board's comparisons at the standard deviations that the plan assumes.

    `sigmas`: of the model's strata in their order, then of plots. Its critical value has the board's own correlations.
    """
    board = board_contrasts(model, base, method, alpha)
    squares = (board.expected @ np.square(np.asarray(sigmas)))[:, None]
    variance, df = board.comparing.variance_and_df(squares)
    critical = board.comparing.critical(squares, df)
    half = critical * np.sqrt(variance)
    worst = int(np.argmax(half[:, 0]))
    return Difference(
        "as the board compares", float(np.sqrt(variance[worst, 0])), float(df[worst, 0]), len(board.levels), board=True,
        exact=len(model.strata) == 0, critical=float(critical[worst, 0]),
    )  # fmt: skip
