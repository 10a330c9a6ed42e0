"""Pictures of the main views from the demo data; `./apercu shots` calls this with the address and the folder."""

import re
import sys
import uuid
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

sys.path.insert(0, str(Path(__file__).parents[1]))
from standins.camera.photograph import photograph

FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
    "--disable-component-update --disable-sync"
).split()
PLANNED = "When to kill covers before barley"
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


def sign_in(page: Page, address: str) -> None:
    page.goto(f"{address}/sign-in")
    page.get_by_label("E-mail").fill("maren@harrowfen.example")
    page.get_by_label("Password").fill("demo-of-apercu")
    page.get_by_label("Password").press("Enter")
    page.get_by_text("Covers before").first.wait_for()


def open_trial(page: Page, address: str, name: str) -> None:
    """From the list on Today: what is due in a trial has its name too, leads elsewhere and may be there first."""
    page.goto(address)
    page.locator(".trials").get_by_role("link", name=name).click()


def open_board(page: Page, address: str) -> None:
    open_trial(page, address, "Covers before maincrop")
    page.get_by_role("heading", name="Doubts: what a careful colleague would ask").wait_for()
    page.evaluate("document.fonts.ready")


def open_full(page: Page, address: str) -> None:
    open_board(page, address)
    page.get_by_role("link", name="Potato yield").last.click()
    page.get_by_role("heading", name="Plot values by block").wait_for()


def open_bring(page: Page, address: str) -> None:
    page.goto(address)
    table = {"name": "fen 2025.csv", "mimeType": "text/csv", "buffer": TABLE.encode()}
    page.locator("input[type=file]").set_input_files([table])
    page.get_by_role("button", name="Import table").wait_for()


def station(name: str, heading: str, trial: str = "Covers before sugar beet") -> Callable[[Page, str], None]:
    """Opens a station of one of the demo's trials."""

    def prepare(page: Page, address: str) -> None:
        open_trial(page, address, trial)
        page.wait_for_url(re.compile("/trials/"))
        page.goto(re.sub(r"/\w+$", f"/{name}", page.url))
        page.get_by_role("heading", name=heading, exact=True).wait_for()

    return prepare


def open_tally(page: Page, address: str) -> None:
    """A weed count by species, with a few counted in the first frame."""
    open_trial(page, address, "Covers before sugar beet")
    page.get_by_role("link", name=re.compile("^Weed count")).click()
    keys = page.locator(".keys button")
    keys.first.wait_for()
    for nth, times in ((0, 3), (2, 1), (4, 7)):
        for _ in range(times):
            keys.nth(nth).click()


def open_visit(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_role("link", name=re.compile("Stand count")).first.click()
    page.locator("[data-step]").first.wait_for()


def open_guide(page: Page, address: str) -> None:
    page.goto(f"{address}/species")
    for name in ("Cereal rye", "Hairy vetch"):
        page.get_by_role("listitem", name=name).get_by_role("button", name="Add to mix").click()
    page.get_by_text("adapts to the soil").wait_for()
    page.evaluate("scrollTo(0, 0)")


def open_layout(page: Page, address: str) -> None:
    """The planned trial in a field that is typed in for the picture and not kept."""
    station("layout", "Layout in the field", "When to kill covers before barley")(page, address)
    page.get_by_label("Field width").first.fill("84")
    page.get_by_label("Field length").first.fill("90")
    page.get_by_role("button", name="Use rectangle", exact=True).click()
    page.get_by_label("Headland").fill("6")
    page.get_by_label("Downhill").fill("90")
    page.get_by_role("button", name="Use sprayer width").click()
    page.get_by_label("Harvested width").fill("2")
    page.get_by_label("Guard at each end").fill("1")
    page.get_by_role("button", name=re.compile("^Move all")).click()
    page.get_by_text("All 32 plots fit.").wait_for()
    page.evaluate("scrollTo(0, 120)")


def send_photographs(page: Page) -> str:
    """Photographs of the simulated camera for the plots of the visit that is open; answers its address."""
    visit = page.url.split("?")[0]
    id = visit.rsplit("/", 1)[1]
    shown = page.request.get(f"{_origin(page)}/api/v1/visits/{id}").json()
    token = next(one["value"] for one in page.context.cookies() if one["name"] == "csrftoken")
    headers = {"X-CSRFToken": token, "Referer": page.url}
    for n, plot in enumerate(shown["order"]):
        taken = photograph(n + 21, "silt", "small", 0.02 + 0.015 * (n % 5), residue=0.15, size=(720, 720))
        of_plot = f"{_origin(page)}/api/v1/visits/{id}/photographs/{uuid.uuid4()}"
        file = {"name": f"frame-{n}.jpg", "mimeType": "image/jpeg", "buffer": taken.jpeg}
        made = page.request.put(of_plot, headers=headers, multipart={"file": file, "unit": plot, "sample": "1"})
        corners = f"{_origin(page)}/api/v1/photographs/{made.json()['id']}/corners"
        page.request.put(corners, headers=headers, data={"corners": [[0, 0], [1, 0], [1, 1], [0, 1]]})
    return visit


def _origin(page: Page) -> str:
    return "/".join(page.url.split("/", 3)[:3])


def open_photo_sheet(page: Page, address: str) -> None:
    open_visit(page, address)
    page.goto(send_photographs(page) + "/photographs")
    page.get_by_label("Show photographs at one scale").check()
    page.wait_for_load_state("networkidle")


def open_photo_count(page: Page, address: str) -> None:
    """Half of the suggested marks accepted, the others still open."""
    open_visit(page, address)
    page.get_by_role("button", name=re.compile("^Count on a photograph")).first.click()
    page.get_by_role("button", name=re.compile("^Open photograph")).first.click()
    page.get_by_role("button", name="Suggest marks").click()
    page.get_by_role("button", name=re.compile(r"^Accept \d+ suggestions")).wait_for()
    rings = page.locator("circle.open")
    for _ in range(rings.count() // 2):
        ring = rings.first.bounding_box()
        assert ring is not None
        page.mouse.click(ring["x"] + ring["width"] / 2, ring["y"] + ring["height"] / 2)


SHOTS = (
    ("today", "light", (1280, 800), lambda page, address: page.goto(address), False),
    ("ask", "light", (1280, 800), station("ask", "Question and treatments", PLANNED), True),
    ("species-guide", "light", (1280, 800), open_guide, False),
    (
        "plan",
        "light",
        (1280, 800),
        station("plan", "Smallest detectable difference", "When to kill covers before barley"),
        True,
    ),
    ("layout", "light", (1280, 800), open_layout, False),
    ("sow", "light", (1280, 800), station("sow", "Sow"), False),
    ("season", "light", (1280, 800), station("season", "Operations and visits"), False),
    ("kill-window", "light", (1280, 800), station("season/kill", "Kill window", PLANNED), True),
    ("walk", "light", (1280, 800), open_visit, False),
    ("walk-phone", "light", (390, 844), open_visit, False),
    ("tally-phone", "light", (390, 844), open_tally, False),
    ("photo-sheet", "light", (1280, 800), open_photo_sheet, False),
    ("photo-count", "light", (1280, 800), open_photo_count, False),
    ("tell", "light", (1280, 800), station("tell", "Reports", "Covers before maincrop"), False),
    ("bring", "light", (1280, 800), open_bring, True),
    ("board", "light", (1280, 800), open_board, False),
    ("board-dark", "dark", (1280, 800), open_board, False),
    ("board-sunlight-phone", "sunlight", (390, 844), open_board, False),
    ("full-reading", "light", (1280, 800), open_full, True),
)


def main(address: str, out: Path) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for name, mode, (width, height), prepare, whole in SHOTS:
            page = browser.new_page(viewport={"width": width, "height": height})
            page.add_init_script(f"localStorage.setItem('apercu.mode', '{mode}')")
            sign_in(page, address)
            prepare(page, address)
            page.wait_for_load_state("networkidle")
            page.screenshot(path=out / f"{name}.png", full_page=whole, animations="disabled")
            page.close()
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1], Path(sys.argv[2]))
