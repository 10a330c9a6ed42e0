"""The table of the catalogue as a document: `python -m apercu_core.measures.table` prints it."""

from __future__ import annotations

from apercu_core.measures.catalogue import CATALOGUE, GROUPS
from apercu_core.measures.definition import Definition
from apercu_core.words import number

_HEAD = """# The measures that ship with Apercu

Made from the catalogue (`apercu_core/measures`) by `python -m apercu_core.measures.table > docs/measures.md`; a test
compares the two. Ranges outside the first pair are asked about, outside the second refused. Spreads are those between
plots of a block, from experience. The example is what is typed, and the value that it makes.
"""
_COLUMNS = ("Measure", "Unit", "Kind", "How it is entered", "Formula", "Usual range; possible", "Better", "Spread, %",
            "Failed cover", "Example", "Mind")  # fmt: skip
_BETTER = {"higher": "higher", "lower": "lower", "none": "said in the trial"}


def measures_table() -> str:
    parts = [_HEAD]
    for group in GROUPS:
        rows = [_row(one) for one in CATALOGUE.values() if one.group == group]
        parts += [f"\n## {group}\n", _line(_COLUMNS), _line(["---"] * len(_COLUMNS)), *(_line(row) for row in rows)]
    return "\n".join(parts) + "\n"


def _row(one: Definition) -> list[str]:
    sheet = one.sheet
    fields = [f"{field.name}{f', {field.unit}' if field.unit else ''}" for field in sheet.fields]
    held = [f"{setting.name}{f', {setting.unit}' if setting.unit else ''}" for setting in sheet.settings]
    entered = f"{sheet.name}: {'; '.join(fields)}" + (f" (held for a visit: {'; '.join(held)})" if held else "")
    (low, high), (least, most) = one.plausible, one.possible
    return [
        one.name, one.unit, sheet.values or one.kind, entered, sheet.said,
        f"{number(low)} to {number(high)}; {number(least)} to {number(most)}",
        _BETTER[one.direction], f"{number(one.cv_percent)} ({number(one.spread[0])} to {number(one.spread[1])})",
        "zero" if one.zero_when else "observed", _example(one), f"{one.pitfall} {one.depends}".strip(),
    ]  # fmt: skip


def _example(one: Definition) -> str:
    names = {field.key: field.name for field in one.sheet.fields}
    settings = {setting.key: setting for setting in one.sheet.settings}
    typed = [f"{names[key]} {text}" for key, text in one.example.typed.items() if text]
    held = [
        f"{settings[key].name} {number(value)} {settings[key].unit}".strip()
        for key, value in {**one.settings, **one.example.settings}.items()
        if key != "frames"
    ]
    return f"{'; '.join([*typed, *held])} → {number(one.example.value)} {one.unit}".strip()


def _line(cells: list[str] | tuple[str, ...]) -> str:
    return f"| {' | '.join(cells)} |"


if __name__ == "__main__":
    print(measures_table(), end="")
