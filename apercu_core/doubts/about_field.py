"""Doubts about what happened on the plots: troubles that marked some of them, and covers that outlived their kill."""

from __future__ import annotations

from collections.abc import Iterator

from apercu_core.doubts.doubt import Doubt
from apercu_core.trial.facts import TrialFacts, TroubleFacts
from apercu_core.words import day_said, listed, number


def doubts_about_field(trial: TrialFacts) -> Iterator[Doubt]:
    yield from doubtful_plots(trial)
    yield from kill_incomplete(trial)


def doubtful_plots(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised where somebody marked plots as doubtful that have values from then on."""
    marked = [one for one in trial.troubles if not one.lost and one.plots and one.measures]
    if not marked:
        return
    plots = {label for one in marked for label in one.plots}
    yield Doubt(
        "doubtful-plots",
        "weakens",
        "Plots marked as doubtful",
        " ".join(_said(one) for one in marked),
        "What the trouble did isn’t what the treatments did, and it stands in their means.",
        "Compare with the result without these plots: let their values count as missing in the field log. Report both.",
        plots=tuple(plot.label for plot in trial.plots if plot.label in plots),
    )


def _said(one: TroubleFacts) -> str:
    note = f" ({one.note})" if one.note else ""
    return (
        f"{one.name.capitalize()}{note} in {'plot' if len(one.plots) == 1 else 'plots'} {listed(list(one.plots))} on "
        f"{day_said(one.day)}, before {listed(list(one.measures))}."
    )


def kill_incomplete(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised where more of a cover lived at the last check after its kill than a trial can overlook."""
    alive = [
        (kill, treatment, share)
        for kill in trial.kills
        for treatment, share in kill.living.items()
        if share > kill.limit
    ]
    if not alive:
        return
    names = {treatment for _, treatment, _ in alive}
    yield Doubt(
        "kill-incomplete",
        "weakens",
        "A cover outlived its kill",
        " ".join(
            f"{number(100 * share)} % of {treatment} lived on {day_said(kill.day)} after “{kill.name}”, "
            f"where {number(100 * kill.limit)} % is the most."
            for kill, treatment, share in alive
        ),
        "A cover that lives on takes water, light and nitrogen from the crop: the trial compares that, not the kill.",
        "Plan a second pass, or report the share that lived beside the results.",
        plots=tuple(plot.label for plot in trial.plots if plot.treatment in names),
    )
