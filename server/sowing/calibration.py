"""Calibrations: from what was measured to an answer, by the functions of the core."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from apercu_core.agronomy import drill, spreader, tank
from apercu_core.agronomy.given import refuse

KINDS = ("drill", "spreader", "tank")
CANDIDATES = 24
"""Working widths that a spreader test is looked at for, from a third of its spread to all of it."""


def answer_to(kind: str, given: Mapping[str, Any]) -> dict[str, Any]:
    """Metric in, metric out. Raises `Refused` with the name of the field that is wrong."""
    if kind == "drill":
        return asdict(
            drill.catch_test(
                given["bulk_kg_ha"], given["row_spacing_m"], given["rows"], given["distance_m"], given["catches_g"],
                given["limit"], given["setting"],
            )
        )  # fmt: skip
    if kind == "tank":
        return _tank(given)
    return _spreader(given)


def _tank(given: Mapping[str, Any]) -> dict[str, Any]:
    loads = asdict(
        tank.tank_loads(
            given["tank_l"], given["volume_l_ha"], given["bulk_kg_ha"], given["seed_density_kg_l"], given["area_ha"]
        )
    )
    samples = given["samples_g_l"]
    loads["samples_off"] = [one / loads["seed_g_per_l"] - 1 for one in samples] if loads["seed_g_per_l"] else []
    return loads


def _spreader(given: Mapping[str, Any]) -> dict[str, Any]:
    pattern = spreader.pattern(_positions(given), given["masses_g"], given["tray_area_m2"], given["passes_per_tray"])
    mode, width = given["mode"], given["width_m"]
    span = pattern.positions_m[-1] - pattern.positions_m[0]
    candidates = [span * (1 / 3 + 2 / 3 * i / (CANDIDATES - 1)) for i in range(CANDIDATES)]
    found = {way: spreader.candidate_widths(pattern, way, candidates) for way in ("same_way", "there_and_back")}
    good, own = spreader.widest(found[mode]), spreader.width_found(pattern, width, mode)
    return {
        "positions_m": pattern.positions_m, "left_share": pattern.left_share,
        "cv_percent": own.cv_percent, "quality": own.quality,
        "achieved_kg_ha": spreader.achieved_kg_ha(pattern, width, mode),
        "laps": {way: spreader.overlap(pattern, width, way) for way in ("same_way", "there_and_back")},
        "widths": {
            way: [{"width_m": one.width_m, "cv_percent": one.cv_percent} for one in widths]
            for way, widths in found.items()
        },
        "widest_m": good.width_m if good else None,
        "least_cv_width_m": spreader.least_cv(found[mode]).width_m,
    }  # fmt: skip


def _positions(given: Mapping[str, Any]) -> list[float]:
    """Centres of the trays: `left` of them left of the centre line, one on it if `centre`, `right` to the right."""
    left, right, centre, apart = int(given["left"]), int(given["right"]), bool(given["centre"]), given["spacing_m"]
    needed = left + right + (1 if centre else 0)
    if len(given["masses_g"]) != needed:
        middle = ", one in the centre" if centre else ""
        raise refuse(
            "masses_g",
            f"{left} trays left{middle} and {right} right make {needed} masses; {len(given['masses_g'])} are entered. "
            "Enter one for each tray, from left to right, 0 for an empty one.",
        )
    if centre:
        return [i * apart for i in range(-left, right + 1)]
    return [(i + 0.5) * apart for i in range(-left, right)]
