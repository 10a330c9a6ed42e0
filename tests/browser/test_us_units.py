"""Who reads US units finds no other on any page, and what is typed in one system comes back from the other."""

import re

from playwright.sync_api import expect

METRIC = re.compile(r"(?<![\w/])(?:kg|t|L)/ha\b|/m²|(?<![\w/])m²|°C|(?<=[\d )])(?:cm|mm|km|ha|m|kg|t)(?![\w/])")
SHOWN = """() => {
    const said = [...document.querySelectorAll('main, .ground, .v-dialog')].map(one => one.innerText)
    const hints = [...document.querySelectorAll('input[placeholder], [title]')].map(
        one => `${one.getAttribute('placeholder') ?? ''} ${one.title}`)
    return [...said, ...hints].join('\\n')
}"""
TYPED = re.compile(
    r"[^\n]*(?:Does any (?:winter )?cover|Compare killing)[^\n]*"  # questions, as people typed them
    r"|[^\n]*(?:one pass|cm rows|cm ridges|all plots alike|no night below)[^\n]*"  # notes
)


def in_units(page, wanted):
    """Change the units, unless they are these."""
    now = page.get_by_role("button", name=re.compile("Change units, now"))
    if now.inner_text() != wanted:
        now.click()
        expect(now).to_have_text(wanted)


def addresses(desk):
    """Every page, by its heading."""
    trials = {t["name"]: t["id"] for t in desk.page.request.get(f"{desk.url}/api/v1/trials").json()["results"]}
    planned, growing, read = (
        next(id for name, id in trials.items() if name.startswith(start))
        for start in ("When to kill", "Covers before sugar", "Covers before main")
    )
    season = desk.page.request.get(f"{desk.url}/api/v1/trials/{growing}/season").json()
    visit = next(v["id"] for v in season["visits"] if v["name"] == "Stand count")
    yield from (("/", "Today"), ("/new", "New trial"), ("/species", "Species guide"))
    for station, heading in (
        ("ask", "Question and treatments"), ("plan", "Design and plot map"), ("layout", "Layout in the field"),
    ):  # fmt: skip
        yield f"/trials/{planned}/{station}", heading
    yield f"/trials/{growing}/sow", "Sow"
    yield f"/trials/{growing}/season", "Operations"
    for part, heading in (
        ("kill", "Kill window"), ("stages", "Growth stages"), ("weather", "Weather"), ("log", "Notes and troubles"),
    ):  # fmt: skip
        yield f"/trials/{growing}/season/{part}", heading
    yield f"/trials/{growing}/walk/{visit}", "Stand count"
    yield f"/trials/{read}/read", "Results"
    yield f"/trials/{read}/tell", "Reports"


def test_no_page_shows_another_unit(desk):
    page = desk.page
    desk.sign_in()
    in_units(page, "US")
    found = {}
    for address, heading in addresses(desk):
        page.goto(desk.url + address)
        page.get_by_role("heading", name=re.compile(f"^{heading}")).first.wait_for()
        page.wait_for_load_state("networkidle")
        page.evaluate("document.querySelectorAll('main details').forEach(one => (one.open = true))")
        page.evaluate("new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
        shown = TYPED.sub("", page.evaluate(SHOWN))
        if wrong := sorted({match[0] for match in METRIC.finditer(shown)}):
            line = next(line for line in shown.split("\n") if METRIC.search(line))
            found[heading] = (wrong, line)
    assert found == {}


def test_a_margin_typed_in_us_units_is_read_in_metric_ones_and_comes_back(desk):
    page = desk.page
    desk.sign_in()
    in_units(page, "US")
    desk.open_trial("Covers before sugar beet")
    page.get_by_role("heading", name="Field visits").wait_for()
    ask = page.url.replace("/walk", "/ask")
    page.goto(ask)
    stand = page.get_by_role("group", name="Cover stand")
    expect(stand.get_by_label("Margin", exact=True)).to_have_value("4.645")
    stand.get_by_label("Margin", exact=True).fill("5")
    page.get_by_role("button", name="Save and plan").click()
    page.get_by_role("heading", name="Design and plot map").wait_for()
    in_units(page, "metric")
    page.goto(ask)
    expect(stand.get_by_label("Margin", exact=True)).to_have_value("53.8196")
    page.get_by_role("button", name="Save and plan").click()
    page.get_by_role("heading", name="Design and plot map").wait_for()
    in_units(page, "US")
    page.goto(ask)
    expect(stand.get_by_label("Margin", exact=True)).to_have_value("5")


def test_what_was_typed_and_not_saved_belongs_to_its_units(desk):
    page = desk.page
    desk.sign_in()
    desk.open_trial("Covers before sugar beet")
    page.get_by_role("heading", name="Field visits").wait_for()
    page.goto(page.url.replace("/walk", "/ask"))
    margin = page.get_by_role("group", name="Cover stand").get_by_label("Margin", exact=True)
    margin.fill("60")
    in_units(page, "US")
    expect(margin).to_have_value("4.645")
    expect(page.get_by_text("Changes that you made in the other units")).to_be_visible()
    in_units(page, "metric")
    expect(margin).to_have_value("60")
