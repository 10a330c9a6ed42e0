"""The frame stays: what names the trial and leads through it is in view however long the page, on desk and phone."""

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
    desk.page.get_by_role("link", name="When to kill covers before barley").click()
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
