"""Each calculation by its name: which fields it takes, and what it answers. The figures come from `agronomy`."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import asdict
from typing import Any, cast

from apercu_core.agronomy import (
    action_threshold,
    conversions,
    degree_days,
    drill,
    evenness,
    mix_rate,
    rain,
    seed_amounts,
    seed_rate,
    soil_in_plots,
    spreader,
    stand,
    tank,
    weeds,
)
from apercu_core.agronomy.given import refuse
from apercu_core.errors import Refused
from calculate_cli.fields import Fields

Answer = dict[str, Any]
TOO_LARGE = "these numbers are too large or too small to calculate with. Check their units."
RATES: tuple[seed_rate.Basis, ...] = ("bulk_kg_ha", "pls_kg_ha", "seeds_m2", "plants_m2")


def _seed_rate(given: Fields) -> Answer:
    lot = seed_rate.SeedLot(
        given.number("tkw_g"), given.number("purity"), given.number("germination"), given.number("emergence"),
        given.number_or("hard_seed", 0.0), given.truth_or("count_hard_seed", False),
    )  # fmt: skip
    said = [basis for basis in RATES if given.has(basis)]
    if len(said) != 1:
        what = "none of them is given" if not said else f"{' and '.join(said)} are given"
        raise refuse(said[1] if said else RATES[0], f"{what}. Give exactly one of {', '.join(RATES)}.")
    return asdict(seed_rate.seed_rate(lot, said[0], given.number(said[0])))


def _mix(given: Fields) -> Answer:
    basis = cast(mix_rate.Basis, given.choice("basis", ("share_of_full", "mass", "seeds")))
    parts = []
    for one in given.objects("components"):
        parts.append(
            mix_rate.MixPart(
                one.text("name"), one.number("share"), one.number("full_kg_ha"), one.number("tkw_g"),
                one.truth_or("fluffy", False),
            )
        )  # fmt: skip
        one.nothing_else()
    mass, seeds = given.number_or_none("total_kg_ha"), given.number_or_none("total_seeds_m2")
    return asdict(mix_rate.mix_rate(basis, parts, seeds if basis == "seeds" else mass))


def _seed_sheet(given: Fields) -> Answer:
    bag = given.number_or_none("bag_kg")
    out = []
    components = given.objects("components")
    if not components:
        raise refuse("components", "the list is empty. Enter at least one component.")
    for one in components:
        name, bulk = one.text("name"), one.number("bulk_kg_ha")
        one.nothing_else()
        found = asdict(
            seed_amounts.seed_amount(
                bulk, given.number("plot_width_m"), given.number("plot_length_m"), given.number("plots"),
                given.number("allowance_g"), given.number("spare"), bag,
            )
        )  # fmt: skip
        out.append({"name": name, **{key: value for key, value in found.items() if key != "bags" or bag is not None}})
    return {"components": out}


def _planted_fraction(given: Fields) -> Answer:
    names = ("sown_width_m", "alley_pitch_m", "sown_alleys", "all_alleys", "gross_ha", "bulk_kg_ha")
    return asdict(seed_amounts.planted_fraction(*(given.number(name) for name in names)))


def _drill_catch(given: Fields) -> Answer:
    found = asdict(
        drill.catch_test(
            given.number("bulk_kg_ha"), given.number("row_spacing_m"), given.number("rows"),
            given.number("distance_m"), given.numbers("catches_g"), given.number_or("limit", drill.USUAL_LIMIT),
            given.number_or_none("setting"),
        )
    )  # fmt: skip
    return {key: value for key, value in found.items() if value is not None}


def _tray_test(given: Fields) -> Answer:
    caught = spreader.pattern(
        given.numbers("positions_m"), given.numbers("masses_g"), given.number("tray_area_m2"),
        given.number_or("passes_per_tray", 1),
    )  # fmt: skip
    mode = cast(spreader.Mode, given.choice("mode", ("same_way", "there_and_back")))
    own = spreader.width_found(caught, given.number("width_m"), mode)
    out: Answer = {
        "cv_percent": own.cv_percent,
        "achieved_kg_ha": spreader.achieved_kg_ha(caught, own.width_m, mode),
        "class": own.quality,
    }
    if given.has("widths_m"):
        widths = spreader.candidate_widths(caught, mode, given.numbers("widths_m"))
        good = spreader.widest(widths)
        out["cv_percent_of"] = [one.cv_percent for one in widths]
        out["widest_m"] = good.width_m if good else None
        if good is None:
            out["least_cv_width_m"] = spreader.least_cv(widths).width_m
    return out


def _tank(given: Fields) -> Answer:
    names = ("tank_l", "volume_l_ha", "bulk_kg_ha", "seed_density_kg_l", "area_ha")
    return asdict(tank.tank_loads(*(given.number(name) for name in names)))


def _convert(given: Fields) -> Answer:
    return {
        "value": conversions.converted(
            given.number("value"), given.text("from"), given.text("to"),
            bushel_lb=given.number_or_none("bushel_lb"), tkw_g=given.number_or_none("tkw_g"),
        )
    }  # fmt: skip


def _gdd(given: Fields) -> Answer:
    target = given.number_or_none("target")
    found = asdict(
        degree_days.degree_days(
            given.numbers_or_null("tmin_c"), given.numbers_or_null("tmax_c"), given.number("base_c"),
            given.number_or_none("cap_c"), target,
        )
    )  # fmt: skip
    return {key: value for key, value in found.items() if key != "reached_on_day" or target is not None}


def _rain_after_sowing(given: Fields) -> Answer:
    windows = given.numbers("windows_days") if given.has("windows_days") else rain.WINDOWS
    return {"sums": list(rain.rain_after_sowing(given.day("sown"), given.by_day("rain_mm"), windows))}


def _stand_from_leaves(given: Fields) -> Answer:
    leaves = []
    for one in given.objects("frames"):
        leaves.append(one.number("leaves"))
        one.nothing_else()
    return asdict(stand.stand_from_leaves(leaves, given.number("frame_area_m2"), given.numbers("leaves_per_plant")))


def _stand_from_rows(given: Fields) -> Answer:
    names = ("count", "row_length_m", "row_spacing_m")
    return {"plants_m2": stand.stand_from_rows(*(given.number(name) for name in names))}


def _emergence(given: Fields) -> Answer:
    names = ("plants_m2", "viable_seeds_m2", "bulk_kg_ha", "target_m2")
    return asdict(stand.emergence(*(given.number(name) for name in names)))


def _gaps(given: Fields) -> Answer:
    longer = given.number_or("longer_than_cm", evenness.LONG_GAP_CM)
    return asdict(evenness.gaps(given.numbers("positions_cm"), given.number("row_length_m"), longer))


def _patchiness(given: Fields) -> Answer:
    return asdict(evenness.patchiness(given.numbers("frames"), given.number("floor")))


def _weeds_over_season(given: Fields) -> Answer:
    kind = cast(weeds.WeedKind, given.choice("kind", ("pulled", "standing")))
    visits = []
    for one in given.objects("visits"):
        visits.append(weeds.WeedVisit(one.day("date"), one.numbers("counts")))
        one.nothing_else()
    found = asdict(weeds.weeds_over_season(kind, given.number("frame_area_m2"), visits))
    return {key: value for key, value in found.items() if value is not None}


def _diversity(given: Fields) -> Answer:
    return asdict(weeds.diversity(given.numbers("counts")))


def _judged(found: action_threshold.AgainstThreshold) -> Answer:
    out = asdict(found)
    return out if found.decision == "cannot_tell" else {key: out[key] for key in out if key != "more"}


def _threshold(given: Fields) -> Answer:
    return _judged(action_threshold.against_threshold(given.numbers("values"), given.number("threshold")))


def _insect_transect(given: Fields) -> Answer:
    found = action_threshold.insect_transects(given.lists_of_numbers("per_plant"), given.number("threshold"))
    said = _judged(found.judged)
    return {**said, "transect_means": list(found.transect_means), "per_plant": found.judged.mean}


def _infiltration(given: Fields) -> Answer:
    found = asdict(soil_in_plots.infiltration(given.numbers_or_null("fills_s"), given.number_or_none("limit_s")))
    return {key: value for key, value in found.items() if key != "below_mm_h" or value is not None}


def _resistance(given: Fields) -> Answer:
    profiles = given.lists_of_numbers_or_null("profiles_mpa")
    limit = given.number_or("limit_mpa", soil_in_plots.ROOTS_STOP_MPA)
    found = asdict(soil_in_plots.resistance(given.numbers("depths_cm"), profiles, limit))
    return {key: value for key, value in found.items() if key != "deeper_than_cm" or value is not None}


def _earthworms(given: Fields) -> Answer:
    adults = given.numbers("adults") if given.has("adults") else None
    found = asdict(soil_in_plots.earthworms(given.numbers("counts"), adults))
    return {key: value for key, value in found.items() if value is not None}


CALCULATIONS: dict[str, Callable[[Fields], Answer]] = {
    "seed_rate": _seed_rate,
    "mix": _mix,
    "seed_sheet": _seed_sheet,
    "planted_fraction": _planted_fraction,
    "drill_catch": _drill_catch,
    "tray_test": _tray_test,
    "tank": _tank,
    "convert": _convert,
    "stand_from_leaves": _stand_from_leaves,
    "stand_from_rows": _stand_from_rows,
    "emergence": _emergence,
    "gaps": _gaps,
    "patchiness": _patchiness,
    "weeds_over_season": _weeds_over_season,
    "diversity": _diversity,
    "threshold": _threshold,
    "insect_transect": _insect_transect,
    "infiltration": _infiltration,
    "resistance": _resistance,
    "earthworms": _earthworms,
    "gdd": _gdd,
    "rain_after_sowing": _rain_after_sowing,
}


def calculated(name: str, given: Fields) -> Answer:
    """The answer of one calculation. Refused where it isn’t built, or a field is missing, unknown or impossible."""
    if name not in CALCULATIONS:
        raise Refused("not-built", f"calculation: “{name}” is not built. These are: {', '.join(CALCULATIONS)}.")
    try:
        answer = CALCULATIONS[name](given)
    except (OverflowError, ZeroDivisionError):
        raise refuse("input", TOO_LARGE) from None
    given.nothing_else()
    if not _finite(answer):
        raise refuse("input", TOO_LARGE)
    return answer


def _finite(answer: object) -> bool:
    match answer:
        case dict():
            return all(_finite(one) for one in answer.values())
        case list() | tuple():
            return all(_finite(one) for one in answer)
        case float():
            return math.isfinite(answer)
        case _:
            return True
