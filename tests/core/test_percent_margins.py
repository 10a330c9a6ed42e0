"""Margins in per cent of an estimated control: at the margin, clear is said as rarely as it is promised."""

import numpy as np
import pytest
from scipy import stats

from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.measure import read_measure
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Verdict

BOARDS = 20_000


@pytest.mark.parametrize(("share", "blocks", "cv"), [(0.5, 4, 0.3), (1.0, 10, 0.02), (0.5, 6, 0.1)])
def test_at_the_upper_margin_clear_is_said_in_one_of_forty_boards_and_within_as_rarely(share, blocks, cv):
    """Two treatments in blocks, truth at the margin; the contrast written out for all boards at once."""
    rng = np.random.default_rng([11, blocks])
    mean = np.array([10.0, 10.0 * (1 + share)])
    y = mean + rng.normal(0, 10 * cv, (BOARDS, blocks, 2))
    paired = y[:, :, 1] - y[:, :, 0]
    sd = np.sqrt(paired.var(axis=1, ddof=1) / 2)
    contrast = y[:, :, 1].mean(1) - (1 + share) * y[:, :, 0].mean(1)
    half = stats.t.ppf(0.975, blocks - 1) * sd * np.sqrt((1 + (1 + share) ** 2) / blocks)
    clear, within = contrast - half >= 0, contrast + half <= 0
    assert clear.mean() <= 0.025 + 3 * np.sqrt(0.025 * 0.975 / BOARDS)
    assert within.mean() <= 0.025 + 3 * np.sqrt(0.025 * 0.975 / BOARDS)
    plots = tuple(PlotFacts(f"{b}{t}", f"B{b}", t) for b in range(blocks) for t in ("bare", "oat"))
    how, trial = in_force(How(), "rcbd", plots), TrialFacts(plots, "bare", "drawn")
    asked = Asked("Yield", "t/ha", Margin(100 * share, "percent"), "none")
    odd = [*np.flatnonzero(clear)[:30], *np.flatnonzero(within)[:30], *range(30)]
    for i in odd:
        samples = {p.label: [float(v)] for p, v in zip(plots, y[i].ravel(), strict=True)}
        [cell] = read_measure(trial, "rcbd", Recorded(asked, samples), how, "bare").cells
        if cell.lower > 0:  # the board says what the contrast does
            wanted = Verdict.CLEAR_MORE if clear[i] else Verdict.REAL_SMALL if within[i] else Verdict.REAL_UNSETTLED
            assert cell.verdict is wanted


def test_with_several_controls_the_margin_is_a_share_of_their_mean_with_its_error():
    names = ("bare early", "oat early", "bare late", "oat late")
    plots = tuple(PlotFacts(f"{b}{t}", f"B{b}", t) for b in range(4) for t in names)
    rng = np.random.default_rng(2)
    samples = {p.label: [float(8 + 4 * ("oat" in p.treatment) + rng.normal(0, 0.6))] for p in plots}
    own = {"oat early": "bare early", "oat late": "bare late"}
    asked = Asked("Yield", "t/ha", Margin(30, "percent"), "higher", base="bare", own_controls=own)
    found = read_measure(TrialFacts(plots, "bare early", "drawn"), "rcbd", Recorded(asked, samples),
                         in_force(How(), "rcbd", plots), "bare early")  # fmt: skip
    family, pairs = found.analysis.families[0], found.pairs
    mean = dict(zip(family.labels, family.mean, strict=True))
    sd, critical = found.analysis.residual_sd, float(pairs.critical[0])
    weights = {"oat early": 1, "bare early": -1.15, "bare late": -0.15}
    contrast = sum(weight * mean[name] for name, weight in weights.items())
    half = critical * sd * np.sqrt(sum(weight**2 for weight in weights.values()) / 4)
    cell = next(one for one in found.cells if one.treatment == "oat early")
    assert (cell.verdict is Verdict.CLEAR_GAIN) == (contrast - half >= 0)
    assert not any("taken as fixed" in note for note in found.notes)
