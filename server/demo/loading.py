"""The demo's people, workspace and trials, made through the same actions that people use."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

from django.db import transaction

from apercu_core.design.draw import ALGORITHM
from apercu_core.field.layout import PlotSize
from apercu_core.measures.parts import COMMON
from apercu_core.reading.asked import How
from apercu_core.sowing.go import CHECKS, Check
from config import clock
from crew.models import Membership, Person, Role, Workspace
from demo import growing, planned
from demo import harrow_fen as demo
from demo.plausible import implausible
from demo.weather import load_weather
from field_log.actions import Written, keep_entry
from operations.actions import For, keep_operation, keep_stage
from readings.actions import answer_doubt, open_results
from records.entering import Typed, save_entries
from records.models import Visit, VisitMeasure
from records.visits import leave_note, plan_visit, walking_order
from sowing.actions import keep_decision, keep_seed_plan, keep_sowing, keep_test
from trials.actions import NewMeasure, NewTrial, create_trial
from trials.ask import Asked, AskedFactor, AskedSite, AskedTreatment, crossing, keep_ask
from trials.equipment import keep_machines
from trials.measure_parts import keep_parts
from trials.models import Allocation, Season, Site, Unit, UnitKind
from trials.plan import PlanChoices, draw_plan

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
    if wrong := implausible():
        raise ValueError("The demo isn’t plausible: " + " ".join(wrong))
    with transaction.atomic():
        workspace, new = Workspace.objects.get_or_create(id=_id("workspace"), defaults={"name": "Harrow Fen Growers"})
        if not new:
            return False
        people = [_person(email, name, role, workspace) for email, name, role in PEOPLE]
        keep_machines(by=people[0], workspace=workspace, machines=planned.MACHINES)
        season = _harvested_trial(people[0], workspace)
        _growing_trial(people[0], people[1], workspace)
        _planned_trial(people[0], workspace)
        load_weather(people[0], workspace, _id("weather service"), demo.shift_to(clock.today("Europe/London")))
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
    typed = demo.entries(demo.MEASURES[-1])
    return [plot.label for plot in demo.plots() if isinstance(typed[plot.label], str)]


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
                NewMeasure(
                    m.name, m.name, m.unit, m.margin, "absolute", m.direction, m.planned, catalogue=m.catalogue,
                    sheet=m.sheet, settings=dict(m.settings),
                )
                for m in demo.MEASURES
            ],
        ),
    )  # fmt: skip
    _visits(by, season, shift)
    open_results(by=by, season=season, how=How())
    for kind, name, done, note in demo.OPERATIONS:
        keep_operation(by=by, season=season, id=_id(name), kind=kind, name=name, due=None, done=done + shift, note=note)
    return season


def _growing_trial(by: Person, technician: Person, workspace: Workspace) -> None:
    """Asked, drawn, planned and walked through the actions that the pages call."""
    shift = demo.shift_to(clock.today(growing.SITE["time_zone"]))
    measures = [NewMeasure(str(_id(f"growing {m['name']}")), **m) for m in growing.MEASURES]
    asked = Asked(
        growing.NAME, growing.QUESTION, [AskedSite(_id("mill ground"), **_moved(growing.SITE, shift))],
        [
            AskedTreatment(_id(f"growing {name}"), name, code, code == "BS", {}, _sown(growing.COVERS.get(name, [])))
            for name, code in growing.TREATMENTS.items()
        ],
        measures, growing.STARTS + shift, growing.ENDS + shift,
    )  # fmt: skip
    trial = keep_ask(by=by, workspace=workspace, id=_id("growing"), asked=asked)
    known = {part.name: part.group for part in COMMON["weeds"]}
    weeds = trial.measures.get(pk=_id("growing Weeds"))
    keep_parts(by=by, measure=weeds, parts=[(name, known[name]) for name in growing.WEEDS])
    season = draw_plan(by=by, season=trial.seasons.get(), plan=PlanChoices(4, demo.SIZE, growing.SEED))
    _operations_of_the_growing(by, season, shift)
    _sow_the_growing(by, season, shift)
    visits = [
        plan_visit(
            by=by, season=season, id=_id(f"growing visit {name}"), name=name, due=due + shift,
            measures=[_id(f"growing {measure}")],
        )
        for name, due, measure in growing.VISITS
    ]  # fmt: skip
    _half_walked(by, technician, visits[0])


def _operations_of_the_growing(by: Person, season: Season, shift: timedelta) -> None:
    treatments = {one.name: one.pk for one in season.trial.treatments.all()}

    def moved(day: date | None) -> date | None:
        return None if day is None else day + shift

    for one in growing.OPERATIONS:
        after, closes = one.get("after"), one.get("closes")
        keep_operation(
            by=by, season=season, id=_id(f"growing {one['name']}"), kind=one["kind"], name=one["name"],
            due=moved(one.get("due")), done=moved(one.get("done")), note=one.get("note", ""),
            after=_id(f"growing {after}") if after else None, after_days=one.get("after_days", 0),
            what_for=For([treatments[name] for name in one.get("for", ())]), trigger=one.get("trigger"),
            closes=closes and {**closes, "day": (closes["day"] + shift).isoformat()},
        )  # fmt: skip
    first = season.units.filter(kind=UnitKind.PLOT).order_by("order").values_list("label", flat=True)[0]
    for n, one in enumerate(growing.LOG):
        plots = [first] if one["kind"] == "trouble" else []
        written = Written(**{**one, "day": one["day"] + shift, "plots": plots})
        keep_entry(by=by, season=season, id=_id(f"growing log {n}"), written=written)
    for treatment, plant, code, day in growing.STAGES:
        keep_stage(
            by=by, season=season, id=_id(f"growing stage {treatment} {plant}"), treatment=treatments[treatment],
            plant=plant, code=code, day=day + shift,
        )  # fmt: skip


def _sow_the_growing(by: Person, season: Season, shift: timedelta) -> None:
    """Lots, a drill that was caught, the decision to go, and what the counter said."""
    keep_seed_plan(
        by=by, season=season, lots=growing.BAGS, rates=[], allowance_g=30, spare_percent=10, filling="by_treatment",
        currency="GBP",
    )  # fmt: skip
    day: date = next(one["done"] for one in growing.OPERATIONS if one["kind"] == "sow") + shift
    about = "Common vetch, seed drill"
    keep_test(by=by, season=season, id=_id("drill test"), kind="drill", about=about, given=growing.DRILL_TEST)
    checks: dict[str, Check] = dict.fromkeys(CHECKS, "good")
    keep_decision(by=by, season=season, id=_id("go"), day=day, checks=checks, decision="go", note="")
    seeded = {t.name: str(t.id) for t in season.trial.treatments.all() if t.name in growing.DELIVERED}
    units = season.units.filter(kind=UnitKind.PLOT, treatment__name__in=seeded)
    keep_sowing(
        by=by, season=season, id=_id("sown"), plots=[unit.label for unit in units], day=day, known_by="counter",
        amounts=[
            {"treatment": seeded[name], "rate_kg_ha": rate, "filled_g": None, "left_g": None}
            for name, rate in growing.DELIVERED.items()
        ],
        depth_cm=2.5, moisture="moist below the surface", machine="seed drill", operator="Joss", note="",
    )  # fmt: skip


def _sown(components: list[dict[str, Any]]) -> dict[str, Any]:
    return {"components": components, "seed_set": "prevent"} if components else {}


def _moved(site: dict[str, Any], shift: timedelta) -> dict[str, Any]:
    """A site whose usual frosts move with all dates."""
    return site | {key: demo.shifted_day(site[key], shift) for key in ("first_frost", "last_frost")}


def _planned_trial(by: Person, workspace: Workspace) -> None:
    """Factors crossed and a split plot drawn; nothing sown yet."""
    shift = demo.shift_to(clock.today(planned.SITE["time_zone"]))
    factors = [AskedFactor(*factor) for factor in planned.FACTORS]
    made = [(one.name, dict(one.levels)) for one in crossing(factors, [])]
    treatments = [
        AskedTreatment(
            _id(f"planned {name}"),
            name,
            planned.CODES[name],
            False,
            levels,
            _sown([planned.COVERS[levels["cover"]]] if levels["cover"] in planned.COVERS else []),
        )
        for name, levels in made
    ]
    measures = [NewMeasure(str(_id(f"planned {m['name']}")), **m) for m in planned.MEASURES]
    asked = Asked(
        planned.NAME, planned.QUESTION, [AskedSite(_id("far twelve"), **_moved(planned.SITE, shift))], treatments,
        measures, planned.STARTS + shift, planned.ENDS + shift, factors,
    )  # fmt: skip
    trial = keep_ask(by=by, workspace=workspace, id=_id("planned"), asked=asked)
    plan = PlanChoices(4, PlotSize(3, 12, 0, 4), planned.SEED, design="split_plot", whole_factor="kill")
    season = draw_plan(by=by, season=trial.seasons.get(), plan=plan)
    levels = {_id(f"planned {name}"): set(of.values()) for name, of in made}
    for one in planned.OPERATIONS:
        after, wanted = one.get("after"), set(one.get("for", ()))
        due: date | None = one.get("due")
        keep_operation(
            by=by, season=season, id=_id(f"planned {one['name']}"), kind=one["kind"], name=one["name"],
            due=due and due + shift, done=None, note="", after=_id(f"planned {after}") if after else None,
            after_days=one.get("after_days", 0), what_for=For([id for id, own in levels.items() if own & wanted]),
        )  # fmt: skip


def _half_walked(by: Person, technician: Person, visit: Visit) -> None:
    """Joss counted until the light went; hares took a plot, slugs a cover, and one frame was counted twice."""
    walk = walking_order(visit)
    units = {u.label: u for u in walk}
    at = clock.now()
    measure = visit.taken.get().measure_id

    def typed(label: str, frame: int, count: str, **changes: Any) -> Typed:
        name = f"growing {label} {frame} {count}"
        return Typed(_id(name), units[label].id, measure, frame, {"count": count}, at, **changes)

    counted = growing.counts([(u.label, u.treatment.name) for u in walk if u.treatment])
    labels = list(counted)
    gone, failed = labels[3], next(u.label for u in walk[: growing.WALKED] if u.treatment and u.treatment.code == "CV")
    entries = [
        typed(label, frame, str(count))
        for label, frames in counted.items()
        if label not in (gone, failed)
        for frame, count in enumerate(frames, start=1)
    ]
    missing = (
        (gone, "damaged", "grazed to the ground by hares"),
        (failed, "failed", "slugs took it before two leaves"),
    )
    entries += [
        typed(label, 1, "", missing_status=missing_status, missing_reason=why) for label, missing_status, why in missing
    ]
    save_entries(by=technician, visit=visit, entries=entries)
    first = labels[0]
    save_entries(by=by, visit=visit, entries=[typed(first, 1, str(counted[first][0] + 3))])
    leave_note(by=technician, visit=visit, id=_id("note"), unit=units[gone], text="Hare runs along the drain.")


def _visits(by: Person, season: Season, shift: timedelta) -> None:
    units = {unit.label: unit for unit in season.units.filter(kind=UnitKind.PLOT)}
    for order, (name, day) in enumerate(demo.VISITS):
        visit = Visit.objects.create(
            id=_id(f"visit {name}"), season=season, name=name, date=day and day + shift, order=order
        )
        wanted = {m.name: m for m in demo.MEASURES if m.visit == name}
        measures = season.trial.measures.select_related("version__measure")
        taken = list(measures.filter(version__measure__name__in=wanted))
        VisitMeasure.objects.bulk_create(VisitMeasure(visit=visit, measure=m, order=m.order) for m in taken)
        entries = [
            entry
            for one in taken
            for label, typed in demo.entries(wanted[one.version.measure.name]).items()
            for entry in _entries(one.id, one.version.measure.name, units[label], typed)
        ]
        refused = [o.message for o in save_entries(by=by, visit=visit, entries=entries).outcomes if o.state != "saved"]
        if refused:
            raise ValueError(f"The demo’s {name} can’t be typed: {refused[0]}")
        if day is None:  # typing dates a visit; of this one nobody wrote down when it was
            Visit.objects.filter(pk=visit.pk).update(date=None)


def _entries(measure: uuid.UUID, name: str, unit: Unit, typed: list[dict[str, str]] | str) -> list[Typed]:
    """What was typed in a plot for a measure, or why nothing was."""
    at = clock.now()
    if isinstance(typed, str):
        lost = _id(f"{name} {unit.label}")
        return [Typed(lost, unit.id, measure, 1, {}, at, missing_status="damaged", missing_reason=typed)]
    return [
        Typed(_id(f"{name} {unit.label} {i}"), unit.id, measure, i, fields, at, confirmed=True)
        for i, fields in enumerate(typed, start=1)
    ]
