"""Doubts about the whole trial: replication, randomisation, control."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping

from apercu_core.doubts.doubt import Doubt, TrialFacts
from apercu_core.doubts.triggers import SAME_ORDER_BLOCKS
from apercu_core.words import listed


def doubts_about_trial(trial: TrialFacts) -> tuple[Doubt, ...]:
    checks = (no_replication, not_randomised, no_control, two_things_changed)
    return tuple(doubt for check in checks for doubt in check(trial))


def no_replication(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised when a treatment stands in one plot only, or all plots in one block."""
    counts = Counter(plot.treatment for plot in trial.plots)
    single = [treatment for treatment, n in counts.items() if n < 2]
    if not single:
        return
    every = len(single) == len(counts)
    yield Doubt(
        "no-replication",
        "stops" if every else "weakens",
        "No replication",
        f"{'Every treatment' if every else listed(single)} stands in one plot only.",
        "With one plot, what the treatment did can't be told from what the ground did there.",
        "Describe what was seen, and plan at least four blocks next time. Frames within the plot aren't replicates.",
        plots=tuple(plot.label for plot in trial.plots if plot.treatment in single),
    )


def not_randomised(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised when the person says so or doesn't know, or when every block shows the same order of treatments."""
    why = "Treatments in a fixed order meet the same neighbours and the same drift of the field in every block."
    what = "Ask who laid the trial out, and how. If chance had no part in it, say so beside every result."
    same = _same_order(trial)
    if same:
        finding = f"All {same} blocks have their treatments in the same order."
        yield Doubt("not-randomised", "weakens", "Not randomised", finding, why, what)
    elif trial.allocation != "drawn":
        finding = {
            "systematic": "Treatments were placed in a fixed order, not by chance.",
            "unknown": "It isn't known how treatments came to their plots.",
        }[trial.allocation]
        yield Doubt("not-randomised", "weakens", "Not randomised", finding, why, what)


def _same_order(trial: TrialFacts) -> int:
    """How many blocks there are, if all share one order of at least three treatments; else 0."""
    orders: dict[str, list[tuple[int, str]]] = {}
    for plot in trial.plots:
        if plot.position is None or not plot.block:
            return 0
        orders.setdefault(plot.block, []).append((plot.position, plot.treatment))
    sequences = {tuple(treatment for _, treatment in sorted(order)) for order in orders.values()}
    if len(sequences) == 1 and len(orders) >= SAME_ORDER_BLOCKS and len(next(iter(sequences))) >= 3:
        return len(orders)
    return 0


def no_control(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised when no treatment is marked as the control."""
    if trial.control is None:
        yield Doubt(
            "no-control",
            "worth-knowing",
            "No control",
            "No treatment is marked as the control.",
            "Covers can be compared with each other, but not with what the field does without one.",
            "Mark the untreated plots if there are any; next time add a plot without cover to each block.",
        )


def two_things_changed(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised when treatments differ from the control in more than one factor at once.

    It weakens where no treatment of the trial lies between the two, and is worth knowing where one does.
    """
    base = trial.levels.get(trial.control or "")
    if not base:
        return
    mixed = {name: own for name, own in trial.levels.items() if own and len(differences(own, base)) > 1}
    if not mixed:
        return
    between = {name: _between(own, base, trial.levels) for name, own in mixed.items()}
    parted = all(between.values())
    factors = listed(sorted({factor for own in mixed.values() for factor in differences(own, base)}))
    example = next(iter(mixed))
    what = f"Compare {example} with {between[example][0]}" if between[example] else f"Add what parts {example} from it"
    yield Doubt(
        "two-things-changed",
        "worth-knowing" if parted else "weakens",
        "Two things changed at once",
        f"{listed(list(mixed))} differ{'s' if len(mixed) == 1 else ''} from {trial.control} in {factors} at once.",
        "Which of them made a difference can't be told from that comparison alone.",
        f"{what}, which differs in one thing only; or hold one of them constant.",
        plots=tuple(plot.label for plot in trial.plots if plot.treatment in mixed) if not parted else (),
    )


def differences(one: Mapping[str, str], other: Mapping[str, str]) -> tuple[str, ...]:
    """Factors in which two treatments differ."""
    return tuple(name for name in dict.fromkeys((*one, *other)) if one.get(name) != other.get(name))


def _between(
    own: Mapping[str, str], base: Mapping[str, str], levels: Mapping[str, Mapping[str, str]]
) -> tuple[str, ...]:
    """Treatments that differ from `own` in one factor and are nearer to the base."""
    apart = len(differences(own, base))
    return tuple(
        name
        for name, other in levels.items()
        if other and len(differences(own, other)) == 1 and len(differences(other, base)) == apart - 1
    )
