"""The whole book on the real board, in Chromium, for what is measured there."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from benchmarks.measure import book
from lexigon.core.document.model import Job
from lexigon.core.fileformat import package
from lexigon.core.flow.workspace import Workspace


@contextmanager
def book_on_the_board() -> Iterator[tuple[Any, str, int]]:
    """A window with the book open in it, the job's address, and its page count."""
    job = Workspace(book()).job
    with on_the_board(job) as (page, address, _):
        yield page, address, len(job.pages)


@contextmanager
def on_the_board(job: Job) -> Iterator[tuple[Any, str, Any]]:
    """A window with a job open in it, the job's address, and the server."""
    from playwright.sync_api import sync_playwright

    from tests.browser.conftest import CHROMIUM, Server

    if not CHROMIUM:
        raise SystemExit("Chromium is needed to measure the board: apt-get install chromium-headless-shell")
    file = {"name": "job.lexigon", "mimeType": package.MIMETYPE, "buffer": package.write(job)}
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder)).start()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox", "--disable-gpu"])
        try:
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(server.url)
            page.click("text=Try the demo")
            page.set_input_files("input[type=file][name=file]", file)
            page.wait_for_url("**/board/", timeout=60_000)
            yield page, page.url.removesuffix("board/"), server
        finally:
            browser.close()
            server.stop()
