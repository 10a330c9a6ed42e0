"""How much seed: for a plot, for all plots, and to order; and what part of an area is sown at all."""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.agronomy.given import not_negative, positive, refuse, rounded_up, share, whole


@dataclass(frozen=True, slots=True)
class SeedAmount:
    """Of one component. `bags`: None where nobody has said how large a bag is."""

    g_per_plot: float
    g_total: float
    order_kg: float
    bags: int | None


def grams(bulk_kg_ha: float, area_m2: float, allowance_g: float = 0.0) -> float:
    """Seed for an area, g; `allowance_g`: what the drill takes to start up and leaves when it is cleaned out."""
    return not_negative("bulk_kg_ha", bulk_kg_ha) * area_m2 / 10 + not_negative("allowance_g", allowance_g)


def ordered(total_g: float, spare: float, bag_kg: float | None) -> tuple[float, int | None]:
    """Seed to order, kg, and how many bags that is. `spare`: share on top, 0 to 1."""
    order = not_negative("total_g", total_g) * (1 + share("spare", spare)) / 1000
    return order, None if bag_kg is None else rounded_up(order / positive("bag_kg", bag_kg))


def seed_amount(
    bulk_kg_ha: float, width_m: float, length_m: float, plots: float, allowance_g: float, spare: float,
    bag_kg: float | None = None,
) -> SeedAmount:  # fmt: skip
    area = positive("plot_width_m", width_m) * positive("plot_length_m", length_m)
    number = whole("plots", plots, least=1)
    each = grams(bulk_kg_ha, area, allowance_g)
    order, bags = ordered(each * number, spare, bag_kg)
    return SeedAmount(each, each * number, order, bags)


@dataclass(frozen=True, slots=True)
class PlantedFraction:
    """`order_kg`: seed for the gross area, of which only `fraction` is sown."""

    fraction: float
    planted_ha: float
    order_kg: float


def planted_fraction(
    sown_width_m: float, alley_pitch_m: float, sown_alleys: float, all_alleys: float, gross_ha: float,
    bulk_kg_ha: float,
) -> PlantedFraction:  # fmt: skip
    """Strips between rows of trees or vines. `alley_pitch_m`: from one row to the next."""
    positive("alley_pitch_m", alley_pitch_m)
    not_negative("sown_width_m", sown_width_m)
    alleys = whole("all_alleys", all_alleys, least=1)
    sown = whole("sown_alleys", sown_alleys)
    if sown_width_m > alley_pitch_m:
        raise refuse("sown_width_m", f"{sown_width_m:g} m is wider than the alley pitch of {alley_pitch_m:g} m.")
    if sown > alleys:
        raise refuse("sown_alleys", f"{sown} alleys can’t be sown of {alleys}. Check both numbers.")
    fraction = sown_width_m / alley_pitch_m * sown / alleys
    planted = not_negative("gross_ha", gross_ha) * fraction
    return PlantedFraction(fraction, planted, not_negative("bulk_kg_ha", bulk_kg_ha) * planted)
