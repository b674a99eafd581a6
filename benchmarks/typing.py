"""Typing on the real board of the whole book: from the key to the paint, and to the server's confirmation."""

from __future__ import annotations

import json
from typing import Any

from benchmarks.browser import book_on_the_board
from benchmarks.measure import Row, percentile, report

WATCH = """() => {
  window.told = []; window.confirmed = [];
  const field = document.getElementById('typing');
  let pending = [], unpainted = [];
  const lines = document.querySelector('#sheet');
  field.addEventListener('keydown', () => { const at = performance.now(); pending.push(at); unpainted.push(at); }, true);
  new MutationObserver(() => {
    for (const at of unpainted.splice(0)) requestAnimationFrame(() => window.told.push(performance.now() - at));
  }).observe(lines, { subtree: true, childList: true, characterData: true });
  const sent = window.fetch;
  window.fetch = async (...rest) => {
    const mine = String(rest[0]).includes('/edits/') ? pending.splice(0) : [];
    const answer = await sent(...rest);
    const now = performance.now();
    for (const at of mine) window.confirmed.push(now - at);
    return answer;
  };
}"""  # noqa: E501


def main() -> list[Row]:
    with book_on_the_board() as (page, address, count):
        page.goto(f"{address}board/?page=3")
        line = page.locator(".content .frame:not([data-field]) .ln").nth(4)
        line.wait_for()
        box = line.bounding_box()
        assert box
        page.mouse.dblclick(box["x"] + 60, box["y"] + 5)
        page.keyboard.press("End")
        page.wait_for_timeout(1500)
        page.evaluate(WATCH)
        page.keyboard.type("and so it went on for the rest of the afternoon " * 3, delay=45)
        page.wait_for_timeout(1500)
        told: dict[str, Any] = json.loads(page.evaluate("() => JSON.stringify({told, confirmed})"))
    return [
        Row(
            "key to paint, p50",
            percentile(told["told"], 0.5),
            "ms",
            20.0,
            f"{len(told['told'])} keys, Chromium, book of {count} pages",
        ),
        Row("key to paint, p95", percentile(told["told"], 0.95), "ms"),
        Row("key to confirmation, p50", percentile(told["confirmed"], 0.5), "ms", 80.0),
        Row("key to confirmation, p95", percentile(told["confirmed"], 0.95), "ms"),
    ]


if __name__ == "__main__":
    report(main())
