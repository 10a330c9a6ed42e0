"""A frame counted on its photograph, on a phone: straightened, suggested, marked, entered, and measured on."""

import re

import pytest
from playwright.sync_api import expect

from records.models import Observation
from sample_photographs.models import PhotoCount, PhotoLength, SamplePhotograph
from standins.camera.photograph import Conditions, photograph
from tests.browser.test_accessibility import small_targets
from trials.models import Season


@pytest.fixture
def visit(demo):
    return Season.objects.get(trial__name="Covers before sugar beet").visits.get(name="Stand count")


def test_plants_are_suggested_corrected_by_hand_and_entered_with_their_marks(desk, visit, tmp_path):
    page = desk.page
    page.set_viewport_size({"width": 390, "height": 844})
    made = photograph(12, "silt", "small", 0.03, size=(640, 640), conditions=Conditions())
    (tmp_path / "frame.jpg").write_bytes(made.jpeg)
    desk.sign_in()
    page.goto(f"{desk.url}/trials/{visit.season.trial_id}/walk/{visit.pk}")
    page.locator(".standing").wait_for()  # what is below moves down when it comes
    page.get_by_role("button", name="Count on a photograph").click()
    dialog = page.get_by_role("dialog", name=re.compile("^Count on a photograph"))
    place = dialog.get_by_role("heading").inner_text()
    dialog.locator("input[type=file]").set_input_files(tmp_path / "frame.jpg")
    corner = dialog.get_by_role("button", name="Upper left corner")
    corner.wait_for()
    assert desk.axe() + small_targets(page) == []
    corner.focus()
    corner.press("ArrowLeft")
    picture = dialog.locator(".picture").bounding_box()
    for name, x, y in (("Upper left", 0, 0), ("Upper right", 1, 0), ("Lower right", 1, 1), ("Lower left", 0, 1)):
        ring = dialog.get_by_role("button", name=f"{name} corner").bounding_box()
        page.mouse.move(ring["x"] + 24, ring["y"] + 24)
        page.mouse.down()
        page.mouse.move(picture["x"] + picture["width"] * x, picture["y"] + picture["height"] * y, steps=3)
        page.mouse.up()
    dialog.get_by_role("button", name="Straighten picture").click()
    expect(dialog.get_by_text("0 counted")).to_be_visible()
    dialog.get_by_role("button", name="Suggest marks").click()
    accept = dialog.get_by_role("button", name=re.compile(r"^Accept \d+ suggestions$"))
    suggested = int(re.search(r"\d+", accept.inner_text())[0])
    assert suggested == pytest.approx(len(made.scene.plants), abs=4)
    expect(dialog.get_by_role("button", name="Enter 0")).to_be_disabled()  # with suggestions open nothing is entered
    assert desk.axe() + small_targets(page) == []
    accept.click()
    expect(dialog.get_by_text(f"{suggested} counted")).to_be_visible()
    shown = dialog.locator(".view .picture")
    box = shown.bounding_box()
    assert box["width"] <= 390
    empty = next(
        (x, y) for x in (0.5, 0.3, 0.7) for y in (0.5, 0.3, 0.7)
        if all(abs(px / 640 - x) + abs(py / 640 - y) > 0.2 for px, py in made.scene.plants)
    )  # fmt: skip
    at = {"x": box["width"] * empty[0], "y": box["height"] * empty[1]}
    shown.click(position=at)
    expect(dialog.get_by_text(f"{suggested + 1} counted")).to_be_visible()
    shown.click(position=at)  # a tap on a mark takes it away
    expect(dialog.get_by_text(f"{suggested} counted")).to_be_visible()
    dialog.get_by_role("button", name="Undo last mark").click()
    dialog.get_by_role("button", name="Close without entering").click()
    dialog.get_by_role("button", name="Stay and count on").click()
    dialog.get_by_role("button", name=f"Enter {suggested + 1}").click()
    expect(dialog).to_be_hidden()
    page.get_by_role("button", name="Confirm value").click()  # the other plots of the demo have many more
    expect(page.get_by_text("All saved")).to_be_visible()
    counted = PhotoCount.objects.get()
    assert sum(not one[2] for one in counted.marks) == 1
    label = re.search(r"Plot (\d+)", place)[1]
    row = Observation.objects.get(visit=visit, unit__label=label, sample=1, current=True)
    assert row.fields == {"count": str(suggested + 1)}
    page.get_by_role("link", name="Show photographs").click()
    page.get_by_role("button", name=re.compile(f"^Show photograph: Plot {label}")).click()
    large = page.get_by_role("dialog", name=re.compile(f"^Plot {label}"))
    large.get_by_role("button", name="Add length").wait_for()
    assert desk.axe() + small_targets(page) == []
    large.get_by_role("button", name="Add length").click()
    line = large.locator(".picture")
    box = line.bounding_box()
    for x in (0.2, 0.8):
        line.click(position={"x": box["width"] * x, "y": box["height"] / 2})
    large.get_by_label("What is measured").fill("Canopy")
    large.get_by_role("button", name="Save length").click()
    expect(large.get_by_text(re.compile(r"^Canopy (30|29\.\d|30\.\d) cm$")).last).to_be_visible()
    assert PhotoLength.objects.count() == 1
    large.get_by_role("button", name="Remove photograph").click()
    large.get_by_role("button", name="Remove photograph").click()
    expect(large).to_be_hidden()
    assert not SamplePhotograph.objects.exists()
