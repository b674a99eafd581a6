"""The contact sheet with 300 pictures: opened, and scrolled through in the window."""

from __future__ import annotations

import io
import tempfile
import time
import zipfile
from pathlib import Path
from typing import Any

import numpy
from PIL import Image

from benchmarks.browser import on_the_board
from benchmarks.measure import Row, percentile, report
from lexigon.core.document.model import Brief, Edges
from lexigon.core.document.starter import new_book

MANY = 300
FRAME = 1000 / 60
"""Milliseconds between two frames of a screen."""


def archive(target: Path) -> None:
    chance = numpy.random.default_rng(3)
    with zipfile.ZipFile(target, "w", zipfile.ZIP_STORED) as made:
        for number in range(MANY):
            small = Image.fromarray(chance.integers(0, 255, (12, 18, 3), dtype=numpy.uint8))
            out = io.BytesIO()
            small.resize((1200, 800), Image.Resampling.BICUBIC).save(out, "JPEG", quality=85, dpi=(300, 300))
            made.writestr(f"plate {number:03}.jpg", out.getvalue())


def main() -> list[Row]:
    with (
        tempfile.TemporaryDirectory() as folder,
        on_the_board(new_book("Plates", Brief(420.0, 595.0, Edges(36, 36, 36, 36), Edges(9, 9, 9, 9), "mm"))) as (
            page,
            address,
            _,
        ),
    ):
        pictures = Path(folder) / "plates.zip"
        archive(pictures)
        page.goto(f"{address}board/")
        page.wait_for_selector(".paper")
        page.locator("#sheet").focus()
        page.keyboard.press("c")
        begun = time.perf_counter()
        with page.expect_file_chooser() as waiting:
            page.locator("[data-key=bring]").click()
        waiting.value.set_files(str(pictures))
        page.wait_for_function(
            f"() => document.querySelectorAll('.contact-sheet li').length === {MANY}", timeout=300_000
        )
        brought = time.perf_counter() - begun
        page.reload()
        page.wait_for_selector(".contact-sheet li", state="attached")
        page.wait_for_timeout(3000)
        first = scrolled(page)  # the previews come in
        again = scrolled(page)
    return [
        Row("300 pictures of 1 megapixel brought in", brought, "s"),
        Row("300 pictures scrolled, median, main thread", percentile(again, 0.5), "ms", FRAME),
        Row("300 pictures scrolled, p95, main thread", percentile(again, 0.95), "ms", FRAME, "a frame of 60 a second"),
        Row("the same while previews come in, p95", percentile(first, 0.95), "ms"),
    ]


def scrolled(page: Any) -> list[float]:
    """Processor time of the window's main thread for each frame of a scroll from end to end."""
    window = page.context.new_cdp_session(page)
    window.send("Performance.enable", {"timeDomain": "threadTicks"})

    def busy() -> float:
        told = {one["name"]: one["value"] for one in window.send("Performance.getMetrics")["metrics"]}
        return float(told["TaskDuration"]) * 1000

    box = page.locator("#drawer").bounding_box()
    page.mouse.move(box["x"] + 60, box["y"] + 300)
    page.evaluate(
        "() => { for (let one = document.querySelector('.contact-sheet'); one; one = one.parentElement) one.scrollTop ="
        " 0; }"
    )
    times = []
    for _ in range(120):
        before = busy()
        page.mouse.wheel(0, 160)
        page.evaluate("() => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))")
        times.append(busy() - before)
    return times


if __name__ == "__main__":
    report(main())
