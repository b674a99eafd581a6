"""Cells of a table chosen together on the page, by the pointer and by keys, and what is done to all of them."""

from __future__ import annotations

import base64
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Locator, Page, expect

from lexigon.core.document.model import Job, Paragraph
from lexigon.core.editing.intents import AddTable, Place
from lexigon.core.flow.workspace import Workspace
from tests.browser.conftest import settled
from tests.browser.helpers import poured, spec
from tests.browser.test_pictures import DROP, photograph
from tests.core.test_divided_rows import frames_with


def with_table(words: str) -> Job:
    workspace = Workspace(poured(Paragraph("a", "body", "Before"), Paragraph("b", "body", "")))
    workspace.do(AddTable("main", Place("b", 0), words=words))
    return workspace.job


def cell(page: Page, words: str) -> Locator:
    return page.locator("g[data-role=cell]", has_text=words).first


def middle(page: Page, words: str) -> tuple[float, float]:
    """A place within the cell that words stand in."""
    box = page.locator(".content text", has_text=words).first.bounding_box()
    assert box is not None
    return box["x"] + 3, box["y"] + box["height"] / 2


def drag(page: Page, begin: str, end: str) -> None:
    (x0, y0), (x1, y1) = middle(page, begin), middle(page, end)
    page.mouse.move(x0, y0)
    page.mouse.down()
    page.mouse.move((x0 + x1) / 2, (y0 + y1) / 2, steps=4)
    page.mouse.move(x1, y1, steps=4)
    page.mouse.up()


def told(page: Page) -> Locator:
    return page.locator(".slip-cells h2").first


def test_cells_are_chosen_together_set_joined_and_taken_back(opened: Callable[[Job], Page]) -> None:
    page = opened(with_table("Bird\tJan\tFeb\nKnot\t59\t60\nDunlin\t61\t62\nCurlew\t10\t11"))
    page.click("#tools [data-tool=text]")
    drag(page, "59", "62")
    expect(told(page)).to_have_text("4 cells")
    expect(page.locator(".over .cell-chosen")).to_have_count(4)
    expect(page.locator("#cv")).to_have_value("")
    page.select_option("#ct", "90")
    settled(page)
    expect(page.locator("#ct")).to_have_value("90")
    page.fill("#ch", "20 mm")
    page.press("#ch", "Enter")
    settled(page)
    box = page.locator(".over .cell-chosen").first.bounding_box()
    assert box is not None
    high = box["height"]
    page.select_option("#cg", "black")
    settled(page)
    page.fill("#cgt", "12 %")
    page.press("#cgt", "Enter")
    settled(page)
    page.fill("#crw", "2 pt")
    page.press("#crw", "Enter")
    settled(page)
    expect(page.locator("#crw")).to_have_value("2 pt")
    page.select_option("#cr", "across")
    expect(page.locator("#crw")).to_have_value("")
    expect(page.locator(".over .cell-chosen")).to_have_count(4)
    # The spec line is meant for the words of all of them.
    spec(page, "14pt")
    settled(page)
    sizes = page.evaluate(
        "() => ['59', '60', '61', '62', '10'].map((words) => [...document.querySelectorAll('.content text')].find((one)"
        " => one.textContent.trim() === words).getAttribute('font-size'))"
    )
    assert len(set(sizes[:4])) == 1
    assert sizes[4] != sizes[0]
    page.get_by_role("button", name="Merge cells").click()
    settled(page)
    expect(told(page)).to_have_text("Cell")
    expect(page.locator("g[data-role=cell]")).to_have_count(9)
    expect(cell(page, "62")).to_contain_text("59")
    page.get_by_role("button", name="Split cell").click()
    settled(page)
    expect(page.locator("g[data-role=cell]")).to_have_count(12)
    expect(told(page)).to_have_text("4 cells")
    for _ in range(8):
        page.locator("#undo").click()
        settled(page)
    expect(page.locator("#ct")).to_have_value("0")
    low = page.locator(".over .cell-chosen").first.bounding_box()
    assert low is not None
    assert low["height"] < high / 2
    # Cut: what was copied goes, and comes back from the clipboard.
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.locator("#sheet").focus()
    page.keyboard.press("Control+x")
    expect(page.locator(".content")).not_to_contain_text("62")
    settled(page)
    page.keyboard.press("Control+v")
    expect(page.locator(".content")).to_contain_text("62")
    settled(page)
    # Where one types in a cell its column is set, and the caret stays.
    page.mouse.click(*middle(page, "Curlew"))
    expect(page.locator(".slip h1")).to_have_text("Cell 1 of row 4")
    page.select_option("#cs", "fixed")
    settled(page)
    expect(page.locator("#csv")).to_be_visible()
    expect(page.locator(".over .cell-chosen")).to_have_count(0)
    expect(page.locator(".board .caret")).to_have_count(1)


def test_cells_by_keys_copied_cleared_and_rows_put_in(opened: Callable[[Job], Page]) -> None:
    page = opened(with_table("Bird\tJan\tFeb\nKnot\t59\t60\nDunlin\t61\t62"))
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.click("#tools [data-tool=text]")
    page.mouse.click(*middle(page, "59"))
    expect(page.locator(".slip h1")).to_have_text("Cell 2 of row 2")
    page.keyboard.press("Escape")
    expect(page.locator(".over .cell-chosen")).to_have_count(1)
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    expect(told(page)).to_have_text("4 cells")
    page.keyboard.press("Control+c")
    page.keyboard.press("Delete")
    settled(page)
    expect(page.locator(".content")).not_to_contain_text("61")
    # Below the last row as many are put in; what was copied goes into those.
    page.locator(".slip-cells [data-value='rows behind']").click()
    settled(page)
    expect(page.locator("g[data-role=cell]")).to_have_count(15)
    expect(told(page)).to_have_text("4 cells")
    page.locator("#sheet").focus()
    page.keyboard.press("Control+v")
    expect(page.locator(".content")).to_contain_text("61")
    assert page.evaluate("() => navigator.clipboard.readText()") == "59\t60\n61\t62"
    settled(page)
    page.keyboard.press("ArrowLeft")
    expect(told(page)).to_have_text("Cell")
    page.keyboard.press("Enter")
    page.keyboard.type("Whimbrel")
    settled(page)
    expect(cell(page, "Whimbrel")).to_be_visible()
    # A letter is meant for what is chosen; behind its words, not for a tool.
    page.keyboard.press("Escape")
    page.keyboard.type("s 2")
    settled(page)
    expect(cell(page, "Whimbrels 2")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("ArrowRight")
    page.mouse.click(*middle(page, "61"), button="right")
    page.get_by_role("menuitem", name="Insert row above").click()
    settled(page)
    expect(page.locator("g[data-role=cell]")).to_have_count(18)
    page.locator("#undo").click()
    settled(page)
    page.mouse.click(*middle(page, "Whimbrels"))
    # With Shift a press reaches from the cell at hand to another; whole columns go.
    page.keyboard.down("Shift")
    page.mouse.click(*middle(page, "Bird"))
    page.keyboard.up("Shift")
    expect(told(page)).to_have_text("4 cells")
    page.locator(".slip-cells [data-value='columns out']").click()
    settled(page)
    expect(page.locator("g[data-role=cell]")).to_have_count(10)
    expect(page.locator(".content")).not_to_contain_text("Whimbrel")
    page.locator("#undo").click()
    settled(page)
    expect(cell(page, "Whimbrel")).to_be_visible()
    page.mouse.click(*middle(page, "Feb"))
    page.get_by_role("button", name="table", exact=True).click()
    expect(told(page)).to_have_text("15 cells")
    page.keyboard.press("Escape")
    expect(page.locator(".over .cell-chosen")).to_have_count(0)
    expect(page.locator("#tools [data-tool=select]")).to_have_attribute("aria-pressed", "true")


def test_a_picture_and_a_code_stand_in_cells(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    page = opened(with_table("Bird\tSeen\tWhere\nKnot\tat the Comb\tread it"))
    knot = photograph(tmp_path, "knot.png", (90, 120, 160), (400, 300))
    page.evaluate(DROP, ["g[data-role=cell]", knot.name, "image/png", base64.b64encode(knot.read_bytes()).decode()])
    images = page.locator(".content image")
    expect(images).to_have_count(1)
    settled(page)
    page.click("#tools [data-tool=text]")
    page.mouse.click(*middle(page, "read it"))
    expect(page.locator(".slip h1")).to_have_text("Cell 3 of row 2")
    page.keyboard.press("Control+k")
    page.keyboard.type("add code")
    page.keyboard.press("Enter")
    dialog = page.locator("dialog[open]")
    dialog.get_by_label("Address", exact=True).fill("slackwater.example/knot")
    dialog.get_by_role("button", name="Add code").click()
    expect(page.locator('.content [data-role=inlay][data-kind="code"]')).to_have_count(1)
    settled(page)
    # What stands in a cell is chosen by itself, and keeps to its words when the table changes.
    box = images.first.bounding_box()
    assert box is not None
    page.click("#tools [data-tool=select]")
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator("#ipfit")).to_have_value("fill")
    page.locator("#undo").click()
    page.locator("#undo").click()
    expect(page.locator(".content [data-role=inlay]")).to_have_count(0)
    expect(cell(page, "read it")).to_be_visible()


def test_what_goes_on_of_a_cell_on_the_next_page_is_typed_in_there(opened: Callable[[Job], Page]) -> None:
    page = opened(frames_with([[2, 2], [3, 60], [3, 3]], [(240, 100), (180, 400), (240, 400)], heads=1).job)
    page.get_by_role("button", name="Next spread").click()
    expect(page.locator(".content").first).to_have_attribute("aria-label", "Page 2")
    settled(page)
    parts = page.locator("g[data-role=cell]", has=page.locator(".ln:nth-of-type(2)"))
    expect(parts).to_have_count(1)
    before = page.locator("g[data-role=cell] .ln").count()
    page.click("#tools [data-tool=text]")
    box = parts.first.locator(".ln").last.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] - 1, box["y"] + box["height"] / 2)
    expect(page.locator(".slip h1")).to_have_text("Cell 2 of row 2")
    page.keyboard.press("End")
    page.keyboard.type(" and so it goes on for some lines more than before, until it is enough")
    settled(page)
    expect(page.locator(".content")).to_contain_text("enough")
    assert page.locator("g[data-role=cell] .ln").count() > before
    # Up over the head of this part leads to the one on the page before, and down again.
    rest = parts.first.locator(".ln").count()
    for _ in range(rest):
        page.keyboard.press("ArrowUp")
    expect(page.locator(".content").first).to_have_attribute("aria-label", "Page 1")
    expect(page.locator(".slip h1")).to_have_text("Cell 2 of row 2")
    page.keyboard.press("ArrowDown")
    expect(page.locator(".content").first).to_have_attribute("aria-label", "Page 2")
    page.keyboard.press("Escape")
    expect(told(page)).to_have_text("Cell")


def test_the_choice_goes_on_over_the_pages_of_a_long_table(opened: Callable[[Job], Page]) -> None:
    page = opened(with_table("\n".join(f"row {n}\tcount {n * 3}" for n in range(200))))
    first_page = page.locator(".slip h1").text_content()
    page.click("#tools [data-tool=text]")
    page.mouse.click(*middle(page, "count 3"))
    page.keyboard.press("Escape")
    expect(told(page)).to_have_text("Cell")
    # By arrows over the foot of the page: the next one is shown, and what is chosen there is seen.
    last = page.locator("g[data-role=cell]").last.locator("text").first.text_content() or ""
    page.mouse.click(*middle(page, last))
    page.keyboard.press("Escape")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    expect(page.locator(".slip h1")).not_to_have_text(first_page or "-")
    expect(page.locator(".over .cell-chosen")).to_have_count(1)
    # Back with Shift: from there on, over the leaf.
    for _ in range(3):
        page.keyboard.press("Shift+ArrowUp")
    expect(told(page)).to_have_text("4 cells")
    expect(cell(page, last)).to_be_visible()
    # A whole column ends where the table does; less of it is a row less.
    page.keyboard.press("Control+k")
    page.keyboard.type("select whole columns")
    page.keyboard.press("Enter")
    expect(told(page)).to_have_text("200 cells")
    page.keyboard.press("Shift+ArrowUp")
    expect(told(page)).to_have_text("199 cells")
    expect(cell(page, "row 198")).to_be_visible()
