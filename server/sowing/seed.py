"""From a season's rows to seed lots, rates and the seed sheet of the core."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from apercu_core.field.layout import Rectangle
from apercu_core.field.sown import sown_fraction, sown_strips
from apercu_core.field.zones import sown_share
from apercu_core.sowing.drill_order import Filling, Stop, drill_order
from apercu_core.sowing.lots import Lot, with_assumptions
from apercu_core.sowing.rates import Rate, rate_found
from apercu_core.sowing.seed_sheet import PartToSow, PlotToSow, SeedSheet, seed_sheet
from apercu_core.sowing.warnings import SownPart, sowing_warnings
from apercu_core.species.record import Species
from library.species import species_in
from sowing.models import SeedPlan
from trials.layout import field_of
from trials.models import Season, Treatment, Unit
from trials.zones import shares_in, zones_kept

PERCENTS = ("purity", "germination", "emergence", "hard_seed", "coat")
PLAIN = ("tkw_g", "bag_kg", "price_per_kg", "bushel_lb")
IN_ASK = ("purity_percent", "germination_percent", "tkw_g")
"""What of a lot's label Ask has too."""
TRUTHS = ("count_hard_seed", "coat_counted")


@dataclass(frozen=True, slots=True)
class LotSaid:
    """A lot as it was said: what Ask has of it, and over that what the page of Sow has.

    `asks`: field → each value that Ask has of it; where treatments differ, none of them is used until Sow says which.
    """

    key: str
    name: str
    cultivar: str
    lot: str
    species: str
    said: Mapping[str, Any]
    asks: Mapping[str, Sequence[float]]


def lot_key(component: Mapping[str, Any]) -> str:
    """The same seed in several treatments is one lot: species or name, cultivar and what stands on the bag."""
    parts = (component.get("species") or component["name"], component.get("cultivar", ""), component.get("lot", ""))
    return "/".join(re.sub(r"[^a-z0-9]+", "-", str(part).casefold()).strip("-") for part in parts)


class SeasonSeed:
    """All that Sow works out of one season."""

    def __init__(self, season: Season) -> None:
        self.season = season
        self.plan = SeedPlan.objects.filter(season=season).first() or SeedPlan(season=season)

    @cached_property
    def treatments(self) -> list[Treatment]:
        return list(self.season.trial.treatments.all())

    @cached_property
    def species(self) -> dict[str, Species]:
        return species_in(self.season.trial.workspace)

    @cached_property
    def components(self) -> dict[str, list[Mapping[str, Any]]]:
        """Treatment → its components, in Ask's order."""
        return {str(t.id): list(t.details.get("components", ())) for t in self.treatments}

    @cached_property
    def said(self) -> dict[str, LotSaid]:
        found: dict[str, LotSaid] = {}
        for parts in self.components.values():
            for one in parts:
                key = lot_key(one)
                asks = {name: list(values) for name, values in found[key].asks.items()} if key in found else {}
                for name in IN_ASK:
                    if one.get(name) is not None and one[name] not in asks.setdefault(name, []):
                        asks[name].append(one[name])
                sure = {name: values[0] for name, values in asks.items() if len(values) == 1}
                here = {k: v for k, v in self.plan.lots.get(key, {}).items() if v is not None}
                found[key] = LotSaid(
                    key, one["name"], one.get("cultivar", ""), one.get("lot", ""), one.get("species", ""),
                    {**sure, **here}, asks,
                )  # fmt: skip
        return found

    @cached_property
    def lots(self) -> dict[str, Lot]:
        """With what is assumed in place of what nobody said."""
        return {key: with_assumptions(core_lot(one), self.species.get(one.species)) for key, one in self.said.items()}

    def rate_of(self, treatment: str, component: Mapping[str, Any]) -> Rate:
        key = lot_key(component)
        for one in self.plan.rates:
            if one["treatment"] == treatment and one["lot"] == key:
                return Rate(one["value"], one["way"])
        return Rate(component.get("rate_kg_ha"), "kg_ha")

    @cached_property
    def units(self) -> list[Unit]:
        plots = self.season.units.plots().select_related("ground", "parent__parent")  # type: ignore[attr-defined]
        return [unit for unit in plots if unit.ground and unit.treatment_id]

    @cached_property
    def drawn_to_scale(self) -> bool:
        return bool(self.units) and not any(unit.ground.schematic for unit in self.units if unit.ground)

    @cached_property
    def rectangles(self) -> dict[str, Rectangle]:
        return {
            u.label: Rectangle(u.ground.x_m, u.ground.y_m, u.ground.width_m, u.ground.length_m)
            for u in self.units
            if u.ground
        }

    @cached_property
    def plots(self) -> list[PlotToSow]:
        if not self.drawn_to_scale:
            return []
        zones, shares, field = zones_kept(self.season), shares_in(self.season), field_of(self.season)
        out = []
        for unit in self.units:
            where = self.rectangles[unit.label]
            share = sown_share(zones, shares[unit.id]) if zones and unit.id in shares else sown_fraction(field, where)
            out.append(PlotToSow(unit.label, str(unit.treatment_id), unit.block, where.width * where.length, share))
        return out

    def strips(self) -> dict[str, tuple[Rectangle, ...]]:
        """Plot → the strips of it that are sown, where rows part the ground."""
        field = field_of(self.season)
        found = {label: sown_strips(field, where) for label, where in self.rectangles.items()}
        return {label: strips for label, strips in found.items() if strips is not None}

    def unplaced(self) -> dict[str, tuple[Rectangle, ...]]:
        """Plot → its sown share as one strip, where zones say how much of it is sown and nothing says where."""
        placed = self.strips()
        return {
            plot.label: (replace(where, width=where.width * plot.sown_share),)
            for plot in self.plots
            if plot.label not in placed and plot.sown_share < 1 and (where := self.rectangles[plot.label])
        }

    @cached_property
    def sheet(self) -> SeedSheet:
        wanted = {
            key: [PartToSow(lot_key(one), self.rate_of(key, one)) for one in parts]
            for key, parts in self.components.items()
        }
        plan = self.plan
        return seed_sheet(wanted, self.plots, self.lots, plan.allowance_g, plan.spare_percent / 100)

    @cached_property
    def stops(self) -> tuple[Stop, ...]:
        if not self.drawn_to_scale:
            return ()
        filling: Filling = "by_plot" if self.plan.filling == "by_plot" else "by_treatment"
        seeds = {key: frozenset(lot_key(one) for one in parts) for key, parts in self.components.items()}
        return drill_order(self.rectangles, {p.label: p.treatment for p in self.plots}, seeds, filling)

    def warnings(self, treatment: Treatment) -> tuple[str, ...]:
        said = treatment.details.get("said", {})
        kinds = {str(f["name"]): str(f.get("kind", "")) for f in self.season.trial.factors}
        levels = [level for name, level in treatment.levels.items() if kinds.get(name) == "sowing_method"]
        parts = [
            SownPart(
                self.species.get(one.get("species", "")), self.lots[lot_key(one)],
                rate_found(self.lots[lot_key(one)], self.rate_of(str(treatment.id), one)),
            )
            for one in self.components[str(treatment.id)]
        ]  # fmt: skip
        method = " ".join([*levels, said.get("sowing_method", "")])
        return sowing_warnings(parts, method, said.get("machine_pass", ""))

    def intended(self, treatment: str) -> float | None:
        """kg/ha of all components together; None where a rate isn't known."""
        rates = [
            part.found.bulk_kg_ha
            for sheet in self.sheet.treatments
            if sheet.treatment == treatment
            for part in sheet.parts
        ]
        return None if not rates or None in rates else sum(rate for rate in rates if rate is not None)


def core_lot(said: LotSaid) -> Lot:
    """Shares of 1 from what is kept in per cent."""
    given = said.said
    shares = {name: given[f"{name}_percent"] / 100 for name in PERCENTS if given.get(f"{name}_percent") is not None}
    plain = {name: given[name] for name in PLAIN if given.get(name) is not None}
    truths = {name: bool(given.get(name, False)) for name in TRUTHS}
    known: dict[str, Any] = {**shares, **plain, **truths}
    return Lot(said.key, said.name, **known)


def bag_grams(sheet: SeedSheet, label: str) -> Sequence[float | None]:
    """Of each component of a plot's bag, g; empty where nothing is sown."""
    return next((one.plots[label] for one in sheet.treatments if label in one.plots), ())
