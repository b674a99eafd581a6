"""Work on the copy as somebody does it: found and replaced over a job."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Paragraph, Span
from tests.browser.conftest import Server, settled
from tests.browser.helpers import poured, type_at


def test_a_word_is_replaced_everywhere_but_where_it_was_unticked(opened: Callable[[Job], Page]) -> None:
    italic = (Span(2, 6, "emphasis"),)
    page = opened(
        poured(
            Paragraph("a", "body", "A gull stood.", italic),
            Paragraph("b", "body", "Seagulls and Gulls."),
            Paragraph("c", "body", "No bird."),
        )
    )
    address = page.url
    rows = page.locator(".hit")
    type_at(page, 1, 0)
    page.keyboard.press("Shift+End")
    page.keyboard.press("Control+f")
    page.fill("#find-words", "gull")
    page.click("text=Replace…")
    expect(page.get_by_label("Where")).to_have_value("chosen")
    expect(rows).to_have_count(2)
    page.goto(address)
    page.keyboard.press("Control+f")
    page.fill("#find-words", "gull")
    page.click("text=Replace…")
    expect(rows).to_have_count(3)
    page.fill("#put", "tern")
    page.get_by_label("Preserve case").check()
    expect(rows.nth(2).locator("ins")).to_have_text("Tern")
    rows.nth(1).get_by_role("checkbox").uncheck()
    page.get_by_role("button", name="Replace 2 places").click()
    expect(page.locator("form [role=status]")).to_contain_text("2 places replaced")
    expect(rows).to_have_count(1)
    page.get_by_label("Name for this search").fill("Gulls to terns")
    page.get_by_role("button", name="Save").click()
    page.get_by_label("Regular expression").check()
    page.expected.add(400)  # type: ignore[attr-defined]
    page.fill("#find", "(")
    expect(page.get_by_role("alert")).to_contain_text("is not valid")
    page.get_by_role("button", name="Gulls to terns", exact=True).click()
    expect(rows).to_have_count(1)
    page.get_by_role("link", name="Text", exact=True).click()
    expect(page.locator(".written")).to_contain_text("A tern stood.")
    expect(page.locator(".written")).to_contain_text("Seagulls and Terns.")
    page.click("#undo")
    expect(page.locator(".written")).to_contain_text("A gull stood.")


def test_a_rule_marks_text_up_while_one_types_and_leaves_no_trace(opened: Callable[[Job], Page]) -> None:
    """Made with what it finds in view; on the board it acts on what is typed; switched off everything is as before."""
    page = opened(poured(Paragraph("a", "body", "A gull stood."), Paragraph("b", "body", "A tern [which?] flew.")))
    address = page.url.split("/board/")[0]
    page.goto(f"{address}/manuscript/rules/")
    page.fill("#rule", 'in Body, from "[" through "]": Doubt')
    expect(page.get_by_text("There is no character style “Doubt” in this job.")).to_be_visible()
    page.get_by_role("button", name="Create “Doubt”").click()
    expect(page.get_by_text("There is no character style “Doubt”")).to_be_hidden()
    page.fill("#rule", 'in Body, from "[" through "]": Emphasis')
    expect(page.locator(".hit mark")).to_have_text("[which?]")
    page.get_by_role("button", name="Add rule").click()
    expect(page.locator(".rule")).to_contain_text("1 place")
    page.goto(f"{address}/board/")
    italic = page.locator(".content .ln text", has_text="[").filter(has_not_text="stood")
    upright = page.locator(".content .ln text", has_text="stood").first.get_attribute("font-family")
    assert italic.first.get_attribute("font-family") != upright
    type_at(page, 0, 1)
    page.keyboard.type(" [?]")
    settled(page)
    expect(italic).to_have_count(2)
    page.goto(f"{address}/manuscript/rules/")
    expect(page.locator(".rule")).to_contain_text("2 places")
    page.locator(".rule input").uncheck()
    expect(page.locator(".rule.off")).to_have_count(1)
    page.goto(f"{address}/board/")
    settled(page)
    assert {one.get_attribute("font-family") for one in page.locator(".content .ln text").all()} == {upright}


def test_a_mistake_is_corrected_on_the_board_and_the_others_in_the_list(opened: Callable[[Job], Page]) -> None:
    """Underlined where it stands after a pause; a right click puts the word there; the list corrects all, learns,
    gathers."""
    page = opened(
        poured(
            Paragraph("a", "body", "The tide trned at the hide."),
            Paragraph("b", "body", "A zibble and the zibble, obsrvatory."),
        )
    )
    waves = page.locator(".spelling .mistake")
    expect(waves).to_have_count(4)
    type_at(page, 0, 8)
    box = waves.first.bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] - 2, button="right")
    page.get_by_role("menuitem", name="turned", exact=True).click()
    expect(page.locator(".content")).to_contain_text("The tide turned at the hide.")
    expect(waves).to_have_count(3)
    page.goto(page.url.split("/board/")[0] + "/manuscript/spelling/")
    rows = page.locator(".unknown")
    expect(rows).to_have_count(2)
    page.get_by_role("button", name="obsrvatory").first.click()
    page.get_by_role("button", name="Replace obsrvatory by observatory").click()
    expect(rows).to_have_count(2)  # nothing moves under the pointer
    expect(rows.filter(has_text="is now observatory")).to_have_count(1)
    page.get_by_label("Select zibble").check()
    page.get_by_role("button", name="Apply").click()
    expect(page.get_by_text("2 places set in that style.")).to_be_visible()
    expect(rows).to_have_count(1)
    page.get_by_role("button", name="Learn zibble for this job").click()
    expect(rows).to_have_text("zibblelearned for this job")
    expect(page.locator(".learned li")).to_contain_text("zibble")
    page.get_by_role("button", name="Forget zibble").click()
    expect(rows).to_have_count(1)


def test_a_text_is_written_styled_and_its_chapters_are_moved(demo: Page, server: Server) -> None:
    """In the manuscript: typed fast over the end of a paragraph, joined again, made italic, given a style; a chapter
    moved by the keys and by the pointer, folded; a note in the margin changed; all of it taken back, all of it there
    after a reload."""
    page = demo
    page.goto(f"{server.url}/new/")
    page.fill("[name='name']", "Written here")
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    address = page.url
    copy = "# The tide\n\nThe tide turned.[^1]\n\nIt rained.\n\n# The hide\n\nThe hide was full.\n\n[^1]: At six.\n"
    page.set_input_files("input[type=file]", {"name": "copy.md", "mimeType": "text/markdown", "buffer": copy.encode()})
    page.click("text=Pour into the pages")
    page.wait_for_url("**/flatplan/")
    page.goto(address)
    paragraphs = page.locator(".written .para")
    expect(paragraphs).to_have_text(["The tide", "The tide turned.1", "It rained.", "The hide", "The hide was full."])
    paragraphs.nth(2).click()
    page.keyboard.press("End")
    page.keyboard.type(' "Then it stopped."')
    page.keyboard.press("Enter")
    page.keyboard.type("The geese came.")
    page.keyboard.press("Enter")
    page.keyboard.type("xy")
    for _ in range(3):
        page.keyboard.press("Backspace")
    page.keyboard.type("!")
    expect(paragraphs).to_have_text(
        [
            "The tide",
            "The tide turned.1",
            "It rained. “Then it stopped.”",
            "The geese came.!",
            "The hide",
            "The hide was full.",
        ]
    )
    page.keyboard.press("Shift+Home")
    page.keyboard.press("Control+i")
    expect(paragraphs.nth(3).locator(".i")).to_have_text("The geese came.!")
    page.get_by_label("Style of the paragraph").select_option(label="Quotation")
    expect(page.locator(".written-row").nth(3).locator(".style")).to_have_text("Quotation")
    note = page.get_by_label("Note 1")
    note.click()
    page.keyboard.press("End")
    page.keyboard.type(" Or so")
    page.keyboard.press("Enter")
    headings = page.locator(".heading-row .go")
    expect(page.locator(".heading-row").first).to_contain_text("11")
    headings.nth(1).focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(headings).to_have_text(["The hide", "The tide"])
    expect(paragraphs.first).to_have_text("The hide")
    page.locator(".heading-row").nth(1).drag_to(page.locator(".heading-row").nth(0), target_position={"x": 60, "y": 2})
    expect(headings).to_have_text(["The tide", "The hide"])
    page.get_by_label("Fold The tide").click()
    expect(paragraphs.nth(1)).to_be_hidden()
    page.get_by_label("Unfold The tide").click()
    expect(page.locator("#saved")).to_contain_text("saved")
    page.reload()
    expect(paragraphs).to_have_text(
        [
            "The tide",
            "The tide turned.1",
            "It rained. “Then it stopped.”",
            "The geese came.!",
            "The hide",
            "The hide was full.",
        ]
    )
    expect(page.get_by_label("Note 1")).to_have_text("At six. Or so")
    for _ in range(3):
        page.keyboard.press("Control+z")
        expect(page.locator("#toast")).to_contain_text("Undone")
    expect(page.get_by_label("Note 1")).to_have_text("At six.")
    page.get_by_role("button", name="Quiet").click()
    expect(page.get_by_role("link", name="Spelling")).to_be_hidden()
    page.keyboard.press("Escape")
    expect(page.get_by_role("link", name="Spelling")).to_be_visible()


def test_what_is_typed_behind_a_rich_paste_follows_it(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "Gulls.")))
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto(page.url.split("/board/")[0] + "/manuscript/")
    page.locator(".written").get_by_text("Gulls.").click()
    page.keyboard.press("End")
    page.evaluate(
        """() => navigator.clipboard.write([new ClipboardItem({
        'text/html': new Blob(['<p> Some <i>terns</i></p>'], { type: 'text/html' }), 'text/plain': new Blob(['plain'], { type: 'text/plain' }) })])"""  # noqa: E501
    )
    page.keyboard.press("Control+v")
    page.keyboard.type(" fly.")
    expect(page.locator(".written")).to_contain_text("Some terns fly.")
    expect(page.locator(".written span").filter(has_text="terns").first).to_have_css("font-style", "italic")
