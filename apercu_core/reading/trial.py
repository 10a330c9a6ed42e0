"""The whole trial: every measure read, the doubts about all of it, and what the reading was made of."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from dataclasses import replace

from apercu_core import __version__
from apercu_core.doubts.about_field import doubts_about_field
from apercu_core.doubts.about_operations import unequal_operations
from apercu_core.doubts.about_sowing import doubts_about_sowing
from apercu_core.doubts.about_trial import doubts_about_trial
from apercu_core.doubts.doubt import Doubt
from apercu_core.errors import Refused
from apercu_core.reading.asked import How, Recorded, in_force
from apercu_core.reading.cells import mark_discoveries
from apercu_core.reading.found import MeasureReading, Reading
from apercu_core.reading.inputs import require_trial
from apercu_core.reading.measure import read_measure
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import TrialFacts


def read_trial(trial: TrialFacts, design: Design, measures: Sequence[Recorded], how: How, base: str) -> Reading:
    """Read every measure; one that can't be read says why and keeps nobody from reading the rest.

    `base`: the treatment that the board compares with, the control where there is one; a measure may name another.
    """
    require_trial(trial, how, base)
    treatments = {plot.treatment for plot in trial.plots}
    named = [one for m in measures if m.asked.own_controls for one in m.asked.own_controls.values()]
    own = [m.asked.base for m in measures if m.asked.base and not m.asked.own_controls]
    for one in (base, *own, *named):
        if one not in treatments:
            raise Refused("bad-specification", f"{one!r} isn’t a treatment of this trial.")
    how = in_force(how, design, trial.plots)
    readings = tuple(read_measure(trial, design, recorded, how, base, beside=len(measures)) for recorded in measures)
    readings = mark_discoveries(readings, how.alpha)
    readings, too_small = said_once(readings, "too-small-to-see")
    return Reading(
        base,
        how,
        readings,
        (
            *doubts_about_trial(trial),
            *doubts_about_sowing(trial),
            *unequal_operations(trial),
            *doubts_about_field(trial),
            *too_small,
        ),
        sum(reading.analysis is not None for reading in readings),
        __version__,
        fingerprint(trial, measures),
    )


def said_once(
    readings: tuple[MeasureReading, ...], id: str
) -> tuple[tuple[MeasureReading, ...], tuple[Doubt, ...]]:  # fmt: skip
    """A doubt that several measures share becomes one of the board; one that a single measure has stays with it."""
    found = [doubt for reading in readings for doubt in reading.doubts if doubt.id == id]
    if len(found) < 2:
        return readings, ()
    without = tuple(replace(r, doubts=tuple(doubt for doubt in r.doubts if doubt.id != id)) for r in readings)
    finding = " ".join(f"{doubt.subject}: {doubt.finding}" for doubt in found)
    return without, (replace(found[0], finding=finding, subject=""),)


def fingerprint(trial: TrialFacts, measures: Sequence[Recorded]) -> str:
    """SHA-256 over plots and values, to tell data apart; what tells readings apart is `identity_of`."""
    plots = [
        [p.label, p.block, p.treatment, p.position, *filter(None, [p.whole_plot, p.incomplete_block])]
        for p in trial.plots
    ]
    values = [[m.asked.name, m.asked.unit, sorted((k, list(v)) for k, v in m.samples.items())] for m in measures]
    return hashlib.sha256(json.dumps([plots, values]).encode()).hexdigest()
