"""How long a phone takes from a key to the next frame: the processor slowed four times, 390 × 844 pixels.

    ./apercu demo --port 8123        # in another window; with --reset for sheets that nobody has filled
    PYTHONPATH=.:docs .apercu/venv/bin/python benchmarks/phone_speed.py http://127.0.0.1:8123

goes through the frames of *Stand count*: types a count, presses the button that leads on, and waits until the page has
drawn the next frame: until the first task after the animation frame in which it stands. Prints the median and the 95th
percentile, in ms: with a quarter of a second between the frames, which is less than anybody takes to count one, and
with none, where what the frame before still has to send stands in the way. Before each it prints how long a fixed piece
of arithmetic takes the same browser unslowed, so that runs on a machine shared with others can be compared.
"""

from __future__ import annotations

import statistics
import sys

from playwright.sync_api import Page, sync_playwright
from take_screenshots import FLAGS, sign_in

FRAMES, SLOWER = 24, 4
PAUSES_MS = (250, 0)
STEP = """() => new Promise(done => {
    const input = document.querySelector('.card input[data-step]')
    const before = input.dataset.step
    input.value = '64'
    input.dispatchEvent(new Event('input'))
    const drawn = new MessageChannel()
    const start = performance.now()
    drawn.port1.onmessage = () => done(performance.now() - start)
    document.querySelector('.onward').click()
    const look = () => {
        const now = document.querySelector('.card input[data-step]')
        if (now && now.dataset.step !== before) drawn.port2.postMessage(null)
        else if (performance.now() - start > 5000) done(-1) // the last frame
        else requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
})"""

ARITHMETIC = """() => {
    const start = performance.now()
    let sum = 0
    for (let i = 0; i < 2e8; i++) sum = (sum + i * i) % 1000003
    return performance.now() - start + 0 * sum
}"""


def steps(page: Page, pause: int) -> list[float]:
    """How long each frame took, ms; as many as the visit has left, at most `FRAMES`."""
    # Touched like a phone: a mouse that rests on the page is asked for what lies under it at every frame.
    page.get_by_role("link", name="Covers before sugar beet").last.tap()
    page.get_by_role("navigation").get_by_role("link", name="Walk").tap()
    page.locator("main .open", has_text="Stand count").tap()
    page.locator(".onward").wait_for()
    page.wait_for_load_state("networkidle")
    slow = page.context.new_cdp_session(page)
    slow.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
    found: list[float] = []
    while len(found) < FRAMES and (took := page.evaluate(STEP)) >= 0:
        found.append(took)
        page.wait_for_timeout(pause)
    return found


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for pause in PAUSES_MS:
            page = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True).new_page()
            sign_in(page, address)
            loop = page.evaluate(ARITHMETIC)
            took = sorted(steps(page, pause))
            p95 = took[min(len(took) - 1, round(0.95 * len(took)) - 1)]
            shown = f"median {statistics.median(took):3.0f} ms, 95th percentile {p95:3.0f} ms (bar: 50 ms)"
            print(f"key to next frame  {shown}   {len(took)} frames, slowed {SLOWER} times, {pause} ms between")
            print(f"arithmetic         {loop:.0f} ms")
            page.context.close()


if __name__ == "__main__":
    main(sys.argv[1])
