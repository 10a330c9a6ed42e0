"""Letters beside means: two means that share one aren't told apart."""

from __future__ import annotations

import math
from collections.abc import Sequence

from apercu_core.arrays import Floats
from apercu_core.statistics.comparisons import Pairs


def letters(pairs: Pairs) -> tuple[str, ...]:
    """One string per level of the family, empty for a mean without an answer or with none to compare with.

    Insert and absorb: Piepho (2004), J. Comput. Graph. Stat. 13, 456–466. Every largest set of means that don't
    differ at the family's alpha gets a letter; `a` holds the highest mean.
    """
    n = len(pairs.family.levels)
    compared = pairs.family.estimable.tolist()
    if len(compared) < 2:
        return ("",) * n
    columns: list[frozenset[int]] = [frozenset(compared)]
    for a, b, p in zip(pairs.a.tolist(), pairs.b.tolist(), pairs.p.tolist(), strict=True):
        if p < pairs.alpha:
            columns = _insert(columns, a, b)
    rank = _ranks(pairs.family.mean, pairs.family.labels)
    ordered = sorted(columns, key=lambda column: sorted(rank[i] for i in column))
    return tuple("".join(letter_name(c) for c, column in enumerate(ordered) if i in column) for i in range(n))


def _insert(columns: list[frozenset[int]], a: int, b: int) -> list[frozenset[int]]:
    split = []
    for column in columns:
        split += [column - {a}, column - {b}] if a in column and b in column else [column]
    unique = list(dict.fromkeys(split))
    return [column for column in unique if not any(column < other for other in unique)]


def _ranks(means: Floats, labels: Sequence[str]) -> list[int]:
    order = sorted(range(len(labels)), key=lambda i: (-means[i] if means[i] == means[i] else math.inf, labels[i]))
    rank = [0] * len(labels)
    for place, i in enumerate(order):
        rank[i] = place
    return rank


def letter_name(i: int) -> str:
    """a … z, then A … Z, then numbers in brackets."""
    alphabet = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ"
    return alphabet[i] if i < len(alphabet) else f"({i + 1})"
