"""Go or wait: what is looked at before the drill starts, and what it says together."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

CHECKS = ("weeds", "moisture", "weather", "seedbed")
Check = Literal["good", "bad", "unknown"]
Advice = Literal["go", "wait", "look"]
Decision = Literal["go", "wait"]


def advice_on(checks: Mapping[str, Check]) -> Advice:
    """Wait if anything is bad, look while anything isn't known, else go."""
    seen = [checks.get(name, "unknown") for name in CHECKS]
    if "bad" in seen:
        return "wait"
    return "look" if "unknown" in seen else "go"


def needs_note(checks: Mapping[str, Check], decision: Decision) -> bool:
    """Whether the decision goes against what was seen, or before all of it was."""
    advice = advice_on(checks)
    return decision == "go" and advice != "go"
