"""The cash crop: planting, stand, growth, yield and quality."""

from __future__ import annotations

from apercu_core.measures.definition import Definition, Example


def _as_typed(value: float) -> Example:
    return Example({"value": f"{value:g}"}, value)


CROP: tuple[Definition, ...] = (
    Definition(
        "planting-depth", "Planting depth", "cm", "continuous", "readings", "none", 4, 15, (8, 25), (0, 12), (0, 40),
        (4, 1),
        "Dig up seeds or young plants at several places.", Example({"readings": "3.5 4 4.5"}, 4),
        depends="It is right or wrong by crop and soil."),
    Definition(
        "slot-closed", "Closed seed slots", "%", "continuous", "k-of-n", "higher", 90, 12, (6, 25), (0, 100), (0, 100),
        (3, 1),
        "Places along the row with the seed covered, of all looked at.", Example({"k": "18", "n": "20"}, 90)),
    Definition(
        "residue-pinned", "Residue pinned in the slot", "%", "continuous", "k-of-n", "lower", 15, 50, (30, 80), (0,
        100),
        (0, 100), (3, 1), "Places with residue pressed into the slot, of all looked at.",
        Example({"k": "3", "n": "20"}, 15)),
    Definition(
        "crop-stand", "Crop stand", "plants/m²", "count", "frame-count", "higher", 250, 12, (6, 20), (0, 1000), (0,
        1e5),
        (2, 3), "Count once the crop has emerged. In wide rows count 3 to 5 m of row, not a square frame.",
        Example({"count": "60"}, 240)),
    Definition(
        "crop-height", "Crop height", "cm", "continuous", "figure", "none", 60, 8, (4, 12), (0, 350), (0, 1000), (3, 1),
        "Mean of several plants chosen at random; natural height, not stretched.", _as_typed(62)),
    Definition(
        "crop-stage", "Growth stage of the crop", "", "continuous", "score", "none", 30, 6, (3, 10), (0, 99), (0, 99),
        (2, 1),
        "BBCH code of most plants in the plot.", _as_typed(31), preset={"lowest": 0, "highest": 99}),
    Definition(
        "leaf-collars", "Leaves with a collar", "leaves/plant", "continuous", "mean-count", "none", 6, 6, (3, 10), (0,
        25),
        (0, 40), (3, 1), "Count from the first rounded leaf on; mark every fifth leaf early.",
        Example({"counts": "6 7 5"}, 6), depends="It tells how far the crop is."),
    Definition(
        "crop-lodging", "Lodging of the crop", "%", "continuous", "percentage", "lower", 10, 70, (40, 120), (0, 100),
        (0, 100),
        (1, 1), "Share of the plot that leans by more than 45°.", _as_typed(5)),
    Definition(
        "leaf-area", "Leaf area index", "", "continuous", "readings", "higher", 3, 12, (8, 20), (0, 10), (0, 20), (4,
        1),
        "m² of leaf over m² of ground; the same hour and sky.", Example({"readings": "2.8 3.2"}, 3)),
    Definition(
        "crop-nitrogen", "Nitrogen content of the crop", "%", "continuous", "figure", "higher", 3, 8, (5, 12), (0.3, 7),
        (0, 20), (2, 1), "The same leaf or part at the same stage.", _as_typed(3.1)),
    Definition(
        "grain-yield", "Grain yield", "t/ha", "continuous", "moist-yield-strip", "higher", 7, 6, (4, 10), (0.2, 20),
        (0, 40),
        (6, 1), "Measure the harvested length again after alleys are cut. On long strips plots vary by about 8 %.",
        Example({"mass": "25", "moisture": "16", "length": "20"}, 8.187134502923977, {"standard": 14.5, "width": 1.5})),
    Definition(
        "tuber-yield", "Tuber yield", "t/ha", "continuous", "fresh-yield-strip", "higher", 44, 9, (6, 12), (2, 110),
        (0, 300),
        (12, 3), "Lift from the middle of the plot, away from its edges. Say which grades count, and take soil off.",
        Example({"mass": "66", "length": "10"}, 44, {"width": 1.5})),
    Definition(
        "root-yield", "Root yield", "t/ha", "continuous", "fresh-yield-strip", "higher", 75, 6, (5, 8), (5, 160), (0,
        400),
        (12, 3), "Clean mass without tops and soil.", Example({"mass": "112.5", "length": "10"}, 75, {"width": 1.5})),
    Definition(
        "bulb-yield", "Bulb yield", "t/ha", "continuous", "fresh-yield-strip", "higher", 45, 11, (8, 14), (2, 110), (0,
        300),
        (12, 3), "Say whether fresh from the field or dried.",
        Example({"mass": "67.5", "length": "10"}, 45, {"width": 1.5})),
    Definition(
        "yield-by-grade", "Yield by grade", "t/ha", "continuous", "grade-mass", "higher", 44, 10, (6, 15), (0, 110),
        (0, 300), (12, 6), "Say the limits of each grade; what is thrown out is a grade of its own, with the reason.",
        Example({"mass": "12", "number": "80"}, 8, {"area": 15})),
    Definition(
        "yield-per-plant", "Yield per tree or vine", "kg/plant", "continuous", "mass-of-plants", "higher", 12, 25, (15,
        40),
        (0, 200), (0, 2000), (8, 3), "All fruit of the counted plants, windfalls apart.",
        Example({"mass": "60", "plants": "5"}, 12)),
    Definition(
        "marketable-share", "Marketable share", "%", "continuous", "share-of-mass", "higher", 85, 8, (4, 15), (0, 100),
        (0, 100), (5, 2), "Of the mass; note why the rest was taken out.", Example({"part": "34", "whole": "40"}, 85)),
    Definition(
        "test-weight", "Test weight", "kg/hL", "continuous", "figure", "higher", 76, 2, (1, 4), (40, 90), (10, 120),
        (2, 1),
        "Clean grain, with its moisture noted.", _as_typed(77)),
    Definition(
        "sugar", "Sugar content", "%", "continuous", "figure", "higher", 17, 3, (2, 5), (5, 25), (0, 40), (2, 1),
        "Of fresh clean roots or of juice: say which.", _as_typed(17.2)),
    Definition(
        "protein", "Protein content", "%", "continuous", "figure", "higher", 12, 4, (2, 6), (5, 50), (0, 80), (2, 1),
        "At a stated moisture, the same for all plots.", _as_typed(12.4)),
    Definition(
        "dry-matter", "Dry matter content", "%", "continuous", "figure", "none", 30, 5, (3, 8), (5, 95), (0, 100), (2,
        1),
        "Dried until the mass stays the same.", _as_typed(31), depends="It depends on what the crop is for."),
)  # fmt: skip
