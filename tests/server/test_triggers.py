"""Operations that wait for a stage, warmth, soil or growth: their forecast, what moves it, and what moves along."""

import uuid
from datetime import date, timedelta

import pytest

from apercu_core.weather.days import WeatherDay
from operations.following import follow_all
from operations.models import GrowthStage, Operation
from tests.server.asking import Trial, measure_in
from tests.server.test_sowing import OAT, described
from trials.models import Season
from weather.actions import put_days
from weather.models import SiteStation, Source, Station

pytestmark = pytest.mark.django_db(transaction=True)
TODAY = date(2026, 4, 1)
HEIGHT = {"name": "Height", "unit": "cm", "catalogue": "height", "sheet": "figure", "settings": {}}


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = f"{TODAY}T09:00:00+00:00"


@pytest.fixture
def trial(client_of, workspace):
    treatments = [described("Oat", OAT), described("Oat, late", OAT), described("Bare", is_control=True)]
    measures = [measure_in(), measure_in(**HEIGHT), measure_in(**{**HEIGHT, "name": "Height later"})]
    made = Trial(client_of("owner"), workspace, treatments=treatments, starts="2026-03-01", measures=measures)
    made.plan_visit(measures=made.measures[:1])  # the heights are free for other visits
    return made


def steady(day, celsius=10.0, soil=None):
    return WeatherDay(day, celsius, celsius, 0.0, soil)


def weather(trial, until=TODAY - timedelta(days=1), soil=None):
    """10 °C every day of five years, at a station of the trial's site."""
    season = Season.objects.get(trial=trial.id)
    station = Station.objects.create(workspace=season.trial.workspace, name="Sluice")
    SiteStation.objects.create(site=season.site, station=station)
    first = date(2021, 1, 1)
    days = [first + timedelta(days=i) for i in range((until - first).days + 1)]
    put_days(station, [steady(day, soil=soil) for day in days], Source.FILE, None)
    return station


def treatment(trial, name):
    return next(one["id"] for one in trial.page["treatments"] if one["name"] == name)


def keep(trial, id=None, client=None, **said):
    id = id or str(uuid.uuid4())
    body = {"kind": "kill", "name": "Kill the oat", **said}
    answer = (client or trial.client).put(f"/api/v1/trials/{trial.id}/operations/{id}", body, format="json")
    return id, answer


def one(trial, id, client=None):
    found = (client or trial.client).get(f"/api/v1/trials/{trial.id}/season").json()["operations"]
    return next(line for line in found if line["id"] == id)


def see(trial, name, code, day, plant="black-oat", plots=(), id=None):
    body = {"treatment": treatment(trial, name), "plant": plant, "code": code, "day": str(day), "plots": list(plots)}
    return trial.client.put(f"/api/v1/trials/{trial.id}/stages/{id or uuid.uuid4()}", body, format="json")


def flag_leaf(**more):
    return {"kind": "stage", "plant": "black-oat", "value": "39", **more}


def test_a_stage_brings_a_kill_on_and_what_hangs_on_it_moves(trial):
    weather(trial)
    assert see(trial, "Oat", 31, "2026-03-30").status_code == 200
    kill, answer = keep(trial, trigger=flag_leaf(), treatments=[treatment(trial, "Oat")])
    assert answer.status_code == 200, answer.content
    drill, _ = keep(trial, kind="plant", name="Drill the beet", after=kill, after_days="14")
    spray, _ = keep(trial, kind="spray", name="Spray", due="2026-05-20")
    shown = one(trial, kill)
    # 260 to 420 °C d at 10 a day are 26 to 42 days from the 30th of March on, which counts; 34 in the middle.
    assert (shown["early"], shown["due"], shown["late"]) == ("2026-04-24", "2026-05-02", "2026-05-10")
    assert shown["trigger"]["said"] == "Black oat at stage 39"
    assert any("from experience" in why for why in shown["why"])
    assert one(trial, drill)["due"] == "2026-05-16"
    assert see(trial, "Oat", 37, "2026-04-01").status_code == 200  # further on than was thought
    moved = one(trial, kill)
    assert moved["due"] == "2026-04-11"
    assert (one(trial, drill)["due"], one(trial, spray)["due"]) == ("2026-04-25", "2026-05-20")
    assert (one(trial, drill)["early"], one(trial, drill)["late"]) == ("2026-04-22", "2026-04-27")


def test_the_slowest_treatment_and_its_slowest_plots_count(trial):
    weather(trial)
    both = [treatment(trial, "Oat"), treatment(trial, "Oat, late")]
    kill, _ = keep(trial, trigger=flag_leaf(), treatments=both)
    assert one(trial, kill)["due"] is None
    assert "no stage of Black oat is recorded" in one(trial, kill)["why"][0]
    see(trial, "Oat", 37, TODAY)
    see(trial, "Oat, late", 37, TODAY)
    early = one(trial, kill)["due"]
    season = Season.objects.get(trial=trial.id)
    plot = season.units.filter(treatment_id=both[1]).first().label
    see(trial, "Oat, late", 32, TODAY, plots=[plot])
    assert one(trial, kill)["due"] > early
    assert one(trial, kill)["due"] == "2026-04-24"  # 180 to 290 °C d
    stages = trial.client.get(f"/api/v1/trials/{trial.id}/stages").json()
    assert [stage["plots"] for stage in stages["seen"] if stage["code"] == 32] == [[plot]]
    stand = next(line for line in stages["stands"] if line["treatment"] == both[1])
    assert (stand["code"], stand["next"][0]["code"]) == (32, 37)


def test_a_stage_removed_gives_back_what_was_expected_before(trial):
    weather(trial)
    keep(trial, kind="sow", name="Sow", done="2026-03-10")
    kill, _ = keep(trial, trigger=flag_leaf(value="13"), treatments=[treatment(trial, "Oat")])
    before = one(trial, kill)["due"]
    assert any("Stage 0 was sown on 10 Mar 2026" in why for why in one(trial, kill)["why"])
    wrong = str(uuid.uuid4())
    see(trial, "Oat", 31, TODAY, id=wrong)
    assert one(trial, kill)["due"] == str(TODAY)
    assert trial.client.delete(f"/api/v1/trials/{trial.id}/stages/{wrong}").status_code == 200
    assert one(trial, kill)["due"] == before
    assert GrowthStage.history.filter(id=wrong, history_type="-").exists()


@pytest.mark.parametrize(
    ("said", "where"),
    [
        ({"code": 45}, "stage"),
        ({"plant": "rye"}, "plant"),
        ({"plant": "crop:vineyard"}, "plant"),
        ({"day": "2026-04-02"}, "day"),
        ({"plots": ["999"]}, "plots"),
        ({"name": "Bare", "plant": "black-oat"}, "plant"),
    ],
)
def test_a_stage_that_cannot_be_is_refused_where_it_stands(trial, said, where):
    if said.get("code"):
        said = {"plant": "crop:beans", "code": 45}
    refused = see(trial, **{"name": "Oat", "code": 13, "day": TODAY, **said})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["where"] == where
    assert not GrowthStage.objects.exists()


def test_a_crop_that_is_still_to_be_planted_is_forecast_from_its_planting_and_moves_with_it(trial):
    weather(trial)
    drill, _ = keep(trial, kind="plant", name="Drill the beet", due="2026-04-10")
    spray, answer = keep(
        trial, kind="spray", name="Spray", trigger={**flag_leaf(value="12"), "plant": "crop:sugar beet"}
    )
    assert answer.status_code == 200, answer.content
    # 170 to 250 °C d above 3 °C, 7 a day: 25 to 36 days, the day of drilling among them.
    shown = one(trial, spray)
    assert (shown["early"], shown["due"], shown["late"]) == ("2026-05-04", "2026-05-09", "2026-05-15")
    keep(trial, drill, kind="plant", name="Drill the beet", due="2026-04-20")
    assert one(trial, spray)["due"] == "2026-05-19"
    _, circle = keep(trial, drill, kind="plant", name="Drill the beet", trigger={"kind": "degree_days", "value": "90",
                     "base": "0"}, after=spray)  # fmt: skip
    assert "wait for each other" in circle.json()["detail"]


def test_degree_days_count_from_the_sowing_and_new_weather_moves_them(trial):
    station = weather(trial)
    sow, _ = keep(trial, kind="sow", name="Sow", done="2026-03-10")
    trigger = {"kind": "degree_days", "value": "400", "base": "4"}
    kill, answer = keep(trial, trigger=trigger, after=sow)
    assert answer.status_code == 200, answer.content
    assert one(trial, kill)["due"] == "2026-05-15"  # 6 °C d a day for 67 days, the 10th of March among them
    warm = [steady(TODAY - timedelta(days=i), 16.0) for i in range(1, 11)]
    put_days(station, warm, Source.HAND, None)
    assert follow_all() == 1
    assert one(trial, kill)["due"] == "2026-05-05"  # 60 °C d more are ten days less
    _, refused = keep(trial, trigger={"kind": "degree_days", "value": "400", "base": "4"})
    assert refused.json()["errors"][0]["where"] == "after"


def test_soil_that_is_warm_enough_opens_and_a_closing_before_it_is_warned_of(trial):
    weather(trial, soil=9.0)
    trigger = {"kind": "soil_temperature", "value": "8", "days": "3"}
    closing = {"kind": "day", "day": "2026-03-20", "value": ""}
    drill, answer = keep(trial, kind="plant", name="Drill", trigger=trigger, closes=closing)
    assert answer.status_code == 200, answer.content
    shown = one(trial, drill)
    assert shown["trigger"]["said"] == "soil at least 8 °C for 3 days"
    assert shown["state"] == "overdue"
    assert shown["warning"] == ""
    later = {**trigger, "value": "40"}
    _, answer = keep(trial, drill, kind="plant", name="Drill", trigger=later, closes=closing)
    assert "doesn’t get there" in one(trial, drill)["why"][0]
    _, answer = keep(trial, drill, kind="plant", name="Drill", due="2026-04-10", closes=closing)
    assert "It closes on 20 Mar 2026, before it is due on 10 Apr 2026." in one(trial, drill)["warning"]


def test_a_closing_that_follows_an_operation_cannot_go_in_a_circle(trial):
    drill, _ = keep(trial, kind="plant", name="Drill the beet", due="2026-04-20")
    closing = {"kind": "after", "operation": drill, "days_after": "5", "value": ""}
    spray, answer = keep(trial, kind="spray", name="Before emergence", due="2026-04-22", closes=closing)
    assert answer.status_code == 200, answer.content
    assert one(trial, spray)["closes_day"] == "2026-04-25"
    keep(trial, drill, kind="plant", name="Drill the beet", due="2026-04-10")
    assert one(trial, spray)["closes_day"] == "2026-04-15"
    assert "before it is due" in one(trial, spray)["warning"]
    kill, _ = keep(trial, trigger=flag_leaf(), treatments=[treatment(trial, "Oat")])
    _, circle = keep(trial, kill, trigger={"kind": "degree_days", "value": "9", "base": "0"}, after=kill)
    assert circle.status_code == 422
    assert "wait for each other" in circle.json()["detail"]


def test_a_height_is_forecast_from_what_visits_measured(trial, settings):
    plots = [
        unit.label for unit in Season.objects.get(trial=trial.id).units.filter(treatment_id=treatment(trial, "Oat"))
    ]
    for measure, day, cm in ((1, "2026-03-11", "10"), (2, "2026-03-21", "20")):
        settings.CLOCK = f"{day}T09:00:00+00:00"  # a visit is of the day on which its first value comes
        trial.visit = str(uuid.uuid4())
        assert trial.plan_visit(name=day, due=day, measures=[trial.measures[measure]]).status_code == 200
        outcomes = trial.enter(*[trial.typed(one, {"value": cm}, measure=measure) for one in plots])
        assert {outcome["state"] for outcome in outcomes} == {"saved"}
    settings.CLOCK = f"{TODAY}T09:00:00+00:00"
    kill, answer = keep(trial, trigger={"kind": "height", "value": "40"}, treatments=[treatment(trial, "Oat")])
    assert answer.status_code == 200, answer.content
    assert one(trial, kill)["due"] == "2026-04-10"  # 1 cm a day, without weather
    assert "no range" in one(trial, kill)["why"][1]
    standing = {row["unit"]: row["id"] for row in trial.open()["rows"]}
    trial.enter(*(trial.typed(one, {"value": "22"}, measure=2, replaces=standing[trial.unit(one)]) for one in plots))
    assert one(trial, kill)["due"] == "2026-04-05"  # it follows what was measured: 1.2 cm a day


def test_kill_dates_may_be_stages_and_people_of_another_custom_read_theirs(trial, people, client_of):
    weather(trial)
    names = {"Oat": "31", "Oat, late": "39"}
    dates = [
        {"id": str(uuid.uuid4()), "name": f"Kill {name}", "treatments": [treatment(trial, name)],
         "trigger": flag_leaf(value=code)}
        for name, code in names.items()
    ]  # fmt: skip
    answer = trial.client.post(f"/api/v1/trials/{trial.id}/kill-dates", {"dates": dates}, format="json")
    assert answer.status_code == 200, answer.content
    assert [one(trial, said["id"])["trigger"]["value"] for said in dates] == [31, 39]
    people["technician"].units = "us"
    people["technician"].save()
    hand = client_of("technician")
    sow, _ = keep(trial, client=hand, kind="sow", name="Sow", done="2026-03-10")
    warm, _ = keep(trial, client=hand, trigger={"kind": "degree_days", "value": "720", "base": "39.2"}, after=sow)
    assert one(trial, warm, hand)["trigger"]["said"] == "720 °F d above 39.2 °F"
    assert Operation.objects.get(id=warm).trigger["value"] == 400
    assert Operation.objects.get(id=warm).trigger["base_c"] == 4
    assert one(trial, warm)["trigger"]["said"] == "400 °C d above 4 °C"


def test_the_kill_window_of_each_cover_is_told_by_its_operations(trial, people, client_of):
    weather(trial)
    see(trial, "Oat", 31, TODAY)
    drill, _ = keep(trial, kind="plant", name="Drill", due="2026-06-01")
    keep(trial, name="Kill", after=drill, after_days="-10", treatments=[treatment(trial, "Oat")])
    path = f"/api/v1/trials/{trial.id}/kill-windows"
    found = trial.client.get(f"{path}?early_days=42").json()
    own = {window["treatment"]: window for window in found["windows"]}
    assert set(own) == {treatment(trial, "Oat"), treatment(trial, "Oat, late")}  # bare ground has nothing to kill
    oat = own[treatment(trial, "Oat")]
    assert (oat["kill"]["day"], oat["crop"]["day"]) == ("2026-05-22", "2026-06-01")
    assert [(school["key"], school["day"], school["before_crop"]) for school in oat["schools"]] == [
        ("early", "2026-04-20", 42), ("at_sowing", "2026-06-01", 0), ("after_sowing", "2026-06-06", -5),
    ]  # fmt: skip
    assert {way["way"]: way["effect"] for way in oat["planned"]["plants"][0]["ways"]}["till"] == "kills"
    assert (
        own[treatment(trial, "Oat, late")]["plants"][0]["why_not"] == "No sowing and no stage of Black oat is recorded."
    )
    people["reader"].units = "us"
    people["reader"].save()
    shown = client_of("reader").get(path).json()
    assert shown["biomass_unit"] == "lb/ac"
    assert "°F d" in shown["windows"][0]["ways"][0]["why"][0]
    assert trial.client.get(f"{path}?early_days=x").status_code == 400
