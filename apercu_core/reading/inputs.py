"""What a reading may be given: checked at the door, so that nothing that can't be right is computed with."""

from __future__ import annotations

import math
from collections import Counter

from apercu_core.errors import Refused
from apercu_core.reading.asked import How, Recorded
from apercu_core.trial.facts import TrialFacts


def require_trial(trial: TrialFacts, how: How, base: str) -> None:
    """Raises `Refused` for plots, a method or a control that no measure could be read with."""
    if not (math.isfinite(how.alpha) and 0 < how.alpha < 1):
        raise Refused("bad-specification", f"The error rate is {how.alpha:g}; it must be between 0 and 1.")
    twice = [label for label, n in Counter(plot.label for plot in trial.plots).items() if n > 1]
    if twice:
        raise Refused("bad-value", f"Two plots are called {twice[0]!r}. Give each plot its own label.")
    without = next((plot.label for plot in trial.plots if not plot.treatment), None)
    if without is not None:
        raise Refused("bad-value", f"Plot {without!r} has no treatment. Say what it was given, or leave it out.")
    treatments = {plot.treatment for plot in trial.plots}
    for control in (base, trial.control, *trial.more_controls):
        if control is not None and control not in treatments:
            raise Refused("bad-specification", f"The control {control!r} has no plots. Name one that has.")


def require_values(recorded: Recorded, trial: TrialFacts) -> None:
    """Raises `Refused` for values that aren't finite, plots that aren't there and an area that can't be."""
    labels = {plot.label for plot in trial.plots}
    for label, values in recorded.samples.items():
        if label not in labels:
            raise Refused("bad-value", f"There is a value for plot {label!r}, but no such plot.")
        for value in values:
            if value is not None and not math.isfinite(value):
                raise Refused("bad-value", f"Plot {label!r} has the value {value!r}, which isn’t a number. Correct it.")
    if recorded.area is not None and not (math.isfinite(recorded.area) and recorded.area > 0):
        raise Refused("bad-value", f"The area of a sample is {recorded.area:g}; it must be above 0.")
