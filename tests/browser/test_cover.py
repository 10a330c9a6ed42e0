"""Green cover from photographs of the frames, on a phone: many at once, looked at, set by hand, and entered."""

import re
import uuid
from datetime import date

import pytest
from django.db import transaction
from playwright.sync_api import expect

from crew.models import Person
from records.models import Observation
from records.visits import plan_visit
from sample_photographs.models import SamplePhotograph
from standins.camera.photograph import photograph
from tests.browser.hands import choose
from trials.added_measures import measure_of_catalogue
from trials.models import Season


@pytest.fixture
def visit(demo):
    season = Season.objects.get(trial__name="Covers before sugar beet")
    with transaction.atomic():
        measure = measure_of_catalogue(season.trial, "green-cover")
    return plan_visit(
        by=Person.objects.get(email="maren@harrowfen.example"), season=season, id=uuid.uuid4(),
        name="Cover photographs", due=date(2026, 9, 18), measures=[measure.pk],
    )  # fmt: skip


def test_photographs_of_two_plots_are_looked_at_corrected_and_entered(desk, visit, tmp_path):
    page = desk.page
    page.set_viewport_size({"width": 390, "height": 844})
    taken = [photograph(seed, "silt", "broad", share, size=(640, 480)) for seed, share in ((5, 0.25), (6, 0.7))]
    paths = []
    for n, one in enumerate(taken):
        paths.append(tmp_path / f"IMG_{n + 9}.jpg")  # by name 10 comes after 9
        paths[-1].write_bytes(one.jpeg)
    (tmp_path / "IMG_11.jpg").write_bytes(b"not a photograph")
    desk.sign_in()
    page.goto(f"{desk.url}/trials/{visit.season.trial_id}/walk/{visit.pk}")
    page.locator("input[type=file]").last.set_input_files([*paths, tmp_path / "IMG_11.jpg"])
    dialog = page.get_by_role("dialog", name="Green cover from photographs")
    expect(dialog.get_by_text(re.compile("isn’t a photograph"))).to_be_visible()
    found = dialog.locator(".percent")
    expect(found).to_have_count(2)
    shown = [float(text.split()[0]) for text in found.all_inner_texts()]
    for percent, one in zip(shown, taken, strict=True):
        assert percent == pytest.approx(one.scene.cover_percent, abs=3)
    picture = dialog.get_by_role("img").first
    page.wait_for_function("img => img.complete && img.naturalWidth > 0", arg=picture.element_handle())
    dialog.get_by_role("slider").first.fill("0.4")
    expect(found.first).not_to_have_text(f"{shown[0]:g} % green")
    by_hand = float(found.first.inner_text().split()[0])
    page.set_viewport_size({"width": 844, "height": 390})  # the phone is turned, and nothing is gone
    expect(found).to_have_count(2)
    choose(page, "Plot and frame of IMG_9.jpg", "Plot 105")
    dialog.get_by_role("button", name="Enter 2 values").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_text("All saved")).to_be_visible()
    first = SamplePhotograph.objects.get(photograph__width=640, unit__label="105")
    assert Observation.objects.get(visit=visit, unit=first.unit).value == by_hand
    rows = Observation.objects.filter(visit=visit).order_by("value").values_list("value", flat=True)
    assert sorted(rows) == sorted([by_hand, shown[1]])
    assert SamplePhotograph.objects.filter(visit=visit).count() == 2
    page.get_by_role("link", name="Show photographs").click()
    expect(page.get_by_role("heading", name="Photographs of this visit")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Show photograph: Plot"))).to_have_count(2)
