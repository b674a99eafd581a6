"""Swatches on the board: mixed, given to frames and words, changed everywhere, exchanged, and on the printer's
plates."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from pathlib import Path

import pikepdf
from PIL import Image
from playwright.sync_api import Page, Route, expect

from lexigon.core.document.model import Fill, FrameSpec, Gradient, Job, Paragraph, Stop, Swatch
from lexigon.core.editing.intents import AddShape, AddTextFrame
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import command, lines, poured, type_at
from tests.browser.test_arranging import on_sheet
from tests.core.helpers import book

PAINTS = "() => [...document.querySelectorAll('.content [fill]')].map((part) => part.getAttribute('fill'))"


def mixed(page: Page, name: str, kind: str, *amounts: str) -> None:
    """Make a swatch in the dialog of a new one."""
    page.get_by_role("button", name="New swatch").click()
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_label("Swatch type").select_option(label=kind)
    for field, amount in zip(page.locator(".mixture input:not([type=range])").all(), amounts, strict=False):
        field.fill(amount)
    page.locator("#ask-yes").click()


def test_an_ink_from_its_mixture_to_its_plate(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddShape(workspace.job.pages[0].id, Rect(120, 300, 200, 120)))
    page = opened(workspace.job)
    rows, told = page.locator(".ink-list li"), page.locator(".looks p")
    page.click("[data-drawer=inks]")
    expect(rows).to_have_count(3)
    # A light that no inks reach is said to print otherwise; what cannot be read is said, and nothing is lost.
    page.get_by_role("button", name="New swatch").click()
    page.get_by_label("Swatch type").select_option(label="RGB")
    page.get_by_label("Values").fill("#10e0ff")
    expect(page.get_by_label("Red", exact=True)).to_have_value("16")
    expect(told).to_contain_text(
        "This cannot be printed in process inks on coated paper. The nearest printable colour is the second"
    )
    page.get_by_label("Red", exact=True).fill("300")
    expect(told).to_have_text("Red is a number from 0 to 255.")
    page.locator("#ask-yes").click()
    expect(page.locator("#ask-problem")).to_have_text("Red is a number from 0 to 255.")
    page.keyboard.press("Escape")
    expect(rows).to_have_count(3)
    page.expected.add(400)  # type: ignore[attr-defined]
    # A spot ink needs a name; with it, it is there.
    mixed(page, "", "spot ink, on a separate plate", "90", "40", "10", "0")
    expect(page.locator("#ask-problem")).to_contain_text("1 to 80 characters")
    page.get_by_label("Name", exact=True).fill("Tide blue")
    page.locator("#ask-yes").click()
    tide = rows.filter(has_text="Tide blue")
    expect(tide).to_contain_text("spot, looks like C90 M40 Y10 K0")
    # Given to the frame that is chosen.
    frame = page.locator('.content .frame[data-kind="shape"]')
    box = frame.bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator("#ffill")).to_be_attached()
    before = page.evaluate(PAINTS)
    tide.locator(".ink").click()
    settled(page)
    filled = page.evaluate(PAINTS)
    assert filled != before
    # Mixed otherwise, it is other wherever it is used.
    page.get_by_role("button", name="Edit “Tide blue”").click()
    page.get_by_label("Magenta", exact=True).fill("75")
    page.locator("#ask-yes").click()
    expect(tide).to_contain_text("M75")
    settled(page)
    assert page.evaluate(PAINTS) not in (before, filled)
    page.get_by_role("button", name="Where used “Tide blue”").click()
    expect(page.locator(".use-row")).to_have_text([re.compile(r"^p\. 1: ")])
    page.keyboard.press("Escape")
    # A gradient of it and of paper.
    page.get_by_role("button", name="New swatch").click()
    page.get_by_label("Swatch type").select_option(label="gradient")
    page.get_by_label("Colour 1", exact=True).select_option(label="Tide blue")
    page.get_by_role("button", name="Add colour").click()
    page.get_by_label("Colour 2: position in %").fill("40")
    page.locator("#ask-yes").click()
    expect(rows.filter(has_text="Gradient")).to_contain_text("linear, 3 colours")
    # The printer's file has a plate of that name.
    page.click("nav >> text=Press")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("text=Download")).to_be_visible(timeout=30_000)
    with page.expect_download() as waiting:
        page.click("text=Download")
    with pikepdf.open(io.BytesIO(Path(waiting.value.path()).read_bytes())) as pdf:
        spaces = [list(space) for space in pdf.pages[0].Resources.ColorSpace.values()]
    assert sorted(str(space[1]) for space in spaces if space[0] == "/Separation") == ["/All", "/Tide blue"]
    # Deleted with another in its place, and back again.
    page.click("nav >> text=Board")
    expect(rows).to_have_count(5)
    page.get_by_role("button", name="Delete “Tide blue”").click()
    expect(page.locator("#ask-words")).to_contain_text("2 uses")
    page.get_by_label("Replace with").select_option(label="Marker red")
    page.locator("#ask-yes").click()
    expect(rows).to_have_count(4)
    page.click("#undo")
    expect(rows).to_have_count(5)
    settled(page)


def test_what_is_typed_in_one_line_neither_comes_late_nor_is_lost(opened: Callable[[Job], Page]) -> None:
    page = opened(book(facing=False))
    page.click("[data-drawer=inks]")
    page.get_by_role("button", name="New swatch").click()
    held: list[Route] = []
    page.route("**/swatches/typed/**", lambda route: held.append(route))
    typed, kind = page.get_by_label("Values"), page.get_by_label("Swatch type")
    # A field that was filled since is not overwritten by the answer.
    with page.expect_request("**/swatches/typed/**"):
        typed.fill("c60 m10")
    page.get_by_label("Cyan", exact=True).fill("20")
    with page.expect_response("**/swatches/typed/**"):
        held.pop().continue_()
    page.evaluate("() => new Promise(requestAnimationFrame)")
    expect(page.get_by_label("Cyan", exact=True)).to_have_value("20")
    # Enter before the answer: the swatch is made of what was typed.
    with page.expect_request("**/swatches/typed/**"):
        typed.fill("#1E5B4F")
    typed.press("Enter")
    expect(kind).to_have_value("cmyk")
    held.pop().continue_()
    expect(page.locator(".ink-list")).to_contain_text("R30 G91 B79")


def test_the_board_proofs_a_paper_and_finds_it_again(opened: Callable[[Job], Page]) -> None:
    """Chosen on the ledge: the words are as pale as that paper makes black, while one types too, and after a reload;
    then as before."""
    page = opened(poured(Paragraph("p1", "body", "The tide turned at six and the hide was full.")))
    words = page.locator(".content .ln text").first
    expect(words).not_to_have_attribute("fill", re.compile("."))
    page.locator("#proof").click()
    page.get_by_role("menuitem", name="As printed on uncoated paper").click()
    expect(words).to_have_attribute("fill", re.compile("#[3-6]"))
    expect(page.locator("#proof")).to_have_text("Uncoated")
    page.reload()
    expect(words).to_have_attribute("fill", re.compile("#[3-6]"))
    type_at(page, 0, 4)
    page.keyboard.type("spring ")
    settled(page)
    expect(words).to_have_attribute("fill", re.compile("#[3-6]"))
    page.keyboard.press("Escape")
    page.locator("#proof").click()
    page.get_by_role("menuitem", name="No proof").click()
    expect(words).not_to_have_attribute("fill", re.compile("."))


def test_a_gradient_is_set_by_hand_on_what_it_fills(opened: Callable[[Job], Page]) -> None:
    """Its way drawn, one end moved, its midpoint slid along; back to the box, and all of it taken back."""
    job = book(facing=False)
    stops = (Stop(0.0, "black"), Stop(1.0, "marker"))
    job.swatches["fade"] = Swatch("fade", "Fade", "gradient", gradient=Gradient(stops))
    workspace = Workspace(job)
    workspace.do(AddShape(workspace.job.pages[0].id, Rect(120, 300, 200, 120), None, FrameSpec(fill=Fill("fade"))))
    page = opened(workspace.job)
    box = page.locator(".content .frame path").first.bounding_box()
    assert box
    at = lambda u, v: (box["x"] + u * box["width"], box["y"] + v * box["height"])  # noqa: E731

    def drag(a, b):
        return (
            page.mouse.move(*at(*a)),
            page.mouse.down(),
            page.mouse.move(*at(*b), steps=3),
            page.mouse.up(),
            settled(page),
        )

    page.mouse.click(*at(0.5, 0.5))
    page.locator(".slip").get_by_role("button", name="Stroke and fill").click()
    page.get_by_role("button", name="Edit on the board").click()
    bar = page.get_by_label("Gradient", exact=True)
    expect(bar).to_contain_text("Fade: across the frame")
    drag((0.25, 0.25), (0.75, 0.75))
    spec = page.locator("#spec")
    expect(spec).to_have_value(re.compile(r"gradient from 25% 25% to 75% 75%"))
    drag((0.75, 0.75), (0.75, 0.25))
    expect(spec).to_have_value(re.compile(r"gradient from 25% 25% to 75% 25%"))
    expect(page.locator(".content .frame linearGradient stop")).to_have_count(9)
    drag((0.5, 0.25), (0.35, 0.25))  # the midpoint, to a fifth of the way
    expect(page.locator(".content .frame linearGradient stop")).to_have_count(25)
    page.keyboard.press("ArrowDown")
    expect(spec).to_have_value(re.compile(r"to 75% 25\.83%"))
    bar.get_by_role("button", name="Reset").click()
    expect(bar).to_contain_text("Fade: across the frame")
    page.keyboard.press("Escape")
    expect(bar).to_be_hidden()
    for _ in range(5):
        page.keyboard.press("Control+z")
        settled(page)
    expect(page.locator(".content .frame linearGradient stop")).to_have_count(9)
    expect(spec).not_to_have_value(re.compile("gradient from"))


def test_a_swatch_is_dragged_onto_what_it_fills(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddShape(workspace.job.pages[0].id, Rect(120, 300, 200, 120)))
    page = opened(workspace.job)
    page.click("[data-drawer=inks]")
    ink = page.locator(".ink").filter(has_text="Marker red").bounding_box()
    shape = page.locator(".content .frame path").first.bounding_box()
    assert ink
    assert shape
    page.mouse.move(ink["x"] + 20, ink["y"] + 20)
    page.mouse.down()
    page.mouse.move(shape["x"] + 30, shape["y"] + 30)
    page.mouse.move(shape["x"] + 40, shape["y"] + 40)
    expect(page.locator("#numbers")).to_have_text("fills “Shape”")
    before = page.evaluate(PAINTS)
    page.mouse.up()
    settled(page)
    assert page.evaluate(PAINTS) != before
    expect(page.locator(".ink-ghost")).to_have_count(0)
    expect(page.locator(".slip h1")).to_have_text("Page 1")  # nothing was chosen by it


def test_words_take_a_swatch_and_stay_selected(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("p1", "body", "Ebb and flood")))
    type_at(page, 0, 13)
    page.keyboard.press("Control+Shift+ArrowLeft")
    page.get_by_role("button", name="Inks").click()
    before = set(page.evaluate(PAINTS))
    page.locator(".ink-list li").filter(has_text="Marker red").locator(".ink").click()
    settled(page)
    assert set(page.evaluate(PAINTS)) > before
    page.keyboard.type("surge")
    settled(page)
    assert lines(page) == ["Ebb and surge"]


def test_a_colour_is_taken_from_the_board_and_from_a_picture(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    workspace = Workspace(book(facing=False))
    leaf = workspace.job.pages[0].id
    for n, swatch in enumerate(("marker", "black")):
        workspace.do(AddShape(leaf, Rect(80 + 120 * n, 90, 60, 60), spec=FrameSpec(fill=Fill(swatch, 0.6 - 0.2 * n))))
    page = opened(workspace.job)
    box = page.locator(".paper").first.bounding_box()
    assert box
    scale = box["width"] / 432
    at = lambda x, y: (box["x"] + x * scale, box["y"] + y * scale)  # noqa: E731
    page.mouse.click(*at(230, 120))
    page.keyboard.press("e")
    page.mouse.click(*at(110, 120))
    settled(page)
    expect(page.locator("#ffill option:checked")).to_have_text("Marker red")
    expect(page.locator("#ftint")).to_have_value("60 %")
    page.locator("#spec").fill("edge 4 Black")
    page.locator("#spec").press("Enter")
    settled(page)
    page.locator("#sheet").focus()
    page.keyboard.press("e")
    page.keyboard.down("Alt")
    page.mouse.click(*at(110, 120))
    page.keyboard.up("Alt")
    settled(page)
    expect(page.locator("#fedge option:checked")).to_have_text("Marker red")
    expect(page.locator("#few")).to_have_value("4 pt")
    file = tmp_path / "reeds.png"
    Image.new("RGB", (300, 200), (40, 120, 60)).save(file)
    page.keyboard.press("Escape")
    page.mouse.click(*at(110, 120))
    with page.expect_file_chooser() as waiting:
        page.get_by_role("button", name="Place picture…").click()
    waiting.value.set_files(file)
    expect(page.locator(".content image")).to_have_count(1)
    settled(page)
    known = page.locator("#ffill option").count()
    page.mouse.click(*at(230, 120))
    page.keyboard.press("e")
    page.mouse.click(*at(110, 120))
    settled(page)
    expect(page.locator("#ffill option")).to_have_count(known + 1)
    expect(page.locator("#ffill option:checked")).to_contain_text("C")  # named by its inks


def test_the_eyedropper_colours_words_or_their_background_and_esc_changes_nothing(
    opened: Callable[[Job], Page],
) -> None:
    workspace = Workspace(book(facing=False))
    leaf = workspace.job.pages[0].id
    workspace.do(
        AddShape(leaf, Rect(80, 300, 60, 60), spec=FrameSpec(fill=Fill("marker", 0.6))),
        AddShape(leaf, Rect(80, 400, 60, 60), spec=FrameSpec(fill=Fill("black"))),
        AddTextFrame(leaf, Rect(200, 300, 150, 60), text="Low water at noon"),
    )
    page = opened(workspace.job)
    marker, frame, menu = on_sheet(page, 110, 330), on_sheet(page, 330, 350), page.get_by_role("menu")
    page.mouse.click(*frame)
    for cancelled in ("the tool", "the menu"):
        page.keyboard.press("e")
        if cancelled == "the menu":
            page.mouse.click(*marker)
            expect(menu).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.locator("#tools [data-tool=select]")).to_have_attribute("aria-pressed", "true")
        expect(page.locator("#spec")).to_have_value(re.compile("Body|11/15|EB Garamond"))
    assert "Marker red" not in page.locator("#spec").input_value()
    expect(page.locator("#undo")).to_be_disabled()
    page.keyboard.press("e")
    page.mouse.click(*marker)
    menu.get_by_role("menuitem", name="Text colour").click()
    settled(page)
    expect(page.locator("#spec")).to_have_value(re.compile("colour Marker red 60 ?%"))
    expect(page.locator("#ffill option:checked")).to_have_text("none")
    page.locator("#sheet").focus()
    page.keyboard.press("e")
    page.mouse.click(*marker)
    menu.get_by_role("menuitem", name="Background").click()
    settled(page)
    expect(page.locator("#ffill option:checked")).to_have_text("Marker red")
    # Words that are selected get the colour themselves.
    page.mouse.dblclick(*on_sheet(page, 215, 306))
    page.wait_for_selector(".caret", state="attached")
    page.keyboard.press("Home")
    page.keyboard.press("Control+Shift+ArrowRight")
    page.wait_for_selector(".marks .selection", state="attached")
    command(page, "eyedropper")
    expect(page.locator("#toast")).to_contain_text("for the selected words")
    page.mouse.click(*on_sheet(page, 110, 430))
    settled(page)
    fills = page.eval_on_selector_all(
        ".content .ln text", "(all) => all.map((one) => [one.textContent.trim(), getComputedStyle(one).fill])"
    )
    (low,) = {fill for words, fill in fills if words == "Low"}
    assert {fill for words, fill in fills if words != "Low"} != {low}


def test_swatches_in_groups_tints_and_a_palette_file_for_another_job(
    opened: Callable[[Job], Page], tmp_path: Path
) -> None:
    page = opened(book(facing=False))
    page.click("[data-drawer=inks]")
    rows = page.locator(".ink-list li")
    mixed(page, "Tide", "process inks, CMYK", "90", "40", "10", "0")
    expect(rows).to_have_count(4)
    page.get_by_role("button", name="New swatch").click()
    page.get_by_label("Swatch type").select_option(label="tint of another swatch")
    page.locator("label:has(> span:text-is('Base swatch')) select").select_option(label="Tide")
    page.get_by_label("Tint %").fill("30")
    page.get_by_label("Group").fill("Water")
    expect(page.locator(".looks p")).to_have_text("30 % of Tide")
    page.locator("#ask-yes").click()
    expect(page.locator(".ink-group")).to_contain_text("Water")
    expect(rows.filter(has_text="Tide 30 %")).to_have_count(1)
    with page.expect_download() as saving:
        page.get_by_role("button", name="save…").click()
        page.locator("#ask-yes").click()
    kept = tmp_path / saving.value.suggested_filename
    assert kept.name.endswith(".swatches.json")
    saving.value.save_as(kept)
    other = opened(book(facing=False))  # its drawer stands open as it was left
    with other.expect_file_chooser() as choosing:
        other.get_by_role("button", name="import…").click()
    choosing.value.set_files(kept)
    expect(other.locator(".ink-group")).to_contain_text("Water")
    expect(other.locator("#toast")).to_have_text("2 swatches imported.")
    wrong = tmp_path / "wrong.gpl"
    wrong.write_text("not a palette")
    other.expected.add(400)  # type: ignore[attr-defined]
    with other.expect_file_chooser() as choosing:
        other.get_by_role("button", name="import…").click()
    choosing.value.set_files(wrong)
    expect(other.locator("#toast")).to_contain_text("This is not a palette file")
