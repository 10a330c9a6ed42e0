"""A calibration's answer in the person's units, and the sentences that say it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from apercu_core.agronomy.drill import ENOUGH_CATCHES
from apercu_core.units import System
from apercu_core.words import number
from sowing.api.in_units import InUnits


def shown_answer(kind: str, given: Mapping[str, Any], answer: Mapping[str, Any], system: System) -> dict[str, Any]:
    """A calibration's answer in the person's units, with the sentence that says it and its verdict."""
    units = InUnits(system)
    said, verdict = said_of(kind, given, answer, units)
    turned: dict[str, Any] = {**answer, "said": said, "quality": verdict}
    if kind == "drill":
        for name in ("expected_g", "mean_g"):
            turned[name] = units.to("g", answer[name])
        turned["catches"] = [units.to("g", one) for one in given["catches_g"]]
        turned["limit"] = given["limit"]
    elif kind == "tank":
        names = {
            "ha_per_load": "ha",
            "seed_kg_per_load": "kg",
            "water_l_per_load": "L",
            "last_load_l": "L",
            "last_load_seed_kg": "kg",
        }
        turned |= {name: units.to(unit, answer[name]) for name, unit in names.items()}
    else:
        turned |= _spreader_shown(given, answer, units)
    return turned


def _spreader_shown(given: Mapping[str, Any], answer: Mapping[str, Any], units: InUnits) -> dict[str, Any]:
    laps = {
        way: [[units.to("m", a), units.to("m", b), units.to("g", p), units.to("g", q)] for a, b, p, q in pieces]
        for way, pieces in answer["laps"].items()
    }
    widths = {
        way: [{"width": units.to("m", one["width_m"]), "cv_percent": one["cv_percent"]} for one in found]
        for way, found in answer["widths"].items()
    }
    return {
        "positions": [units.to("m", x) for x in answer["positions_m"]],
        "masses": [units.to("g", mass) for mass in given["masses_g"]],
        "laps": laps, "widths": widths, "widest": units.to("m", answer["widest_m"]),
        "least_cv_width": units.to("m", answer["least_cv_width_m"]),
        "achieved": units.to("kg/ha", answer["achieved_kg_ha"]), "width": units.to("m", given["width_m"]),
    }  # fmt: skip


def said_of(kind: str, given: Mapping[str, Any], answer: Mapping[str, Any], units: InUnits) -> tuple[str, str]:
    """What a calibration says, in a sentence or two, and whether that is good, doubtful or poor."""
    return {"drill": _drill_said, "spreader": _spreader_said, "tank": _tank_said}[kind](given, answer, units)


def _drill_said(given: Mapping[str, Any], answer: Mapping[str, Any], units: InUnits) -> tuple[str, str]:
    off_by = 100 * answer["off"]
    mean = f"The mean of {len(given['catches_g'])} catches is {units.said('g', answer['mean_g'], 4)}, "
    mean += f"{units.said('g', answer['expected_g'], 4)} are expected: {off_by:+.1f} %.".replace("-", "−")
    following = answer["next_setting"]
    if answer["decision"] == "accept":
        return f"{mean} Accept the setting.", "good"
    if answer["decision"] == "adjust":
        step = f" Try {number(float(f'{following:.4g}'))} next, if the setting is proportional." if following else ""
        return f"{mean} Adjust the drill.{step}", "poor"
    few = len(given["catches_g"]) < ENOUGH_CATCHES
    why = "Three catches are needed to judge." if few else "Its interval reaches across the limit."
    return f"{mean} Catch again. {why}", "caution"


def _spreader_said(given: Mapping[str, Any], answer: Mapping[str, Any], units: InUnits) -> tuple[str, str]:
    cv, width = answer["cv_percent"], units.said("m", given["width_m"])
    words = {"good": "is even enough", "caution": "is uneven", "poor": "is too uneven"}[answer["quality"]]
    said = f"At {width} the spread {words}: CV {cv:.1f} %. It puts out {units.said('kg/ha', answer['achieved_kg_ha'])}."
    if answer["widest_m"]:
        said += f" The widest width that is even throughout is {units.said('m', answer['widest_m'])}."
    else:
        said += f" No width is even throughout; {units.said('m', answer['least_cv_width_m'])} is the least uneven."
    left = 100 * answer["left_share"]
    if abs(left - 50) > 5:
        said += f" {left:.0f} % of the seed lands left of the centre line: set it so that both sides are equal."
    return said, answer["quality"]


def _tank_said(given: Mapping[str, Any], answer: Mapping[str, Any], units: InUnits) -> tuple[str, str]:
    loads = answer["loads"]
    seed, water = units.said("kg", answer["seed_kg_per_load"], 4), units.said("L", answer["water_l_per_load"], 4)
    said = f"{loads} load{'' if loads == 1 else 's'}, each for {units.said('ha', answer['ha_per_load'])}: "
    said += f"{seed} of seed in {water} of water."
    if loads > 1 or answer["last_load_l"] < given["tank_l"]:
        litres, kilos = units.said("L", answer["last_load_l"], 4), units.said("kg", answer["last_load_seed_kg"], 4)
        said += f" The last load is {litres} with {kilos} of seed."
    verdict = "good"
    far = max((abs(one) for one in answer["samples_off"]), default=0.0)
    if far > 0.1:
        verdict = "poor"
        said += f" A sample is {100 * far:.0f} % off the mixture: the seed settles. Agitate more, and sample again."
    waited, longest = given["minutes_in_tank"], given["longest_minutes"]
    if waited is not None and longest is not None and waited > longest:
        verdict = "poor"
        said += f" Seed stood {waited:g} minutes in the tank, {longest:g} are allowed: mix smaller loads."
    return said, verdict
