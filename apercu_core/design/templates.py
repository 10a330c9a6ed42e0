"""Common trials to start from: their factors, treatments, controls and measures, and the design that suits them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from apercu_core.design.treatments import Combination, crossed, listed


@dataclass(frozen=True, slots=True)
class Template:
    """`factors`: name → levels, none for a plain list of `names`; `strips`: factors whose machine works over whole
    strips; `outside`: treatments beside the crossing; `measures`: of the catalogue; `removed`: what can't be, and why;
    `kinds`: factor → the aspect that it changes.
    """

    key: str
    name: str
    what: str
    question: str
    design: str
    control: str
    measures: tuple[str, ...]
    factors: Mapping[str, tuple[str, ...]]
    names: tuple[str, ...] = ()
    strips: tuple[str, ...] = ()
    outside: tuple[str, ...] = ()
    removed: tuple[tuple[Mapping[str, str], str], ...] = ()
    kinds: Mapping[str, str] = field(default_factory=dict)

    @property
    def treatments(self) -> tuple[Combination, ...]:
        if not self.factors:
            return listed(self.names)
        removed = [levels for levels, _ in self.removed]
        return crossed(self.factors, controls=self.outside, removed=removed, between=", ")


TEMPLATES: Mapping[str, Template] = {
    one.key: one
    for one in (
        Template(
            "species-screening", "Species screening", "Several covers against bare stubble, each in every block.",
            "Which cover leaves most biomass and fewest weeds, against bare stubble?", "rcbd", "Bare stubble",
            ("cover-biomass", "weeds"), {}, ("Bare stubble", "Cover 1", "Cover 2", "Cover 3", "Cover 4"),
        ),
        Template(
            "kill-timing-species", "Kill timing × species", "Kill dates over whole strips, covers drawn inside them.",
            "Does killing a cover later cost or gain yield, and is it the same for every cover?", "split_plot",
            "No cover", ("grain-yield", "cover-biomass"), {"kill": ("early", "late"), "cover": ("cover 1", "cover 2")},
            strips=("kill",), outside=("No cover",), kinds={"kill": "kill_timing", "cover": "species"},
        ),
        Template(
            "rate-ladder", "Seed rate ladder", "One cover at rising shares of its full rate, and none.",
            "How far can the seed rate come down before the cover lets weeds through?", "rcbd", "No cover",
            ("weeds", "cover-biomass"), {}, ("No cover", "25 % of full rate", "50 % of full rate", "75 % of full rate",
                                       "Full rate"),
        ),
        Template(
            "undersown", "Undersown or not", "The crop with and without an undersown cover, in pairs of strips.",
            "Does undersowing a cover cost the crop that it grows in?", "paired_strips", "Not undersown",
            ("grain-yield",), {}, ("Not undersown", "Undersown"),
        ),
        Template(
            "cover-fertiliser", "Cover × fertiliser", "Covers and none at several nitrogen rates: what a cover gives "
            "can be told from what the bag does.",
            "How much fertiliser nitrogen does the cover replace?", "rcbd", "none, 0 kg N",
            ("grain-yield",), {"cover": ("none", "cover 1"), "nitrogen": ("0 kg N", "50 kg N", "100 kg N")},
            kinds={"cover": "species"},
        ),
        Template(
            "rotation", "Rotation, every phase each year", "Covers or none in a whole rotation; each crop stands each "
            "year, and plots move on by one phase when the trial is carried on.",
            "What does a cover before each spring crop do over the whole rotation?", "rcbd", "", ("grain-yield",),
            {"cover": ("no cover", "cover 1"), "starts with": ("potato", "malting barley", "sugar beet")},
            kinds={"cover": "species", "starts with": "phase"},
        ),
    )
}  # fmt: skip
