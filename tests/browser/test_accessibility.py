"""axe with the WCAG 2.2 AA tags finds nothing, in three modes, on desk and phone.

On the phone nothing runs off the side, and what can be tapped is 48 px high.
"""

import re

import pytest

from tests.browser.hands import choose, pick_measure

SIZES = {"desk": {"width": 1280, "height": 800}, "phone": {"width": 390, "height": 844}}
AT_REST = """() => Promise.all(document.getAnimations()
    .filter(one => one.effect.getComputedTiming().endTime < 5000).map(one => one.finished.catch(() => null)))"""
TABLE = "Block,Plot,Cover,Yield\nA,1,Bare,40\nA,2,Oat,x\nB,3,Oat,43\nB,4,Bare,41\nC,5,Oat,44\nC,6,Bare,40\n"


def small_targets(page):
    """What can be tapped and is lower than 48 px, of what is seen."""
    return page.evaluate("""() => [...document.querySelectorAll(
        'button, .index a, .v-field, summary, .desk li a, .visit a, .file, main .v-btn, label:has(input[type=radio])')]
        .filter(e => e.offsetParent && e.getBoundingClientRect().height < 47.5)
        .map(e => `${e.textContent.trim()} ${e.getBoundingClientRect().height}`)""")


def faults(desk, size):
    """What is wrong with the view as it stands, once what was opened has come to rest."""
    desk.page.evaluate(AT_REST)
    wide = SIZES[size]
    # The whole page at once: what stays in view covers no target then, as it wouldn't after scrolling.
    tall = desk.page.evaluate("Math.max(innerHeight, document.documentElement.scrollHeight)")
    desk.page.set_viewport_size({**wide, "height": tall})
    found = desk.axe()
    desk.page.set_viewport_size(wide)
    if size == "phone":
        width = desk.page.evaluate("document.documentElement.scrollWidth")
        found += [f"runs {width - 390} px off the side"] if width > 390 else []
        found += [f"low: {target}" for target in small_targets(desk.page)]
    return found


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("part", ["reading", "walking"])
def test_every_view_is_clean_in_every_mode(desk, size, part):
    desk.page.set_viewport_size(SIZES[size])
    views = {"reading": views_of_reading, "walking": views_of_walking}[part]
    assert [f"{view}: {fault}" for view, found in views(desk, size).items() for fault in found] == []


@pytest.mark.parametrize("part", ["planning", "asking", "stations"])
def test_views_with_the_same_acts_in_both_sizes_are_clean_in_every_mode(desk, part):
    views = {"planning": views_of_planning, "asking": views_of_asking, "stations": views_of_stations}[part]
    assert [f"{view}: {fault}" for view, found in views(desk).items() for fault in found] == []


def in_both_sizes(desk):
    """What is wrong with the view at either size; it is opened once and folds in between."""
    found = []
    for size, wide in SIZES.items():
        desk.page.set_viewport_size(wide)
        found += [f"{size}: {fault}" for fault in faults(desk, size)]
    desk.page.set_viewport_size(SIZES["desk"])
    return found


def views_of_reading(desk, size):
    """From signing in to the full reading, with what can stand open in them."""
    page = desk.page
    page.goto(desk.url + "/sign-in")
    page.get_by_label("E-mail").fill("maren@harrowfen.example")
    found = {"sign-in": faults(desk, size)}
    desk.sign_in()
    page.get_by_text("Covers before").first.wait_for()
    found["today"] = faults(desk, size)
    page.locator("input[type=file]").set_input_files(
        [{"name": "t.csv", "mimeType": "text/csv", "buffer": TABLE.encode()}]
    )
    page.get_by_role("button", name="Import table").wait_for()
    found["bring"] = faults(desk, size)
    page.goto(desk.url)
    desk.open_board()
    if size == "phone":
        page.get_by_role("button", name="Show map").click()
    page.get_by_role("button", name="Answer: Trial too small for the margin").first.click()
    found["board"] = faults(desk, size)
    (page.get_by_role("button", name="margin 2 t/ha") if size == "phone" else
     page.get_by_role("button", name="Set margin and direction: Potato yield")).last.click()  # fmt: skip
    page.get_by_role("dialog").wait_for()
    found["margin"] = faults(desk, size)
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    page.get_by_role("link", name="Potato yield").last.click()
    page.get_by_role("button", name="Show table: Means").click()
    page.get_by_role("button", name="Show table: Plot values by block").click()
    found["full"] = faults(desk, size)
    return found


def growing_trial(desk):
    """The address of the growing trial, which opens at Walk."""
    page = desk.page
    page.goto(desk.url)
    desk.open_trial("Covers before sugar beet")
    page.get_by_role("heading", name="Field visits").wait_for()
    return page.url.removesuffix("/walk")


def views_of_planning(desk):
    """A new trial and the species guide."""
    page, found = desk.page, {}
    desk.sign_in()
    page.goto(desk.url + "/new")
    pick_measure(page, "Weeds")
    page.get_by_role("group", name="Weeds").wait_for()
    found["new"] = in_both_sizes(desk)
    page.get_by_role("button", name="Save and plan").click()
    page.get_by_text("required entries are empty").wait_for()
    found["missing entries"] = in_both_sizes(desk)
    page.goto(desk.url + "/species")
    page.get_by_role("listitem", name="Cereal rye").get_by_role("button", name="Add to mix").click()
    page.get_by_text("Total:").wait_for()
    found["species"] = in_both_sizes(desk)
    page.get_by_role("listitem", name="Cereal rye").get_by_role("button", name="Show record").click()
    page.get_by_role("dialog").wait_for()
    found["record"] = in_both_sizes(desk)
    return found


def stations_of(desk, *stations):
    """Stations of the growing trial, each with the heading that says that it is there."""
    page, found = desk.page, {}
    desk.sign_in()
    trial = growing_trial(desk)
    for station, heading in stations:
        page.goto(f"{trial}/{station}")
        page.get_by_role("heading", name=heading, exact=True).wait_for()
        page.wait_for_load_state("networkidle")
        found[station] = in_both_sizes(desk)
    return trial, found


def views_of_asking(desk):
    trial, found = stations_of(desk, ("ask", "Question and treatments"), ("plan", "Smallest detectable difference"))
    page = desk.page
    page.goto(f"{trial}/ask")
    pick_measure(page, "A measure of my own")
    own = page.locator(".measure").last
    choose(page, "Sheet for entry", "Own fields and formula", within=own)
    own.get_by_role("button", name="Add fixed number").click()
    own.get_by_text("Try this measure").click()
    found["own measure"] = in_both_sizes(desk)
    return found


def views_of_stations(desk):
    """The other stations before the plots are walked, and Tell."""
    page = desk.page
    trial, found = stations_of(desk, ("layout", "Layout in the field"), ("tell", "Reports"))
    page.goto(f"{trial}/season")
    page.get_by_role("button", name="Add operation").click()
    page.get_by_role("dialog").wait_for()
    found["season"] = in_both_sizes(desk)
    return found


def views_of_walking(desk, size):
    """Walk, and a visit's sheet with what can stand open in it."""
    page, found = desk.page, {}
    desk.sign_in()
    trial = growing_trial(desk)
    page.get_by_role("button", name="Plan visit").click()
    page.get_by_role("dialog").wait_for()
    found["walk"] = faults(desk, size)
    page.goto(f"{trial}/walk")
    page.get_by_role("link", name=re.compile("^Stand count")).last.click()
    field = (
        page.locator("[data-step]").first if size == "phone" else page.get_by_label("Plot 302, Cover stand, frame 1")
    )
    field.fill("900")
    field.press("Enter")
    page.get_by_text("is unusual").wait_for()
    found["visit"] = faults(desk, size)
    (page.get_by_role("button", name="Mark missing") if size == "phone" else
     page.get_by_role("button", name=re.compile("as missing"))).click()  # fmt: skip
    page.get_by_role("dialog").wait_for()
    found["missing"] = faults(desk, size)
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    page.get_by_role("button", name="Go to plot").first.click()
    page.get_by_role("textbox", name="Plot number").wait_for()
    found["jump"] = faults(desk, size)
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    if size == "desk":
        page.keyboard.press("?")
        page.get_by_role("heading", name="Keys on this page").wait_for()
        found["keys"] = faults(desk, size)
    return found
