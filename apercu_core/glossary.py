"""Terms in plain words: for readers of the help, and, those with a room, for newcomers to the code (ARCHITECTURE.md)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Subject = Literal["trial", "field", "statistics", "records"]


@dataclass(frozen=True, slots=True)
class Term:
    """`meaning`: one or two plain sentences. `rooms`: where it is made in the code, empty where it is only a word."""

    name: str
    subject: Subject
    meaning: str
    rooms: tuple[str, ...] = ()


GLOSSARY: tuple[Term, ...] = (
    # The question and the plan.
    Term("allocation", "trial", "How treatments came to their plots: randomised, in a fixed order, or unknown.", ("trial.facts",)),
    Term("block", "trial", "Plots that lie together and hold each treatment once. Differences between blocks are taken out of the comparison.", ("design.randomisation",)),
    Term("carry-over", "trial", "What earlier treatments left in the soil of plots that are used again.", ("readings.carry_over",)),
    Term("confounding", "trial", "Two things change together, so the trial can’t tell which of them made a difference.", ("protocol.confounding",)),
    Term("control", "trial", "The treatment that the others are compared with, such as bare stubble."),
    Term("factor", "trial", "Something that is varied in levels, such as the kill date. Treatments combine the levels of all factors.", ("design.treatments", "statistics.plots")),
    Term("aspect", "trial", "One property of a treatment, such as its species, seed rate or kill date.", ("trial.descriptions",)),
    Term("incomplete blocks", "trial", "Blocks that hold only some of the treatments, for trials with many treatments.", ("design.incomplete_blocks",)),
    Term("Latin square", "trial", "A design with each treatment once in every row and every column, for ground that changes in two directions."),
    Term("measure", "trial", "What is counted, weighed or scored, with its unit. A definition that was used isn’t changed: it gets a new version.", ("library.models",)),
    Term("margin", "trial", "The smallest difference that would change a decision.", ("verdicts.margin",)),
    Term("plot", "trial", "A piece of ground that gets one treatment. It is the experimental unit: values inside it are samples of it.", ("trial.facts", "trials.models")),
    Term("randomisation", "trial", "Treatments are given to plots by chance, so that no treatment has the better ground. It can be repeated from its seed.", ("design.draw",)),
    Term("rehearsal", "trial", "Simulated seasons of a planned trial, analysed in the same way as real ones.", ("reading.rehearsal",)),
    Term("replicate", "trial", "One of several plots with the same treatment, as a rule one in each block. Samples in one plot aren’t replicates."),
    Term("season", "trial", "A trial at one site in one year.", ("trials.models",)),
    Term("split plot", "trial", "A design in which one factor is applied to large plots, and another is randomised within each of them."),
    Term("strip plot", "trial", "A design in which two factors are applied in strips that cross each other."),
    Term("treatment", "trial", "What is done to a plot and compared with what is done to others."),
    Term("trial", "trial", "A question, its treatments and measures, with seasons at its sites.", ("trials.models",)),
    Term("whole plot", "trial", "A larger unit that gets one level of a factor and is divided into plots (subplots)."),
    Term("outlook", "trial", "What a plan will detect, and with which chances.", ("reading.planned_board",)),
    # On the ground.
    Term("degree days", "field", "The sum of daily mean temperatures above a base. Plants develop by it rather than by the calendar."),
    Term("dry matter", "field", "The mass of plants after drying until it stays the same."),
    Term("ground plot", "field", "A piece of a site that stays when a new trial is laid on it.", ("trials.models",)),
    Term("guard", "field", "The edge of a plot that isn’t harvested or sampled, because the neighbour reaches into it."),
    Term("headland", "field", "The strip at the end of the field where machines turn. No plots are laid there."),
    Term("operation", "field", "Work on the trial, such as sowing, killing a cover, or harvest.", ("operations.models",)),
    Term("place of a sample", "field", "Where in a plot a quadrat is laid, drawn at random, so that nobody chooses the "
         "ground.", ("field.sample_places", "records.places")),
    Term("quadrat (frame)", "field", "A frame of known area that is laid down to count in. Its area is a setting of the sheet.", ("measures.sheets",)),
    Term("seed rate", "field", "How much seed is sown on an area."),
    Term("tramline", "field", "The wheel track of the sprayer or spreader, at fixed distances."),
    Term("zone", "field", "A part of every plot with its own share of the ground, such as the row and the space between rows.", ("field.zones",)),
    # Records.
    Term("action threshold", "records", "The value of a measure from which on something is to be done.",
         ("agronomy.action_threshold", "measures.standing", "trials.action_thresholds")),
    Term("blind visit", "records", "A visit at which the names and colours of treatments are hidden, so that nobody "
         "scores what is expected.", ("records.visits",)),
    Term("transect", "records", "A straight line of samples in a set direction, at a set distance from each other.",
         ("field.sample_places",)),
    Term("component", "records", "A part that an entry is told by, such as a species, layer, depth, grade or cut.", ("records.models",)),
    Term("conflict", "records", "Two people entered different values for one place. Both are kept until a person decides.", ("records.entering",)),
    Term("entry", "records", "What was typed for one place: values, or the reason why there are none.", ("measures.entries",)),
    Term("job", "records", "Long work that the server does in the background, with progress and a stop.", ("jobs.running",)),
    Term("missing status", "records", "Why a plot has no value: the cover failed, the plot was damaged, or it wasn’t taken.", ("records.models",)),
    Term("observation", "records", "One value at its place. Observations are only added to: a correction is a further one.", ("records.models",)),
    Term("own measure", "records", "A measure that people made themselves: its fields, and the formula that makes its value of them.", ("measures.own", "measures.own_checks", "library.api.own_measures")),
    Term("photo count", "records", "A frame counted on its photograph, plant by plant. The marks are kept with the picture, so that another person can count it again.", ("photo_count", "sample_photographs.counting")),
    Term("occasion", "records", "The visit, and its date, at which a measure was taken.", ("reading.asked",)),
    Term("outbox", "records", "What a device has still to send, in order.", ("web/src/offline",)),
    Term("sample", "records", "One of several values taken in one plot. Their mean is the value of the plot.", ("records.models",)),
    Term("sheet", "records", "Which values are typed in a plot, and the formula that makes the measure’s value of them.", ("measures.sheets",)),
    Term("rules", "records", "Sheets, catalogue of measures and messages as one bundle that devices keep.", ("measures.rules",)),
    Term("expression", "records", "A formula or condition of a rule, in JSONata.", ("measures.expressions",)),
    Term("catalogue", "records", "The measures that ship with the application, as data.", ("measures.catalogue",)),
    Term("visit", "records", "One walk through the plots to take some measures.", ("records.models",)),
    # Statistics.
    Term("analysis", "statistics", "Everything that was computed for one measure.", ("statistics.analysis",)),
    Term("analysis of variance (ANOVA)", "statistics", "A table that divides the variation between plots into parts: blocks, treatments and what is left."),
    Term("band", "statistics", "The differences within the margin, which don’t matter. It is shaded in the charts.", ("verdicts.margin",)),
    Term("board", "statistics", "All measures of a trial against the control, with a verdict each.", ("reading.cells",)),
    Term("cell", "statistics", "One treatment of one measure on the board.", ("reading.found",)),
    Term("coefficient of variation (CV)", "statistics", "The standard deviation in per cent of the mean."),
    Term("confidence interval, 95 %", "statistics", "A range that would hold the true difference in 95 of 100 such trials. Adjusted intervals keep this for all comparisons of a measure together."),
    Term("contrast", "statistics", "A weighted sum of means, such as the difference of two treatments.", ("statistics.comparisons",)),
    Term("degrees of freedom", "statistics", "How much independent information there is about the variation between plots. With few of them, intervals are wide."),
    Term("doubt", "statistics", "A reason to trust a result less, with why it matters and what to do. It is what a careful colleague would ask.", ("doubts",)),
    Term("Dunnett’s method", "statistics", "Compares every treatment with the control, and nothing else. Its intervals are adjusted for the number of treatments."),
    Term("equivalence test", "statistics", "Tests whether a difference lies within the margin on both sides."),
    Term("fit", "statistics", "A model with its estimates.", ("statistics.reml", "statistics.glm")),
    Term("fitted analysis", "statistics", "What the analysis of every family of values answers.", ("statistics.fitted",)),
    Term("interaction", "statistics", "The effect of one factor depends on the level of another. Then means over the other factor can mislead."),
    Term("non-inferiority test", "statistics", "Tests whether a treatment isn’t worse than the control by more than the margin."),
    Term("p-value", "statistics", "How often chance alone would give a difference at least as large, if there were none."),
    Term("power", "statistics", "The chance that a trial finds a true difference of a given size. 80 % means 8 of 10 such trials."),
    Term("reading", "statistics", "A whole trial analysed, with verdicts and doubts.", ("reading.trial",)),
    Term("report", "statistics", "A season’s results in words, on screen or printed.", ("reports.season_report", "reporting")),
    Term("residual", "statistics", "A plot’s value minus what the model expects there."),
    Term("scale", "statistics", "How values are analysed: as measured, as logarithms, square roots or logits. Results are turned back into the measure’s unit.", ("statistics.scales",)),
    Term("smallest detectable difference", "statistics", "A true difference of this size would be found in 8 of 10 such trials."),
    Term("spread", "statistics", "The standard deviations of plots and of the larger units that hold them.", ("power.differences",)),
    Term("standard deviation", "statistics", "How far single plots typically lie from their mean."),
    Term("standard error", "statistics", "How far an estimate typically lies from the truth. It is smaller with more plots."),
    Term("stratum", "statistics", "A group of plots that has an error of its own, such as the whole plots.", ("statistics.covariance",)),
    Term("Tukey–Kramer method", "statistics", "Compares all treatments with each other. Its intervals are adjusted for the number of pairs."),
    Term("verdict", "statistics", "One of five places that an interval can have against zero and the margin.", ("verdicts.verdict",)),
)  # fmt: skip
OF_THE_CODE = {
    "aspect", "catalogue", "cell", "component", "expression", "fit", "fitted analysis", "ground plot", "occasion",
    "outlook", "reading", "rules", "spread",
}  # fmt: skip
"""Nouns that no page says: only newcomers to the code meet them."""


def rooms() -> list[tuple[str, str, str]]:
    """Noun, meaning and rooms, in the order of the alphabet: the table in ARCHITECTURE.md."""
    made = sorted((one for one in GLOSSARY if one.rooms), key=lambda one: one.name.casefold())
    return [(one.name, one.meaning, ", ".join(f"`{room}`" for room in one.rooms)) for one in made]
