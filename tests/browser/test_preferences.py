"""Numbers as the reader's country writes them, from the preference to the value that is saved."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job
from lexigon.core.editing.intents import AddShape
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.core.helpers import book

MM = 72 / 25.4


def test_a_reader_in_germany_reads_and_types_decimal_commas(opened: Callable[[Job], Page]) -> None:
    job = book()
    job.brief = replace(job.brief, unit="mm")
    workspace = Workspace(job)
    workspace.do(AddShape(workspace.job.pages[0].id, Rect(12.5 * MM, 20 * MM, 30 * MM, 30 * MM), name="Sail"))
    page = opened(workspace.job)
    board = page.url
    page.locator("summary.round").click()
    page.get_by_role("link", name="Preferences…").click()
    page.get_by_label("Numbers and dates").select_option("de-DE")
    page.get_by_role("button", name="Save").click()
    page.wait_for_url(board)
    page.wait_for_selector(".content .frame", state="attached")
    page.keyboard.press("Control+a")
    left = page.locator("#fx")
    expect(left).to_have_value("12,5 mm")
    left.fill("1.010,25 mm - 1.000mm")
    left.press("Enter")
    settled(page)
    expect(left).to_have_value("10,25 mm")
    left.fill("7,5")
    left.press("ArrowUp")
    expect(left).to_have_value("8,5")
    left.press("Enter")
    settled(page)
    expect(left).to_have_value("8,5 mm")
