"""A document with styles of its own, from the file to the pages: surveyed, one style mapped otherwise, poured, its note
and table in place."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import pikepdf
from playwright.sync_api import Page, expect

from demo.manuscripts import docx as as_it_came_in
from lexigon.core.manuscript.reading import read
from tests.browser.conftest import Server, settled
from tests.browser.helpers import type_at
from tests.web.test_manuscripts import BODY, NOTES, STYLES, docx

WORD = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"


def second_version() -> bytes:
    """The demo's manuscript with a word changed by its writer."""
    target = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(as_it_came_in())) as old, zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            new.writestr(name, old.read(name).replace(b"across two oil drums", b"across three oil drums"))
    return target.getvalue()


def test_a_manuscript_as_it_came_in_is_cleaned_up_and_the_way_of_the_house_is_kept(demo: Page, server: Server) -> None:
    """The demo's own manuscript: two styles corrected, clean-ups switched on and off by what they show, kept, used for
    the next one."""
    page = demo
    page.goto(f"{server.url}/new/")
    page.fill("[name='name']", "The guide as it came in")
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    address = page.url
    page.click("text=as it came in.docx")
    page.get_by_label("“lines formatted as bold” becomes").select_option("chapter")
    expect(page.locator(".use", has_text="lines formatted as bold")).to_contain_text("your choice")
    page.get_by_label("“Query to editor” becomes").select_option("-")
    quotes = page.locator(".cleaned", has_text="Straight quotation marks")
    quotes.locator("summary").click()
    expect(quotes.locator(".example").first).to_contain_text("stone'’s throw")
    quotes.get_by_role("checkbox").check()
    expect(page.locator("summary", has_text="doubtful case")).to_be_visible()
    expect(quotes.get_by_role("checkbox")).to_be_checked()
    expect(page.locator(".part-row", has_text="What to bring")).to_contain_text("120 words")
    box = page.get_by_label("Style of “What to bring”")
    box.select_option(label="New style…")
    dialog = page.get_by_role("dialog", name="New style")
    dialog.get_by_label("Name").fill("Box heading")
    dialog.get_by_label("Based on").select_option(label="Section heading")
    dialog.get_by_label("Heading level").select_option("4")
    dialog.get_by_role("button", name="Add style").click()
    expect(box.locator("option:checked")).to_have_text("Box heading")
    page.get_by_label("Name of the house style").fill("Saltmarsh")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("text=The next manuscript of “Saltmarsh”")).to_be_visible()
    page.click("text=Pour into the pages")
    page.wait_for_url("**/flatplan/")
    job = page.url.split("flatplan/")[0]
    page.goto(f"{job}board/?page=7")
    settled(page)
    expect(page.locator(".content .ln", has_text="sun’s, and the geese").first).to_be_visible()
    # A rule, a word in another spelling everywhere, a second version of the file, and out to print.
    page.goto(f"{job}manuscript/rules/")
    page.fill("#rule", "after Chapter heading, first 3 words: Small capitals")
    expect(page.locator(".hit mark").first).to_have_text("The best instrument")
    page.get_by_role("button", name="Add rule").click()
    expect(page.locator(".rule")).to_have_count(1)
    page.goto(f"{job}manuscript/find/?words=tideline")
    page.fill("#put", "tide line")
    page.get_by_role("button", name=re.compile(r"^Replace \d+ place")).click()
    expect(page.locator("form [role=status]")).to_contain_text("replaced")
    page.goto(f"{job}manuscript/")
    page.set_input_files("input[type=file]", {"name": "copy 2.docx", "mimeType": WORD, "buffer": second_version()})
    # It is taken in as the version before was.
    expect(page.get_by_text("With the choices made for")).to_contain_text("as it came in.docx")
    expect(page.get_by_label("“lines formatted as bold” becomes")).to_have_value("chapter")
    expect(page.get_by_label("“Query to editor” becomes")).to_have_value("-")
    expect(page.locator(".cleaned", has_text="Straight quotation marks").get_by_role("checkbox")).to_be_checked()
    expect(page.get_by_label("Style of “What to bring”").locator("option:checked")).to_have_text("Box heading")
    page.click("text=Compare with the job")
    expect(page.locator(".hunk.theirs")).to_have_count(1)
    expect(page.locator(".hunk.theirs ins")).to_have_text("three")
    assert page.locator(".hunk.ours").count() >= 1
    page.click("text=Take over 1 change")
    expect(page.locator(".written")).to_contain_text("It lies across three oil drums")
    expect(page.locator(".written")).to_contain_text("along the tide line")
    page.click("nav >> text=Press")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=60_000)
    with page.expect_download() as waiting:
        page.click("text=Download")
    with pikepdf.open(waiting.value.path()) as pdf:
        assert len(pdf.pages) > 30
    # The next manuscript of that house, as RTF: the same choices at once.
    page.goto(f"{server.url}/new/")
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    assert page.url != address
    page.click("text=as it came in.rtf")
    page.get_by_label("House style", exact=True).select_option("Saltmarsh")
    expect(page.get_by_label("“lines formatted as bold” becomes")).to_have_value("chapter")
    expect(page.get_by_label("“Query to editor” becomes")).to_have_value("-")
    expect(page.locator(".cleaned", has_text="Straight quotation marks").get_by_role("checkbox")).to_be_checked()


def test_a_document_is_surveyed_mapped_and_poured(demo: Page, server: Server) -> None:
    page = demo
    page.goto(f"{server.url}/new/")
    page.fill("[name='name']", "Low tide")
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    word = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
    file = {"name": "copy.docx", "mimeType": word, "buffer": docx(BODY, styles=STYLES, footnotes=NOTES)}
    page.set_input_files("input[type=file]", file)
    uses = page.get_by_role("group", name="Styles of the document")
    expect(uses.locator(".use")).to_have_count(3)
    expect(page.locator("section[aria-label='Survey']")).to_contain_text("1 footnote, at the bottom of the column")
    choice = page.get_by_label("“Overline” becomes")
    expect(choice).to_have_value("body")
    choice.select_option("section")
    expect(uses.locator(".use", has_text="Overline")).to_contain_text("your choice")
    expect(page.locator("section[aria-label='Survey']")).to_contain_text("2 headings found")
    page.click("text=Pour into the pages")
    page.wait_for_url("**/flatplan/")
    page.goto(page.url.replace("flatplan/", "board/"))
    settled(page)
    text = page.locator(".content")
    expect(text.first).to_contain_text("It began with the tide.")
    expect(text.first).to_contain_text("06:12")
    expect(page.locator('.content .frame[data-role="note"]')).to_contain_text("Of the tide.")
    wrong = {"name": "copy.docx", "mimeType": word, "buffer": b"PK\x03\x04 broken"}
    page.expected.add(400)  # type: ignore[attr-defined]
    page.goto(page.url.split("board/")[0] + "manuscript/")
    page.set_input_files("input[type=file]", wrong)
    expect(page.locator(".note.bad")).to_contain_text("This document is damaged, or locked with a password.")


def test_a_second_version_is_compared_and_the_jobs_own_correction_stays(demo: Page, server: Server) -> None:
    """Out to the writer, corrected here meanwhile, in again: the writer's change is taken over, ours is kept, all in
    one undo."""
    page = demo
    page.goto(f"{server.url}/new/")
    page.fill("[name='name']", "Two versions")
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    address = page.url
    first = "The tide turned at six.\n\nThe hide was full of wardens.\n\nA dunlin stood on the mud, thinking.\n"
    page.set_input_files("input[type=file]", {"name": "copy.txt", "mimeType": "text/plain", "buffer": first.encode()})
    page.click("text=Pour into the pages")
    page.wait_for_url("**/flatplan/")
    page.goto(address)
    with page.expect_download() as waiting:
        page.get_by_role("button", name="DOCX").click()
    out = Path(waiting.value.path())
    assert read(out.read_bytes(), "copy.docx").paragraphs[1].text == "The hide was full of wardens."
    # A correction here.
    page.goto(address.replace("manuscript/", "board/"))
    type_at(page, 2, 1)
    page.keyboard.type(" lone")
    settled(page)
    second = first.replace("at six", "at seven").replace("wardens", "wardens’ coats") + "\nA new end.\n"
    page.goto(address)
    page.set_input_files(
        "input[type=file]", {"name": "copy 2.txt", "mimeType": "text/plain", "buffer": second.encode()}
    )
    page.click("text=Compare with the job")
    rows = page.locator(".hunk")
    expect(rows).to_have_count(4)
    expect(rows.nth(2)).to_contain_text("by you")
    for number, on in enumerate((True, True, False, True)):
        expect(rows.get_by_role("checkbox").nth(number)).to_be_checked(checked=on)
    rows.nth(1).get_by_role("checkbox").uncheck()
    page.click("text=Take over 2 changes")
    copy = page.locator(".written")
    expect(copy).to_contain_text("The tide turned at seven.")
    expect(copy).to_contain_text("The hide was full of wardens.")
    expect(copy).to_contain_text("A lone dunlin stood")
    expect(copy).to_contain_text("A new end.")
    page.click("#undo")
    expect(page.locator(".written")).to_contain_text("The tide turned at six.")
    expect(page.locator(".written")).to_contain_text("A lone dunlin stood")
