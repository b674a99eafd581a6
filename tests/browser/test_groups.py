"""Groups and rules by value and by their handles, and letters that run commands only while the board has the focus."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Outline
from lexigon.core.editing.intents import AddRule, AddShape
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import command, select_first
from tests.browser.test_arranging import on_sheet, rects
from tests.core.helpers import book


def pair() -> Job:
    """A circle of 40 pt and a bar, together 100 pt wide and 40 pt high, and a level rule below them."""
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(
        AddShape(page, Rect(100, 100, 40, 40), Outline("ellipse"), name="Circle"),
        AddShape(page, Rect(160, 120, 40, 20), name="Bar"),
        AddRule(page, (100.0, 200.0), (200.0, 200.0)),
    )
    return workspace.job


def type_in(page: Page, field: str, value: str) -> None:
    page.locator(field).fill(value)
    page.locator(field).press("Enter")
    settled(page)


def test_a_group_has_a_position_a_size_and_a_rotation_of_its_own(opened: Callable[[Job], Page]) -> None:
    page = opened(pair())
    page.mouse.click(*on_sheet(page, 120, 120))
    page.keyboard.down("Shift")
    page.mouse.click(*on_sheet(page, 180, 130))
    page.keyboard.up("Shift")
    page.keyboard.press("g")
    settled(page)
    expect(page.locator(".slip h1")).to_have_text("Group")
    expect(page.locator("#fw")).to_have_value("1.3889 in")
    type_in(page, "#fw", "50 pt")
    assert rects(page)[:2] == [[100, 100, 20, 20], [130, 110, 20, 10]], "the circle stays a circle"
    page.get_by_label("Keep proportions").uncheck()
    type_in(page, "#fw", "100 pt")
    assert rects(page)[0] == [100, 100, 40, 20]
    page.click("#undo")
    settled(page)
    type_in(page, "#frot", "90")
    expect(page.locator("#frot")).to_have_value("90")
    # The box is rotated about its centre at 125, 110: the circle is at its top now.
    expect(page.locator(".whole-box")).to_have_count(1)
    told = page.locator(".content .frame[data-kind=shape]").first.bounding_box()
    box = page.locator(".paper").first.bounding_box()
    assert told
    assert box
    scale = box["width"] / 432
    assert (told["x"] - box["x"]) / scale == pytest.approx(115, abs=1.5)
    assert (told["y"] - box["y"]) / scale == pytest.approx(85, abs=1.5)
    # Its handles are rotated with it: the one at its right edge is at the bottom, and pulls downward. Proportions are
    # free.
    handle = page.locator(".handle[data-u='1'][data-v='0.5']").bounding_box()
    assert handle
    x, y = handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 20 * scale, steps=3)
    page.keyboard.down("Alt")
    page.mouse.move(x, y + 25 * scale)
    page.mouse.up()
    page.keyboard.up("Alt")
    settled(page)
    expect(page.locator("#fw")).to_have_value(re.compile(r"1\.04\d+ in"))
    expect(page.locator("#frot")).to_have_value("90")
    page.reload()
    page.mouse.click(*on_sheet(page, 125, 95))
    expect(page.locator("#frot")).to_have_value("90")


def test_a_rule_is_set_by_its_ends_its_length_and_its_angle(opened: Callable[[Job], Page]) -> None:
    page = opened(pair())
    page.mouse.click(*on_sheet(page, 150, 200))
    expect(page.locator(".slip h1")).to_have_text("Rule")
    expect(page.locator("#fh")).to_be_hidden()
    expect(page.locator(".handle")).to_have_count(2)
    for field, value in (("#rsx", "1.3889 in"), ("#rsy", "2.7778 in"), ("#rex", "2.7778 in"), ("#rey", "2.7778 in")):
        expect(page.locator(field)).to_have_value(value)
    type_in(page, "#rangle", "90")
    expect(page.locator("#rex")).to_have_value("1.3889 in")
    expect(page.locator("#rey")).to_have_value("4.1667 in")
    type_in(page, "#rlong", "*0.5")
    expect(page.locator("#rlong")).to_have_value("0.6944 in")
    expect(page.locator("#rsy")).to_have_value("2.7778 in")
    x, y = on_sheet(page, 100, 250)
    page.mouse.move(x, y)
    page.mouse.down()
    page.keyboard.down("Alt")
    page.mouse.move(*on_sheet(page, 160, 260), steps=4)
    page.mouse.up()
    page.keyboard.up("Alt")
    settled(page)
    expect(page.locator("#rsx")).to_have_value("1.3889 in")
    expect(page.locator("#rex")).to_have_value(re.compile(r"2\.2[12]\d* in"))
    page.click("#undo")
    settled(page)
    expect(page.locator("#rex")).to_have_value("1.3889 in")
    # Two values typed one right after the other: the second keeps the first, though its answer has not come.
    page.locator("#rsx").fill("1 in")
    page.locator("#rsy").fill("2 in")
    page.locator("#rsy").press("Enter")
    settled(page)
    expect(page.locator("#rsx")).to_have_value("1 in")
    expect(page.locator("#rsy")).to_have_value("2 in")


def test_letters_run_commands_only_on_the_board_with_something_selected(opened: Callable[[Job], Page]) -> None:
    page = opened(pair())
    page.evaluate("localStorage.removeItem('lexigon-letters-explained')")
    locked = page.get_by_label("Locked")
    page.locator("#sheet").focus()
    page.keyboard.press("l")
    expect(page.locator("#drawer")).to_be_hidden()
    page.mouse.click(*on_sheet(page, 120, 120))
    page.keyboard.press("k")
    expect(page.locator("#toast")).to_contain_text("“K” is a shortcut")
    expect(locked).not_to_be_checked()
    page.keyboard.press("k")
    settled(page)
    expect(locked).to_be_checked()
    # A button of the slip has the focus: letters are nobody's.
    page.get_by_role("button", name="Delete").focus()
    page.keyboard.press("k")
    page.locator("#sheet").focus()
    page.keyboard.press("k")
    settled(page)
    expect(locked).not_to_be_checked()


def test_a_text_frame_that_a_command_adds_is_typed_in_at_once(opened: Callable[[Job], Page]) -> None:
    page = opened(pair())
    select_first(page)
    page.keyboard.press("Escape")
    command(page, "Add text frame")
    page.wait_for_selector(".caret", state="attached")
    page.keyboard.insert_text("The last Friday of the month")
    settled(page)
    expect(page.locator(".content .ln").last).to_have_text("The last Friday of the month")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+a")
    expect(page.locator(".slip .sub").first).to_contain_text("and 3 others")


def test_the_slip_is_hidden_for_room_and_in_a_narrow_window_to_begin_with(opened: Callable[[Job], Page]) -> None:
    page = opened(pair())
    slip, board = page.locator(".board-slip"), page.locator("#board, .board").first
    page.mouse.click(*on_sheet(page, 120, 120))
    before = board.bounding_box()
    page.click("#slip-hide")
    expect(slip).to_be_hidden()
    after = board.bounding_box()
    assert before
    assert after
    assert after["width"] > before["width"] + 250
    page.reload()
    expect(slip).to_be_hidden()
    page.locator("#slip-show").focus()
    page.keyboard.press("Enter")
    expect(slip).to_be_visible()
    # A window of 1280 by 800 at a zoom of 200 %: the page has at least half of it.
    page.evaluate("localStorage.removeItem('lexigon-slip')")
    page.set_viewport_size({"width": 640, "height": 400})
    page.reload()
    expect(slip).to_be_hidden()
    box = board.bounding_box()
    assert box
    assert box["width"] * box["height"] >= 640 * 400 / 2


def test_colours_are_chosen_by_their_look_and_mixed_by_sliders(opened: Callable[[Job], Page]) -> None:
    page = opened(pair())
    page.mouse.click(*on_sheet(page, 120, 120))
    fill = page.locator("#ffill")
    page.locator(".slip h2", has_text="Stroke and fill").get_by_role("button").click()
    chips = fill.locator("option .swatch-chip")
    expect(chips).to_have_count(4)  # none, and three swatches
    colours = chips.evaluate_all("(all) => all.map((chip) => getComputedStyle(chip).backgroundColor)")
    assert len(set(colours)) >= 3
    fill.select_option(label="Marker red")
    settled(page)
    expect(page.locator(".slip", has_text="Marker red")).to_be_visible()
    page.click("[data-drawer=inks]")
    page.get_by_role("button", name="New swatch").click()
    slider = page.get_by_label("Cyan, slider")
    slider.focus()
    slider.press("End")
    expect(page.get_by_label("Cyan", exact=True)).to_have_value("100")
    expect(page.locator(".looks p")).to_contain_text("C100")
    page.get_by_label("Cyan", exact=True).fill("40")
    expect(slider).to_have_value("40")


def test_rulers_begin_where_the_page_does(opened: Callable[[Job], Page]) -> None:
    page = opened(pair())
    paper = page.locator(".paper").first.bounding_box()
    assert paper
    for axis, begin in (("x", paper["x"]), ("y", paper["y"])):
        ruler = page.locator(f".ruler-{axis}")
        box = ruler.bounding_box()
        assert box
        ticks = ruler.locator(".ticks").get_attribute("d") or ""
        found = re.findall(r"M([\d.]+) 18v-11" if axis == "x" else r"M0 ([\d.]+)h11", ticks)
        first = "x" if axis == "x" else "y"
        nearest = min(abs(box[first] + float(at) - begin) for at in found)
        assert nearest < 1, f"a tick of the ruler is at the edge of the page ({axis})"
        zero = ruler.locator("text").filter(has_text=re.compile("^0$")).first.bounding_box()
        assert zero
        assert abs(zero[first] - begin) < 6, "with its number right beside it"
