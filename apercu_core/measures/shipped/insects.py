"""Insects, natural enemies, slugs, disease and other damage."""

from __future__ import annotations

from apercu_core.measures.definition import Definition, Example

INSECTS: tuple[Definition, ...] = (
    Definition(
        "insects-per-plant", "Insects per plant", "insects/plant", "continuous", "mean-count", "lower", 2, 70, (50,
        120),
        (0, 200), (0, 1e5), (5, 1), "Plants along a transect that was fixed before looking; no plant is passed over.",
        Example({"counts": "0 3 1 4"}, 2)),
    Definition(
        "insects-by-kind", "Insects by kind", "insects/m²", "count", "species-count", "none", 10, 70, (50, 120),
        (0, 2000), (0, 1e5), (5, 4), "A frame or a length of row, searched from above to the ground.",
        Example({"count": "3"}, 12), depends="Pests are feared here, natural enemies wanted.", common_parts="insects"),
    Definition(
        "insects-per-trap", "Insects per trap", "insects/trap", "continuous", "mean-count", "none", 10, 60, (40, 100),
        (0, 2000), (0, 1e6), (4, 2), "The same trap, height and number of days in every plot; days stand in the name.",
        Example({"counts": "12 8"}, 10), depends="Pests are feared here, natural enemies wanted."),
    Definition(
        "insects-per-minute", "Insects in a search", "insects/min", "continuous", "count-per-time", "none", 1, 70,
        (40, 120), (0, 100), (0, 10_000), (5, 1), "Search with a watch; handling time doesn’t count.",
        Example({"count": "6", "minutes": "3"}, 2), depends="Pests are feared here, natural enemies wanted."),
    Definition(
        "natural-enemies", "Natural enemies per plant", "insects/plant", "continuous", "mean-count", "higher", 0.5, 80,
        (50, 150), (0, 50), (0, 10_000), (5, 1), "Lady beetles, lacewings, hoverfly larvae, spiders, mummies: say "
        "which.",
        Example({"counts": "1 0 0 1"}, 0.5)),
    Definition(
        "incidence", "Plants affected", "%", "continuous", "k-of-n", "lower", 20, 40, (25, 60), (0, 100), (0, 100), (4,
        1),
        "Plants with the damage, of all examined. Name the cause in the measure’s name.",
        Example({"k": "9", "n": "30"}, 30)),
    Definition(
        "severity", "Severity", "%", "continuous", "percentage", "lower", 10, 50, (30, 70), (0, 100), (0, 100), (2, 1),
        "Share of leaf area that is diseased, with a picture key; guesses below 5 % run high.",
        Example({"value": "12"}, 12)),
    Definition(
        "leaf-loss", "Leaf loss", "%", "continuous", "percentage", "lower", 10, 50, (30, 70), (0, 100), (0, 100), (2,
        1),
        "Share of leaf area that is eaten. Insects, slugs, hail and deer look different: say which.",
        Example({"value": "15"}, 15)),
    Definition(
        "slugs", "Slugs", "slugs/trap", "continuous", "mean-count", "lower", 2, 70, (40, 120), (0, 100), (0, 5000), (3,
        1),
        "Shelter traps without poison, looked at in the morning, the same number of nights.",
        Example({"counts": "3 1 2"}, 2)),
    Definition(
        "flower-visits", "Flower visits", "visits/min", "continuous", "count-per-time", "higher", 3, 60, (40, 100), (0,
        200),
        (0, 10_000), (6, 1), "Above 15 °C, dry and with little wind; the same hour in all plots of a block.",
        Example({"count": "25", "minutes": "5"}, 5)),
    Definition(
        "visits-by-kind", "Flower visits by kind", "visits/min", "continuous", "kinds-per-time", "higher", 3, 60,
        (40, 100), (0, 200), (0, 10_000), (6, 1), "Watch the same patch of flowers for the whole time and count each "
        "visit to a flower. Above 15 °C, dry and with little wind; the same hour in all plots of a block.",
        Example({"count": "10"}, 2, {"minutes": 5}), common_parts="visitors"),
)  # fmt: skip
