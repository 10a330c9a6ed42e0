"""Analyse one table, or a folder of cases, without a database."""

from __future__ import annotations

import argparse
import csv
import io
import json
import sys
from pathlib import Path
from typing import Any

from apercu_core.errors import Refused
from apercu_core.power.power_tables import power_table
from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.generalised import analyse_counts
from apercu_core.statistics.plots import Row
from apercu_core.statistics.rank_analysis import analyse_ranks
from apercu_core.statistics.reference_json import as_json, counts_as_json, ranks_as_json
from apercu_core.statistics.specification import read_specification

REFUSED = 2


def read_rows(path: Path) -> list[Row]:
    """A UTF-8 CSV with a header; raises `Refused` for a row with too many or too few fields."""
    try:
        text = path.read_bytes().decode("utf-8-sig")
    except OSError as error:
        raise Refused("not-a-table", f"{path}: {error.strerror}.") from None
    except UnicodeDecodeError as error:
        raise Refused("not-a-table", f"{path}: byte {error.start} isn’t UTF-8. Save the table as UTF-8.") from None
    try:
        lines = list(csv.reader(io.StringIO(text)))
    except csv.Error as fault:
        raise Refused("not-a-table", f"{path}: the table can’t be read ({fault}).") from None
    if not lines or not any(lines[0]):
        raise Refused("not-a-table", f"{path}: the table is empty.")
    header = lines[0]
    if len(set(header)) < len(header):
        twice = next(name for name in header if header.count(name) > 1)
        raise Refused("not-a-table", f"{path}: two columns are called {twice!r}.")
    rows: list[Row] = []
    for number, fields in enumerate(lines[1:], start=2):
        if not any(fields):
            continue
        if len(fields) != len(header):
            raise Refused(
                "not-a-table", f"{path}: row {number} has {len(fields)} fields, the header has {len(header)}."
            )
        rows.append(dict(zip(header, fields, strict=True)))
    return rows


def read_json(path: Path) -> Any:
    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as error:
        raise Refused("bad-specification", f"{path}: {error.strerror}.") from None
    except (UnicodeDecodeError, json.JSONDecodeError) as error:
        raise Refused("bad-specification", f"{path} isn’t JSON: {error}.") from None


def analyse_files(data: Path, spec: Path) -> str:
    raw = read_json(spec)
    kind = raw.get("analysis") if isinstance(raw, dict) else None
    if kind in ("power_rcbd", "power_paired_t"):
        result = power_table(kind, read_rows(data))
    else:
        specification = read_specification(raw)
        rows = read_rows(data)
        if specification.analysis != "anova":
            result = ranks_as_json(analyse_ranks(rows, specification))
        elif specification.counted:
            result = counts_as_json(analyse_counts(rows, specification))
        else:
            result = as_json(analyse(rows, specification))
    return json.dumps(result, indent=1, ensure_ascii=False, allow_nan=False)


def analyse_suite(suite: Path, out: Path) -> int:
    """Write a result for each case that can be done; list the refused. 1 if there were any."""
    cases = sorted(folder for folder in suite.iterdir() if (folder / "spec.json").is_file()) if suite.is_dir() else []
    if not cases:
        raise Refused("bad-specification", f"{suite} holds no folders with data.csv and spec.json.")
    out.mkdir(parents=True, exist_ok=True)
    refused = 0
    for case in cases:
        result = out / f"{case.name}.json"
        result.unlink(missing_ok=True)
        try:
            result.write_text(analyse_files(case / "data.csv", case / "spec.json"), encoding="utf-8")
        except Refused as refusal:
            refused += 1
            print(f"refused {case.name}: {refusal}", file=sys.stderr)
    print(f"{len(cases) - refused} of {len(cases)} cases written to {out}; {refused} refused.")
    return 1 if refused else 0


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="apercu analyse", description=__doc__)
    parser.add_argument("data", nargs="?", type=Path, help="table, CSV in UTF-8")
    parser.add_argument("spec", nargs="?", type=Path, help="specification, JSON (docs/analyse.md)")
    parser.add_argument("--suite", type=Path, metavar="DIR", help="a folder of cases, each with data.csv and spec.json")
    parser.add_argument("--out", type=Path, metavar="DIR", help="where the results of --suite go")
    given = parser.parse_args(arguments)
    if bool(given.suite) != bool(given.out) or bool(given.suite) == bool(given.spec):
        parser.error("give DATA.csv and SPEC.json, or --suite DIR with --out DIR")
    try:
        if given.suite:
            return analyse_suite(given.suite, given.out)
        print(analyse_files(given.data, given.spec))
    except Refused as refusal:
        print(f"apercu analyse: {refusal}", file=sys.stderr)
        return REFUSED
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
