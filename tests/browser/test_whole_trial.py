"""One whole trial as a new user plays it, by keyboard alone in the plots; what is typed survives a killed browser."""

import io
import os
import re
import signal
import zipfile
from pathlib import Path

import pytest
from playwright.sync_api import expect

from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.trial import read_trial
from apercu_core.reporting.sentences import measure_report
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.words import decimals_for, number
from crew.actions import add_person
from records.models import Observation
from tests.browser.conftest import FLAGS
from tests.browser.hands import pick_measure
from trials.models import Trial, Unit, UnitKind

COUNTS = {"Bare stubble": 12, "Phacelia": 5, "Common vetch": 9}
MASSES = {"Bare stubble": 130.0, "Phacelia": 141.0, "Common vetch": 148.0}
LENGTH, WIDTH = 20, 1.5


@pytest.fixture
def newcomer(desk):
    """Somebody who has never been here, in a workspace without trials."""
    add_person(email="new@fen.example", name="Nell Sedge", password="a-long-password", workspace="New", role="owner")
    page = desk.page
    page.goto(desk.url + "/sign-in")
    page.get_by_label("E-mail").fill("new@fen.example")
    page.get_by_label("Password").fill("a-long-password")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("No trials yet")).to_be_visible()
    return page


def add_measure(page, name, margin, **settings):
    pick_measure(page, name)
    group = page.get_by_role("group", name=name, exact=True)
    group.get_by_role("textbox", name="Margin").fill(margin)
    for label, value in settings.items():
        group.get_by_role("textbox", name=label).fill(value)


def ask(page):
    page.get_by_role("link", name="Plan new trial").click()
    page.get_by_label("Name of the trial").fill("Covers before potato")
    page.get_by_label("Question of the trial").fill("Does any cover lift yield by 2 t/ha?")
    page.get_by_role("button", name="Add treatment").click()
    for i, name in enumerate(COUNTS, start=1):
        page.get_by_role("group", name=f"treatment {i}").get_by_role("textbox", name="Treatment").fill(name)
    add_measure(page, "Weeds", "10", **{"Frames per plot": "2"})
    add_measure(page, "Tuber yield", "2", **{"Harvested width": str(WIDTH)})
    page.get_by_label("Field (required)", exact=True).fill("Drove Field")
    page.get_by_role("button", name="Save and plan").click()
    page.get_by_role("heading", name="Smallest detectable difference").wait_for()


def figures(unit, order):
    """Counts of two frames, and mass and length, that depend on treatment and plot."""
    name = unit.treatment.name
    return [COUNTS[name] + order % 3, COUNTS[name] + (order * 5) % 4], MASSES[name] + order * 1.7 + (order * 7) % 5


def core_reading(trial):
    """What the core makes of the figures that were typed, without database or server."""
    plots, weeds, tubers = [], {}, {}
    for i, unit in enumerate(walk(trial)):
        plots.append(PlotFacts(unit.label, unit.parent.label, unit.treatment.name, unit.position))
        counts, mass = figures(unit, i)
        weeds[unit.label] = [count / 0.25 for count in counts]
        tubers[unit.label] = [10 * mass / (LENGTH * WIDTH)]
    plots.sort(key=lambda plot: plot.label)
    facts = TrialFacts(tuple(plots), "Bare stubble", "drawn")
    asked = [
        Asked("Weeds", "weeds/m²", Margin(10), "lower", kind="count"),
        Asked("Tuber yield", "t/ha", Margin(2), "higher"),
    ]
    recorded = [Recorded(asked[0], weeds, area=0.25), Recorded(asked[1], tubers)]
    return read_trial(facts, "rcbd", recorded, How(), "Bare stubble")


def walk(trial):
    """Plots as they are walked: along one block, back along the next."""
    units = Unit.objects.filter(season__trial=trial, kind=UnitKind.PLOT).select_related("treatment", "parent", "ground")
    rows = {}
    for unit in units:
        rows.setdefault(unit.ground.y_m, []).append(unit)
    return [
        unit
        for n, y in enumerate(sorted(rows))
        for unit in sorted(rows[y], key=lambda u: u.ground.x_m * (-1 if n % 2 else 1))
    ]


@pytest.mark.usefixtures("worker")
def test_from_question_to_page_as_a_new_user_and_figures_on_screen_are_the_cores(desk, newcomer, tmp_path):
    page = newcomer
    ask(page)
    expect(page.get_by_text(re.compile("A true difference of .* t/ha would be found in 8 of 10"))).to_be_visible()
    page.get_by_label("Random seed").fill("7")
    page.get_by_role("button", name="Randomise plots").click()
    expect(page.get_by_role("option")).to_have_count(12)
    expect(page.get_by_text(re.compile("Seed 7, fisher-yates"))).to_be_visible()
    page.get_by_role("link", name="Plan visits").click()
    page.get_by_role("button", name="Plan visit").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name of the visit").fill("Harvest")
    dialog.get_by_label("Tuber yield, t/ha").check()
    dialog.get_by_role("button", name="Save visit").click()
    page.get_by_role("link", name=re.compile("^Harvest")).first.click()
    expect(page.locator("[data-step]").first).to_be_focused()

    trial = Trial.objects.get(name="Covers before potato")
    for i, unit in enumerate(walk(trial)):  # the keyboard alone from here to the last plot
        counts, mass = figures(unit, i)
        for text in (*map(str, counts), f"{mass:.1f}".replace(".", ",") + " kg", str(LENGTH)):
            page.keyboard.type(text)
            page.keyboard.press("Enter")
    expect(page.get_by_text("12 of 12 plots").first).to_be_visible()
    expect(page.get_by_text("All saved")).to_be_visible()
    assert Observation.objects.filter(visit__season__trial=trial, current=True).count() == 36

    page.get_by_role("link", name="Read").click()
    page.get_by_role("button", name="Open results").click()
    page.get_by_role("heading", name="Results", exact=True).wait_for()
    reading = core_reading(trial)
    for measure in reading.measures:
        decimals = decimals_for(float(measure.pairs.se.max()))
        for cell in measure.cells:
            sign = "+" if cell.estimate > 0 else ""
            low, high = (number(end, decimals) for end in (cell.lower, cell.upper))
            said = f"{cell.treatment}: difference {sign}{number(cell.estimate, decimals)}, interval {low} to {high}"
            expect(page.locator(f'[role=img][aria-label^="{said} {measure.asked.unit}"]')).to_have_count(2)
    page.get_by_role("link", name="Tell").click()
    page.get_by_role("heading", name="Reports").wait_for()
    for measure in reading.measures:
        for line in measure_report(measure).lines:
            expect(page.get_by_text(f"{line.treatment}: {line.sentence}")).to_be_visible()
    with page.expect_download() as pdf:
        page.get_by_role("button", name="Grower’s page").click()
    assert Path(pdf.value.path()).read_bytes().startswith(b"%PDF-")
    with page.expect_download() as package:
        page.get_by_role("button", name="Data package").click()
    with zipfile.ZipFile(io.BytesIO(Path(package.value.path()).read_bytes())) as archive:
        assert "data.csv" in archive.namelist()


def test_an_unusual_figure_is_asked_about_a_plot_goes_missing_and_undo_takes_back(desk):
    page = desk.page
    desk.sign_in()
    page.get_by_role("link", name=re.compile("Stand count")).first.click()
    first = page.get_by_label("Plot 302, Cover stand, frame 1")
    expect(first).to_be_focused()
    page.keyboard.type("900")
    page.keyboard.press("Enter")
    ask_back = page.get_by_role("alert").filter(has_text="3600 plants/m² is unusual")
    expect(ask_back).to_be_visible()
    ask_back.get_by_role("button", name="Confirm value").click()
    expect(ask_back).to_have_count(0)
    expect(page.get_by_role("row", name=re.compile("302 C"))).to_contain_text("3600")
    page.get_by_label("Plot 302, Cover stand, frame 2").focus()
    page.keyboard.press("u")  # undo, in an empty field
    expect(first).to_have_value("")
    expect(first).to_be_focused()
    page.keyboard.press("x")  # missing
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("What happened")).to_be_focused()
    page.keyboard.press("Enter")
    expect(dialog.locator(".aside")).to_contain_text("Give the reason")
    page.keyboard.type("hail")
    page.keyboard.press("Enter")
    expect(dialog).to_be_hidden()
    expect(page.get_by_role("option", name=re.compile("302 PH missing"))).to_be_visible()
    expect(page.get_by_label("Plot 303, Cover stand, frame 1")).to_be_focused()
    page.keyboard.press("n")  # note
    page.get_by_role("dialog").get_by_label("Note").fill("wet corner")
    page.get_by_role("button", name="Save note").click()
    expect(page.get_by_text("wet corner")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("heading", name="Keys on this page")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="Keys on this page")).to_be_hidden()
    page.get_by_role("button", name="Resolve 1 conflict").click()
    decide = page.get_by_role("dialog")
    decide.get_by_role("radio").nth(1).check()
    decide.get_by_label("Reason").fill("counted again")
    decide.get_by_role("button", name="Use this value").click()
    expect(page.get_by_role("button", name=re.compile("Resolve 1 conflict"))).to_have_count(0)


def kill_browser(profile):
    """End every process of the browser with this profile, at once and without a word."""
    for folder in Path("/proc").iterdir():
        if folder.name.isdigit():
            try:
                command = (folder / "cmdline").read_bytes()
            except OSError:
                continue
            if str(profile).encode() in command:
                os.kill(int(folder.name), signal.SIGKILL)


def open_sheet(playwright, demo, profile):
    context = playwright.chromium.launch_persistent_context(
        profile, executable_path="/usr/bin/chromium", args=FLAGS, viewport={"width": 1280, "height": 800}
    )
    page = context.pages[0]
    page.goto(demo + "/sign-in")
    email = page.get_by_label("E-mail")
    email.or_(page.get_by_role("heading", name="Today")).wait_for()
    if email.count():
        email.fill("joss@harrowfen.example")
        page.get_by_label("Password").fill("demo-of-apercu")
        page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name=re.compile("Stand count")).first.click()
    field = page.get_by_label("Plot 302, Cover stand, frame 1")
    field.wait_for()
    return page, field


def test_a_browser_killed_300_ms_after_the_last_key_loses_at_most_that_key(playwright, demo, tmp_path):
    profile = tmp_path / "profile"
    page, field = open_sheet(playwright, demo, profile)
    expect(field).to_be_focused()
    page.keyboard.type("1275")
    page.wait_for_timeout(300)  # the time that is asked for, not a wait for something
    kill_browser(profile)
    page, again = open_sheet(playwright, demo, profile)
    expect(again).to_have_value(re.compile("^127"))
    page.context.close()
    assert not Observation.objects.filter(typed__startswith="127").exists()  # it was only on the device


def test_on_a_phone_a_thumb_counts_frame_by_frame_and_the_queue_outlives_the_signal(desk):
    page = desk.page
    page.set_viewport_size({"width": 390, "height": 844})
    desk.sign_in("joss@harrowfen.example")
    page.get_by_role("link", name=re.compile("Stand count")).first.click()
    plus = page.get_by_role("button", name="Add 1 to Cover stand")
    counted = page.get_by_label("Plot 302, Cover stand")
    counted.fill("58")  # like the other plots of phacelia, or it would be asked about
    for _ in range(3):
        plus.click()
    expect(counted).to_have_value("61")
    page.get_by_role("button", name="Go to frame 2 →").click()
    expect(page.get_by_text("Frame 2 of 3")).to_be_visible()
    expect(page.get_by_text("All saved")).to_be_visible()
    page.context.set_offline(True)
    counted.fill("70")
    plus.click()
    page.get_by_role("button", name="Go to frame 3 →").click()
    expect(page.get_by_text("No connection. 1 value waits on this device.")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("All saved")).to_be_visible(timeout=10_000)
    saved = Observation.objects.filter(visit__name="Stand count", unit__label="302", current=True)
    assert [row.fields for row in saved.order_by("sample")] == [{"count": "61"}, {"count": "71"}]


def test_us_units_follow_the_person_to_every_station(desk):
    page = desk.page
    desk.sign_in()
    page.get_by_role("button", name=re.compile("now metric")).click()
    page.get_by_role("button", name=re.compile("now US")).wait_for()
    desk.open_board()
    expect(page.get_by_text("margin 0.8922 ton/ac").first).to_be_visible()
    expect(page.locator('[data-part="scale-bar"] ~ text')).to_have_text(re.compile("ft$"))
    page.get_by_role("link", name=re.compile(r"^Plan \d")).click()
    expect(page.get_by_text("Plots of 19.7 × 39.4 ft")).to_be_visible()
    expect(page.get_by_text("Values are recorded, so the plot map")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Randomise plots"))).to_have_count(0)


@pytest.mark.usefixtures("worker")
def test_the_data_package_is_dropped_back_and_gives_the_same_board(desk, tmp_path):
    page = desk.page
    desk.sign_in()
    desk.open_board()
    verdicts = page.locator(".board [role=img][aria-label*=difference]")
    before = [verdicts.nth(i).get_attribute("aria-label") for i in range(verdicts.count())]
    page.get_by_role("link", name=re.compile("^Tell")).click()
    with page.expect_download() as package:
        page.get_by_role("button", name="Data package").click()
    package.value.save_as(tmp_path / "covers.zip")
    page.goto(desk.url)
    page.locator("input[type=file]").set_input_files(tmp_path / "covers.zip")
    expect(page.get_by_label("Name of the trial")).to_have_value("Covers before maincrop potato")
    page.get_by_role("button", name="Import table").click()  # nothing has to be said again
    page.get_by_role("heading", name="Results", exact=True).wait_for()
    assert len(before) == 20
    expect(verdicts).to_have_count(20)
    assert sorted(verdicts.nth(i).get_attribute("aria-label") for i in range(20)) == sorted(before)
