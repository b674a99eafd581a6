"""From the click on an object to its slip on the real board, with a server that answers at once and one that takes half
a second."""

from __future__ import annotations

import time
from typing import Any

from benchmarks.browser import on_the_board
from benchmarks.measure import Row, percentile, report
from benchmarks.objects import crowded

CLICKS = 24
DELAY = 0.5
"""Seconds that the server takes to confirm what the slip shows."""
WATCH = """() => {
  window.slipTimes = [];
  addEventListener("pointerdown", () => {
    const begun = performance.now();
    const before = document.querySelector("#fx")?.value;
    const look = () => {
      const waiting = document.querySelector("#fx")?.value === before;
      if (waiting && performance.now() - begun < 5000) requestAnimationFrame(look);
      else setTimeout(() => window.slipTimes.push(performance.now() - begun)); // after the frame is painted
    };
    requestAnimationFrame(look);
  }, true);
}"""
"""From the press of the pointer to the frame in which the slip shows another position."""


def main() -> list[Row]:
    with on_the_board(crowded()) as (page, address, _):
        page.goto(f"{address}board/?page=40")
        page.wait_for_selector(".content .frame", state="attached")
        page.locator("html[data-slips=known]").wait_for(state="attached")
        page.wait_for_timeout(1500)
        page.evaluate(WATCH)
        quick = clicked(page)
        page.route("**/board/context/**", lambda route: (time.sleep(DELAY), route.continue_()))
        slow = clicked(page)
    return [
        Row("click to slip, p95", percentile(quick, 0.95), "ms", 50.0, "painted"),
        Row("click to slip, slow server, p95", percentile(slow, 0.95), "ms", 50.0, "which answers after 500 ms"),
    ]


def clicked(page: Any) -> list[float]:
    boxes = [shape.bounding_box() for shape in page.locator(".content .frame[data-kind=shape]").all()]
    page.evaluate("() => { window.slipTimes = []; }")
    for at in range(CLICKS):
        box = boxes[at % len(boxes)]
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.wait_for_timeout(250)
    page.wait_for_function(f"() => window.slipTimes.length >= {CLICKS}", timeout=60_000)
    times: list[float] = page.evaluate("() => window.slipTimes")
    return times


if __name__ == "__main__":
    report(main())
