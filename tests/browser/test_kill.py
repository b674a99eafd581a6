"""Nothing that was answered is lost: the server is killed in the middle of typing."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, Response, expect

from tests.browser.conftest import Server, new_book, settled
from tests.browser.helpers import select_first


def test_kill_nine_in_the_middle_of_typing_loses_nothing(page: Page, server: Server, tmp_path: Path) -> None:
    server = server.copied(tmp_path / "data").start()
    try:
        page.goto(server.url)
        page.click("text=Try the demo")
        address = new_book(page, server, "The end.")
        page.goto(f"{address}board/")
        select_first(page)
        page.keyboard.press("Enter")
        answered: list[str] = []

        def answer(response: Response) -> None:
            if response.url.endswith("/edits/") and response.ok:
                answered.append(response.url)
                if len(answered) == 3:
                    server.kill()

        page.on("response", answer)
        typed = "".join(f"{n:03d} " for n in range(60))
        page.keyboard.type(typed, delay=12)
        assert len(answered) >= 3, "some edits were answered before the end"
        expect(page.locator("#saved")).to_have_text("not saved yet")
        expect(page.locator("#toast")).to_contain_text("Nothing is lost")
        server.start()
        # The window goes on by itself: what was not answered yet is sent again.
        settled(page, timeout=30_000)
        page.reload()
        page.wait_for_selector(".content .ln")
        text = " ".join(page.locator(".frame:not([data-field]) .ln").all_text_contents())
        assert text.replace(" ", "") == (typed + "The end.").replace(" ", "")
    finally:
        server.stop()
