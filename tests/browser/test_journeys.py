"""The main jobs of a person, from the first click to the file."""

from __future__ import annotations

import io
import re
from pathlib import Path

import pikepdf
import pypdfium2 as pdfium
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, new_book, settled, still
from tests.browser.helpers import select_first
from tests.core.helpers import words

AXE = (Path(__file__).parents[1] / "vendor/axe.min.js").read_text()
LN = ".content .frame:not([data-field]) .ln"  # running heads and folios left out
STORY = "\n\n".join(
    [
        "Chapter One",
        *(words(70, n) for n in range(14)),
        "Chapter Two",
        f"{words(60, 99)} -- so.",
        "It ends with a mispeling here.",
    ]
)


def undo_all(page: Page, but: str) -> None:
    """Take back one step after the other, up to the one that is called ``but``."""
    button = page.locator("#undo")
    while button.is_enabled() and button.get_attribute("title") != f"Undo: {but}":
        with page.expect_response("**/undo/"):
            button.click()
        settled(page)


def test_from_nothing_to_a_print_ready_book(page: Page, server: Server) -> None:
    page.goto(server.url)
    page.click("text=Create account")
    page.fill("[name=username]", "first.timer")
    page.fill("[name=password1]", "a long dry plank")
    page.fill("[name=password2]", "a long dry plank")
    page.click("button:has-text('Create account')")
    expect(page.locator("text=The shelf is empty")).to_be_visible()
    page.click("text=Set up book")
    page.fill("#name", "The Long Thread")
    page.fill("#width", "5in + 0.5in")
    expect(page.locator(".drawing .dimension").first).to_contain_text("5.5 in")
    page.fill("#width", "wide")
    expect(page.locator("[data-error=width]")).to_contain_text("is not a length")
    expect(page.locator("text=Create book")).to_be_disabled()
    page.select_option("#named", "6x9in")
    expect(page.locator("#width")).to_have_value("6 in")
    page.click("text=Create book")

    page.wait_for_url("**/manuscript/")
    page.expected.add(400)  # type: ignore[attr-defined]
    page.set_input_files(
        "input[type=file]", {"name": "novel.txt", "mimeType": "text/plain", "buffer": b"\x89PNG\r\n\x1a\n...."}
    )
    expect(page.locator("[role=alert]:visible")).to_contain_text("This is a PNG picture, not a text file")
    page.set_input_files("input[type=file]", {"name": "novel.txt", "mimeType": "text/plain", "buffer": STORY.encode()})
    expect(page.locator("text=Chapter heading").first).to_be_visible()
    expect(page.locator(".copy .heading").first).to_have_text("Chapter One")
    chosen = page.get_by_label("Style of “Chapter One”")
    chosen.select_option(label="Section heading")
    begins = page.locator(".copy .contents", has_text="Chapter One").locator(".style")
    expect(begins).to_have_text("Section heading")
    expect(page.locator("li", has_text="Section heading").first).to_contain_text("1 Section heading")
    expect(page.locator("li", has_text="Chapter heading").first).to_contain_text("1 Chapter heading")
    for _ in range(2):  # a clean-up on, and off again
        with page.expect_response("**/look/"):
            page.locator(".cleaned input").first.click()
        expect(page.locator("#main").get_by_text("Reading novel.txt")).to_be_hidden()
    expect(chosen.locator("option:checked")).to_have_text("Section heading")
    expect(begins).to_have_text("Section heading")
    chosen.select_option(label="Chapter heading")
    page.click("text=Pour into the pages")

    page.wait_for_url("**/flatplan/")
    page.locator("#spreads .leaf img").nth(2).wait_for()
    page.wait_for_function(
        "() => [...document.querySelectorAll('#spreads img')].slice(0, 4).every((i) => i.complete && i.naturalWidth "
        "> 50)"
    )
    page.locator("#spreads .leaf[data-index]").last.dblclick()

    page.wait_for_selector(".content .ln")
    page.evaluate("() => document.fonts.ready")
    line = page.locator(LN, has_text="mispeling")
    box = line.bounding_box()
    assert box
    page.keyboard.press("2")
    page.mouse.dblclick(box["x"] + box["width"] * 0.72, box["y"] + box["height"] / 2)
    page.keyboard.type("misspelling")
    settled(page)
    expect(page.locator(LN, has_text="It ends with a misspelling here.")).to_have_count(1)

    page.click("nav >> text=Press")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=30_000)
    expect(page.locator("dl.facts")).to_contain_text("PDF/X-4, checked against our rules")
    expect(page.locator("dl.facts")).to_contain_text("6 × 9 in")
    page.wait_for_function("() => document.querySelector('img[alt^=\"Page 1 of\"]').naturalWidth > 300")
    with page.expect_download() as waiting:
        page.click("text=Download")
    data = Path(waiting.value.path()).read_bytes()
    assert waiting.value.suggested_filename == "the-long-thread-print.pdf"
    with pikepdf.open(io.BytesIO(data)) as pdf:
        trim = [float(v) for v in pdf.pages[0].TrimBox]
        assert (trim[2] - trim[0], trim[3] - trim[1]) == (432, 648)
        assert str(pdf.docinfo["/GTS_PDFXVersion"]) == "PDF/X-4"
    document = pdfium.PdfDocument(data)
    text = " ".join(document[i].get_textpage().get_text_range() for i in range(len(document)))
    assert "misspelling" in text
    assert "mispeling" not in text


def test_typing_selecting_copying_undoing_and_coming_back(demo: Page, server: Server) -> None:
    page = demo
    address = new_book(
        page,
        server,
        "First paragraph of few words.\n\nSecond one, rather longer than the first one was, so that it fills a "
        "line.\n\nThird.",
    )
    page.goto(f"{address}board/")
    page.keyboard.press("Tab")
    select_first(page)
    page.keyboard.press("Enter")
    page.keyboard.type("Now ")
    settled(page)
    expect(page.locator(LN).first).to_have_text("Now First paragraph of few words.")
    page.keyboard.press("End")
    page.keyboard.press("Enter")
    page.keyboard.type("A new paragraph.")
    settled(page)
    expect(page.locator(LN).nth(1)).to_have_text("A new paragraph.")
    page.keyboard.press("Home")
    page.keyboard.press("Backspace")
    settled(page)
    expect(page.locator(LN).first).to_have_text("Now First paragraph of few words.A new paragraph.")
    page.keyboard.press("Control+z")
    page.wait_for_function(
        "() => document.querySelectorAll('.frame:not([data-field]) .ln')[1].textContent === 'A new paragraph.'"
    )

    # Words and lines by keyboard; italic; cut and paste.
    page.keyboard.press("Home")
    page.keyboard.press("Control+Shift+ArrowRight")
    page.keyboard.press("Control+Shift+ArrowRight")
    page.keyboard.press("Control+i")
    page.wait_for_function(
        "() => [...document.querySelectorAll('.frame:not([data-field]) .ln')[1].children].some((t) => "
        "t.getAttribute('font-family').includes('italic'))"
    )
    page.keyboard.press("Control+x")
    page.wait_for_function(
        "() => document.querySelectorAll('.frame:not([data-field]) .ln')[1].textContent.trim() === 'paragraph.'"
    )
    page.keyboard.press("End")
    page.keyboard.press("Control+v")
    settled(page)
    expect(page.locator(LN).nth(1)).to_contain_text("paragraph.A new")
    # The whole text, typed over.
    page.keyboard.press("Control+a")
    page.wait_for_function("() => document.querySelectorAll('.selection').length >= 4")
    page.keyboard.type("All gone")
    settled(page)
    expect(page.locator(LN)).to_have_count(1)
    expect(page.locator(LN).first).to_have_text("All gone")

    # Undo goes on after the page is loaded anew.
    page.reload()
    page.wait_for_selector(".content .ln")
    page.locator("#undo").click()
    page.wait_for_function("() => document.querySelectorAll('.frame:not([data-field]) .ln').length > 3")
    page.locator("#redo").click()
    page.wait_for_function("() => document.querySelectorAll('.frame:not([data-field]) .ln').length === 1")
    undo_all(page, but="import manuscript")
    expect(page.locator(LN).first).to_have_text("First paragraph of few words.")


def test_quotation_marks_typed_become_the_languages_unless_switched_off(demo: Page, server: Server) -> None:
    page = demo
    address = new_book(page, server, "Plain words.")
    page.goto(f"{address}board/")
    select_first(page)
    page.keyboard.press("Enter")
    page.keyboard.type('"It\'s low," he said. ')
    settled(page)
    line = page.locator(".content .frame:not([data-field]) .ln").first
    expect(line).to_contain_text("“It’s low,” he said.")
    page.click("#marks")
    page.keyboard.type('"')
    settled(page)
    expect(line).to_contain_text('"Plain words.')
    page.reload()
    expect(page.locator("#marks")).to_have_attribute("aria-pressed", "false")


def test_the_slip_and_the_strip_say_what_is_shown(demo: Page, server: Server) -> None:
    page = demo
    address = new_book(page, server, "\n\n".join(["The tide is late again and the geese are out."] * 300))
    page.goto(f"{address}board/")
    heading = page.locator(".slip h1").first
    expect(heading).to_have_text("Page 1")
    page.locator("#sheet").focus()
    page.keyboard.press("PageDown")
    expect(heading).to_have_text("Pages 2–3")
    expect(page.locator(".slip")).to_contain_text("of page 2, on the left")
    expect(page.locator("#redo")).to_be_disabled()
    page.keyboard.press("Tab")
    assert page.evaluate("document.activeElement.id") != "sheet", "the board is one stop of the keyboard"


def test_composing_text_with_an_input_method(demo: Page, server: Server) -> None:
    page = demo
    address = new_book(page, server, "Plain words.")
    page.goto(f"{address}board/")
    select_first(page)
    page.keyboard.press("Enter")
    devtools = page.context.new_cdp_session(page)
    devtools.send("Input.imeSetComposition", {"text": "ca", "selectionStart": 2, "selectionEnd": 2})
    devtools.send("Input.imeSetComposition", {"text": "café", "selectionStart": 4, "selectionEnd": 4})
    expect(page.locator(LN).first).to_have_text("caféPlain words.")
    devtools.send("Input.insertText", {"text": "café "})
    settled(page)
    expect(page.locator(LN).first).to_have_text("café Plain words.")
    page.reload()
    expect(page.locator(LN).first).to_have_text("café Plain words.")


def test_drawing_moving_and_linking_frames(demo: Page, server: Server) -> None:
    page = demo
    address = new_book(page, server, "Only a line.")
    page.goto(f"{address}board/")
    sheet = page.locator(".leaf .paper").first.bounding_box()
    assert sheet

    def at(x: float, y: float) -> tuple[float, float]:
        return sheet["x"] + sheet["width"] * x, sheet["y"] + sheet["height"] * y

    def drag(start: tuple[float, float], end: tuple[float, float]) -> None:
        page.mouse.move(*start)
        page.mouse.down()
        page.mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2, steps=4)
        page.mouse.move(*end, steps=4)

    page.click("#tools >> text=Text frame")
    drag(at(0.2, 0.5), at(0.6, 0.56))
    expect(page.locator("#numbers")).to_be_visible()
    expect(page.locator("#numbers")).to_contain_text(" in × ")
    page.mouse.up()
    page.wait_for_selector(".caret", state="attached")
    page.keyboard.insert_text(words(60, 5))
    settled(page)
    tab = page.locator(".overset")
    expect(tab).to_contain_text("words")
    page.keyboard.press("Escape")
    page.click("text=Link to new frame")
    drag(at(0.2, 0.7), at(0.7, 0.95))
    page.mouse.up()
    expect(tab).to_have_count(0)
    expect(page.locator(".slip .sub").first).to_contain_text("frame 2 of 2")

    left = page.locator("#fx")
    left.fill("1in + 6pt")
    left.press("Enter")
    expect(left).to_have_value("1.0833 in")
    left.fill("far away")
    left.press("Enter")
    expect(page.locator(".slip [role=alert]")).to_contain_text("is not a length")
    expect(left).to_have_value("1.0833 in")
    drag(at(0.4, 0.85), at(0.4, 0.80))
    page.mouse.up()
    settled(page)
    # The master's own frame, made smaller on this page: it is taken over, and can go back.
    page.mouse.click(*at(0.5, 0.3))
    expect(page.locator(".slip .sub").first).to_contain_text("from the master page")
    page.fill("#fh", "2in")
    page.press("#fh", "Enter")
    expect(page.locator(".slip .sub").first).to_contain_text("overrides the master page")
    page.click("text=Revert to master")
    settled(page)
    undo_all(page, but="import manuscript")
    page.mouse.click(*at(0.4, 0.9))
    expect(page.locator(".frame:not([data-field])")).to_have_count(1)


def test_stopping_a_long_output(demo: Page, server: Server) -> None:
    page = demo
    address = new_book(page, server, "\n\n".join(words(120, n) for n in range(700)))
    page.goto(f"{address}press/")
    page.get_by_role("button", name="Export", exact=True).click()
    page.wait_for_function("() => /page [1-9]\\d* of/.test(document.body.innerText)")
    page.click("button:has-text('Cancel')")
    expect(page.get_by_role("button", name="Export", exact=True)).to_be_visible()
    page.reload()
    expect(page.locator("text=No output yet")).to_be_visible()


def test_any_command_is_found_by_its_words(demo: Page, server: Server) -> None:
    page = demo
    page.locator(
        "main li.card > a", has=page.locator("b", has_text=re.compile("^Birds of the Merrow Flats$"))
    ).first.click()
    page.wait_for_selector(".content .frame", state="attached")
    zoom = page.inner_text("#zoom")
    page.keyboard.press("Control+k")
    page.keyboard.type("in zoo")
    expect(page.locator("#finder-list li").first).to_have_text("Zoom in+")
    page.keyboard.press("Enter")
    expect(page.locator("#zoom")).not_to_have_text(zoom)
    page.keyboard.press("Control+k")
    page.keyboard.type("text")
    expect(page.locator("#finder-list li").first).to_have_text("Text tool2")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    expect(page.locator("[data-tool=text]")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.locator("#keys dd")).to_contain_text(["find any command"])
    page.keyboard.press("Escape")
    # What cannot be done now says what it needs; other words of the trade find the same.
    page.keyboard.press("Control+k")
    row = page.locator("#finder-list li", has_text="Duplicate")
    page.keyboard.type("dupl")
    expect(row).to_have_attribute("aria-disabled", "true")
    expect(row).to_contain_text("Select an object first.")
    page.keyboard.press("Enter")
    expect(page.locator("#finder")).to_be_visible()
    for typed, found in (
        ("kerning", "Type in the spec line"),
        ("ungroup", "Ungroup"),
        ("bleed", "Fill the bleed"),
        ("replace a font", "Find and replace text, fonts, styles, colours"),
        ("table of contents", "Insert listing"),
        ("export pdf", "Export PDF, images"),
        ("paragraph style", "Edit styles"),
        ("footnote", "Insert footnote"),
        ("guides", "Show or hide guides"),
        ("mask", "Clip to the topmost shape"),
        ("rotate", "Rotate 90° clockwise"),
        ("crop", "Adjust crop: move, scale and rotate picture in its frame"),
    ):
        page.locator("#finder input").fill(typed)
        expect(page.locator("#finder-list"), typed).to_contain_text(found)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    page.keyboard.type("no such thing")
    expect(page.locator("#finder")).to_contain_text("No command matches.")
    assert not violations(page, "finder")
    page.keyboard.press("Control+a")
    page.keyboard.type("export pdf")
    page.keyboard.press("Enter")
    page.wait_for_url("**/press/")
    page.keyboard.press("Control+k")
    page.keyboard.type("export")
    expect(page.locator("#finder-list li").first).to_have_text("Export")


def test_every_place_passes_axe(demo: Page, server: Server) -> None:
    """axe-core's rules for WCAG 2 A and AA."""
    page = demo
    found: dict[str, list[str]] = {}
    page.locator(
        "main li.card > a", has=page.locator("b", has_text=re.compile("^Birds of the Merrow Flats$"))
    ).first.click()
    page.wait_for_selector(".content .frame")
    address = page.url.split("board/")[0]
    for place in (
        "/",
        "/new/",
        "/new/?kind=cover",
        "/new/?kind=brochure",
        f"{address}board/?master=text",
        f"{address}brief/",
        f"{address}flatplan/",
        f"{address}board/?page=18",
        f"{address}manuscript/",
        f"{address}manuscript/find/?words=tide",
        f"{address}manuscript/rules/",
        f"{address}manuscript/spelling/",
        f"{address}merge/",
        f"{address}check/",
        f"{address}press/",
        "publication",
        "cards",
        f"{address}compare/?from=0",
    ):
        if place == "publication":
            page.goto(server.url)
            page.click("text=Birds of the Merrow Flats, cover and inside")
            page.locator("li.part button:has-text('differ')").click()
        elif place == "cards":
            page.goto(server.url)
            page.locator("main li.card > a", has=page.locator("b", has_text="Wardens’ cards")).first.click()
            page.wait_for_selector(".content .frame", state="attached")
            page.click("[data-drawer=fields]")
            page.wait_for_selector(".field-row")
            still(page)
            found |= violations(page, "drawer of fields")
            page.click("[data-drawer=fields]")
            page.click(".strip-places >> text=Merge")
            page.wait_for_selector(".merge-level.error")
            page.click(".merge-row[data-number='7'] [data-column='1']")
            still(page)
            found |= violations(page, "the piece of a merge")
            page.click("#export-tab")
        else:
            page.goto(place if place.startswith("http") else server.url + place)
        still(page)
        if "flatplan" in place:
            page.click("#page-2")
            page.click("[data-sheets=pairs]")
            still(page)
        if "board" in place:
            page.mouse.click(250, 300)
            still(page)
        found |= violations(page, place)
        for drawer in ("layers", "pages") if "page=18" in place else ():
            page.click(f"[data-drawer={drawer}]")
            still(page)
            found |= violations(page, f"drawer of {drawer}")
        if "page=18" in place:
            page.evaluate(
                "() => document.querySelectorAll('.slip .group.folded h2, .slip .section-head').forEach((e) => "
                "e.click())"
            )
            found |= violations(page, "full groups of the slip")
            for name, opener in (("fonts", "#tf + button"), ("styles", "#ps + button")):
                page.click(opener)
                page.locator(f"#{name} .font-row, #{name} .style-row svg").first.wait_for()
                still(page)
                found |= violations(page, f"{name} dialog")
                page.keyboard.press("Escape")
    assert not found


def violations(page: Page, place: str) -> dict[str, list[str]]:
    """What axe finds; the contrast of what a job draws on its pages is the designer's, so it is not looked at there."""
    page.evaluate(AXE)
    result = page.evaluate("""async () => {
          const runOnly = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'];
          const rules = { 'color-contrast': { enabled: false } };
          const all = await axe.run(document, { runOnly, rules, resultTypes: ['violations'] });
          const interface_ = { exclude: [['.content'], ['svg']] };
          const contrast = await axe.run(interface_, { runOnly: ['color-contrast'], resultTypes: ['violations'] });
          return [...all.violations, ...contrast.violations];
        }""")
    rows = [f"{v['id']}: {n['target']} {n['failureSummary'][:160]}" for v in result for n in v["nodes"]]
    return {place: rows} if rows else {}
