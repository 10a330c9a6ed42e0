"""Sow on a desk and on a phone: from labels to bags, a bag that is refused, and a spreader test."""

import re

import segno
from playwright.sync_api import expect


def sowing(desk):
    desk.sign_in()
    desk.open_trial("Covers before sugar beet")
    desk.page.get_by_role("navigation").get_by_role("link", name="Sow").click()
    desk.page.get_by_role("heading", name="Sow", exact=True).wait_for()
    desk.page.wait_for_load_state("networkidle")
    return desk.page


def hold_before_camera(page, text):
    """In place of a camera: a picture that has the label, small and a little turned, somewhere in it."""
    picture = segno.make(text, error="m").png_data_uri(scale=6, border=4)
    page.evaluate(
        """async (picture) => {
            const [canvas, image] = [document.createElement('canvas'), new Image()]
            image.src = picture
            await image.decode()
            Object.assign(canvas, { width: 1280, height: 720 })
            const context = canvas.getContext('2d')
            const draw = () => {
                context.resetTransform()
                context.fillStyle = '#5a4a38'
                context.fillRect(0, 0, 1280, 720)
                context.translate(700, 120)
                context.rotate(0.2)
                context.drawImage(image, 0, 0)
            }
            clearInterval(window.camera)
            window.camera = setInterval(draw, 100)
            navigator.mediaDevices.getUserMedia = async () => canvas.captureStream(10)
        }""",
        picture,
    )


def test_from_seed_lots_to_bag_labels_and_a_refused_bag(desk):
    page = sowing(desk)
    page.get_by_label("Bag", exact=True).first.fill("0.2")
    mustard = page.get_by_role("group", name="Rate of White mustard, White mustard Marl")
    mustard.get_by_label("Rate", exact=True).fill("300")
    mustard.locator(".v-select").click()
    page.keyboard.type("plants/m")
    page.keyboard.press("Escape")
    expect(mustard.locator(".v-select")).to_contain_text("plants/m² wanted")
    page.get_by_label("Start-up and clean-out").fill("30")
    page.get_by_role("button", name="Save seed").click()
    expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
    order = page.get_by_role("table").first
    # 300 plants ÷ (0.98 × 0.9 × 0.7) × 6.3 / 100 = 30.6 kg/ha: 220 g and 30 g a plot, a kilogram and the spare in all.
    expect(order.get_by_role("row", name=re.compile("White mustard"))).to_contain_text("With one bag less")
    assert desk.axe() == []
    next_bag = page.locator(".scan .where")
    plot = re.search(r"plot (\d+)", next_bag.inner_text())[1]
    others = page.locator(".stops label").filter(has_not_text=next_bag.inner_text().split(", ")[1])
    wrong = re.search(r"Bag (\d+)", others.first.inner_text())[1]
    page.get_by_label("Number of the bag in your hand").fill(wrong)
    page.get_by_role("button", name="Check bag").click()
    expect(page.locator(".wrong")).to_contain_text(f"STOP. Bag {wrong} holds")
    expect(page.get_by_text("0 are at their plots")).to_be_visible()
    trial = page.url.split("/trials/")[1].split("/")[0]
    other = f"{trial[:-4]}{'0000' if trial[-4:] != '0000' else '1111'}"
    hold_before_camera(page, f"http://fen.example/trials/{other}/sow?bag={plot}")
    page.get_by_role("button", name="Scan label").click()
    expect(page.locator(".wrong")).to_contain_text("This label belongs to another trial")
    hold_before_camera(page, f"http://fen.example/trials/{trial}/sow?bag={plot}")
    page.get_by_role("button", name="Scan label").click()
    expect(page.get_by_text(f"Right: bag {plot} is for plot {plot}.")).to_be_visible()
    expect(page.get_by_text("1 are at their plots")).to_be_visible()
    page.get_by_role("button", name="Change sowing").click()
    expect(page.get_by_role("dialog")).to_contain_text("How is the rate known?")
    assert desk.axe() == []


def test_a_spreader_test_says_how_wide_to_drive(desk):
    page = sowing(desk)
    page.get_by_text("Spreader tray test").click()
    form = page.get_by_role("form", name="Spreader tray test")
    masses = "0 6 12 18 24 30 36 30 24 18 12 6 0"
    typed = {"Between trays": "1", "Area of a tray": "0.25", "Working width": "9", "Masses from left": masses}
    for label, text in typed.items():
        form.get_by_role("textbox", name=label).fill(text)
    expect(form.locator(".said")).to_contain_text("At 9 m the spread is too uneven: CV 25.0 %")
    slider = form.get_by_role("slider")
    slider.focus()
    for _ in range(30):
        slider.press("ArrowLeft")
    expect(form.get_by_role("textbox", name="Working width")).to_have_value("6")
    expect(form.locator(".said")).to_contain_text("At 6 m the spread is even enough: CV 0.0 %.")
    form.get_by_label("Masses from left").fill(masses.removesuffix(" 0"))
    expect(form.get_by_role("alert").first).to_contain_text("make 13 masses; 12 are entered")
    form.get_by_label("Masses from left").fill(masses)
    form.get_by_label("Seed and machine").fill("Mustard, twin disc")
    form.get_by_role("button", name="Save test").click()
    expect(page.get_by_text("Mustard, twin disc")).to_be_visible()
