"""Doubts about one measure: lost plots, odd values, spread, size of the trial, sampling, later changes."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator
from math import comb
from statistics import fmean, median, stdev

from apercu_core.doubts import triggers
from apercu_core.doubts.doubt import Doubt, MeasureFacts
from apercu_core.words import difference_unit, listed, p_value, with_unit


def doubts_about_measure(measure: MeasureFacts) -> tuple[Doubt, ...]:
    checks = (
        not_converged,
        treatment_not_delivered,
        lost_plots,
        loss_follows_treatment,
        ten_fold_slip,
        outlier,
        spread_grows_with_mean,
        too_small_to_see,
        subsamples_not_replicates,
        uneven_subsampling,
        changed_after_reading,
        question_changed_after_reading,
        few_df_for_this_model,
    )
    return tuple(doubt for check in checks for doubt in check(measure))


def _lost(measure: MeasureFacts) -> dict[str, list[str]]:
    """Treatment → labels of its plots without a value."""
    lost: dict[str, list[str]] = {}
    for plot in measure.trial.plots:
        if measure.values.get(plot.label) is None:
            lost.setdefault(plot.treatment, []).append(plot.label)
    return lost


def _by_treatment(measure: MeasureFacts) -> dict[str, list[tuple[str, float]]]:
    """Treatment → (label, value) of the plots that have one."""
    out: dict[str, list[tuple[str, float]]] = {}
    for plot in measure.trial.plots:
        value = measure.values.get(plot.label)
        if value is not None:
            out.setdefault(plot.treatment, []).append((plot.label, value))
    return out


def treatment_not_delivered(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised when a plot's treatment failed and its value is therefore a zero."""
    if not measure.failed:
        return
    treatments = {plot.label: plot.treatment for plot in measure.trial.plots}
    named = [f"{label} ({treatments[label]})" for label in measure.failed]
    several = len(named) > 1
    yield Doubt(
        "treatment-not-delivered",
        "worth-knowing",
        "Treatment not delivered",
        f"In {'plots' if several else 'plot'} {listed(named)} nothing came of the treatment, so "
        f"{'they count' if several else 'it counts'} as zero.",
        "A cover that fails is part of what the treatment does on this ground; leaving it out would flatter it.",
        "Say why it failed, and whether a grower would have sown again.",
        measure.name,
        measure.failed,
    )


def lost_plots(measure: MeasureFacts) -> Iterator[Doubt]:
    lost = _lost(measure)
    if not lost:
        return
    labels = [label for plots in lost.values() for label in plots]
    left = Counter(plot.treatment for plot in measure.trial.plots)
    rests = [f"{t} rests on {left[t] - len(plots)}" for t, plots in lost.items()]
    yield Doubt(
        "lost-plots",
        "weakens" if len(labels) > 0.1 * len(measure.trial.plots) else "worth-knowing",
        "Lost plots" if len(labels) > 1 else "Lost plot",
        f"{len(labels)} of {len(measure.trial.plots)} plots have no value ({listed(labels)}): {listed(rests)}.",
        "Means of fewer plots have wider intervals, and a plot that was lost because of its treatment biases.",
        "Note for each plot why it was lost. If the cover itself failed, its value is a zero and not a gap.",
        measure.name,
        tuple(labels),
    )


def loss_follows_treatment(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised when one treatment has so many of the lost plots that chance would hardly give it, all treatments and
    measures with losses allowed for (exact hypergeometric tail, Bonferroni).
    """
    lost = _lost(measure)
    total = sum(map(len, lost.values()))
    plots = Counter(plot.treatment for plot in measure.trial.plots)
    for treatment, labels in lost.items():
        tail = hypergeometric_tail(len(labels), len(measure.trial.plots), plots[treatment], total)
        p = min(1.0, tail * len(plots) * measure.measures)
        if p < triggers.LOSS_P:
            yield Doubt(
                "loss-follows-treatment",
                "weakens",
                "Loss follows treatment",
                f"{len(labels)} of {total} lost plots belong to {treatment} ({listed(labels)}); chance would hardly do "
                f"that ({p_value(p)}, {len(plots)} treatments allowed for).",
                "If the treatment caused the loss, the plots that are left are its best ones and flatter it.",
                "Ask what happened there. If the treatment failed, enter what was found, zero included.",
                measure.name,
                tuple(labels),
            )


def hypergeometric_tail(found: int, plots: int, own: int, lost: int) -> float:
    """P(at least `found` of `lost` plots, drawn from `plots`, are among a treatment's `own`)."""
    ways = comb(plots, lost)
    return sum(comb(own, x) * comb(plots - own, lost - x) for x in range(found, min(own, lost) + 1)) / ways


def ten_fold_slip(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised for a value about ten times the middle of its treatment, or a tenth, that its fit can't explain either."""
    for treatment, pairs in _by_treatment(measure).items():
        middle = median(value for _, value in pairs)
        for label, value in pairs:
            if len(pairs) < 3 or middle <= 0 or value <= 0:
                continue
            slipped = abs(abs(math.log10(value / middle)) - 1) <= triggers.TEN_FOLD_WITHIN
            if slipped and measure.outlier_p.get(label, 1.0) < triggers.TEN_FOLD_P:
                yield Doubt(
                    "ten-fold-slip",
                    "weakens",
                    "Ten-fold slip?",
                    f"Plot {label} has {with_unit(value, measure.unit)}; the middle of {treatment} is "
                    f"{with_unit(middle, measure.unit)}, ten times {'less' if value > middle else 'more'}.",
                    "A decimal point in the wrong place moves the mean and widens every interval.",
                    "Look at the field sheet. Correct the value if it slipped; keep it if it was so.",
                    measure.name,
                    (label,),
                )


def outlier(measure: MeasureFacts) -> Iterator[Doubt]:
    treatment = {plot.label: plot.treatment for plot in measure.trial.plots}
    for label, p in measure.outlier_p.items():
        if p * measure.measures < triggers.OUTLIER_P:
            value = measure.values[label]
            assert value is not None, "only plots with a value have a residual"
            beside = f" and {measure.measures} measures" if measure.measures > 1 else ""
            yield Doubt(
                "outlier",
                "weakens",
                "A plot stands out",
                f"Plot {label} ({treatment[label]}) has {with_unit(value, measure.unit)}, far from what its treatment "
                f"and block lead one to expect ({p_value(p * measure.measures)}, {len(measure.outlier_p)} "
                f"plots{beside} allowed for).",
                "One odd plot can make a difference, or hide one.",
                "Look at the notes and the photograph of that plot. Leave it in unless you know what went wrong there.",
                measure.name,
                (label,),
            )


def spread_grows_with_mean(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised by the test of a variance that grows with the mean. Counts are expected to, and are analysed that way."""
    if measure.spread_p is None or measure.spread_p * measure.measures >= triggers.SPREAD_P:
        return
    groups = {name: [value for _, value in pairs] for name, pairs in _by_treatment(measure).items()}
    low, high = (pick(groups, key=lambda name: fmean(groups[name])) for pick in (min, max))
    spreads = [stdev(groups[name]) if len(groups[name]) > 1 else 0.0 for name in (low, high)]
    yield Doubt(
        "spread-grows-with-mean",
        "weakens",
        "Spread grows with the mean",
        f"Treatments with larger means also vary more ({p_value(measure.spread_p * measure.measures)}): the standard "
        f"deviation is {with_unit(spreads[0], measure.unit)} in {low}, which has the least, and "
        f"{with_unit(spreads[1], measure.unit)} in {high}, which has the most.",
        "One common error is then too wide for the small means and too narrow for the large ones.",
        "Choose logarithms as the scale as well, where differences are ratios, and see whether a verdict moves.",
        measure.name,
    )


def too_small_to_see(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised only where comparisons aren't settled, by their own standard errors and degrees of freedom."""
    if measure.margin is None or measure.detectable is None or measure.detectable <= measure.margin:
        return
    apart = difference_unit(measure.unit)
    yield Doubt(
        "too-small-to-see",
        "weakens",
        "Too small to see",
        f"For {listed(measure.unsettled)} the trial had an 80 % chance to see a difference of "
        f"{with_unit(measure.detectable, apart)}; your margin is {with_unit(measure.margin, apart)}.",
        "Not settled may then say more about the size of the trial than about the treatments.",
        "Don't report it as no difference. More blocks, more samples per plot, or a second year would tell.",
        measure.name,
    )


def subsamples_not_replicates(measure: MeasureFacts) -> Iterator[Doubt]:
    total = sum(measure.subsamples.values())
    if total <= len(measure.subsamples):
        return
    yield Doubt(
        "subsamples-not-replicates",
        "worth-knowing",
        "Samples aren't replicates",
        f"The {total} rows are samples from {len(measure.subsamples)} plots; each plot counts once, with its mean.",
        "Samples from one plot share its ground: as replicates they'd make differences look surer than they are.",
        "Nothing to do; say plots, not samples, when you report how many there were.",
        measure.name,
    )


def uneven_subsampling(measure: MeasureFacts) -> Iterator[Doubt]:
    counts = measure.subsamples
    if not counts or min(counts.values()) > triggers.UNEVEN_SUBSAMPLES * max(counts.values()):
        return
    most = max(counts.values())
    few = [label for label, n in counts.items() if n <= triggers.UNEVEN_SUBSAMPLES * most]
    yield Doubt(
        "uneven-subsampling",
        "worth-knowing",
        "Uneven sampling",
        f"Most plots have {most} samples; {listed(few)} {'have' if len(few) > 1 else 'has'} "
        f"{min(counts.values())} at the least.",
        "A mean of fewer samples is less sure, but every plot weighs the same here.",
        "Find the missing samples, or say that plots were sampled unevenly.",
        measure.name,
        tuple(few),
    )


def changed_after_reading(measure: MeasureFacts) -> Iterator[Doubt]:
    if not measure.changed:
        return
    yield Doubt(
        "changed-after-reading",
        "weakens",
        "Changed after reading",
        f"{len(measure.changed)} value{'s' if len(measure.changed) > 1 else ''} changed after the results were "
        f"opened (plot{'s' if len(measure.changed) > 1 else ''} {listed(measure.changed)}).",
        "Values that are corrected once the result is known tend to be corrected towards what was hoped for.",
        "Give the reason for each change. The first results are kept.",
        measure.name,
        measure.changed,
    )


def question_changed_after_reading(measure: MeasureFacts) -> Iterator[Doubt]:
    if not measure.question_changed:
        return
    yield Doubt(
        "question-changed-after-reading",
        "weakens",
        "Question changed after the results were opened",
        f"{'; '.join(measure.question_changed)}.",
        "A margin, a direction or a control that is chosen once the result is known can make any result look wanted.",
        "Report the results by the first question as well, and say why it was changed.",
        measure.name,
    )


def few_df_for_this_model(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised where counts were said to be Poisson, negative binomial or binomial, and few plots could tell."""
    said, df = measure.assumed
    if said and df < triggers.FEW_DF:
        yield Doubt(
            "few-df-for-this-model",
            "weakens",
            "Few plots for this model",
            f"{measure.name} is read as {said}, with {df} degrees of freedom to see whether it is.",
            "Such a model takes the variation between plots as known. With few plots it finds differences that aren't "
            "there: in 4 blocks of counts that vary more, Poisson in about 4 of 5 trials, negative binomial in 1 of 5.",
            "Choose estimated variation, unless you know from elsewhere how such counts vary.",
            measure.name,
        )


def not_converged(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised where the fit ended before its likelihood was at its highest."""
    if not measure.converged:
        yield Doubt(
            "not-converged",
            "stops",
            "The model didn't converge",
            f"The search for the variances behind {measure.name} didn't come to its end.",
            "Standard errors, intervals and verdicts rest on these variances, so they may be wrong, by how much nobody "
            "can say.",
            "Don't act on this reading. Look at the values for slips, or compare with classical strata in the full "
            "reading; report it, since such data should be looked at.",
            measure.name,
        )
