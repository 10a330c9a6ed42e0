"""Labels that differ in spelling only, so that one treatment doesn't become two."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import replace
from difflib import SequenceMatcher

from apercu_core.numbers import read_number
from apercu_core.tables.questions import STOP, Answers, Choice, Question, answer_to
from apercu_core.tables.read import Table
from apercu_core.tables.roles import Role

_ALIKE = 0.85
_LABELS = ("treatment", "block", "measure")


def respell(table: Table, roles: Mapping[str, Role], answers: Answers) -> tuple[Table, tuple[Question, ...]]:
    """The table with one spelling for each label, where a person says that they are the same; and what is asked."""
    asked = []
    for at, name in enumerate(table.header):
        if roles.get(name) not in _LABELS:
            continue
        counts = Counter(row[at] for row in table.rows if row[at])
        same = _spelled_alike(counts)
        if not same:
            continue
        rare, usual = next(iter(same.items()))
        lines = tuple(line for line, row in zip(table.lines, table.rows, strict=True) if row[at] in same)
        why = f"Column {name!r} has {usual!r} and {rare!r}. Are they the same?"
        choices = (Choice("same", f"They are the same: {usual!r}."), Choice("apart", "They are different."), STOP)
        question = Question("spelling", name, lines, why, choices)
        asked.append(question)
        if answer_to(question, answers) == "same":
            rows = tuple((*row[:at], same.get(row[at], row[at]), *row[at + 1 :]) for row in table.rows)
            table = replace(table, rows=rows)
    return table, tuple(asked)


def _spelled_alike(counts: Counter[str]) -> dict[str, str]:
    """Rarer spelling → the usual one."""
    by_sound: dict[str, str] = {}
    same: dict[str, str] = {}
    ordered = sorted(counts, key=lambda label: (-counts[label], label))
    for label in ordered:
        plain = _plain(label)
        if plain in by_sound:
            same[label] = by_sound[plain]
        by_sound.setdefault(plain, label)
    for label in ordered:
        if label in same or counts[label] > 1 or len(label) < 5 or re.search("[0-9]", label):
            continue
        near = [
            other
            for other in ordered
            if counts[other] > 1 and SequenceMatcher(None, label.lower(), other.lower()).ratio() >= _ALIKE
        ]
        if near:
            same[label] = near[0]
    return same


def _plain(label: str) -> str:
    value = read_number(label)
    return f"{value:g}" if value is not None else re.sub(r"[^\w+/%]|_", "", label.casefold())
