"""Text on the board: made, read off the page, typed into."""

from __future__ import annotations

from playwright.sync_api import Page

from lexigon.core.document.model import Job, Paragraph
from lexigon.core.editing.intents import PourText
from lexigon.core.flow.workspace import Workspace
from tests.core.helpers import book

MAIN = ".content .frame[data-role=main] .ln"


def poured(*paragraphs: Paragraph) -> Job:
    workspace = Workspace(book(facing=False))
    workspace.do(PourText("main", paragraphs))
    return workspace.job


def lines(page: Page, selector: str = MAIN) -> list[str]:
    found: list[str] = page.eval_on_selector_all(selector, "(all) => all.map((g) => g.textContent)")
    return found


def type_at(page: Page, paragraph: int, offset: int) -> None:
    """Put the caret into a paragraph of the main text, through the pointer and the keys."""
    page.click("#tools [data-tool=text]")
    ids = page.eval_on_selector_all(MAIN, "(all) => [...new Set(all.map((g) => g.dataset.p))]")
    page.locator(f'{MAIN}[data-p="{ids[paragraph]}"]').first.click(position={"x": 3, "y": 6}, force=True)
    page.keyboard.press("Home")
    for _ in range(offset):
        page.keyboard.press("ArrowRight")


def spec(page: Page, line: str) -> None:
    page.locator("#spec").fill(line)
    page.locator("#spec").press("Enter")


def command(page: Page, words: str) -> None:
    """Run a command of the board by its words, through the command finder."""
    page.keyboard.press("Control+k")
    page.keyboard.insert_text(words)
    page.keyboard.press("Enter")


def select_first(page: Page) -> None:
    """Select the first object of the spread by the keys."""
    page.locator("#sheet").focus()
    page.keyboard.press("ArrowRight")


def clicks(page: Page) -> int:
    """How many clicks were needed in this window so far."""
    return int(page.evaluate("() => Number(sessionStorage.getItem('clicks') || 0)"))
