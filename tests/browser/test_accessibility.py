"""axe with the WCAG 2.2 AA tags finds nothing, in three modes, on desk and phone; the phone's targets are large."""

import pytest

SIZES = {"desk": {"width": 1280, "height": 800}, "phone": {"width": 390, "height": 844}}
TABLE = "Block,Plot,Cover,Yield\nA,1,Bare,40\nA,2,Oat,x\nB,3,Oat,43\nB,4,Bare,41\nC,5,Oat,44\nC,6,Bare,40\n"


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("mode", ["light", "dark", "field"])
def test_every_view_is_clean(desk, mode, size):
    page = desk.page
    page.set_viewport_size(SIZES[size])
    page.add_init_script(f"localStorage.setItem('apercu.mode', '{mode}')")
    page.goto(desk.url + "/sign-in")
    page.get_by_label("E-mail").wait_for()
    found = {"sign-in": desk.axe()}
    desk.sign_in()
    page.get_by_text("Covers before").wait_for()
    found["today"] = desk.axe()
    page.locator("input[type=file]").set_input_files(
        [{"name": "t.csv", "mimeType": "text/csv", "buffer": TABLE.encode()}]
    )
    page.get_by_role("button", name="Accept and read").wait_for()
    found["bring"] = desk.axe()
    page.goto(desk.url)
    desk.open_board()
    if size == "phone":
        page.get_by_role("button", name="Show the ground").click()
    page.get_by_role("button", name="Answer: Too small to see").first.click()
    found["board"] = desk.axe()
    (page.get_by_role("button", name="margin 2 t/ha") if size == "phone" else
     page.get_by_role("button", name="Margin and direction: Potato yield")).last.click()  # fmt: skip
    page.get_by_role("dialog").wait_for()
    found["margin"] = desk.axe()
    page.keyboard.press("Escape")
    page.get_by_role("dialog").wait_for(state="hidden")
    page.get_by_role("link", name="Potato yield").last.click()
    page.get_by_role("button", name="Table: Means").click()
    page.get_by_role("button", name="Table: Plots by block").click()
    found["full"] = desk.axe()
    assert [f"{view}: {fault}" for view, faults in found.items() for fault in faults] == []


def test_on_a_phone_nothing_runs_off_the_side_and_targets_are_48_px(desk):
    page = desk.page
    page.set_viewport_size(SIZES["phone"])
    desk.sign_in()
    desk.open_board()
    width = page.evaluate("document.documentElement.scrollWidth")
    assert width <= 390
    small = page.evaluate("""() => [...document.querySelectorAll('button, .index a, .v-field, summary')]
        .filter(e => e.offsetParent && e.getBoundingClientRect().height < 47.5)
        .map(e => `${e.textContent.trim()} ${e.getBoundingClientRect().height}`)""")
    assert small == []
