"""Nothing typed is lost: on the board, in cells, in notes, along outlines and in the writing view, whatever the line is like."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import Page

from lexigon.core.job.model import Job, Paragraph
from tests.browser.conftest import settled
from tests.browser.helpers import poured, type_at
from tests.browser.typing import TextArea, keys_of, slow, strike


def words_of(page: Page) -> str:
    """The main text as the server has it."""
    key = page.url.split("/job/")[1].split("/")[0]
    return str(
        page.evaluate(
            "async (key) => (await (await fetch(`/job/${key}/manuscript/text/`)).json()).rows.map(({ text }) => text).join('\\n')",
            key,
        )
    )


@pytest.mark.parametrize(("delay", "lag", "lose"), [(0, 0, 0), (30, 400, 1), (0, 1500, 0), (60, 50, 1)])
def test_the_board_has_what_a_text_area_has(opened: Callable[[Job], Page], delay: int, lag: int, lose: int) -> None:
    page = opened(poured(Paragraph("p1", "body", "Begin ")))
    type_at(page, 0, 0)
    page.keyboard.press("End")
    settled(page)
    slow(page, lag, lose)
    area = TextArea("Begin ", 6, 6)
    keys = keys_of(16, delay + lag)
    for key in keys:
        area.press(key)
    strike(page, keys, delay)
    settled(page, 60_000)
    slow(page)
    assert words_of(page) == area.text


@pytest.mark.parametrize(("delay", "lag", "lose"), [(0, 0, 0), (10, 400, 1), (0, 1500, 0)])
def test_the_writing_view_has_what_a_text_area_has(
    opened: Callable[[Job], Page], delay: int, lag: int, lose: int
) -> None:
    page = opened(poured(Paragraph("p1", "body", "Begin ")))
    page.click(".strip-places a:has-text('Manuscript')")
    page.wait_for_selector(".written [data-p]")
    page.locator(".written [data-p]").first.click()
    page.keyboard.press("End")
    slow(page, lag, lose)
    area = TextArea("Begin ", 6, 6)
    keys = keys_of(16, delay + lag)
    for key in keys:
        area.press(key)
    strike(page, keys, delay)
    settled(page, 60_000)
    slow(page)
    assert words_of(page) == area.text
    shown = page.locator(".written [data-p]").evaluate_all("(all) => all.map((one) => one.textContent)")
    assert "\n".join(shown) == area.text
