"""Pictures placed where somebody points, framed and adjusted; a cover from its picture to its bar code; a set of inks
chosen."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from pathlib import Path

import pypdfium2 as pdfium
import zxingcpp
from PIL import Image, ImageDraw
from playwright.sync_api import Page, expect

from lexigon.core.document.model import Fill, FrameSpec, Job
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import select_first
from tests.browser.test_pictures import hands_in, photograph
from tests.core.helpers import book


def at(page: Page, x: float, y: float) -> tuple[float, float]:
    """Where a point of the first page stands in the window."""
    box = page.locator(".paper").first.bounding_box()
    width = float(page.locator(".paper").first.get_attribute("width") or 1)
    assert box
    return box["x"] + x * box["width"] / width, box["y"] + y * box["width"] / width


def drag(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*at(page, *start))
    page.mouse.down()
    page.mouse.move(*at(page, (start[0] + end[0]) / 2, (start[1] + end[1]) / 2))
    page.mouse.move(*at(page, *end), steps=3)
    page.mouse.up()


def matrix(page: Page, number: int = 0) -> list[float]:
    said = page.locator(".content image").nth(number).get_attribute("transform") or ""
    return [float(v) for v in said.removeprefix("matrix(").removesuffix(")").split()]


def test_placed_in_a_drawn_box_framed_by_the_pointer_and_adjusted(
    opened: Callable[[Job], Page], tmp_path: Path
) -> None:
    page = opened(Workspace(book(facing=False)).job)
    images = page.locator(".content image")
    page.locator("#sheet").focus()
    page.click("[data-drawer=pictures]")
    seen = tmp_path / "heron.png"
    picture = Image.new("RGB", (900, 600), "white")
    ImageDraw.Draw(picture).ellipse((100, 150, 400, 450), fill=(30, 60, 110))
    picture.save(seen, dpi=(300, 300))
    hands_in(
        page,
        lambda: page.get_by_role("button", name="Import…").click(),
        seen,
        photograph(tmp_path, "ebb.png", (90, 20, 20)),
    )
    expect(page.locator(".contact-sheet li")).to_have_count(2)
    # Waiting at the pointer, one behind the other: a box is drawn for the first, the second comes at its natural size.
    page.get_by_role("button", name="Place “heron”", exact=True).click()
    page.get_by_role("button", name="Place “ebb”", exact=True).click()
    expect(page.locator("#tool-bar")).to_contain_text("2 pictures wait")
    drag(page, (100, 100), (220, 220))
    expect(images).to_have_count(1)
    expect(page.locator("#tool-bar")).to_contain_text("“ebb” waits")
    page.mouse.click(*at(page, 100, 320))
    expect(images).to_have_count(2)
    settled(page)
    width = next(one for one in (matrix(page, 0), matrix(page, 1)) if abs(one[5] - 320) < 1)[0]
    assert abs(width - 216) < 0.5, "900 pixels at 300 an inch are 3 in"
    # What matters was found: the disc is kept in view, left of the middle.
    a, _, _, _, e, f = matrix(page)
    assert abs(a - 180) < 0.5
    assert abs(e - (100 - 60 * 0.26)) < 12
    # Framed: dragged within its frame, then larger by the wheel.
    page.mouse.dblclick(*at(page, 150, 150))
    expect(page.locator("#tool-bar")).to_contain_text("Frame to picture")
    drag(page, (190, 200), (205, 210))
    settled(page)
    moved = matrix(page)
    assert abs(moved[4] - e - 15) < 0.6
    assert abs(moved[5] - f - 10) < 0.6
    page.mouse.move(*at(page, 160, 160))
    page.mouse.wheel(0, -200)
    settled(page)
    expect(page.locator("#undo")).to_have_attribute("title", "Undo: adjust crop")
    page.wait_for_function(
        "(was) => Number(document.querySelector('.content image').getAttribute('transform').slice(7).split(' ')[0]) > "
        "was * 1.2",
        arg=a,
    )
    page.get_by_role("button", name="Fill", exact=True).click()
    settled(page)
    assert abs(matrix(page)[0] - 180) < 0.5
    page.keyboard.press("Escape")
    # Adjusted: inverted; then in one swatch, cut out, and as its file has it again.
    slip = page.locator(".slip-frame")
    slip.get_by_role("button", name="Tone and colour").click()
    slip.locator('[data-path="adjust.inverted"]').check()
    settled(page)
    assert "look=" in (images.first.get_attribute("href") or "")
    slip.locator('[data-path="adjust.brightness"]').fill("20")
    slip.locator('[data-path="adjust.brightness"]').press("Enter")
    slip.get_by_role("button", name="Inks").click()
    slip.locator('[data-path="adjust.inks"]').select_option("one")
    slip.get_by_role("button", name="Background removal").click()
    slip.locator('[data-path="adjust.cut.kind"]').select_option("white")
    settled(page)
    expect(slip).to_contain_text("inverted")
    page.locator(".slip").get_by_role("button", name="Reset adjustments").click()
    settled(page)
    expect(images.first).not_to_have_attribute("href", "look")
    assert "look=" not in (images.first.get_attribute("href") or "")


def test_a_cover_from_its_picture_to_its_bar_code(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    """A picture to the bleed, a block and a title in colours taken from it, a book number with its add-on, and the
    printer's file."""
    page = opened(Workspace(book(facing=False)).job)
    view = tmp_path / "first light.jpg"
    picture = Image.new("RGB", (1600, 2400), (180, 200, 205))
    ImageDraw.Draw(picture).rectangle((0, 1500, 1600, 2400), fill=(24, 60, 66))
    picture.save(view, dpi=(300, 300))
    page.locator("#sheet").focus()
    page.click("[data-drawer=pictures]")
    hands_in(page, lambda: page.get_by_role("button", name="Import…").click(), view)
    page.get_by_role("button", name="Place “first light”", exact=True).click()
    drag(page, (80, 80), (300, 400))
    expect(page.locator(".content image")).to_have_count(1)
    page.keyboard.press("Control+k")
    page.keyboard.type("fill the bleed")
    page.keyboard.press("Enter")
    settled(page)
    expect(page.locator("#fx")).to_have_value("-0.125 in")
    # Its colours become swatches, and a block takes one.
    page.get_by_role("button", name="Colours “first light”").click()
    page.locator("dialog[open] select").first.select_option("3")
    expect(page.locator(".gathered li")).to_have_count(2)
    page.get_by_role("button", name="Add swatches").click()
    settled(page)
    page.locator("#sheet").focus()
    page.keyboard.press("Escape")
    page.locator("[data-tool=shape]").click()
    drag(page, (60, 470), (380, 600))
    settled(page)
    page.click("[data-drawer=inks]")
    page.locator(".ink-list .ink", has_text="first light 2").click()
    settled(page)
    # The bar code, with what it costs, on white.
    page.locator("#sheet").focus()
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    page.keyboard.type("add code")
    page.keyboard.press("Enter")
    dialog = page.locator("dialog[open]")
    dialog.get_by_label("Kind").select_option("ean 13")
    dialog.get_by_label("Number").fill("978-0-306-40615-0")
    dialog.get_by_label("Add-on").fill("51299")
    page.expected.add(400)  # type: ignore[attr-defined]
    dialog.get_by_role("button", name="Add code").click()
    expect(dialog.locator("#ask-problem")).to_contain_text("should be 7")
    dialog.get_by_label("Number").fill("978-0-306-40615-7")
    dialog.get_by_role("button", name="Add code").click()
    expect(page.locator(".slip-frame")).to_contain_text("9780306406157 + 51299")
    expect(page.locator(".slip-frame")).to_contain_text("100 % of full size")
    settled(page)
    page.locator("#ffill").evaluate("(field) => { field.value = 'paper'; field.dispatchEvent(new Event('change')); }")
    settled(page)
    page.locator(".slip-frame").get_by_role("button", name="Appearance").click()
    page.locator('[data-path="above"]').fill("ISBN 978-0-306-40615-7")
    page.locator('[data-path="above"]').press("Enter")
    settled(page)
    page.click("nav >> text=Press")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=30_000)
    with page.expect_download() as waiting:
        page.click("text=Download")
    document = pdfium.PdfDocument(io.BytesIO(Path(waiting.value.path()).read_bytes()))
    drawn = document[0].render(scale=300 / 72).to_pil().convert("L")
    document.close()
    found = zxingcpp.read_barcodes(drawn, ean_add_on_symbol=zxingcpp.EanAddOnSymbol.Read)
    assert "978030640615751299" in {one.text.replace(" ", "") for one in found}
    assert abs(drawn.getpixel((drawn.width // 2, 112)) - 195) < 12, "the picture reaches the head of the bleed"


def test_another_set_of_inks_changes_what_stands_in_its_roles(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(do.AddShape(workspace.job.pages[0].id, Rect(80, 90, 160, 160), None, FrameSpec(fill=Fill("black"))))
    page = opened(workspace.job)
    fill = page.locator('.content .frame[data-kind="shape"] path').first
    page.locator("#sheet").focus()
    page.click("[data-drawer=inks]")
    panel, dialog = page.locator("#drawer"), page.locator("dialog[open]")
    # Two colours as they are typed, a role that one plays.
    for name, typed in (("Ebb", "c80 m20 k10"), ("Flood", "lab 60 40 50")):
        panel.get_by_role("button", name="New swatch").click()
        dialog.get_by_label("Name").fill(name)
        dialog.get_by_label("Values").fill(typed)
        expect(dialog.get_by_role("status")).not_to_have_text("")
        expect(dialog.locator(".mixture input").first).to_have_value("80" if name == "Ebb" else "60")
        dialog.get_by_role("button", name="Add swatch").click()
        expect(panel.locator(".ink", has_text=name)).to_have_count(1)
    panel.get_by_role("button", name="New swatch").click()
    dialog.get_by_label("Name").fill("Main")
    dialog.get_by_label("Swatch type").select_option("role")
    dialog.get_by_label("Assigned swatch").select_option(label="Ebb")
    dialog.get_by_role("button", name="Add swatch").click()
    expect(panel.locator(".ink", has_text="Main")).to_contain_text("a role, played by Ebb")
    # The shape stands in the role; the set is kept, and another one made of it.
    select_first(page)
    page.keyboard.press("n")
    panel.locator(".ink", has_text="Main").click()
    settled(page)
    ebb = fill.get_attribute("fill")
    panel.get_by_role("button", name="Save", exact=True).click()
    dialog.get_by_label("Name").fill("Morning")
    dialog.get_by_role("button", name="Save").click()
    expect(panel.locator("[data-set]")).to_contain_text("used by the job")
    panel.get_by_role("button", name="Save", exact=True).click()
    dialog.get_by_label("Name").fill("Night")
    dialog.get_by_role("button", name="Save").click()
    panel.get_by_role("button", name="Edit “Night”").click()
    dialog.get_by_label("Main").select_option(label="Flood")
    dialog.get_by_role("button", name="Save").click()
    settled(page)
    panel.locator("[data-set] .ink", has_text="Night").click()
    expect(fill).not_to_have_attribute("fill", ebb or "")
    expect(panel.locator("[data-set]", has_text="Night")).to_contain_text("used by the job")
    panel.locator("[data-set] .ink", has_text="Morning").click()
    expect(fill).to_have_attribute("fill", ebb or "")
    # A colour picked on the map of what prints, by keys too, plays a second role; the dark counterpart is chosen.
    panel.get_by_role("button", name="New swatch").click()
    dialog.get_by_label("Name").fill("Dawn")
    dialog.get_by_role("button", name="Pick from printable colours").click()
    spot = dialog.get_by_role("button", name="Colours that print")
    where = dialog.locator(".colour-map-light .aside")
    dialog.get_by_label("Lightness").fill("88")
    spot.click(position={"x": 90, "y": 60})
    expect(where).to_contain_text(re.compile("L 88 a [01] b 2[78]"))
    was = where.text_content()
    spot.press("ArrowUp")
    expect(where).not_to_have_text(was or "")
    spot.click(position={"x": 178, "y": 170})
    expect(where).to_contain_text(re.compile("L (?!88)"))  # nothing prints so: the nearest does
    settled(page)
    dialog.get_by_label("Values").fill("lab 88 0 28")
    expect(dialog.locator(".mixture input").first).to_have_value("88")
    dialog.get_by_role("button", name="Add swatch").click()
    panel.get_by_role("button", name="New swatch").click()
    dialog.get_by_label("Name").fill("Ground")
    dialog.get_by_label("Swatch type").select_option("role")
    dialog.get_by_label("Assigned swatch").select_option(label="Dawn")
    dialog.get_by_role("button", name="Add swatch").click()
    panel.get_by_role("button", name="Edit “Morning”").click()
    dialog.get_by_label("Ground").select_option(label="Dawn")
    dialog.get_by_role("button", name="Save").click()
    panel.get_by_role("button", name="Light or dark counterpart of “Morning”").click()
    expect(dialog.locator(".counterpart-row")).to_have_count(2)
    expect(dialog.locator(".counterpart-row", has_text="Main")).to_contain_text("contrast")
    dialog.get_by_role("button", name="Add").click()
    settled(page)
    panel.locator("[data-set] .ink", has_text="Morning, dark").click()
    expect(fill).not_to_have_attribute("fill", ebb or "")
    expect(panel.locator(".ink", has_text="Ground, dark")).to_have_count(2)  # it, and the role it plays
