"""The application opens and works without a network: cold start, closed tab, expired sign-in, and all arrives once."""

import re
import shutil
import uuid
from datetime import date

import pytest
from django.contrib.sessions.models import Session
from playwright.sync_api import expect

from config import pages
from crew.models import Person
from demo.loading import PASSWORD
from records.models import Observation
from records.visits import SeriesDate, plan_visit_series
from tests.browser.conftest import Desk
from trials.models import Season

ENTRIES = 200
READY = "navigator.serviceWorker.ready.then(() => navigator.serviceWorker.controller !== null)"
SPECIES = 6


@pytest.fixture
def field(browser, demo, browser_context_args):
    """A phone-less desk whose application may be kept on the device."""
    context = browser.new_context(**{**browser_context_args, "service_workers": "allow"})
    desk = Desk(context.new_page(), demo)
    yield desk
    context.close()


@pytest.fixture
def again(demo):
    """A second visit that counts the same weeds, which have a threshold for action."""
    season = Season.objects.get(trial__name="Covers before sugar beet")
    weeds = season.trial.measures.get(version__sheet="species-count")
    season.trial.measures.filter(pk=weeds.pk).update(action_threshold=40)
    [visit] = plan_visit_series(
        by=Person.objects.get(email="maren@harrowfen.example"), season=season, id=uuid.uuid4(), measures=[weeds.pk],
        dates=[SeriesDate("Weeds once more", date(2026, 9, 18))],
    )  # fmt: skip
    return visit


@pytest.fixture
def next_release(settings, tmp_path):
    """Call it, and the server has a later release of the application, whose kept pages are others."""

    def released():
        later = tmp_path / "later"
        shutil.copytree(settings.WEB_DIST, later)
        index = later / "index.html"
        index.write_text(index.read_text().replace("<head>", '<head><meta name="release" content="later">', 1))
        settings.WEB_DIST = later
        read_anew()

    def read_anew():
        pages._built_page.cache_clear()
        pages._worker_script.cache_clear()

    yield released
    read_anew()


def type_counts(page, visit, number):
    """Counts from the first field of a visit on, each with Enter."""
    page.get_by_label("Plot 101, Weeds, frame 1, Fat hen").click()
    for n in range(number):
        page.keyboard.type(str(n % 7))
        page.keyboard.press("Enter")


def test_two_visits_of_two_hundred_entries_without_a_network_arrive_once_and_only_once(field, again, next_release):
    field.sign_in()
    page, context = field.page, field.page.context
    page.wait_for_function(READY)
    page.reload()
    copied = page.get_by_text(re.compile("^On this device for work without a signal: 3 trials with"))
    expect(copied).to_be_visible(timeout=30_000)  # a slow machine takes its time
    field.open_trial("Covers before sugar beet")
    page.get_by_role("navigation").get_by_role("link", name="Walk").click()
    page.get_by_role("link", name=re.compile("^Weed count")).click()
    page.get_by_label("Plot 101, Weeds, frame 1, Fat hen").wait_for()
    addresses = [page.url, page.url.rsplit("/", 1)[0] + f"/{again.pk}"]
    page.get_by_role("link", name="Apercu: go to Today").click()

    context.set_offline(True)
    for address in addresses:
        page.close()
        page = field.page = context.new_page()  # a cold start
        page.goto(address)
        expect(page.get_by_text(re.compile("^The server can’t be reached. This is as of"))).to_be_visible()
        type_counts(page, address, ENTRIES // 2)
        expect(page.get_by_role("status").filter(has_text=f"{ENTRIES // 2} values wait on this device")).to_be_visible()
        page.get_by_label("Plot 101, Weeds, frame 1, Fat hen").focus()
        expect(page.get_by_text("on average of 4 frames")).to_be_visible()  # worked out on the device
    page.close()  # a killed tab
    Session.objects.all().delete()  # and a sign-in that expires meanwhile
    next_release()
    page = field.page = context.new_page()
    page.goto(addresses[0])
    expect(page.get_by_role("status").filter(has_text=f"{ENTRIES // 2} values wait on this device")).to_be_visible()
    expect(page.get_by_label("Plot 101, Weeds, frame 1, Common chickweed")).to_have_value("1")
    rows = Observation.objects.filter(visit__name__in=("Weed count", "Weeds once more"))
    rows = rows.filter(visit__season__trial__name="Covers before sugar beet")
    assert not rows.exists()

    with page.expect_response(lambda answer: answer.status == 401):
        context.set_offline(False)
    lost = []

    def server_dies(route):
        """The first upload is kept and its answer lost; the second never arrives; then the server is there again."""
        if route.request.method != "PUT" or len(lost) == 2:
            return route.continue_()
        if not lost:
            route.fetch()
        lost.append(route.request.url)
        return route.abort("connectionreset")

    page.route("**/api/v1/visits/*/entries", server_dies)
    page.goto(field.url)
    page.get_by_label("E-mail").fill("maren@harrowfen.example")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    for address in addresses:
        page.goto(address)
        expect(page.get_by_text("4 of 20 plots")).to_be_visible()
        expect(page.get_by_text("All saved")).to_be_visible()
    assert len(lost) == 2
    assert page.locator('meta[name="release"]').count() == 1  # the later release is what runs now
    assert rows.count() == ENTRIES
    assert rows.filter(current=True, in_conflict=False).count() == ENTRIES
    told = rows.filter(visit=again, unit__label="101", sample=1).values_list("component", "value")
    assert sorted(value for _, value in told) == [4.0 * n for n in range(SPECIES)]


def test_what_was_kept_is_gone_with_its_person(field):
    field.sign_in()
    page = field.page
    page.wait_for_function(READY)
    page.reload()
    expect(page.get_by_text(re.compile("^On this device for work"))).to_be_visible(timeout=30_000)
    assert page.evaluate("caches.open('apercu-data').then(cache => cache.keys()).then(keys => keys.length)") > 5
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("E-mail").wait_for()
    page.wait_for_function("caches.has('apercu-data').then(there => !there)")
