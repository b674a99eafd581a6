"""Objects on the board: chosen by a rectangle and beneath each other, arranged, copied by drag, carried to another
job."""

from __future__ import annotations

import io
from collections.abc import Callable

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from lexigon.core.colour.colours import Colour
from lexigon.core.document.model import Job
from lexigon.core.editing.intents import AddShape, AddTextFrame
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.core.helpers import book
from tests.core.test_blending import GROUND, INKS, TOP, blended, desk_of_blends

SHAPES = '.content .frame[data-kind="shape"]'


def board() -> Job:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(
        *(
            AddShape(page, rect, name=f"Block {n}")
            for n, rect in enumerate((Rect(80, 90, 60, 40), Rect(200, 150, 60, 40), Rect(330, 300, 40, 60)))
        )
    )
    workspace.do(AddTextFrame(page, Rect(100, 420, 120, 60), text="Ebb and flow"))
    return workspace.job


def places(page: Page, selector: str = SHAPES) -> list[tuple[float, float]]:
    """Where shapes stand on the page, in points, the lowest first."""
    found: list[list[float]] = page.eval_on_selector_all(
        selector, "(all) => all.map((g) => { const b = g.querySelector('path').getBBox(); return [b.x, b.y]; })"
    )
    return [(round(x, 2), round(y, 2)) for x, y in found]


def on_sheet(page: Page, x: float, y: float) -> tuple[float, float]:
    """Window coordinates of a point of the first page."""
    box = page.locator(".paper").first.bounding_box()
    assert box
    scale = box["width"] / 432
    return box["x"] + x * scale, box["y"] + y * scale


def drag(page: Page, a: tuple[float, float], b: tuple[float, float], key: str = "") -> None:
    (x0, y0), (x1, y1) = on_sheet(page, *a), on_sheet(page, *b)
    page.mouse.move(x0, y0)
    page.mouse.down()
    if key:
        page.keyboard.down(key)
    page.mouse.move((x0 + x1) / 2, (y0 + y1) / 2)
    page.mouse.move(x1, y1)
    page.mouse.up()
    if key:
        page.keyboard.up(key)


def test_chosen_by_a_rectangle_aligned_spread_and_put_in_order(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    drag(page, (20, 20), (425, 365))
    expect(page.locator(".slip .sub").first).to_contain_text("and 2 others")
    page.get_by_role("button", name="Arrange").click()
    page.get_by_role("group", name="Align horizontally").get_by_role("button", name="Left").click()
    settled(page)
    assert places(page) == [(80, 90), (80, 150), (80, 300)]
    page.get_by_role("group", name="Distribute").get_by_role("button", name="vertically").click()
    settled(page)
    assert places(page) == [(80, 90), (80, 195), (80, 300)], "gaps of 65 pt, by hand"
    # A change typed for all: each half as wide; a length: all as high.
    for field, typed in (("#fw", "*0.5 + 5pt"), ("#fh", "50pt")):
        page.locator(field).fill(typed)
        page.locator(field).press("Enter")
        settled(page)
    sizes = page.eval_on_selector_all(
        SHAPES, "(all) => all.map((g) => { const b = g.querySelector('path').getBBox(); return [b.width, b.height]; })"
    )
    assert [[round(v, 2) for v in size] for size in sizes] == [[35, 50], [35, 50], [25, 50]]
    page.click("#undo")
    page.click("#undo")
    settled(page)
    assert places(page) == [(80, 90), (80, 195), (80, 300)]
    page.locator("#alto").select_option("page")
    page.get_by_role("group", name="Align vertically").get_by_role("button", name="Top").click()
    settled(page)
    assert places(page) == [(80, 0), (80, 0), (80, 0)]
    for _ in range(3):
        page.click("#undo")
        settled(page)
    assert places(page) == [(80, 90), (200, 150), (330, 300)]
    # With Alt only what lies within the rectangle; by the menu at the pointer, and its keys.
    page.locator("#sheet").focus()
    page.keyboard.press("Escape")
    x0, y0 = on_sheet(page, 60, 70)
    page.mouse.move(x0, y0)
    page.mouse.down()
    page.keyboard.down("Alt")
    page.mouse.move(*on_sheet(page, 230, 200))
    page.mouse.move(*on_sheet(page, 231, 201))
    page.mouse.up()
    page.keyboard.up("Alt")
    expect(page.locator(".slip h1")).to_have_text("Block 0")
    page.mouse.click(*on_sheet(page, 110, 110), button="right")
    expect(page.get_by_role("menuitem", name="Bring to front Shift F")).to_be_visible()
    page.keyboard.press("End")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Escape")
    expect(page.get_by_role("menu")).to_be_hidden()
    page.keyboard.press("F")  # the sheet has the keys again
    settled(page)
    assert places(page) == [(200, 150), (330, 300), (80, 90)]
    page.keyboard.press("b")
    settled(page)
    assert places(page) == [(200, 150), (330, 300), (80, 90)], "the text frame alone was beneath it"
    page.keyboard.press("b")
    settled(page)
    assert places(page) == [(200, 150), (80, 90), (330, 300)]


def test_a_click_again_reaches_what_lies_beneath(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    page_id = workspace.job.pages[0].id
    workspace.do(
        AddShape(page_id, Rect(80, 90, 200, 200), name="Under"), AddShape(page_id, Rect(120, 120, 60, 60), name="Upper")
    )
    page = opened(workspace.job)
    at = on_sheet(page, 150, 150)
    title = page.locator(".slip h1")
    for wanted in ("Upper", "Under", "Main text", "Upper"):
        page.mouse.click(*at)
        expect(title).to_have_text(wanted)
        page.wait_for_timeout(650)  # a pause, so that two clicks are none of a double one
    # Dragged, the topmost goes, not what was chosen before.
    page.mouse.click(*on_sheet(page, 250, 250))
    expect(title).to_have_text("Under")
    drag(page, (150, 150), (250, 150), "Alt")
    settled(page)
    assert places(page) == [(80, 90), (220, 120)]


def test_copies_by_key_by_drag_and_by_clipboard_into_another_job(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    page.mouse.click(*on_sheet(page, 110, 110))
    expect(page.locator(".slip h1")).to_have_text("Block 0")
    page.locator("#sheet").focus()
    page.keyboard.press("d")
    settled(page)
    assert places(page) == [(80, 90), (200, 150), (330, 300), (92, 102)]
    drag(page, (120, 130), (120, 230), "Control")
    settled(page)
    x, y = places(page)[-1]
    assert (len(places(page)), x) == (5, pytest.approx(92, abs=3))
    assert y == pytest.approx(202, abs=4), "the one that was dragged stayed"
    page.keyboard.press("a")
    expect(page.locator(".slip .sub").first).to_contain_text("and 5 others")
    page.keyboard.press("Control+c")
    expect(page.locator("#toast")).to_contain_text("Copied: 6 objects.")
    other = opened(book(facing=False))
    assert not places(other)
    other.locator("#sheet").focus()
    other.keyboard.press("Control+Shift+v")
    expect(other.locator(SHAPES)).to_have_count(5)
    assert places(other)[:3] == [(80, 90), (200, 150), (330, 300)], "in their own place"
    expect(other.locator('.content .frame[data-role=""] .ln', has_text="Ebb and flow")).to_have_count(1)
    # Words from elsewhere become a frame.
    other.evaluate("() => navigator.clipboard.writeText('Slack water\\nat noon')")
    other.keyboard.press("Control+v")
    expect(other.locator(".content .ln", has_text="at noon")).to_have_count(1)
    other.click("#undo")
    settled(other)
    other.click("#undo")
    settled(other)
    expect(other.locator(SHAPES)).to_have_count(0)


def test_guides_are_pulled_out_moved_typed_and_dragged_off_and_a_rule_is_drawn_straight(
    opened: Callable[[Job], Page],
) -> None:
    page = opened(board())
    lines = page.locator(".guide-line")
    ruler = page.locator(".ruler-x").bounding_box()
    assert ruler
    page.mouse.move(ruler["x"] + 300, ruler["y"] + 8)
    page.mouse.down()
    page.keyboard.down("Alt")  # snaps to nothing
    page.mouse.move(*on_sheet(page, 200, 300))
    page.mouse.move(*on_sheet(page, 200, 240))
    expect(page.locator("#numbers")).to_contain_text("3.3")  # 240 pt in inches
    page.mouse.up()
    page.keyboard.up("Alt")
    expect(lines).to_have_count(1)
    assert float(lines.first.get_attribute("y1") or 0) == pytest.approx(240, abs=1)
    drag(page, (40, 240), (40, 270), "Alt")
    settled(page)
    assert float(lines.first.get_attribute("y1") or 0) == pytest.approx(270, abs=2)
    page.locator("#sheet").focus()
    page.keyboard.press("Control+k")
    page.keyboard.type("edit guides by")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Guide 1: position")).to_have_value("3.75 in")
    page.get_by_role("button", name="Add guide").click()
    page.get_by_label("Guide 2: position").fill("1in + 36pt")
    page.get_by_role("button", name="Apply").click()
    expect(lines).to_have_count(2)
    settled(page)
    page.keyboard.press("Control+k")
    page.keyboard.type("guides in columns")
    page.keyboard.press("Enter")
    page.locator("#ask").get_by_label("Columns").fill("2")
    page.locator("#ask").get_by_label("Column gap").fill("0")
    page.locator("#ask").get_by_label("Guides").select_option(label="add to existing guides")
    page.get_by_role("button", name="Apply").click()
    expect(lines).to_have_count(3)
    page.click("#undo")
    expect(lines).to_have_count(2)
    # A shape snaps to the guide; the guide goes where it is dragged off.
    drag(page, (90, 110), (121, 140))
    settled(page)
    assert places(page)[0][0] == pytest.approx(108, abs=0.01), "its left edge on the guide at 1.5 in"
    x0, y0 = on_sheet(page, 108, 560)
    page.mouse.move(x0, y0)
    page.mouse.down()
    page.mouse.move(x0 + 60, y0)
    page.mouse.move(ruler["x"] + ruler["width"] - 5, y0)
    page.mouse.up()
    expect(lines).to_have_count(1)
    # With Shift a rule goes in steps of 45 degrees.
    page.get_by_role("button", name="Rule", exact=True).click()
    drag(page, (60, 500), (260, 510), "Shift")
    settled(page)
    expect(page.locator(".slip h1")).to_have_text("Rule")
    expect(page.locator("#rangle")).to_have_value("0")
    expect(page.locator('.content .frame[data-kind="rule"]')).to_have_count(1)
    page.locator("#sheet").focus()
    page.keyboard.press("r")
    expect(page.locator(".ruler-x")).to_be_hidden()
    page.keyboard.press("r")
    expect(page.locator(".ruler-x")).to_be_visible()


def rects(page: Page, selector: str = SHAPES) -> list[list[int]]:
    found: list[list[int]] = page.eval_on_selector_all(
        selector,
        "(all) => all.map((g) => { const m = g.getCTM(), o = g.closest('.leaf').getCTM(), b = "
        "g.querySelector('path').getBBox(); return [b.x, b.y, b.width, b.height].map(Math.round); })",
    )
    return found


def test_several_objects_are_stretched_turned_and_mirrored_as_one(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    page.mouse.click(*on_sheet(page, 100, 105))
    page.keyboard.down("Shift")
    page.mouse.click(*on_sheet(page, 230, 170))
    page.keyboard.up("Shift")
    whole = page.locator(".whole-box")
    expect(whole).to_have_count(1)
    drag(page, (260, 190), (360, 240), key="Alt")
    settled(page)
    assert rects(page)[:2] == [[80, 90, 93, 60], [267, 180, 93, 60]]
    drag(page, (80, 90), (150, 115), key="Alt")  # from the left upper corner inward
    settled(page)
    assert rects(page)[:2] == [[150, 115, 70, 50], [290, 190, 70, 50]]
    page.keyboard.press("Control+k")
    page.keyboard.type("flip horizontally")
    page.keyboard.press("Enter")
    settled(page)
    assert places(page)[0][0] > places(page)[1][0]
    page.click("#undo")
    settled(page)
    page.locator("#fref").select_option(label="top right")
    page.keyboard.press("Escape")
    page.mouse.click(*on_sheet(page, 160, 130))
    expect(page.locator("#fx")).to_have_value("3.0556 in")
    page.locator("#fw").fill("20 mm")
    page.locator("#fw").press("Enter")
    settled(page)
    x, _, width, _ = rects(page)[0]
    assert (x + width, width) == (220, 57)
    # Arrows step; what was typed is taken by leaving the field, and what is pressed next stays chosen.
    page.locator("#fh").press("ArrowUp")
    page.locator("#fw").fill("30 mm")
    page.mouse.click(*on_sheet(page, 350, 330))
    settled(page)
    assert [size[2:] for size in rects(page)] == [[85, 57], [70, 50], [40, 60]]
    expect(page.locator(".slip h1")).to_have_text("Block 2")


def test_one_of_a_group_is_chosen_by_a_double_click_and_moved_by_itself(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    drag(page, (60, 70), (280, 210))
    page.keyboard.press("g")
    settled(page)
    page.mouse.dblclick(*on_sheet(page, 100, 105))
    expect(page.locator(".handle:not(.turn-handle)")).to_have_count(8)
    expect(page.locator(".selected-box")).to_have_count(1)
    page.keyboard.press("ArrowRight")
    settled(page)
    assert rects(page)[:2] == [[81, 90, 60, 40], [200, 150, 60, 40]]
    page.keyboard.down("Shift")
    page.mouse.click(*on_sheet(page, 230, 170))
    page.keyboard.up("Shift")
    page.keyboard.press("ArrowDown")
    settled(page)
    assert rects(page)[:2] == [[81, 91, 60, 40], [200, 151, 60, 40]]
    page.keyboard.press("Escape")
    expect(page.locator(".selected-box")).to_have_count(2)
    page.keyboard.press("G")
    settled(page)
    page.keyboard.press("Escape")
    page.mouse.click(*on_sheet(page, 100, 105))
    expect(page.locator(".selected-box")).to_have_count(1)


def test_what_is_snapped_to_is_said_and_switched_off(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    page.keyboard.press("Escape")
    snap = page.get_by_label("trim, bleed and centre of the page")
    expect(snap).to_be_checked()
    x, y = on_sheet(page, 110, 110)
    page.mouse.move(x, y)
    page.mouse.down()
    at = on_sheet(page, 110 + 107, 110)  # its middle a point beside that of the page, 216 pt from the left
    page.mouse.move(*at)
    page.mouse.move(at[0], at[1] + 1)
    expect(page.locator(".snap-why", has_text="centre of the page")).to_have_count(1)
    page.mouse.up()
    settled(page)
    assert places(page)[0][0] == 186
    page.click("#undo")
    settled(page)
    page.keyboard.press("Escape")
    for word in ("trim, bleed and centre of the page", "edges and centres of objects", "equal gaps"):
        page.get_by_label(word).uncheck()
    drag(page, (110, 110), (217, 110.5))
    settled(page)
    assert abs(places(page)[0][0] - 187) < 0.6


def test_copied_objects_reach_other_programs_as_a_drawing_and_a_picture(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    page.mouse.click(*on_sheet(page, 100, 105))
    page.keyboard.press("Control+c")
    expect(page.locator("#notice, .toast").first).to_contain_text("Copied: block 0.")
    told = page.evaluate("""async () => {
          const [item] = await navigator.clipboard.read();
          const png = await createImageBitmap(await item.getType('image/png'));
          const svg = item.types.includes('image/svg+xml') ? await (await item.getType('image/svg+xml')).text() : '';
          return [item.types, png.width, png.height, svg];
        }""")
    types, width, height, svg = told
    assert {"text/html", "image/png"} <= set(types)
    assert width == 250, "60 by 40 points at 300 pixels an inch"
    assert height in (166, 167)
    assert not svg or "<svg" in svg
    page.keyboard.press("Control+v")
    settled(page)
    assert len(places(page)) == 4, "and Lexigon takes the objects themselves"


DRAWING = """<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100"><title>Reeds</title><rect width="200" height="100" fill="#2a5"/>
  <circle cx="50" cy="50" r="30" fill="#fc4" stroke="#123" stroke-width="4"/><text x="5" y="90" rotate="5">not taken</text></svg>"""  # noqa: E501


def test_an_svg_pasted_or_dropped_becomes_shapes_in_inks(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    before = page.locator(".content .frame").count()
    page.locator("#sheet").focus()
    page.evaluate("(svg) => navigator.clipboard.writeText(svg)", DRAWING)
    page.keyboard.press("Control+v")
    settled(page)
    assert page.locator(".content .frame").count() == before + 2
    expect(page.locator("#toast")).to_contain_text("Not imported: 1 text.")
    expect(page.locator(".selected-box")).to_have_count(2)
    fills = page.locator(".content .frame").evaluate_all(
        "(all) => all.slice(-2).map((g) => g.querySelector('path').getAttribute('fill'))"
    )
    assert len(set(fills)) == 2
    page.evaluate(
        """(svg) => {
          const carried = new DataTransfer();
          carried.items.add(new File([svg], "reeds.svg", { type: "image/svg+xml" }));
          const box = document.querySelector(".paper").getBoundingClientRect();
          document.getElementById("sheet").dispatchEvent(new DragEvent("drop", { clientX: box.x + 120, clientY: box.y + 330, dataTransfer: carried, bubbles: true, cancelable: true }));
        }""",  # noqa: E501
        DRAWING,
    )
    expect(page.locator(".content .frame")).to_have_count(before + 4)
    settled(page)
    page.click("#undo")
    settled(page)
    assert page.locator(".content .frame").count() == before + 2
    page.expected.add(400)  # type: ignore[attr-defined]
    page.evaluate("(svg) => navigator.clipboard.writeText(svg)", DRAWING.replace("</svg>", ""))
    page.keyboard.press("Control+v")
    expect(page.locator("#toast")).to_contain_text("This is not an SVG file")


def test_what_is_blended_is_shown_as_it_prints(opened: Callable[[Job], Page]) -> None:
    """The board's picture of the page against inks laid over each other; while something is moved the browser's own
    mixing is seen."""
    workspace, spots = desk_of_blends()
    page = opened(workspace.job)
    region = page.locator(".as-printed image")
    expect(region.first).to_be_attached()
    page.wait_for_function(
        "() => [...document.querySelectorAll('.as-printed image')].every((one) => performance.getEntriesByName(new "
        "URL(one.getAttribute('href'), location).href).some((entry) => entry.responseEnd))"
    )
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    shot = Image.open(io.BytesIO(page.screenshot())).convert("RGB")
    off = []
    for mode, what, x, y in spots:
        if what != "process":
            continue
        inks = tuple(blended(ink, mode, *pair) for ink, *pair in zip(INKS[:4], GROUND, TOP, strict=True))
        wanted = tuple(round(255 * v) for v in Colour("cmyk", inks).rgb)
        seen = shot.getpixel(tuple(map(round, on_sheet(page, x, y))))
        assert isinstance(seen, tuple)
        if max(abs(a - b) for a, b in zip(seen, wanted, strict=True)) > 10:
            off.append(f"{mode}: {seen} for {wanted}")
    assert not off, "\n".join(off)
    x, y = on_sheet(page, spots[0][2], spots[0][3])
    page.mouse.move(x, y)
    page.mouse.down()
    expect(region.first).to_be_visible()
    page.mouse.move(x + 30, y + 200, steps=4)
    expect(region.first).to_be_hidden()
    page.mouse.up()
    settled(page)
    expect(region.first).to_be_visible()
