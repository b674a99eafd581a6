"""What things are set against on the board: panels, where measures begin, the page grid, guides of layers; cut off,
read in order, pinched."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from playwright.sync_api import Page, expect

from lexigon.core.brief.forms import sized
from lexigon.core.document.model import Edges, Fold, Job
from lexigon.core.editing.intents import AddLayer, AddShape
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.test_arranging import SHAPES, on_sheet, places
from tests.core.helpers import book


def folded() -> Job:
    """The outside of a letter fold: panels of 90, 100 and 100 by 200 pt, 9 pt of bleed."""
    job = book(facing=False)
    fold = Fold(100.0, 200.0, "letter", 3, "side", 10.0)
    job.brief = sized(replace(job.brief, margins=Edges(9, 9, 9, 9), bleed=Edges(9, 9, 9, 9), form=fold, unit="pt"), {})
    job.masters["text"] = replace(job.masters["text"], recto=(), verso=())
    job.main_story = None
    workspace = Workspace(job)
    workspace.do(AddShape(job.pages[0].id, Rect(110, 40, 30, 30), name="Sail"))
    return workspace.job


def command(page: Page, words: str) -> None:
    page.keyboard.press("Control+k")
    page.keyboard.type(words)
    expect(page.locator("#finder-list li").first).to_contain_text(words[:12])
    page.keyboard.press("Enter")


def test_a_panel_is_filled_and_measures_begin_where_one_wants(opened: Callable[[Job], Page]) -> None:
    page = opened(folded())
    page.locator(SHAPES).click(force=True)
    left = page.locator("#fx")
    expect(left).to_have_value("110 pt")
    page.locator(".ruler-corner").click()
    page.locator("dialog[open] select").select_option(label="centre of the page")
    page.locator("#ask-yes").click()
    expect(left).to_have_value("-35 pt")  # the sheet is 290 pt wide
    left.fill("-35 + 5")
    left.press("Enter")
    settled(page)
    assert places(page) == [(115, 40)]
    page.get_by_role("button", name="Arrange").click()
    options = page.locator("#alto option").all_inner_texts()
    assert options == ["the margins", "the page", "the bleed", "the panel"]
    page.locator("[data-rows=sizes]").get_by_role("button", name="panel").click()
    settled(page)
    assert places(page) == [(90, -9)]
    expect(page.locator("#fh")).to_have_value("218 pt")


def test_a_page_grid_is_set_snapped_to_and_taken_away(opened: Callable[[Job], Page]) -> None:
    page = opened(folded())
    command(page, "Set up page grid")
    dialog = page.locator("dialog[open]")
    for word, value in (
        ("Horizontal spacing", "50pt"),
        ("Vertical spacing", "50pt"),
        ("Subdivisions", "2"),
        ("Start from left", "0"),
        ("Start from top", "0"),
    ):
        dialog.get_by_label(word, exact=True).fill(value)
    page.locator("#ask-yes").click()
    settled(page)
    expect(page.locator(".page-grid")).to_have_count(2)
    box = page.locator(SHAPES).bounding_box()
    assert box
    scale = box["width"] / 30
    page.mouse.move(box["x"] + 9 * scale, box["y"] + 9 * scale)
    page.mouse.down()
    page.mouse.move(box["x"] + 20 * scale, box["y"] + 60 * scale)
    page.mouse.move(box["x"] + 22.7 * scale, box["y"] + 42.5 * scale)
    expect(page.locator(".snap-why").first).to_have_text("page grid")
    page.mouse.up()
    settled(page)
    assert places(page) == [(125, 75)], "the nearest lines, 25 pt apart"
    command(page, "Set up page grid")
    page.locator("dialog[open]").get_by_label("Grid").select_option(label="none")
    page.locator("#ask-yes").click()
    settled(page)
    expect(page.locator(".page-grid")).to_have_count(0)


def test_a_guide_has_its_layers_colour_and_goes_with_it_from_sight(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(folded())
    workspace.do(AddLayer("Lines", above="main"))
    layer = list(workspace.job.layers.values())[-1]
    page = opened(workspace.job)
    page.click("[data-drawer=layers]")
    page.get_by_role("button", name="Lines", exact=True).click()
    command(page, "Edit guides by position")
    page.get_by_label("Guide 1: position").fill("60pt")
    page.locator("#ask-yes").click()
    settled(page)
    line = page.locator(".guide-line")
    assert line.evaluate("(one) => getComputedStyle(one).stroke") == rgb(layer.colour)
    page.get_by_role("button", name="Lines: visible; hide layer").click()
    settled(page)
    expect(line).to_have_count(0)
    page.get_by_role("button", name="Lines: hidden and not printed; show layer").click()
    settled(page)
    expect(line).to_have_count(1)


def rgb(colour: str) -> str:
    return f"rgb({', '.join(str(int(colour[n : n + 2], 16)) for n in (1, 3, 5))})"


def test_things_are_cut_off_mixed_as_one_and_read_in_an_order(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(folded())
    page_id = workspace.job.pages[0].id
    workspace.do(
        AddShape(page_id, Rect(120, 50, 60, 60), name="Sun"), AddShape(page_id, Rect(10, 150, 20, 20), name="Buoy")
    )
    page = opened(workspace.job)
    page.click("[data-drawer=layers]")
    page.locator("[data-key=as-read]").click()
    lines = page.locator(".reading-list .truncate")
    expect(lines).to_have_text(["Sail", "Sun", "Buoy"])
    page.locator(".reading-list .object").nth(2).focus()
    page.keyboard.press("Alt+ArrowUp")
    settled(page)
    expect(lines).to_have_text(["Sail", "Buoy", "Sun"])
    owned = page.evaluate(
        "() => document.querySelector('.content').getAttribute('aria-owns').split(' ').map((id) => "
        "document.getElementById(id).getAttribute('aria-label'))"
    )
    assert owned == ["Sail", "Buoy", "Sun"], "so it is read aloud"
    page.locator("#sheet").focus()
    for key, name in (("ArrowRight", "Sail"), ("n", "Buoy"), ("n", "Sun")):
        page.keyboard.press(key)
        expect(page.locator(".slip h1")).to_have_text(name)
    page.locator("[data-key=as-lies]").click()
    sail, sun = (page.locator(SHAPES).nth(n) for n in (0, 1))
    sail.click(force=True, position={"x": 5, "y": 5})
    sun.click(force=True, modifiers=["Shift"], position={"x": 50, "y": 50})
    command(page, "Clip to the topmost shape")
    settled(page)
    expect(page.locator(".content clipPath")).to_have_count(1)
    box = page.locator(".paper").bounding_box()
    assert box
    scale = box["width"] / 290
    page.keyboard.press("Escape")
    page.mouse.click(box["x"] + 113 * scale, box["y"] + 43 * scale)
    expect(page.locator(".slip h1")).to_have_text("Page 1")  # what is cut off is not caught
    page.mouse.click(box["x"] + 130 * scale, box["y"] + 60 * scale)
    page.locator("#gop").fill("40")
    page.locator("#gop").press("Enter")
    settled(page)
    assert page.locator(".content g[opacity='0.4'] .frame").count() == 2
    page.get_by_role("button", name="Release clip").click()
    settled(page)
    expect(page.locator(".content clipPath")).to_have_count(0)
    page.expected.add(400)  # type: ignore[attr-defined]
    page.locator("#gop").scroll_into_view_if_needed()
    page.get_by_role("button", name="Ungroup").click()
    expect(page.locator("#toast")).to_contain_text("Release the clip")


def test_two_fingers_move_and_zoom_the_board(opened: Callable[[Job], Page]) -> None:
    page = opened(folded())
    before = page.locator(".paper").bounding_box()
    session = page.context.new_cdp_session(page)

    def touch(kind: str, *points: tuple[float, float]) -> None:
        session.send(
            "Input.dispatchTouchEvent",
            {"type": kind, "touchPoints": [{"x": x, "y": y, "id": n} for n, (x, y) in enumerate(points)]},
        )

    x, y = on_sheet(page, 200, 100)
    touch("touchStart", (x, y))
    touch("touchStart", (x, y), (x + 100, y))
    for step in range(1, 6):
        touch("touchMove", (x - 10 * step, y), (x + 100 + 10 * step, y))
    touch("touchEnd")
    after = page.locator(".paper").bounding_box()
    assert before
    assert after
    assert abs(after["width"] / before["width"] - 2.0) < 0.05, "twice as far apart"
    assert places(page) == [(110, 40)], "nothing was moved by it"
