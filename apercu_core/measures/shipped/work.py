"""What a treatment costs in passes, hours, fuel and products, and how it is to work with."""

from __future__ import annotations

from apercu_core.measures.definition import Definition, Example

WORK: tuple[Definition, ...] = (
    Definition(
        "passes", "Passes in a season", "passes", "continuous", "figure", "lower", 6, 15, (5, 30), (0, 40), (0, 200),
        (1, 1),
        "Each time a machine goes over the plot, sowing and harvest with it.", Example({"value": "5"}, 5)),
    Definition(
        "hours", "Working time", "h/ha", "continuous", "product-of-area", "lower", 4, 20, (10, 40), (0, 200), (0,
        5000), (1, 1),
        "Measured on areas large enough to drive; turning on small plots isn’t work on a farm.",
        Example({"amount": "3", "area": "0.5"}, 6)),
    Definition(
        "fuel", "Fuel", "L/ha", "continuous", "product-of-area", "lower", 40, 15, (8, 30), (0, 300), (0, 5000), (1, 1),
        "Refilled tank or meter, over a stated area.", Example({"amount": "22", "area": "0.5"}, 44)),
    Definition(
        "products", "Products used", "products", "continuous", "figure", "lower", 4, 30, (10, 50), (0, 40), (0, 200),
        (1, 1),
        "Number of applications of anything bought, by the record of operations.", Example({"value": "3"}, 3)),
    Definition(
        "ease", "Ease of working", "score", "continuous", "score", "higher", 6, 20, (10, 35), (1, 9), (1, 9), (1, 1),
        "By the person who drives, after each season, before results are seen.", Example({"value": "7"}, 7)),
)  # fmt: skip
