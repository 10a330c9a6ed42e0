"""The demo's people, workspace and trials, made through the same actions that people use."""

from __future__ import annotations

import uuid
from datetime import timedelta

from django.db import transaction

from apercu_core.design.randomisation import ALGORITHM
from config import clock
from crew.models import Membership, Person, Role, Workspace
from demo import harrow_fen as demo
from readings.actions import answer_doubt
from records.actions import Entry, record_entries
from records.models import Visit
from trials.actions import NewMeasure, NewTrial, create_trial
from trials.models import Allocation, Season, Site, UnitKind

PASSWORD = "demo-of-apercu"
PEOPLE = (
    ("maren@harrowfen.example", "Maren Oake", Role.OWNER),
    ("joss@harrowfen.example", "Joss Tiller", Role.TECHNICIAN),
    ("ida@harrowfen.example", "Ida Fenwright", Role.READER),
)


def _id(name: str) -> uuid.UUID:
    return uuid.uuid5(demo.NAMESPACE, name)


def load() -> bool:
    """Load once; returns whether there was anything to do."""
    with transaction.atomic():
        workspace, new = Workspace.objects.get_or_create(id=_id("workspace"), defaults={"name": "Harrow Fen Growers"})
        if not new:
            return False
        people = [_person(email, name, role, workspace) for email, name, role in PEOPLE]
        season = _harvested_trial(people[0], workspace)
        doubt = f"lost-plots|Potato yield|{','.join(_lost(season))}"
        answer_doubt(
            by=people[0], season=season, doubt=doubt, note="Drain and hail; neither had to do with the covers."
        )
    return True


def _person(email: str, name: str, role: Role, workspace: Workspace) -> Person:
    person = Person.objects.create_person(email, name, PASSWORD)
    Membership.objects.create(person=person, workspace=workspace, role=role)
    return person


def _lost(season: Season) -> list[str]:
    values = demo.samples(demo.MEASURES[-1])
    return [plot.label for plot in demo.plots() if values[plot.label][0][0] is None]


def _harvested_trial(by: Person, workspace: Workspace) -> Season:
    site = Site.objects.create(
        id=_id("site"), workspace=workspace, name="Long Piece", place="Tarrow Drove, Harrow Fen",
        time_zone="Europe/London", gradient="slope falls towards block D", bearing_deg=24,
    )  # fmt: skip
    shift = demo.shift_to(clock.today(site.time_zone))
    season = create_trial(
        by=by,
        workspace=workspace,
        new=NewTrial(
            id=_id("trial"), name="Covers before maincrop potato", plots=demo.plots(), design="rcbd",
            control="Bare stubble", site=site, allocation=Allocation.DRAWN, size=demo.SIZE, seed=demo.SEED,
            algorithm=ALGORITHM, question="Does any winter cover lift yield by 2 t/ha or more over bare stubble?",
            starts=demo.STARTS + shift, ends=demo.ENDS + shift, codes=dict(demo.TREATMENTS),
            measures=[
                NewMeasure(m.name, m.name, m.unit, m.margin, "absolute", m.direction, m.planned) for m in demo.MEASURES
            ],
        ),
    )  # fmt: skip
    _visits(by, season, shift)
    return season


def _visits(by: Person, season: Season, shift: timedelta) -> None:
    units = {unit.label: unit for unit in season.units.filter(kind=UnitKind.PLOT)}
    used = {m.version.measure.name: m.version for m in season.trial.measures.select_related("version__measure")}
    for order, (name, date) in enumerate(demo.VISITS):
        visit = Visit.objects.create(
            id=_id(f"visit {name}"), season=season, name=name, date=date and date + shift, order=order
        )
        entries = [
            Entry(_id(f"{measure.name} {label}"), units[label], used[measure.name], 1, value,
                  "" if value is None else f"{value:.{measure.decimals}f}", missing)
            for measure in demo.MEASURES if measure.visit == name
            for label, ((value, missing),) in demo.samples(measure).items()
        ]  # fmt: skip
        record_entries(by=by, visit=visit, entries=entries, entered_at=clock.now())
