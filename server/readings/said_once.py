"""Doubts of a whole board: what several measures share is said once, the gravest first."""

from __future__ import annotations

from typing import Any

Json = dict[str, Any]
WEIGHT = {"stops": 0, "weakens": 1, "worth-knowing": 2}


def every_doubt(result: Json) -> list[Json]:
    """Of the trial, then of each measure, as they stand in the result of a reading."""
    return [*result["doubts"], *(doubt for measure in result["measures"] for doubt in measure["doubts"])]


def said_once(doubts: list[Json]) -> list[Json]:
    """One line for each finding, its subjects beside each other; an answer to any of them answers it."""
    found: dict[tuple[str, str], Json] = {}
    for doubt in doubts:
        known = found.get((doubt["id"], doubt["finding"]))
        if known is None:
            found[doubt["id"], doubt["finding"]] = dict(doubt)
            continue
        known["subject"] = ", ".join(filter(None, [known["subject"], doubt["subject"]]))
        known["answer"] = known["answer"] or doubt["answer"]
    return sorted(found.values(), key=lambda doubt: WEIGHT[doubt["severity"]])
