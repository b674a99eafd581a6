"""The whole book on the real board, in Chromium, for what is measured there."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from benchmarks.measure import book
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package


@contextmanager
def book_on_the_board() -> Iterator[tuple[Any, str, int]]:
    """A window with the book open in it, the job's address, and its page count."""
    from playwright.sync_api import sync_playwright

    from tests.browser.conftest import CHROMIUM, Server

    if not CHROMIUM:
        raise SystemExit("Chromium is needed to measure the board: apt-get install chromium-headless-shell")
    desk = Desk(book())
    file = {"name": "book.lexigon", "mimeType": package.MIMETYPE, "buffer": package.write(desk.job)}
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder)).start()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox", "--disable-gpu"])
        try:
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(server.url)
            page.click("text=Look round as the demo designer")
            page.set_input_files("input[type=file][name=file]", file)
            page.wait_for_url("**/board/", timeout=60_000)
            yield page, page.url.removesuffix("board/"), len(desk.job.pages)
        finally:
            browser.close()
            server.stop()
