"""The frame stays: what names the trial and leads through it is in view however long the page, on desk and phone."""

import re

import pytest
from playwright.sync_api import expect

STATIONS = ("Ask", "Plan", "Sow", "Season", "Walk", "Weigh", "Read", "Tell")
BOXES = """() => [...document.querySelectorAll('nav.index .tab')].map(tab => {
    const box = tab.getBoundingClientRect()
    return { name: tab.querySelector('strong').innerText, width: box.width, height: box.height, top: box.top,
        bottom: box.bottom, cut: tab.scrollWidth > tab.clientWidth }
})"""


def planned(desk):
    desk.sign_in()
    desk.open_trial("When to kill covers before barley")
    desk.page.get_by_role("navigation").get_by_role("link", name="Plan").click()
    desk.page.get_by_role("heading", name="Smallest detectable difference").wait_for()
    desk.page.wait_for_load_state("networkidle")


@pytest.mark.parametrize("width", [360, 390])
def test_a_phone_gives_96_px_to_the_shell_and_reaches_eight_stations(desk, width):
    page = desk.page
    page.set_viewport_size({"width": width, "height": 740})
    planned(desk)
    assert page.evaluate("document.querySelector('main').getBoundingClientRect().top") <= 96
    page.evaluate("scrollTo(0, 2000)")
    for shown in ("header.band", ".strip"):
        assert page.locator(shown).bounding_box()["y"] >= 0
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    tabs = page.evaluate(BOXES)
    assert tuple(tab["name"] for tab in tabs) == STATIONS
    for tab in tabs:
        assert min(tab["width"], tab["height"]) >= 48, tab
        assert tab["bottom"] <= 740, tab
        assert not tab["cut"], tab
    page.get_by_role("button", name="Menu").click()
    expect(page.get_by_role("button", name="Sunlight")).to_be_visible()
    expect(page.get_by_role("button", name="Sign out")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Sign out")).to_be_hidden()
    page.get_by_role("button", name="Show map").click()
    expect(page.get_by_role("option").first).to_be_visible()


def test_on_a_desk_name_stations_line_and_map_stay_while_a_long_page_is_read(desk):
    page = desk.page
    page.set_viewport_size({"width": 1280, "height": 800})
    planned(desk)
    for button in ("Zoom in", "Zoom out", "Show all plots"):
        expect(page.get_by_role("button", name=button)).to_be_in_viewport(ratio=1)
    expect(page.locator(".foot")).to_be_in_viewport(ratio=1)
    page.evaluate("scrollTo(0, 1500)")
    expect(page.locator(".strip + .folded")).to_be_in_viewport(ratio=1)
    expect(page.get_by_text("When to kill covers before barley").first).to_be_in_viewport(ratio=1)
    for tab in page.evaluate(BOXES):
        assert tab["top"] >= 44, tab
        assert tab["bottom"] <= 800, tab
    expect(page.get_by_role("button", name="Show all plots")).to_be_in_viewport(ratio=1)


def test_what_a_plan_detects_stands_beside_the_choices_and_follows_them(desk):
    page = desk.page
    page.set_viewport_size({"width": 1280, "height": 800})
    planned(desk)
    answer = page.get_by_role("complementary", name="Smallest detectable difference")
    expect(answer.get_by_role("definition").last).to_be_in_viewport(ratio=1)
    expect(page.get_by_role("button", name="Add 1 block")).to_be_in_viewport(ratio=1)
    before = answer.get_by_role("definition").first.inner_text()
    page.get_by_role("button", name="Add 1 block").click()
    expect(answer.get_by_role("definition").first).not_to_have_text(before)
    assert "your margin of 0.5 t/ha" in answer.inner_text()


@pytest.mark.parametrize("width", [360, 390])
def test_a_visit_on_a_phone_goes_to_any_plot(desk, width):
    page = desk.page
    page.set_viewport_size({"width": width, "height": 740})
    desk.sign_in()
    page.get_by_role("link", name=re.compile("Stand count")).first.click()
    for how in ("number", "list"):
        page.get_by_role("button", name="Go to plot").first.click()
        if how == "number":
            page.get_by_role("textbox", name="Plot number").fill("405")
            page.keyboard.press("Enter")
        else:
            page.get_by_role("button", name=re.compile("^Plot 203:")).click()
        page.get_by_role("dialog").wait_for(state="hidden")
        expect(page.locator("p.number")).to_have_text("405" if how == "number" else "203")


def test_what_a_colleague_enters_appears_within_15_s(desk, browser):
    page = desk.page
    desk.sign_in()
    page.get_by_role("link", name=re.compile("Stand count")).first.click()
    mine = page.get_by_label("Plot 401, Cover stand, frame 1")
    expect(mine).to_have_value("")
    other = browser.new_context().new_page()
    other.goto(f"{desk.url}/sign-in")
    other.get_by_label("E-mail").fill("joss@harrowfen.example")
    other.get_by_label("Password").fill("demo-of-apercu")
    other.get_by_role("button", name="Sign in").click()
    other.get_by_role("link", name=re.compile("Stand count")).first.click()
    theirs = other.get_by_label("Plot 401, Cover stand, frame 1")
    theirs.fill("61")
    theirs.press("Enter")
    other.get_by_text("All saved").wait_for()
    expect(mine).to_have_value("61", timeout=15_000)
    other.context.close()


def test_help_says_what_the_page_is_for_and_finds_a_term(desk):
    page = desk.page
    desk.sign_in()
    desk.open_board()
    page.keyboard.press("?")
    dialog = page.get_by_role("dialog", name="Help: Results")
    expect(dialog.get_by_role("img")).to_have_count(5)
    expect(dialog.get_by_role("listitem")).to_have_count(3)
    dialog.get_by_text("Glossary").click()
    dialog.get_by_role("textbox", name="Find a term").fill("80 %")
    expect(dialog.get_by_role("term").filter(has_text="power")).to_be_visible()
    expect(dialog.get_by_role("term").filter(has_text="tramline")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()


def test_charts_tables_and_the_board_are_saved_as_files(desk, tmp_path):
    page = desk.page
    desk.sign_in()
    desk.open_board()

    def saved(button):
        with page.expect_download() as download:
            page.get_by_role("button", name=button).first.click()
        path = tmp_path / download.value.suggested_filename
        download.value.save_as(path)
        return path

    board = saved("Download board (CSV)").read_text(encoding="utf-8-sig").splitlines()
    assert board[0].startswith("measure,unit,visit,date,treatment,compared with,difference,lower,upper")
    assert len(board) == 1 + 5 * 4  # five measures, four treatments beside the control
    page.get_by_role("link", name="Potato yield").last.click()
    svg = saved("Download SVG: Means")
    assert svg.name == "potato-yield-means.svg"
    assert "<title>Potato yield: Means</title>" in svg.read_text()
    assert saved("Download PNG: Means").read_bytes()[:8] == b"\x89PNG\r\n\x1a\n"
    page.get_by_role("button", name="Show table: Means").click()
    table = saved("Download table (CSV): Means").read_text(encoding="utf-8-sig")
    assert "Bare stubble," in table


def test_a_page_that_does_not_come_is_said_and_opens_when_it_can(desk):
    page = desk.page
    desk.sign_in()
    page.route("**/NewTrialPage*", lambda route: route.abort("connectionreset"))
    page.get_by_role("link", name="Plan new trial").click()
    expect(page.get_by_role("alert")).to_contain_text("couldn’t be loaded")
    page.unroute("**/NewTrialPage*")
    page.get_by_role("button", name="Open page").click()
    page.get_by_label("Name of the trial").wait_for()
    away = {"code": "database-unavailable", "detail": "The database is starting."}
    page.route("**/api/v1/session", lambda route: route.fulfill(status=503, json=away))
    page.reload()
    expect(page.get_by_role("alert")).to_contain_text("The database is starting.")
    expect(page.get_by_role("alert")).to_contain_text("Apercu tries again every 5 s.")
    page.unroute("**/api/v1/session")
    page.get_by_label("Name of the trial").wait_for()
    expect(page.get_by_role("alert")).to_have_count(0)
