"""From a dropped table to honest verdicts, as a person does it."""

import gzip
import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.hands import choose

TABLE = """Rep;Parcel;Cover crop;Yield (t/ha);Weeds per m2;Remarks
1;101;Bare;40,1;55;
1;102;Oats;42,0;31;wet
1;103;Vetch;43,9;44;
2;201;Oats;43,5;29;
2;202;Vetch;45,2;38;
2;203;Bare;41,0;61;
3;301;Vetch;44,4;about 40;
3;302;Bare;40,4;48;
3;303;Oats;;27;hail
4;401;Bare;41,9;57;
4;402;Vetch;46,0;41;
4;403;Oats;43,0;33;
"""
DROP = """([name, text]) => {
  const files = new DataTransfer()
  files.items.add(new File([text], name, { type: 'text/csv' }))
  const zone = document.querySelector('label.zone')
  zone.dispatchEvent(new DragEvent('drop', { dataTransfer: files, bubbles: true, cancelable: true }))
}"""


@pytest.fixture
def signed_in(desk):
    desk.sign_in()
    return desk.page


def test_from_drop_to_board_takes_four_acts_and_the_verdicts_are_the_cores(desk, signed_in):
    page = signed_in
    page.evaluate(DROP, ["Fen 2025.csv", TABLE])  # 1 drop
    expect(page.get_by_text("12 rows, UTF-8, semicolon-separated")).to_be_visible()
    expect(page.get_by_text("12 plots: 3 treatments, 4 blocks.")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("8 Weeds per m2 about 40 this isn’t a number"))).to_be_visible()
    yields = page.get_by_role("group", name="Yield")
    yields.get_by_label("Margin", exact=True).fill("2")  # 2 margin
    page.get_by_role("group", name="Weeds").get_by_label("Margin", exact=True).fill("10")  # 3 margin
    page.get_by_role("button", name="Import table").click()  # 4 accept
    page.get_by_role("heading", name="Results", exact=True).wait_for()
    expect(page.get_by_role("img", name=re.compile(r"Vetch: difference \+4\.0.*Clear gain"))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile(r"Oats: difference −25.*Clear gain"))).to_be_visible()
    expect(page.get_by_role("option", name="301 VE missing, Vetch, block 3")).to_be_visible()


NO_TABLES = {
    "The file is empty": "",
    "This isn’t a table": "hello\nworld\n",
    "Two columns are called 'a'": "a,a\n1,2\n",
}


def test_what_is_not_a_table_gets_one_clear_message_and_the_zone_stays(signed_in):
    for says, text in NO_TABLES.items():
        signed_in.evaluate(DROP, ["x.csv", text])
        expect(signed_in.get_by_role("alert")).to_contain_text(says)
        expect(signed_in.get_by_text("Drop a CSV file here")).to_be_visible()


def test_roles_can_be_changed_and_a_table_without_replication_says_so(signed_in):
    signed_in.evaluate(DROP, ["x.csv", "Plot,Cover,Yield\n1,a,3\n2,b,4\n3,c,5\n"])
    signed_in.get_by_label("Meaning of Cover").wait_for()
    choose(signed_in, "Meaning of Cover", "treatment")
    expect(signed_in.get_by_role("alert")).to_contain_text("has only one plot")
    expect(signed_in.get_by_role("button", name="Import table")).to_be_disabled()


def test_full_reading_shows_figures_with_tables_and_follows_the_method(desk, signed_in):
    page = signed_in
    desk.open_board()
    page.get_by_role("link", name="Full analysis of Potato yield").click()
    expect(page.get_by_role("heading", name="Plot values by block")).to_be_visible()
    page.get_by_role("button", name="Show table: Means").click()
    means = page.get_by_role("region", name="Means")
    expect(means.get_by_role("row")).to_have_count(6)
    expect(means.get_by_role("row", name=re.compile("Oat \\+ clover"))).to_contain_text("–")  # Dunnett: no letters
    page.get_by_text("Method: Dunnett").click()
    choose(page, "Method", "Tukey–Kramer: all pairs")
    expect(page.get_by_text("Tukey–Kramer, 95 % simultaneous intervals")).to_be_visible()
    expect(page.get_by_text("This method was tried after")).to_be_visible()
    expect(means.get_by_role("row", name=re.compile("Oat \\+ clover"))).to_contain_text("a")
    page.reload()
    expect(page.get_by_text("Tukey–Kramer, 95 % simultaneous intervals")).to_be_visible()


def test_a_doubt_is_answered_and_the_answer_stays(desk, signed_in):
    desk.open_board()
    signed_in.get_by_role("button", name="Answer: Trial too small for the margin").first.click()
    signed_in.get_by_label("Answer, printed in every report").fill("Two more blocks are planned.")
    signed_in.get_by_role("button", name="Save answer").click()
    expect(signed_in.get_by_text("Two more blocks are planned.")).to_be_visible()
    signed_in.reload()
    expect(signed_in.get_by_text("Two more blocks are planned.")).to_be_visible()


def test_a_margin_is_changed_on_the_board_and_the_verdicts_follow(desk, signed_in):
    desk.open_board()
    expect(
        signed_in.get_by_role("img", name=re.compile("Oat \\+ clover: difference \\+3800.*Clear gain"))
    ).to_be_visible()
    signed_in.get_by_role("button", name=re.compile("Set margin and direction: Cover biomass")).click()
    dialog = signed_in.get_by_role("dialog")
    dialog.get_by_label("Smallest difference that matters").fill("12000 t")
    dialog.get_by_label("Reason for the change").fill("the price fell")
    dialog.get_by_role("button", name="Save margin").click()
    expect(dialog.get_by_text("“12000 t” isn’t a number.").last).to_be_visible()  # and nothing is lost
    dialog.get_by_label("Smallest difference that matters").fill("12000")
    dialog.get_by_role("button", name="Save margin").click()
    expect(
        signed_in.get_by_role("img", name=re.compile("Oat \\+ clover: difference \\+3800.*Real but small"))
    ).to_be_visible()


def test_a_value_is_corrected_with_its_reason_and_the_doubt_appears(desk, signed_in):
    desk.open_board()
    signed_in.get_by_role("link", name="Full analysis of Soil nitrate-N").click()
    signed_in.get_by_role("button", name="Show table: Plot values by block").click()
    signed_in.get_by_role("button", name="Correct plot 404").click()
    dialog = signed_in.get_by_role("dialog")
    dialog.get_by_label("Value (kg/ha)").fill("30")
    dialog.get_by_role("button", name="Save correction").click()
    expect(dialog.locator(".aside")).to_contain_text("Give the reason")
    expect(dialog.get_by_label("Value (kg/ha)")).to_have_value("30")
    dialog.get_by_label("Reason").fill("sheet says 30")
    dialog.get_by_role("button", name="Save correction").click()
    expect(signed_in.get_by_role("heading", name="Values changed after the results were opened")).to_be_visible()


def test_the_ground_is_chosen_by_keyboard_and_its_scale_bar_is_true_to_the_pixel(desk, signed_in):
    page = signed_in
    desk.open_board()
    first = page.get_by_role("option").first
    first.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1 plot selected")).to_be_visible()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Shift+Enter")
    expect(page.get_by_text("2 plots selected")).to_be_visible()
    chosen = page.locator("[role=option][aria-selected=true]")
    assert [chosen.nth(i).get_attribute("data-label") for i in range(2)] == ["102", "202"]
    for zoom in ("", "+", "+"):
        if zoom:
            page.keyboard.press(zoom)
        bar = page.locator('[data-part="scale-bar"]')
        metres = float(bar.locator("xpath=following-sibling::*").text_content().split()[0])
        plot = page.locator('[data-label="101"] .land')
        pixels = bar.evaluate("e => e.getBBox().width")
        assert pixels / metres == pytest.approx(plot.evaluate("e => e.getBBox().width") / 6, abs=1e-3)  # plots: 6 m
    page.keyboard.press("Escape")
    expect(page.get_by_text("plots chosen")).to_have_count(0)


def test_a_reader_can_look_and_not_change(desk):
    desk.sign_in("ida@harrowfen.example")
    desk.open_board()
    expect(desk.page.get_by_text("margin 2 t/ha")).not_to_have_count(0)
    assert desk.page.get_by_role("button", name=re.compile("Set margin and direction|^Answer")).count() == 0


def test_nothing_is_fetched_from_elsewhere_and_the_entry_is_small(desk, signed_in):
    seen = []
    signed_in.on("request", lambda request: seen.append(request.url))
    signed_in.reload()
    desk.open_board()
    assert seen
    assert all(url.startswith((desk.url, "data:")) for url in seen)
    dist = Path(__file__).parents[2] / "web" / "dist"
    entry = re.findall(r'(?:src|href)="/static/(assets/[^"]+\.(?:js|css))"', (dist / "index.html").read_text())
    assert sum(len(gzip.compress((dist / name).read_bytes())) for name in entry) < 250_000
