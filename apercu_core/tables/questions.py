"""What only a person can settle about a table, before anything of it is kept."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

Answers = Mapping[str, str]
"""Question id → key of the choice that the person took."""

MOST_SHOWN = 8


@dataclass(frozen=True, slots=True)
class Choice:
    key: str
    text: str


STOP = Choice("stop", "Correct the table and import it again.")


@dataclass(frozen=True, slots=True)
class DoubtfulCell:
    """A cell that can be read in several ways; `readings`: what each choice would make of it, in their order."""

    line: int
    text: str
    readings: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Question:
    """`about`: a stable name of the kind; `column`: None where it is about rows; `lines`: of the file, from 1."""

    about: str
    column: str | None
    lines: tuple[int, ...]
    why: str
    choices: tuple[Choice, ...]
    cells: tuple[DoubtfulCell, ...] = ()

    @property
    def id(self) -> str:
        return self.about if self.column is None else f"{self.about}:{self.column}"


@dataclass(frozen=True, slots=True)
class OddCell:
    """A cell that can't be used: where it stands, what it holds, what is wrong with it."""

    line: int
    column: str
    text: str
    why: str


def answer_to(question: Question, answers: Answers) -> str | None:
    """The key of the choice that was taken; None while the question is open or the answer isn't one of its choices."""
    given = answers.get(question.id)
    return given if given in {choice.key for choice in question.choices} else None


def open_questions(questions: Iterable[Question], answers: Answers) -> tuple[Question, ...]:
    """Those that nobody has answered, or answered with the wish to correct the table first."""
    return tuple(q for q in questions if answer_to(q, answers) in (None, STOP.key))


def lines_said(lines: Sequence[int]) -> str:
    """`line 7`, `lines 3, 4 and 9`; past eight, how many more there are."""
    if len(lines) == 1:
        return f"line {lines[0]}"
    shown = [str(line) for line in lines[:MOST_SHOWN]]
    if len(lines) > MOST_SHOWN:
        return f"lines {', '.join(shown)} and {len(lines) - MOST_SHOWN} more"
    return f"lines {', '.join(shown[:-1])} and {shown[-1]}"
