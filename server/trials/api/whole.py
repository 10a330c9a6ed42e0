"""A trial whole, as one of its sites shows it."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.http import Http404
from django.shortcuts import get_object_or_404
from rest_framework.request import Request

from apercu_core.design.proposal import propose
from apercu_core.doubts.about_trial import two_things_changed
from apercu_core.field.layout import Rectangle, extent
from apercu_core.protocol.question import contradictions
from apercu_core.trial.facts import TrialFacts
from apercu_core.units import System, shown_in
from config import clock
from config.etags import etag_of
from crew.models import Person
from crew.permissions import rights_of
from trials.api import serializers as shapes
from trials.api.at_site import site_named
from trials.asked_margins import asked_margins
from trials.descriptions import accepted_in, described_in, shown_details
from trials.equipment import machines_of
from trials.models import Season, Trial, UnitKind
from trials.own_controls import own_controls
from trials.plan import factor_facts
from trials.recorded import has_records


def trial_json(request: Request, id: UUID) -> Any:
    """The trial at the site that the request names, else at its first."""
    person = cast(Person, request.user)
    trial = get_object_or_404(Trial.objects.visible_to(person).whole(), id=id)
    seasons, site = list(trial.seasons.all()), site_named(request)
    season = next((one for one in seasons if site in (None, one.site_id)), None)
    if season is None:
        raise Http404("The trial isn’t at this site.")
    whole = {**_whole(trial, season, person), "etags": {"ask": "", "plan": "", "equipment": ""}}
    shown = shapes.TrialOut(whole, context={"request": request}).data
    shown["etags"] = {part: etag_of({key: shown[key] for key in keys}) for part, keys in _PARTS.items()}
    return shown


_PARTS = {
    "ask": ("name", "question", "sites", "starts", "ends", "factors", "removed", "accepted", "treatments", "measures"),
    "plan": ("design", "plan", "plots", "moved", "not_grown", "allocation", "treatments"),
    "equipment": ("equipment",),
}
"""What each save of a trial's pages replaces."""


def part_of(request: Request, id: UUID, part: str) -> Any:
    """What the ETag of a part is of; None where there is no trial yet."""
    if not Trial.objects.filter(id=id).exists():
        return None
    shown = trial_json(request, id)
    return {key: shown[key] for key in _PARTS[part]}


def _whole(trial: Trial, season: Season, person: Person) -> dict[str, Any]:
    plots = [unit for unit in season.units.all() if unit.kind == UnitKind.PLOT and unit.ground]
    length = shown_in("m", cast(System, person.units))
    return {
        "id": trial.id,
        "workspace": trial.workspace_id,
        "name": trial.name,
        "question": trial.question,
        "contradictions": contradictions(trial.question, asked_margins(trial.measures.all())),
        "allocation": season.allocation,
        "design": season.design,
        "site": season.site,
        "sites": [one.site for one in trial.seasons.all()],
        "not_grown": [t.id for t in season.not_grown.all()],
        "starts": season.starts,
        "ends": season.ends,
        "today": clock.today(season.site.time_zone),
        "factors": trial.factors,
        "removed": trial.removed,
        "accepted": trial.accepted,
        "proposal": propose(factor_facts(trial), len(trial.treatments.all())).in_units(cast(System, person.units)),
        "equipment": machines_of(trial.workspace),
        "follows": _in_series(trial.follows, trial.follows_as),
        "followed_by": [_in_series(one, one.follows_as) for one in trial.followed_by.all()],
        "earlier": {str(one.site_id): _earlier(one) for one in trial.seasons.all()},
        "two_things": _two_things(trial),
        "schematic": any(unit.ground.schematic for unit in plots if unit.ground),
        "treatments": [
            {
                "id": t.id,
                "name": t.name,
                "code": t.code,
                "is_control": t.is_control,
                "levels": t.levels,
                "details": shown_details(t.details, cast(System, person.units)),
            }
            for t in trial.treatments.all()
        ],
        "measures": trial.measures.all(),
        "plots": [_plot(unit) for unit in plots],
        "plan": _plan(season, plots),
        "moved": season.moved,
        "rotation_year": season.rotation_year,
        "recorded": has_records(season),
        "results_opened": season.results_opened_at is not None,
        "length_unit": length[0],
        "length_factor": length[1],
        "may": sorted(rights_of(person, trial)),
    }


def _in_series(trial: Trial | None, how: str) -> dict[str, Any] | None:
    return {"id": trial.id, "name": trial.name, "how": how} if trial else None


def _earlier(season: Season) -> list[str]:
    """Trials that lay on the site's ground before, oldest first."""
    others = [one.trial for one in season.site.seasons.all() if one.trial_id != season.trial_id and one.drawn_at]
    return [trial.name for trial in sorted(others, key=lambda trial: trial.created_at)]


def _two_things(trial: Trial) -> str:
    """What a reading would say if a comparison with the control changes two things at once; else empty."""
    treatments = list(trial.treatments.all())
    control = next((t.name for t in treatments if t.is_control), None)
    more = tuple(t.name for t in treatments if t.is_control and t.name != control)
    told, kept = described_in(trial, treatments), accepted_in(trial, treatments)
    own = own_controls({t.name: t.levels for t in treatments}, trial.factors)
    facts = TrialFacts((), control, "drawn", told, kept, more_controls=more, own_controls=own)
    return " ".join(f"{doubt.finding} {doubt.why} {doubt.what_to_do}" for doubt in two_things_changed(facts))


def _plan(season: Season, plots: list[Any]) -> dict[str, Any] | None:
    if season.drawn_at is None or season.seed is None or not plots:
        return None
    width, length = extent(Rectangle(u.ground.x_m, u.ground.y_m, u.ground.width_m, u.ground.length_m) for u in plots)
    return {
        "design": season.design,
        "whole_factor": season.whole_factor,
        "column_factor": season.column_factor,
        "block_size": season.block_size,
        "constraints": season.constraints,
        "draws": len(season.draws) or 1,
        "blocks": season.blocks or len({u.parent_id for u in plots}),
        "width": season.plot_width_m or plots[0].ground.width_m,
        "length": season.plot_length_m or plots[0].ground.length_m,
        "gap": season.gap_m,
        "alley": season.alley_m,
        "serpentine": season.serpentine,
        "side_by_side": season.side_by_side,
        "seed": season.seed,
        "algorithm": season.algorithm,
        "drawn_at": season.drawn_at,
        "ground_width": width,
        "ground_length": length,
    }


def _plot(unit: Any) -> dict[str, Any]:
    ground = unit.ground
    return {
        "id": unit.id,
        "label": unit.label,
        "block": unit.block,
        "whole_plot": unit.whole_plot,
        "incomplete_block": unit.incomplete_block,
        "treatment": unit.treatment_id,
        "x": ground.x_m,
        "y": ground.y_m,
        "width": ground.width_m,
        "length": ground.length_m,
    }
