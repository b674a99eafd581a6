"""Paths on the board: drawn with the pen and by hand, worked on by their nodes, made into other shapes; with the
pointer and the keys."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job
from lexigon.core.editing.intents import AddPages
from lexigon.core.flow.workspace import Workspace
from tests.browser.conftest import settled
from tests.browser.test_arranging import board, drag, on_sheet

LAST = "(all) => all[all.length - 1].querySelector('path').getAttribute('d')"


def outline(page: Page) -> str:
    """The path of what lies topmost, as the server painted it."""
    found: str = page.eval_on_selector_all(".content .frame", LAST)
    return found


def box(page: Page) -> list[int]:
    """Its box, in points."""
    found: list[int] = page.eval_on_selector_all(
        ".content .frame",
        "(all) => { const b = all[all.length - 1].querySelector('path').getBBox(); return [b.x, b.y, b.width, "
        "b.height].map(Math.round); }",
    )
    return found


def click(page: Page, x: float, y: float, **more: int) -> None:
    page.mouse.click(*on_sheet(page, x, y), **more)  # type: ignore[arg-type]


def count(page: Page) -> int:
    return page.locator(".content .frame").count()


def test_a_path_drawn_node_by_node_then_worked_on_and_taken_back(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    before = count(page)
    page.keyboard.press("6")
    click(page, 150, 240)
    drag(page, (233, 200), (263, 200))
    click(page, 290, 245)
    page.reload()
    page.wait_for_selector(".pen-line", state="attached")  # what was begun is still there
    click(page, 222, 330)
    page.keyboard.press("Backspace")
    click(page, 222, 345)
    assert count(page) == before
    click(page, 150, 240)
    settled(page)
    assert count(page) == before + 1
    assert outline(page).count("C") == 2
    assert outline(page).endswith("Z")
    assert box(page)[1] == 200
    assert box(page)[3] == 145
    # its nodes
    page.keyboard.press("o")
    expect(page.locator(".node")).to_have_count(4)
    expect(page.locator("circle.node")).to_have_count(1)
    drag(page, (222, 345), (222, 385), key="Alt")
    settled(page)
    assert box(page)[3] == 185
    click(page, 233, 200)
    expect(page.locator(".node-handle")).to_have_count(2)
    drag(page, (263, 200), (263, 160), key="Alt")
    settled(page)
    expect(page.locator("circle.node")).to_have_count(0)  # its handles are no longer in one line
    page.get_by_role("button", name="Sharp", exact=True).click()
    settled(page)
    assert "C" not in outline(page)
    click(page, 233, 200)
    page.get_by_role("button", name="Smooth", exact=True).click()
    settled(page)
    assert outline(page).count("C") == 2
    page.mouse.dblclick(*on_sheet(page, 256, 315))  # on the straight stretch from (290, 245) to (222, 385)
    settled(page)
    expect(page.locator(".node")).to_have_count(5)
    page.keyboard.press("Delete")
    settled(page)
    expect(page.locator(".node")).to_have_count(4)
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.locator(".node")).to_have_count(0)
    for _ in range(6):
        page.click("#undo")
        settled(page)
    assert count(page) == before + 1
    assert box(page)[3] == 145
    page.click("#undo")
    settled(page)
    assert count(page) == before


def test_an_open_path_is_cut_joined_drawn_on_and_ends_in_an_arrow_by_the_keys(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    page.keyboard.press("6")
    for x, y in ((150, 250), (220, 250), (220, 300)):
        click(page, x, y)
    page.keyboard.press("Enter")
    settled(page)
    expect(page.locator("#tools [data-tool=select]")).to_have_attribute("aria-pressed", "true")
    assert outline(page).count("L") == 2
    page.locator("#spec").fill("edge 3 round joins to arrow Black")
    page.locator("#spec").press("Enter")
    settled(page)
    arrow = page.locator(".content .frame").last.locator("path")
    expect(arrow).to_have_count(2)
    page.locator("#sheet").focus()
    page.keyboard.press("Enter")  # a shape has no text to type in: its nodes
    expect(page.locator(".node")).to_have_count(3)
    page.keyboard.press("n")
    page.keyboard.press("n")
    for _ in range(2):
        page.keyboard.press("Shift+ArrowUp")
    settled(page)
    assert box(page)[1] == 230
    page.get_by_role("button", name="Cut", exact=True).click()
    settled(page)
    expect(page.locator(".node")).to_have_count(4)
    page.keyboard.press("a")
    page.keyboard.press("Escape")
    expect(page.locator(".node")).to_have_count(0)
    page.keyboard.press("Control+z")
    settled(page)
    page.keyboard.press("o")
    expect(page.locator(".node")).to_have_count(3)
    page.keyboard.press("n")
    page.get_by_role("button", name="Continue", exact=True).click()
    click(page, 120, 320)
    page.keyboard.press("Enter")
    settled(page)
    assert box(page)[0] < 130


def test_a_drawing_by_hand_and_shapes_made_of_shapes(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    before = count(page)
    page.keyboard.press("6")
    page.keyboard.press("6")  # the next of its kinds
    expect(page.get_by_role("button", name="Freehand")).to_have_attribute("aria-pressed", "true")
    x, y = on_sheet(page, 150, 250)
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(60):
        page.mouse.move(x + 2 * step, y + (step % 20 - 10) * 0.1)
    page.mouse.up()
    settled(page)
    assert count(page) == before + 1
    assert outline(page).count("C") <= 4, "a hand's line of sixty points has few nodes"
    page.keyboard.press("4")
    page.get_by_role("button", name="Box", exact=True).click()
    drag(page, (160, 560), (220, 600), key="Alt")
    settled(page)
    page.keyboard.press("4")
    page.get_by_role("button", name="Star", exact=True).click()
    drag(page, (190, 570), (260, 620), key="Alt")
    settled(page)
    assert outline(page).count("L") == 9
    box_at = on_sheet(page, 165, 565)
    page.keyboard.down("Shift")
    page.mouse.click(*box_at)
    page.keyboard.up("Shift")
    page.locator(".slip .head h2", has_text="Arrange").locator("button").click()
    page.get_by_role("button", name="Unite", exact=True).click()
    settled(page)
    assert count(page) == before + 2
    assert box(page) == [160, 560, 100, 60]
    page.keyboard.press("Control+k")
    page.keyboard.type("offset outline")
    page.keyboard.press("Enter")
    page.get_by_label("Distance", exact=True).fill("10 pt")
    page.get_by_label("Corners").select_option("round")
    page.get_by_role("button", name="Apply").click()
    settled(page)
    assert count(page) == before + 3
    under = page.locator(".content .frame").nth(before + 1).locator("path")
    grown = under.evaluate("(p) => { const b = p.getBBox(); return [b.x, b.y, b.width, b.height].map(Math.round); }")
    assert grown[0] == 150
    assert grown[2] == 120


def write_along_ring(page: Page, words: str) -> None:
    """Draw an ellipse, and have words run along it."""
    page.keyboard.press("4")
    page.get_by_role("button", name="Ellipse", exact=True).click()
    drag(page, (150, 200), (290, 340), key="Alt")
    settled(page)
    page.keyboard.press("Control+k")
    page.keyboard.type("put text on a path")
    page.keyboard.press("Enter")
    page.get_by_label("Text", exact=True).fill(words)
    page.keyboard.press("Enter")
    settled(page)


def test_words_along_an_outline_are_put_there_changed_and_told_where_to_run(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    write_along_ring(page, "High water at the plank")
    ring = page.locator(".content .frame").last
    expect(ring.locator("text")).to_have_count(len("Highwaterattheplank"))
    # Typed where they stand: the caret stands upright on the ring, which begins at its foot; what is chosen is a
    # stretch of it.
    page.keyboard.press("Enter")
    caret = page.locator(".marks .caret")
    slope = (
        "(one) => Math.atan2(one.y2.baseVal.value - one.y1.baseVal.value, one.x2.baseVal.value - one.x1.baseVal.value)"
    )
    first = caret.evaluate(slope)
    page.keyboard.type("At ")
    settled(page)
    expect(ring.locator("text")).to_have_count(len("AtHighwaterattheplank"))
    page.keyboard.press("End")
    assert abs(caret.evaluate(slope) - first) > 0.5, "it turns with the ring"
    page.keyboard.press("Shift+ArrowLeft")
    expect(page.locator(".marks polygon.selection")).to_have_count(1)
    letter = ring.locator("text").nth(2).bounding_box()
    assert letter
    page.mouse.click(letter["x"] + letter["width"] / 2, letter["y"] + letter["height"] / 2)
    page.keyboard.press("Control+a")
    page.keyboard.type("Low water")
    page.keyboard.press("Enter")  # one line: it ends the typing
    settled(page)
    expect(page.locator(".marks .caret")).to_have_count(0)
    expect(ring.locator("text")).to_have_count(len("Lowwater"))
    before = ring.locator("g").first.get_attribute("transform")
    page.locator(".section-head", has_text="text on a path").locator("visible=true").first.click()
    page.locator("[data-path='along_from']").fill("25 %")
    page.locator("[data-path='along_from']").press("Enter")
    settled(page)
    assert ring.locator("g").first.get_attribute("transform") != before
    page.locator("[data-path='along']").select_option("")
    settled(page)
    expect(ring.locator(".ln")).to_have_count(1)  # an ordinary text frame again


def test_a_path_that_was_begun_is_made_when_the_page_is_turned(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(board())
    workspace.do(AddPages(1, 1))
    page = opened(workspace.job)
    before = count(page)
    page.keyboard.press("6")
    click(page, 150, 250)
    click(page, 220, 300)
    page.keyboard.press("PageDown")
    settled(page)
    assert "page=2" in page.url
    page.keyboard.press("PageUp")
    settled(page)
    expect(page.locator(".content .frame")).to_have_count(before + 1)
