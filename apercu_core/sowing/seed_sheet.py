"""The seed sheet: for each treatment and plot the seed of each component, totals, and what to order."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from apercu_core.agronomy.seed_amounts import grams, ordered
from apercu_core.sowing.lots import Lot
from apercu_core.sowing.rates import Rate, RateFound, rate_found


@dataclass(frozen=True, slots=True)
class PlotToSow:
    """`sown_share`: of the plot's ground that is sown as its treatment says, 0 to 1."""

    label: str
    treatment: str
    block: str
    area_m2: float
    sown_share: float = 1.0

    @property
    def sown_m2(self) -> float:
        return self.area_m2 * self.sown_share


@dataclass(frozen=True, slots=True)
class PartToSow:
    """One component of a treatment's cover: its lot, by key, and its rate."""

    lot: str
    rate: Rate


@dataclass(frozen=True, slots=True)
class PartSheet:
    """`g_total`: over the treatment's plots with the allowance; None where the rate isn't known."""

    lot: str
    found: RateFound
    g_total: float | None


@dataclass(frozen=True, slots=True)
class TreatmentSheet:
    """`parts` empty: nothing is sown. `plots`: grams of each part by plot; None where the rate isn't known."""

    treatment: str
    parts: tuple[PartSheet, ...]
    plots: Mapping[str, tuple[float | None, ...]]


@dataclass(frozen=True, slots=True)
class OrderLine:
    """Of one lot over all treatments. `short_kg`, `short_plots`: with one bag too few, what is missing and how many
    plots can't get their seed then; None where nobody said how large a bag is, or one bag is all.
    """

    lot: str
    needed_kg: float
    order_kg: float
    bags: int | None
    price: float | None
    short_kg: float | None
    short_plots: int | None
    complete: bool


@dataclass(frozen=True, slots=True)
class SeedSheet:
    treatments: tuple[TreatmentSheet, ...]
    order: tuple[OrderLine, ...]
    gross_m2: float
    sown_m2: float


def seed_sheet(
    treatments: Mapping[str, Sequence[PartToSow]], plots: Sequence[PlotToSow], lots: Mapping[str, Lot],
    allowance_g: float, spare: float,
) -> SeedSheet:  # fmt: skip
    """`treatments`: key → components; `allowance_g`: per plot and component; `spare`: share on top of the order."""
    sheets = []
    needs: dict[str, list[float | None]] = {}
    for key, parts in treatments.items():
        own = [plot for plot in plots if plot.treatment == key]
        found = [rate_found(lots[part.lot], part.rate) for part in parts]
        each = {
            plot.label: tuple(
                None if one.bulk_kg_ha is None else grams(one.bulk_kg_ha, plot.sown_m2, allowance_g) for one in found
            )
            for plot in own
        }
        shown = []
        for i, (part, one) in enumerate(zip(parts, found, strict=True)):
            amounts = [row[i] for row in each.values()]
            needs.setdefault(part.lot, []).extend(amounts)
            total = None if None in amounts else math.fsum(a for a in amounts if a is not None)
            shown.append(PartSheet(part.lot, one, total))
        sheets.append(TreatmentSheet(key, tuple(shown), each))
    order = tuple(_order_line(lots[key], amounts, spare) for key, amounts in needs.items() if amounts)
    sown = [plot for plot in plots if treatments.get(plot.treatment)]
    return SeedSheet(
        tuple(sheets), order, math.fsum(plot.area_m2 for plot in sown), math.fsum(plot.sown_m2 for plot in sown)
    )


def _order_line(lot: Lot, amounts: Sequence[float | None], spare: float) -> OrderLine:
    known = [amount for amount in amounts if amount is not None]
    needed = math.fsum(known) / 1000
    order, bags = ordered(math.fsum(known), spare, lot.bag_kg)
    bought = order if bags is None or lot.bag_kg is None else bags * lot.bag_kg
    price = None if lot.price_per_kg is None else bought * lot.price_per_kg
    short = plots = None
    if bags is not None and bags > 1 and lot.bag_kg is not None:
        left = (bags - 1) * lot.bag_kg
        short = max(0.0, needed - left)
        plots = _without_seed(sorted(known), left * 1000)
    return OrderLine(lot.key, needed, order, bags, price, short, plots, None not in amounts)


def _without_seed(amounts: Sequence[float], grams_left: float) -> int:
    """How many plots go without, if the plots that need the least are sown first; `amounts` rise."""
    sown, used = 0, 0.0
    for amount in amounts:
        if used + amount > grams_left * (1 + 1e-12):
            break
        used, sown = used + amount, sown + 1
    return len(amounts) - sown
