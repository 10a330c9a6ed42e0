"""Values are entered while the map, the visit or Ask changes: what was answered as saved stays, and is seen."""

import threading
import uuid
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import UTC, datetime
from unittest import mock

import pytest
from django.db import IntegrityError, connection
from django.db.models.deletion import RestrictedError

from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize
from config.problems import Conflict
from field_log.models import LogEntry
from records import entering
from records.entering import Typed, save_entries
from records.models import Note, Observation, Visit, VisitMeasure
from records.visits import plan_visit
from tests.server.asking import PLAN, Trial
from trials.api import views as ask_view
from trials.ask import keep_ask
from trials.models import Season, TrialMeasure, Unit, UnitKind
from trials.plan import PlanChoices, draw_plan
from trials.recorded import share_season
from trials.swapping import swap_plots

PAIRS = 200


class Race:
    """A trial whose values and changes meet: the actions themselves, since most of a request's time goes elsewhere."""

    def __init__(self, owner, person, workspace):
        with mock.patch.object(ask_view, "keep_ask", wraps=keep_ask) as asking:
            self.trial = Trial(owner, workspace)
            self.trial.ask(self.trial.page)  # what is remembered of another test isn't asked anew
        self.by, self.workspace, self.asked = person, workspace, asking.call_args.kwargs["asked"]
        self.season = Season.objects.get(trial=self.trial.id)
        self.measures = list(TrialMeasure.objects.filter(trial=self.trial.id))

    def units(self):
        return list(self.season.units.filter(kind=UnitKind.PLOT).order_by("order")[:2])

    def enter(self, units, r):
        visit, at = Visit.objects.get(pk=self.trial.visit), datetime(2026, 6, 24, 8, tzinfo=UTC)
        entries = [Typed(uuid.uuid4(), one.pk, self.measures[0].pk, 1, {"count": str(r % 50)}, at) for one in units]
        return save_entries(by=self.by, visit=visit, entries=entries).outcomes

    def randomise(self, units, r):
        draw_plan(by=self.by, season=self.season, plan=PlanChoices(blocks=2, size=PlotSize(3, 10, 0.5, 2), seed=r))

    def swap(self, units, r):
        swap_plots(by=self.by, season=self.season, first=units[0].pk, second=units[1].pk, why="Wet corner")

    def change_treatments(self, units, r):
        more = replace(self.asked.treatments[0], id=uuid.uuid4(), name=f"Oat {r}", code="")
        self.ask(treatments=[*self.asked.treatments, more])

    def drop_from_visit(self, units, r):
        measures = [self.measures[1].pk]
        plan_visit(by=self.by, season=self.season, id=uuid.UUID(self.trial.visit), name="Weeds", due=None,
                   measures=measures)  # fmt: skip

    def drop_from_ask(self, units, r):
        self.ask(measures=self.asked.measures[1:])

    def ask(self, **changes):
        id = uuid.UUID(self.trial.id)
        keep_ask(by=self.by, workspace=self.workspace, id=id, asked=replace(self.asked, **changes))

    def ready(self, r):
        """For another pair, whatever the one before has changed."""
        Observation.objects.filter(visit=self.trial.visit).delete()
        if not self.units():
            self.randomise((), r)
        for measure in self.measures:
            if not TrialMeasure.objects.filter(pk=measure.pk).exists():
                measure.save(force_insert=True)
            VisitMeasure.objects.get_or_create(visit_id=self.trial.visit, measure=measure)
        return self.units()


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("change", ["randomise", "swap", "change_treatments", "drop_from_visit", "drop_from_ask"])
def test_what_was_answered_as_saved_beside_a_change_stands_where_it_is_seen(
    owner, people, workspace, monkeypatch, change
):
    race = Race(owner, people["owner"], workspace)
    kept, meet, writing = [], threading.Barrier(2), threading.Event()
    monkeypatch.setattr(entering, "share_season", lambda season: (share_season(season), writing.set()))

    def run(act, units, r):
        """Refused where the other act has made it impossible; nothing else may be wrong with it.

        Every second pair starts at once; in the others the change comes while values are being written.
        """
        meet.wait()
        if r % 2 and act != race.enter:
            writing.wait(30)
        try:
            return act(units, r)
        except (Conflict, Refused):
            return None
        except IntegrityError as error:
            if error.__cause__.sqlstate != "23503":  # this one is answered as `at-once`
                raise
            return None

    with ThreadPoolExecutor(2) as threads:
        for r in range(PAIRS):
            units = race.ready(r)
            writing.clear()
            both = [race.enter, getattr(race, change)]
            found = {act: threads.submit(run, act, units, r) for act in (both if r % 4 < 2 else both[::-1])}
            outcomes, _ = (found[act].result() for act in both)
            kept.append(seen_of(race, outcomes))
        meet.reset()
        list(threads.map(lambda _: (meet.wait(), connection.close()), range(2)))
    assert sum(kept) >= PAIRS // 2


def seen_of(race, outcomes):
    """Whether anything was answered as saved; all of it stands, where the visit shows it."""
    saved = {one.id for one in outcomes or () if one.state == "saved"}
    rows = Observation.objects.filter(pk__in=saved, current=True, unit__season=race.season)
    assert rows.count() == len(saved)
    taken = VisitMeasure.objects.filter(visit=race.trial.visit).values("measure__version")
    assert rows.filter(version__in=taken).count() == len(saved)
    return bool(saved)


@pytest.mark.django_db
def test_notes_photographs_and_troubles_of_plots_keep_the_map_too(owner, workspace):
    trial = Trial(owner, workspace)
    season = Season.objects.get(trial=trial.id)
    note = {"unit": trial.unit("101"), "text": "Hares"}
    assert owner.put(f"/api/v1/visits/{trial.visit}/notes/{uuid.uuid4()}", note, format="json").status_code == 200
    refused = trial.plan(**{**PLAN, "seed": 5})
    assert refused.status_code == 409
    assert refused.json()["detail"].startswith("There are notes about plots, so the plots can’t be randomised again.")
    Note.objects.all().delete()
    body = {"kind": "trouble", "day": "2026-06-20", "text": "", "trouble": "browsing", "effect": "doubtful",
            "plots": ["101"], "treatments": []}  # fmt: skip
    url = f"/api/v1/trials/{trial.id}/log/{uuid.uuid4()}"
    assert owner.put(url, body, format="json").status_code == 200
    assert "name plots" in trial.plan(**{**PLAN, "seed": 5}).json()["detail"]
    LogEntry.objects.filter(season=season).delete()
    assert trial.plan(**{**PLAN, "seed": 5}).status_code == 200


@pytest.mark.django_db
def test_no_row_that_values_hang_on_can_be_deleted(owner, workspace):
    trial = Trial(owner, workspace)
    trial.enter(trial.typed("101", "7"))
    for rows in (Unit.objects.filter(label="101"), Visit.objects.all(), Season.objects.all()):
        with pytest.raises(RestrictedError):
            rows.delete()
    assert Observation.objects.count() == 1
