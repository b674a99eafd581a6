"""An invitation from the empty card to the printer's file: a texture to the bleed, named inks, leaves out of a drawing,
type as shapes, and an inside that it did not have."""

from __future__ import annotations

from pathlib import Path

import numpy
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, settled
from tests.browser.test_flyer import command, said
from tests.browser.test_framing import drag
from tests.browser.test_inks import mixed
from tests.browser.test_pictures import hands_in
from tests.browser.test_setup import box, new, pressed

LEAVES = """<svg xmlns="http://www.w3.org/2000/svg" width="200" height="160" viewBox="0 0 200 160">
<g id="left"><path d="M10 150C10 80 50 60 90 60C90 110 60 150 10 150Z" fill="#7da33c"/></g>
<g id="right"><path d="M190 150C190 80 150 60 110 60C110 110 140 150 190 150Z" fill="#3c6da3"/></g></svg>"""


def texture(path: Path) -> Path:
    """The grain of a paper, 300 pixels to the inch of a square of five inches and its bleed."""
    chance = numpy.random.default_rng(5)
    Image.fromarray(chance.integers(205, 245, (1600, 1600), dtype="uint8")).save(path, dpi=(300, 300))
    return path


def test_an_invitation_from_an_empty_card_to_a_folding_one_in_print(demo: Page, server: Server, tmp_path: Path) -> None:
    page = demo
    address = new(
        page, server, "card", "Create card", name="The plank is asked", width="5 in", height="5 in", pages="1"
    )
    settled(page)
    # A paper's grain to the bleed, darkening what lies below it.
    page.locator("#sheet").focus()
    page.click("[data-drawer=pictures]")
    hands_in(page, lambda: page.get_by_role("button", name="Import…").click(), texture(tmp_path / "grain.png"))
    page.get_by_role("button", name="Place “grain”", exact=True).click()
    drag(page, (40, 40), (300, 300))
    expect(page.locator(".content image")).to_have_count(1)
    command(page, "fill the bleed")
    expect(page.locator("#fx")).to_have_value("-3 mm")
    said(page, ", blend multiply, opacity 50%")
    # Named inks of its own.
    page.click("[data-drawer=inks]")
    for name, *inks in (("Reed", "45", "15", "80", "10"), ("Night", "95", "72", "38", "40")):
        mixed(page, name, "process inks, CMYK", *inks)
        settled(page)
    # Leaves out of a drawing, in those inks.
    page.locator("#sheet").focus()
    page.keyboard.press("Escape")
    drawing = tmp_path / "leaves.svg"
    drawing.write_text(LEAVES)
    page.keyboard.press("Control+k")
    page.keyboard.type("import svg")
    with page.expect_file_chooser() as chooser:
        page.keyboard.press("Enter")
    chooser.value.set_files(drawing)
    leaves = page.locator('.content .frame[data-kind="shape"] path[fill]')
    expect(leaves).to_have_count(2)
    settled(page)
    command(page, "recolour")
    rows = page.locator("dialog[open] .recolour-row select")
    expect(rows).to_have_count(2)
    rows.nth(0).select_option(label="Reed")
    rows.nth(1).select_option(label="Night")
    page.locator("#ask-yes").click()
    settled(page)
    greens = {leaf.get_attribute("fill") for leaf in leaves.all()}
    assert len(greens) == 2
    assert not greens & {"#7da33c", "#3c6da3"}
    # A title, in its ink, as shapes; and a block of half its strength.
    page.keyboard.press("Escape")
    page.locator("[data-tool=frame]").click()
    drag(page, (60, 90), (300, 150))
    page.keyboard.type("The plank")  # at once, while the frame is still being made
    expect(page.locator(".content .ln")).to_have_text("The plank")
    settled(page)
    page.keyboard.press("Escape")
    said(page, ", 40/44, colour Night")
    page.get_by_role("button", name="Convert to outlines").click()
    settled(page)
    expect(page.locator(".content text")).to_have_count(0)
    page.locator("#sheet").focus()
    page.keyboard.press("Escape")
    page.locator("[data-tool=shape]").click()
    drag(page, (60, 300), (300, 340))
    settled(page)
    said(page, ", fill Reed 50%")
    # Grown into a folding card, whose front it is; the inside takes a text.
    page.goto(f"{address}brief/")
    page.click("text=Fold at the top")
    page.wait_for_function("() => document.querySelector('h1').textContent === 'Folded card'")
    page.goto(f"{address}board/?page=2")
    page.wait_for_selector(".paper")
    settled(page)
    page.locator("[data-tool=frame]").click()
    drag(page, (60, 420), (300, 520))
    page.keyboard.type("Soup at seven")
    expect(page.locator(".content .ln")).to_have_text("Soup at seven")
    settled(page)
    with pressed(page, address) as pdf:
        assert len(pdf.pages) == 2
        assert box(pdf, "/TrimBox") == (5.0, 10.0)
        assert box(pdf, "/BleedBox") == (5.24, 10.24)
