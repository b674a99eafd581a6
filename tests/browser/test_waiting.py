"""What takes a while says so soon, and can be cancelled; nothing is changed then. The waits are made by holding
requests back."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from playwright.sync_api import Page, Route, expect

from lexigon.core.document.model import Job, Paragraph
from tests.browser.helpers import poured


@contextmanager
def held(page: Page, pattern: str) -> Iterator[list[Route]]:
    """Requests to addresses of a pattern get no answer until this ends."""
    kept: list[Route] = []
    page.route(pattern, lambda route: kept.append(route))
    yield kept
    page.unroute(pattern)


def test_checking_the_spelling_says_so_and_can_be_cancelled(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "A reciept for the wardens.")))
    address = page.url.split("/board/")[0] + "/manuscript/spelling/"
    with held(page, "**/spelling/look/") as kept:
        page.goto(address)
        expect(page.locator("#waiting")).to_contain_text("Checking the spelling")
        page.locator("#waiting").get_by_role("button", name="Cancel").click()
        expect(page.locator("#waiting")).to_be_hidden()
        expect(page.get_by_text("Not checked.")).to_be_visible()
        assert len(kept) == 1
    page.goto(address)
    expect(page.locator(".unknown")).to_contain_text("reciept")
    expect(page.locator("#waiting")).to_be_hidden()


def test_comparing_can_be_cancelled_and_nothing_is_changed(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "The tide was low.")))
    page.goto(page.url.split("/board/")[0] + "/manuscript/")
    page.locator("input[type=file]").first.set_input_files(
        {"name": "new.txt", "mimeType": "text/plain", "buffer": b"The tide was high."}
    )
    compare = page.get_by_role("button", name="Compare with the job")
    with held(page, "**/compare/"):
        compare.click()
        expect(page.locator("#waiting")).to_contain_text("Comparing the two versions")
        page.locator("#waiting").get_by_role("button", name="Cancel").click()
        expect(page.locator("#waiting")).to_be_hidden()
        expect(compare).to_be_enabled()
    compare.click()
    expect(page.get_by_role("region", name="Differences")).to_contain_text("high")


CANCEL = """() => {
  const panel = document.querySelector("#waiting");
  new MutationObserver(() => {
    if (panel.hidden || window.said) return;
    window.said = panel.textContent;
    panel.querySelector("button").click();
  }).observe(panel, { attributes: true });
}"""


def test_opening_a_job_says_so_and_can_be_cancelled(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "The tide was low.")))
    page.goto(page.url.split("/job/")[0] + "/")
    card = page.get_by_role("link", name="A test of pages").first
    # Playwright looks at nothing while a page is being opened: the window itself cancels what it says.
    page.evaluate(CANCEL)
    with held(page, "**/board/") as kept:
        card.click(no_wait_after=True)
        expect(page.locator("#waiting")).to_be_hidden()
        assert page.evaluate("() => window.said") == "Opening “A test of pages” …Cancel"
        assert kept
        expect(page.get_by_role("heading", name="Shelf")).to_be_visible()
    card.click()
    page.wait_for_url("**/board/*")
