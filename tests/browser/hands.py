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
    expect(page.locator(".v-overlay-container [role=option]:visible")).to_have_count(0)


def _take(page, entry):
    """Click an entry of the open list once it has come to rest, scrolled to: long lists draw only what is in view.

    A click scrolls the rest of the way by itself, and finds the entry again where the list is drawn anew meanwhile.
    """
    page.wait_for_function(_AT_REST)
    shown = page.locator(".v-overlay--active .v-list")
    for _ in range(30):
        if entry.count():
            break
        shown.evaluate("list => { for (let box = list; box; box = box.parentElement) box.scrollTop += 100 }")
        page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    entry.click()


def choose(page, label, option, within=None):
    """Open a list (the one `within` a part of the page) with the keyboard and take an entry, once it is at rest."""
    _none_closing(page)
    (within or page).get_by_label(label, exact=True).press("Enter")
    # An option may say below its name when to use it.
    title = page.locator(".v-list-item-title", has_text=re.compile(f"^{re.escape(option)}$"))
    _take(page, page.get_by_role("option").filter(has=title))


def pick_measure(page, name):
    """Add a measure of the catalogue or one's own, once the catalogue is there; `name`: the entry up to its unit."""
    adding = page.get_by_role("combobox", name="Add a measure").last
    expect(adding).to_be_enabled()
    _none_closing(page)
    adding.press_sequentially(name)  # the list is long
    _take(page, page.get_by_role("option", name=re.compile(f"^{name}(,|$)")))
