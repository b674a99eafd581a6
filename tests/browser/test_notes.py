"""Notes in the interface: set up in kinds, typed until they divide, in the margin, gathered behind the text, to the
file."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Paragraph
from tests.browser.conftest import settled
from tests.browser.helpers import lines, poured, type_at
from tests.core.helpers import words

NOTE = '.content .frame[data-role="note"]'


def command(page: Page, said: str) -> None:
    page.keyboard.press("Control+k")
    page.keyboard.type(said)
    page.keyboard.press("Enter")


def test_notes_divide_stand_in_the_margin_count_by_signs_and_are_gathered(opened: Callable[[Job], Page]) -> None:
    page = opened(
        poured(
            Paragraph("pa", "body", words(120)), Paragraph("pb", "body", words(60, 2)), Paragraph("pz", "body", "End.")
        )
    )
    # A footnote that grows over its page goes on on the next one, which is made for it.
    type_at(page, 0, 12)
    command(page, "insert footnote")
    expect(page.locator(".slip h1")).to_have_text("Note 1")
    page.keyboard.insert_text("Seen on two mornings. " * 260)
    settled(page)
    expect(page.locator(".slip p.sub").first).to_contain_text("at the bottom of the column")
    dialog = page.locator("dialog#ask")
    whole = lines(page, f"{NOTE} .ln")
    assert len(whole) > 20
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("PageDown")
    expect(page.locator(f"{NOTE} .ln").first).not_to_contain_text("1\u00a0Seen")
    rest = lines(page, f"{NOTE} .ln")
    assert rest
    assert not rest[0].startswith("1\u00a0"), "its number stands at its beginning alone"
    # Typing goes on where it goes on.
    page.click("#tools [data-tool=text]")
    page.locator(f"{NOTE} .ln").last.click(position={"x": 20, "y": 4}, force=True)
    page.keyboard.press("End")
    page.keyboard.type(" And the last of it.")
    settled(page)
    assert lines(page, f"{NOTE} .ln")[-1].endswith("And the last of it.")
    page.keyboard.press("Control+z")
    settled(page)
    page.keyboard.press("Escape")
    page.keyboard.press("PageUp")
    # Signs in place of numbers, anew on each page.
    command(page, "set up notes")
    dialog.get_by_label("Numbers").select_option("*")
    dialog.get_by_label("Numbering").select_option("page")
    dialog.get_by_label("Rule", exact=True).fill("much")
    dialog.locator("#ask-yes").click()
    expect(dialog.locator("#ask-problem")).to_contain_text("0 to 100 %")
    dialog.get_by_label("Rule", exact=True).fill("50 %")
    dialog.locator("#ask-yes").click()
    expect(dialog).to_be_hidden()
    settled(page)
    assert lines(page, f"{NOTE} .ln")[0].startswith("*\u00a0Seen")
    # One beside its line, without a number; its kind is changed in the slip.
    type_at(page, 0, 4)
    command(page, "insert margin note")
    page.keyboard.type("Wind north-west.")
    settled(page)
    expect(page.locator(".slip h1")).to_contain_text("Side notes")
    beside = page.locator(NOTE).filter(has_text="Wind").bounding_box()
    column = page.locator(".content .frame[data-role=main]").first.bounding_box()
    assert beside
    assert column
    assert beside["x"] >= column["x"] + column["width"] - 1
    page.locator("#pk").select_option("foot")
    settled(page)
    told = [line for line in lines(page, f"{NOTE} .ln") if "Wind" in line]
    assert re.match(r"\*\u00a0Wind", told[0]), told
    # Kept for the end of the text: they stand in a listing there, and nowhere else.
    page.keyboard.press("Escape")
    command(page, "set up notes")
    dialog.get_by_label("Position").select_option("gathered")
    dialog.get_by_label("Numbering").select_option("text")
    dialog.locator("#ask-yes").click()
    expect(page.locator("#toast")).to_contain_text("only in a listing")
    settled(page)
    expect(page.locator(NOTE)).to_have_count(0)
    page.get_by_role("link", name=re.compile("^Check")).click()
    expect(page.locator("main")).to_contain_text("are not shown anywhere")
