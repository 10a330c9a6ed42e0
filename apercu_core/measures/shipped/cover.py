"""Stand, kill, cover, biomass and nitrogen of covers and of their residue."""

from __future__ import annotations

from apercu_core.measures.definition import Definition, Example

_FAILED = ("failed",)
_FRAME = Example({"count": "60"}, 240)


def _as_typed(value: float) -> Example:
    return Example({"value": f"{value:g}"}, value)


COVER: tuple[Definition, ...] = (
    Definition(
        "stand", "Cover stand", "plants/m²", "count", "frame-count", "higher", 250, 20, (12, 30), (0, 1500), (0, 1e5),
        (2, 3), "Count 3 to 4 weeks after sowing. Put frames down at random; the side of a frame is a multiple of the "
        "row spacing, or count a length of row.", _FRAME, _FAILED, also=("Plant stand",), frames=4),
    Definition(
        "stand-dug", "Cover stand, plants dug", "plants/m²", "count", "dug-count", "higher", 250, 20, (12, 30), (0,
        1500), (0, 1e5), (4, 6), "Dig the frame out, shake the soil off and count roots: for stands too thick to be "
        "parted by eye. Later visits leave this ground out.", _FRAME, _FAILED, frames=3),
    Definition(
        "stand-by-species", "Cover stand by species", "plants/m²", "count", "species-count", "higher", 250, 25, (15,
        40),
        (0, 1500), (0, 1e5), (2, 4), "Each component of the mix apart, and self-sown plants apart from sown ones.",
        Example({"count": "15"}, 60), _FAILED, frames=4),
    Definition(
        "stand-from-leaves", "Cover stand from leaves", "plants/m²", "continuous", "leaf-count", "higher", 250, 22,
        (15, 35), (0, 1500), (0, 1e5), (2, 4), "Count the leaves of plants in this plot, not of another treatment: "
        "plants at another stage have other numbers of leaves.",
        Example({"leaves": "120 150", "leaves_per_plant": "3 3 4 2"}, 180), _FAILED),
    Definition(
        "emergence", "Emergence", "%", "continuous", "emergence", "higher", 70, 15, (10, 25), (5, 100), (0, 150), (1,
        1),
        "Of viable seeds, from the seed sheet. Plants that were not sown don’t count.",
        Example({"plants": "210", "viable": "300"}, 70), _FAILED),
    Definition(
        "winter-survival", "Winter survival", "%", "continuous", "k-of-n", "higher", 80, 15, (8, 30), (0, 100), (0,
        100),
        (4, 1), "Mark plants or fixed quadrats in autumn and look at the same ones in spring.",
        Example({"k": "18", "n": "24"}, 75), _FAILED),
    Definition(
        "winter-change", "Winter survival from densities", "", "continuous", "log-ratio", "higher", -0.2, 60, (30, 90),
        (-4, 0.5), (-12, 5), (2, 1), "Autumn and spring frames lie on different ground, so this is less sure than "
        "marked plants. −0.69 means that half were left.",
        Example({"before": "240", "now": "120"}, -0.6931471805599453)),
    Definition(
        "heaved-plants", "Heaved plants", "%", "continuous", "k-of-n", "lower", 10, 60, (40, 90), (0, 100), (0, 100),
        (3, 1), "Plants with their crown lifted out by frost, of those examined.",
        Example({"k": "3", "n": "40"}, 7.5)),
    Definition(
        "gaps", "Gaps in the row", "gaps/m", "continuous", "row-gaps", "lower", 0.5, 50, (30, 80), (0, 5), (0, 100),
        (4, 3), "Lay a tape along the row and type where each plant stands. The ends of the row count.",
        Example({"positions": "5 12 40 48 75 90"}, 2, {"row_length": 1})),
    Definition(
        "patchiness", "Patchiness of the stand", "%", "continuous", "patchiness", "lower", 25, 30, (20, 50), (0, 150),
        (0, 1000), (2, 2), "The spread among the frames of a plot. Use at least four frames, of the same size "
        "everywhere.",
        Example({"values": "40 60 50 50"}, 16.32993161855452, {"floor": 45}), frames=None),
    Definition(
        "failed-area", "Failed area of the stand", "%", "continuous", "failed-area", "lower", 8, 60, (40, 120), (0,
        100), (0, 100), (3, 1), "Ground where the cover should stand and doesn’t, drawn on the plot. Say beforehand "
        "what counts as failed, such as a square more than half bare.",
        Example({"squares": "1-3 6 7"}, 10)),
    Definition(
        "height", "Cover height", "cm", "continuous", "figure", "none", 40, 10, (6, 15), (0, 350), (0, 1000), (3, 1),
        "Mean of several plants chosen at random; natural height, not stretched.", _as_typed(42), _FAILED,
        also=("Plant height",)),
    Definition(
        "cover-stage", "Growth stage of the cover", "", "continuous", "score", "none", 30, 8, (4, 15), (0, 99), (0, 99),
        (2, 1), "BBCH code of most plants in the plot. The stage that decides a kill is recorded in Season.",
        _as_typed(37), preset={"lowest": 0, "highest": 99}),
    Definition(
        "cover-lodging", "Lodging of the cover", "%", "continuous", "percentage", "none", 15, 60, (40, 90), (0, 100),
        (0, 100), (1, 1), "Share of the plot that lies, by eye.", _as_typed(20),
        depends="A lodged cover shades weeds, and is hard to drill through."),
    Definition(
        "living-share", "Living share after a kill", "%", "continuous", "percentage", "lower", 5, 80, (50, 120), (0,
        100),
        (0, 100), (1, 1), "7, 14 and 28 days after each kill: share of the cover that is green, by eye or from frames.",
        _as_typed(12)),
    Definition(
        "regrowth-shoots", "Shoots grown again", "shoots/m²", "count", "frame-count", "lower", 20, 60, (40, 90),
        (0, 1000), (0, 1e5), (2, 3), "New shoots of the cover after its kill, self-sown seedlings apart.",
        Example({"count": "5"}, 20)),
    Definition(
        "regrowth-height", "Height of regrowth", "cm", "continuous", "figure", "lower", 8, 40, (25, 60), (0, 100),
        (0, 400), (2, 1), "The tallest shoots of the cover after its kill. Nothing grown again is 0.", _as_typed(6)),
    Definition(
        "green-cover", "Green cover", "%", "continuous", "percentage", "higher", 60, 15, (8, 25), (0, 100), (0, 100),
        (1, 1), "From photographs straight down, before leaves dry. Weeds count as cover; flowers and dead leaf don’t.",
        _as_typed(63), _FAILED),
    Definition(
        "cover-class", "Cover in classes", "%", "continuous", "cover-class", "higher", 60, 20, (12, 30), (0, 100),
        (0, 100), (1, 1), "By eye, by one person in a whole block. Classes hide differences smaller than they are "
        "wide.",
        Example({"cover": "25 to 50 %"}, 37.5), _FAILED),
    Definition(
        "residue-cover", "Residue cover", "%", "continuous", "k-of-n", "higher", 60, 12, (8, 20), (0, 100), (0, 100),
        (3, 1), "A line across the rows, with marks at equal distances: marks that touch residue, of all marks.",
        Example({"k": "62", "n": "100"}, 62)),
    Definition(
        "residue-mass", "Residue", "kg/ha", "continuous", "figure", "none", 3000, 25, (15, 40), (0, 15_000), (0,
        40_000),
        (6, 8), "Dry and free of soil. Say whether old residue of earlier crops is in it.", _as_typed(2800),
        depends="Residue keeps weeds and water, and cools the soil."),
    Definition(
        "residue-standing", "Standing residue", "%", "continuous", "percentage", "none", 40, 30, (20, 60), (0, 100),
        (0, 100), (1, 1), "Share of the residue that stands; whole or cut is told in the note.", _as_typed(35),
        depends="Standing residue lasts longer and shades less."),
    Definition(
        "residue-half-life", "Half-life of residue", "d", "continuous", "half-life", "none", 60, 25, (15, 40), (5, 400),
        (0, 4000), (1, 1), "From two weighings of the same ground; exponential decay is assumed.",
        Example({"start": "4000", "now": "2000", "days": "50"}, 50),
        depends="Slow decay keeps cover, fast decay feeds the crop."),
    Definition(
        "light-interception", "Light interception", "%", "continuous", "light", "higher", 70, 12, (8, 20), (0, 100),
        (0, 100), (3, 1), "Near noon under an even sky; above and below within a minute of each other.",
        Example({"above": "1500 1520", "below": "300 304"}, 80), _FAILED),
    Definition(
        "canopy-width", "Canopy width", "cm", "continuous", "readings", "higher", 30, 15, (10, 25), (0, 200), (0, 500),
        (2, 1), "Across the row, at several places.", Example({"readings": "28 31 34"}, 31), _FAILED),
    Definition(
        "closure", "Days to canopy closure", "d", "continuous", "figure", "lower", 45, 10, (6, 15), (10, 200), (0, 400),
        (1, 1), "Days from sowing until rows touch. Visit often enough: the days between two visits are not known.",
        _as_typed(43)),
    Definition(
        "leaf-greenness", "Leaf greenness", "", "continuous", "readings", "higher", 40, 6, (4, 10), (5, 80), (0, 200),
        (2, 1), "Youngest full leaves, the same spot of the leaf, the same instrument.",
        Example({"readings": "38 41 44"}, 41)),
    Definition(
        "cover-biomass", "Cover biomass", "kg/ha", "continuous", "figure", "higher", 2000, 20, (12, 30), (0, 20_000),
        (0, 40_000), (5, 10), "Above-ground dry matter, weeds apart, cut just before the cover is ended. Dry at 60 to "
        "65 °C until the mass stays the same.", _as_typed(3150), _FAILED),
    Definition(
        "cover-biomass-weighed", "Cover biomass from samples", "kg/ha", "continuous", "biomass-sample", "higher", 2000,
        20,
        (12, 30), (0, 20_000), (0, 40_000), (5, 10), "Weigh the whole sample wet, dry a subsample at 60 to 65 °C until "
        "its mass changes by less than 1 % in four hours.",
        Example({"wet": "1250", "tare": "50", "sub_wet": "320", "sub_dry": "80", "sub_tare": "20"}, 9600),
        _FAILED),
    Definition(
        "biomass-by-species", "Cover biomass by species", "kg/ha", "continuous", "species-mass", "higher", 2000, 22,
        (12, 35), (0, 20_000), (0, 40_000), (6, 12), "Sorted fresh, dried apart; weeds are a part of their own.",
        Example({"mass": "45"}, 1800), _FAILED, frames=2),
    Definition(
        "relative-yield", "Relative yield of the mix", "", "continuous", "relative-yield", "higher", 1.1, 15, (10, 25),
        (0.3, 2.5), (0, 20), (1, 1), "Each species alone comes from its own plot of the same block.",
        Example({"mixed": "1200 800", "alone": "3000 1600"}, 0.9)),
    Definition(
        "cover-nitrogen", "Nitrogen content of the cover", "%", "continuous", "figure", "none", 2.5, 12, (8, 20),
        (0.4, 6), (0, 20), (1, 1), "Of dry matter, ground as a whole sample.", _as_typed(2.6),
        depends="More nitrogen feeds the next crop, less keeps the residue longer."),
    Definition(
        "nitrogen-uptake", "Nitrogen in the cover", "kg/ha", "continuous", "nitrogen-uptake", "higher", 60, 22, (15,
        35),
        (0, 400), (0, 1000), (1, 1), "Above ground only; roots hold more.",
        Example({"dry": "3000", "nitrogen": "2.5"}, 75), _FAILED),
    Definition(
        "carbon-to-nitrogen", "C:N of the cover", "", "continuous", "carbon-to-nitrogen", "none", 20, 15, (10, 25),
        (6, 120), (2, 500), (1, 1), "Of a mix, carbon and nitrogen are added up before they are divided. Below 20 it "
        "releases nitrogen soon, above 30 it ties nitrogen up (rule of thumb).",
        Example({"dry": "2000 1000", "nitrogen": "1.2 3.6"}, 21),
        depends="A low ratio feeds the crop soon, a high one keeps the ground covered."),
    Definition(
        "nitrogen-recovery", "Apparent nitrogen recovery", "%", "continuous", "recovery", "higher", 40, 35, (20, 50),
        (-50, 150), (-500, 500), (1, 1), "Against the uptake of the control in the same block; it can be below zero.",
        Example({"uptake": "80", "control": "50", "applied": "100"}, 30)),
    Definition(
        "nutrient-spread", "Nutrient spread", "kg/ha", "continuous", "nutrient-of-lot", "none", 80, 15, (8, 25), (0,
        400),
        (0, 5000), (1, 1), "From the analysis of this lot; name the nutrient in the measure’s name.",
        Example({"rate": "20", "content": "4.5"}, 90), depends="It is applied on purpose, or it is a surplus."),
    Definition(
        "flowers", "Cover in flower", "%", "continuous", "percentage", "none", 40, 30, (20, 50), (0, 100), (0, 100),
        (1, 1), "Share of plants with an open flower.", _as_typed(35),
        depends="Flowers feed insects, and seed follows them."),
)  # fmt: skip
