"""Water, nutrients, structure and life of the soil."""

from __future__ import annotations

from apercu_core.measures.definition import Definition, Example


def _as_typed(value: float) -> Example:
    return Example({"value": f"{value:g}"}, value)


SOIL: tuple[Definition, ...] = (
    Definition(
        "soil-moisture", "Soil moisture", "% by volume", "continuous", "soil-layer", "none", 25, 7, (5, 12), (3, 75),
        (0, 100), (3, 1), "Same depth and same hour in every plot.", Example({"value": "23"}, 23, {"depth_to": 30})),
    Definition(
        "soil-moisture-probe", "Soil moisture by probe", "% by volume", "continuous", "probe", "none", 25, 8, (5, 15),
        (3, 75), (0, 100), (3, 1), "With the calibration for this soil; type readings as the probe shows them.",
        Example({"readings": "20 22"}, 22, {"intercept": 1, "slope": 1})),
    Definition(
        "soil-water-mass", "Soil moisture by mass", "% by mass", "continuous", "water-content", "none", 20, 8, (5, 15),
        (2, 100), (0, 1000), (4, 2), "Dried at 105 °C. Close the bag at once.",
        Example({"wet": "180", "dry": "155", "tare": "30"}, 20)),
    Definition(
        "soil-water-volume", "Soil moisture by drying", "% by volume", "continuous", "water-content-volume", "none",
        25, 8,
        (5, 15), (3, 75), (0, 100), (4, 2), "Dried at 105 °C, times the bulk density of the layer.",
        Example({"wet": "180", "dry": "155", "tare": "30"}, 26, {"bulk_density": 1.3})),
    Definition(
        "bulk-density", "Bulk density", "g/cm³", "continuous", "bulk-density", "lower", 1.35, 5, (3, 8), (0.6, 1.9),
        (0.05, 2.7), (6, 4), "Rings driven in moist soil without pressing it. Stones are weighed and taken off.",
        Example({"dry": "135", "stones": ""}, 1.375098708, {"diameter": 5, "height": 5})),
    Definition(
        "soil-nitrate", "Soil nitrate-N", "kg/ha", "continuous", "soil-layer", "none", 45, 30, (20, 45), (0, 300),
        (0, 1500), (8, 1), "10 to 20 cores a plot, clear of fertiliser bands and wheelings. Keep samples at 4 °C or "
        "below and extract them soon, or freeze them.", Example({"value": "38"}, 38, {"depth_to": 30}),
        depends="More is better where it feeds the next crop. Less is better in autumn, when it can leach."),
    Definition(
        "soil-nitrate-layer", "Soil nitrate-N from mg/kg", "kg/ha", "continuous", "soil-n-layer", "none", 45, 30, (20,
        45),
        (0, 300), (0, 1500), (8, 1), "Bulk density of the fine earth where stones are taken off, or of both with no "
        "stones taken off: once only. Chilled and extracted in time.",
        Example({"concentration": "50", "form": "NO3", "density": "1.4", "stones": "10"}, 42.6951, {"depth_to": 30}),
        depends="More is better where it feeds the next crop. Less is better in autumn, when it can leach."),
    Definition(
        "soil-ammonium-layer", "Soil ammonium-N from mg/kg", "kg/ha", "continuous", "soil-n-layer", "none", 10, 40,
        (25, 60),
        (0, 100), (0, 1500), (8, 1), "Chilled at once: warm samples turn ammonium into nitrate.",
        Example({"concentration": "3", "form": "NH4-N", "density": "1.3", "stones": ""}, 11.7, {"depth_to": 30}),
        depends="It feeds the crop, or it hasn’t become nitrate yet."),
    Definition(
        "soil-temperature", "Soil temperature", "°C", "continuous", "readings", "none", 12, 5, (3, 10), (-10, 45),
        (-40, 70),
        (2, 1), "Same depth, same hour; sun and shade apart. Readings in one spot are one value.",
        Example({"readings": "11.5 12.5"}, 12), depends="Cool soil is wanted in summer and feared in spring."),
    Definition(
        "surface-temperature", "Temperature of the surface", "°C", "continuous", "readings", "none", 20, 8, (5, 15),
        (-20, 65), (-40, 80), (2, 1), "Infrared or probe at the surface, sun and shade apart, within an hour.",
        Example({"readings": "24 28"}, 26), depends="Cool soil is wanted in summer and feared in spring."),
    Definition(
        "penetration", "Depth of resistance", "cm", "continuous", "resistance", "higher", 30, 18, (10, 30), (0, 100),
        (0, 200), (6, 2), "The depth at which the mean profile reaches the limit. Soil moisture is taken with it: "
        "dry soil "
        "is hard. Type a profile as far as it went before a stone. Where the limit isn’t reached, the depth is kept as "
        "more than that of the last reading.",
        Example({"first": "0.8 1.2 1.6 2.4", "second": "1.0 1.4 2.0 2.8"}, 16.25, {"from": 5, "step": 5}),
        along=("soil-moisture", "soil-moisture-probe", "soil-water-mass", "soil-water-volume")),
    Definition(
        "infiltration", "Infiltration", "mm/h", "continuous", "infiltration", "higher", 60, 60, (40, 120), (0, 1500),
        (0, 20_000), (30, 15), "Fills of 25 mm in a ring, until the last three agree. Ponded rings overestimate: water "
        "also goes sideways. Read it on a log scale. Of a fill that isn’t gone in time only its time is typed: "
        "the rate is kept as less than that.",
        Example({"fills": "600 900 1000 1000 1020"}, 89.41176470588235)),
    Definition(
        "structure-score", "Soil structure score", "score", "continuous", "score", "none", 3, 20, (12, 30), (1, 5), (1,
        5),
        (12, 5), "By spade, in moist soil, by one person in a whole block. Say which end of the scale is good.",
        _as_typed(2), depends="On some scales 1 is good, on others 5.", preset={"lowest": 1, "highest": 5}),
    Definition(
        "earthworms", "Earthworms", "worms/m²", "continuous", "earthworms", "higher", 150, 40, (25, 60), (0, 1200),
        (0, 5000), (15, 8), "Blocks of 20 × 20 × 20 cm, sorted by hand, in moist soil above 5 °C. Dry soil hides them.",
        Example({"worms": "6 4 8", "adults": "2 1 3"}, 150)),
    Definition(
        "earthworm-mass", "Mass of earthworms", "g/m²", "continuous", "figure", "higher", 60, 45, (30, 70), (0, 500),
        (0, 3000), (3, 2), "Washed and dabbed dry.", _as_typed(55)),
    Definition(
        "channels", "Channels of worms and roots", "channels/m²", "count", "frame-count", "higher", 200, 35, (20, 50),
        (0, 3000), (0, 1e5), (8, 4), "On a flat face at one depth; say from which width on.",
        Example({"count": "30"}, 300, {"area": 0.1})),
    Definition(
        "aggregate-stability", "Aggregate stability", "%", "continuous", "percentage", "higher", 50, 15, (8, 25), (0,
        100),
        (0, 100), (2, 5), "Air-dried, the same sieve and number of dips.", _as_typed(55)),
    Definition(
        "root-depth", "Rooting depth", "cm", "continuous", "readings", "higher", 60, 15, (10, 25), (0, 250), (0, 500),
        (10, 5),
        "Deepest living root on the face of a pit or a core.", Example({"readings": "55 65"}, 60), ("failed",)),
    Definition(
        "root-mass", "Root mass", "kg/ha", "continuous", "figure", "higher", 1500, 35, (20, 50), (0, 10_000), (0,
        30_000),
        (8, 20), "Washed roots, dry. Thick and fine ones apart where it matters; fine ones are lost in washing.",
        _as_typed(1400), ("failed",)),
    Definition(
        "root-density", "Root length density", "cm/cm³", "continuous", "figure", "higher", 2, 35, (20, 50), (0, 20),
        (0, 200),
        (8, 20), "By layer, from washed cores.", _as_typed(1.8), ("failed",)),
    Definition(
        "nodules", "Nodules per plant", "nodules/plant", "continuous", "mean-count", "higher", 15, 50, (30, 80), (0,
        300),
        (0, 10_000), (6, 2), "Dig, don’t pull. Cut some: pink ones work.", Example({"counts": "12 18 15"}, 15),
        ("failed",)),
    Definition(
        "rut-depth", "Rut depth", "cm", "continuous", "readings", "lower", 5, 40, (25, 60), (0, 40), (0, 150), (3, 1),
        "From a straight edge over the rut, at several places.", Example({"readings": "4 6 5"}, 5)),
    Definition(
        "standing-water", "Standing water", "h", "continuous", "figure", "lower", 12, 50, (30, 80), (0, 240), (0,
        3000), (1, 1),
        "Hours after rain until no water stands; note the rain.", _as_typed(10)),
    Definition(
        "organic-carbon", "Soil organic carbon", "%", "continuous", "figure", "higher", 1.8, 8, (4, 12), (0.3, 12), (0,
        60),
        (6, 1), "Same depth and season, same laboratory and method. It changes over years, not months.",
        _as_typed(1.7)),
    Definition(
        "soil-ph", "Soil pH", "pH", "continuous", "figure", "none", 6.5, 4, (2, 8), (4, 9), (2, 11), (6, 1),
        "Say whether in water or in a salt solution; never mix the two.", _as_typed(6.4),
        depends="Too low and too high both harm."),
    Definition(
        "soil-phosphorus", "Soil phosphorus", "mg/kg", "continuous", "figure", "none", 30, 25, (15, 40), (1, 300), (0,
        3000),
        (6, 1), "Extractable, with the method’s name.", _as_typed(28), depends="It feeds the crop, or it washes off."),
    Definition(
        "soil-potassium", "Soil potassium", "mg/kg", "continuous", "figure", "none", 150, 20, (12, 30), (10, 1000), (0,
        10_000),
        (6, 1), "Extractable, with the method’s name.", _as_typed(140), depends="It feeds the crop, or it leaches."),
    Definition(
        "soil-salinity", "Soil salinity", "dS/m", "continuous", "figure", "lower", 1, 30, (15, 50), (0, 20), (0, 150),
        (4, 1),
        "Of the saturated paste or of an extract: say which.", _as_typed(0.9)),
    Definition(
        "soil-respiration", "Soil respiration", "mg/kg", "continuous", "figure", "higher", 60, 25, (15, 40), (0, 500),
        (0, 5000), (6, 5), "CO₂-C of a day after wetting, or as the laboratory says; same temperature.", _as_typed(55)),
)  # fmt: skip
