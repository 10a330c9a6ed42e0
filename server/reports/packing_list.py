"""The packing list on paper: the bags in the order in which they are sown, with boxes to tick."""

from __future__ import annotations

from typing import cast

from apercu_core.units import System
from config import clock
from crew.models import Person
from reports.bag_labels import seed_lines, there_with_bags
from reports.map_svg import COLOUR_NAMES, map_svg, swatch_svg
from reports.printing import document_of, pdf_of, printed
from trials.models import Season


def packing_list(*, by: Person, season: Season) -> bytes:
    return pdf_of(document_of(packing_html(by=by, season=season)))


def packing_html(*, by: Person, season: Season) -> str:
    """Each bag with its plot, seed and two boxes; where the drill is cleaned; plots that are left bare; the map."""
    there = there_with_bags(by, season)
    system = cast(System, by.units)
    order = {str(t.id): i for i, t in enumerate(there.treatments)}
    units = {u.label: u for u in there.units}
    stops = []
    for n, stop in enumerate(there.stops):
        unit = units[stop.plot]
        index = order[str(unit.treatment_id)]
        code = there.treatments[index].code
        stops.append(
            {
                "turn": n + 1, "plot": stop.plot, "block": unit.block, "code": code, "clean": stop.clean,
                "colour": COLOUR_NAMES[index % len(COLOUR_NAMES)], "swatch": swatch_svg(index, code),
                "seed": seed_lines(there, str(unit.treatment_id), stop.plot, system),
            }
        )  # fmt: skip
    ground = map_svg(
        there.units, there.treatments, width=640, height=430, bearing=season.site.bearing_deg, system=system
    )
    bare = [plot.label for plot in there.plots if not there.components.get(plot.treatment)]
    shown = {
        "trial": season.trial, "where": ", ".join(filter(None, [season.site.name, season.site.place])),
        "stops": stops, "bare": ", ".join(bare), "map": ground, "today": clock.today(season.site.time_zone),
        "blocks": any(unit.block for unit in there.units), "clean": sum(stop.clean for stop in there.stops),
    }  # fmt: skip
    return printed("packing_list.html", shown)
