"""Setting pieces up and changing them: each main job from the first click to the boxes of the PDF."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path

import pikepdf
from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Paragraph
from tests.browser.conftest import Server, settled
from tests.browser.helpers import poured

LN = ".content .frame:not([data-field]) .ln"


def pressed(page: Page, address: str) -> pikepdf.Pdf:
    """Make the print file of a job through the interface and open it."""
    page.goto(f"{address}press/")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=30_000)
    with page.expect_download() as waiting:
        page.click("text=Download")
    return pikepdf.open(io.BytesIO(Path(waiting.value.path()).read_bytes()))


def box(pdf: pikepdf.Pdf, name: str, index: int = 0) -> tuple[float, float]:
    """Width and height of a page's box in inches."""
    x0, y0, x1, y1 = (float(v) for v in pdf.pages[index][name])
    return round((x1 - x0) / 72, 2), round((y1 - y0) / 72, 2)


def new(page: Page, server: Server, kind: str, button: str, **fields: str) -> str:
    page.goto(f"{server.url}/new/")
    page.click(f"[data-kind='{kind}']")
    expect(page.locator("h1").first).to_have_text(kind.capitalize())
    page.wait_for_function(
        "() => document.documentElement.dataset.busy !== 'true'"
    )  # what is usual for the kind is there
    for name, value in fields.items():
        page.fill(f"[name='{name}']:not(:disabled)", value)
    page.click(f"text={button}")
    page.wait_for_url("**/board/")
    return page.url.removesuffix("board/")


def write_in_frame(page: Page, text: str, x: float, y: float) -> None:
    """Draw a text frame at a place of the sheet (fractions of it) and type in it."""
    sheet = page.locator(".leaf .paper").first.bounding_box()
    assert sheet
    page.click("#tools >> text=Text frame")
    page.mouse.move(sheet["x"] + sheet["width"] * x, sheet["y"] + sheet["height"] * y)
    page.mouse.down()
    page.mouse.move(sheet["x"] + sheet["width"] * (x + 0.2), sheet["y"] + sheet["height"] * (y + 0.1), steps=5)
    page.mouse.up()
    page.wait_for_selector(".caret", state="attached")
    page.keyboard.type(text)
    settled(page)
    page.keyboard.press("Escape")


def test_a_cover_from_pages_and_paper(demo: Page, server: Server) -> None:
    page = demo
    page.goto(f"{server.url}/new/")
    page.click("[data-kind='cover']")
    expect(page.locator("[data-notes=spine]")).to_contain_text("150 × 0.002252 in = 0.338 in (8.6 mm)")
    expect(page.locator("[data-notes=spine]")).to_contain_text("text up to 13 pt")
    expect(page.locator("label[for=b-inner]")).to_have_text("Left")
    page.click("[data-kind='book']")
    expect(page.locator("label[for=b-inner]")).to_have_text("Inside")
    page.click("[data-kind='cover']")
    expect(page.locator("label[for=b-inner]")).to_have_text("Left")
    page.fill("#spine", "0.5in")
    expect(page.locator("[data-notes=spine] .bad")).to_contain_text("150 pages of white book paper make 0.3378 in")
    page.fill("#spine", "")
    page.fill("#pages-c", "300")
    expect(page.locator(".drawing .dimension.strong")).to_contain_text("0.676 in")
    page.fill("#pages-c", "0")
    expect(page.locator("[data-error=spine]")).to_contain_text("Type the number of pages")
    page.fill("#pages-c", "150")
    page.fill("#name", "Grey birds, cover")
    page.click("text=Create cover")
    page.wait_for_url("**/board/")
    address = page.url.removesuffix("board/")
    expect(page.locator(".fold-line")).to_have_count(2)
    write_in_frame(page, "On the front", 0.7, 0.4)
    with pressed(page, address) as pdf:
        assert (box(pdf, "/TrimBox"), box(pdf, "/BleedBox")) == ((12.34, 9.0), (12.59, 9.25))

    # Twice the pages: the spine grows, and what stands on the front goes with it.
    page.goto(f"{address}brief/")
    page.fill("#pages-c", "300")
    expect(page.locator("#anchor")).to_be_visible()
    with page.expect_navigation():
        page.click("section button:has-text('Apply changes')")
    page.goto(f"{address}board/")
    left = page.locator(".content .frame text").first.get_attribute("x")
    page.click("#undo")
    page.wait_for_function(f"() => document.querySelector('.content .frame text').getAttribute('x') !== '{left}'")
    before = page.locator(".content .frame text").first.get_attribute("x")
    assert abs(float(left or 0) - float(before or 0) - 150 * 0.002252 * 72) < 0.01


def test_a_flat_card_becomes_a_folding_one(demo: Page, server: Server) -> None:
    page = demo
    address = new(page, server, "card", "Create card", name="A flat card", width="5 in", height="5 in", pages="1")
    write_in_frame(page, "You are asked", 0.3, 0.4)
    page.goto(f"{address}brief/")
    page.click("text=Fold at the top")
    page.wait_for_function("() => document.querySelector('h1').textContent === 'Folded card'")
    expect(page.locator("[data-notes=envelope]")).to_contain_text("Goes in")
    page.goto(f"{address}board/")
    expect(page.locator(LN).first).to_have_text("You are asked")
    assert float(page.locator(".content .frame text").first.get_attribute("y") or 0) > 360, (
        "the front is the lower half"
    )
    with pressed(page, address) as pdf:
        assert len(pdf.pages) == 2
        assert box(pdf, "/TrimBox") == box(pdf, "/TrimBox", 1) == (5.0, 10.0)
    page.goto(f"{address}board/")
    page.click("#undo")
    page.wait_for_function("() => document.getElementById('page-count').textContent === '1'")


def test_forty_pages_with_two_masters_a_roman_section_and_a_spread_moved(demo: Page, server: Server) -> None:
    page = demo
    address = new(page, server, "magazine", "Create magazine", name="Slack Water 15", pages="40")
    page.goto(f"{address}flatplan/")
    expect(page.locator("#binding")).to_contain_text("40 pages are possible ✓")
    expect(page.locator("#spreads .leaf[data-index]")).to_have_count(40)
    page.click("#master-add")
    page.fill("#ask input", "Notices")
    page.click("#ask-yes")
    expect(page.locator("#masters li")).to_have_count(2)
    page.click("#page-2")
    page.locator("#page-5").click(modifiers=["Shift"])
    expect(page.locator("#title")).to_contain_text("4 pages")
    page.keyboard.press("2")
    expect(page.locator("#masters li").nth(1)).to_contain_text("4 pages")

    # Edited in place, the master shows on all four.
    page.click("[aria-label='Edit the master page Notices']")
    page.wait_for_selector("#master-band:visible")
    expect(page.locator("#master-band")).to_contain_text("“Notices”: shows on 4 pages")
    write_in_frame(page, "Page ", 0.1, 0.05)
    page.keyboard.press("Enter")
    page.keyboard.press("End")
    page.click("text=Insert…")
    page.select_option("#ask select", "page")
    page.click("#ask-yes")
    settled(page)
    expect(page.locator(LN).first).to_have_text("Page #")
    page.click("footer >> text=Close master page")
    page.wait_for_selector("#master-band", state="hidden")

    page.goto(f"{address}flatplan/")
    page.click("#page-0")
    page.fill("#section-name", "Front")
    page.select_option("#section-style", "i")
    page.click("#section-put")
    expect(page.locator("#page-3 .number")).to_have_text("iv")
    page.click("#page-4")
    page.fill("#section-name", "Features")
    page.fill("#section-start", "1")
    page.click("#section-put")
    expect(page.locator("#page-4 .number")).to_have_text("1")
    expect(page.locator(".band-name").first).to_have_text("Front")

    # The spread of pages 2 and 3 is dragged behind the next one; then everything is taken back.
    page.click("#page-1")
    page.locator("#page-2").click(modifiers=["Shift"])
    start, end = page.locator("#page-1").bounding_box(), page.locator("#page-4").bounding_box()
    assert start
    assert end
    page.mouse.move(start["x"] + 20, start["y"] + 60)
    page.mouse.down()
    page.mouse.move(end["x"] + end["width"] - 4, end["y"] + 60, steps=8)
    expect(page.locator("#drop-line")).to_be_visible()
    page.mouse.up()
    page.wait_for_function(
        "() => document.querySelector('#page-2 .tab').title.includes('Notices') && document.querySelector('#page-1 "
        ".tab').title.includes('Notices')"
    )
    expect(page.locator("#title")).to_contain_text("2 pages")
    with pressed(page, address) as pdf:
        assert len(pdf.pages) == 40
        labels = pdf.Root.PageLabels.Nums
        assert [str(labels[i * 2 + 1].P) for i in range(4)] == ["i", "ii", "1", "2"]
    page.goto(f"{address}flatplan/")
    page.keyboard.press("Control+z")
    expect(page.locator("#page-4 .number")).to_have_text("1")
    page.click("#page-0")
    page.keyboard.press("Delete")
    expect(page.locator("#spreads .leaf[data-index]")).to_have_count(39)
    expect(page.locator("#binding")).to_contain_text("39 pages become 40")


def test_a_set_up_is_kept_renamed_and_begun_from(demo: Page, server: Server) -> None:
    page = demo
    page.goto(f"{server.url}/new/")
    page.fill("#width", "111 mm")
    page.click("text=Save set-up as")
    page.fill("#keepname", "Narrow house size")
    page.click("details[open] button:has-text('Save')")
    row = page.locator("[data-id]", has_text="Narrow house size")
    expect(row).to_have_count(1)
    row.locator("text=Rename").click()
    page.fill("[data-id] input", "House size")
    page.click("[data-id] button:has-text('Save')")
    expect(page.locator("[data-id] span", has_text="House size")).to_have_text("House size")
    page.goto(f"{server.url}/new/")
    page.select_option("#from", label="House size")
    page.wait_for_url("**/new/?from=*")
    expect(page.locator("#width")).to_have_value("111 mm")
    page.click("text=Save set-up as")
    page.locator("[data-id]", has_text="House size").locator("text=Delete").click()
    expect(page.locator("[data-id]")).to_have_count(0)
    page.get_by_role("button", name="Restore").click()
    expect(page.locator("[data-id]")).to_have_count(1)
    page.goto(f"{server.url}/new/?from=abc")
    page.select_option("#from", label="House size")
    page.wait_for_url("**/new/?from=*")
    expect(page.locator("#width")).to_have_value("111 mm")
    expect(page.locator("#from option:checked")).to_have_text("House size")
    page.select_option("#from", label="default values")
    expect(page.locator("#width")).not_to_have_value("111 mm")


def test_a_template_waits_for_its_button_keeps_the_name_and_leaves_its_text_out(
    demo: Page, server: Server, opened: Callable[[Job], Page]
) -> None:
    """Selecting a template makes nothing yet; without its text the main text is empty, and undo brings it back."""
    page = opened(poured(Paragraph("p1", "chapter", "Waders"), Paragraph("p2", "body", "The tide turned.")))
    key = page.url.split("/job/")[1].split("/")[0]
    page.goto(server.url)
    card = page.locator("li.card", has=page.locator(f"a[href*='{key}']")).first
    card.locator("summary", has_text="Duplicate").click()
    card.get_by_label("Name of the template").fill("House book")
    card.get_by_role("button", name="Save as template").click()
    expect(page.get_by_role("link", name="New job from template")).to_have_count(1)
    jobs = page.locator("li.card").count()

    page.goto(f"{server.url}/new/")
    page.fill("#name", "A winter of waders")
    page.select_option("#from", label="House book")
    page.wait_for_url("**template=*")
    expect(page.locator("#name")).to_have_value("A winter of waders")
    expect(page.get_by_label("With its main text")).to_be_checked()
    other = page.context.new_page()
    other.goto(server.url)
    assert other.locator("li.card").count() == jobs, "nothing is made by selecting it"
    other.close()

    page.get_by_label("With its main text").uncheck()
    page.get_by_role("button", name="Create book").click()
    page.wait_for_url("**/board/")
    expect(page.locator("header, .strip").first).to_contain_text("A winter of waders")
    page.wait_for_function("() => document.documentElement.dataset.ready")
    expect(page.locator(".content")).not_to_contain_text("The tide turned.")
    page.locator("#undo").click()
    expect(page.locator(".content")).to_contain_text("WADERS")
