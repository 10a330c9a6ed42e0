"""A species record: named facts, each with its public source, or unknown."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Kind = Literal["text", "number", "range", "choice", "rating"]
Value = str | float | tuple[float, float]

OWN_RATING = "rating"
"""Source key of the ratings 0 to 5: a judgement, no measurement."""

SOURCES: Mapping[str, str] = {
    "clark": "Clark A (ed.) 2007, Managing Cover Crops Profitably, 3rd ed., SARE Handbook 9: charts and chapters",
    "clark-zone": "Clark 2007, chart 3A: hardy through a USDA plant hardiness zone; here that zone's lowest winter "
    "temperature (Daly et al. 2012, J Appl Meteorol Climatol 51: 242–264)",
    "seed-act": "US Federal Seed Act regulations, 7 CFR 201.46, table 1: seeds per gram, turned over",
    "nrcs-cn": "USDA NRCS 2011, Carbon to Nitrogen Ratios in Cropping Systems",
    "mirsky": "Mirsky et al. 2009, Agronomy Journal 101: 1589–1596",
    "mischler": "Mischler et al. 2010, Agronomy Journal 102: 355–362",
    "panciera": "Panciera, Mosier and Ritchey 1992, J Vet Diagn Invest 4: 318–325",
    "brundrett": "Brundrett 2009, Plant and Soil 320: 37–77 (families with and without arbuscular mycorrhiza)",
    "botany": "textbook botany: family, life cycle, photosynthesis, fixation by root nodules",
    OWN_RATING: "Apercu's own rating, 0 none to 5 strong; a judgement to start from, not a measurement",
}


@dataclass(frozen=True, slots=True)
class Field:
    """A thing one may know of a species. `unit`: of numbers and both ends of ranges."""

    key: str
    label: str
    group: str
    kind: Kind
    unit: str = ""
    choices: tuple[str, ...] = ()


SERVICES: Mapping[str, str] = {
    "nitrogen_supply": "Nitrogen supply", "nitrogen_capture": "Nitrogen capture", "weeds": "Weed suppression",
    "organic_matter": "Organic matter", "surface": "Surface structure", "loosening": "Deep loosening",
    "infiltration": "Infiltration", "erosion": "Erosion", "pollinators": "Pollinators", "forage": "Forage",
    "drought": "Drought", "wet": "Wet ground", "shade": "Shade",
}  # fmt: skip

_YES_NO = ("yes", "no")
FIELDS: Mapping[str, Field] = {
    f.key: f
    for f in (
        Field("common", "Name", "Plant", "text"),
        Field("botanical", "Botanical name", "Plant", "text"),
        Field("family", "Family", "Plant", "text"),
        Field("life_cycle", "Life cycle", "Plant", "choice", choices=("annual", "biennial", "perennial")),
        Field("pathway", "Photosynthesis", "Plant", "choice", choices=("C3", "C4")),
        Field("germination_min", "Germinates from", "Sowing", "number", "°C"),
        Field("sow_before_frost", "Sown before first frost, at least", "Sowing", "number", "days"),
        Field("sow_after_frost", "Sown after last frost, at least", "Sowing", "number", "days"),
        Field("drilled", "Full rate drilled", "Sowing", "range", "kg/ha"),
        Field("broadcast", "Full rate broadcast", "Sowing", "range", "kg/ha"),
        Field("depth", "Depth", "Sowing", "range", "cm"),
        Field("tkw", "Thousand-kernel weight", "Sowing", "number", "g"),
        Field("cover_days", "Days to ground cover", "Growth", "range", "days"),
        Field("gdd_flower", "Degree days to flower", "Growth", "range", "°C d"),
        Field("gdd_method", "Degree days: base and method", "Growth", "text"),
        Field("cold_need", "Needs cold to head or flower", "Growth", "choice", choices=_YES_NO),
        Field("kill", "Survives winters down to", "Growth", "number", "°C"),
        Field("rooting", "Rooting", "Growth", "choice", choices=("tap", "fibrous")),
        Field("root_depth", "Rooting depth", "Growth", "range", "cm"),
        Field("climbing", "Climbs and wants support", "Growth", "choice", choices=_YES_NO),
        Field("supports", "Stands up to carry others", "Growth", "choice", choices=_YES_NO),
        Field("mycorrhiza", "Mycorrhizal host", "Growth", "choice", choices=_YES_NO),
        Field("nitrogen", "Nitrogen role", "Growth", "choice", choices=("fixes", "captures", "neither")),
        Field("inoculant", "Rhizobium group", "Sowing", "text"),
        Field("cn_young", "C:N young", "Residue", "number"),
        Field("cn_flower", "C:N at flower", "Residue", "number"),
        Field("cn_mature", "C:N mature", "Residue", "number"),
        Field("regrowth_mown", "Grows again after mowing", "Ending it", "choice", choices=_YES_NO),
        Field("regrowth_crimped", "Grows again after crimping", "Ending it", "choice", choices=_YES_NO),
        Field("kill_stage", "Stage for mechanical kill", "Ending it", "text"),
        Field("seed_risk", "Risk of shed seed", "Ending it", "choice", choices=("low", "some", "high")),
        Field("hard_seed", "Hard seed", "Ending it", "choice", choices=_YES_NO),
        Field("uncleaned", "Seed can't be cleaned out of", "Ending it", "text"),
        Field("inhibition_wait", "Residue checks growth: wait", "Residue", "range", "days"),
        Field("inhibits", "Residue checks", "Residue", "text"),
        Field("bloom", "First bloom after sowing", "Growth", "number", "days"),
        Field("salt", "Bears salt", "Ground", "choice", choices=_YES_NO),
        Field("standing_water", "Bears wet ground", "Ground", "choice", choices=_YES_NO),
        Field("hosts", "Carries over to", "Rotation", "text"),
        Field("resists", "Suppresses or resists", "Rotation", "text"),
        Field("stock_danger", "Dangers to stock", "Stock", "text"),
        Field("frost_risk", "Tall enough to raise frost risk to a standing crop", "Ground", "choice", choices=_YES_NO),
        Field("partners", "Usual partners", "Mix", "text"),
        *(Field(key, label, "Services", "rating") for key, label in SERVICES.items()),
    )
}


@dataclass(frozen=True, slots=True)
class Fact:
    """A value of a field's kind, and where it comes from: a key of SOURCES, or words of whoever added it."""

    value: Value
    source: str

    @property
    def cited(self) -> str:
        return SOURCES.get(self.source, self.source)


@dataclass(frozen=True, slots=True)
class Species:
    """What is known; a field that isn't in `facts` is unknown. `own`: added in the workspace."""

    key: str
    facts: Mapping[str, Fact]
    own: bool = False

    @property
    def name(self) -> str:
        return self.text("common") or self.key

    def number(self, field: str) -> float | None:
        value = self._value(field)
        return value if isinstance(value, float) else None

    def range(self, field: str) -> tuple[float, float] | None:
        value = self._value(field)
        return value if isinstance(value, tuple) else None

    def middle(self, field: str) -> float | None:
        """The middle of a range."""
        ends = self.range(field)
        return None if ends is None else (ends[0] + ends[1]) / 2

    def text(self, field: str) -> str:
        """Empty where unknown."""
        value = self._value(field)
        return value if isinstance(value, str) else ""

    def _value(self, field: str) -> Value | None:
        fact = self.facts.get(field)
        return None if fact is None else fact.value
