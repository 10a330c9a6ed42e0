"""Rows of a table → the plots that are analysed: the experimental units with one value each."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Bools, Floats, Ints
from apercu_core.errors import Refused
from apercu_core.statistics.specification import Specification

Cell = str | float | int | None
Row = Mapping[str, Cell]


@dataclass(frozen=True, slots=True)
class Factor:
    """A category for each plot. `codes`: shape (n,), indices into `levels`."""

    name: str
    levels: tuple[str, ...]
    codes: Ints

    def __len__(self) -> int:
        return len(self.levels)


@dataclass(frozen=True, slots=True)
class Plots:
    """The analysed plots, in order of first appearance, those without a response left out.

    `response`: shape (n,), in the measure's unit; of counts and k of n the sum over the plot's samples. `exposure`,
    `trials`: shape (n,), what they were counted from; None where there is none. `row_of`: index of each plot's first
    row in the table.
    """

    response: Floats
    factors: Mapping[str, Factor]
    covariates: Mapping[str, Floats]
    row_of: Ints
    subsamples: Ints
    exposure: Floats | None = None
    trials: Floats | None = None

    def __len__(self) -> int:
        return int(self.response.size)

    def where(self, kept: Bools) -> Plots:
        """Some of the plots, shape (n,); levels that none of them has are dropped."""
        return Plots(
            self.response[kept],
            {name: make_factor(name, [f.levels[c] for c in f.codes[kept]]) for name, f in self.factors.items()},
            {name: values[kept] for name, values in self.covariates.items()},
            self.row_of[kept],
            self.subsamples[kept],
            None if self.exposure is None else self.exposure[kept],
            None if self.trials is None else self.trials[kept],
        )


def make_factor(name: str, labels: Sequence[str]) -> Factor:
    """Levels are sorted as text, so that the order of rows never matters."""
    levels = tuple(sorted(set(labels)))
    index = {level: i for i, level in enumerate(levels)}
    return Factor(name, levels, np.array([index[label] for label in labels], dtype=np.int64))


def cross(name: str, *factors: Factor) -> Factor:
    """One level for each combination that occurs."""
    labels = [":".join(f.levels[c] for f, c in zip(factors, codes, strict=True))
              for codes in zip(*(f.codes for f in factors), strict=True)]  # fmt: skip
    return make_factor(name, labels)


def plots_of(rows: Sequence[Row], spec: Specification) -> Plots:
    """Average subsamples to plots, or add up counts, and drop plots without a response.

    An empty field is missing; the words None and NA are labels. Raises `Refused` with the row (counted from the
    first row of data as 2, as a spreadsheet shows it) where a value can't be used.
    """
    if not rows:
        raise Refused("too-few-plots", "The table has no rows of data.")
    _require_columns(rows[0], spec)
    numbers = [_number(row.get(spec.response), spec.response, i) for i, row in enumerate(rows)]
    groups = _rows_of_plots(rows, spec)
    kept = [[i for i in group if not math.isnan(numbers[i])] for group in groups]
    kept = [group for group in kept if group]
    if len(kept) < 2:
        few = f"Only {len(kept)} plot has" if kept else "No plot has"
        raise Refused("too-few-plots", f"{few} a value in {spec.response!r}; at least 2 are needed.")
    if spec.counted:
        _require_counts(rows, spec, [i for group in kept for i in group], numbers)
    sums = np.array([sum(numbers[i] for i in group) for group in kept])
    response = sums if spec.counted else sums / np.array([len(group) for group in kept])
    first = [group[0] for group in kept]
    return Plots(
        response,
        {name: make_factor(name, [_label(rows[i], name, i) for i in first]) for name in spec.categories},
        {name: np.array([_covariate(rows[i], name, i) for i in first]) for name in spec.covariates},
        np.array(first, dtype=np.int64),
        np.array([len(group) for group in kept], dtype=np.int64),
        _summed(rows, spec.exposure, kept),
        _summed(rows, spec.trials, kept),
    )


def _summed(rows: Sequence[Row], name: str | None, groups: Sequence[Sequence[int]]) -> Floats | None:
    """What the plot's counts were taken from, all samples together; above zero in each."""
    if not name:
        return None
    values = [[_number(rows[i].get(name), name, i) for i in group] for group in groups]
    for group, own in zip(groups, values, strict=True):
        for i, value in zip(group, own, strict=True):
            if not value > 0:
                raise Refused("bad-value", f"Row {i + 2}: {name!r} must be above 0 where something was counted.")
    return np.array([sum(own) for own in values])


def _require_counts(rows: Sequence[Row], spec: Specification, kept: Sequence[int], numbers: Sequence[float]) -> None:
    for i in kept:
        if numbers[i] < 0 or numbers[i] != int(numbers[i]):
            raise Refused(
                "bad-value", f"Row {i + 2}: {spec.response!r} is {numbers[i]:g}, but counts are whole numbers from 0."
            )
        most = _number(rows[i].get(spec.trials), spec.trials, i) if spec.trials else math.inf
        if numbers[i] > most or (spec.trials and most != int(most)):
            raise Refused(
                "bad-value",
                f"Row {i + 2}: {spec.response!r} is {numbers[i]:g} of {spec.trials!r} {most:g}, which can’t be.",
            )


def _require_columns(row: Row, spec: Specification) -> None:
    for name in spec.columns:
        if name not in row:
            there = ", ".join(repr(column) for column in row)
            raise Refused("missing-column", f"The table has no column {name!r}. Its columns are: {there}.")


def _rows_of_plots(rows: Sequence[Row], spec: Specification) -> list[list[int]]:
    if not spec.subsample or not spec.plot:
        return [[i] for i in range(len(rows))]
    groups: dict[tuple[str, ...], list[int]] = {}
    for i, row in enumerate(rows):  # plots of several sites may have the same numbers
        groups.setdefault(tuple(_label(row, name, i) for name in (*spec.environments, spec.plot)), []).append(i)
    for key, group in groups.items():
        plot = " ".join(key)
        for name in spec.categories:
            found = {str(rows[i].get(name)) for i in group}
            if len(found) > 1:
                both = " and ".join(sorted(found)[:2])
                raise Refused("bad-value", f"Plot {plot!r} has two values of {name!r}: {both}. A plot can have one.")
    return list(groups.values())


def _label(row: Row, name: str, i: int) -> str:
    value = row.get(name)
    text = "" if value is None else str(value).strip()
    if not text:
        raise Refused("bad-value", f"Row {i + 2}: {name!r} is empty. Fill it in, or leave the row out.")
    return text


def _number(value: Cell, name: str, i: int) -> float:
    """The value as a float; NaN where it is missing."""
    if value is None or (isinstance(value, str) and not value.strip()):
        return math.nan
    try:
        number = float(value)
    except ValueError:
        number = math.inf
    if not math.isfinite(number):
        raise Refused("bad-value", f"Row {i + 2}: {name!r} is {value!r}, which isn’t a number. Correct it or empty it.")
    return number


def _covariate(row: Row, name: str, i: int) -> float:
    number = _number(row.get(name), name, i)
    if math.isnan(number):
        raise Refused("bad-value", f"Row {i + 2}: the covariate {name!r} is missing in a plot that has a response.")
    return number
