"""What takes a while says so soon, and can be cancelled; nothing is changed then. The waits are made by holding
requests back."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from playwright.sync_api import Page, Route, expect

from lexigon.core.document.model import Job, Paragraph
from lexigon.core.editing.intents import AddShape
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import Server, settled
from tests.browser.helpers import poured
from tests.browser.test_arranging import on_sheet
from tests.core.helpers import book


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


def test_a_selection_shows_its_slip_while_the_server_has_not_answered_yet(opened: Callable[[Job], Page]) -> None:
    """What the slip shows of objects in view is known before one is selected; the server only confirms it."""
    workspace = Workspace(book(facing=False))
    first = workspace.job.pages[0].id
    workspace.do(
        AddShape(first, Rect(72, 72, 72, 36), name="Circle"),
        AddShape(first, Rect(72, 216, 36, 72), name="Bar"),
    )
    page = opened(workspace.job)
    known = page.locator("html[data-slips=known]")
    known.wait_for(state="attached")
    with held(page, "**/board/context/**") as kept:
        page.mouse.click(*on_sheet(page, 100, 90))
        expect(page.locator(".slip h1")).to_have_text("Circle")
        expect(page.locator("#fw")).to_have_value("1 in")
        page.mouse.click(*on_sheet(page, 90, 250))
        expect(page.locator(".slip h1")).to_have_text("Bar")
        expect(page.locator("#fw")).to_have_value("0.5 in")
        page.keyboard.press("Escape")
        expect(page.locator(".slip h1")).to_have_text("Page 1")
    assert kept, "it is asked to confirm"
    # What an edit changes is not shown as it was before, however late the answers come.
    page.mouse.click(*on_sheet(page, 100, 90))
    expect(page.locator("#fw")).to_have_value("1 in")
    page.locator("#fw").fill("2 in")
    page.locator("#fw").press("Enter")
    settled(page)
    page.keyboard.press("Escape")
    known.wait_for(state="attached")
    expect(page.locator(".slip h1")).to_have_text("Page 1")
    with held(page, "**/board/context/**"):
        page.mouse.click(*on_sheet(page, 100, 90))
        expect(page.locator(".slip h1")).to_have_text("Circle")
        expect(page.locator("#fw")).to_have_value("2 in")


def test_a_kind_of_piece_chosen_on_a_slow_network_brings_its_size(demo: Page, server: Server) -> None:
    """What is typed before the answer comes asks again, and must not lose the size that belongs to the kind."""
    page = demo
    page.goto(f"{server.url}/new/")
    with held(page, "**/brief/reading/") as kept:
        page.get_by_role("radio", name="Card", exact=True).click()
        page.fill("#name", "Card of the warden")
        page.fill("#height", "50 mm")
        while len(kept) < 2:
            page.wait_for_timeout(20)
        for route in kept:
            route.continue_()
    expect(page.locator("#width")).to_have_value("85 mm")
    expect(page.locator("#height")).to_have_value("50 mm")
    expect(page.locator("#name")).to_have_value("Card of the warden")


def test_a_click_that_comes_before_the_scripts_is_not_lost(opened: Callable[[Job], Page]) -> None:
    page = opened(book(facing=False))
    waiting: list[Route] = []
    page.route("**/bench/js/app*.js", lambda route: waiting.append(route))
    page.click("nav >> text=Press")
    export = page.get_by_role("button", name="Export", exact=True)
    export.click()
    expect(export).to_have_attribute("aria-busy", "true")
    for route in waiting:
        route.continue_()
    expect(page.locator("text=Download")).to_be_visible()
    expect(export).not_to_have_attribute("aria-busy", "true")
