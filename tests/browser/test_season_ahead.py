"""Weather that fails and comes back, stages that bring a kill on, the kill window, and what is done on a phone."""

import threading
from datetime import date

import pytest
from playwright.sync_api import expect

from standins.weather.service import Behaviour, WeatherServer
from tests.server.test_photographs import photograph
from trials.models import Season


@pytest.fixture
def service(settings):
    settings.PRIVATE_SERVICES = True
    with WeatherServer(("127.0.0.1", 0), Behaviour(today=date(2026, 9, 18))) as server:
        threading.Thread(target=server.serve_forever, args=[0.02], daemon=True).start()
        yield server
        server.shutdown()


def open_season(desk, name="Covers before sugar beet"):
    desk.open_trial(name)
    desk.page.get_by_role("navigation").get_by_role("link", name="Season").click()


def tab(page, name):
    page.get_by_role("navigation", name="Pages of the season").get_by_role("link", name=name).click()


def test_the_weather_service_fails_and_comes_back_and_forecasts_follow(desk, worker, service):
    desk.sign_in()
    page = desk.page
    open_season(desk)
    expect(page.get_by_role("listitem").filter(has_text="Drill the beet")).to_contain_text("no date yet")
    tab(page, "Weather")
    page.get_by_label("Name of the service").fill("Fenwatch")
    page.get_by_label("Address").fill(service.url)
    page.get_by_role("button", name="Add service").click()
    page.get_by_role("button", name="Use station: Tarrow Sluice").click()
    expect(page.get_by_text("Normal is the mean of 10 earlier years at this station.")).to_be_visible(timeout=30_000)
    expect(page.get_by_role("row").filter(has_text="Sow the covers, 26 Aug 2026")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="17 Sep 2026")).to_contain_text("service")
    assert desk.axe() == []
    service.behaviour.failing = True
    page.get_by_role("button", name="Check for new days").click()
    trouble = page.get_by_text("The weather service answered 503, 4 times in a row.")
    expect(trouble).to_be_visible(timeout=20_000)
    expect(page.get_by_role("row").filter(has_text="17 Sep 2026")).to_contain_text("service")  # nothing is lost
    service.behaviour.failing = False
    page.get_by_role("button", name="Check for new days").click()
    expect(trouble).to_be_hidden(timeout=20_000)
    tab(page, "Operations and visits")
    drill = page.get_by_role("listitem").filter(has_text="Drill the beet")
    expect(drill).to_contain_text("2027 to")  # a range, from the earlier years
    drill.get_by_text("What this date hangs on").click()
    expect(drill).to_contain_text("Ahead as in 10 earlier years.")


def test_a_stage_brings_a_kill_on_and_the_kill_window_says_what_each_method_does(desk):
    desk.sign_in()
    page = desk.page
    open_season(desk)
    tab(page, "Growth stages")
    page.get_by_role("button", name="Enter stage: Common vetch, CV").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Save stage").click()
    expect(dialog.get_by_text("Choose the stage.").first).to_be_visible()
    dialog.get_by_label("Stage", exact=True).click(force=True)
    page.get_by_role("option", name="61 · one flower in ten is open").click()
    dialog.get_by_role("button", name="Save stage").click()
    expect(page.get_by_text("Stage 61: one flower in ten is open")).to_be_visible()
    tab(page, "Kill window")
    page.get_by_role("button", name="CV Common vetch kill").click()
    expect(page.get_by_role("row").filter(has_text="Crimping")).to_contain_text("doesn’t kill it")
    expect(page.get_by_role("row").filter(has_text="Tillage")).to_contain_text("kills it")
    expect(page.get_by_role("row").filter(has_text="Spraying")).to_contain_text("not known")
    assert desk.axe() == []
    # The way to say when is taken over into the kill that is planned, and nothing is kept before it is saved.
    page.get_by_role("button", name="Plan by stage").click()
    expect(dialog.get_by_label("Name")).to_have_value("Flail the vetch")
    expect(dialog.get_by_label("Plant")).to_be_visible()
    dialog.get_by_role("button", name="Cancel").click()


def test_on_a_phone_a_trouble_and_a_stage_are_two_taps_from_today_and_read_honours_it(desk):
    desk.page.set_viewport_size({"width": 390, "height": 844})
    desk.sign_in()
    page = desk.page
    page.get_by_role("link", name="Add trouble").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Trouble").click(force=True)
    page.get_by_role("option", name="Hail").click()
    dialog.get_by_label("Where").click(force=True)
    page.get_by_role("option", name="some blocks").click()
    dialog.get_by_role("button", name="Save entry").click()
    expect(dialog.get_by_text("Nothing is chosen yet.").first).to_be_visible()
    dialog.get_by_label("Where").click(force=True)
    page.get_by_role("option", name="some plots").click()
    dialog.get_by_label("Plots, by number").fill("402")
    page.get_by_role("option", name="402").click()
    page.keyboard.press("Escape")
    dialog.get_by_label("Values from this day on").click(force=True)
    page.get_by_role("option", name="Missing: the values don’t count").click()
    dialog.get_by_label("Add photographs").set_input_files(
        [{"name": "hail.jpg", "mimeType": "image/jpeg", "buffer": photograph((900, 600))},
         {"name": "list.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"}]
    )  # fmt: skip
    expect(dialog.get_by_text("list.jpg can’t be shown here")).to_be_visible()
    assert desk.axe() == []
    page.context.set_offline(True)
    dialog.get_by_role("button", name="Save entry").click()
    expect(dialog).to_be_hidden()
    page.context.set_offline(False)
    line = page.get_by_role("listitem").filter(has_text="Hail")
    expect(line).to_contain_text("values count as missing")
    line.get_by_role("button", name="Show photograph 1").click()
    expect(page.get_by_role("dialog").get_by_role("img")).to_have_js_property("naturalWidth", 900)
    assert desk.axe() == []
    page.get_by_role("button", name="Close photograph").click()
    entry = Season.objects.get(trial__name="Covers before sugar beet").log.get(trouble="hail")
    assert [unit.label for unit in entry.plots.all()] == ["402"]
    page.get_by_role("link", name="Apercu: go to Today").click()
    page.get_by_role("link", name="Enter stage").click()
    expect(page.get_by_role("dialog").get_by_label("Day", exact=True)).to_have_value("2026-09-18")
    page.get_by_role("dialog").get_by_role("button", name="Cancel").click()
    page.get_by_role("link", name="Apercu: go to Today").click()
    page.get_by_role("link", name="Check go or wait").click()
    expect(page.get_by_role("heading", name="Go or wait")).to_be_in_viewport()


def test_a_kill_that_left_too_much_alive_leads_to_a_second_pass_for_those_alone(desk):
    season = Season.objects.get(trial__name="Covers before sugar beet")
    person = season.trial.workspace.memberships.get(role="owner").person
    vetch, mustard = (season.trial.treatments.get(name=name) for name in ("Common vetch", "White mustard"))
    kill = season.operations.create(kind="kill", name="Frost kill", done=date(2026, 9, 10), by=person)
    kill.treatments.set([vetch, mustard])
    for unit in season.units.filter(kind="plot", treatment__in=[vetch, mustard]):
        kill.living.create(
            unit=unit, day=date(2026, 9, 17), percent=40 if unit.treatment_id == vetch.id else 3, by=person
        )
    desk.sign_in()
    open_season(desk)
    tab(desk.page, "Kill window")
    page = desk.page
    after = page.locator(".kill").filter(has_text="Frost kill")
    expect(after).to_contain_text("More than 10 % lived at the last check: CV.")
    page.get_by_label("Most that may live after a kill, %").fill("45")
    page.get_by_role("button", name="Save limit").click()
    expect(after).not_to_contain_text("A second pass is wanted")
    page.get_by_label("Most that may live after a kill, %").fill("15")
    page.get_by_role("button", name="Save limit").click()
    after.get_by_role("button", name="Plan second pass").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Name")).to_have_value("Frost kill, second pass")
    dialog.get_by_label("For", exact=True).click(force=True)
    page.get_by_role("option", name="some blocks").click()
    dialog.get_by_role("button", name="Save operation").click()
    expect(dialog.get_by_text("Nothing is chosen yet.").first).to_be_visible()
    dialog.get_by_label("For", exact=True).click(force=True)
    page.get_by_role("option", name="some treatments").click()
    dialog.get_by_role("button", name="Save operation").click()
    expect(dialog).to_be_hidden()
    second = season.operations.get(name="Frost kill, second pass")
    assert ([one.name for one in second.treatments.all()], second.after_id, second.after_days) == (
        ["Common vetch"],
        kill.id,
        14,
    )


def test_on_a_phone_what_is_due_is_done_in_two_taps_from_today(desk):
    season = Season.objects.get(trial__name="Covers before sugar beet")
    person = season.trial.workspace.memberships.get(role="owner").person
    due = season.operations.create(kind="irrigate", name="Water the trays", due=date(2026, 9, 18), by=person)
    desk.page.set_viewport_size({"width": 390, "height": 844})
    desk.sign_in()
    page = desk.page
    page.get_by_role("link", name="Water the trays").click()
    line = page.get_by_role("listitem").filter(has_text="Water the trays")
    line.get_by_role("button", name="Mark as done today").click()
    expect(line.locator(".state")).to_have_text("done")
    due.refresh_from_db()
    assert due.done == date(2026, 9, 18)
