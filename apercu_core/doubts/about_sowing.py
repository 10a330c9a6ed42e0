"""Doubts about how the covers were sown: rates off, and what differs between treatments beyond the question."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from apercu_core.doubts.doubt import Doubt
from apercu_core.doubts.triggers import SOWN_DEPTHS_APART_CM, SOWN_OFF
from apercu_core.trial.facts import SownFacts, TrialFacts
from apercu_core.words import listed, number


def doubts_about_sowing(trial: TrialFacts) -> tuple[Doubt, ...]:
    return tuple(doubt for check in (rate_off, sown_apart) for doubt in check(trial))


def rate_off(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised where what a treatment got is more than a tenth off the rate that was intended."""
    far = [one for one in trial.sown if one.off is not None and abs(one.off) > SOWN_OFF]
    if far:
        yield Doubt(
            "sown-off",
            "weakens",
            "Sown off its rate",
            f"{listed([_off(one) for one in far])}.",
            "The stand was thicker or thinner than the treatment says, so the result is that of another rate.",
            "Report delivered rates beside the results. Compare the counted stands.",
            plots=_plots(trial, {one.treatment for one in far}),
        )


def _off(one: SownFacts) -> str:
    assert one.off is not None
    share = number(round(100 * abs(one.off)))
    return f"{one.treatment} got {share} % {'more' if one.off > 0 else 'less'} seed than intended"


def sown_apart(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised where treatments were sown on different days or at other depths, and that isn't what is compared."""
    compared = {aspect for one in trial.described for aspect in one.by_factor}
    said = []
    days = _by_treatment(trial, lambda one: f"{one.day.day} {one.day:%B}")
    if len(set(days.values())) > 1 and "sowing_date" not in compared:
        said.append("Covers were sown on different days: " + listed([f"{t} on {d}" for t, d in days.items()]) + ".")
    depths = [one.depth_cm for one in trial.sown if one.depth_cm is not None]
    if depths and max(depths) - min(depths) > SOWN_DEPTHS_APART_CM:
        said.append(f"They were sown {number(min(depths))} to {number(max(depths))} cm deep.")
    if said:
        yield Doubt(
            "sown-apart",
            "weakens",
            "Covers sown differently",
            " ".join(said),
            "What differs besides the treatments may be what made the difference (confounding).",
            "Say so beside the results. Look whether treatments that were sown alike differ as well.",
        )


def _by_treatment(trial: TrialFacts, say: Callable[[SownFacts], str]) -> dict[str, str]:
    found: dict[str, list[str]] = {}
    for one in trial.sown:
        words = say(one)
        if words not in found.setdefault(one.treatment, []):
            found[one.treatment].append(words)
    return {treatment: " and ".join(words) for treatment, words in found.items()}


def _plots(trial: TrialFacts, treatments: set[str]) -> tuple[str, ...]:
    return tuple(plot.label for plot in trial.plots if plot.treatment in treatments)
