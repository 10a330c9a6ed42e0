"""Draw a plan and print its plots, without a database."""

from __future__ import annotations

import argparse
import csv
import json
import signal
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any, TextIO

from apercu_core.design.plan_file import PlacedPlot, PlanAsked, draw_plan, read_plan
from apercu_core.errors import Refused
from apercu_core.field.stake_out import feature_collection

REFUSED = 2


def table_of(asked: PlanAsked, placed: Sequence[PlacedPlot]) -> list[dict[str, Any]]:
    """One row for each plot, metres to the millimetre: `site` and `incomplete_block` only where there are such, and a
    column for each factor.
    """
    rows = []
    for one in placed:
        p, blocked = one.plot, asked.design != "crd"
        site = {"site": p.site} if p.site else {}
        inside = {"incomplete_block": p.incomplete_block} if p.incomplete_block else {}
        levels = dict(p.levels)
        rows.append(
            {
                **site, "plot": p.number, "block": p.block if blocked else "", "row": p.row, "column": p.column,
                "whole_plot": p.whole_plot or "", **inside, "treatment": p.treatment,
                **{name: levels.get(name, "") for name in asked.factors},
                "x_m": round(one.place.x, 3), "y_m": round(one.place.y, 3),
            }
        )  # fmt: skip
    return rows


def write_csv(rows: Sequence[dict[str, Any]], out: TextIO) -> None:
    writer = csv.DictWriter(out, list(rows[0]), lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)


def outlines(asked: PlanAsked, placed: Sequence[PlacedPlot]) -> str:
    rows = table_of(asked, placed)
    found = []
    for one, row in zip(placed, rows, strict=True):
        if one.origin is None:
            where = f" of site {one.plot.site}" if one.plot.site else ""
            raise Refused("bad-specification", f"Outlines need the origin{where}: give [longitude, latitude].")
        found.append((one.origin, one.place, row))
    return json.dumps(feature_collection(found), indent=1, ensure_ascii=False)


def plan_files(plan: Path, geojson: Path | None, out: TextIO) -> None:
    try:
        raw = json.loads(plan.read_text(encoding="utf-8-sig"))
    except OSError as error:
        raise Refused("bad-specification", f"{plan}: {error.strerror}.") from None
    except (UnicodeDecodeError, json.JSONDecodeError) as error:
        raise Refused("bad-specification", f"{plan} isn’t JSON: {error}.") from None
    asked = read_plan(raw)
    placed = draw_plan(asked)
    if geojson:
        text = outlines(asked, placed)
        try:
            geojson.write_text(text, encoding="utf-8")
        except OSError as error:
            raise Refused("bad-specification", f"{geojson}: {error.strerror}.") from None
    write_csv(table_of(asked, placed), out)


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="apercu plan", description=__doc__)
    parser.add_argument("plan", type=Path, help="the plan, JSON (docs/plan.md)")
    parser.add_argument("--geojson", type=Path, metavar="FILE", help="write the plots' outlines there as well")
    given = parser.parse_args(arguments)
    try:
        plan_files(given.plan, given.geojson, sys.stdout)
    except Refused as refusal:
        print(f"apercu plan: {refusal}", file=sys.stderr)
        return REFUSED
    return 0


if __name__ == "__main__":
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # `| head` isn't an error
    sys.exit(main(sys.argv[1:]))
