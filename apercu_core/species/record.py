"""A species record: named facts, each with its public source, or unknown."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

FieldKind = Literal["text", "range", "choice", "rating"]
Value = str | float | tuple[float, float]

OWN_RATING = "rating"
"""Source key of the ratings 0 to 5: a judgement, no measurement."""

EXPERIENCE = "experience"
"""Source key of practitioners' ranges: to check against and to start from, no citation."""

SOURCES: Mapping[str, str] = {
    "clark": "Clark A (ed.) 2007, Managing Cover Crops Profitably, 3rd ed., SARE Handbook 9: charts and chapters",
    "seed-act": "US Federal Seed Act regulations, 7 CFR 201.46, table 1: seeds per gram, turned over",
    "nrcs-cn": "USDA NRCS 2011, Carbon to Nitrogen Ratios in Cropping Systems",
    "mirsky": "Mirsky et al. 2009, Agronomy Journal 101: 1589–1596",
    "mischler": "Mischler et al. 2010, Agronomy Journal 102: 355–362",
    "panciera": "Panciera, Mosier and Ritchey 1992, J Vet Diagn Invest 4: 318–325",
    "brundrett": "Brundrett 2009, Plant and Soil 320: 37–77 (families and genera with and without arbuscular "
    "mycorrhiza)",
    "botany": "textbook botany: family, life cycle, photosynthesis, fixation by root nodules",
    EXPERIENCE: "from experience: a practitioner’s range, not a citation",
    OWN_RATING: "Apercu’s own rating, 0 none to 5 strong; a judgement to start from, not a measurement",
}


@dataclass(frozen=True, slots=True)
class SpeciesField:
    """A thing one may know of a species. `unit`: of both ends of a range; `below_zero`: whether they may be.

    `hint`: how it is typed.

    Texts of pests and dangers have the form that `carried` reads; lists of crops and partners are parted by semicolons
    or commas.
    """

    key: str
    label: str
    group: str
    kind: FieldKind
    unit: str = ""
    choices: tuple[str, ...] = ()
    below_zero: bool = False
    hint: str = ""


SERVICES: Mapping[str, str] = {
    "nitrogen_supply": "Nitrogen supply", "nitrogen_capture": "Nitrogen capture", "weeds": "Weed suppression",
    "organic_matter": "Organic matter", "surface": "Surface structure", "loosening": "Deep loosening",
    "infiltration": "Infiltration", "erosion": "Erosion", "pollinators": "Pollinators", "forage": "Forage",
    "drought": "Drought", "wet": "Wet ground", "shade": "Shade",
}  # fmt: skip

_YES_NO = ("yes", "no")
_REGROWTH = ("no", "until the kill stage", "yes")
FIELDS: Mapping[str, SpeciesField] = {
    f.key: f
    for f in (
        SpeciesField("common", "Name", "Plant", "text"),
        SpeciesField("botanical", "Botanical name", "Plant", "text"),
        SpeciesField("family", "Family", "Plant", "text"),
        SpeciesField("life_cycle", "Life cycle", "Plant", "choice", choices=("annual", "biennial", "perennial")),
        SpeciesField("season", "Season", "Plant", "choice", choices=("cool", "warm", "winter")),
        SpeciesField("pathway", "Photosynthesis", "Plant", "choice", choices=("C3", "C4")),
        SpeciesField("germination_min", "Lowest soil temperature to germinate", "Sowing", "range", "°C"),
        SpeciesField("soil_recommended", "Recommended soil temperature", "Sowing", "range", "°C"),
        SpeciesField(
            "sow_before_frost", "Least time before the first frost", "Sowing", "range", "days", below_zero=True
        ),
        SpeciesField("sow_latest", "Latest sowing before the first frost", "Sowing", "range", "days", below_zero=True),
        SpeciesField("sow_after_frost", "Least time after the last frost", "Sowing", "range", "days", below_zero=True),
        SpeciesField("drilled", "Full rate drilled", "Sowing", "range", "kg/ha"),
        SpeciesField("broadcast", "Full rate broadcast", "Sowing", "range", "kg/ha"),
        SpeciesField("frost_seeded", "Can be sown on frozen ground", "Sowing", "choice", choices=_YES_NO),
        SpeciesField("depth", "Depth", "Sowing", "range", "cm"),
        SpeciesField("tkw", "Thousand-kernel weight", "Sowing", "range", "g"),
        SpeciesField("seed_shape", "Seed shape", "Sowing", "choice", choices=("round", "long", "flat", "chaffy")),
        SpeciesField("coated", "Often sold with coated seed", "Sowing", "choice", choices=_YES_NO),
        SpeciesField("inoculant", "Rhizobium group", "Sowing", "text"),
        SpeciesField("cover_days", "Time to ground cover", "Growth", "range", "days"),
        SpeciesField("gdd_flower", "Degree days to flower", "Growth", "range", "°C d"),
        SpeciesField("gdd_method", "Degree days: base and method", "Growth", "text"),
        SpeciesField("bloom", "First flower after sowing", "Growth", "range", "days"),
        SpeciesField("day_length", "Flowers by day length", "Growth", "choice", choices=("long", "short", "neutral")),
        SpeciesField("cold_need", "Needs cold to head or flower", "Growth", "choice", choices=_YES_NO),
        SpeciesField("kill", "Killed from (hardy to tender type)", "Growth", "range", "°C"),
        SpeciesField("kill_basis", "Kill temperature measured on", "Growth", "text"),
        SpeciesField("rooting", "Rooting", "Growth", "choice", choices=("tap", "fibrous")),
        SpeciesField("root_depth", "Rooting depth", "Growth", "range", "cm"),
        SpeciesField("height", "Height", "Growth", "range", "cm"),
        SpeciesField("competitiveness", "Competitiveness", "Growth", "rating"),
        SpeciesField("climbing", "Climbs and needs support", "Growth", "choice", choices=_YES_NO),
        SpeciesField("supports", "Stands up to carry others", "Growth", "choice", choices=_YES_NO),
        SpeciesField("mycorrhiza", "Mycorrhizal host", "Growth", "choice", choices=("yes", "weak", "no")),
        SpeciesField("nitrogen", "Nitrogen role", "Growth", "choice", choices=("fixes", "captures", "neither")),
        SpeciesField("cn_young", "C:N before stems elongate", "Residue", "range"),
        SpeciesField("cn_flower", "C:N at flower", "Residue", "range"),
        SpeciesField("cn_mature", "C:N mature", "Residue", "range"),
        SpeciesField("inhibition_wait", "Waiting time for the residue", "Residue", "range", "days"),
        SpeciesField("inhibits", "Residue slows", "Residue", "text", hint="crop; crop"),
        SpeciesField("regrowth_mown", "Grows again after mowing", "Ending it", "choice", choices=_REGROWTH),
        SpeciesField("regrowth_crimped", "Grows again after crimping", "Ending it", "choice", choices=_REGROWTH),
        SpeciesField("kill_stage", "Stage for mechanical kill", "Ending it", "text"),
        SpeciesField("seed_risk", "Risk of shed seed", "Ending it", "choice", choices=("low", "some", "high")),
        SpeciesField("hard_seed", "Hard seed", "Ending it", "choice", choices=("no", "some", "yes")),
        SpeciesField("uncleaned", "Seed can’t be cleaned out of", "Ending it", "text", hint="crop; crop"),
        SpeciesField("salt", "Grows on salty ground", "Ground", "choice", choices=("yes", "moderate", "no")),
        SpeciesField("standing_water", "Grows on wet ground", "Ground", "choice", choices=_YES_NO),
        SpeciesField(
            "hosts",
            "Carries to other crops",
            "Rotation",
            "text",
            hint="pest -> crop, crop (strong or weak, remark); next pest -> …",
        ),
        SpeciesField("resists", "Suppresses or resists", "Rotation", "text"),
        SpeciesField("herbicides", "Sensitive to herbicide residues", "Rotation", "text"),
        SpeciesField(
            "stock_danger",
            "Dangers to stock",
            "Stock",
            "text",
            hint="danger (grave or manageable, when); next danger …; or: none known",
        ),
        SpeciesField("partners", "Usual partners", "Mix", "text"),
        *(SpeciesField(key, label, "Services", "rating") for key, label in SERVICES.items()),
    )
}
RETIRED = ("frost_risk",)
"""Fields of earlier releases: tables that have them are still read, without them. Height says it now."""


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

    def rating(self, field: str) -> float | None:
        value = self._value(field)
        return value if isinstance(value, float) else None

    def range(self, field: str) -> tuple[float, float] | None:
        value = self._value(field)
        return value if isinstance(value, tuple) else None

    def middle(self, field: str) -> float | None:
        """The middle of a range."""
        ends = self.range(field)
        return None if ends is None else (ends[0] + ends[1]) / 2

    def is_one_of(self, field: str, *choices: str) -> bool:
        """False also where the field is unknown."""
        return self.text(field) in choices

    def text(self, field: str) -> str:
        """Empty where unknown."""
        value = self._value(field)
        return value if isinstance(value, str) else ""

    def _value(self, field: str) -> Value | None:
        fact = self.facts.get(field)
        return None if fact is None else fact.value
