"""US units from Ask to Plan: what is shown, what is kept, and that nothing drifts between two people's units."""

import math
import uuid
from importlib import import_module

import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile

from crew.models import Person
from records.models import Observation
from reports.stake_out import map_html
from tests.server.asking import PLAN, YIELD, Trial, measure_in, page, site_in, stands
from trials.models import Season, TrialMeasure

FEET = 3.280839895


@pytest.fixture
def trial(client_of, workspace):
    measures = [measure_in(margin=12.5), measure_in("Barley", **YIELD)]
    return Trial(client_of("owner"), workspace, measures=measures, sites=[site_in(coldest_c=-11.5)])


def in_units(client, units):
    assert client.patch("/api/v1/session", {"units": units}, format="json").status_code == 200


def shown(trial):
    return trial.client.get(f"/api/v1/trials/{trial.id}").json()


def sent_back(trial, **changes):
    """The page of Ask as it is shown, with changes of the first measure."""
    now = shown(trial)
    measures = [{**m, "planned_for": []} for m in now["measures"]]
    measures[0] |= changes
    whole = {**trial.page, "treatments": now["treatments"], "sites": now["sites"], "measures": measures}
    answer = trial.client.put(f"/api/v1/trials/{trial.id}/ask", whole, format="json")
    assert answer.status_code == 200, answer.content
    return answer.json()


def kept(trial):
    rows = TrialMeasure.objects.filter(trial=trial.id).select_related("version").order_by("order")
    return [(m.margin, m.expected, m.version.unit, m.version.settings) for m in rows]


def test_a_page_that_is_opened_and_saved_in_the_other_units_changes_nothing(trial):
    before, temperature = kept(trial), shown(trial)["site"]["coldest_c"]
    in_units(trial.client, "us")
    weeds, barley = shown(trial)["measures"]
    assert (weeds["shown_unit"], weeds["margin"], weeds["expected"], weeds["settings"]["area"]) == (
        "weeds/ft²", 1.161, 3.716, 2.691,
    )  # fmt: skip
    assert (barley["shown_unit"], barley["margin"]) == ("ton/ac", 0.223)
    assert shown(trial)["site"]["coldest_c"] == 11.3  # °F
    for units in ("us", "metric", "us", "metric"):
        in_units(trial.client, units)
        sent_back(trial)
        assert kept(trial) == before
    assert (temperature, shown(trial)["site"]["coldest_c"]) == (-11.5, -11.5)


def test_what_is_typed_in_one_system_is_read_in_the_other_and_comes_back_as_it_was(trial):
    in_units(trial.client, "us")
    area = {"area": "3", "frames": "2"}
    assert sent_back(trial, margin="1.5", expected="4", settings=area)["measures"][0]["margin"] == 1.5
    margin, expected, unit, settings = kept(trial)[0]
    assert (unit, settings["area"]) == ("weeds/m²", pytest.approx(3 * 0.09290304))
    assert (margin, expected) == (pytest.approx(1.5 / 0.09290304), pytest.approx(4 / 0.09290304))
    before = kept(trial)
    in_units(trial.client, "metric")
    assert shown(trial)["measures"][0]["margin"] == pytest.approx(16.1459, abs=1e-4)
    sent_back(trial)
    assert kept(trial) == before
    in_units(trial.client, "us")
    assert shown(trial)["measures"][0]["margin"] == 1.5


def test_a_unit_of_its_own_is_taken_as_such(trial):
    in_units(trial.client, "us")
    sent_back(trial, margin="12 weeds/m2")
    assert kept(trial)[0][0] == pytest.approx(12)
    now = shown(trial)
    page = {**trial.page, "treatments": now["treatments"], "sites": [{**now["site"], "coldest_c": "-10 C"}]}
    page["measures"] = [{**m, "planned_for": []} for m in now["measures"]]
    assert trial.client.put(f"/api/v1/trials/{trial.id}/ask", page, format="json").status_code == 200
    assert shown(trial)["site"]["coldest_c"] == 14.0  # °F


def test_the_catalogue_and_refusals_speak_in_the_person_s_units(client_of, workspace):
    client = client_of("owner")
    in_units(client, "us")
    catalogue = client.get("/api/v1/catalogue").json()
    frame = next(s for s in catalogue["sheets"] if s["key"] == "frame-count")["settings"][0]
    assert (frame["unit"], frame["usual"]) == ("ft²", 2.691)
    cover = next(m for m in catalogue["measures"] if m["key"] == "cover-biomass")
    assert (cover["shown_unit"], "140 to 149 °F" in cover["pitfall"]) == ("lb/ac", True)
    asked = page(workspace, measures=[measure_in(settings={"area": "2000", "frames": "2"})])
    refused = client.put(f"/api/v1/trials/{uuid.uuid4()}/ask", asked, format="json").json()
    assert "The range is 0.011 to 1,100 ft²." in refused["detail"]


def test_lengths_of_a_plan_are_the_same_metres_when_they_come_back_as_shown(trial):
    in_units(trial.client, "us")
    as_shown = {"width": f"{3 * FEET:.4g}", "length": f"{10 * FEET:.4g}", "gap": "1.64", "alley": "6.562"}
    assert trial.plan(**{**PLAN, **as_shown}).status_code == 200
    plan = shown(trial)["plan"]
    assert (plan["width"], plan["length"], plan["gap"], plan["alley"]) == (3.0, 10.0, 0.5, 2.0)
    trial.plan(**{**PLAN, "width": "30", "length": "490"})
    assert (shown(trial)["plan"]["width"], shown(trial)["plan"]["length"]) == (9.144, pytest.approx(149.352, abs=3e-3))
    size = client_size(trial)
    assert [round(metres * FEET, 3) for metres in (size["width"], size["length"])] == [20, 40]  # round in feet


def client_size(trial):
    return shown(trial)["proposal"]["size"]


def test_the_map_goes_out_in_feet_and_comes_back_where_it_was(trial, workspace):
    where = {p["label"]: (p["x"], p["y"], p["width"], p["length"]) for p in shown(trial)["plots"]}
    in_units(trial.client, "us")
    table = trial.client.get(f"/api/v1/trials/{trial.id}/stake-out.csv").content
    assert table.splitlines()[0].endswith(b"across_from_ft,across_to_ft,along_from_ft,along_to_ft")
    file = SimpleUploadedFile("map.csv", table, "text/csv")
    url = f"/api/v1/trials/{trial.id}/plan/file?although_taken_out=true"
    asked = {"file": file, "allocation": "drawn", "design": "rcbd"}
    answer = trial.client.post(url, asked, format="multipart")
    assert answer.status_code == 200, answer.content
    for plot in shown(trial)["plots"]:
        again = (plot["x"], plot["y"], plot["width"], plot["length"])
        assert again == pytest.approx(where[plot["label"]], abs=1e-3)


def test_the_printed_map_says_size_date_site_and_north(trial):
    season, owner = Season.objects.get(trial=trial.id), Person.objects.get(name="Owner")
    page = map_html(by=owner, season=season, ink="colour")
    assert "Mill Ground. 12 plots of 3 × 10 m, width × length. Randomised on " in page
    assert "North is 30° anticlockwise from the top of the map." in page
    owner.units = "us"
    assert "12 plots of 9.84 × 32.8 ft" in map_html(by=owner, season=season, ink="colour")


def test_long_strips_are_laid_side_by_side_unless_somebody_wants_them_end_to_end(trial):
    strips = {**PLAN, "width": "9", "length": "150", "alley": "4"}
    asked = {"blocks": 4, "width": "9", "length": "150", "alley": "4"}
    found = trial.client.post(f"/api/v1/trials/{trial.id}/outlook", asked, format="json").json()["arrangement"]
    assert (found["side_by_side"], "driven in one pass" in found["why"], found["width"]) == (True, True, 120)
    trial.plan(**strips)
    assert (shown(trial)["plan"]["side_by_side"], shown(trial)["plan"]["ground_length"]) == (True, 150)
    trial.plan(**{**strips, "side_by_side": False})
    assert (shown(trial)["plan"]["side_by_side"], shown(trial)["plan"]["ground_length"]) == (False, 612)


def test_depths_of_a_profile_and_times_of_a_watch_are_told_with_the_field_they_belong_to(client_of, workspace):
    depth = measure_in("Depth of resistance", unit="cm", catalogue="penetration", sheet="resistance",
                       settings={"from": 5, "step": 10}, margin=10, expected=30, direction="higher")  # fmt: skip
    visits = measure_in("Flower visits", unit="visits/min", catalogue="visits-by-kind", sheet="kinds-per-time",
                        settings={"minutes": 4}, margin=1, expected=3, direction="higher")  # fmt: skip
    trial = Trial(client_of("owner"), workspace, measures=[depth, visits])
    profile, watched = trial.open()["measures"]
    assert profile["fields"][0]["depths"] == {"first": 5, "step": 10, "unit": "cm", "limit": 2}
    assert (profile["fields"][0]["timed"], profile["watched"], watched["watched"]) == (False, None, 4)
    in_units(trial.client, "us")
    depths = trial.open()["measures"][0]["fields"][0]["depths"]
    assert (depths["first"], depths["step"]) == (pytest.approx(5 / 2.54), pytest.approx(10 / 2.54))
    assert (depths["unit"], depths["limit"]) == ("in", 2)


def test_what_was_typed_is_meant_in_the_typist_s_units_also_where_the_value_s_unit_is_the_same_in_both(trial):
    ring = measure_in("Bulk density", unit="g/cm³", catalogue="bulk-density", sheet="bulk-density", settings={},
                      margin=0.1, expected=1.3, cv_percent=5)  # fmt: skip
    soil = Trial(trial.client, Season.objects.get(trial=trial.id).trial.workspace, measures=[ring])
    in_units(soil.client, "us")
    entry = soil.typed("101", {"dry": "4.5"})
    density = soil.enter(entry)[0]["value"]
    assert density == pytest.approx(4.5 * 28.349523125 / (math.pi * 2.5**2 * 5))  # g in the cm³ of the ring
    assert stands(soil, "101")["fields"] == {"dry": "4.5"}
    soil.enter(soil.typed("101", {"dry": "4.6"}, replaces=entry["id"]))
    undone = soil.client.post(
        f"/api/v1/observations/{stands(soil, '101')['id']}/undo", {"id": str(uuid.uuid4())}, format="json"
    )
    assert (undone.status_code, stands(soil, "101")["value"]) == (200, density)
    in_units(soil.client, "metric")
    assert stands(soil, "101")["fields"] == {"dry": "4.5 oz"}
    # Rows of an earlier release didn't say: working them out again does.
    soil.enter(soil.typed("102", {"dry": "130"}))
    Observation.objects.update(units="metric")
    import_module("records.migrations.0015_units_of_what_was_typed").find_where_the_unit_tells_nothing(apps)
    said = set(Observation.objects.values_list("fields__dry", "units"))
    assert said == {("4.5", "us"), ("4.6", "us"), ("130", "metric")}
    Observation.objects.update(fields={})  # and early ones of a table have no fields
    assert stands(soil, "101")["fields"] == {"value": "4.5"}
