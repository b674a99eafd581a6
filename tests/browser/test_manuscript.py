"""A document with styles of its own, from the file to the pages: surveyed, one style mapped otherwise, poured, its note and table in place."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, settled
from tests.web.test_manuscripts import BODY, NOTES, STYLES, docx


def test_a_document_is_surveyed_mapped_and_poured(demo: Page, server: Server) -> None:
    page = demo
    page.goto(f"{server.url}/new/")
    page.fill("[name='name']", "Low tide")
    page.click("text=Make the book")
    page.wait_for_url("**/manuscript/")
    word = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
    file = {"name": "copy.docx", "mimeType": word, "buffer": docx(BODY, styles=STYLES, footnotes=NOTES)}
    page.set_input_files("input[type=file]", file)
    uses = page.get_by_role("group", name="Styles of the document")
    expect(uses.locator(".use")).to_have_count(3)
    expect(page.locator("section[aria-label='What was found']")).to_contain_text(
        "1 footnote, at the foot of its column"
    )
    choice = page.get_by_label("“Overline” becomes")
    expect(choice).to_have_value("body")
    choice.select_option("section")
    expect(uses.locator(".use", has_text="Overline")).to_contain_text("chosen by you")
    expect(page.locator("section[aria-label='What was found']")).to_contain_text("2 headings found")
    page.click("text=Pour it into the book")
    page.wait_for_url("**/flatplan/")
    page.goto(page.url.replace("flatplan/", "board/"))
    settled(page)
    text = page.locator(".content")
    expect(text.first).to_contain_text("It began with the tide.")
    expect(text.first).to_contain_text("[Table: 1 row, 2 columns]")
    expect(page.locator('.content .frame[data-role="note"]')).to_contain_text("Of the tide.")
    wrong = {"name": "copy.docx", "mimeType": word, "buffer": b"PK\x03\x04 broken"}
    page.expected.add(400)  # type: ignore[attr-defined]
    page.goto(page.url.split("board/")[0] + "manuscript/")
    page.set_input_files("input[type=file]", wrong)
    expect(page.locator(".note.bad")).to_contain_text("This document is damaged, or locked with a password.")
