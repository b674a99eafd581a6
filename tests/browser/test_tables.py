"""A table put in, typed cell by cell, filled from a spreadsheet, changed and taken back."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Paragraph
from lexigon.core.editing.intents import AddPages, AddTable, AddTextFrame, LinkFrames, Place
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import poured, type_at
from tests.core.helpers import book
from tests.core.test_workbooks import workbook

PASTE = """([selector, text]) => { const data = new DataTransfer(); data.setData('text/plain', text);
document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true })); }"""  # noqa: E501


def at_words(page: Page, words: str, clicks: int = 1) -> None:
    """Press on words in a cell."""
    box = page.locator(".content text", has_text=words).first.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + 3, box["y"] + box["height"] / 2, click_count=clicks)


def sheet_of(page: Page, words: str) -> None:
    """Open the sheet of the table in which words stand."""
    page.click("#tools [data-tool=text]")
    at_words(page, words)
    page.get_by_role("button", name="Edit table…").click()


def test_a_table_is_put_in_typed_filled_and_taken_back(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "Before"), Paragraph("b", "body", "Behind")))
    type_at(page, 0, 6)
    page.get_by_role("button", name="Insert…").click()
    page.locator("#ask").get_by_label("Item", exact=True).select_option(label="table")
    page.locator("#ask").get_by_label("Rows").fill("2")
    page.locator("#ask").get_by_label("Columns").fill("2")
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    cells = page.locator("#table [role=textbox]")
    expect(cells).to_have_count(4)
    expect(cells.first).to_be_focused()
    for words in ("Bird", "Seen", "Knot", "3 May"):
        page.keyboard.type(words)
        page.keyboard.press("Tab")
    expect(cells).to_have_count(6)  # behind the last cell Tab adds a row
    page.evaluate(PASTE, ["", "Dunlin\t4 May\nCurlew\t5 May"])
    expect(cells).to_have_count(8)
    page.get_by_role("button", name="Apply").click()
    expect(page.locator("#table")).to_be_hidden()
    for words in ("Bird", "Knot", "3 May", "Curlew", "5 May", "Before", "Behind"):
        expect(page.locator(".content")).to_contain_text(words)
    settled(page)

    # From the slip it is opened again; what is left is left as it was.
    sheet_of(page, "Dunlin")
    expect(cells).to_have_count(8)
    cells.nth(2).click()
    page.locator("#table").get_by_role("button", name="delete").first.click()
    expect(cells).to_have_count(6)
    page.get_by_role("button", name="Cancel").click()
    expect(page.locator(".content")).to_contain_text("Knot")
    sheet_of(page, "Dunlin")
    expect(cells).to_have_count(8)
    cells.nth(2).click()
    page.locator("#table").get_by_role("button", name="merge right").click()
    expect(cells).to_have_count(7)
    page.get_by_role("button", name="Apply").click()
    expect(page.locator("#table")).to_be_hidden()
    expect(page.locator(".content")).to_contain_text("Knot")
    page.locator("#undo").click()
    page.locator("#undo").click()
    expect(page.locator(".content")).not_to_contain_text("Curlew")
    page.locator("#undo").click()
    expect(page.locator(".content")).to_contain_text("Before")
    settled(page)


def test_a_table_takes_what_has_changed_in_its_file_and_keeps_what_was_changed_by_hand(
    opened: Callable[[Job], Page],
) -> None:
    workspace = Workspace(poured(Paragraph("a", "body", "")))
    workspace.do(AddTable("main", Place("a", 0), words="Bird,Seen\nKnot,3 May\nDunlin,4 May\n"))
    page = opened(workspace.job)

    def take(text: str, name: str = "seen.csv") -> None:
        with page.expect_file_chooser() as chooser:
            page.locator("#table [data-from]").click()
        chooser.value.set_files({"name": name, "mimeType": "text/csv", "buffer": text.encode()})

    cells, toast = page.locator("#table [role=textbox]"), page.locator("#notice, .toast").first
    sheet_of(page, "Dunlin")
    expect(page.locator("#table [data-source]")).to_have_text("Cells typed here")
    take("Bird,Seen\nKnot,3 May\nDunlin,4 May\n")
    expect(page.locator("#table [data-source]")).to_have_text("Cells from “seen.csv”")
    # By hand in the sheet, then the file again with other words and a row more.
    cells.nth(3).click()
    page.keyboard.press("Control+a")
    page.keyboard.type("early May")
    take("Bird,Seen\nKnot,9 May\nCurlew,1 June\nDunlin,5 May\n")
    expect(toast).to_have_text("“seen.csv”: 1 cell changed, 1 row new, 1 place left as you changed them.")
    expect(cells).to_have_text(["Bird", "Seen", "Knot", "early May", "Curlew", "1 June", "Dunlin", "5 May"])
    page.expected.add(400)  # type: ignore[attr-defined]
    take("", "empty.csv")
    expect(page.locator("#table .problem")).to_contain_text("empty")
    expect(cells).to_have_count(8)
    # A workbook: which of its sheets is asked, and known the next time.
    book = {
        "Spring": [["x"]],
        "Autumn": [["Bird", "Seen"], ["Knot", "9 May"], ["Curlew", "2 June"], ["Dunlin", "5 May"]],
    }
    for seen in ("2 June", "3 June"):
        book["Autumn"][2][1] = seen
        with page.expect_file_chooser() as chooser:
            page.locator("#table [data-from]").click()
        chooser.value.set_files({"name": "seen.xlsx", "mimeType": "application/octet-stream", "buffer": workbook(book)})
        if seen == "2 June":
            page.locator("#ask").get_by_label("Sheet").select_option("Autumn")
            page.locator("#ask-yes").click()
        expect(cells.nth(5)).to_have_text(seen)
        expect(page.locator("#table [data-source]")).to_have_text("Cells from “seen.xlsx, Autumn”")
    # Cancel undoes all of it, whatever was saved on the way; Apply leaves one step to undo.
    page.get_by_role("button", name="Cancel").click()
    expect(page.locator(".content")).to_contain_text("4 May")
    expect(page.locator(".content")).not_to_contain_text("June")
    expect(page.locator(".content")).not_to_contain_text("early May")
    settled(page)
    sheet_of(page, "Dunlin")
    take("Bird,Seen\nKnot,3 May\nDunlin,6 July\n")
    expect(cells.nth(5)).to_have_text("6 July")
    page.get_by_role("button", name="Apply").click()
    expect(page.locator(".content")).to_contain_text("6 July")
    settled(page)
    page.locator("#undo").click()
    expect(page.locator(".content")).to_contain_text("4 May")
    page.locator("#redo").click()
    expect(page.locator(".content")).to_contain_text("6 July")


def test_typing_before_and_behind_a_table_leaves_it_whole(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "Before"), Paragraph("b", "body", "Behind")))
    type_at(page, 0, 6)
    page.get_by_role("button", name="Insert…").click()
    page.locator("#ask").get_by_label("Item", exact=True).select_option(label="table")
    page.locator("#ask").get_by_placeholder("or paste cells").fill("Bird\tSeen\nKnot\tMay")
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    expect(page.locator(".content")).to_contain_text("Knot")
    settled(page)
    type_at(page, 2, 0)
    page.keyboard.press("Backspace")  # nothing is joined with a table
    settled(page)
    page.keyboard.press("ArrowLeft")
    page.keyboard.type("New words")
    settled(page)
    for words in ("Knot", "New words", "Behind"):
        expect(page.locator(".content")).to_contain_text(words)
    page.goto(page.url.split("/board/")[0] + "/manuscript/")
    page.locator(".written .kind-table").click()
    page.keyboard.type("Written behind")
    expect(page.locator(".written .para")).to_have_text(
        ["Before", "[Table: 2 rows, 2 columns]", "Written behind", "New words", "Behind"]
    )
    page.locator(".written .kind-table").click()
    page.keyboard.press("ArrowLeft")
    page.keyboard.type("Ahead")
    expect(page.locator(".written .para")).to_have_text(
        ["Before", "Ahead", "[Table: 2 rows, 2 columns]", "Written behind", "New words", "Behind"]
    )


def test_a_table_gets_a_style_sizes_feet_and_an_order(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "Before"), Paragraph("b", "body", "Behind")))
    type_at(page, 0, 6)
    page.get_by_role("button", name="Insert…").click()
    page.locator("#ask").get_by_label("Item", exact=True).select_option(label="table")
    page.locator("#ask").get_by_label("Cells").fill("Bird\tSeen\nKnot\t5.25\nDunlin\t410.5\nCurlew\t12\nAll\t427.75")
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    text = page.locator(".content text")
    expect(text.filter(has_text="Dunlin")).to_have_count(1)
    settled(page)
    sheet_of(page, "Dunlin")
    sheet = page.locator("#table")
    cells = sheet.locator("[role=textbox]")
    expect(cells).to_have_count(10)
    # A style made on the way; what is refused is said there.
    sheet.get_by_role("button", name="Set up…").click()
    ask = page.locator("#ask")
    page.expected.add(400)  # type: ignore[attr-defined]
    ask.get_by_label("Outside: weight").fill("2 pt")
    ask.locator("#ask-yes").click()
    expect(ask.locator("#ask-problem")).to_contain_text("name")
    ask.get_by_label("Name").fill("Counts")
    ask.locator("#ask-yes").click()
    expect(ask).to_be_hidden()
    expect(sheet.get_by_label("Style")).to_have_value(
        sheet.get_by_label("Style").locator("option", has_text="Counts").get_attribute("value") or ""
    )
    sheet.get_by_label("Foot rows").fill("1")
    # The column at hand: by decimal signs, in the order of its numbers, the largest first; a width that is typed.
    cells.nth(3).click()
    sheet.get_by_label("Alignment of the column").select_option("decimal")
    sheet.get_by_role("button", name="descending").click()
    expect(cells.nth(2)).to_have_text("Dunlin")
    cells.nth(0).click()
    sheet.get_by_label("Width of the column").select_option("fixed")
    sheet.get_by_label("How wide").fill("wide")
    page.keyboard.press("Tab")
    expect(sheet.locator(".problem")).to_contain_text("not a length")
    sheet.get_by_label("How wide").fill("2 in")
    page.keyboard.press("Tab")
    cells.nth(2).click()
    sheet.get_by_label("Ground of the cell").select_option("black")
    sheet.get_by_label("Tint").fill("10 %")
    page.keyboard.press("Tab")
    sheet.locator(".keep").click()
    expect(sheet).to_be_hidden()
    settled(page)
    ends = page.evaluate("""() => ['410.5', '5.25', '12'].map((words) => {
          const text = [...document.querySelectorAll('.content text')].find((one) => one.textContent.trim() === words);
          return text.getExtentOfChar(words.indexOf('.') < 0 ? words.length - 1 : words.indexOf('.') - 1);
        }).map(({ x, width }) => x + width)""")
    assert max(ends) - min(ends) < 0.6, ends
    order = page.evaluate(
        "() => [...document.querySelectorAll('.content text')].map((one) => one.textContent.trim()).filter((one) => "
        "/^(Knot|Dunlin|Curlew|All)$/.test(one))"
    )
    assert order == ["Dunlin", "Curlew", "Knot", "All"]
    page.locator("#undo").click()
    page.locator("#undo").click()
    expect(text.filter(has_text="Dunlin")).to_have_count(1)
    settled(page)


def test_rows_typed_on_the_page_until_they_break_and_a_head_edited_on_the_second(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    first = workspace.job.pages[0].id
    workspace.do(AddPages(1, 1), AddTextFrame(first, Rect(60, 300, 300, 110)))
    second = workspace.job.pages[1].id
    workspace.do(AddTextFrame(second, Rect(60, 100, 300, 400)))
    one, two = workspace.job.pages[0].frames[-1], workspace.job.pages[1].frames[-1]
    workspace.do(LinkFrames(one.id, second, two.id))
    page = opened(workspace.job)
    box = page.locator(f'.over .frame-box[data-id="{one.id}"]').bounding_box()
    assert box is not None
    page.click("#tools [data-tool=text]")
    page.mouse.click(box["x"] + 10, box["y"] + 8)
    page.get_by_role("button", name="Insert…").click()
    page.locator("#ask").get_by_label("Item", exact=True).select_option(label="table")
    page.locator("#ask").get_by_label("Cells").fill("Counted,at the Comb\nBird,Birds\nKnot,5900\nDunlin,6100")
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    expect(page.locator(".content")).to_contain_text("6100")
    settled(page)
    # Two head rows; then rows are typed on the page, Tab by Tab, until they go on in the second frame.
    sheet_of(page, "Dunlin")
    page.locator("#table").get_by_label("Head rows").fill("2")
    page.get_by_role("button", name="Apply").click()
    settled(page)
    at_words(page, "6100")
    page.keyboard.press("End")
    for number in range(8):
        page.keyboard.press("Tab")
        page.keyboard.type(f"Bird {number}")
        page.keyboard.press("Tab")
        page.keyboard.type(str(number * 100))
    settled(page)
    expect(page.locator("#sheet")).to_contain_text("Bird 7")
    shown = page.locator(".content")
    if "Counted" not in (shown.last.text_content() or ""):
        page.get_by_role("button", name="Next spread").click()
    expect(page.locator(".content", has_text="Bird 7")).to_contain_text("Counted")
    # The head that is repeated is the same text: what is typed in it shows on the first page, too.
    at_words(page, "Counted")
    page.keyboard.press("Home")
    page.keyboard.type("All ")
    settled(page)
    expect(page.locator(".content text", has_text="All Counted").first).to_be_visible()
    # What was copied from a spreadsheet fills the cells from this one on.
    at_words(page, "Bird 6")
    page.evaluate(PASTE, ["", "Whimbrel\t33\nWheatear\t34"])
    expect(page.locator(".content text", has_text="Wheatear")).to_have_count(1)
    expect(page.locator(".content text", has_text="Bird 7")).to_have_count(0)
    settled(page)
    at_words(page, "Counted")
    # The arrows go from cell to cell, and out of the table; a note of where one is stands in the slip.
    page.keyboard.press("ArrowDown")
    expect(page.locator(".slip h1")).to_have_text("Cell 1 of row 2")
    page.keyboard.press("ArrowUp")
    expect(page.locator(".slip h1")).to_have_text("Cell 1 of row 1")
    page.get_by_role("button", name="Previous spread").click()
    expect(page.locator(".content text", has_text="All Counted").first).to_be_visible()
    for _ in range(3):
        page.locator("#undo").click()
        settled(page)
    expect(page.locator(".content text", has_text="All Counted")).to_have_count(0)


def test_a_table_is_found_in_the_list_by_typing_and_comes_from_a_file(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "Before")))
    type_at(page, 0, 6)
    page.get_by_role("button", name="Insert…").click()
    dialog = page.locator("#ask")
    page.keyboard.type("spreadsheet")
    expect(dialog.locator("option:checked").first).to_have_text("table")
    expect(dialog.get_by_label("Item", exact=True).locator("option")).to_have_count(1)
    file = {"name": "seen.csv", "mimeType": "text/csv", "buffer": b"Bird;Seen\nKnot;3 May\n"}
    dialog.get_by_label("File").set_input_files(file)  # type: ignore[arg-type]
    dialog.get_by_role("button", name="Insert", exact=True).click()
    expect(page.locator(".content")).to_contain_text("3 May")
    settled(page)
    page.locator("#undo").click()
    expect(page.locator(".content")).not_to_contain_text("3 May")
    expect(page.locator(".content .frame [data-role=cell], .content [aria-label=Cell]")).to_have_count(0)

    # A file that cannot be read leaves no empty table behind.
    page.expected.add(400)  # type: ignore[attr-defined]
    type_at(page, 0, 6)
    page.get_by_role("button", name="Insert…").click()
    page.keyboard.type("spreadsheet")
    dialog.get_by_label("File").set_input_files({**file, "buffer": b""})  # type: ignore[arg-type]
    page.keyboard.press("Enter")
    expect(page.locator("#toast")).to_contain_text("empty")
    settled(page)
    expect(page.locator(".content [aria-label=Cell]")).to_have_count(0)
