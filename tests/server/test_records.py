"""Trials, units and observations as they are kept: trees, codes, keys, histories, and two people at once."""

import threading
import uuid
from datetime import UTC, datetime

import pytest
from django.db import IntegrityError, connection, transaction

from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize
from apercu_core.trial.facts import PlotFacts
from config import clock
from config.problems import Conflict
from crew.actions import add_person
from crew.models import Membership, Person, Role, Workspace
from crew.permissions import MAY, NotAllowed, require
from library.actions import Defined, measure_version
from records.actions import Entry, record_entries
from records.entering import correct
from records.models import Observation, Visit
from trials.actions import NewMeasure, NewTrial, change_measure, create_trial
from trials.models import Site, Trial, TrialMeasure, Unit, UnitKind

PLOTS = tuple(
    PlotFacts(f"{b}0{p}", block, treatment, p)
    for b, block in enumerate("AB", start=1)
    for p, treatment in enumerate(("Oat", "Bare", "Vetch"), start=1)
)
ENTERED = datetime(2026, 6, 24, 8, 0, tzinfo=UTC)


@pytest.fixture
def owner(people):
    return people["owner"]


@pytest.fixture
def season(owner, workspace):
    site = Site.objects.create(workspace=workspace, name="Long Piece")
    new = NewTrial(
        uuid.uuid4(), "Covers", PLOTS, "rcbd", "Bare", [NewMeasure("y", "Yield", "t/ha", 2.0)], site,
        size=PlotSize(6, 12, 0.5, 3),
    )  # fmt: skip
    return create_trial(by=owner, workspace=workspace, new=new)


@pytest.fixture
def visit(season):
    return Visit.objects.create(season=season, name="Harvest")


def entry(season, label="101", value=40.0, **changes):
    unit = Unit.objects.get(season=season, label=label, kind=UnitKind.PLOT)
    version = season.trial.measures.get().version
    return Entry(**{"id": uuid.uuid4(), "unit": unit, "version": version, "sample": 1, "value": value,
                    "typed": str(value), **changes})  # fmt: skip


# --- the tree and the ground --------------------------------------------------------------------------------------


def test_units_hang_in_a_tree_from_trial_to_plot_with_the_ground_below(season):
    plot = Unit.objects.get(season=season, label="203")
    kinds = []
    unit = plot
    while unit:
        kinds.append(unit.kind)
        unit = unit.parent
    assert kinds == ["plot", "block", "location", "trial"]
    assert (plot.ground.x_m, plot.ground.y_m, plot.ground.schematic) == (13.0, 15.0, False)
    assert plot.treatment.name == "Vetch"


def test_the_control_comes_first_and_every_treatment_has_its_own_code(season):
    assert [(t.name, t.code, t.is_control) for t in season.trial.treatments.all()] == [
        ("Bare", "BARE", True), ("Oat", "OAT", False), ("Vetch", "VE", False)
    ]  # fmt: skip


def test_plots_stay_on_the_ground_when_their_trial_goes(season):
    site = season.site
    assert site.plots.count() == 6
    Trial.objects.all().delete()
    assert site.plots.count() == 6


def test_a_table_without_sizes_is_drawn_from_the_top(owner, workspace):
    site = Site.objects.create(workspace=workspace, name="Unknown")
    new = NewTrial(uuid.uuid4(), "Brought", PLOTS, "rcbd", None, [], site)
    made = create_trial(by=owner, workspace=workspace, new=new)
    heights = {u.label: u.ground.y_m for u in made.units.filter(kind=UnitKind.PLOT).select_related("ground")}
    assert heights["101"] > heights["201"]
    assert all(u.ground.schematic for u in made.units.filter(kind=UnitKind.PLOT).select_related("ground"))


def test_plots_without_blocks_stand_in_rows_of_as_many_as_there_are_treatments(owner, workspace):
    site = Site.objects.create(workspace=workspace, name="Square")
    loose = [PlotFacts(str(i), "", f"T{i % 3}", i + 1) for i in range(6)]
    made = create_trial(by=owner, workspace=workspace, new=NewTrial(uuid.uuid4(), "x", loose, "crd", None, [], site))
    assert {(u.ground.x_m, u.ground.y_m) for u in made.units.plots().select_related("ground")} == {
        (x, y) for x in (0.0, 3.5, 7.0) for y in (0.0, 6.5)
    }


def test_a_margin_at_or_below_zero_never_reaches_the_table(season, owner):
    measure = season.trial.measures.get()
    with pytest.raises(Refused, match="must be a number above 0"):
        change_measure(by=owner, measure=measure, changes={"margin": -1.0})
    with pytest.raises(IntegrityError), transaction.atomic():
        TrialMeasure.objects.update(margin=0)


def test_one_name_and_unit_share_a_measure_version_and_another_unit_is_the_next(workspace):
    with transaction.atomic():
        first = measure_version(workspace, Defined("Yield", "t/ha"))
        assert measure_version(workspace, Defined("Yield", "t/ha")) == first
        second = measure_version(workspace, Defined("Yield", "kg/ha"))
    assert (first.number, second.number, first.measure_id) == (1, 2, second.measure_id)


# --- observations -------------------------------------------------------------------------------------------------


def test_entries_are_added_once_whatever_is_sent_twice(season, visit, owner):
    entries = [entry(season, label) for label in ("101", "102")]
    for _ in range(2):
        record_entries(by=owner, visit=visit, entries=entries, entered_at=ENTERED)
    assert Observation.objects.count() == 2
    kept = Observation.objects.get(id=entries[0].id)
    assert (kept.typed, kept.units, kept.entered_at) == ("40.0", "metric", ENTERED)


def test_a_visit_of_96_values_is_one_bulk_write(season, visit, owner, django_assert_max_num_queries):
    entries = [entry(season, sample=i) for i in range(1, 97)]
    visit = Visit.objects.select_related("season__trial__workspace").get(id=visit.id)
    with django_assert_max_num_queries(4):
        record_entries(by=owner, visit=visit, entries=entries, entered_at=ENTERED)
    assert Observation.objects.count() == 96


def test_the_database_allows_one_current_row_for_a_key(season, visit, owner):
    record_entries(by=owner, visit=visit, entries=[entry(season)], entered_at=ENTERED)
    row = Observation.objects.get()
    row.id = uuid.uuid4()
    with pytest.raises(IntegrityError), transaction.atomic():
        row.save(force_insert=True)
    for zone, kind, component in (("mulch", "", ""), ("", "species", "Fat hen"), ("", "grade", "Fat hen")):
        row.id, row.zone, row.component_kind, row.component = uuid.uuid4(), zone, kind, component
        row.save(force_insert=True)
    assert Observation.objects.filter(current=True).count() == 4


def test_a_chain_of_corrections_can_be_walked_back(season, visit, owner):
    record_entries(by=owner, visit=visit, entries=[entry(season)], entered_at=ENTERED)
    for typed in ("41", "42", ""):
        old = Observation.objects.get(current=True)
        correct(by=owner, old=old, id=uuid.uuid4(), fields={"value": typed}, why="looked again")
    row, values = Observation.objects.get(current=True), []
    while row:
        values.append(row.value)
        row = row.replaces
    assert values == [None, 42.0, 41.0, 40.0]


@pytest.mark.parametrize("guarded", [True, False], ids=["guarded", "control without the guard"])
@pytest.mark.django_db(transaction=True)
def test_two_people_correcting_one_figure_at_once(guarded, season, visit, owner):
    """Exactly one correction is current and the other person is told; without the check both would think they won."""
    record_entries(by=owner, visit=visit, entries=[entry(season)], entered_at=ENTERED)
    old = Observation.objects.select_related("visit__season__trial__workspace").get()
    start, outcomes = threading.Barrier(2), []

    def save(value):
        mine = Observation.objects.select_related("visit__season__trial__workspace", "version__measure").get(id=old.id)
        start.wait()
        try:
            if guarded:
                correct(by=owner, old=mine, id=uuid.uuid4(), fields={"value": str(value)}, why="mine")
            else:  # change the row in place, as if nobody else were there
                Observation.objects.filter(id=old.id).update(value=value)
            outcomes.append("kept")
        except Conflict:
            outcomes.append("told")
        finally:
            connection.close()

    threads = [threading.Thread(target=save, args=(value,)) for value in (41.0, 42.0)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(outcomes) == (["kept", "told"] if guarded else ["kept", "kept"])
    assert Observation.objects.filter(current=True).count() == 1
    assert Observation.objects.count() == (2 if guarded else 1)


# --- people -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("role", [*Role.values, None])
@pytest.mark.parametrize("act", ["see", "record", "plan", "answer"])
def test_require_lets_pass_what_the_role_may_and_says_who_to_ask_otherwise(role, act, people, workspace):
    person = people[role] if role else people["stranger"]
    if role and act in MAY[role]:
        require(person, act, workspace)
        return
    with pytest.raises(NotAllowed, match="Ask an owner"):
        require(person, act, workspace)


def test_actions_ask_before_they_change_anything(season, visit, people):
    with pytest.raises(NotAllowed):
        record_entries(by=people["reader"], visit=visit, entries=[entry(season)], entered_at=ENTERED)
    with pytest.raises(NotAllowed):
        change_measure(by=people["technician"], measure=season.trial.measures.get(), changes={"margin": 9.0})
    assert Observation.objects.count() == 0
    assert season.trial.measures.get().margin == 2.0


@pytest.mark.django_db
def test_adding_a_person_makes_the_workspace_once():
    for name in ("Ada", "Bo"):
        add_person(email=f"{name}@fen.example", name=name, password="a-long-password", workspace="New", role=Role.OWNER)
    assert Workspace.objects.filter(name="New").count() == 1
    assert Membership.objects.filter(workspace__name="New").count() == 2
    with pytest.raises(IntegrityError), transaction.atomic():
        Person.objects.create_person("ADA@fen.example", "Other", None)


def test_the_clock_stands_still_when_told_and_knows_the_site_s_date(settings):
    settings.CLOCK = "2026-06-30T23:30:00+00:00"
    assert clock.now() == datetime(2026, 6, 30, 23, 30, tzinfo=UTC)
    assert str(clock.today("Europe/London")) == "2026-07-01"
    assert str(clock.today("America/Chicago")) == "2026-06-30"
