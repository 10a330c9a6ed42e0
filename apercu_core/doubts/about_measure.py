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
        open_conflict,
        not_converged,
        treatment_not_delivered,
        beyond_what_was_measured,
        measured_alone,
        control_is_zero,
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
    """Treatment → labels of its plots without a value, but for those that are known to lie beyond."""
    lost: dict[str, list[str]] = {}
    for plot in measure.trial.plots:
        if measure.values.get(plot.label) is None and plot.label not in measure.beyond:
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


def open_conflict(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised while two values of one place wait for a decision: the first of them counts."""
    if not measure.conflicts:
        return

    def value(given: float | None) -> str:
        return "no value" if given is None else with_unit(given, measure.unit)

    said = [f"plot {one.plot} has {value(one.standing)} and {value(one.other)}" for one in measure.conflicts]
    several = len(said) > 1
    yield Doubt(
        "open-conflict",
        "stops",
        "Two values for one plot",
        f"Two different values were entered: {listed(said)}. The first of {'each two' if several else 'the two'} is "
        "used here until somebody decides.",
        "A result that rests on a value nobody has decided on may change.",
        "Open the visit in Walk, look at both values, and decide which one stays.",
        measure.name,
        tuple(dict.fromkeys(one.plot for one in measure.conflicts)),
    )


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
        f"The cover failed in {'plots' if several else 'plot'} {listed(named)}. "
        f"{'These plots count' if several else 'This plot counts'} as zero.",
        "A failed cover is part of what the treatment does in this field. Without it the treatment looks too good.",
        "Report why it failed, and whether a grower would have sown again.",
        measure.name,
        measure.failed,
    )


def beyond_what_was_measured(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised when a value is only known to be more, or less, than what could be measured. Such plots drop out because
    of what they would have said, so that the means of the others lean to one side.
    """
    if not measure.beyond:
        return
    of = Counter(plot.treatment for plot in measure.trial.plots if plot.label in measure.beyond)
    counted = [f"{n} of {treatment}" for treatment, n in of.items()]
    these, has = ("these plots", "have") if len(measure.beyond) > 1 else ("this plot", "has")
    means = "the mean of its treatment is" if len(of) == 1 else "the means of their treatments are"
    yield Doubt(
        "beyond-what-was-measured",
        "stops" if len(measure.beyond) > triggers.BEYOND_SHARE * len(measure.trial.plots) else "weakens",
        "Values beyond what was measured",
        f"{len(measure.beyond)} of {len(measure.trial.plots)} plots ({listed(measure.beyond)}) {has} no value, because "
        f"it is {measure.beyond_side} than could be measured: {listed(counted)}.",
        f"Without {these} {means} too {'low' if measure.beyond_side == 'more' else 'high'}, and a difference can be "
        "hidden or turned round.",
        "Measure further in every plot. Until then report how many plots of each treatment went beyond, and no mean.",
        measure.name,
        tuple(measure.beyond),
    )


def measured_alone(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised where a measure says little without another that wasn't taken along, as resistance without moisture."""
    if measure.lacking:
        yield Doubt(
            "measured-alone",
            "weakens",
            f"{measure.lacking} not measured along",
            f"{measure.name} was measured without {measure.lacking[0].lower()}{measure.lacking[1:]} at about the same "
            "time.",
            "Treatments differ in it as well, and it changes what was measured: a difference can come from it alone.",
            "Measure both on the same day in the same plots, and read them side by side.",
            measure.name,
        )


def control_is_zero(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised where every plot of a control has the value 0: shares of it mean nothing, and its plots show no spread."""
    values = _by_treatment(measure)
    for control in measure.controls:
        own = values.get(control, [])
        if len(own) > 1 and not any(value for _, value in own):
            yield Doubt(
                "control-is-zero",
                "weakens",
                "The control is zero",
                f"All {len(own)} plots of {control} have the value 0.",
                "A treatment can’t have less than nothing. A margin in per cent of the control means nothing, and the "
                "control shows no variation to judge differences by.",
                "Check that the control was measured. Compare with another treatment, or use a measure that isn’t zero "
                "in the control.",
                measure.name,
                tuple(label for label, _ in own),
            )


def lost_plots(measure: MeasureFacts) -> Iterator[Doubt]:
    lost = _lost(measure)
    if not lost:
        return
    labels = [label for plots in lost.values() for label in plots]
    left = Counter(plot.treatment for plot in measure.trial.plots if measure.values.get(plot.label) is not None)
    rests = [f"{t} has {left[t]} left" for t in lost]
    aside = ""
    if measure.set_aside:
        plots = f"{'Plots' if len(measure.set_aside) > 1 else 'Plot'} {listed(measure.set_aside)}"
        has = "have values that were" if len(measure.set_aside) > 1 else "has a value that was"
        aside = f" {plots} {has} recorded after a trouble that is marked in Season, so they are set aside."
    yield Doubt(
        "lost-plots",
        "weakens" if len(labels) > 0.1 * len(measure.trial.plots) else "worth-knowing",
        "Missing plots" if len(labels) > 1 else "Missing plot",
        f"{len(labels)} of {len(measure.trial.plots)} plots have no value{' that counts' if aside else ''} "
        f"({listed(labels)}): {listed(rests)}.{aside}",
        "Means of fewer plots have wider intervals. A plot that is missing because of its treatment biases the result.",
        "Record the reason for each plot. If the cover itself failed, enter zero instead of leaving the plot missing.",
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
                "Missing plots follow a treatment",
                f"{len(labels)} of {total} missing plots belong to {treatment} ({listed(labels)}). This is unlikely by "
                f"chance ({p_value(p)}, adjusted for {len(plots)} treatments).",
                "If the treatment caused it, only its best plots are left, and the treatment looks too good.",
                "Find out what happened there. If the treatment failed, enter what was found, including zeros.",
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
                    "Decimal point in the wrong place?",
                    f"Plot {label} has {with_unit(value, measure.unit)}. The median of {treatment} is "
                    f"{with_unit(middle, measure.unit)}, about ten times {'less' if value > middle else 'more'}.",
                    "A decimal point in the wrong place moves the mean and widens every interval.",
                    "Compare it with the field sheet. Correct the value if it is wrong.",
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
                "Unusual plot",
                f"Plot {label} ({treatment[label]}) has {with_unit(value, measure.unit)}. This is far from the value "
                f"expected from its treatment and block ({p_value(p * measure.measures)}, adjusted for "
                f"{len(measure.outlier_p)} plots{beside}).",
                "A single unusual plot can create a difference or hide one.",
                "Read the notes on that plot. Keep its value unless you know what went wrong there.",
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
        "Variation grows with the mean",
        f"Treatments with larger means also vary more ({p_value(measure.spread_p * measure.measures)}). The standard "
        f"deviation is {with_unit(spreads[0], measure.unit)} in {low}, which has the lowest mean, and "
        f"{with_unit(spreads[1], measure.unit)} in {high}, which has the highest.",
        "A common error variance is then too large for small means and too small for large ones.",
        "Analyse logarithms as well (Scale), where differences are ratios. See whether a verdict changes.",
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
        "Trial too small for the margin",
        f"For {listed(measure.unsettled)} the trial had an 80 % chance to detect a difference of "
        f"{with_unit(measure.detectable, apart)}. Your margin is {with_unit(measure.margin, apart)}.",
        "Not settled may then be due to the size of the trial and not to the treatments.",
        "Don’t report it as no difference. Use more blocks, more samples per plot, or a second year.",
        measure.name,
    )


def subsamples_not_replicates(measure: MeasureFacts) -> Iterator[Doubt]:
    total = sum(measure.subsamples.values())
    if total <= len(measure.subsamples):
        return
    yield Doubt(
        "subsamples-not-replicates",
        "worth-knowing",
        "Samples aren’t replicates",
        f"The {total} values are samples from {len(measure.subsamples)} plots. Each plot counts once, by its mean.",
        "Samples from one plot aren’t independent. As replicates they would make differences look too certain.",
        "There is nothing to do. Report the number of plots as the number of replicates.",
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
        f"Plots have up to {most} samples. {listed(few)} {'have' if len(few) > 1 else 'has'} as few as "
        f"{min(counts.values())}.",
        "A mean of fewer samples is less precise, but every plot has the same weight here.",
        "Find the missing samples, or report that plots were sampled unevenly.",
        measure.name,
        tuple(few),
    )


def changed_after_reading(measure: MeasureFacts) -> Iterator[Doubt]:
    if not measure.changed:
        return
    yield Doubt(
        "changed-after-reading",
        "weakens",
        "Values changed after the results were opened",
        f"{len(measure.changed)} value{'s' if len(measure.changed) > 1 else ''} changed after the results were "
        f"opened (plot{'s' if len(measure.changed) > 1 else ''} {listed(measure.changed)}).",
        "Corrections that are made after the results are known tend to favour the expected result.",
        "Give the reason for each change. The values as first read stay on record.",
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
        "A margin, a direction or a control that is chosen after the results are known can favour any result.",
        "Report the results by the first question as well, and why it was changed.",
        measure.name,
    )


def few_df_for_this_model(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised where counts were said to be Poisson, negative binomial or binomial, and few plots could tell."""
    said, df = measure.assumed
    if said and df < triggers.FEW_DF:
        yield Doubt(
            "few-df-for-this-model",
            "weakens",
            "Few degrees of freedom for this model",
            f"{measure.name} is analysed as {said}, with only {df} degrees of freedom to check this.",
            "Such a model assumes that the variation between plots is known. If counts in 4 blocks vary more, Poisson "
            "finds false differences in about 4 of 5 trials, and negative binomial in 1 of 5.",
            "Choose variation estimated from the plots, unless you know from elsewhere how such counts vary.",
            measure.name,
        )


def not_converged(measure: MeasureFacts) -> Iterator[Doubt]:
    """Raised where the fit ended before its likelihood was at its highest."""
    if not measure.converged:
        yield Doubt(
            "not-converged",
            "stops",
            "The model didn’t converge",
            f"The estimation of the variance components of {measure.name} didn’t converge.",
            "Standard errors, intervals and verdicts depend on them, so they may be wrong by an unknown amount.",
            "Don’t act on this result. Check the values for errors, or compare with classical strata (Degrees of "
            "freedom).",
            measure.name,
        )
