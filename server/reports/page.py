"""The grower's page: one side of A4 as PDF."""

from __future__ import annotations

import re
from html import escape
from typing import cast

from apercu_core.units import System
from crew.models import Person
from reports.map_svg import map_svg, swatch_svg
from reports.printing import document_of, font_face, pdf_of
from reports.season_report import SeasonReport, season_report
from trials.models import Season

_SIZES = (10.8, 10.0, 9.2, 8.4, 7.6, 6.8)
"""Text sizes in points, tried from the largest until the page is one side."""


def growers_page(*, by: Person, season: Season) -> bytes:
    """The page as a tagged PDF. Text shrinks until it fits on one side; past the smallest, doubts are left to Read."""
    report = season_report(by=by, season=season)
    for size in _SIZES:
        document = document_of(_html(report, cast(System, by.units), size))
        if len(document.pages) == 1:
            break
    return pdf_of(document.copy(document.pages[:1]))


def _style(size: float) -> str:
    return (
        font_face()
        + f"""
@page {{size: A4; margin: 14mm 15mm 12mm}}
html {{font: {size}pt/1.36 Page, sans-serif; color: #20262B}}
h1 {{font-size: 1.75em; line-height: 1.15; margin: 0 0 .15em}}
h2 {{font-size: 1.08em; margin: .75em 0 .15em}}
p {{margin: 0 0 .3em}}
.band {{background: #20303A; color: #fff; padding: 5mm 6mm; margin-bottom: 4mm}}
.band p {{color: #C9D2D6}}
.short {{font-size: 1.15em; font-weight: 700; border-left: 1.2mm solid #A8412A; padding-left: 3mm; margin: 0 0 .5em}}
.two {{display: flex; gap: 7mm}}
.two > .words {{flex: 1}}
.two > .ground {{width: 62mm}}
ul {{margin: 0; padding: 0; list-style: none}}
li {{margin: 0 0 .28em}}
.key li {{display: flex; gap: 2mm; align-items: center}}
span.whole {{white-space: nowrap}}
.unit, .quiet {{color: #555C63; font-weight: 400}}
.doubts {{border-top: .3mm solid #CFCABD; margin-top: .8em}}
.foot {{border-top: .3mm solid #CFCABD; margin-top: .8em; padding-top: .4em; color: #555C63; font-size: .9em}}
"""
    )


def _words(text: str) -> str:
    """Safe in HTML, with units kept on one line."""
    return re.sub(r"(\S+/\S+)", r"<span class='whole'>\1</span>", escape(text))


def _html(report: SeasonReport, system: System, size: float) -> str:
    season, trial = report.season, report.season.trial
    units = [u for u in season.units.plots() if u.ground_id]  # type: ignore[attr-defined]
    treatments = list(trial.treatments.all())
    ground = map_svg(units, treatments, width=230, height=330, bearing=season.site.bearing_deg, system=system)
    key = "".join(f"<li>{swatch_svg(i, t.code)} {escape(t.name)}</li>" for i, t in enumerate(treatments))
    measures = "".join(
        f"<h2>{escape(m.name)} <span class='unit'>{escape(m.unit)}</span></h2>"
        + (f"<p class='quiet'>{escape(m.refusal)}</p>" if m.refusal else "")
        + "<ul>" + "".join(f"<li><b>{escape(x.treatment)}:</b> {_words(x.sentence)}</li>" for x in m.lines) + "</ul>"
        for m in report.measures
    )  # fmt: skip
    doubts = "".join(
        f"<li><b>{escape(d['title'])}.</b> {_words(d['finding'])}"
        + (f" <span class='quiet'>{escape(d['answer'])}</span>" if d["answer"] else "") + "</li>"
        for d in report.doubts
    )  # fmt: skip
    n = report.more_doubts
    if n:
        doubts += (
            f"<li class='quiet'>{n} further {'doubt stands' if n == 1 else 'doubts stand'} in the full reading.</li>"
        )
    question = escape(trial.question or trial.name)
    return f"""<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{escape(trial.name)}</title>
<style>{_style(size)}</style></head><body>
<div class="band"><h1>{question}</h1><p>{escape(trial.name)}. {escape(report.where)}</p></div>
<p class="short">{_words(report.short)}</p>
<div class="two"><div class="words">{measures}</div>
<div class="ground">{ground}<ul class="key">{key}</ul></div></div>
{f'<div class="doubts"><h2>What a good colleague would say</h2><ul>{doubts}</ul></div>' if doubts else ""}
<p class="foot">{escape(report.how)} {escape(report.signed)}</p></body></html>"""
