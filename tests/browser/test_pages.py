"""Pages and masters by pointer and keyboard: taking over, templates over the board, the flatplan's keys."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, new_book, settled
from tests.browser.helpers import command
from tests.browser.test_setup import LN, new
from tests.core.helpers import words
from tests.web.test_overlays import red_pdf


def test_an_element_is_taken_over_and_given_back(demo: Page, server: Server) -> None:
    page = demo
    story = "\n\n".join(["Chapter One", *(words(90, n) for n in range(16))])
    address = new_book(page, server, story)
    page.goto(f"{address}board/?page=3")
    head = page.locator("[data-page='2'] .frame", has_text="Chapter One")
    box = head.bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator(".slip .sub").first).to_have_text("from the master page")
    page.click("text=Override master object")
    expect(page.locator(".slip .sub").first).to_contain_text("overrides the master page")
    page.keyboard.press("Enter")
    page.keyboard.press("Home")
    page.keyboard.type("Proof: ")
    settled(page)
    expect(page.locator("[data-page='2'] .frame", has_text="Proof: Chapter One")).to_have_count(1)
    page.keyboard.press("Escape")
    page.click("text=Revert to master")
    settled(page)
    expect(page.locator("[data-page='2'] .frame", has_text="Proof")).to_have_count(0)
    expect(page.locator("[data-page='2'] .frame", has_text="Chapter One")).to_have_count(1)


def test_standing_copy_is_put_in_while_typing_and_changed_in_one_place(demo: Page, server: Server) -> None:
    page = demo
    address = new_book(page, server, "Published by\n\nPrinted for")
    page.goto(f"{address}board/")
    for line in (0, 1):
        box = page.locator(LN).nth(line).bounding_box()
        assert box
        page.mouse.dblclick(box["x"] + 20, box["y"] + box["height"] / 2)
        page.mouse.dblclick(box["x"] + 20, box["y"] + box["height"] / 2)
        page.keyboard.press("End")
        page.keyboard.type(" ")
        settled(page)
        page.click("text=Insert…")
        if line == 0:
            page.select_option("#ask select", "new")
            page.locator("#ask").get_by_label("Name").fill("House")
            page.locator("#ask").get_by_label("Text", exact=True).fill("the Observatory")
        else:
            page.select_option("#ask select", label="standing copy: House (1 use)")
        page.click("#ask-yes")
        settled(page)
    expect(page.locator(LN).nth(0)).to_have_text("Published by the Observatory")
    expect(page.locator(LN).nth(1)).to_have_text("Printed for the Observatory")
    # The caret passes over it as over one character.
    page.keyboard.press("ArrowLeft")
    page.keyboard.type("(")
    settled(page)
    expect(page.locator(LN).nth(1)).to_have_text("Printed for (the Observatory")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.locator(".group", has_text="Standing copy").locator("text=Edit").click()
    expect(page.locator("#ask select").first).to_contain_text("House, 2 uses")
    page.fill("#ask input >> nth=1", "the Saltmarsh Observatory")
    page.click("#ask-yes")
    settled(page)
    expect(page.locator(LN).nth(0)).to_have_text("Published by the Saltmarsh Observatory")
    expect(page.locator(LN).nth(1)).to_have_text("Printed for (the Saltmarsh Observatory")
    # What is refused is said in the dialog, and what was typed stays in it.
    page.locator(".group", has_text="Standing copy").locator("text=Edit").click()
    page.select_option("#ask select >> nth=0", "")
    page.fill("#ask input >> nth=0", "house")
    page.fill("#ask input >> nth=1", "words worth keeping")
    page.expected.add(400)  # type: ignore[attr-defined]
    page.click("#ask-yes")
    expect(page.locator("#ask-problem")).to_contain_text("There is a standing copy “house” already")
    expect(page.locator("#ask input >> nth=1")).to_have_value("words worth keeping")
    page.keyboard.press("Escape")


def test_a_template_is_laid_over_and_hidden_with_one_key(demo: Page, server: Server) -> None:
    page = demo
    new(page, server, "cover", "Create cover", name="With a template")
    page.wait_for_selector("#sheet .paper")
    page.expected.add(400)  # type: ignore[attr-defined]
    page.set_input_files("#overlay", {"name": "t.pdf", "mimeType": "application/pdf", "buffer": b"no template"})
    expect(page.locator(".slip [role=alert]")).to_contain_text("nor an SVG or PDF")
    page.set_input_files("#overlay", {"name": "t.pdf", "mimeType": "application/pdf", "buffer": red_pdf(900, 700)})
    expect(page.locator(".overlays image")).to_have_count(1)
    expect(page.locator(".slip")).to_contain_text("t.pdf")
    page.locator("#sheet").focus()
    command(page, "Show or hide printer’s template")
    expect(page.locator(".overlays image")).to_be_hidden()
    command(page, "Show or hide printer’s template")
    expect(page.locator(".overlays image")).to_be_visible()
    page.click("text=Remove")
    expect(page.locator(".overlays image")).to_have_count(0)


def test_the_flatplan_by_keyboard(demo: Page, server: Server) -> None:
    page = demo
    address = new(page, server, "magazine", "Create magazine", name="By keys", pages="8")
    page.goto(f"{address}flatplan/")
    page.expected |= {400, 404}  # type: ignore[attr-defined]  # a miniature may be asked for as its page is taken away
    page.click("#page-0")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("#title")).to_have_text("2 pages, 2 to 3")
    page.keyboard.press("d")
    expect(page.locator("#spreads .leaf[data-index]")).to_have_count(10)
    expect(page.locator("#binding")).to_contain_text("10 pages become 12")
    page.keyboard.press("Alt+ArrowRight")
    page.wait_for_function("() => document.getElementById('undo').title === 'Undo: move pages'")
    expect(page.locator("#title")).to_have_text("2 pages, 3 to 4")
    page.keyboard.press("Delete")
    expect(page.locator("#spreads .leaf[data-index]")).to_have_count(8)
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(page.locator("#undo")).to_be_disabled()
    expect(page.locator("#spreads .leaf[data-index]")).to_have_count(8)
    expect(page.locator("#count")).to_have_text("8 pages")
    page.click("#page-2", button="right")
    page.click("[role=menuitem]:has-text('Start section here')")
    expect(page.locator(".band-name")).to_have_text("Section")
    page.click("#page-2", button="right")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.locator("#spreads .leaf[data-index]")).to_have_count(9)
    page.keyboard.press("Control+z")
    expect(page.locator("#spreads .leaf[data-index]")).to_have_count(8)
    page.click("text=Add pages")
    page.fill("#add-count", "many")
    page.click("button:has-text('Add pages')")
    expect(page.locator("#toast")).to_contain_text("Type the number of pages")
    page.click("#page-7")
    page.keyboard.press("Control+a")
    page.keyboard.press("Delete")
    expect(page.locator("#toast")).to_contain_text("must have at least one page")
    page.keyboard.press("Escape")
    page.click("#page-3")
    page.keyboard.press("Enter")
    page.wait_for_url("**/board/?page=4")
