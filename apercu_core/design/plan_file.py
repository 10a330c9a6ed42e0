"""A plan as a file says it: design, treatments, blocks, size and seed → plots on the ground."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal, get_args

from apercu_core.design.constrained import drawn_within
from apercu_core.design.constraints import Constraint, ConstraintKind
from apercu_core.design.draw import Draw, InOrder
from apercu_core.design.incomplete_blocks import usual_size
from apercu_core.design.randomisation import (
    PlannedPlot,
    draw_anywhere,
    draw_blocks,
    draw_incomplete_blocks,
    draw_latin_square,
    draw_once,
    draw_paired_strips,
    draw_split_plot,
    draw_strip_plot,
)
from apercu_core.design.treatments import Combination, crossed, listed
from apercu_core.errors import Refused
from apercu_core.field.geodesy import Origin
from apercu_core.field.layout import PlotSize, Rectangle, place
from apercu_core.known_entries import require_known

PlannedDesign = Literal["crd", "rcbd", "paired_strips", "latin_square", "split_plot", "strip_plot", "incomplete_block"]
_DESIGNS: tuple[PlannedDesign, ...] = get_args(PlannedDesign)
_KEYS = (
    "design treatments factors control blocks block_size whole_plot_factor row_factor column_factor seed plot_width_m "
    "plot_length_m alley_m gap_m origin bearing_deg sites constraints removed name title systematic "
    "demonstration"
).split()
_SITE_KEYS = "name blocks origin bearing_deg".split()


@dataclass(frozen=True, slots=True)
class PlannedSite:
    """`origin` None: the file doesn't say where on earth. `number`: among the trial's sites; None: as listed."""

    name: str
    blocks: int
    origin: Origin | None
    number: int | None = None


@dataclass(frozen=True, slots=True)
class PlanAsked:
    """Everything that a plan is drawn from. `factors`: name → levels, empty for a plain list.

    `side_by_side`: blocks stand beside each other instead of behind.
    `systematic`: treatments stand as listed, without chance; `demonstration`: one plot of each is enough. Both are
    described, never tested. `block_size`: the most plots in an incomplete block, whose replicates are the `blocks` of a
    site.
    """

    design: PlannedDesign
    treatments: tuple[Combination, ...]
    factors: Mapping[str, tuple[str, ...]]
    sites: tuple[PlannedSite, ...]
    size: PlotSize
    seed: int
    whole_plot_factor: str = ""
    row_factor: str = ""
    column_factor: str = ""
    constraints: tuple[Constraint, ...] = ()
    serpentine: bool = False
    systematic: bool = False
    demonstration: bool = False
    block_size: int = 0
    side_by_side: bool = False


@dataclass(frozen=True, slots=True)
class PlacedPlot:
    """A plot with its place: metres from its site's origin."""

    plot: PlannedPlot
    place: Rectangle
    origin: Origin | None


def draw_plan(asked: PlanAsked) -> tuple[PlacedPlot, ...]:
    """Draw every site in turn from the one seed. Plots of several sites are numbered site × 1000 and on."""
    if asked.systematic and asked.constraints:
        raise Refused(
            "bad-design", f"A fixed order is not randomised, so it has no constraints. Remove: {asked.constraints[0]}."
        )
    draw = InOrder() if asked.systematic else Draw(asked.seed)
    placed: list[PlacedPlot] = []
    several = len(asked.sites) > 1
    for listed_as, site in enumerate(asked.sites, start=1):
        plots = drawn_within(
            draw, lambda d, site=site: _drawn(d, asked, site.blocks), asked.constraints,  # type: ignore[misc]
            blocks_apart=asked.design in ("rcbd", "split_plot", "strip_plot"), rows_are_fixed=asked.design != "crd",
        )  # fmt: skip
        step = 1000 if max(p.number for p in plots) < 1000 else 100_000
        n = site.number or listed_as * several
        named = [replace(p, site=site.name, number=p.number + n * step) for p in plots]
        places = place(named, asked.size, asked.design, side_by_side=asked.side_by_side)
        placed += [PlacedPlot(p, where, site.origin) for p, where in zip(named, places, strict=True)]
    return tuple(placed)


def _drawn(draw: Draw, asked: PlanAsked, blocks: int) -> tuple[PlannedPlot, ...]:
    t = asked.treatments
    if asked.demonstration:
        if blocks != 1:
            raise Refused(
                "bad-design", f"A demonstration has one plot of each treatment; blocks is {blocks}. Make it 1."
            )
        return draw_once(draw, t)
    if asked.design == "crd":
        return draw_anywhere(draw, t, blocks, serpentine=asked.serpentine)
    if asked.design == "paired_strips":
        return draw_paired_strips(draw, t, blocks)
    if asked.design == "latin_square":
        if blocks != len(t):
            raise Refused(
                "bad-design",
                f"A Latin square is square: {len(t)} treatments need {len(t)} rows and columns, not {blocks}. Change "
                "the number of treatments, or use randomised complete blocks.",
            )
        return draw_latin_square(draw, t)
    if asked.design == "split_plot":
        return draw_split_plot(draw, t, asked.whole_plot_factor, blocks)
    if asked.design == "incomplete_block":
        return draw_incomplete_blocks(draw, t, asked.block_size, blocks, serpentine=asked.serpentine)
    if asked.design == "strip_plot":
        return draw_strip_plot(draw, t, asked.row_factor, asked.column_factor, blocks)
    return draw_blocks(draw, t, blocks, serpentine=asked.serpentine)


def read_plan(raw: object) -> PlanAsked:
    """Check a plan in its JSON shape (docs/plan.md). Raises `Refused` with the entry and what to do."""
    if not isinstance(raw, Mapping):
        raise Refused("bad-specification", "The plan must be a JSON object with a design, treatments and a seed.")
    require_known(raw, _KEYS, "The plan has the unknown entry")
    named = raw.get("design")
    if named not in _DESIGNS:
        raise Refused("bad-specification", f"design is {named!r}; it must be one of: {', '.join(_DESIGNS)}.")
    design: PlannedDesign = named
    factors = _factors(raw.get("factors"))
    treatments = _treatments(raw, factors)
    size = PlotSize(
        _length(raw, "plot_width_m", 3.0), _length(raw, "plot_length_m", 10.0), _length(raw, "gap_m", 0.0),
        _length(raw, "alley_m", 0.0),
    )  # fmt: skip
    asked = PlanAsked(
        design, treatments, factors, _sites(raw, design, len(treatments)), size, _seed(raw.get("seed")),
        _factor(raw, "whole_plot_factor", factors, design == "split_plot"),
        _factor(raw, "row_factor", factors, design == "strip_plot"),
        _factor(raw, "column_factor", factors, design == "strip_plot"),
        _constraints(raw.get("constraints"), treatments), systematic=_flag(raw, "systematic"),
        demonstration=_flag(raw, "demonstration"), block_size=_block_size(raw, design, len(treatments)),
    )  # fmt: skip
    if design == "strip_plot" and asked.row_factor == asked.column_factor:
        raise Refused("bad-specification", "row_factor and column_factor are the same; each strip needs its own.")
    if design == "strip_plot" and len(factors) > 2:
        raise Refused("bad-specification", f"A strip plot crosses two factors; there are {len(factors)}.")
    return asked


def _factors(raw: object) -> dict[str, tuple[str, ...]]:
    if raw is None:
        return {}
    if not isinstance(raw, Mapping):
        raise Refused("bad-specification", "factors must be an object: each factor’s name with the list of its levels.")
    return {str(name): _labels(levels, f"factors.{name}") for name, levels in raw.items()}


def _labels(raw: object, what: str) -> tuple[str, ...]:
    usable = isinstance(raw, Sequence) and not isinstance(raw, str)
    if not usable or not all(isinstance(v, str | int | float) and str(v).strip() for v in raw):  # type: ignore[attr-defined]
        raise Refused("bad-specification", f"{what} must be a list of names, none of them empty.")
    return tuple(str(value).strip() for value in raw)  # type: ignore[attr-defined]


def _treatments(raw: Mapping[str, Any], factors: Mapping[str, tuple[str, ...]]) -> tuple[Combination, ...]:
    control = raw.get("control")
    if control is not None and (not isinstance(control, str) or not control.strip()):
        raise Refused("bad-specification", f"control is {control!r}; it must be the name of a treatment.")
    if bool(factors) == bool(raw.get("treatments")):
        both = "both treatments and factors" if factors else "neither treatments nor factors"
        raise Refused("bad-specification", f"The plan has {both}; give one of them.")
    if not factors:
        return listed(_labels(raw["treatments"], "treatments"), control=control)
    removed = raw.get("removed") or ()
    if not isinstance(removed, Sequence) or not all(isinstance(one, Mapping) for one in removed):
        raise Refused("bad-specification", "removed must be a list of objects, each factor’s name with its level.")
    return crossed(factors, controls=[control] if control else [], removed=removed)


def _sites(raw: Mapping[str, Any], design: str, treatments: int) -> tuple[PlannedSite, ...]:
    given = raw.get("sites")
    if given is None:
        return (PlannedSite("", _blocks(raw, "blocks", None, design, treatments), _origin(raw, "")),)
    if not isinstance(given, Sequence) or not given or not all(isinstance(site, Mapping) for site in given):
        raise Refused("bad-specification", "sites must be a list of objects, each with a name.")
    sites = []
    for i, site in enumerate(given):
        require_known(site, _SITE_KEYS, f"sites.{i} has the unknown entry")
        name = site.get("name")
        if not isinstance(name, str) or not name.strip():
            raise Refused("bad-specification", f"sites.{i} has no name.")
        where = {key: site.get(key, raw.get(key)) for key in ("origin", "bearing_deg")}
        sites.append(
            PlannedSite(
                name,
                _blocks(site, f"blocks of site {name}", raw.get("blocks"), design, treatments),
                _origin(where, f" of site {name}"),
            )
        )
    if len({site.name for site in sites}) < len(sites):
        raise Refused("bad-specification", "Two sites have the same name. Give each its own.")
    return tuple(sites)


def _blocks(raw: Mapping[str, Any], what: str, otherwise: object, design: str, treatments: int) -> int:
    blocks = raw.get("blocks", otherwise)
    if blocks is None and raw.get("demonstration") is True:
        return 1
    if blocks is None and design == "latin_square":
        return treatments
    if isinstance(blocks, bool) or not isinstance(blocks, int) or not 1 <= blocks <= 1000:
        raise Refused("bad-specification", f"{what} is {blocks!r}; it must be a whole number from 2 to 1000.")
    return blocks


def _block_size(raw: Mapping[str, Any], design: str, treatments: int) -> int:
    """As the file says it, else the usual one."""
    size = raw.get("block_size")
    if design != "incomplete_block":
        if size is not None:
            raise Refused("bad-specification", f"block_size belongs to design incomplete_block, not to {design}.")
        return 0
    if size is None:
        return usual_size(treatments)
    if isinstance(size, bool) or not isinstance(size, int):
        raise Refused("bad-specification", f"block_size is {size!r}; it must be a whole number from 2.")
    return size


def _origin(raw: Mapping[str, Any], whose: str) -> Origin | None:
    given = raw.get("origin")
    bearing = _number(raw["bearing_deg"], f"bearing_deg{whose}") if raw.get("bearing_deg") is not None else 0.0
    if given is None:
        return None
    if not isinstance(given, Sequence) or isinstance(given, str) or len(given) != 2:
        raise Refused("bad-specification", f"origin{whose} must be [longitude, latitude] in degrees.")
    return Origin(_number(given[0], f"origin{whose}"), _number(given[1], f"origin{whose}"), bearing)


def _number(raw: object, what: str) -> float:
    if isinstance(raw, bool) or not isinstance(raw, int | float):
        raise Refused("bad-specification", f"{what} is {raw!r}; it must be a number.")
    return float(raw)


def _length(raw: Mapping[str, Any], key: str, usual: float) -> float:
    return usual if raw.get(key) is None else _number(raw[key], key)


def _seed(raw: object) -> int:
    if isinstance(raw, bool) or not isinstance(raw, int) or raw < 0:
        raise Refused(
            "bad-specification",
            f"seed is {raw!r}; it must be a whole number from 0, so that the same file gives the same plan for ever.",
        )
    return raw


def _flag(raw: Mapping[str, Any], key: str) -> bool:
    if raw.get(key, False) not in (True, False):
        raise Refused("bad-specification", f"{key} is {raw[key]!r}; it must be true or false.")
    return bool(raw.get(key, False))


def _factor(raw: Mapping[str, Any], key: str, factors: Mapping[str, object], needed: bool) -> str:
    name = raw.get(key)
    if name is None and not needed:
        return ""
    if name not in factors:
        there = f"the factors are: {', '.join(factors)}" if factors else "the plan has no factors"
        raise Refused("bad-specification", f"{key} is {name!r}; it must be one of the factors, and {there}.")
    return str(name)


def _constraints(raw: object, treatments: Sequence[Combination]) -> tuple[Constraint, ...]:
    if raw is None:
        return ()
    if not isinstance(raw, Sequence) or not all(isinstance(one, Mapping) for one in raw):
        raise Refused("bad-specification", "constraints must be a list of objects, each with a kind.")
    names = {t.name for t in treatments}
    out = []
    for one in raw:
        kind = one.get("kind")
        if kind not in get_args(ConstraintKind):
            kinds = ", ".join(get_args(ConstraintKind))
            raise Refused("bad-specification", f"A constraint’s kind is {kind!r}; it must be one of: {kinds}.")
        whom = _labels(one.get("treatments", []), "A constraint’s treatments")
        if unknown := [name for name in whom if name not in names]:
            raise Refused("bad-specification", f"A constraint speaks of {unknown[0]!r}, which isn’t a treatment.")
        most = one.get("most", 1)
        if isinstance(most, bool) or not isinstance(most, int) or most < 1:
            raise Refused("bad-specification", f"A constraint’s most is {most!r}; it must be a whole number from 1.")
        out.append(Constraint(kind, whom, most))
    return tuple(out)
