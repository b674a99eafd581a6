"""How many clicks a person needs from the shelf to the file: common pieces, made as one would."""

from __future__ import annotations

import io
from pathlib import Path

import pikepdf
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, settled
from tests.browser.helpers import clicks, command
from tests.browser.test_flyer import by_pointer, new_flyer

NOVEL = "\n\n".join(
    [
        "The Long Plank",
        *(
            f"Chapter {n}\n\n"
            + "\n\n".join(f"The tide turned at {m}, as it does, and nobody on the bank said so." for m in range(30))
            for n in range(1, 6)
        ),
    ]
)


def to_the_file(page: Page) -> bytes:
    """From any place of a job to its printed file, through the strip."""
    page.get_by_role("link", name="Press").click()
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=60_000)
    with page.expect_download() as waiting:
        page.click("text=Download")
    return Path(waiting.value.path()).read_bytes()


def test_a_novel_becomes_a_checked_file_within_ten_clicks(demo: Page, server: Server) -> None:
    page = demo
    begun = clicks(page)
    page.locator("#main").get_by_role("link", name="New job").click()
    page.fill("#name", "The Long Plank")
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    with page.expect_file_chooser() as waiting:
        page.locator("label.button", has_text="Import manuscript…").click()
    waiting.value.set_files({"name": "novel.txt", "mimeType": "text/plain", "buffer": NOVEL.encode()})
    page.click("text=Pour into the pages")
    page.wait_for_url("**/flatplan/")
    data = to_the_file(page)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) > 5
        assert pdf.Root.OutputIntents[0].S == "/GTS_PDFX"
    assert clicks(page) - begun <= 10


def test_a_flyer_is_made_within_forty_five_clicks(demo: Page, server: Server) -> None:
    page = demo
    begun = clicks(page)
    new_flyer(page, server)
    by_pointer(page)
    assert to_the_file(page).startswith(b"%PDF")
    assert clicks(page) - begun + 2 <= 45, (
        "with the two that lead from the shelf to the form, which is opened by its address here"
    )


def new_job(page: Page, kind: str, name: str, make: str) -> None:
    page.locator("#main").get_by_role("link", name="New job").click()
    page.get_by_role("radio", name=kind, exact=True).click()
    page.fill("#name", name)
    page.click(f"text={make}")
    page.wait_for_url("**/board/")
    page.wait_for_selector(".paper")
    settled(page)


def drawn(page: Page, tool: str, *part: float) -> None:
    """Draw with a tool over a part of the page: left, top, right and bottom as parts of its width and height."""
    box = page.locator(".paper").first.bounding_box()
    assert box
    at = [(box["x"] + x * box["width"], box["y"] + y * box["height"]) for x, y in (part[:2], part[2:])]
    page.click(f"#tools [data-tool={tool}]")
    page.mouse.move(*at[0])
    page.mouse.down()
    page.mouse.move(*at[1], steps=3)
    page.mouse.up()
    settled(page)


def typed(page: Page, words: str, line: str = "") -> None:
    """Words typed into the frame that was just drawn, and set by the spec line, which the slash key leads to."""
    page.keyboard.type(words)
    settled(page)
    page.keyboard.press("Escape")
    if line:
        page.locator("#sheet").focus()
        page.keyboard.press("/")
        page.keyboard.press("End")
        page.keyboard.type(f", {line}")
        page.keyboard.press("Enter")
        settled(page)


def test_a_cover_is_made_within_thirty_clicks(demo: Page, server: Server) -> None:
    page = demo
    begun = clicks(page)
    new_job(page, "Cover", "The Long Plank, cover", "Create cover")
    drawn(page, "shape", 0.3, 0.3, 0.6, 0.6)
    command(page, "Fill the bleed")
    settled(page)
    page.locator("#sheet").focus()
    page.keyboard.press("/")
    page.keyboard.press("End")
    page.keyboard.type(", fill Black 80%")
    page.keyboard.press("Enter")
    settled(page)
    drawn(page, "frame", 0.6, 0.15, 0.95, 0.35)
    typed(page, "The Long Plank", "colour Paper, fit line")
    drawn(page, "frame", 0.6, 0.75, 0.95, 0.82)
    typed(page, "A Warden", "colour Paper, 20/24, centre")
    drawn(page, "frame", 0.06, 0.15, 0.4, 0.5)
    typed(page, "Nobody has counted the boards. This book does not count them either.", "colour Paper, 14/18")
    page.keyboard.press("Escape")
    command(page, "Add code: QR code or bar code…")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Kind").select_option("ean 13")
    dialog.get_by_label("Number").fill("978-0-306-40615-7")
    dialog.get_by_role("button", name="Add code").click()
    settled(page)
    code = page.locator('.content .frame[data-kind="code"]').bounding_box()
    paper = page.locator(".paper").first.bounding_box()
    assert code
    assert paper
    assert code["x"] + code["width"] < paper["x"] + paper["width"] / 2, "on the back"
    data = to_the_file(page)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) == 1
    assert clicks(page) - begun <= 30


def test_a_folded_card_is_made_within_twenty_five_clicks(demo: Page, server: Server) -> None:
    page = demo
    begun = clicks(page)
    new_job(page, "Folded card", "Invitation", "Create card")
    drawn(page, "shape", 0.6, 0.2, 0.9, 0.5)
    drawn(page, "frame", 0.57, 0.6, 0.95, 0.8)
    typed(page, "You are asked to the plank", "centre, fit line")
    drawn(page, "frame", 0.1, 0.85, 0.4, 0.95)
    typed(page, "The Saltmarsh Observatory", "centre, 10/13")
    page.keyboard.press("PageDown")
    settled(page)
    drawn(page, "frame", 0.57, 0.3, 0.95, 0.6)
    typed(page, "On the last Friday of the month, an hour before dusk. Bring a coat.", "centre, 14/20")
    data = to_the_file(page)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) == 2
    assert clicks(page) - begun <= 25


def test_a_business_card_is_made_within_fifteen_clicks(demo: Page, server: Server) -> None:
    page = demo
    begun = clicks(page)
    new_job(page, "Card", "Card of the warden", "Create card")
    drawn(page, "shape", 0.0, 0.0, 0.3, 1.0)
    command(page, "Fill the bleed")
    settled(page)
    page.locator("#sheet").focus()
    page.keyboard.press("/")
    page.keyboard.press("End")
    page.keyboard.type(", fill Black 10%")
    page.keyboard.press("Enter")
    settled(page)
    drawn(page, "frame", 0.1, 0.15, 0.9, 0.4)
    typed(page, "Merrow Finch", "16/20, centre")
    drawn(page, "frame", 0.1, 0.5, 0.9, 0.88)
    typed(page, "Warden of the long plank\nSaltmarsh Observatory, Merrowick", "8/11, centre")
    data = to_the_file(page)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        trim = [float(v) for v in pdf.pages[0].TrimBox]
        assert trim[2] - trim[0] < 300, "a card"
    assert clicks(page) - begun <= 15


def test_a_poster_is_made_within_twenty_clicks(demo: Page, server: Server, tmp_path: Path) -> None:
    page = demo
    begun = clicks(page)
    page.locator("#main").get_by_role("link", name="New job").click()
    page.get_by_role("radio", name="Poster", exact=True).click()
    expect(page.locator("#width")).to_have_value("420 mm")
    page.fill("#name", "The tide, framed")
    page.click("text=Create poster")
    page.wait_for_url("**/board/")
    expect(page.locator(".strip-mark small")).to_contain_text("poster, 1 page, 420 × 594 mm")
    page.wait_for_selector(".paper")
    settled(page)
    photograph = tmp_path / "flats at dusk.jpg"
    Image.new("RGB", (1500, 900), (190, 120, 70)).save(photograph, dpi=(90, 90))
    page.click("[data-drawer=pictures]")
    with page.expect_file_chooser() as waiting:
        page.get_by_role("button", name="Import…").click()
    waiting.value.set_files(photograph)
    page.get_by_role("button", name="Place “flats at dusk”", exact=True).click()
    box = page.locator(".paper").first.bounding_box()
    assert box
    page.mouse.move(box["x"] + 4, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 4, box["y"] + box["height"] * 0.55, steps=3)
    page.mouse.up()
    settled(page)
    expect(page.locator(".content image")).to_have_count(1)
    drawn(page, "frame", 0.08, 0.6, 0.92, 0.75)
    typed(page, "The tide, framed", "fit line")
    drawn(page, "frame", 0.08, 0.78, 0.92, 0.86)
    typed(page, "Pictures from forty winters on the flats", "36/44, centre")
    drawn(page, "frame", 0.08, 0.88, 0.92, 0.95)
    typed(page, "The open hide, every Friday in November, free", "24/30, centre")
    data = to_the_file(page)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) == 1
    assert clicks(page) - begun <= 20


def treatise() -> str:
    """A non-fiction book as Markdown: twelve chapters with sections, 150 notes, twelve tables with captions, and
    cross-references."""
    rows = "\n".join(f"| {place} | {n}.{n} | {n}00 |" for n, place in enumerate(("Comb", "Gut", "Barrow", "Rill"), 1))
    made, notes = ["# The Count\n"], []
    for chapter in range(1, 13):
        made.append(f"## Chapter {chapter}\n")
        for section in range(1, 4):
            made.append(f"### Station {chapter}.{section}\n")
            for paragraph in range(8):
                number = len(notes) + 1
                note = f"[^n{number}]" if number <= 150 and paragraph < 5 else ""
                if note:
                    notes.append(f"[^n{number}]: As the log of winter {number} has it.")
                made.append(
                    "The water rose over the flats, and the birds of the station rose with it. " * 4 + note + "\n"
                )
        made.append(f"| Place | Metres | Birds |\n|---|---|---|\n{rows}\n")
    return "\n".join([*made, *notes])


def test_a_non_fiction_book_with_notes_tables_and_contents_is_made_within_twelve_clicks(
    demo: Page, server: Server
) -> None:
    page = demo
    begun = clicks(page)
    page.locator("#main").get_by_role("link", name="New job").click()
    page.fill("#name", "The Count")
    page.click("text=Create book")
    page.wait_for_url("**/manuscript/")
    with page.expect_file_chooser() as waiting:
        page.locator("label.button", has_text="Import manuscript…").click()
    waiting.value.set_files({"name": "count.md", "mimeType": "text/markdown", "buffer": treatise().encode()})
    expect(page.locator("#main")).to_contain_text("150 footnotes, at the bottom of the column", timeout=60_000)
    expect(page.locator("#main")).to_contain_text("12 tables, with rows and columns")
    page.click("text=Pour into the pages")
    page.wait_for_url("**/flatplan/", timeout=90_000)
    page.get_by_role("link", name="Board").click()
    page.wait_for_url("**/board/")
    page.wait_for_selector(".paper")
    settled(page)
    command(page, "Insert listing")
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    expect(page.locator("#drawer [role=status]")).to_contain_text("up to date", timeout=60_000)
    data = to_the_file(page)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) > 45
    assert clicks(page) - begun <= 12
