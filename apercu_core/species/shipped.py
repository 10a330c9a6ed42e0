"""The species that ship with the app: what a named public source says, what is from experience, else unknown."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from apercu_core.species.data import cited, dangers, figures, plants
from apercu_core.species.record import EXPERIENCE, OWN_RATING, SERVICES, Fact, Species, Value

Facts = dict[str, Fact]


def _lines(table: str) -> list[list[str]]:
    return [[part.strip() for part in line.split("|")] for line in table.strip().split("\n")]


def _ends(text: str) -> tuple[float, float]:
    low, high = (float(end) for end in text.split())
    return low, high


def _plant(line: list[str]) -> tuple[str, Facts]:
    key, name, botanical, family, cycle, pathway, season, nitrogen, roots, ratings = line
    values = {
        "common": name, "botanical": botanical, "family": family, "life_cycle": cycle, "pathway": pathway,
        "nitrogen": nitrogen, "rooting": roots, "climbing": "yes" if key in plants.CLIMB else "no",
    }  # fmt: skip
    facts = {field: Fact(value, "botany") for field, value in values.items()}
    hosts = plants.MYCORRHIZA_BY_GENUS.get(key, "no" if family in plants.NO_MYCORRHIZA else "yes")
    facts["mycorrhiza"] = Fact(hosts, "brundrett")
    facts["season"] = Fact(season, EXPERIENCE)
    facts["supports"] = Fact("yes" if key in plants.CARRY else "no", OWN_RATING)
    facts |= {field: Fact(float(digit), OWN_RATING) for field, digit in zip(SERVICES, ratings, strict=True)}
    return key, facts


def _ranges(line: list[str]) -> tuple[str, Facts]:
    key, *cells, competitiveness = line
    facts = {
        field: Fact(_ends(cell), EXPERIENCE)
        for field, cell in zip(figures.RANGE_COLUMNS, cells, strict=True)
        if cell != "-"
    }
    facts["competitiveness"] = Fact(float(competitiveness), EXPERIENCE)
    facts["kill_basis"] = Fact(figures.MEASURED_AS.get(key, figures.USUALLY_MEASURED_AS), EXPERIENCE)
    return key, facts


def _clark(line: list[str]) -> tuple[str, Facts]:
    key, germination, drilled, broadcast, depth = line
    facts = {}
    if germination != "-":
        least = float(round((float(germination) - 32) / 1.8))
        facts["germination_min"] = Fact((least, least), "clark")
    for field, cell in (("drilled", drilled), ("broadcast", broadcast)):
        if cell != "-":
            low, high = _ends(cell)
            facts[field] = Fact((float(round(low * 1.12085)), float(round(high * 1.12085))), "clark")
    if depth != "-":
        low, high = _ends(depth)
        facts["depth"] = Fact((round(low * 2.54, 1), round(high * 2.54, 1)), "clark")
    return key, facts


def _seed_weight(seeds: int) -> Fact:
    grams = round(1000 / seeds, 2 if seeds > 100 else 1)
    return Fact((grams, grams), "seed-act")


def _by_value(field: str, lists: Mapping[str, Iterable[str]]) -> dict[str, Facts]:
    """Key → the field's fact, from lists of the species that have each value."""
    return {key: {field: Fact(value, EXPERIENCE)} for value, keys in lists.items() for key in keys}


def _from_experience(field: str, values: Mapping[str, Value]) -> dict[str, Facts]:
    return {key: {field: Fact(value, EXPERIENCE)} for key, value in values.items()}


def _layers() -> list[dict[str, Facts]]:
    """From what holds in general to what a source says of a species: the later one stands."""
    keys = [line[0] for line in _lines(plants.PLANTS)]
    degree_days = {
        key: {
            "gdd_flower": Fact((float(low), float(high)), EXPERIENCE),
            "gdd_method": Fact(f"{method}; {figures.DEGREE_DAYS_WHERE}", EXPERIENCE),
        }
        for key, (low, high, method) in figures.DEGREE_DAYS.items()
    }
    pairs: Mapping[str, Mapping[str, tuple[float, float]]] = {
        "soil_recommended": figures.RECOMMENDED_SOIL, "bloom": figures.FIRST_BLOOM,
        "sow_latest": {key: (days, days) for key, days in figures.SOWN_AT_LATEST.items()},
    }  # fmt: skip
    return [
        dict(_plant(line) for line in _lines(plants.PLANTS)),
        dict(_ranges(line) for line in _lines(figures.RANGES)),
        *(
            _from_experience(field, {key: (float(low), float(high)) for key, (low, high) in values.items()})
            for field, values in pairs.items()
        ),
        degree_days,
        _by_value("cold_need", figures.COLD_NEED),
        _by_value("day_length", figures.DAY_LENGTH),
        _by_value("salt", figures.SALT),
        _by_value("seed_shape", figures.SEED_SHAPE),
        _by_value("frost_seeded", {"yes": figures.FROST_SEEDED, "no": set(keys) - set(figures.FROST_SEEDED)}),
        _by_value("coated", {"yes": figures.COATED}),
        _by_value("hard_seed", figures.HARD_SEED),
        _by_value("seed_risk", figures.SEED_RISK),
        _by_value("regrowth_mown", {"until the kill stage": figures.UNTIL_THE_STAGE["mown"]}),
        _from_experience("kill_stage", figures.KILL_STAGE),
        _from_experience("hosts", dangers.CARRIED),
        _from_experience("resists", dangers.RESISTS),
        _from_experience("uncleaned", dangers.UNCLEANED),
        _from_experience("stock_danger", dangers.STOCK),
        _from_experience("partners", plants.PARTNERS),
        {key: {"inoculant": Fact(plants.INOCULANTS.get(key, plants.NO_INOCULANT), "botany")} for key in keys},
        {key: {"stock_danger": Fact(text, source)} for key, (text, source) in dangers.STOCK_CITED.items()},
        dict(_clark(line) for line in _lines(cited.CLARK)),
        {key: {"tkw": _seed_weight(seeds)} for key, seeds in cited.SEEDS_PER_GRAM.items()},
        {
            key: {field: value if isinstance(value, Fact) else Fact(value, "clark") for field, value in more.items()}
            for key, more in cited.MORE.items()
        },
    ]


def _all() -> dict[str, Species]:
    found: dict[str, Facts] = {}
    for layer in _layers():
        for key, facts in layer.items():
            found.setdefault(key, {}).update(facts)
    return {key: Species(key, facts) for key, facts in found.items()}


SHIPPED: Mapping[str, Species] = _all()
