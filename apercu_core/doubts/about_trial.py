"""Doubts about the whole trial: replication, randomisation, control."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from apercu_core.doubts.doubt import Doubt
from apercu_core.doubts.triggers import SAME_ORDER_BLOCKS
from apercu_core.protocol.confounding import Mixed, compared, mixed, name_of
from apercu_core.trial.facts import TrialFacts
from apercu_core.words import listed


def doubts_about_trial(trial: TrialFacts) -> tuple[Doubt, ...]:
    checks = (no_replication, not_randomised, no_control, two_things_changed, shares_changed, question_differs)
    return tuple(doubt for check in checks for doubt in check(trial))


def no_replication(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised when a treatment stands in one plot only, or all plots in one block."""
    counts = Counter(plot.treatment for plot in trial.plots)
    single = [treatment for treatment, n in counts.items() if n < 2]
    if not single:
        return
    every = len(single) == len(counts)
    named = "Every treatment" if every else listed(single)
    yield Doubt(
        "no-replication",
        "stops" if every else "weakens",
        "No replication",
        f"{named} {'has' if every or len(single) < 2 else 'have'} only one plot.",
        "With one plot, the effect of the treatment can’t be separated from the effect of its place in the field.",
        "Describe what was observed. Plan at least four blocks next time. Frames within a plot aren’t replicates.",
        plots=tuple(plot.label for plot in trial.plots if plot.treatment in single),
    )


def not_randomised(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised when the person says so or doesn't know, or when every block shows the same order of treatments."""
    why = "In a fixed order, treatments have the same neighbours and the same field gradient in every block."
    what = "Find out how the trial was laid out. If it wasn’t randomised, say so beside every result."
    same = _same_order(trial)
    if trial.moved:
        yield Doubt(
            "not-randomised",
            "weakens",
            "Changed by hand",
            f"The plots were randomised and then changed by hand: {listed(list(trial.moved))}.",
            "Plots are moved for a reason. If the reason lies in the field, it is now mixed with the treatment effect.",
            "Report the reason beside the results, or randomise again with a constraint that serves the reason.",
        )
    if same:
        finding = f"All {same} blocks have their treatments in the same order."
        yield Doubt("not-randomised", "weakens", "Not randomised", finding, why, what)
    elif trial.allocation != "drawn":
        finding = {
            "systematic": "Treatments were placed in a fixed order, not randomised.",
            "unknown": "It isn’t known how treatments were assigned to plots.",
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
            "Covers can be compared with each other, but not with the field without a cover.",
            "Mark the untreated plots if there are any. Next time, add a plot without a cover to each block.",
        )


def shares_changed(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised where the shares that weigh zones were changed after values had been recorded in them."""
    if trial.reweighed:
        yield Doubt(
            "protocol-changed",
            "weakens",
            "Shares of zones changed",
            f"Shares of zones were changed after values had been recorded there: {listed(list(trial.reweighed))}.",
            "A plot’s value is the mean of its zones, weighted by their shares. The change altered recorded values.",
            "Report the reason beside the results. Check whether a verdict depends on it.",
        )


def question_differs(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised where the question names another size of difference than its measures have as margins."""
    if trial.contradictions:
        yield Doubt(
            "question-and-margin",
            "worth-knowing",
            "Question and margin differ",
            " ".join(trial.contradictions),
            "Verdicts use the margin, so they answer a different question from the one that is printed.",
            "Change the question or the margin in Ask, so that both agree.",
        )


def two_things_changed(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised when treatments differ from the control, or without one from each other, in several aspects at once.

    It weakens where no treatments of the trial lead from one to the other step by step, and is worth knowing where some
    do.
    """
    names = [one.name for one in trial.described]
    wanted = [trial.control, *trial.more_controls] if trial.control else []
    controls = [control for control in wanted if control in names]
    if wanted and not controls:
        return
    found = [
        one
        for one in mixed(trial.described, compared(names, controls, trial.own_controls))
        if controls or not one.through
    ]
    if not found:
        return
    alone = [one for one in found if not one.through]
    first = (alone or found)[0]
    aspects = listed([name_of(aspect) for aspect in dict.fromkeys(a for one in found for a in one.aspects)])
    if len(controls) == 1 and not trial.own_controls:
        who = listed([one.treatment for one in found])
        said = f"{who} differ{'s' if len(found) == 1 else ''} from {controls[0]} in {aspects} at once."
    else:
        said = f"{listed([f'{one.treatment} against {one.base}' for one in found])} differ in {aspects} at once."
    reasons = [f"{one.treatment}: {why}" for one in alone if (why := trial.accepted.get((one.base, one.treatment)))]
    kept = f" Accepted when it was planned ({'; '.join(reasons)})." if reasons else ""
    what = f"Compare {first.treatment} with {first.through}" if first.through else _parting(first)
    yield Doubt(
        "two-things-changed",
        "weakens" if alone else "worth-knowing",
        "Two things changed at once",
        said + kept,
        "That comparison alone can’t tell which of them made the difference (confounding).",
        f"{what}, which differs in one thing only, or keep one of them the same.",
        plots=tuple(plot.label for plot in trial.plots if plot.treatment in {one.treatment for one in alone}),
    )


def _parting(one: Mixed) -> str:
    return next((o.said for o in one.offers if o.kind == "add"), f"Add what parts {one.treatment} from {one.base}")
