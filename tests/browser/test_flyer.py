"""A flyer from the empty job to the file: a ground to the bleed, a headline as large as fits, a dotted rule, two
columns; by the pointer, and the same by the keys and the spec line alone."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path

import pikepdf
import pypdfium2 as pdfium
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, settled

MM = 72 / 25.4
HEADLINE = "Eleven minutes"
COPY = "Slack water is when nothing is to be done, and it is done by everybody at once. " * 3


def new_flyer(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/new/?kind=flyer")
    page.fill("#name", "Slack water, an open evening")
    page.click("text=Create flyer")
    page.wait_for_url("**/board/")
    page.wait_for_selector(".paper")
    settled(page)


def on_page(page: Page, x: float, y: float) -> tuple[float, float]:
    """Window coordinates of a point of the page, in millimetres."""
    box = page.locator(".paper").first.bounding_box()
    assert box
    scale = box["width"] / 148
    return box["x"] + x * scale, box["y"] + y * scale


def draw(page: Page, a: tuple[float, float], b: tuple[float, float]) -> None:
    page.mouse.move(*on_page(page, *a))
    page.mouse.down()
    page.mouse.move(*on_page(page, (a[0] + b[0]) / 2, (a[1] + b[1]) / 2))
    page.mouse.move(*on_page(page, *b))
    page.mouse.up()
    settled(page)


def open_group(page: Page, name: str) -> None:
    head = page.locator(".slip .head h2 button", has_text=name)
    if head.get_attribute("aria-expanded") == "false":
        head.click()


def by_pointer(page: Page) -> None:
    page.click("#tools [data-tool=shape]")
    page.get_by_role("button", name="Box", exact=True).click()
    draw(page, (20, 20), (80, 80))
    open_group(page, "Arrange")
    page.locator(".slip [data-value=bleed]").click()
    settled(page)
    open_group(page, "Stroke and fill")
    page.locator("#ftint").fill("20 %")
    page.locator("#ftint").press("Enter")
    settled(page)
    page.click("#tools [data-tool=frame]")
    draw(page, (10, 10), (138, 50))
    page.keyboard.type(HEADLINE)
    settled(page)
    page.keyboard.press("Escape")
    open_group(page, "Contents")
    page.locator("#ffit").select_option("line")
    settled(page)
    page.click("#tools [data-tool=rule]")
    draw(page, (10, 60), (138, 60))
    page.locator(".section-head", has_text="Stroke details").locator("visible=true").first.click()
    page.locator("[data-path='stroke.dash']").locator("visible=true").fill("0 6")
    page.locator("[data-path='stroke.dash']").locator("visible=true").press("Enter")
    settled(page)
    page.locator("[data-path='stroke.cap']").locator("visible=true").select_option("round")
    settled(page)
    page.locator("#few").fill("2 pt")
    page.locator("#few").press("Enter")
    settled(page)
    page.click("#tools [data-tool=frame]")
    draw(page, (10, 70), (138, 88))
    page.keyboard.type(COPY)
    settled(page)
    page.keyboard.press("Escape")
    page.locator("#fc").fill("2")
    page.locator("#fc").press("Enter")
    settled(page)


def command(page: Page, words: str) -> None:
    page.keyboard.press("Control+k")
    expect(page.locator("#finder input")).to_be_focused()
    page.keyboard.type(words)
    page.keyboard.press("Enter")
    expect(page.locator("#finder input")).to_be_hidden()
    settled(page)


def said(page: Page, line: str) -> None:
    """A line typed into the spec line, reached by its key, and back on the sheet."""
    page.locator("#sheet").focus()
    page.keyboard.press("/")
    expect(page.locator("#spec")).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.type(line)
    page.keyboard.press("Enter")
    settled(page)
    page.locator("#sheet").focus()


def placed(page: Page, **places: str) -> None:
    """Values typed into the fields of the slip, each reached by Tab."""
    for name, value in places.items():
        field = {"x": "fx", "y": "fy", "width": "fw", "height": "fh", "start": "rsy", "end": "rey"}[name]
        for _ in range(80):
            if page.evaluate("() => document.activeElement?.id") == field:
                break
            page.keyboard.press("Tab")
        assert page.evaluate("() => document.activeElement.id") == field
        page.keyboard.press("Control+a")
        page.keyboard.type(value)
        page.keyboard.press("Enter")
        settled(page)
    page.locator("#sheet").focus()


def by_keys(page: Page) -> None:
    page.locator("#sheet").focus()
    command(page, "add shape in the centre of the page: box")
    command(page, "fill the bleed")
    said(page, ", fill Black 20%")
    command(page, "add text frame")
    page.keyboard.type(HEADLINE)  # the caret is in it
    settled(page)
    page.keyboard.press("Escape")
    placed(page, y="10 mm", height="40 mm")
    said(page, ", fit line")
    command(page, "add rule across")
    said(page, ", edge 2 dots 6 Black")
    placed(page, start="58 mm", end="58 mm")
    command(page, "add text frame")
    page.keyboard.type(COPY)
    settled(page)
    page.keyboard.press("Escape")
    placed(page, y="70 mm", height="18 mm")
    said(page, ", 2 columns")


@pytest.mark.parametrize("way", [by_pointer, by_keys])
def test_a_flyer_from_the_empty_job_to_the_file(demo: Page, server: Server, way: Callable[[Page], None]) -> None:
    page = demo
    new_flyer(page, server)
    way(page)
    page.goto(page.url.split("board/")[0] + "press/")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=30_000)
    with page.expect_download() as waiting:
        page.click("text=Download")
    data = Path(waiting.value.path()).read_bytes()
    with pikepdf.open(io.BytesIO(data)) as pdf:
        (leaf,) = pdf.pages
        trim, bleed = ([float(v) for v in box] for box in (leaf.TrimBox, leaf.BleedBox))
        assert (trim[2] - trim[0], trim[3] - trim[1]) == pytest.approx((148 * MM, 210 * MM), abs=0.01)
        assert trim[0] - bleed[0] == pytest.approx(3 * MM, abs=0.01)
        content = leaf.Contents.read_bytes()
        assert b"[0 6] 0 d" in content, "the rule is dotted"
        assert b"1 J" in content, "with round caps"
    document = pdfium.PdfDocument(data)
    sheet = document[0]
    image = sheet.render(scale=2).to_pil().convert("L")
    height = float(sheet.get_height())

    def grey(x: float, y: float) -> int:
        """How light a point of the sheet is; from its left upper corner."""
        return int(image.getpixel((int(x * 2), int(y * 2))))

    left, head = bleed[0], height - bleed[3]
    for x, y in ((left + 1, head + 1), (bleed[2] - 1, height - bleed[1] - 1)):
        assert 180 < grey(x, y) < 225, "a fifth of black to the edge of the bleed"
    text = sheet.get_textpage()
    boxes: dict[str, list[tuple[float, float, float, float]]] = {}
    for at in range(text.count_chars()):
        letter, box = text.get_text_range(at, 1), text.get_charbox(at)
        if letter.strip() and trim[1] < box[1] and box[3] < trim[3]:  # not the printer's line beyond the trim
            boxes.setdefault("large" if box[3] > trim[3] - 55 * MM else "small", []).append(box)
    wide = max(box[2] for box in boxes["large"]) - min(box[0] for box in boxes["large"])
    assert 118 * MM < wide <= 128.1 * MM, "the headline fills its line"
    lefts = {round((box[0] - trim[0]) / MM) for box in boxes["small"]}
    assert min(lefts) == 10
    assert not any(72 < left < 76 for left in lefts), "a gutter between two columns"
    assert max(lefts) > 100
