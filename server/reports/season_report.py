"""What a report of a season says: its reading in words, the doubts that matter, who and when."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, cast

from apercu_core import __version__
from apercu_core.reading.asked import How
from apercu_core.reading.description import only_described
from apercu_core.reading.found import Reading
from apercu_core.reading.trial import read_trial
from apercu_core.reporting.sentences import MeasureReport, in_short, measure_report
from apercu_core.units import System
from apercu_core.words import without_p_values
from config import clock
from crew.models import Person
from crew.permissions import require
from readings.actions import default_method, read_season
from readings.bridge import Given, gather, recorded
from readings.said_once import WEIGHT, every_doubt
from trials.models import Season

MOST_DOUBTS, MOST_ANSWERED, LONGEST_ANSWER = 5, 8, 300
"""What one side of A4 holds: doubts, answered ones among them, and letters of an answer."""
_METHODS = {
    "dunnett": "Each treatment is compared with the control by Dunnett intervals",
    "tukey": "All pairs are compared by Tukey intervals",
}


@dataclass(frozen=True, slots=True)
class SeasonReport:
    """Everything the page prints. `stored`: the reading as JSON, as the board shows it."""

    season: Season
    given: Given
    reading: Reading
    stored: dict[str, Any]
    measures: tuple[MeasureReport, ...]
    short: str
    doubts: tuple[dict[str, str], ...]
    more_doubts: int
    where: str
    how: str
    signed: str


def season_report(*, by: Person, season: Season) -> SeasonReport:
    """Read the season with the usual method, in the person's units, and put it into words."""
    require(by, "see", season)
    how = How(method=default_method(season))
    seen = read_season(by=by, season=season, how=how)
    stored = seen.result
    given = gather(season, cast(System, by.units))
    first = season.readings.order_by("created_at", "id").first()
    reading = read_trial(given.facts, given.design, recorded(given, first), how, given.base)
    order = [t.name for t in season.trial.treatments.all()]
    measures = tuple(_in_order(measure_report(m), order) for m in reading.measures)
    today = clock.today(season.site.time_zone)
    doubts, more = _doubts(stored)
    return SeasonReport(
        season=season,
        given=given,
        reading=reading,
        stored={"identity": seen.identity, "tried_after": seen.tried_after, **stored},
        measures=measures,
        short=in_short(measures, reading),
        doubts=doubts,
        more_doubts=more,
        where=_where(season, given),
        how=f"{_how(given, how)} Apercu {__version__}.",
        signed=f"{by.name}, {today.day} {today:%B %Y}",
    )


def _in_order(report: MeasureReport, treatments: list[str]) -> MeasureReport:
    return replace(report, lines=tuple(sorted(report.lines, key=lambda line: treatments.index(line.treatment))))


def _where(season: Season, given: Given) -> str:
    site = season.site
    place = [site.name, site.place, site.soil] if site.name != "Not stated" else []
    years = [f"season {season.starts:%Y}–{season.ends:%Y}"] if season.starts and season.ends else []
    blocks = len({plot.block for plot in given.facts.plots if plot.block})
    plots = f"{len(given.facts.plots)} plots" + (f" in {blocks} blocks" if blocks > 1 else "")
    return ", ".join([*filter(None, place), plots, *years])


def _how(given: Given, how: How) -> str:
    if only_described(given.facts):
        return "Described, not tested."
    return f"Analysed as a {_design(given)}. {_METHODS[how.method]} (95 %)."


def _design(given: Given) -> str:
    return {
        "crd": "completely randomised trial", "rcbd": "randomised complete block trial", "latin_square": "Latin square",
        "split_plot": "split plot, with separate errors for whole plots and plots",
        "strip_plot": "strip plot, with separate errors for rows, columns and plots",
        "incomplete_block": "trial in incomplete blocks, with recovery of interblock information",
    }[given.design]  # fmt: skip


def _doubts(stored: dict[str, Any]) -> tuple[tuple[dict[str, str], ...], int]:
    """Those that stop or weaken or were answered, the gravest first, each finding once, with their answers: as many as
    the page holds, and how many it doesn't.
    """
    matter = (d for d in every_doubt(stored) if d["severity"] != "worth-knowing" or d["answer"])
    grave = sorted(matter, key=lambda d: (WEIGHT[d["severity"]], not d["answer"]))
    found: dict[str, dict[str, str]] = {}
    for doubt in grave:
        subject = f"{doubt['subject']}: " if doubt["subject"] else ""
        finding = without_p_values(doubt["finding"])  # they are in the full analysis
        answer = doubt["answer"]["note"] if doubt["answer"] else ""
        known = found.setdefault(
            doubt["finding"], {"title": doubt["title"], "finding": finding, "answer": answer, "subject": ""}
        )
        known["subject"] = known["subject"] or subject
    answered = min(MOST_ANSWERED, sum(bool(d["answer"]) for d in found.values()))
    room = {True: answered, False: max(0, MOST_DOUBTS - answered)}
    out = []
    for doubt in found.values():
        kind = bool(doubt["answer"])
        if room[kind] > 0:
            room[kind] -= 1
            out.append(doubt)
    shown = tuple({**d, "finding": d.pop("subject") + d["finding"], "answer": _cut(d["answer"])} for d in out)
    return shown, len(found) - len(shown)


def _cut(answer: str) -> str:
    if len(answer) <= LONGEST_ANSWER:
        return answer
    return answer[:LONGEST_ANSWER].rsplit(" ", 1)[0] + " … (see the full analysis for the whole answer)"
