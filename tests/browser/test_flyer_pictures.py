"""A flyer with two photographs in circles, their outlines and soft shadows, a dashed rule and a code to scan; from the
empty job to the file."""

from __future__ import annotations

import io
from pathlib import Path

import pikepdf
import pypdfium2 as pdfium
import zxingcpp
from PIL import Image, ImageDraw
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, settled
from tests.browser.helpers import spec
from tests.browser.test_flyer import MM, draw, new_flyer, on_page
from tests.browser.test_pictures import hands_in


def photograph(path: Path, sky: tuple[int, int, int], sea: tuple[int, int, int]) -> Path:
    picture = Image.new("RGB", (1200, 900), sky)
    ImageDraw.Draw(picture).rectangle((0, 450, 1200, 900), fill=sea)
    picture.save(path, quality=92, dpi=(300, 300))
    return path


def test_photographs_in_circles_and_a_code_to_scan(demo: Page, server: Server, tmp_path: Path) -> None:
    page = demo
    new_flyer(page, server)
    dawn = photograph(tmp_path / "dawn.jpg", (240, 190, 120), (60, 90, 110))
    dusk = photograph(tmp_path / "dusk.jpg", (90, 80, 140), (30, 40, 60))
    # Two circles, each with a photograph; outlined, and with a soft shadow, in one go.
    for x in (15, 85):
        page.click("#tools [data-tool=shape]")
        page.get_by_role("button", name="Ellipse", exact=True).click()
        draw(page, (x, 30), (x + 48, 78))
    page.keyboard.press("Escape")
    for x, file in ((15, dawn), (85, dusk)):
        page.mouse.click(*on_page(page, x + 24, 54))
        expect(page.locator("#fx")).to_have_value(f"{x} mm")  # the slip is about this one now
        hands_in(page, lambda: page.get_by_role("button", name="Place picture…").click(), file)
        settled(page)
    expect(page.locator(".content image")).to_have_count(2)
    page.mouse.click(*on_page(page, 39, 54))
    page.keyboard.down("Shift")
    page.mouse.click(*on_page(page, 109, 54))
    page.keyboard.up("Shift")
    spec(page, "edge 3 Marker red, shadow 3 3 soft 6 Black 50%")
    settled(page)
    # The photograph of the first is moved in its circle by the pointer.
    before = page.locator(".content image").first.get_attribute("transform")
    page.mouse.click(*on_page(page, 74, 150))
    page.mouse.dblclick(*on_page(page, 39, 54))
    expect(page.get_by_label("Size of the picture")).to_be_visible()
    page.mouse.move(*on_page(page, 32, 66))
    page.mouse.down()
    page.mouse.move(*on_page(page, 36, 66), steps=3)
    page.mouse.up()
    settled(page)
    page.keyboard.press("Escape")
    assert page.locator(".content image").first.get_attribute("transform") != before
    # A dashed rule across, and a code made of a shape.
    page.click("#tools [data-tool=rule]")
    draw(page, (10, 95), (138, 95))
    spec(page, "edge 1.5 dashed 6 3 Black")
    settled(page)
    page.click("#tools [data-tool=shape]")
    page.get_by_role("button", name="Box", exact=True).click()
    draw(page, (54, 120), (94, 160))
    page.get_by_role("button", name="Make it a code…").click()
    page.locator("dialog[open]").get_by_label("Address", exact=True).fill("https://saltmarsh.example/open-hide")
    page.locator("#ask-yes").click()
    settled(page)
    # The file: vectors and pictures in inks, the shadow a soft mask, the code read from the page.
    page.goto(page.url.split("board/")[0] + "press/")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=30_000)
    expect(page.locator(".facts")).to_contain_text("the paper takes 330 %")
    with page.expect_download() as waiting:
        page.click("text=Download")
    data = Path(waiting.value.path()).read_bytes()
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert str(pdf.docinfo["/GTS_PDFXVersion"]) == "PDF/X-4"
        (leaf,) = pdf.pages
        assert b"[6 3] 0 d" in leaf.Contents.read_bytes()
        images = [one for one in pdf.objects if isinstance(one, pikepdf.Stream) and one.get("/Subtype") == "/Image"]
        assert sum(str(one.ColorSpace) == "/DeviceCMYK" and "/SMask" not in one for one in images) == 2, (
            "two photographs"
        )
        assert any("/SMask" in one for one in images), "soft shadows"
    document = pdfium.PdfDocument(data)
    sheet = document[0]
    shown = sheet.render(scale=300 / 72).to_pil().convert("RGB")
    trim = sheet.get_trimbox()
    head = float(sheet.get_height()) - trim[3]

    def at(x: float, y: float) -> tuple[int, ...]:
        return shown.getpixel((int((trim[0] + x * MM) * 300 / 72), int((head + y * MM) * 300 / 72)))  # type: ignore[return-value]

    assert at(39, 40)[0] > 200, "morning sky"
    assert at(39, 40)[2] < 160
    assert at(109, 70)[0] < 90, "evening sea"
    red = at(15.1, 54)
    assert red[0] > 150
    assert red[1] < 110, "the outline"
    assert at(16, 31) == (255, 255, 255), "cut off by its circle"
    below = at(41, 79.6)
    assert 150 < below[0] < 250, "a shadow, fading"
    document.close()
    found = zxingcpp.read_barcodes(shown)
    assert [one.text for one in found] == ["https://saltmarsh.example/open-hide"]
