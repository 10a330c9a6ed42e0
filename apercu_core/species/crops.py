"""The crops that a cover follows or comes before: their names, their kin, and the groups that a pest is told for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

_CEREALS, _BRASSICAS, _LEGUMES = "cereals", "brassicas", "peas and beans"
_SMALL, _VEGETABLES = "small-seeded crops", "vegetables"
_SMALL_VEGETABLES = "small-seeded vegetables"

# name | family | groups that it belongs to | other names
_CROPS = f"""
cereals | Poaceae | wheat, barley, oat, rye | small grains, cereal, grain
wheat | Poaceae | {_CEREALS} | winter wheat, spring wheat, durum
barley | Poaceae | {_CEREALS} | winter barley, spring barley, malting barley
oat | Poaceae | {_CEREALS} | winter oat, spring oat
rye | Poaceae | {_CEREALS} | winter rye, cereal rye
triticale | Poaceae | {_CEREALS} |
maize | Poaceae | | corn, sweetcorn, sweet corn, silage maize, grain maize, silage corn
sorghum | Poaceae | | milo, grain sorghum
rice | Poaceae | |
grass | Poaceae | | pasture, ley, grassland, meadow
brassicas | Brassicaceae | oilseed rape, {_SMALL} | cabbage, broccoli, cauliflower, kale, swede, brassica vegetables
oilseed rape | Brassicaceae | {_BRASSICAS}, {_SMALL} | rape, canola, rapeseed, winter rape, winter oilseed rape
mustard | Brassicaceae | {_BRASSICAS}, {_SMALL} |
peas and beans | Fabaceae | peas, beans, legumes | pulses, grain legumes, legumes
peas | Fabaceae | {_LEGUMES} | field pea, dry pea, vining pea
beans | Fabaceae | {_LEGUMES} | field bean, faba bean, dry bean, green bean, snap bean, broad bean
soybean | Fabaceae | legumes | soya, soya bean, soy
lentil | Fabaceae | {_LEGUMES} | chickpea
clovers | Fabaceae | {_SMALL} | red clover, white clover, clover ley
lucerne | Fabaceae | {_SMALL} | alfalfa
groundnut | Fabaceae | | peanut
potato | Solanaceae | |
tomato | Solanaceae | {_VEGETABLES} | pepper, aubergine
sugar beet | Amaranthaceae | {_SMALL} | beet, sugarbeet, fodder beet
beetroot | Amaranthaceae | {_SMALL}, {_VEGETABLES}, {_SMALL_VEGETABLES} | table beet, red beet
spinach | Amaranthaceae | {_SMALL}, {_VEGETABLES}, {_SMALL_VEGETABLES} | chard, leaf beet
onion | Amaryllidaceae | {_SMALL}, {_VEGETABLES}, {_SMALL_VEGETABLES} | bulb onion, leek, garlic
carrot | Apiaceae | {_SMALL}, {_VEGETABLES}, {_SMALL_VEGETABLES} | parsnip, celery, celeriac
lettuce | Asteraceae | {_SMALL}, {_VEGETABLES}, {_SMALL_VEGETABLES} | salad
small-seeded vegetables | | {_SMALL}, {_VEGETABLES}, onion, carrot, spinach, lettuce | small-seeded crops
vegetables | | onion, carrot, spinach, lettuce, tomato | field vegetable, squash, pumpkin, cucumber
sunflower | Asteraceae | |
flax | Linaceae | {_SMALL} | linseed
hemp | Cannabaceae | |
cotton | Malvaceae | |
tobacco | Solanaceae | |
strawberry | Rosaceae | | strawberries
vines | Vitaceae | | vineyard, grape
orchard | | | orchards, fruit trees, apple, olive
buckwheat | Polygonaceae | |
other | | | none, fallow
"""


@dataclass(frozen=True, slots=True)
class Crop:
    """`named`: its own name and those of the groups that a pest may be told for."""

    name: str
    family: str
    named: frozenset[str]


def _read() -> tuple[dict[str, Crop], dict[str, str]]:
    crops: dict[str, Crop] = {}
    names: dict[str, str] = {}
    for line in _CROPS.strip().split("\n"):
        name, family, groups, others = (part.strip() for part in line.split("|"))
        crops[name] = Crop(name, family, frozenset({name, *_listed(groups)}))
        names |= dict.fromkeys(_listed(others), name)
    return crops, names | {name: name for name in crops}


def _listed(text: str) -> list[str]:
    return [part.strip() for part in text.split(",") if part.strip()]


CROPS: Mapping[str, Crop]
CROPS, _NAMES = _read()


def crop_named(text: str) -> Crop | None:
    """The crop of that name, in one of its usual names, singular or plural; None where it isn't in the list."""
    asked = " ".join(text.lower().replace("-", " ").split())
    hyphenated = {name.replace("-", " "): crop for name, crop in _NAMES.items()}
    for name in (
        asked,
        asked.removesuffix("s"),
        asked.removesuffix("es"),
        f"{asked}s",
        asked.removesuffix("ies") + "y",
    ):
        if name in hyphenated:
            return CROPS[hyphenated[name]]
    return None
