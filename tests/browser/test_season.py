"""Season: kill dates by treatment, and a slipping one that moves the sowing of the crop on page, strip and Today."""

import re

from playwright.sync_api import expect


def test_kill_dates_by_treatment_and_a_slip_that_moves_what_hangs_on_it(desk):
    desk.sign_in()
    page = desk.page
    desk.open_trial("Covers before sugar beet")
    page.get_by_role("navigation").get_by_role("link", name="Season").click()
    page.get_by_role("button", name="Plan kill dates by treatment").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("group", name="White mustard").get_by_label("Planned date").fill("2026-09-25")
    dialog.get_by_role("group", name="Phacelia").get_by_label("Planned date").fill("2026-10-30")
    assert desk.axe() == []
    dialog.get_by_role("button", name="Save kill dates").click()
    expect(page.get_by_role("button", name="Kill WM", exact=True)).to_be_visible()
    expect(page.get_by_role("listitem").filter(has_text="Kill PH")).to_contain_text("30 Oct 2026")
    # The seedbed waits for the kill of the mustard.
    page.get_by_role("button", name="Seedbed for the beet", exact=True).click()
    dialog.locator(".v-select").nth(1).click()
    page.get_by_role("option", name="after another operation").click()
    dialog.locator(".v-select").nth(2).click()
    page.get_by_role("option", name="Kill WM").click()
    dialog.get_by_label("Days after it").fill("60")
    dialog.get_by_role("button", name="Save operation").click()
    own = page.get_by_role("button", name="Seedbed for the beet", exact=True)
    seedbed = page.get_by_role("listitem").filter(has=own)
    expect(seedbed).to_contain_text("60 days after Kill WM")
    expect(seedbed).to_contain_text("24 Nov 2026")
    page.get_by_role("button", name="Kill WM", exact=True).click()
    dialog.get_by_label("Planned date").fill("2026-09-29")
    dialog.get_by_role("button", name="Save operation").click()
    moves = page.get_by_text("Moved with it: Seedbed for the beet from 24 Nov 2026 to 28 Nov 2026")
    expect(moves).to_be_visible()
    page.evaluate("scrollTo(0, 0)")
    expect(page.get_by_label(re.compile("^Seedbed for the beet, 28 Nov 2026"))).to_be_visible()
    # A circle is refused, and nothing typed is lost.
    page.get_by_role("button", name="Kill WM", exact=True).click()
    dialog.locator(".v-select").nth(1).click()
    page.get_by_role("option", name="after another operation").click()
    dialog.locator(".v-select").nth(2).click()
    page.get_by_role("option", name="Seedbed for the beet").click()
    dialog.get_by_role("button", name="Save operation").click()
    expect(dialog.locator(".problem")).to_contain_text("would wait for each other")
    dialog.get_by_role("button", name="Cancel").click()
    page.get_by_role("link", name="Apercu: go to Today").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    expect(page.get_by_role("listitem").filter(has_text="Kill WM")).to_contain_text("29 Sep 2026")
