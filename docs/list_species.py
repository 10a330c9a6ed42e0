"""Writes docs/species-values.md: every value of the species guide with its range and its basis."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from apercu_core.species.record import FIELDS, SERVICES, SOURCES, Species
from apercu_core.species.sheet import shown
from apercu_core.species.shipped import SHIPPED

PAGE = Path(__file__).resolve().parent / "species-values.md"
LEAD = """# Values of the species guide

Made by `docs/list_species.py` from the records that ship. A single value is what its source prints, a range goes from
low to high; of kill temperatures the low end is for the hardier type, the high end for the tender one. A field that
isn’t listed for a species is unknown.

| basis | what it is |
| --- | --- |
"""


def page() -> str:
    sources = "".join(f"| {key} | {cited} |\n" for key, cited in SOURCES.items())
    species = sorted(SHIPPED.values(), key=lambda one: one.name)
    return LEAD + sources + "".join(map(_section, species))


def _section(one: Species) -> str:
    rows = []
    for key, field in FIELDS.items():
        fact = one.facts.get(key)
        if fact is not None and key not in ("common", *SERVICES):
            unit = f" {field.unit}" if field.unit else ""
            text = shown(fact.value).replace("-", "−") if field.kind == "range" else shown(fact.value)
            rows.append(f"| {field.label} | {text}{unit} | {fact.source} |\n")
    ratings = ", ".join(f"{label.lower()} {one.rating(key):.0f}" for key, label in SERVICES.items())
    head = f"\n## {one.name}\n\n| field | value | basis |\n| --- | --- | --- |\n"
    return f"{head}{''.join(rows)}| Services, 0 to 5 | {ratings} | rating |\n"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--check", action="store_true", help="only say whether the page is up to date")
    if not parser.parse_args().check:
        PAGE.write_text(page(), encoding="utf-8")
        return 0
    if PAGE.exists() and PAGE.read_text(encoding="utf-8") == page():
        return 0
    print("docs/species-values.md isn’t up to date. Write it again: python docs/list_species.py", file=sys.stderr)
    return 1


if __name__ == "__main__":
    sys.exit(main())
