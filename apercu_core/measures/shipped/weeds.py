"""Weeds: numbers, cover, mass and how they compare with the control."""

from __future__ import annotations

from apercu_core.measures.definition import Definition, Example

WEEDS: tuple[Definition, ...] = (
    Definition(
        "weeds", "Weeds", "weeds/m²", "count", "frame-count", "lower", 40, 60, (40, 80), (0, 2000), (0, 1e5), (3, 4),
        "Count before the crop’s first herbicide, and say from which size on. Frames in one plot are samples of it, "
        "not replicates.", Example({"count": "60"}, 240), frames=6),
    Definition(
        "weeds-by-species", "Weeds by species", "weeds/m²", "count", "species-count", "lower", 40, 60, (40, 80),
        (0, 2000), (0, 1e5), (3, 6), "Every species of the list that isn’t in a frame counts as none there. Unknown "
        "ones "
        "are given a name of their own, with a photograph.", Example({"count": "6"}, 24), frames=4,
        common_parts="weeds"),
    Definition(
        "weeds-pulled", "Weeds pulled", "weeds/m²", "count", "frame-count", "lower", 20, 60, (40, 80), (0, 2000), (0,
        1e5),
        (4, 5), "Pulled weeds are gone, so counts of several visits add up. Use fixed quadrats.",
        Example({"count": "12"}, 48), frames=2, over_visits="sum"),
    Definition(
        "weed-cover", "Weed cover", "%", "continuous", "percentage", "lower", 10, 60, (40, 90), (0, 100), (0, 100), (1,
        1),
        "Share of the ground under weeds, by eye, by one person in a whole block.", Example({"value": "8"}, 8)),
    Definition(
        "weed-biomass", "Weed biomass", "kg/ha", "continuous", "figure", "lower", 200, 70, (50, 100), (0, 5000),
        (0, 40_000), (5, 8), "Dry matter of the weeds alone. Dry at 60 to 65 °C until the mass stays the same.",
        Example({"value": "180"}, 180)),
    Definition(
        "weed-biomass-weighed", "Weed biomass from samples", "kg/ha", "continuous", "biomass-sample", "lower", 200, 70,
        (50, 100), (0, 5000), (0, 40_000), (5, 8), "Weeds are cut apart from the cover in the same frame.",
        Example({"wet": "150", "tare": "50", "sub_wet": "90", "sub_dry": "30", "sub_tare": "10"}, 1000)),
    Definition(
        "weed-rating", "Weed control against the control plot", "%", "continuous", "percentage", "higher", 60, 25, (15,
        40),
        (0, 100), (0, 100), (1, 1), "0 is like the control of the block, 100 is no weed. It is judged by eye, beside "
        "the "
        "control, not counted.", Example({"value": "75"}, 75)),
    Definition(
        "weed-diversity", "Diversity of weeds", "", "continuous", "diversity", "none", 1.2, 30, (20, 50), (0, 4), (0,
        6),
        (3, 3), "Shannon H′ over the species. A plot without weeds has none and is marked as missing.",
        Example({"counts": "8 8"}, 0.6931471805599453),
        depends="Many species in small numbers trouble less than one in great number."),
)  # fmt: skip
