"""Common trials to start from: their factors, treatments, controls and measures, and the design that suits them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from apercu_core.design.treatments import Combination, crossed, listed


@dataclass(frozen=True, slots=True)
class Template:
    """`factors`: name → levels, none for a plain list of `names`; `strips`: factors whose machine works over whole
    strips; `outside`: treatments beside the crossing; `measures`: of the catalogue; `removed`: what can't be, and why;
    `kinds`: factor → the aspect that it changes; `control_levels`: factor → the level that its others are compared with,
    at the same levels of the other factors.
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
    control_levels: Mapping[str, str] = field(default_factory=dict)

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
            "species-screening", "Species screening", "Several covers against bare stubble, each in 4 to 6 blocks. State "
            "the cultivar and live seed of each.",
            "Which cover leaves most biomass and fewest weeds, against bare stubble?", "rcbd", "Bare stubble",
            ("cover-biomass", "weeds", "crop-stand"), {}, ("Bare stubble", "Cover 1", "Cover 2", "Cover 3", "Cover 4"),
        ),
        Template(
            "kill-timing-species", "Kill timing × species", "Kill dates over whole strips, covers and none randomised "
            "inside them: weeds of the plots without cover are killed at each date too.",
            "Does killing a cover later cost or gain yield, and is it the same for every cover?", "split_plot",
            "", ("grain-yield", "cover-biomass", "weeds"),
            {"kill": ("early", "late"), "cover": ("no cover", "cover 1", "cover 2")},
            strips=("kill",), kinds={"kill": "kill_timing", "cover": "species"}, control_levels={"cover": "no cover"},
        ),
        Template(
            "rate-ladder", "Seed rate ladder", "One cover at rising shares of its full rate, and none: read it as a dose.",
            "How far can the seed rate come down before the cover lets weeds through?", "rcbd", "No cover",
            ("weeds", "cover-biomass"), {}, ("No cover", "25 % of full rate", "50 % of full rate", "75 % of full rate",
                                       "Full rate"),
        ),
        Template(
            "undersown", "Undersown or not", "The crop with and without an undersown cover, in at least 6 pairs of strips. "
            "Undersowing often changes the herbicide programme: say so.",
            "Does undersowing a cover cost the crop that it grows in?", "paired_strips", "Not undersown",
            ("grain-yield", "stand", "cover-biomass"), {}, ("Not undersown", "Undersown"),
        ),
        Template(
            "cover-fertiliser", "Cover × fertiliser", "A cover and none at five nitrogen rates, from none to above the "
            "optimum: both curves are needed to read how much fertiliser the cover replaces.",
            "How much fertiliser nitrogen does the cover replace?", "rcbd", "",
            ("grain-yield", "soil-nitrate"),
            {"cover": ("no cover", "cover 1"), "nitrogen": ("0 kg N", "40 kg N", "80 kg N", "120 kg N", "160 kg N")},
            kinds={"cover": "species", "nitrogen": "crop_nitrogen"}, control_levels={"cover": "no cover"},
        ),
        Template(
            "rotation", "Rotation, every phase each year", "A cover or none before the spring crops of a rotation; each "
            "crop stands each year, and plots move on by one phase when the trial is carried on, for two turns. The cover "
            "stands before barley and before beet; wheat follows beet at once, so there is no window for one. Plots of at "
            "least 6 × 12 m.",
            "What does a cover before each spring crop do over the whole rotation?", "rcbd", "",
            ("root-yield", "grain-yield"),
            {"cover": ("no cover", "cover 1"), "starts with": ("winter wheat", "spring barley", "sugar beet")},
            kinds={"cover": "species", "starts with": "phase"}, control_levels={"cover": "no cover"},
        ),
    )
}  # fmt: skip
