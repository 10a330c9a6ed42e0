"""Tables as people send them: each with what a careful person reads from it, the same values or a question.

`values`: column → numbers in row order, None where there is nothing to read. `asks`: the questions that have to be
settled, by their kind and column. `odd`: (line, text) of cells that aren't numbers. `skipped`: lines that aren't rows.
"""

from dataclasses import dataclass, field

HEAD = "Block,Plot,Cover,Yield (t/ha)\n"
ROWS = ("1,101,Bare,40.1\n", "1,102,Oat,42.0\n", "2,201,Oat,43.5\n", "2,202,Bare,41.2\n")
GOOD = HEAD + "".join(ROWS)
YIELDS = [40.1, 42.0, 43.5, 41.2]
SEMICOLON = GOOD.replace(",", ";")


@dataclass
class File:
    text: str | bytes
    values: dict = field(default_factory=dict)
    asks: set = field(default_factory=set)
    odd: list = field(default_factory=list)
    skipped: list = field(default_factory=list)
    roles: dict = field(default_factory=dict)


def column(*cells, name="Weeds (1/m²)", separator=";"):
    """A good table of four plots with one more column of these cells."""
    lines = SEMICOLON.replace(";", separator).splitlines()
    extra = [name, *cells]
    return "\n".join(f"{line}{separator}{cell}" for line, cell in zip(lines, extra, strict=True)) + "\n"


def weeds(*values, asks=(), odd=(), name="Weeds (1/m²)"):
    return {"values": {name: list(values), "Yield (t/ha)": YIELDS}, "asks": set(asks), "odd": list(odd)}


LONG = "Block;Plot;Cover;Trait;Unit;Value\n" + "".join(
    f"{b};{b}0{p};{c};{trait};{unit};{value}\n"
    for b, p, c, y, w in (
        (1, 1, "Bare", 40.1, 12),
        (1, 2, "Oat", 42, 8),
        (2, 1, "Oat", 43.5, 7),
        (2, 2, "Bare", 41.2, 14),
    )
    for trait, unit, value in (("Yield", "t/ha", y), ("Weeds", "1/m²", w))
)
DATED = "Block;Plot;Cover;Date;Weeds (1/m²)\n" + "".join(
    f"{b};{b}0{p};{c};{date};{value}\n"
    for b, p, c in ((1, 1, "Bare"), (1, 2, "Oat"), (2, 1, "Oat"), (2, 2, "Bare"))
    for date, value in (("2026-05-02", 10 * p + b), ("2026-05-16", 20 * p + b))
)
SAMPLES = "Block,Plot,Cover,Frame,Count\n" + "".join(
    f"{b},{b}0{p},{c},{frame},{10 * p + b + frame}\n"
    for b, p, c in ((1, 1, "Bare"), (1, 2, "Oat"), (2, 1, "Oat"), (2, 2, "Bare"))
    for frame in (1, 2, 3)
)

MARK = ("decimal_mark", "Weeds (1/m²)")


def two_places(name, *levels):
    """Two of them with plot labels of their own and blocks of the same names."""
    return f"{name},Block,Plot,Cover,Yield (t/ha)\n" + "".join(
        f"{level},{block},{level[0]}{level[-1]}{block}0{n},{cover},{8 + n + block / 10}\n"
        for level in levels for block in (1, 2) for n, cover in ((1, "Bare"), (2, "Oat"))
    )  # fmt: skip


def beside(name, *cells):
    """A table whose yields have no unit in their header, with one more column."""
    lines = GOOD.replace("Yield (t/ha)", "Yield").splitlines()
    return "\n".join(f"{line},{cell}" for line, cell in zip(lines, (name, *cells), strict=True)) + "\n"


FILES = {
    # columns that were left out, and without which values mean something else
    "units beside values differ": File(beside("unit", "t/ha", "kg/ha", "t/ha", "t/ha"), asks={("units_differ", "unit")}),
    "units beside values are the same": File(beside("unit", *["t/ha"] * 4), asks={("unit_left_out", "unit")}),
    "two sites with plots of their own": File(two_places("site", "North", "South"), asks={("one_trial", "site")}),
    "two years with plots of their own": File(two_places("Year", "2024", "2025"), asks={("one_trial", "Year")}),
    "observers of whole blocks": File(beside("Observer", "Ada", "Ada", "Joss", "Joss")),
    "a spreadsheet made dates of yields": File(
        column("3-Apr", "4-Apr", "2-May", "1-Apr", name="Grain yield"), asks={("dates_for_values", "Grain yield")}
    ),
    "dates of sampling": File(column("2026-04-03", "2026-04-03", "2026-04-04", "2026-04-04", name="Sampled on")),
    # whole tables, dressed as they come
    "plain": File(GOOD, {"Yield (t/ha)": YIELDS}),
    "semicolons": File(SEMICOLON, {"Yield (t/ha)": YIELDS}),
    "semicolons and decimal commas": File(SEMICOLON.replace(".", ","), {"Yield (t/ha)": YIELDS}),
    "tabs": File(GOOD.replace(",", "\t"), {"Yield (t/ha)": YIELDS}),
    "windows line ends": File(GOOD.replace("\n", "\r\n"), {"Yield (t/ha)": YIELDS}),
    "old line ends": File(GOOD.replace("\n", "\r"), {"Yield (t/ha)": YIELDS}),
    "utf-16": File(GOOD.encode("utf-16"), {"Yield (t/ha)": YIELDS}),
    "utf-8 with a mark": File(GOOD.encode("utf-8-sig"), {"Yield (t/ha)": YIELDS}),
    "cells in quotation marks": File(GOOD.replace("Bare", '"Bare, raked"'), {"Yield (t/ha)": YIELDS}),
    "decimal commas in quotation marks": File(
        HEAD + '1,101,Bare,"40,1"\n1,102,Oat,"42,0"\n2,201,Oat,"43,5"\n2,202,Bare,"41,2"\n', {"Yield (t/ha)": YIELDS}
    ),
    "a note over two lines": File(
        GOOD.replace("\n", ",\n").replace("ha),", "ha),Notes").replace("42.0,", '42.0,"wet\nin the corner"'),
        {"Yield (t/ha)": YIELDS},
    ),
    "a title above": File("Trial at Gull Bay,,,\n\n" + GOOD, {"Yield (t/ha)": YIELDS}, skipped=[1, 2]),
    "sep told": File("sep=;\n" + SEMICOLON, {"Yield (t/ha)": YIELDS}, skipped=[1]),
    "units in a line": File(
        GOOD.replace(" (t/ha)\n", "\n,,,t/ha\n"), {"Yield": YIELDS}, skipped=[2]
    ),
    "empty lines and columns": File(
        GOOD.replace("\n", ",,\n").replace("2,201", ",,,,,\n2,201"), {"Yield (t/ha)": YIELDS}, skipped=[]
    ),
    "no line end after a whole line": File(GOOD.rstrip("\n"), {"Yield (t/ha)": YIELDS}),
    "lost plots": File(GOOD.replace("42.0", "NA"), {"Yield (t/ha)": [40.1, None, 43.5, 41.2]}),
    # decimal marks
    "one proof against three doubtful": File(
        column("1.870,5", "1.025", "1.950", "1.100"), **weeds(1870.5, 1025, 1950, 1100)
    ),
    "two decimals prove": File(column("2,98", "1,025", "1.950", "12"), **weeds(2.98, 1.025, 1950, 12)),
    "a zero in front proves": File(column("0,125", "1,025", "2,5", "1,950"), **weeds(0.125, 1.025, 2.5, 1.95)),
    "repeated groups prove a point": File(
        column("1,234,567", "1,025", "2.5", "999"), **weeds(1234567, 1025, 2.5, 999)
    ),
    "only groups of three": File(column("1,025", "1,950", "1,100", "1,250"), **weeds(None, None, None, None, asks=[MARK])),
    "points in groups of three": File(column("1.025", "1.950", "980", "1.250"), **weeds(None, None, 980, None, asks=[MARK])),
    "both marks": File(column("1,025", "2,98", "3.15", "1.950"), **weeds(None, 2.98, 3.15, None, asks=[MARK])),
    "both marks, none doubtful": File(column("2,98", "3.15", "4", "5"), **weeds(2.98, 3.15, 4, 5, asks=[MARK])),
    "each column by itself": File(column("1.025", "1.9", "1.1", "1.2").replace("40.1", "40,1").replace("42.0", "42,0")
                                  .replace("43.5", "43,5").replace("41.2", "41,2"), **weeds(1.025, 1.9, 1.1, 1.2)),
    "blanks part thousands": File(column("1 025", "1 950,5", "1 100", "12 250"), **weeds(1025, 1950.5, 1100, 12250)),
    "apostrophes part thousands": File(column("1'025", "1'950.5", "1’100", "990"), **weeds(1025, 1950.5, 1100, 990)),
    "a blank that may part two values": File(
        column("118", "120 450", "122", "119"), **weeds(118, None, 122, 119, asks=[("grouped", "Weeds (1/m²)")])
    ),
    # cells that aren't numbers
    "two values": File(column("12 5", "3 4", "12", "14"), **weeds(None, None, 12, 14, odd=[(2, "12 5"), (3, "3 4")])),
    "feet and inches": File(column("5'11", "12", "14", "13"), **weeds(None, 12, 14, 13, odd=[(2, "5'11")])),
    "a range and a sum": File(column("12-15", "3+4", "14", "13"), **weeds(None, None, 14, 13, odd=[(2, "12-15"), (3, "3+4")])),
    "dates": File(column("5.12.2026", "12-May", "3/4", "7"), **weeds(None, None, None, 7, odd=[
        (2, "5.12.2026"), (3, "12-May"), (4, "3/4")])),
    "days of a spreadsheet": File(column("5.1", "46361", "5.3", "4.9"), **weeds(5.1, None, 5.3, 4.9, odd=[(3, "46361")])),
    "underflow and overflow": File(column("1e-400", "1e999", "3", "4"), **weeds(None, None, 3, 4, odd=[
        (2, "1e-400"), (3, "1e999")])),
    "errors of a spreadsheet": File(column("#DIV/0!", "3", "4", "5"), **weeds(None, 3, 4, 5, odd=[(2, "#DIV/0!")])),
    "below a limit": File(column("<0.5", "3", "4", "5"), **weeds(None, 3, 4, 5, odd=[(2, "<0.5")])),
    "letters for digits": File(column("1O", "l2", "14", "13"), **weeds(None, None, 14, 13, odd=[(2, "1O"), (3, "l2")])),
    "words beside": File(column("about 12", "13 ?", "14", "13"), **weeds(None, None, 14, 13, odd=[
        (2, "about 12"), (3, "13 ?")])),
    "marks that don’t fit": File(column("1.2.3", "1,23,456", "14", "13"), **weeds(None, None, 14, 13, odd=[
        (2, "1.2.3"), (3, "1,23,456")])),
    "wide digits": File(column("１２", "13", "14", "13"), **weeds(None, 13, 14, 13, odd=[(2, "１２")])),
    "real minus and exponents": File(column("−2", "1e1", "1,5e1", "3", name="Change (1/m²)"), **weeds(
        -2, 10, 15, 3, name="Change (1/m²)")),
    "the unit beside each": File(column("12 %", "13%", "14 %", "9 %", name="Ground"), **weeds(12, 13, 14, 9, name="Ground")),
    "one in another unit": File(column("4.2", "4300 kg/ha", "4.4", "4.1", name="Straw (t/ha)"), **weeds(
        4.2, None, 4.4, 4.1, asks=[("other_unit", "Straw (t/ha)")], odd=[(3, "4300 kg/ha")], name="Straw (t/ha)")),
    # ranges and codes
    "a code for missing": File(column("12", "-99", "14", "9"), **weeds(
        12, None, 14, 9, asks=[("missing_code", "Weeds (1/m²)")])),
    "nines far away": File(column("1.2", "9999", "1.4", "0.9"), **weeds(
        1.2, None, 1.4, 0.9, asks=[("missing_code", "Weeds (1/m²)")])),
    "an impossible height": File(column("40", "4000", "41", "39", name="Plant height (cm)"), **weeds(
        40, None, 41, 39, odd=[(3, "4000")], name="Plant height (cm)")),
    "an unusual height": File(column("40", "400", "41", "39", name="Plant height (cm)"), **weeds(
        40, 400, 41, 39, asks=[("unusual", "Plant height (cm)")], name="Plant height (cm)")),
    "more than all": File(column("40", "140", "41", "39", name="Ground cover (%)"), **weeds(
        40, 140, 41, 39, asks=[("unusual", "Ground cover (%)")], name="Ground cover (%)")),
    "a single minus": File(column("40", "-41", "42", "39", name="Straw (kg)"), **weeds(
        40, -41, 42, 39, asks=[("unusual", "Straw (kg)")], name="Straw (kg)")),
    # damaged lines
    "a quote that swallows a line": File(
        GOOD.replace("Oat,42.0", '"Oat,42.0').replace("Bare,41.2", 'Bare",41.2'), {"Yield (t/ha)": YIELDS}, {("quotes", None)}
    ),
    "a quote that never closes": File(GOOD.replace("Oat,43.5", '"Oat,43.5'), {"Yield (t/ha)": YIELDS}, {("quotes", None)}),
    "a quote that eats its line": File(
        GOOD.replace("Oat,43.5", '"Oat,43.5"'), {"Yield (t/ha)": [40.1, 42.0, None, 41.2]},
        {("too_few_cells", None), ("missing_rows", None)},
    ),
    "too many cells": File(
        GOOD.replace("42.0", "42,0"), {"Yield (t/ha)": [40.1, None, 43.5, 41.2]}, {("too_many_cells", None)}
    ),
    "decimal commas between commas": File(
        GOOD.replace("40.1", "40,1").replace("42.0", "42,0").replace("43.5", "43,5").replace("41.2", "41,2"),
        {"Yield (t/ha)": [None] * 4}, {("too_many_cells", None)},
    ),
    "too few cells": File(
        GOOD.replace("2,201,Oat,43.5", "2,201,Oat"), {"Yield (t/ha)": [40.1, 42.0, None, 41.2]}, {("too_few_cells", None)}
    ),
    "cut within a line": File(GOOD[:-8], {"Yield (t/ha)": [40.1, 42.0, 43.5, None]}, {
        ("too_few_cells", None), ("missing_rows", None)}),
    "cut within a value": File(GOOD[:-2], {"Yield (t/ha)": [40.1, 42.0, 43.5, 41]}, {("last_line", None)}),
    "cut within digits": File(GOOD[:-4], {"Yield (t/ha)": [40.1, 42.0, 43.5, 4]}, {("last_line", None)}),
    "cut before a value": File(GOOD[:-5], {"Yield (t/ha)": [40.1, 42.0, 43.5, None]}, {("last_line", None)}),
    "a line gone": File(HEAD + "".join(ROWS[:3]), {"Yield (t/ha)": YIELDS[:3]}, {("missing_rows", None)}),
    "a mean below": File(GOOD + "Mean,,,41.7\n", {"Yield (t/ha)": YIELDS}, {("summary_rows", None)}, skipped=[6]),
    "the header again": File(GOOD.replace("2,201", HEAD + "2,201"), {"Yield (t/ha)": YIELDS}, skipped=[4]),
    "a plot twice": File(GOOD + ROWS[1], {"Yield (t/ha)": [*YIELDS, 42.0]}, {("repeated_rows", None), ("uneven_rows", None)}),
    "one treatment in two spellings": File(
        GOOD.replace("2,202,Bare", "2,202,bare"), {"Yield (t/ha)": YIELDS}, {("spelling", "Cover"), ("missing_rows", None)}
    ),
    # long tables, and what varies within a plot
    "long": File(
        LONG, {"Value": [40.1, 12, 42, 8, 43.5, 7, 41.2, 14]}, {("long_table", "Trait")},
        roles={"Trait": "measure", "Unit": "unit", "Value": "value", "Cover": "treatment", "Plot": "plot"},
    ),
    "long without a known name": File(
        LONG.replace("Trait", "Sort").replace("Value", "Found"), {"Found": [40.1, 12, 42, 8, 43.5, 7, 41.2, 14]},
        {("long_table", "Sort")}, roles={"Sort": "measure", "Found": "value"},
    ),
    "long with a row gone": File(
        LONG.replace("2;202;Bare;Weeds;1/m²;14\n", ""), {"Value": [40.1, 12, 42, 8, 43.5, 7, 41.2]},
        {("long_table", "Trait"), ("missing_values", None)},
    ),
    "dates within a plot": File(
        DATED, {"Weeds (1/m²)": [11, 21, 21, 41, 12, 22, 22, 42]},
        {("differs_within_plot", "Date"), ("repeated_rows", None)},
    ),
    "observers within a plot": File(
        DATED.replace("Date", "Observer").replace("2026-05-02", "Ann").replace("2026-05-16", "Ben"),
        {"Weeds (1/m²)": [11, 21, 21, 41, 12, 22, 22, 42]}, {("differs_within_plot", "Observer"), ("repeated_rows", None)},
    ),
    "species within a plot": File(
        DATED.replace("Date", "Species found").replace("2026-05-02", "fat hen").replace("2026-05-16", "groundsel"),
        {"Weeds (1/m²)": [11, 21, 21, 41, 12, 22, 22, 42]},
        {("differs_within_plot", "Species found"), ("repeated_rows", None)},
    ),
    "depths within a plot": File(
        DATED.replace("Date", "Depth (cm)").replace("2026-05-02", "10").replace("2026-05-16", "30"),
        {"Weeds (1/m²)": [11, 21, 21, 41, 12, 22, 22, 42]}, {("layer", "Depth (cm)"), ("repeated_rows", None)},
    ),
    "samples": File(
        SAMPLES, {"Count": [12, 13, 14, 22, 23, 24, 13, 14, 15, 23, 24, 25]}, roles={"Frame": "sample", "Count": "value"}
    ),
    "samples, cut": File(SAMPLES[: SAMPLES.rindex("2,202")], {}, {("uneven_rows", None)}),
    "sites together": File(
        "Site," + HEAD + "".join(f"{site},{row}" for site in ("North", "South") for row in ROWS), {},
        {("differs_within_plot", "Site"), ("repeated_rows", None)},
    ),
}  # fmt: skip
