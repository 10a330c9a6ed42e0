"""The application opens and works without a network: cold start, closed tab, expired sign-in, and all arrives once."""

import re

import pytest
from django.contrib.sessions.models import Session
from playwright.sync_api import expect

from demo.loading import PASSWORD
from records.models import Observation
from tests.browser.conftest import Desk

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


def test_a_visit_of_two_hundred_entries_without_a_network_arrives_once_and_only_once(field):
    field.sign_in()
    page, context = field.page, field.page.context
    page.wait_for_function(READY)
    page.reload()
    expect(page.get_by_text(re.compile("^On this device for work without a signal: 3 trials with"))).to_be_visible()
    page.get_by_role("link", name="Covers before sugar beet").last.click()
    page.get_by_role("navigation").get_by_role("link", name="Walk").click()
    page.get_by_role("link", name=re.compile("^Weed count")).click()
    page.get_by_label("Plot 101, Weeds, frame 1, Fat hen").wait_for()
    address = page.url
    page.get_by_role("link", name="Apercu: go to Today").click()

    context.set_offline(True)
    page.close()
    page = field.page = context.new_page()  # a cold start
    page.goto(address)
    first = page.get_by_label("Plot 101, Weeds, frame 1, Fat hen")
    expect(page.get_by_text(re.compile("^The server can’t be reached. This is as of"))).to_be_visible()
    first.click()
    for n in range(ENTRIES):
        page.keyboard.type(str(n % 7))
        page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text=f"{ENTRIES} values wait on this device")).to_be_visible()
    page.close()  # a killed tab
    Session.objects.all().delete()  # and a sign-in that expires meanwhile
    page = field.page = context.new_page()
    page.goto(address)
    expect(page.get_by_role("status").filter(has_text=f"{ENTRIES} values wait on this device")).to_be_visible()
    expect(page.get_by_label("Plot 101, Weeds, frame 1, Common chickweed")).to_have_value("1")
    rows = Observation.objects.filter(visit__name="Weed count", visit__season__trial__name="Covers before sugar beet")
    assert not rows.exists()

    with page.expect_response(lambda answer: answer.status == 401):
        context.set_offline(False)
    page.goto(field.url)
    page.get_by_label("E-mail").fill("maren@harrowfen.example")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    page.goto(address)
    expect(page.get_by_text("8 of 20 plots")).to_be_visible()
    expect(page.get_by_text("All saved")).to_be_visible()
    assert rows.count() == ENTRIES
    assert rows.filter(current=True, in_conflict=False).count() == ENTRIES
    told = rows.filter(unit__label="101", sample=1).values_list("component", "value")
    assert sorted(value for _, value in told) == [4.0 * n for n in range(SPECIES)]


def test_what_was_kept_is_gone_with_its_person(field):
    field.sign_in()
    page = field.page
    page.wait_for_function(READY)
    page.reload()
    expect(page.get_by_text(re.compile("^On this device for work"))).to_be_visible()
    assert page.evaluate("caches.open('apercu-data').then(cache => cache.keys()).then(keys => keys.length)") > 5
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("E-mail").wait_for()
    page.wait_for_function("caches.has('apercu-data').then(there => !there)")
