"""What Sow shows: figures of the core in the person's units, and sentences about them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rest_framework.request import Request

from apercu_core.amounts import amounts_in, shown_number
from apercu_core.doubts.triggers import SOWN_OFF
from apercu_core.sowing.delivered import off
from apercu_core.sowing.drive import drive
from apercu_core.sowing.go import CHECKS, advice_on
from apercu_core.sowing.rates import WAYS
from apercu_core.sowing.seed_sheet import OrderLine, PartSheet, TreatmentSheet
from apercu_core.units import System, shown_in
from apercu_core.weather.said import ahead_said
from config import clock
from config.etags import etag_of
from sowing.actions import holds_what_it_should
from sowing.api import shapes
from sowing.api.calibration_shown import said_of
from sowing.api.in_units import InUnits
from sowing.calibration import answer_to
from sowing.models import SeedBag, Sowing
from sowing.seed import PERCENTS, PLAIN, SeasonSeed
from trials.equipment import machines_of
from trials.models import Season, Treatment
from weather.known import site_weather

US_FIRST = ("lb_ac", "live_lb_ac", "bu_ac", "seeds_ft2", "seeds_ac", "plants_ft2")


def plan_shown(season: Season) -> dict[str, Any]:
    """What a save of the page replaces."""
    plan = SeasonSeed(season).plan
    return {
        name: getattr(plan, name) for name in ("lots", "rates", "allowance_g", "spare_percent", "filling", "currency")
    }


def sowing_shown(sowing: Sowing) -> dict[str, Any]:
    fields = ("day", "known_by", "amounts", "depth_cm", "moisture", "machine", "operator", "note")
    plots = sorted(unit.label for unit in sowing.units.all())
    return {**{name: getattr(sowing, name) for name in fields}, "plots": plots}


def _ahead(season: Season, system: System) -> list[str]:
    """The days ahead by the forecast of the site's station, for the decision to go or wait."""
    weather = site_weather(season.site, clock.today(season.site.time_zone))
    if weather is None:
        return []
    days = [weather.ahead[day] for day in sorted(weather.ahead)]
    return [amounts_in(one, system) for one in ahead_said(days, weather.station.forecast_issued)]


def sow_json(season: Season, system: System, request: Request) -> Any:
    there, units = SeasonSeed(season), InUnits(system)
    sheets = {one.treatment: one for one in there.sheet.treatments}
    bags = {bag.unit_id: bag for bag in SeedBag.objects.filter(unit__season=season)}
    spacing = machines_of(season.trial.workspace).row_spacing
    shape = {
        "etag": etag_of(plan_shown(season)),
        "today": clock.today(season.site.time_zone),
        "scaled": there.drawn_to_scale,
        "units": {
            "seed": units.unit("g"), "order": units.unit("kg"), "rate": units.unit("kg/ha"),
            "per_area": units.unit("m²"), "row": units.unit("m"), "area": units.unit("ha"),
            "length": units.unit("m"), "spacing": units.unit("cm"), "volume": units.unit("L"),
            "volume_rate": units.unit("L/ha"), "density": units.unit("kg/L"), "mixture": units.unit("g/L"),
        },
        "ways": _ways(system),
        "row_spacing": None if spacing is None else shown_number(spacing, shown_in("cm", system)[1] * 100),
        "allowance": shown_number(there.plan.allowance_g, shown_in("g", system)[1]),
        "spare_percent": there.plan.spare_percent,
        "filling": there.plan.filling,
        "currency": there.plan.currency,
        "lots": [_lot(there, key) for key in there.said],
        "treatments": [_treatment(there, t, sheets[str(t.id)], units, spacing) for t in there.treatments],
        "order": [_order(line, there, units) for line in there.sheet.order],
        "area": _area(there, units),
        "stops": _stops(there, units, bags),
        "way": drive(there.rectangles, there.stops),
        "bare": [plot.label for plot in there.plots if not there.components.get(plot.treatment)],
        "tests": [_test(test, system) for test in season.sowing_tests.select_related("by")],
        "checks": CHECKS,
        "ahead": _ahead(season, system),
        "decisions": [
            {
                "id": d.id, "day": d.day, "checks": d.checks, "advice": advice_on(d.checks), "decision": d.decision,
                "note": d.note, "by": d.by.name,
            }
            for d in season.sowing_decisions.select_related("by")
        ],
        "sowings": [
            _sowing(one, there, units)
            for one in season.sowings.select_related("by").prefetch_related("units")
        ],
    }  # fmt: skip
    return shapes.SowOut(shape, context={"request": request}).data


def _ways(system: System) -> list[dict[str, str]]:
    keys = [*US_FIRST, *(key for key in WAYS if key not in US_FIRST)] if system == "us" else list(WAYS)
    return [{"key": key, "said": WAYS[key].said} for key in keys]


def _lot(there: SeasonSeed, key: str) -> dict[str, Any]:
    said, lot = there.said[key], there.lots[key]
    asked = {
        fact
        for sheet in there.sheet.treatments
        for part in sheet.parts
        for fact in part.found.missing
        if part.lot == key and fact != "rate"
    }
    percent = ("purity", "germination", "emergence")
    used = {f"{name}_percent": _percent(getattr(lot, name)) for name in percent} | {"tkw_g": lot.tkw_g}
    names = {"tkw_g": "tkw_g", "bushel_lb": "bushel_lb", **{name: f"{name}_percent" for name in percent}}
    return {
        "key": key, "name": said.name, "cultivar": said.cultivar, "lot": said.lot,
        "typed": {name: said.said.get(name) for name in (*(f"{one}_percent" for one in PERCENTS), *PLAIN)} | {
            "key": key, "count_hard_seed": lot.count_hard_seed, "coat_counted": lot.coat_counted,
        },
        "used": used,
        "assumed": {names[fact]: where for fact, where in lot.assumed.items()},
        "asks": {name: values for name, values in said.asks.items() if list(values) != [said.said.get(name)]},
        "asked": sorted(names[fact] for fact in asked),
    }  # fmt: skip


def _percent(share: float | None) -> float | None:
    return None if share is None else float(f"{100 * share:.6g}")


def _treatment(
    there: SeasonSeed, treatment: Treatment, sheet: TreatmentSheet, units: InUnits, spacing: float | None
) -> dict[str, Any]:
    key = str(treatment.id)
    blocks = {plot.label: plot.block for plot in there.plots}
    plots = []
    for label, amounts in sheet.plots.items():
        total = None if None in amounts else sum(one for one in amounts if one is not None)
        shown = [units.to("g", one) for one in amounts]
        plots.append({"plot": label, "block": blocks[label], "amounts": shown, "total": units.to("g", total)})
    components = there.components[key]
    return {
        "id": key, "name": treatment.name, "code": treatment.code,
        "parts": [
            _part(there, key, one, part, units, spacing)
            for one, part in zip(components, sheet.parts, strict=True)
        ],
        "plots": plots,
        "warnings": [amounts_in(said, units.system) for said in there.warnings(treatment)],
        "intended": units.to("kg/ha", there.intended(key)),
    }  # fmt: skip


def _part(
    there: SeasonSeed,
    treatment: str,
    component: Mapping[str, Any],
    part: PartSheet,
    units: InUnits,
    spacing: float | None,
) -> dict[str, Any]:
    rate, found = there.rate_of(treatment, component), part.found
    here = any(one["treatment"] == treatment and one["lot"] == part.lot for one in there.plan.rates)
    way, value = rate.way, rate.value
    if not here and units.system == "us" and value is not None:
        way, value = "lb_ac", shown_number(value, shown_in("kg/ha", "us")[1])
    return {
        "lot": part.lot, "way": way, "value": value, "here": here,
        "bulk": units.to("kg/ha", found.bulk_kg_ha), "live": units.to("kg/ha", found.live_kg_ha),
        "seeds": units.to("1/m²", found.seeds_m2), "live_seeds": units.to("1/m²", found.live_seeds_m2),
        "plants": units.to("1/m²", found.plants_m2),
        "per_row": units.to("1/m", found.seeds_per_metre(spacing)),
        "missing": found.missing, "assumed": found.assumed, "total": units.to("kg", _kg(part.g_total)),
    }  # fmt: skip


def _kg(grams: float | None) -> float | None:
    return None if grams is None else grams / 1000


def _order(line: OrderLine, there: SeasonSeed, units: InUnits) -> dict[str, Any]:
    lot = there.lots[line.lot]
    said = ""
    if line.bags is not None and line.short_kg is not None and lot.bag_kg is not None:
        if line.short_kg <= 1e-9:
            said = "With one bag less every plot still gets its seed; the spare is gone."
        else:
            plots = "1 plot goes" if line.short_plots == 1 else f"{line.short_plots} plots go"
            said = f"With one bag less {units.said('kg', line.short_kg)} are missing, and {plots} without this seed."
    return {
        "lot": line.lot, "needed": units.to("kg", line.needed_kg), "order": units.to("kg", line.order_kg),
        "bags": line.bags, "price": None if line.price is None else round(line.price, 2), "one_less": said,
        "complete": line.complete,
    }  # fmt: skip


def _area(there: SeasonSeed, units: InUnits) -> dict[str, Any]:
    gross, sown = there.sheet.gross_m2, there.sheet.sown_m2
    placed, unplaced = (there.strips(), there.unplaced()) if there.drawn_to_scale else ({}, {})
    strips = {
        label: [[strip.x, strip.y, strip.width, strip.length] for strip in found]
        for label, found in {**placed, **unplaced}.items()
    }
    return {
        "gross": units.to("ha", gross / 1e4), "sown": units.to("ha", sown / 1e4),
        "fraction": sown / gross if gross else None, "strips": strips,
        "unplaced": bool(unplaced),
    }  # fmt: skip


def _stops(there: SeasonSeed, units: InUnits, bags: Mapping[Any, SeedBag]) -> list[dict[str, Any]]:
    of = {unit.label: unit for unit in there.units}
    totals = {
        label: None if None in amounts else sum(one for one in amounts if one is not None)
        for sheet in there.sheet.treatments
        for label, amounts in sheet.plots.items()
    }
    out = []
    for stop in there.stops:
        bag = bags.get(of[stop.plot].pk)
        right = bool(bag and bag.packed_at and holds_what_it_should(there, stop.plot, bag))
        out.append(
            {
                "plot": stop.plot, "treatment": str(of[stop.plot].treatment_id), "clean": stop.clean,
                "upwards": stop.upwards, "packed": right, "placed": bool(bag and bag.placed_at),
                "repack": bool(bag and bag.packed_at) and not right,
                "total": units.to("g", totals[stop.plot]),
            }
        )  # fmt: skip
    return out


def _sowing(one: Sowing, there: SeasonSeed, units: InUnits) -> dict[str, Any]:
    delivered = []
    for amount in one.amounts:
        treatment = next((t for t in there.treatments if str(t.id) == amount["treatment"]), None)
        if treatment is None:
            continue
        wanted, got = amount["intended_kg_ha"], amount["rate_kg_ha"]
        share = off(got, wanted) if wanted and got is not None else None
        delivered.append(
            {
                "treatment": amount["treatment"], "intended": units.to("kg/ha", wanted),
                "delivered": units.to("kg/ha", got), "off_percent": _percent(share),
                "far": share is not None and abs(share) > SOWN_OFF,
            }
        )  # fmt: skip
    shown = sowing_shown(one)
    amounts = [
        {
            "treatment": amount["treatment"], "filled": units.to("g", amount.get("filled_g")),
            "left": units.to("g", amount.get("left_g")), "rate": units.to("kg/ha", amount.get("rate_kg_ha")),
        }
        for amount in one.amounts
    ]  # fmt: skip
    return {
        **shown, "id": one.id, "etag": etag_of(shown), "amounts": amounts, "delivered": delivered,
        "depth": units.to("cm", one.depth_cm), "by": one.by.name,
    }  # fmt: skip


def _test(test: Any, system: System) -> dict[str, Any]:
    units = InUnits(system)
    said, verdict = said_of(test.kind, test.given, answer_to(test.kind, test.given), units)
    return {
        "id": test.id, "kind": test.kind, "about": test.about, "at": test.at, "by": test.by.name, "said": said,
        "quality": verdict,
    }  # fmt: skip
