"""Nothing that was answered is lost: the server is killed in the middle of typing."""

from __future__ import annotations

import threading
import time
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, new_book


def test_kill_nine_in_the_middle_of_typing_loses_nothing(page: Page, tmp_path: Path) -> None:
    server = Server(tmp_path / "data").start()
    try:
        page.goto(server.url)
        page.click("text=Look round as the demo designer")
        address = new_book(page, server, "The end.")
        page.goto(f"{address}board/")
        page.locator("#sheet").focus()
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        answered: list[str] = []
        page.on(
            "response",
            lambda r: answered.append(r.request.post_data or "") if r.url.endswith("/edits/") and r.ok else None,
        )
        assassin = threading.Timer(1.2, server.kill)
        assassin.start()
        typed = "".join(f"{n:03d} " for n in range(60))
        page.keyboard.type(typed, delay=12)
        assassin.join()
        assert answered, "some edits were answered before the end"
        expect(page.locator("#saved")).to_have_text("not saved yet")
        expect(page.locator("#toast")).to_contain_text("Nothing is lost")
        time.sleep(0.5)
        server.start()
        # The window goes on by itself: what was not answered yet is sent again.
        page.wait_for_function("() => document.getElementById('saved').textContent.startsWith('saved')", timeout=30_000)
        page.wait_for_timeout(400)
        page.reload()
        page.wait_for_selector(".content .ln")
        text = " ".join(page.locator(".frame:not([data-field]) .ln").all_text_contents())
        assert text.replace(" ", "") == (typed + "The end.").replace(" ", "")
    finally:
        server.stop()
