"""How quickly a map of 240 plots answers: choosing a plot, and panning for three seconds, in headless Chromium.

    .apercu/venv/bin/python benchmarks/map_speed.py ADDRESS

against a running demo (`./apercu demo`), where it makes a trial of 240 plots. Prints the median of 20 choices, from the
press to the frame that shows it, and the share of frames of the pan that took less than 33 ms.
"""

from __future__ import annotations

import re
import statistics
import sys
import uuid

from playwright.sync_api import Page, sync_playwright

FLAGS = ["--no-sandbox", "--disable-gpu"]
MAKE = """async ([id, workspace]) => {
  const csrf = document.cookie.match(/csrftoken=([^;]*)/)[1]
  const send = (method, path, body) => fetch(path, { method, body: JSON.stringify(body),
    headers: { 'Content-Type': 'application/json', 'X-CSRFToken': csrf, 'If-Match': '*' } }).then(async r => {
      if (!r.ok) throw new Error(await r.text()) })
  const treatments = Array.from({ length: 40 }, (_, i) => ({ id: crypto.randomUUID(), name: `Cover ${i}`,
    is_control: i === 0 }))
  const site = { id: crypto.randomUUID(), name: 'Bench field', time_zone: 'Europe/London' }
  await send('PUT', `/api/v1/trials/${id}/ask`, { workspace, name: 'Map of 240 plots', question: '', treatments,
    sites: [site], measures: [] })
  await send('POST', `/api/v1/trials/${id}/plan`, { blocks: 6, width: '3', length: '10', gap: '0', alley: '2',
    seed: 1 })
}"""
CHOOSE = """async label => {
  const plot = document.querySelector(`[data-label="${label}"]`)
  const start = performance.now()
  plot.dispatchEvent(new MouseEvent('click', { bubbles: true }))
  while (plot.getAttribute('aria-selected') !== 'true') await new Promise(requestAnimationFrame)
  await new Promise(requestAnimationFrame)
  return performance.now() - start
}"""
PAN = """async () => {
  const map = document.querySelector('.map')
  const box = map.getBoundingClientRect()
  const fire = (type, x) => map.dispatchEvent(new PointerEvent(type, { bubbles: true, buttons: 1,
    clientX: box.left + x, clientY: box.top + 100 }))
  fire('pointerdown', 100)
  const frames = []
  let last = performance.now()
  const start = last
  while (last - start < 3000) {
    fire('pointermove', 100 + 80 * Math.sin((last - start) / 300))
    const now = await new Promise(requestAnimationFrame)
    frames.push(now - last)
    last = now
  }
  return frames
}"""


def measure(page: Page, address: str) -> None:
    page.goto(f"{address}/sign-in")
    page.get_by_label("E-mail").fill("maren@harrowfen.example")
    page.get_by_label("Password").fill("demo-of-apercu")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today").wait_for()
    trial = str(uuid.uuid4())
    workspace = page.evaluate("fetch('/api/v1/session').then(r => r.json()).then(s => s.memberships[0].workspace)")
    page.evaluate(MAKE, [trial, workspace])
    page.goto(f"{address}/trials/{trial}/ask")
    page.get_by_role("option", name=re.compile("^101 ")).wait_for()
    labels = [option.get_attribute("data-label") for option in page.get_by_role("option").all()]
    print(f"{len(labels)} plots")
    page.evaluate(CHOOSE, labels[0])
    times = [page.evaluate(CHOOSE, label) for label in labels[1:200:10]]
    print(f"choose a plot      {statistics.median(times):6.1f} ms   (median of {len(times)}; bar: 50 ms)")
    frames = page.evaluate(PAN)[1:]
    quick = 100 * sum(frame < 33 for frame in frames) / len(frames)
    print(f"pan for 3 s        {quick:6.1f} %    of {len(frames)} frames under 33 ms   (bar: 95 %)")


def main() -> None:
    if len(sys.argv) != 2:
        sys.exit(__doc__)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        measure(browser.new_page(viewport={"width": 1280, "height": 800}), sys.argv[1].rstrip("/"))
        browser.close()


if __name__ == "__main__":
    main()
