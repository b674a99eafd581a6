"""The dialog of styles: what is typed is applied by Tab and on leaving, and a new style says what it is based on."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect

from lexigon.core.document.model import Job, Paragraph
from tests.browser.conftest import settled
from tests.browser.helpers import poured


def labelled(dialog: Locator, word: str) -> Locator:
    return dialog.locator("label", has=dialog.page.locator(f"span:text-is('{word}')")).locator("select")


def test_a_setting_is_applied_by_tab_and_on_leaving_to_the_style_it_was_typed_for(
    opened: Callable[[Job], Page],
) -> None:
    page = opened(poured(Paragraph("p1", "body", "The tide turned.")))
    page.expected.add(400)  # type: ignore[attr-defined]
    page.click("#styles-button")
    dialog = page.locator("#styles")
    setting = dialog.locator("textarea")
    dialog.locator(".style-row[data-id=body]").click()
    setting.fill("12/16")
    setting.press("Tab")
    settled(page)
    dialog.locator(".style-row[data-id=quote]").click()
    expect(setting).not_to_have_value("12/16")
    dialog.locator(".style-row[data-id=body]").click()
    expect(setting).to_have_value(re.compile("^12/16"))

    setting.fill("13/17")
    dialog.locator(".style-row[data-id=quote]").click()
    settled(page)
    dialog.locator(".style-row[data-id=body]").click()
    expect(setting).to_have_value(re.compile("^13/17"))

    # What is not understood is said, and changes nothing.
    setting.fill("13/17 wobbly")
    setting.press("Tab")
    expect(page.locator("#toast")).to_contain_text("“Body” was not changed.")


def test_a_new_heading_style_shows_its_base_and_comes_a_level_below_the_last(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("p1", "body", "The tide turned.")))
    page.click("#styles-button")
    dialog, question = page.locator("#styles"), page.locator("#ask")
    dialog.locator(".style-row[data-id=section]").click()
    expect(labelled(dialog, "Heading level").locator("option:checked")).to_have_text("heading, level 3")
    dialog.locator(".make").click()
    expect(labelled(question, "Based on").locator("option:checked")).to_have_text("Section heading")
    expect(labelled(question, "Heading level").locator("option:checked")).to_contain_text(
        "heading, level 4, like Subsection heading"
    )
    labelled(question, "Heading level").select_option("5")
    question.get_by_label("Name").fill("Field note heading")
    question.get_by_role("button", name="Add style").click()
    expect(dialog.get_by_label("Name", exact=True)).to_have_value("Field note heading")
    expect(labelled(dialog, "Heading level").locator("option:checked")).to_have_text(
        "heading, level 5, like Heading, fifth level"
    )
