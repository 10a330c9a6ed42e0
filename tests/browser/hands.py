"""What a person's hands do on a page."""

_OPENED = """option => Promise.all(
    option.closest('.v-overlay').getAnimations({ subtree: true }).map(one => one.finished.catch(() => null)))"""


def choose(page, label, option):
    """Open a list with the keyboard and take an entry, once the list has come to rest."""
    page.get_by_label(label, exact=True).press("Enter")
    found = page.get_by_role("option", name=option, exact=True)
    found.wait_for()
    found.evaluate(_OPENED)
    found.click()
