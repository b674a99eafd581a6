"""Check: from the count in the strip to a job without open findings."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from demo.pieces import flyer
from lexigon.core.document.model import Job, all_in
from lexigon.core.editing.intents import ChangeFrame
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect


def faulty() -> Job:
    """A flyer with a frame that is too low for its text, and another that is off the page."""
    workspace = Workspace(flyer())
    page = workspace.job.pages[0]
    texts = [one for one in all_in(page.objects) if one.story and one.place and one.place.map is None]
    texts.sort(key=lambda one: sum(len(p.text) for p in workspace.job.stories[one.story or ""].paragraphs))
    long, short = texts[-1].rect, texts[0].rect
    assert long is not None
    assert short is not None
    workspace.do(ChangeFrame(page.id, texts[-1].id, rect=Rect(long.x, long.y, long.width, 8.0)))
    workspace.do(ChangeFrame(page.id, texts[0].id, rect=Rect(-60.0, short.y, short.width, short.height)))
    return workspace.job


def test_findings_are_fixed_and_accepted(opened: Callable[..., Page]) -> None:
    page = opened(faulty())
    count = page.locator('.strip-places a[href$="/check/"] .count')
    expect(count).to_be_visible()
    page.locator(".strip-places").get_by_role("link", name=re.compile("^Check")).click()
    page.wait_for_selector("[data-check=ready]", state="attached")
    rows = page.get_by_role("option")
    before = rows.count()
    assert before >= 2
    panel = page.locator("#finding")
    expect(panel).to_contain_text("Why it matters")
    expect(panel.locator("svg .spot").first).to_be_visible()
    rows.filter(has_text=re.compile("Text (off the page|cut off)")).first.click()
    panel.get_by_role("button", name="Move onto the page").click()
    expect(rows.filter(has_text=re.compile("Text (off the page|cut off)"))).to_have_count(0)
    page.locator("#findings").focus()
    page.keyboard.press("Home")
    expect(rows.first).to_have_attribute("aria-selected", "true")
    rows.filter(has_text="Overset text").first.click()
    panel.get_by_role("button", name="Accept…").click()
    dialog = page.locator("#ask")
    page.expected.add(400)  # type: ignore[attr-defined]
    dialog.get_by_role("button", name="Accept", exact=True).click()
    expect(dialog).to_contain_text("Type the reason")
    dialog.get_by_role("textbox", name="Reason").fill("It is meant to end there")
    dialog.get_by_role("button", name="Accept", exact=True).click()
    expect(dialog).to_be_hidden()
    expect(rows.filter(has_text="Overset text")).to_have_count(0)
    page.get_by_role("button", name="Accepted 1").click()
    expect(panel).to_contain_text("It is meant to end there")
    page.reload()
    page.wait_for_selector("[data-check=ready]", state="attached")
    page.get_by_role("button", name="Accepted 1").click()
    panel.get_by_role("button", name="Reopen").click()
    expect(page.get_by_role("button", name="Accepted 0")).to_be_visible()
    expect(count).to_have_text(str(before - 1))
    page.get_by_role("button", name=re.compile("^All")).click()
    rows.filter(has_text="Overset text").first.click()
    panel.get_by_role("link", name="Show on the board").click()
    page.wait_for_url(re.compile("/board/"))
