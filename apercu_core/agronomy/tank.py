"""Seeding from a tank, in slurry or water: what goes into a load, and how many loads it takes."""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.agronomy.given import not_negative, positive, refuse, rounded_up


@dataclass(frozen=True, slots=True)
class TankLoads:
    """`seed_g_per_l`: of the finished mixture. `last_load_l`: what the last load holds, all of it where it is full."""

    ha_per_load: float
    seed_kg_per_load: float
    water_l_per_load: float
    seed_g_per_l: float
    loads: int
    last_load_l: float
    last_load_seed_kg: float


def tank_loads(
    tank_l: float, volume_l_ha: float, bulk_kg_ha: float, seed_density_kg_l: float, area_ha: float
) -> TankLoads:
    """`volume_l_ha`: of the finished mixture, not of the water; `seed_density_kg_l`: of a seed, not of a heap."""
    ha = positive("tank_l", tank_l) / positive("volume_l_ha", volume_l_ha)
    seed = not_negative("bulk_kg_ha", bulk_kg_ha) * ha
    water = tank_l - seed / positive("seed_density_kg_l", seed_density_kg_l)
    if water <= 0:
        raise refuse(
            "volume_l_ha",
            f"{seed:g} kg of seed take the whole tank of {tank_l:g} L. Apply more litres per hectare, or less seed.",
        )
    volume = positive("area_ha", area_ha) * volume_l_ha
    loads = rounded_up(volume / tank_l)
    last = volume - (loads - 1) * tank_l
    if abs(last - tank_l) <= 1e-9 * tank_l:
        last = tank_l
    return TankLoads(ha, seed, water, 1000 * seed / tank_l, loads, last, seed * last / tank_l)
