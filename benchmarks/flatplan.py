"""Opening the flatplan of the whole book in Chromium: until every spread is laid and the first miniatures are there."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from benchmarks.measure import Row, book, percentile, report
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package

LAID = "() => document.querySelectorAll('#spreads .leaf[data-index]').length > 300"
SHOWN = (
    "() => [...document.querySelectorAll('#spreads img')].slice(0, 12).every((i) => i.complete && i.naturalWidth > 50)"
)
SCROLL = """() => new Promise((done) => { const plan = document.getElementById('plan'); const gaps = []; let last = performance.now();
  const step = () => { const now = performance.now(); gaps.push(now - last); last = now; plan.scrollTop += 120;
    if (plan.scrollTop + plan.clientHeight < plan.scrollHeight - 2 && gaps.length < 400) requestAnimationFrame(step); else done(gaps.slice(1)); };
  requestAnimationFrame(step); })"""


def main() -> list[Row]:
    from playwright.sync_api import sync_playwright

    from tests.browser.conftest import CHROMIUM, Server

    if not CHROMIUM:
        return []
    desk = Desk(book())
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder)).start()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox", "--disable-gpu"])
        try:
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(server.url)
            page.click("text=Look round as the demo designer")
            page.set_input_files(
                "input[name=file]",
                {"name": "book.lexigon", "mimeType": package.MIMETYPE, "buffer": package.write(desk.job)},
            )
            page.wait_for_url("**/board/", timeout=60_000)
            address = page.url.split("board/")[0] + "flatplan/"
            times, first = [], 0.0
            for number in range(4):
                begun = time.perf_counter()
                page.goto(address, wait_until="commit")
                page.wait_for_function(LAID)
                times.append(time.perf_counter() - begun)
                page.wait_for_function(SHOWN)
                if number == 0:
                    first = time.perf_counter() - begun
            gaps = page.evaluate(SCROLL)
        finally:
            browser.close()
            server.stop()
    count = len(desk.job.pages)
    return [
        Row("flatplan opens", min(times), "s", 1.5, f"{count} pages laid, Chromium"),
        Row("flatplan, first miniatures made", first, "s", None, "a job never looked at before"),
        Row(
            "flatplan scrolls, p95 of frames",
            percentile(gaps, 0.95),
            "ms",
            None,
            f"{len(gaps)} frames, software rendering",
        ),
    ]


if __name__ == "__main__":
    report(main())
