"""A split plot from nothing to printed labels, by pointer and by keyboard; what can't be drawn loses nothing typed."""

import json
import re

import pytest
from playwright.sync_api import expect

from records.models import Observation
from tests.browser.hands import choose
from trials.models import Unit


class Hand:
    """Does an act by pointer, or by keyboard alone: what has the focus is reached by Tab, never by a script."""

    def __init__(self, page, keys):
        self.page, self.keys = page, keys

    def reach(self, locator):
        """Tab on until the focus is there; fails if it never gets there."""
        locator.wait_for()
        for _ in range(150):
            if locator.evaluate("e => e === document.activeElement"):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"The keyboard doesn’t reach {locator}")

    def press(self, locator, key="Enter"):
        if self.keys:
            self.reach(locator)
            self.page.keyboard.press(key)
        else:
            locator.click()

    def type(self, locator, text):
        if self.keys:
            self.reach(locator)
            self.page.keyboard.press("Control+A")
            self.page.keyboard.type(text)
        else:
            locator.fill(text)


@pytest.mark.parametrize("keys", [False, True], ids=["pointer", "keyboard"])
@pytest.mark.usefixtures("worker")
def test_a_split_plot_from_nothing_to_printed_labels(desk, keys):
    page = desk.page
    desk.sign_in()
    hand = Hand(page, keys)
    hand.press(page.get_by_role("link", name="Plan new trial").or_(page.get_by_role("button", name="Plan new trial")))
    page.wait_for_load_state("networkidle")
    hand.type(page.get_by_label("Name of the trial"), "Kill dates")
    for n, (name, levels) in enumerate((("kill", "early, late"), ("cover", "vetch, oat, phacelia")), start=1):
        hand.press(page.get_by_role("button", name="Add factor"))
        row = page.get_by_role("group", name=f"factor {n}")
        hand.type(row.get_by_role("textbox", name="Factor"), name)
        hand.type(row.get_by_role("textbox", name=re.compile("^Levels")), levels)
        if name == "kill":
            hand.press(row.get_by_role("checkbox"), "Space")
    page.get_by_role("group", name="treatment 6").wait_for()
    hand.press(page.get_by_role("button", name="Add control without factors"))
    hand.press(page.get_by_role("button", name="Exclude: late, phacelia"))
    hand.type(page.get_by_label("Reason to exclude it"), "frost kills it first")
    page.get_by_role("group", name="treatment 7").wait_for(state="detached")
    hand.type(page.get_by_label("Field (required)", exact=True), "Far Twelve")
    hand.press(page.get_by_role("button", name="Save and plan"))
    page.get_by_text("Proposed design: Split plot").wait_for()
    assert page.get_by_role("combobox", name="Whole-plot factor").count() == 1
    hand.type(page.get_by_label("Plot width (m)"), "3")
    hand.press(page.get_by_role("button", name="Remove 1 block"))
    hand.press(page.get_by_role("button", name="Randomise plots"))
    page.get_by_role("heading", name="Files for the field").wait_for()
    trial = re.search(r"trials/([\w-]+)", page.url)[1]
    plots = list(Unit.objects.filter(season__trial=trial, kind="plot").select_related("parent", "treatment"))
    assert len(plots) == 3 * (3 + 2 + 3)
    wholes = {(u.parent.label, u.treatment.levels.get("kill", "")) for u in plots}
    assert len(wholes) == len({label for label, _ in wholes}) == 9
    with page.expect_download() as printed:
        hand.press(page.get_by_role("button", name="Download stake labels (PDF)"))
    assert printed.value.path().read_bytes().startswith(b"%PDF-")
    assert printed.value.suggested_filename == "kill-dates.labels.pdf"


def planned(desk):
    """The address of the demo's planned trial."""
    desk.sign_in()
    desk.open_trial("When to kill covers")
    desk.page.wait_for_url(re.compile("/trials/"))
    return re.sub(r"/\w+$", "", desk.page.url)


@pytest.mark.usefixtures("worker")
def test_a_rehearsal_and_a_stake_s_code_on_the_planned_trial(desk):
    page, trial = desk.page, planned(desk)
    page.goto(f"{trial}/plan")
    page.get_by_label("True advantage of 6 weeks ahead, vetch").fill("9")
    page.get_by_role("button", name="Simulate 1 season").click()
    page.get_by_text("1 of 1 seasons").wait_for()
    first = page.get_by_role("row").filter(has_text="100 %").first
    assert re.search(r"100 % (Clear gain|Real, size unsettled)", first.inner_text())
    page.get_by_label("Plots that go missing").fill("999")
    page.get_by_role("button", name="Simulate 1 season").click()
    page.get_by_text("There is no plot 999").wait_for()
    assert page.get_by_label("True advantage of 6 weeks ahead, vetch").input_value() == "9"
    page.goto(f"{trial}/walk?plot=203")
    page.get_by_text("1 plot selected").wait_for()


def test_a_design_that_cannot_be_drawn_is_said_where_it_stands_and_the_map_stays(desk):
    page = desk.page
    page.goto(f"{planned(desk)}/plan")
    choose(page, "Design", "Paired strips")
    page.get_by_label("Plot width (m)").fill("3,5")
    page.get_by_role("button", name="Randomise again").click()
    page.get_by_text("Paired strips compare two treatments; there are 8.").first.wait_for()
    assert page.get_by_label("Plot width (m)").input_value() == "3,5"
    assert page.get_by_text("Seed 20261020").is_visible()


def test_a_second_site_has_a_map_of_its_own_and_zones_of_its_plots_are_counted_apart(desk):
    page = desk.page
    trial = planned(desk)
    page.goto(f"{trial}/ask")
    page.get_by_role("button", name="Add site").click()
    page.get_by_role("textbox", name="Field (required)", exact=True).last.fill("Cold Acre")
    page.get_by_role("button", name="Save and plan").click()
    page.get_by_role("button", name="Cold Acre", exact=True).click()
    expect(page.get_by_text("No plots yet.")).to_be_visible()
    page.get_by_role("button", name="Randomise plots").click()
    expect(page.locator('.map [data-label="2101"]')).to_be_visible()
    page.goto(f"{trial}/layout")
    for name, share in (("tilled strip", "25"), ("mulch", "75")):
        page.get_by_role("button", name="Add zone").click()
        page.get_by_role("textbox", name="Zone").last.fill(name)
        page.get_by_role("textbox", name="Share of the plot").last.fill(share)
    choose(page, "Weeds in spring", "in every zone, weighted")
    page.get_by_role("button", name="Save zones").click()
    expect(page.get_by_text("The zones are saved.")).to_be_visible()
    page.goto(f"{trial}/walk")
    page.get_by_role("button", name="Plan visit").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Barley yield").uncheck()
    dialog.get_by_label("Weeds in spring").check()
    dialog.get_by_role("button", name="Save visit").click()
    page.get_by_role("link", name=re.compile("^Weeds in spring")).click()
    first = page.get_by_label("Plot 2101, Weeds in spring, tilled strip: frame 1")
    first.fill("7")
    first.press("Enter")
    expect(page.get_by_text("All saved")).to_be_visible()
    page.get_by_label("Plot 2101, Weeds in spring, mulch: frame 1").fill("2")
    page.keyboard.press("Enter")
    expect(page.get_by_text("All saved")).to_be_visible()
    found = Observation.objects.filter(unit__label="2101").order_by("value").values_list("zone", "value")
    assert list(found) == [("mulch", 8.0), ("tilled strip", 28.0)]


def test_a_trial_is_laid_out_in_its_field_by_dragging_nudging_and_undoing(desk):
    page = desk.page
    page.goto(f"{planned(desk)}/layout")
    block = page.get_by_role("button", name=re.compile("^Block A"))
    expect(block).to_have_accessible_name("Block A, 0 across and 0 along, m")
    page.get_by_label("Field width").first.fill("80")
    page.get_by_label("Field length").first.fill("90")
    page.get_by_role("button", name="Use rectangle", exact=True).click()
    page.get_by_label("Headland").fill("6")
    page.get_by_role("button", name="Move all plots").click()
    expect(page.get_by_text("All 32 plots fit.")).to_be_visible()
    box = block.bounding_box()
    page.mouse.move(box["x"] + 40, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 240, box["y"] + box["height"] / 2, steps=5)
    page.mouse.up()
    expect(block).not_to_have_accessible_name("Block A, 6 across and 6 along, m")
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Move all plots")).to_be_visible()
    page.get_by_role("button", name="Redo").click()
    block.focus()
    page.keyboard.press("ArrowRight")
    expect(block).to_have_accessible_name("Block A, 6.5 across and 6 along, m")
    page.get_by_role("button", name="Save layout").click()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    page.reload()
    expect(block).to_have_accessible_name("Block A, 6.5 across and 6 along, m")
    crossed = {"type": "Polygon", "coordinates": [[[0.12, 52.76], [0.13, 52.77], [0.13, 52.76], [0.12, 52.77]]]}
    file = {"name": "field.geojson", "mimeType": "application/geo+json", "buffer": json.dumps(crossed).encode()}
    page.locator("form input[type=file]").set_input_files([file])
    expect(page.get_by_role("alert").filter(has_text="The outline crosses itself near x")).to_be_visible()
    expect(page.get_by_text("All 32 plots fit.")).to_be_visible()
