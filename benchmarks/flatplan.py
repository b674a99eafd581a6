"""Opening the flatplan of the whole book in Chromium: until every spread is laid and the first miniatures are there."""

from __future__ import annotations

import time

from benchmarks.browser import book_on_the_board
from benchmarks.measure import Row, percentile, report

LAID = "() => document.querySelectorAll('#spreads .leaf[data-index]').length > 300"
SHOWN = (
    "() => [...document.querySelectorAll('#spreads img')].slice(0, 12).every((i) => i.complete && i.naturalWidth > 50)"
)
SCROLL = """() => new Promise((done) => { const plan = document.getElementById('plan'); const gaps = []; let last = performance.now();
  const step = () => { const now = performance.now(); gaps.push(now - last); last = now; plan.scrollTop += 120;
    if (plan.scrollTop + plan.clientHeight < plan.scrollHeight - 2 && gaps.length < 400) requestAnimationFrame(step); else done(gaps.slice(1)); };
  requestAnimationFrame(step); })"""  # noqa: E501


def main() -> list[Row]:
    with book_on_the_board() as (page, address, count):
        times, first = [], 0.0
        for number in range(4):
            begun = time.perf_counter()
            page.goto(f"{address}flatplan/", wait_until="commit")
            page.wait_for_function(LAID)
            times.append(time.perf_counter() - begun)
            page.wait_for_function(SHOWN)
            if number == 0:
                first = time.perf_counter() - begun
        page.evaluate(SCROLL)  # past every page once, so that the miniatures are made
        page.wait_for_timeout(6000)
        page.evaluate("() => { document.getElementById('plan').scrollTop = 0; }")
        gaps = page.evaluate(SCROLL)
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
