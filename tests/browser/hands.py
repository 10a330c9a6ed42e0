"""What a person's hands do on a page."""

import re

from playwright.sync_api import expect

_AT_REST = """() => {
    const open = [...document.querySelectorAll('.v-overlay--active')]
    return open.length > 0 && !open.some(list => list.getAnimations({ subtree: true }).some(
        one => one.playState === 'running'))
}"""
"""A list is open and has stopped moving; asked of the page, since an entry may be drawn anew meanwhile."""


def _none_closing(page):
    """A list that is just closing still shows its entries, and one of them would be taken for the new list's."""
    expect(page.get_by_role("option")).to_have_count(0)


def choose(page, label, option):
    """Open a list with the keyboard and take an entry, once the list has come to rest."""
    _none_closing(page)
    page.get_by_label(label, exact=True).press("Enter")
    found = page.get_by_role("option", name=option, exact=True)
    found.wait_for()
    page.wait_for_function(_AT_REST)
    found.click()


def pick_measure(page, name):
    """Add a measure of the catalogue, once the catalogue is there; `name`: how its entry begins."""
    adding = page.get_by_role("combobox", name="Add a measure").last
    expect(adding).to_be_enabled()
    _none_closing(page)
    adding.press("Enter")
    found = page.get_by_role("option", name=re.compile(f"^{name},"))
    found.wait_for()
    page.wait_for_function(_AT_REST)
    found.click()
