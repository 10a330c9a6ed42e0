"""A drawn map out to the field: stake-out list, outlines, and the map on one page."""

from __future__ import annotations

import json
from typing import Any, Literal, cast

from apercu_core.cells import written
from apercu_core.field.geodesy import Origin
from apercu_core.field.layout import Rectangle
from apercu_core.field.stake_out import feature_collection
from apercu_core.reading.description import only_described
from apercu_core.trial.facts import Allocation, TrialFacts
from apercu_core.units import System, shown_in
from apercu_core.words import number
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from readings.bridge import plot_facts
from reports.map_svg import key_of, map_svg
from reports.printing import document_of, pdf_of, printed
from trials.models import Season, Unit

Ink = Literal["colour", "black"]


def staked_plots(by: Person, season: Season) -> list[Unit]:
    """The season's plots with their ground; raises `Conflict` where there is no map to scale."""
    require(by, "see", season)
    plots = [u for u in season.units.plots().select_related("ground") if u.ground]  # type: ignore[attr-defined]
    if not plots or any(u.ground.schematic for u in plots):
        raise Conflict("There is no plot map to scale yet. Randomise the plots in Plan.")
    return plots


def _rows(season: Season, plots: list[Unit], system: System = "metric") -> list[dict[str, Any]]:
    """Along (y) and across (x) from the corner to the near corners and the far ones, in metres or feet."""
    unit, factor = shown_in("m", system)

    def ends(name: str, start: float, size: float) -> dict[str, float]:
        return {f"{name}_{end}_{unit}": round(at * factor, 3) for end, at in (("from", start), ("to", start + size))}

    factors = [str(f["name"]) for f in season.trial.factors]
    rows = []
    for u in plots:
        g, t = u.ground, u.treatment
        assert g is not None
        assert t is not None
        rows.append(
            {
                "site": season.site.name, "design": season.design, "plot": u.label, "block": u.block,
                "whole_plot": u.whole_plot,
                **({"incomplete_block": u.incomplete_block} if u.incomplete_block else {}),
                "row": u.row, "column": u.column,
                "treatment": t.name, "code": t.code,
                **{name: t.levels.get(name, "") for name in factors},
                **ends("across", g.x_m, g.width_m), **ends("along", g.y_m, g.length_m),
            }
        )  # fmt: skip
    return rows


def stake_out_csv(*, by: Person, season: Season) -> bytes:
    rows = _rows(season, staked_plots(by, season), cast(System, by.units))
    columns = list(dict.fromkeys(column for row in rows for column in row))
    return written([columns, *([_cell(row.get(column, "")) for column in columns] for row in rows)]).encode()


def _cell(value: object) -> object:
    """A number with three decimals gets a fourth: `3.048` could be three thousand to who reads the table next."""
    text = str(value)
    return f"{value:.4f}" if isinstance(value, float) and len(text.rpartition(".")[2]) == 3 else value


def outlines(*, by: Person, season: Season) -> bytes:
    """GeoJSON; raises `Conflict` where nobody said where on earth the corner lies."""
    plots, site = staked_plots(by, season), season.site
    if site.latitude is None or site.longitude is None:
        raise Conflict(
            "The position of the field’s corner isn’t known. Add its latitude and longitude in Ask, under the site."
        )
    origin = Origin(site.longitude, site.latitude, site.bearing_deg)
    placed = [
        (origin, Rectangle(u.ground.x_m, u.ground.y_m, u.ground.width_m, u.ground.length_m), row)
        for u, row in zip(plots, _rows(season, plots), strict=True) if u.ground
    ]  # fmt: skip
    return json.dumps(feature_collection(placed), indent=1, ensure_ascii=False).encode()


def map_page(*, by: Person, season: Season, ink: Ink) -> bytes:
    """The map on one side of A4, in colour or in black and white, with its key."""
    return pdf_of(document_of(map_html(by=by, season=season, ink=ink)))


def map_html(*, by: Person, season: Season, ink: Ink) -> str:
    """What the page says: the map, what is grown at this site, and what was changed by hand after the randomisation."""
    plots, trial = staked_plots(by, season), season.trial
    treatments = list(trial.treatments.all())
    grown = {u.treatment_id for u in plots}
    black = ink == "black"
    ground = map_svg(
        plots, treatments, width=640, height=760, bearing=season.site.bearing_deg, system=cast(System, by.units),
        black=black,
    )  # fmt: skip
    key = [one for one, treatment in zip(key_of(treatments, black=black), treatments, strict=True)
           if treatment.id in grown]  # fmt: skip
    shown = {
        "trial": trial, "map": ground, "key": key, "seed": season.seed,
        "where": ", ".join(filter(None, [season.site.name, season.site.place])),
        "size": _size(plots, cast(System, by.units)), "plots": len(plots),
        "drawn": season.drawn_at, "made": "Randomised" if season.allocation == "drawn" else "Laid out",
        "north": season.site.bearing_deg % 360,
        "untested": only_described(TrialFacts(plot_facts(plots), None, cast(Allocation, season.allocation))),
        "moved": "; ".join(str(one["said"]) for one in season.moved),
    }  # fmt: skip
    return printed("map_page.html", shown)


def _size(plots: list[Unit], system: System) -> str:
    """Width × length of the plots, `20 × 39 ft`; of the smallest and the largest where they differ."""
    unit, factor = shown_in("m", system)
    sizes = sorted({(u.ground.width_m, u.ground.length_m) for u in plots if u.ground})
    said = [f"{number(width * factor)} × {number(length * factor)} {unit}" for width, length in sizes]
    return said[0] if len(said) == 1 else f"{said[0]} to {said[-1]}"
