"""The measures that ship with the application, as data; `docs/measures.md` is the table of them.

Ranges are rules of thumb of our own for temperate arable ground: outside `plausible` a value is questioned, outside
`possible` refused. `cv_percent` is a rule of thumb for the spread between plots of a block, to plan with until the
workspace has trials of its own.
"""

from __future__ import annotations

from dataclasses import replace

from apercu_core.measures.definition import Definition
from apercu_core.measures.over_visits import OverVisits
from apercu_core.measures.shipped.cover import COVER
from apercu_core.measures.shipped.crop import CROP
from apercu_core.measures.shipped.insects import INSECTS
from apercu_core.measures.shipped.soil import SOIL
from apercu_core.measures.shipped.weeds import WEEDS
from apercu_core.measures.shipped.work import WORK
from apercu_core.units import unit_of

OTHER = "Other"
GROUPS = {"Cover": COVER, "Weeds": WEEDS, "Insects and damage": INSECTS, "Soil": SOIL, "Crop": CROP, "Work": WORK}
"""A board with many measures is parted by what they are measured on."""
CATALOGUE: dict[str, Definition] = {
    one.key: replace(one, group=group) for group, measures in GROUPS.items() for one in measures
}


def group_of(key: str) -> str:
    """What a measure of the catalogue is measured on; `Other` for one's own."""
    known = CATALOGUE.get(key)
    return known.group if known else OTHER


def definition(key: str) -> Definition | None:
    """The shipped measure of that key, if there is one."""
    return CATALOGUE.get(key)


def definition_named(name: str, unit: str) -> Definition | None:
    """The shipped measure that a column's name and unit mean beyond doubt; None where several could be meant."""
    plain = name.strip().casefold()
    for known in CATALOGUE.values():
        names = (known.name, known.key.replace("-", " "), *known.also)
        if plain in (name.casefold() for name in names) and measures_alike(unit, known.unit):
            return known
    return None


def measures_alike(unit: str, known: str) -> bool:
    """Whether values in `unit` can be turned into `known`; things counted are alike by whatever name (`1/m²`)."""
    if not unit:
        return False
    given, wanted = unit_of(unit), unit_of(known)
    return given.dimension == wanted.dimension


def usual_over_visits(catalogue: str) -> OverVisits:
    """What a measure's value is where it was taken at several visits and nobody has said: pulled weeds add up."""
    known = definition(catalogue)
    return known.over_visits if known else "last"


def zero_when_failed(catalogue: str) -> bool:
    """Whether a plot whose cover failed counts as zero; never for a measure that isn't in the catalogue."""
    known = definition(catalogue)
    return known is not None and "failed" in known.zero_when
