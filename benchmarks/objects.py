"""Objects on the real board: 500 on a spread dragged, edited and moved back; a job of 200 spreads of objects opened."""

from __future__ import annotations

import random
import time
from dataclasses import replace
from typing import Any

from benchmarks.browser import on_the_board
from benchmarks.measure import Row, percentile, report
from lexigon.core.document.model import Brief, Edges, Fill, FrameSpec, Job, Object, Outline, Pose, Stroke
from lexigon.core.document.starter import new_book
from lexigon.core.editing.intents import AddPages
from lexigon.core.geometry import Rect

MANY, SPREADS, EACH = 500, 200, 12
WATCH = """() => {
  window.answered = [];
  const sent = window.fetch;
  window.fetch = async (...rest) => {
    const begun = performance.now();
    const answer = await sent(...rest);
    if (/\\/(edits|undo)\\//.test(String(rest[0]))) {
      await answer.clone().text();
      requestAnimationFrame(() => setTimeout(() => window.answered.push(performance.now() - begun)));
    }
    return answer;
  };
}"""
"""From the request to the frame in which its answer is painted."""


def crowded() -> Job:
    """A job whose first spread bears 500 shapes, and each of 200 spreads some."""
    brief = Brief(420.0, 595.0, Edges(36, 36, 36, 36), Edges(9, 9, 9, 9), "mm")
    job = new_book("Objects", brief)
    job.main_story = None
    chance = random.Random(11)
    for intent in (AddPages(1, SPREADS * 2 - 1),):
        for edit in intent.expand(job):
            edit.apply(job)

    def shape(number: int) -> Object:
        rect = Rect(chance.uniform(0, 380), chance.uniform(0, 560), chance.uniform(8, 50), chance.uniform(8, 50))
        spec = FrameSpec(fill=Fill("black", chance.random()), stroke=Stroke(chance.choice((0.0, 0.5, 2.0)), "black"))
        return Object(f"o{number}", "Shape", Pose(rect), outline=chance.choice((None, Outline())), make=spec)

    number = 0
    for index, page in enumerate(job.pages):
        count = MANY // 2 if index in (1, 2) else EACH // 2
        job.pages[index] = replace(page, master=None, objects=tuple(shape(number + n) for n in range(count)))
        number += count
    return job


def main() -> list[Row]:
    rows: list[Row] = []
    with on_the_board(crowded()) as (page, address, server):
        page.goto(f"{address}board/?page=2")
        page.wait_for_selector(".content .frame", state="attached")
        page.wait_for_timeout(1000)
        rows += dragged(page, "one of 500 objects dragged")
        page.evaluate(WATCH)
        box = page.locator(".content .frame path").nth(100).bounding_box()
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        for _ in range(40):
            page.keyboard.press("ArrowRight")
            page.wait_for_timeout(120)
        told = taken(page, 40)
        rows.append(
            Row("edit among 500 objects, p95", percentile(told, 0.95), "ms", 80.0, "from the key to the painted answer")
        )
        page.keyboard.press("a")
        page.wait_for_timeout(500)
        rows += dragged(page, "500 objects dragged at once")
        page.wait_for_timeout(1500)
        page.evaluate("() => { window.answered = []; }")
        page.keyboard.press("Shift+ArrowRight")
        page.wait_for_timeout(1500)
        (moved,) = taken(page, 1)
        rows.append(Row("500 objects moved", moved, "ms"))
        times = []
        for _ in range(5):
            page.evaluate("() => { window.answered = []; }")
            page.click("#undo")
            page.wait_for_timeout(1000)
            times += taken(page, 1)
            page.click("#redo")
            page.wait_for_timeout(1000)
        rows.append(Row("undo of a move of 500 objects", percentile(times, 0.5), "ms", 150.0, "to the painted answer"))
        opens = []
        for number in range(5):
            begun = time.perf_counter()
            page.goto(f"{address}board/?page={2 + 40 * number}", wait_until="commit")
            page.wait_for_selector(".content .frame", state="attached")
            opens.append(time.perf_counter() - begun)
        server.kill()
        server.start()
        page.goto(server.url)
        begun = time.perf_counter()
        page.goto(f"{address}board/?page=100", wait_until="commit")
        page.wait_for_selector(".content .frame", state="attached")
        cold = time.perf_counter() - begun
    return [
        *rows,
        Row("200 spreads of objects, board opens", cold, "s", 1.5, "by a server that has just started"),
        Row("200 spreads of objects, again", percentile(opens, 0.5), "s"),
    ]


def taken(page: Any, least: int) -> list[float]:
    page.wait_for_function(f"() => window.answered.length >= {least}", timeout=20_000)
    found: list[float] = page.evaluate("() => window.answered.splice(0)")
    return found[:least] if least == 1 else found


def dragged(page: Any, name: str) -> list[Row]:
    """Processor time of the window's main thread for each frame of a drag: what the move sets off, and the frame it is
    painted in."""
    box = page.locator(".content .frame path").nth(200).bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    window = page.context.new_cdp_session(page)
    window.send("Performance.enable", {"timeDomain": "threadTicks"})

    def busy() -> float:
        told = {one["name"]: one["value"] for one in window.send("Performance.getMetrics")["metrics"]}
        return float(told["TaskDuration"]) * 1000

    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 6, y + 6)
    times = []
    for step in range(80):
        before = busy()
        page.mouse.move(x + 6 + step, y + 6 + step / 2)
        page.evaluate("() => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))")
        times.append(busy() - before)
    page.keyboard.press("Escape")
    page.mouse.up()
    return [
        Row(f"{name}, p50 of frames", percentile(times, 0.5), "ms"),
        Row(f"{name}, p95 of frames", percentile(times, 0.95), "ms", 8.0, "main thread"),
    ]


if __name__ == "__main__":
    report(main())
