"""What a plot's counts come to while somebody stands in it: against what was sown, and against a threshold for action.

Rules as data, as those of entries are: a device says with its own library (`measures.expressions`) what is said here,
so that it is said in the field too. `tests/rules/entries.json` holds what both must answer.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from scipy.special import stdtrit

from apercu_core.agronomy.action_threshold import CONFIDENCE, MOST_MORE, ROUNDING
from apercu_core.measures.expressions import found_in
from apercu_core.units import System, shown_in
from apercu_core.words import number, with_unit

FEWEST = 2
"""Values from which on a mean has a spread."""
TABLED = 100
"""Degrees of freedom up to which t stands in a table; above, its expansion in 1/df is good to 1e-10."""

THRESHOLD = """$count(values) < fewest ? {
  "say": "too_few", "measure": {"limit": threshold}, "plain": {"fewest": fewest}
} : (
  $n := $count(values);
  $mean := $sum(values) / $n;
  $sd := $sqrt($sum(values.$power($ - $mean, 2)) / ($n - 1));
  $t := function($df) {
    $df <= $count(t) ? t[$df - 1] : $sum($map(expansion, function($one, $i) { $one / $power($df, $i) }))
  };
  $half := function($of) { $t($of - 1) * $sd / $sqrt($of) };
  $near := rounding * $max([$abs($mean), $abs(threshold)]);
  $decision := function($half) {
    $mean - $half >= threshold - $near ? "above" : $mean + $half < threshold - $near ? "below" : "cannot_tell"
  };
  $tells := function($more) { $decision($half($n + $more)) != "cannot_tell" };
  $search := function($not, $yes) {
    $yes - $not <= 1 ? $yes :
    ($middle := $floor(($not + $yes) / 2); $tells($middle) ? $search($not, $middle) : $search($middle, $yes))
  };
  $width := $half($n);
  $found := $decision($width);
  $open := $found = "cannot_tell" and $tells(most_more);
  {
    "say": $found = "cannot_tell" ? ($open ? "more_would_tell" : "too_near") : $found,
    "measure": {"limit": threshold, "mean": $mean, "lower": $mean - $width, "upper": $mean + $width},
    "plain": {"n": $n, "more": $open ? $search(0, most_more) : 0}
  }
)"""
"""The same as `agronomy.action_threshold.against_threshold`."""
SOWN = """$count(values) > 0 and live_seeds_m2 > 0 ? (
  $counted := $sum(values) / $count(values);
  $plain := {"percent": 100 * $counted / live_seeds_m2};
  $also := assumed ? "assumed" : "";
  $counted > 0 and expected_m2 > 0 and bulk_kg_ha > 0 ? {
    "say": "against_target",
    "also": $also,
    "stand": {"counted": $counted, "expected": expected_m2},
    "rate": {"wanted": bulk_kg_ha * expected_m2 / $counted, "bulk": bulk_kg_ha},
    "plain": $plain
  } : {"say": "of_live_seed", "also": $also, "stand": {"counted": $counted}, "plain": $plain}
) : {"say": ""}"""
"""The same as `agronomy.stand.emergence`; `values`: plants/m² of all that was sown together."""
_MEAN = "{mean} on average of {n} {each}"
_STANDS = "{percent} % of the live seed stands as plants."
MESSAGES = {
    "too_few": "Threshold {limit}: count at least {fewest} {each} to tell.",
    "above": f"Above the threshold of {{limit}}: {_MEAN}, at least {{lower}} with 95 % confidence.",
    "below": f"Below the threshold of {{limit}}: {_MEAN}, less than {{upper}} with 95 % confidence.",
    "more_would_tell": (
        f"Can’t tell yet: {_MEAN}, the threshold is {{limit}}. "
        "About {more} more would tell, if they are like these."
    ),
    "too_near": (
        f"Can’t tell yet: {_MEAN}, the threshold is {{limit}}. "
        "The mean is so near it that no reasonable number of {each} would tell."
    ),
    "against_target": (
        f"{{counted}} of {{expected}} expected: {_STANDS} "
        "{wanted} in place of {bulk} would have given what was expected."
    ),
    "of_live_seed": f"{{counted}}: {_STANDS}",
    "assumed": "Some facts of the seed are assumed: see Sow.",
}  # fmt: skip


def _expansion(confidence: float) -> list[float]:
    """Of the quantile of t, the factors of 1, 1/df, 1/df² … (Abramowitz and Stegun, 1964, *Handbook of Mathematical
    Functions*, 26.7.5).
    """
    z = float(stdtrit(1e300, confidence))
    return [
        z,
        (z**3 + z) / 4,
        (5 * z**5 + 16 * z**3 + 3 * z) / 96,
        (3 * z**7 + 19 * z**5 + 17 * z**3 - 15 * z) / 384,
        (79 * z**9 + 776 * z**7 + 1482 * z**5 - 1920 * z**3 - 945 * z) / 92160,
    ]


RULES: dict[str, Any] = {
    "threshold": THRESHOLD,
    "sown": SOWN,
    "messages": MESSAGES,
    "given": {
        "fewest": FEWEST, "most_more": MOST_MORE, "rounding": ROUNDING,
        "t": [float(stdtrit(df, CONFIDENCE)) for df in range(1, TABLED + 1)], "expansion": _expansion(CONFIDENCE),
    },
}  # fmt: skip
"""What a device needs; `given`: numbers that the formulas name."""


@dataclass(frozen=True, slots=True)
class SownThere:
    """What one treatment's seed was meant to give: live seeds and plants per m² and the rate, kg/ha, None where it
    isn't known; `assumed`: some fact of the seed stands on no label.
    """

    live_seeds_m2: float | None
    expected_m2: float | None
    bulk_kg_ha: float | None
    assumed: bool


def threshold_said(values: Sequence[float], threshold: float, unit: str, each: str, system: System) -> str:
    """Whether the mean lies above the threshold. `each`: what one value is of, in the plural: frames, plots."""
    known = [value for value in values if math.isfinite(value)]
    return _said("threshold", {"values": known, "threshold": threshold}, {"measure": unit}, system, {"each": each})


def stand_said(values: Sequence[float], sown: SownThere, system: System) -> str:
    """Of one plot. `values`: its samples so far, plants/m². Empty where nothing of what was sown is known."""
    given = {"values": list(values), "live_seeds_m2": sown.live_seeds_m2, "expected_m2": sown.expected_m2,
             "bulk_kg_ha": sown.bulk_kg_ha, "assumed": sown.assumed}  # fmt: skip
    return _said("sown", given, {"stand": "plants/m²", "rate": "kg/ha"}, system, {})


def _said(rule: str, given: Mapping[str, Any], units: Mapping[str, str], system: System, words: dict[str, str]) -> str:
    named = {key: value for key, value in given.items() if value is not None}
    found = found_in(RULES[rule], {**RULES["given"], **named})
    messages = [MESSAGES[key] for key in (found["say"], found.get("also")) if key]
    if not messages:
        return ""
    said = {name: number(value) for name, value in found["plain"].items()}
    for key, stored in units.items():
        unit, factor = shown_in(stored, system)
        said |= {name: with_unit(value * factor, unit) for name, value in found.get(key, {}).items()}
    return " ".join(messages).format(**words, **said)
