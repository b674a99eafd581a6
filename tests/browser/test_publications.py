"""A publication from the shelf to its file: jobs put in order, counted, brought into line, pressed as one."""

from __future__ import annotations

from pathlib import Path

import pikepdf
from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Paragraph, TypeSpec
from lexigon.core.editing import intents as do
from lexigon.core.fileformat import package
from lexigon.core.flow.workspace import Workspace
from tests.browser.conftest import Server
from tests.core.helpers import book, words


def named(name: str, count: int) -> Job:
    workspace = Workspace(book())
    workspace.do(do.PourText("main", (Paragraph("pa", "body", words(count)),)))
    workspace.job.name = name
    return workspace.job


def test_a_book_of_three_jobs_is_put_in_order_brought_into_line_and_made_one_file(
    demo: Page, server: Server, tmp_path: Path
) -> None:
    page = demo
    second = Workspace(named("Part two", 900))
    second.do(do.PutStyle("paragraph", "body", type=TypeSpec(size=13.0)))
    for job in (named("Front pages", 60), named("Part one", 700), second.job):
        page.goto(server.url)
        page.set_input_files(
            "input[name=file]", {"name": "t.lexigon", "mimeType": package.MIMETYPE, "buffer": package.write(job)}
        )
        page.wait_for_url("**/board/")
    page.goto(server.url)
    page.locator("summary", has_text="New publication").click()
    page.fill("#publication", "The tide book")
    page.get_by_role("button", name="Add publication").click()
    page.wait_for_url("**/publication/*/")
    parts = page.locator("li.part")
    for count, name in enumerate(("Part two", "Front pages", "Part one"), 1):
        page.locator("#add-job").select_option(label=f"{name} (book)")
        page.get_by_role("button", name="Add job", exact=True).click()
        expect(parts).to_have_count(count)
    # Put in order by the keyboard; the button that was pressed keeps the focus.
    page.get_by_role("button", name="Move “Part two” down").focus()
    page.keyboard.press("Enter")
    expect(parts.nth(1)).to_contain_text("Part two")
    expect(page.get_by_role("button", name="Move “Part two” down")).to_be_focused()
    page.keyboard.press("Enter")
    expect(parts.nth(2)).to_contain_text("Part two")
    expect(parts.locator("a.font-semibold")).to_have_text(["Front pages", "Part one", "Part two"])
    # Two steps in one breath are both done.
    page.get_by_role("button", name="Move “Part two” up").evaluate("(button) => { button.click(); button.click(); }")
    expect(parts.locator("a.font-semibold")).to_have_text(["Part two", "Front pages", "Part one"])
    page.get_by_role("button", name="Move “Part two” down").evaluate("(button) => { button.click(); button.click(); }")
    expect(parts.locator("a.font-semibold")).to_have_text(["Front pages", "Part one", "Part two"])
    parts.nth(2).locator("select").select_option("on")
    expect(parts.nth(2)).to_contain_text("5 to")
    parts.nth(1).locator("select").select_option("own")
    expect(parts.nth(1)).to_contain_text("2 pages, 1 to 2, after an empty page")
    expect(parts.nth(2)).to_contain_text("3 to")
    # What differs is shown, and taken over.
    parts.nth(2).get_by_role("button", name="1 style differs").click()
    dialog = page.locator("dialog[open]")
    expect(dialog).to_contain_text("Paragraph style “Body”")
    expect(dialog).to_contain_text("size: 13 → 11")
    dialog.get_by_role("button", name="Apply").click()
    expect(dialog).to_have_count(0)
    expect(parts.nth(2)).to_contain_text("styles match the lead job")
    # A step back, also after the page is loaded anew; a name of its own.
    page.reload()
    page.click("#undo")
    expect(parts.nth(1).locator("select")).to_have_value("on")
    page.click("#redo")
    expect(parts.nth(1).locator("select")).to_have_value("own")
    page.get_by_role("button", name="Rename", exact=True).click()
    page.fill("#publication-name", "The tide book, second printing")
    page.keyboard.press("Enter")
    expect(page.locator("h1").first).to_have_text("The tide book, second printing")
    # One file of all.
    page.locator("#recipe").select_option("screen")
    page.get_by_role("button", name="Export all as one PDF").click()
    expect(page.get_by_role("link", name="Download")).to_be_visible(timeout=30_000)
    with page.expect_download() as taken:
        page.get_by_role("link", name="Download").click()
    assert taken.value.suggested_filename == "the-tide-book-second-printing-screen.pdf"
    taken.value.save_as(tmp_path / "all.pdf")
    with pikepdf.open(tmp_path / "all.pdf") as pdf:
        written = [page_.label for page_ in pdf.pages]
    assert written[:5] == ["1", "", "1", "2", "3"]
    assert len(written) == int(page.locator(".facts dd").nth(1).inner_text())
    # The last part goes on from the one before on its board, too.
    page.get_by_role("link", name="Part two").click()
    page.wait_for_url("**/board/")
    expect(page.locator("body")).to_contain_text("3")
    page.keyboard.press("Control+z")
    expect(page.locator("#redo")).to_have_attribute("title", "Redo: continue numbering from the previous job")
