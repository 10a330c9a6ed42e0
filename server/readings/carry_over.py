"""What a trial's treatments have left on its plots, as far as its last reading tells: asked before it goes on there."""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.reading.asked import How
from apercu_core.verdicts.verdict import Verdict
from apercu_core.words import difference_unit, number, with_unit
from crew.models import Person
from crew.permissions import require
from readings.actions import default_method, read_season
from trials.models import Season

_DIFFER = {
    Verdict.CLEAR_GAIN, Verdict.CLEAR_LOSS, Verdict.CLEAR_MORE, Verdict.CLEAR_LESS, Verdict.REAL_UNSETTLED,
    Verdict.REAL_SMALL,
}  # fmt: skip
_EVEN = {Verdict.NO_DIFFERENCE}


@dataclass(frozen=True, slots=True)
class CarryOver:
    """`differ`: plots are known to differ so; `open`: measures in which they may; `even`: in which they don't."""

    read: bool
    differ: tuple[str, ...]
    open: tuple[str, ...]
    even: tuple[str, ...]


def carry_over_of(*, by: Person, season: Season) -> CarryOver:
    """From the results as they stand, in the person's units; where nobody has opened them, nothing is known."""
    require(by, "see", season)
    if season.results_opened_at is None:
        return CarryOver(read=False, differ=(), open=(), even=())
    result = read_season(by=by, season=season, how=How(method=default_method(season))).result
    differ, unsettled, even = [], [], []
    for measure in result["measures"]:
        verdicts = {cell["treatment"]: Verdict(cell["verdict"]) for cell in measure["cells"]}
        real = [cell for cell in measure["cells"] if Verdict(cell["verdict"]) in _DIFFER]
        for cell in real:
            amount = with_unit(abs(cell["estimate"]), difference_unit(measure["unit"]), measure["decimals"])
            between = f"{number(cell['lower'], measure['decimals'])} to {number(cell['upper'], measure['decimals'])}"
            way = "more" if cell["estimate"] > 0 else "less"
            differ.append(
                f"{measure['name']}: {cell['treatment']} had {amount} {way} than {cell['against']} ({between})."
            )
        if verdicts and set(verdicts.values()) <= _EVEN:
            even.append(measure["name"])
        elif not real:
            unsettled.append(measure["name"])
    return CarryOver(read=True, differ=tuple(differ), open=tuple(unsettled), even=tuple(even))
