"""Ask: the question, the site, the treatments and the measures of a trial, kept as one page."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field, fields
from datetime import date
from typing import Any, cast

from django.db import transaction

from apercu_core.design.codes import codes_for, codes_of_levels
from apercu_core.design.rotation import PHASE, Phase, require_every_phase, schedule
from apercu_core.design.treatments import Combination, crossed
from apercu_core.errors import Place, Refused
from apercu_core.units import System
from apercu_core.verdicts.margin import Margin
from apercu_core.words import listed
from config import clock
from config.client_ids import made_before, require_free_or_of
from config.problems import Conflict
from config.turns import take_turns
from crew.models import Person, Workspace
from crew.permissions import require
from library.actions import hold_measures, measure_version
from library.models import MeasureVersion
from trials.actions import NewMeasure
from trials.descriptions import kept_details
from trials.models import Allocation, Design, GroundPlot, Season, Site, Treatment, Trial, TrialMeasure
from trials.own_controls import control_factor, own_controls_of
from trials.recorded import require_unrecorded, require_unsown
from trials.taken_out import only_knowingly

MOST_TREATMENTS = 96


@dataclass(frozen=True, slots=True)
class AskedSite:
    """A site with the id that the client made, or that of a site that is there. Frost dates are MM-DD."""

    id: uuid.UUID
    name: str
    place: str = ""
    time_zone: str = "UTC"
    soil: str = ""
    previous_crop: str = ""
    last_frost: str = ""
    first_frost: str = ""
    gradient: str = ""
    latitude: float | None = None
    longitude: float | None = None
    bearing_deg: float = 0.0
    slope_percent: float | None = None
    drainage: str = ""
    coldest_c: float | None = None
    grown: Sequence[Mapping[str, str]] = ()
    weeds: str = ""
    pests: str = ""
    carry_over: str = ""


@dataclass(frozen=True, slots=True)
class AskedTreatment:
    id: uuid.UUID
    name: str
    code: str = ""
    is_control: bool = False
    levels: Mapping[str, str] = field(default_factory=dict)
    details: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class AskedFactor:
    """`whole_strips`: its machine can't change from plot to plot. `kind`: the aspect that it changes.

    `control`: the level that the others are compared with, at the same levels of the other factors; empty: none.
    """

    name: str
    levels: Sequence[str]
    whole_strips: bool = False
    kind: str = ""
    control: str = ""


@dataclass(frozen=True, slots=True)
class Removed:
    """A combination that can't be, and why."""

    levels: Mapping[str, str]
    why: str = ""


@dataclass(frozen=True, slots=True)
class Accepted:
    """A comparison that is kept though it changes several things at once, and why."""

    base: uuid.UUID
    treatment: uuid.UUID
    why: str


@dataclass(frozen=True, slots=True)
class Asked:
    """The whole page. Measures are told apart by the ids in their `key`; `reason`: why the question changes after
    results were opened.
    """

    name: str
    question: str
    sites: Sequence[AskedSite]
    treatments: Sequence[AskedTreatment]
    measures: Sequence[NewMeasure]
    starts: date | None = None
    ends: date | None = None
    factors: Sequence[AskedFactor] = ()
    removed: Sequence[Removed] = ()
    accepted: Sequence[Accepted] = ()
    reason: str = ""


def keep_ask(
    *, by: Person, workspace: Workspace, id: uuid.UUID, asked: Asked, although: bool = False
) -> Trial:  # fmt: skip
    """Make the trial, or bring it in line with the page; sending the page twice is harmless.

    `although`: the map may go although somebody has taken it out (`TakenOut` else).
    Raises `Conflict` when records stand against a change, `Refused` when the page contradicts itself.
    """
    require(by, "plan", workspace)
    _check(asked)
    with transaction.atomic():
        take_turns(id)
        trial = made_before(Trial, id, workspace_id=workspace.id)
        trial = trial or Trial(id=id, workspace=workspace, created_by=by, created_at=clock.now())
        trial.name, trial.question = asked.name, asked.question
        trial.factors = [{**asdict(factor), "levels": list(factor.levels)} for factor in asked.factors]
        trial.removed = [{"levels": dict(one.levels), "why": one.why} for one in asked.removed]
        own = {treatment.id for treatment in asked.treatments}
        trial.accepted = [
            {"base": str(one.base), "treatment": str(one.treatment), "why": one.why} for one in asked.accepted
            if {one.base, one.treatment} <= own
        ]  # fmt: skip
        trial.save()
        _hold(workspace, trial, asked)
        with only_knowingly(list(trial.seasons.all()), although):
            _keep_seasons(trial, [_site(workspace, site) for site in asked.sites], asked)
            _keep_treatments(trial, asked.treatments, cast(System, by.units))
        _keep_measures(trial, asked.measures, asked.reason.strip())
    return trial


def _hold(workspace: Workspace, trial: Trial, asked: Asked) -> None:
    """Lock what other trials and pages write too, in the order that everybody keeps to."""
    list(trial.seasons.select_for_update(of=("self",), no_key=True).order_by("id"))
    list(Site.objects.select_for_update(no_key=True).filter(id__in=[site.id for site in asked.sites]).order_by("id"))
    hold_measures(workspace, [measure.name for measure in asked.measures])


def _check(asked: Asked) -> None:
    names = [t.name.strip().lower() for t in asked.treatments]
    for name in names:
        if names.count(name) > 1:
            raise Refused("bad-specification", f"Two treatments are called {name!r}. Give each its own name.")
    _check_factors(asked)
    measures = [(m.name.strip().lower(), m.unit) for m in asked.measures]
    for name, unit in measures:
        if measures.count((name, unit)) > 1:
            raise Refused("bad-specification", f"Two measures are called {name!r}. Give each its own name.")
    sites = [site.id for site in asked.sites]
    if len(set(sites)) < len(sites):
        raise Refused("bad-specification", "A site is listed twice. Remove one of them.")
    if sum(m.primary for m in asked.measures) > 1:
        raise Refused("bad-specification", "Two measures are marked as the one that decides. Mark one.")
    _check_named(asked)
    if asked.starts and asked.ends and asked.starts >= asked.ends:
        raise Refused("bad-specification", "The season ends before it starts. Change one of its dates.")
    for measure in asked.measures:
        if measure.margin is not None:
            Margin(measure.margin)


def _check_named(asked: Asked) -> None:
    """The control that a measure names must be one; planned tests must be of treatments of the trial."""
    treatments = {t.id: t for t in asked.treatments}
    found = control_factor([asdict(factor) for factor in asked.factors])
    for measure in asked.measures:
        control = treatments.get(measure.control) if measure.control else None
        at_level = control is not None and found is not None and control.levels.get(found[0]) == found[1]
        if measure.control and (control is None or not (control.is_control or at_level)):
            raise Refused(
                "bad-specification",
                f"{measure.name} names a control that isn’t marked as one. Mark it, or choose another.",
            )
        if set(measure.planned_for) - set(treatments):
            raise Refused(
                "bad-specification", f"{measure.name} plans a test of a treatment that isn’t there. Choose again."
            )


def _check_factors(asked: Asked) -> None:
    """Treatments may only wear levels that their factors have. Controls outside the crossing wear none."""
    if asked.factors:
        crossing(asked.factors, asked.removed)
    if sum(bool(factor.control) for factor in asked.factors) > 1:
        raise Refused("bad-specification", "Two factors have a control level. Choose one level of one factor.")
    for factor in asked.factors:
        if factor.control and factor.control not in factor.levels:
            raise Refused(
                "bad-specification",
                f"The control level {factor.control!r} isn’t a level of {factor.name!r}. Choose one of its levels.",
            )
        if factor.kind == PHASE:
            require_every_phase([t.levels for t in asked.treatments], factor.name, factor.levels)
    for one in asked.removed:
        if not one.why.strip():
            said = ", ".join(one.levels.values())
            raise Refused("bad-specification", f"Give a reason why {said} is excluded, or restore it.")
    levels = {factor.name: set(factor.levels) for factor in asked.factors}
    for treatment in asked.treatments:
        for name, level in treatment.levels.items():
            if level not in levels.get(name, ()):
                raise Refused(
                    "bad-specification",
                    f"{treatment.name} has the level {level!r} of {name!r}, which the factors don’t list. Cross the "
                    "factors again.",
                )


def crossing(factors: Sequence[AskedFactor], removed: Sequence[Removed]) -> tuple[Combination, ...]:
    """The treatments that the factors make. Raises `Refused` where a factor is named twice or has too few levels."""
    names = [factor.name for factor in factors]
    for name in names:
        if names.count(name) > 1:
            raise Refused("bad-specification", f"Two factors are called {name!r}. Give each its own name.")
    made = crossed({f.name: list(f.levels) for f in factors}, removed=[one.levels for one in removed], between=", ")
    if len(made) > MOST_TREATMENTS:
        raise Refused(
            "bad-design", f"These factors give {len(made)} treatments. More than {MOST_TREATMENTS} is too many."
        )
    return made


def rotation_of(factors: Sequence[AskedFactor]) -> tuple[Phase, ...]:
    """What stands in each phase over the years, where a factor is the phases of a rotation."""
    crops = next((factor.levels for factor in factors if factor.kind == PHASE), None)
    return schedule(crops) if crops and len(crops) > 1 else ()


def _site(workspace: Workspace, asked: AskedSite) -> Site:
    site = made_before(Site, asked.id, workspace_id=workspace.id) or Site(id=asked.id, workspace=workspace)
    for own in fields(asked):
        setattr(site, own.name, getattr(asked, own.name))
    site.save()
    return site


def _keep_seasons(trial: Trial, sites: Sequence[Site], asked: Asked) -> None:
    """A season at each site. One whose site is gone moves on to a new one with its plan and visits, without its map."""
    there = {season.site_id: season for season in trial.seasons.select_related("site")}
    spare = [season for site, season in there.items() if site not in {site.id for site in sites}]
    for season in spare:
        require_unrecorded(season, f"the site {season.site.name} can’t be removed. Restore it.")
    pattern = trial.seasons.first()
    for order, site in enumerate(sites):
        if site.id in there:
            season = there[site.id]
        elif spare:
            season = spare.pop(0)
            clear_ground(season)
        else:
            number = max((one.number for one in trial.seasons.all()), default=0) + 1
            design = pattern.design if pattern else Design.RCBD
            season = Season(trial=trial, design=design, allocation=Allocation.DRAWN, number=number)
        season.site, season.order = site, order
        season.starts, season.ends = asked.starts, asked.ends
        season.save()
    for season in spare:
        if season.operations.exclude(done=None).exists() or season.visits.filter(notes__isnull=False).exists():
            raise Conflict(f"The operations and notes at {season.site.name} would be lost. Restore the site.")
        clear_ground(season)
        season.delete()


def clear_ground(season: Season) -> None:
    """Take the drawn map away, with the ground plots that no other season uses."""
    require_unsown(season)
    if season.units.filter(seed_bag__packed_at__isnull=False).exists():
        raise Conflict(
            "Seed bags are packed for the plots of this map, so it stays. If it has to change, empty the bags and "
            "untick them in Sow first."
        )
    grounds = list(season.units.exclude(ground=None).values_list("ground_id", flat=True))
    season.units.all().delete()
    GroundPlot.objects.filter(id__in=grounds, units__isnull=True).delete()
    season.drawn_at = None
    season.save()


def _keep_treatments(trial: Trial, asked: Sequence[AskedTreatment], system: System) -> None:
    before = {t.id: t for t in trial.treatments.all()}
    wanted = {t.id for t in asked}
    require_free_or_of(Treatment, wanted, trial=trial)
    if set(before) != wanted:
        for season in trial.seasons.all():
            require_unrecorded(
                season, "treatments can be renamed but not added or removed. Plan the change as a new trial."
            )
            clear_ground(season)
        trial.treatments.exclude(id__in=wanted).delete()
    # Names and codes may swap places: take the old ones out of the way first.
    for n, treatment in enumerate(trial.treatments.all()):
        Treatment.objects.filter(id=treatment.id).update(name=f"~{treatment.id}", code=f"~{n}")
    found = control_factor(trial.factors)

    def at_level(one: AskedTreatment) -> bool:
        return found is not None and one.levels.get(found[0]) == found[1]

    ordered = sorted(asked, key=lambda t: not (t.is_control or at_level(t)))
    codes = _codes(ordered, trial.factors)
    for order, given in enumerate(ordered):
        treatment = before.get(given.id) or Treatment(id=given.id, trial=trial)
        treatment.order, treatment.name, treatment.code = order, given.name.strip(), codes[order]
        treatment.is_control, treatment.levels = given.is_control or at_level(given), dict(given.levels)
        treatment.details = kept_details(given.details, system, treatment.name)
        treatment.save()


def _codes(asked: Sequence[AskedTreatment], factors: Sequence[Mapping[str, Any]]) -> list[str]:
    """What was typed, else of the levels where there are factors, else of the name."""
    typed = [t.code.strip() for t in asked]
    folded = [code.casefold() for code in typed]
    for code in filter(None, typed):
        if folded.count(code.casefold()) > 1:
            raise Refused("bad-specification", f"Two treatments have the code {code}. Give each its own.")
    crossing = {factor["name"]: factor["levels"] for factor in factors}
    found = iter(codes_of_levels(crossing, [t.levels for t in asked if t.levels]))
    of_levels = [next(found) if t.levels else "" for t in asked]
    used = set(folded)
    for at, code in enumerate(of_levels):
        if code and not typed[at] and code.casefold() not in used:
            typed[at] = code
            used.add(code.casefold())
    made = iter(codes_for([t.name for t, code in zip(asked, typed, strict=True) if not code], filter(None, typed)))
    return [code or next(made) for code in typed]


def _version(trial: Trial, at: int, given: NewMeasure) -> MeasureVersion:
    """Raises `Refused` with each place as it stands on the page, `measures.0.standard`."""
    try:
        return measure_version(trial.workspace, given.defined)
    except Refused as refusal:
        places = [Place(f"measures.{at}.{one.where}", one.what) for one in refusal.places]
        raise Refused(refusal.code, f"{given.name}: {refusal.message}", places) from None


def _keep_measures(trial: Trial, asked: Sequence[NewMeasure], reason: str) -> None:
    """Raises `NeedsReason` where results were opened and the question changes without one."""
    opened = trial.seasons.exclude(results_opened_at=None).exists()
    treatments = list(trial.treatments.all())
    by_id = {t.id: t for t in treatments}
    before = {str(m.id): m for m in trial.measures.select_related("version__measure")}
    require_free_or_of(TrialMeasure, [m.key for m in asked], trial=trial)
    for id in set(before) - {m.key for m in asked}:
        _require_unrecorded(before[id], "taken away")
        before[id].delete()
    for order, given in enumerate(asked):
        version = _version(trial, order, given)
        measure = before.get(given.key) or TrialMeasure(id=uuid.UUID(given.key), trial=trial, version=version)
        if measure.version_id != version.id:
            _require_unrecorded(measure, "measured in another way")
        measure.version, measure.order = version, order
        for name in ("margin", "margin_kind", "direction", "planned", "expected", "cv_percent", "primary"):
            setattr(measure, name, getattr(given, name))
        measure.control_id = given.control
        measure.own_controls = own_controls_of(
            trial.factors, treatments, by_id.get(given.control) if given.control else None
        )
        if opened and given.key in before and not reason and (changed := _changed(measure, given.planned_for)):
            raise NeedsReason(
                f"The results were opened already, and {measure.version.measure.name} changes its {listed(changed)}. "
                "Give a reason. It is printed with the results."
            )
        measure._change_reason = reason or None  # type: ignore[attr-defined]
        measure.save()
        measure.planned_for.set(by_id[id] for id in given.planned_for)


class NeedsReason(Conflict):
    """What is asked for changes the question after results were opened; with a reason it is done."""

    default_code = "needs-reason"


_QUESTION = {
    "margin": "margin", "margin_kind": "margin", "direction": "wanted direction", "planned": "planned test",
    "primary": "part in the decision", "control_id": "control",
    "own_controls": "control",
}  # fmt: skip


def _changed(measure: TrialMeasure, planned_for: Sequence[uuid.UUID]) -> list[str]:
    """What of a measure's question is another than what is kept, in words."""
    kept = TrialMeasure.objects.get(pk=measure.pk)
    changed = [said for name, said in _QUESTION.items() if getattr(kept, name) != getattr(measure, name)]
    if {t.id for t in kept.planned_for.all()} != set(planned_for):
        changed.append(_QUESTION["planned"])
    return list(dict.fromkeys(changed))


def _require_unrecorded(measure: TrialMeasure, what: str) -> None:
    if measure.version.observations.filter(visit__season__trial=measure.trial).exists():
        raise Conflict(f"{measure.version.measure.name} has records, so it can’t be {what}. Add a new measure instead.")
