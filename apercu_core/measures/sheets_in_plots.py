"""Sheets of what is counted, read and timed in the plots. Each formula is that of a function of `agronomy`, if one is
named beside it; tests hold them together.
"""

from __future__ import annotations

from apercu_core.measures.sheet import Beyond, Check, Derived, Setting, Sheet, SheetField, Spaced

FRAMES = Setting("frames", "Frames per plot", "", 3, 1, 24)
FRAME_AREA = Setting("area", "Frame area", "m²", 0.25, 0.001, 100)
FRAME_WIDTH = Setting(
    "frame_width", "Frame width across the plot", "m", None, 0.02, 20, "Empty for a square or round one.", optional=True
)
FRAME = (FRAME_AREA, FRAME_WIDTH)
COUNT = SheetField("count", "Count", "", kind="whole", most=100_000)


MOST_ACROSS, MOST_ALONG = 8, 20
"""Squares of the grid over a plot: as many as a thumb can tell apart, and as a field of an entry can hold."""


def _readings(
    key: str, name: str, unit: str, *, optional: bool = False, least: float | None = 0.0, spaced: Spaced | None = None
) -> SheetField:
    return SheetField(key, name, unit, least=least, most=1e6, kind="readings", optional=optional, spaced=spaced)


def _variance(of: str) -> str:
    """Of a list, with n − 1, over its size and its squared mean."""
    mean = f"$average({of})"
    return (
        f"$sum($map({of}, function($v){{$power($v - {mean}, 2)}})) / ($count({of}) - 1) / $count({of}) / "
        f"$power({mean}, 2)"
    )


_LEAF_STAND = "$average(leaves) / $average(leaves_per_plant) / area"
_GAPS = (
    "($p := $append($append([0], positions), [100 * row_length]); "
    "$map([1..$count($p) - 1], function($i){$p[$i] - $p[$i - 1]})[$ > $$.longer_than])"
)
_RATES = "$map(fills, function($s){depth * 3600 / $s})"
_LAST_THREE = f"($r := {_RATES}; $l := $map([$count($r) - 3..$count($r) - 1], function($i){{$r[$i]}}); "
_STEADY = (
    f"$count(fills) >= 3 and {_LAST_THREE} $max($l) - $min($l) <= 0.1 * $average($l))"
)  # fmt: skip
_PROFILE = (
    "$n := $max([$count(first), $count(second), $count(third)]); "
    "$m := $map([0..$n - 1], function($i){$average($append($append(first[$i], second[$i]), third[$i]))}); "
    "$m := $append([], $m); "
)
_DEPTHS = Spaced("from", "step", "limit")
_CROSSED = "$k := $filter([0..$n - 1], function($i){$m[$i] >= limit})[0]; "

SHEETS_IN_PLOTS: tuple[Sheet, ...] = (
    # agronomy.stand.stand_from_leaves
    Sheet(
        "leaf-count", "Stand from leaves",
        (_readings("leaves", "Leaves in each frame", ""), _readings("leaves_per_plant", "Leaves on each plant", "")),
        (FRAME_AREA,), _LEAF_STAND,
        "mean of leaves in a frame / mean of leaves on a plant of this plot / frame area", "1/m²",
        checks=(Check("$count($append(leaves, leaves_per_plant)[$ != $floor($)]) > 0",
                      "Leaves are counted: type whole numbers."),
                Check("$sum(leaves_per_plant) = 0", "No leaf was counted on the plants. Count leaves on a few plants "
                      "of this plot.")),
        derived=(Derived("se", "standard error", "1/m²",
                         f"{_LEAF_STAND} * $sqrt({_variance('leaves')} + {_variance('leaves_per_plant')})"),),
    ),
    Sheet(
        "species-count", "Count by species in frames", (COUNT,), (*FRAME, FRAMES), "count / area",
        "count / frame area for each species; the plot’s value is their sum", "1/m²", values="count", sampled=True,
        parts="species", area="area",
    ),
    # agronomy.stand.emergence
    Sheet(
        "emergence", "Emergence from stand and seed sown",
        (SheetField("plants", "Plants", "1/m²", most=1e5),
         SheetField("viable", "Viable seeds sown", "1/m²", above=True, most=1e6)), (),
        "100 * plants / viable", "100 × plants / viable seeds sown", values="percentage",
        checks=(Check("plants > 1.5 * viable", "{plants} plants from {viable} viable seeds can’t be. Check both; "
                      "self-sown plants don’t count."),),
    ),
    Sheet(
        "log-ratio", "Density now against before, as a log ratio",
        (SheetField("before", "Before", "1/m²", above=True, most=1e6), SheetField("now", "Now", "1/m²", most=1e6)), (),
        "$ln(now / before)", "natural logarithm of now / before",
        checks=(Check("now = 0", "No plant is left, so there is no ratio. Record survival of marked plants instead."),),
        derived=(Derived("percent", "of before, %", "", "100 * now / before"),),
    ),
    # agronomy.evenness.gaps
    Sheet(
        "row-gaps", "Gaps along a row", (_readings("positions", "Positions of plants along the row", "cm"),),
        (Setting("row_length", "Length of row", "m", 3, 0.1, 100),
         Setting("longer_than", "Counts as a gap from", "cm", 20, 1, 1000)),
        f"$count({_GAPS}) / row_length", "gaps longer than the limit / length of row, ends included", "",
        checks=(Check("$count($append([], positions)) > 1 and $count($filter([1..$count(positions) - 1], "
                      "function($i){positions[$i] < positions[$i - 1]})) > 0",
                      "Positions run along the row: each is as far as the one before it, or farther."),
                Check("$max(positions) > 100 * row_length", "A plant stands beyond the end of the row. Check its "
                      "position and the length of row.")),
        derived=(Derived("share", "of the row in gaps, %", "",
                         f"($g := {_GAPS}; $count($g) = 0 ? 0 : $sum($g) / row_length)"),),
    ),
    # agronomy.evenness.patchiness
    Sheet(
        "patchiness", "Unevenness among frames", (_readings("values", "Value of each frame", ""),),
        (Setting("floor", "Failed below", "", 0, 0, 1e6, "In what the frames are counted in."),),
        "100 * $sqrt($sum($map(values, function($v){$power($v - $average(values), 2)})) / ($count(values) - 1)) "
        "/ $average(values)",
        "100 × standard deviation among frames / their mean",
        checks=(Check("$count(values) < 2", "Unevenness needs two frames or more in the plot."),
                Check("$sum(values) = 0", "Nothing stood in any frame, so there is no spread to give. Mark the plot "
                      "as missing and say so.")),
        derived=(Derived("below", "of frames below the floor, %", "",
                         "100 * $count(values[$ < $$.floor]) / $count(values)"),
                 Derived("mean", "mean of the frames", "", "$average(values)")),
    ),
    Sheet(
        "failed-area", "Failed area drawn on the plot",
        (SheetField("squares", "Failed squares", "", most=MOST_ACROSS * MOST_ALONG, kind="squares"),),
        (Setting("across", "Squares across the plot", "", 5, 1, MOST_ACROSS),
         Setting("along", "Squares along the plot", "", 10, 1, MOST_ALONG)),
        "100 * $count(squares[$ > 0]) / (across * along)",
        "100 × failed squares / squares of the plot", "%", values="percentage",
        checks=(Check("$max(squares) > across * along", "The plot has fewer squares than that. Check the numbers, or "
                      "how many squares the measure has across and along."),
                Check("$count(squares) > 1 and $min(squares) = 0", "0 says that nothing failed. Leave it out where "
                      "squares have failed.")),
        setting_checks=(Check("across != $floor(across) or along != $floor(along)",
                              "Squares are counted: type whole numbers."),),
        derived=(Derived("failed", "failed squares", "", "$count(squares[$ > 0])"),),
    ),
    Sheet(
        "cover-class", "Cover by eye in classes",
        (SheetField("cover", "Cover", "", kind="choice", choices=(
            "none", "under 5 %", "5 to 25 %", "25 to 50 %", "50 to 75 %", "75 to 95 %", "over 95 %")),), (),
        '$lookup({"none": 0, "under 5 %": 2.5, "5 to 25 %": 15, "25 to 50 %": 37.5, "50 to 75 %": 62.5, '
        '"75 to 95 %": 85, "over 95 %": 97.5}, cover)',
        "middle of the class", values="percentage", possible=("0", "100"),
    ),
    Sheet(
        "light", "Light above and below",
        (_readings("above", "Above the canopy", ""), _readings("below", "Below it", "")), (),
        "100 * (1 - $average(below) / $average(above))", "100 × (1 − mean below / mean above)", values="percentage",
        possible=("0", "100"),
        checks=(Check("$sum(above) = 0", "There was no light above the canopy. Measure again in daylight."),
                Check("$average(below) > $average(above)", "More light below than above can’t be. Were the two "
                      "swapped, or did a cloud pass?")),
    ),
    Sheet(
        "half-life", "Half-life of residue",
        (SheetField("start", "Residue at the start", "kg/ha", above=True, most=1e5),
         SheetField("now", "Residue now", "kg/ha", above=True, most=1e5),
         SheetField("days", "Days between", "d", above=True, most=3650)), (),
        "days * $ln(2) / $ln(start / now)", "days × ln 2 / ln(start / now), for exponential decay", "",
        checks=(Check("now >= start", "Nothing has decayed yet, so there is no half-life. Mark the plot as not taken, "
                      "and weigh again later."),),
        derived=(Derived("left", "left, %", "", "100 * now / start"),),
    ),
    Sheet(
        "count-per-time", "Count in a time",
        (COUNT, SheetField("minutes", "Time", "min", above=True, most=1440)), (),
        "count / minutes", "count / minutes",
    ),
    Sheet(
        "kinds-per-time", "Count by kind in a set time", (COUNT,),
        (Setting("minutes", "Time watched", "min", 5, 0.25, 240, "The same in every plot."),), "count / minutes",
        "count / time watched for each kind; the plot’s value is their sum", parts="species", watched="minutes",
    ),
    Sheet(
        "mean-count", "Mean of several counts", (_readings("counts", "Count of each", ""),), (),
        "$average(counts)", "mean of the counts of a plot, one for each plant, trap or block",
        checks=(Check("$count(counts[$ != $floor($)]) > 0", "These are counted: type whole numbers."),),
        derived=(Derived("n", "counted", "", "$count(counts)"),),
    ),
    # agronomy.weeds.diversity
    Sheet(
        "diversity", "Diversity of species", (_readings("counts", "Count of each species", ""),), (),
        "($a := counts[$ > 0]; $n := $sum($a); -$sum($map($a, function($c){$c / $n * $ln($c / $n)})))",
        "Shannon H′ = −Σ p · ln p over the species",
        checks=(Check("$count(counts[$ != $floor($)]) > 0", "Species are counted: type whole numbers."),
                Check("$sum(counts) = 0", "Nothing was found, so there is no diversity to give. Mark the plot as "
                      "missing and say so.")),
        derived=(Derived("species", "species", "", "$count(counts[$ > 0])"),),
    ),
    # agronomy.soil_in_plots.infiltration
    Sheet(
        "infiltration", "Infiltration in a ring",
        (_readings("fills", "Time of each fill", "s", optional=True),
         SheetField("stopped", "Last fill not gone after", "s", most=1e6, above=True, optional=True)),
        (Setting("depth", "Water of a fill", "mm", 25, 1, 200),),
        f"{_STEADY} ? {_LAST_THREE} $average($l)) : {_RATES}[-1]",
        "depth × 3600 / seconds; the mean of the last three where they lie within 10 %, else the last", "mm/h",
        beyond=Beyond("$exists(stopped)", "depth * 3600 / stopped", "less"),
        checks=(Check("$not($exists(fills)) and $not($exists(stopped))", "Type the time of each fill in seconds, or "
                      "how long the last one stood and wasn’t gone."),
                Check("$min(fills) <= 0", "A fill takes more than no time. Type its seconds."),),
        derived=(Derived("steady", "steady (1) or not (0)", "", f"{_STEADY} ? 1 : 0"),),
    ),
    # agronomy.soil_in_plots.resistance
    Sheet(
        "resistance", "Depth at which resistance reaches a limit",
        (_readings("first", "First profile, from the top", "MPa", spaced=_DEPTHS),
         _readings("second", "Second profile", "MPa", optional=True, spaced=_DEPTHS),
         _readings("third", "Third profile", "MPa", optional=True, spaced=_DEPTHS)),
        (Setting("from", "Depth of the first reading", "cm", 5, 0, 100),
         Setting("step", "Between two readings", "cm", 5, 0.5, 50),
         Setting("limit", "Limit", "MPa", 2, 0.1, 10, "2 MPa is a rule of thumb for roots.")),
        f"({_PROFILE}{_CROSSED}$k = 0 ? from : from + step * ($k - 1 + (limit - $m[$k - 1]) / ($m[$k] - $m[$k - 1])))",
        "where the mean profile first reaches the limit, straight between two depths", "cm",
        beyond=Beyond(f"({_PROFILE}{_CROSSED}$not($exists($k)))", f"({_PROFILE}from + step * ($n - 1))", "more"),
    ),
    # agronomy.soil_in_plots.earthworms
    Sheet(
        "earthworms", "Earthworms in blocks of soil",
        (_readings("worms", "Worms in each block", ""), _readings("adults", "Adults in each block", "", optional=True)),
        (Setting("side", "Side of a block", "cm", 20, 5, 100),),
        "$average(worms) * $power(100 / side, 2)", "mean of the blocks × (100 / side in cm)²", "1/m²",
        disturbs=True,
        checks=(Check("$count($append(worms, adults)[$ != $floor($)]) > 0", "Worms are counted: type whole numbers."),
                Check("$exists(adults) and $count(adults) != $count(worms)",
                      "Adults are counted in each block, like the worms: type as many numbers."),
                Check("$exists(adults) and $count($filter([0..$count(worms) - 1], function($i)"
                      "{$append([], adults)[$i] > $append([], worms)[$i]})) > 0",
                      "There are more adults than worms in a block. Check both.")),
        derived=(Derived("adults_m2", "adults/m²", "", "$average(adults) * $power(100 / side, 2)"),),
    ),
)  # fmt: skip
