"""Many seasons at once say what the board says of each of them."""

from collections import Counter

import numpy as np
import pytest

from apercu_core.design.facts import READ_AS, facts_of
from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.controls import controls_of
from apercu_core.reading.many_seasons import balanced_board
from apercu_core.reading.trial import read_trial
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Margin

FACTORS = {"factors": {"kill": ["early", "late"], "cover": ["vetch", "oat", "none"]}}
OWN = {f"{kill}:{cover}": f"{kill}:none" for kill in ("early", "late") for cover in ("vetch", "oat")}
SEASONS = 12
SPLIT = FACTORS | {"whole_plot_factor": "kill", "control": "bare"}
STRIP = FACTORS | {"row_factor": "kill", "column_factor": "cover"}
YIELD = Asked("Yield", "t/ha", Margin(2.0), "higher")
CASES = {
    "blocks": ("rcbd", FACTORS | {"control": "bare"}, YIELD, How()),
    "blocks, protected LSD": ("rcbd", FACTORS | {"control": "bare"}, YIELD, How("lsd")),
    "blocks, Tukey, less is better": ("rcbd", FACTORS, Asked("Weeds", "", Margin(2.0), "lower"), How("tukey")),
    "blocks, two plots lost": ("rcbd", FACTORS | {"control": "bare"}, YIELD, How()),
    "square": ("latin_square", {"treatments": list("abcd")}, YIELD, How("holm")),
    "split plot, control outside": ("split_plot", SPLIT, YIELD, How()),
    "split plot, margin in per cent": ("split_plot", SPLIT, Asked("Yield", "", Margin(5.0, "percent")), How()),
    "split plot, planned": (
        "split_plot", SPLIT, Asked("Yield", "", Margin(3.0), "higher", planned="non-inferiority"), How("sidak"),
    ),
    "split plot, equivalence of two": (
        "split_plot", SPLIT,
        Asked("Yield", "", Margin(3.0), "none", planned="equivalence", planned_for=("early:oat", "late:oat")), How(),
    ),
    "split plot, own controls": (
        "split_plot", FACTORS | {"whole_plot_factor": "kill"},
        Asked("Yield", "", Margin(2.0), "higher", base="none", own_controls=OWN), How(),
    ),
    "strip plot, Tukey": ("strip_plot", STRIP, YIELD, How("tukey")),
    "no margin": ("split_plot", SPLIT, Asked("Yield", "t/ha"), How()),
}  # fmt: skip


def seasons_of(facts, seed=4):
    """(seasons, plots): blocks, the larger units and plots vary by 1 each, treatments by a little; one season in two
    has larger units that hardly vary, so that variances are held at zero in some.
    """
    rng = np.random.default_rng(seed)
    names = sorted({p.treatment for p in facts})
    y = 40 + np.array([0.8 * names.index(p.treatment) for p in facts]) + rng.normal(0, 1, (SEASONS, len(facts)))
    groups = [[p.block or p.row for p in facts], [f"{p.block} {p.whole_plot or p.row_strip}" for p in facts],
              [f"{p.block} {p.column_strip}" for p in facts]]  # fmt: skip
    for group in groups:
        codes = np.unique(group, return_inverse=True)[1]
        y += rng.choice([0.1, 1.0], (SEASONS, 1)) * rng.normal(0, 1, (SEASONS, codes.max() + 1))[:, codes]
    return y


@pytest.mark.parametrize("name", CASES)
def test_many_seasons_at_once_agree_with_the_board_of_each(name):
    design, raw, asked, how = CASES[name]
    raw = {"design": design, "seed": 9, **({} if design == "latin_square" else {"blocks": 4}), **raw}
    facts = facts_of((one.plot for one in draw_plan(read_plan(raw))), design)
    base = "bare" if "control" in raw else facts[0].treatment
    trial = TrialFacts(facts, base, "drawn")
    lost = [p.label for p in facts if p.treatment != base][:2] if "lost" in name else []
    controls, how = controls_of(trial, asked, base), in_force(how, READ_AS[design], facts)
    board, y = balanced_board(trial, READ_AS[design], how, controls, lost), seasons_of(facts)
    assert board is not None
    found = board.intervals(y)
    counts, shown, held = Counter(), Counter(), 0
    for at, season in enumerate(y):
        values = {p.label: [None if p.label in lost else float(v)] for p, v in zip(facts, season, strict=True)}
        (measure,) = read_trial(trial, READ_AS[design], [Recorded(asked, values)], how, base).measures
        held += any(v <= 0 for v in measure.analysis.fit.variance_components.values())
        pairs, labels = measure.pairs, measure.pairs.family.labels
        of = {frozenset((labels[a], labels[b])): i for i, (a, b) in enumerate(zip(pairs.a, pairs.b, strict=True))}
        for cell in measure.cells:
            counts[cell.treatment, cell.verdict] += 1
            if cell.treatment not in board.treatments:
                continue
            row, pair = board.treatments.index(cell.treatment), of[frozenset((cell.treatment, cell.against))]
            assert found.estimate[row, at] == pytest.approx(cell.estimate, abs=1e-9)
            assert found.df[row, at] == pytest.approx(pairs.df[pair], rel=1e-9)
            assert found.half[row, at] == pytest.approx((cell.upper - cell.lower) / 2, rel=1e-3)
        shown.update(test.test.treatment for test in measure.planned if test.shown)
    assert counts == {(t, v): n for t, verdicts in board.verdicts(asked, found).items() for v, n in verdicts.items()}
    assert shown == {t: n for t, n in board.shown(asked, found).items() if n}
    if design == "split_plot":
        assert 0 < held < SEASONS


@pytest.mark.parametrize(
    ("design", "raw", "lost", "how"),
    [
        ("split_plot", SPLIT, ["103"], How()),
        ("split_plot", SPLIT, [], How("lsd")),
        ("strip_plot", STRIP, [], How()),
        ("incomplete_block", {"treatments": list("abcdefghi"), "block_size": 3}, [], How()),
    ],
)
def test_what_needs_each_season_fitted_is_not_read_at_once(design, raw, lost, how):
    plan = draw_plan(read_plan({"design": design, "seed": 9, "blocks": 4, **raw}))
    facts = facts_of((one.plot for one in plan), design)
    trial = TrialFacts(facts, facts[0].treatment, "drawn")
    controls = controls_of(trial, YIELD, facts[0].treatment)
    assert balanced_board(trial, READ_AS[design], in_force(how, READ_AS[design], facts), controls, lost) is None
