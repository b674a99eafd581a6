"""Pictures on the board: brought in, dropped, framed, exchanged everywhere, and in the printer's file."""

from __future__ import annotations

import base64
import io
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pikepdf
import zxingcpp
from PIL import Image
from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Outline
from lexigon.core.editing.intents import AddShape
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import select_first
from tests.core.helpers import book

DROP = """([selector, name, type, base64]) => {
  const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  const carried = new DataTransfer();
  carried.items.add(new File([bytes], name, { type }));
  const target = document.querySelector(selector).getBoundingClientRect();
  const at = { clientX: target.x + target.width / 2, clientY: target.y + target.height / 2, dataTransfer: carried, bubbles: true, cancelable: true };
  for (const name of ["dragover", "drop"]) document.getElementById("sheet").dispatchEvent(new DragEvent(name, at));
}"""  # noqa: E501


def photograph(folder: Path, name: str, colour: tuple[int, int, int], size: tuple[int, int] = (900, 600)) -> Path:
    path = folder / name
    Image.new("RGB", size, colour).save(path, dpi=(300, 300))
    return path


def hands_in(page: Page, click: Any, *files: Path) -> None:
    with page.expect_file_chooser() as waiting:
        click()
    waiting.value.set_files(list(files))


DRAWING = (
    "<svg xmlns='http://www.w3.org/2000/svg' width='160' height='80'><rect width='160' height='80' "
    "fill='#1e5b4f'/><circle cx='40' cy='40' r='20' fill='none' stroke='#f2b134' stroke-width='6'/><text x='70' y='46'"
    " font-size='18' fill='white'>Reed</text></svg>"
)


def test_a_drawing_is_a_picture_and_is_opened_as_shapes(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    """From the contact sheet onto the page, sharp in the printer's file; opened, its leaf recoloured, and taken
    back."""
    page = opened(book(facing=False))
    drawing = tmp_path / "reed.svg"
    drawing.write_text(DRAWING)
    page.click("[data-drawer=pictures]")
    hands_in(page, lambda: page.get_by_role("button", name="Import…").click(), drawing)
    page.get_by_role("button", name="Place “reed”", exact=True).press("Enter")
    expect(page.locator(".content image")).to_have_count(1)
    expect(page.locator(".slip-frame")).to_contain_text("vector drawing, 1.6667 × 0.8333 in, sharp at any size")
    with page.expect_response("**/open-up/"):
        page.keyboard.press("Control+k")
        page.locator("#finder input").fill("picture to shapes")
        page.keyboard.press("Enter")
    settled(page)
    expect(page.locator(".content image")).to_have_count(0)
    expect(page.locator(".content .frame path")).to_have_count(3)
    paints = page.evaluate(
        "() => [...document.querySelectorAll('.content .frame path')].map((one) => [one.getAttribute('fill'), "
        "one.getAttribute('stroke-width')])"
    )
    assert paints[1][0] == "none"
    assert abs(float(paints[1][1]) - 4.5) < 0.01, "six pixels"
    page.keyboard.press("Control+z")
    expect(page.locator(".content image")).to_have_count(1)


def test_artwork_of_several_shapes_becomes_one_picture_frame(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    workspace = Workspace(book(facing=False))
    for x in (80, 150, 260):
        workspace.do(AddShape(workspace.job.pages[0].id, Rect(x, 90, 100, 80), Outline()))
    page = opened(workspace.job)
    for one in page.locator('.content .frame[data-kind="shape"]').all():
        box = one.bounding_box()
        assert box
        page.keyboard.down("Shift")
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.keyboard.up("Shift")
    page.keyboard.press("Control+k")
    page.locator("#finder input").fill("Place picture in shapes")
    expect(page.locator("#finder-list li").first).to_contain_text("Place picture in shapes")
    sea = photograph(tmp_path, "sea.png", (40, 60, 200))
    hands_in(page, lambda: page.keyboard.press("Enter"), sea)
    expect(page.locator(".content image")).to_have_count(1)
    expect(page.locator('.content .frame[data-kind="picture"]')).to_have_count(1)
    clip = page.locator(".content clipPath path").first.get_attribute("d") or ""
    assert clip.count("M") == 2, "two of them overlap, the third stands apart"


def test_pictures_from_the_first_click_to_the_file(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddShape(workspace.job.pages[0].id, Rect(80, 90, 120, 80)))
    page = opened(workspace.job)
    images, cards = page.locator(".content image"), page.locator(".contact-sheet li")
    # Dropped onto a shape: it shows the picture, and is chosen.
    red = photograph(tmp_path, "evening flight.png", (200, 60, 40))
    encoded = base64.b64encode(red.read_bytes()).decode()
    page.evaluate(DROP, ['.content .frame[data-kind="shape"]', red.name, "image/png", encoded])
    expect(images).to_have_count(1)
    expect(page.locator("#ipfit")).to_have_value("fill")
    expect(page.locator(".slip-frame")).to_contain_text("900 × 600 pixels, RGB; 540 ppi at its present size")
    # Framed: scaled about its middle, both ways in step; all of it seen; mirrored.
    page.locator("#ipw").fill("100")
    page.locator("#ipw").press("Enter")
    expect(page.locator("#iph")).to_have_value("100 %")
    expect(page.locator("#ipfit")).to_have_value("free")
    page.locator("#ipfit").select_option("fit")
    page.locator("#ipmirror").check()
    settled(page)
    matrix = images.first.get_attribute("transform") or ""
    across, *_ = [float(v) for v in matrix.removeprefix("matrix(").removesuffix(")").split()]
    assert across == -120, "as wide as the frame, left and right exchanged"
    # From the drawer: two more, one of which is no picture.
    page.locator("#sheet").focus()
    page.keyboard.press("Escape")
    page.click("[data-drawer=pictures]")
    expect(cards).to_have_count(1)
    green = photograph(tmp_path, "saltings.jpg", (40, 140, 90))
    wrong = tmp_path / "notes.png"
    wrong.write_bytes(b"not a picture")
    hands_in(page, lambda: page.get_by_role("button", name="Import…").click(), green, wrong)
    expect(page.locator("#toast")).to_contain_text(
        "“notes.png”: This is not a PNG, JPEG, TIFF, WebP or AVIF picture, nor an SVG or PDF."
    )
    expect(page.locator("#toast")).to_contain_text("1 picture imported.")
    expect(cards).to_have_count(2)
    expect(images).to_have_count(1)
    page.get_by_role("button", name="Place “saltings”", exact=True).press("Enter")
    expect(images).to_have_count(2)
    expect(page.locator(".slip h1")).to_have_text("saltings")
    # Another file for the first, everywhere it is used; the framing stays.
    # A click loads it to the pointer; the selected frame's picture changes only where that is asked for.
    page.get_by_role("button", name="Place “evening flight”", exact=True).click()
    expect(page.locator(".board.tool-place")).to_be_attached()
    page.keyboard.press("Escape")
    expect(page.locator(".board.tool-place")).to_have_count(0)
    assert len({image.get_attribute("href") for image in images.all()}) == 2
    page.get_by_role("button", name="Place in frame “evening flight”").click()
    settled(page)
    expect(images).to_have_count(2)
    blue = photograph(tmp_path, "dawn flight.png", (40, 60, 200))
    before = images.first.get_attribute("href")
    hands_in(page, lambda: page.get_by_role("button", name="Replace “evening flight”").click(), blue)
    expect(images.first).not_to_have_attribute("href", before or "")
    assert images.first.get_attribute("transform") == matrix
    assert len({image.get_attribute("href") for image in images.all()}) == 1
    expect(cards.nth(1)).to_contain_text("not used")
    page.get_by_role("button", name="Remove “saltings”").click()
    expect(cards).to_have_count(1)
    # The printer's file has the picture once, in inks.
    page.click("nav >> text=Press")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=30_000)
    with page.expect_download() as waiting:
        page.click("text=Download")
    with pikepdf.open(io.BytesIO(Path(waiting.value.path()).read_bytes())) as pdf:
        found = [x for x in pdf.pages[0].Resources.XObject.values() if x.Subtype == "/Image"]
        assert {str(image.ColorSpace) for image in found} == {"/DeviceCMYK"}
        left, foot = pdf.pages[0].TrimBox[0:2]
        assert left >= 0
        assert foot >= 0
    page.click("nav >> text=Board")
    page.wait_for_selector(".content image", state="attached")
    page.click("#undo")
    settled(page)
    page.click("#undo")
    settled(page)
    expect(images.first).to_have_attribute("href", before or "")


def test_a_shape_becomes_a_code_that_a_reader_reads_on_the_board(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddShape(workspace.job.pages[0].id, Rect(80, 90, 160, 160)))
    page = opened(workspace.job)
    select_first(page)
    page.keyboard.press("n")  # after the main text the shape
    page.get_by_role("button", name="Make it a code…").click()
    dialog = page.locator("dialog[open]")
    dialog.get_by_label("Address", exact=True).fill("slackwater.example/hide")
    dialog.get_by_role("button", name="Add code").click()
    slip = page.locator(".slip-frame")
    expect(slip).to_contain_text("web address: https://slackwater.example/hide")
    page.expected.add(400)  # type: ignore[attr-defined]
    slip.get_by_role("button", name="Edit content…").click()
    dialog.get_by_label("Address", exact=True).fill("")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.locator("#ask-problem")).to_contain_text("Fill in “Address”.")
    dialog.get_by_role("button", name="Cancel").click()
    expect(slip).to_contain_text("web address: https://slackwater.example/hide")
    slip.get_by_role("button", name="Appearance").click()
    slip.locator('[data-path="level"]').select_option("H")
    settled(page)
    page.locator("#sheet").focus()
    page.keyboard.press("Escape")
    page.click("#clean")
    drawn = Image.open(io.BytesIO(page.locator(".paper").first.screenshot()))
    found = zxingcpp.read_barcodes(drawn)
    assert [one.text for one in found] == ["https://slackwater.example/hide"]
