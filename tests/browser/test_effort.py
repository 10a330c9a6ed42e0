"""How many taps and keys a visit takes: weeds tapped by species on a phone, a plot of nine measures typed on a desk."""

import re
import uuid
from datetime import date

import pytest
from django.db import transaction
from playwright.sync_api import expect

from crew.models import Person
from records.models import Observation
from records.visits import plan_visit
from trials.added_measures import measure_of_catalogue
from trials.models import Season

MOST_TAPS_PER_WEED = 1.3
MOST_KEYS_PER_PLOT = 30
SPECIES = ("Fat hen", "Common chickweed", "Field pansy", "Annual meadow-grass", "Black-grass", "Volunteer cereal")
FRAMES = ((3, 2, 0, 1, 0, 0), (5, 0, 1, 0, 2, 1), (0, 0, 0, 4, 0, 0), (2, 1, 1, 2, 1, 0))
"""Of one plot: a clean frame beside full ones, 27 weeds."""
NINE = {
    "height": "40", "cover-lodging": "15", "green-cover": "62", "residue-standing": "40", "flowers": "35",
    "weed-cover": "12", "severity": "10", "structure-score": "3", "crop-height": "58",
}  # fmt: skip


@pytest.fixture
def season(demo):
    return Season.objects.get(trial__name="Covers before sugar beet")


def test_weeds_by_species_take_a_tap_each_and_one_for_each_frame(desk, season):
    visit = season.visits.get(name="Weed count")
    measure = visit.taken.get().measure
    measure.parts = [{"name": name, "group": ""} for name in SPECIES]
    measure.save()
    page = desk.page
    page.set_viewport_size({"width": 390, "height": 844})
    desk.sign_in("joss@harrowfen.example")
    page.goto(f"{desk.url}/trials/{season.trial_id}/walk/{visit.pk}")
    keys = page.get_by_role("button", name=re.compile("Add one$"))
    expect(keys).to_have_count(len(SPECIES))
    page.evaluate("window.taps = 0; addEventListener('click', () => window.taps++, true)")
    for n, counts in enumerate(FRAMES, start=1):
        expect(page.get_by_text(f"Frame {n} of 4")).to_be_visible()
        for name, count in zip(SPECIES, counts, strict=True):
            for _ in range(count):
                page.get_by_role("button", name=re.compile(f"^{name}: ")).click()
        page.locator("button.onward").click()
    expect(page.get_by_text("All saved")).to_be_visible()
    weeds = sum(map(sum, FRAMES))
    assert page.evaluate("window.taps") <= MOST_TAPS_PER_WEED * weeds
    rows = Observation.objects.filter(visit=visit, current=True)
    told = {(row.sample, row.component): int(row.fields["count"]) for row in rows}
    assert told == {
        (n, name): count for n, counts in enumerate(FRAMES, start=1)
        for name, count in zip(SPECIES, counts, strict=True)
    }  # fmt: skip


def test_a_whole_plot_of_nine_measures_is_typed_in_thirty_keys(desk, season):
    with transaction.atomic():
        measures = [measure_of_catalogue(season.trial, key) for key in NINE]
    visit = plan_visit(
        by=Person.objects.get(email="maren@harrowfen.example"), season=season, id=uuid.uuid4(), name="Nine measures",
        due=date(2026, 9, 18), measures=[one.pk for one in measures],
    )  # fmt: skip
    page = desk.page
    desk.sign_in()
    page.goto(f"{desk.url}/trials/{season.trial_id}/walk/{visit.pk}")
    first = page.locator("main table input").first
    first.click()
    page.evaluate("window.keys = 0; addEventListener('keydown', () => window.keys++, true)")
    for text in NINE.values():
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    used = page.evaluate("window.keys")
    expect(page.get_by_text("1 of 20 plots")).to_be_visible()
    expect(page.get_by_text("All saved")).to_be_visible()
    assert used <= MOST_KEYS_PER_PLOT
    rows = Observation.objects.filter(visit=visit, current=True)
    assert {row.version.catalogue: row.fields["value"] for row in rows} == NINE
    assert rows.values("unit").distinct().count() == 1
