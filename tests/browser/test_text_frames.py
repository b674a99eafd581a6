"""Text in its frames: round shapes, made to fit, turned, several at once; notes, and frames in lines."""

from __future__ import annotations

import re
from collections.abc import Callable
from math import cos, radians

import pytest
from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Paragraph
from lexigon.core.editing.intents import AddTextFrame
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import MAIN, lines, poured, spec, type_at
from tests.core.helpers import book, words


def test_text_runs_round_a_shape_that_is_drawn_and_back_when_it_goes(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(*(Paragraph(f"p{n}", "body", words(120, n)) for n in range(6))))
    before = lines(page)
    page.keyboard.press("4")
    paper = page.locator(".paper").first.bounding_box()
    assert paper
    page.mouse.move(paper["x"] + paper["width"] * 0.4, paper["y"] + paper["height"] * 0.3)
    page.mouse.down()
    page.mouse.move(paper["x"] + paper["width"] * 0.65, paper["y"] + paper["height"] * 0.5, steps=6)
    page.mouse.up()
    settled(page)
    assert page.locator(".content .frame[data-kind=shape] path").count() == 1
    assert lines(page) == before, "a new shape pushes nothing away"
    page.click(".slip h2:has-text('Text wrap')")
    page.select_option("#fw2", "both")
    settled(page)
    around = lines(page)
    assert around != before
    page.select_option("#fw2", "jump")
    settled(page)
    assert lines(page) != around
    (
        page.keyboard.press("Delete")
        if page.evaluate("document.activeElement.id") == "sheet"
        else page.click(".slip button:text-is('Delete')")
    )
    settled(page)
    assert lines(page) == before


def test_text_is_made_to_fit_and_then_to_outlines(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(70, 60, 300, 90), text="A headline of the marsh"))
    page = opened(workspace.job)
    page.locator(".content .frame:not([data-role=main]):not([data-field]) .ln").first.click(force=True)
    page.select_option("#ffit", "line")
    settled(page)
    text = page.locator(".content .frame:not([data-role=main]):not([data-field]) text").first
    large = float(text.get_attribute("font-size") or 0)
    assert large > 20
    expect(page.locator("#ffit")).to_have_value("line")
    expect(page.locator(".slip")).to_contain_text(re.compile(r"fitted: 28\.\d+ pt on 39\.\d+ pt"))
    page.click(".slip button:has-text('Convert to outlines')")
    settled(page)
    shape = page.locator(".content .frame[data-kind=shape]")
    expect(shape).to_have_attribute("aria-label", "A headline of the marsh")
    expect(page.locator(".slip h1")).to_have_text("A headline of the marsh")
    assert page.locator(".content .frame:not([data-role=main]):not([data-field]) text").count() == 0
    page.click("#undo")
    settled(page)
    assert page.locator(".content .frame:not([data-role=main]):not([data-field]) text").count() == 1
    assert float(text.get_attribute("font-size") or 0) == large


def test_a_text_is_given_the_frames_it_needs(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(70, 60, 200, 120), text=words(300)))
    page = opened(workspace.job)
    page.locator(".content .frame:not([data-role=main]):not([data-field]) .ln").first.click(force=True)
    expect(page.locator(".slip")).to_contain_text(re.compile(r"\d+ words \(\d+ lines\) do not fit"))
    page.click("text=Add frames for the overset text")
    settled(page)
    expect(page.locator(".overset")).to_have_count(0)
    assert int(page.locator("#page-count").inner_text()) > 1


def test_turned_type_by_the_handle_and_by_number(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(90, 100, 160, 60), text="Turned about"))
    page = opened(workspace.job)
    page.locator(".content .frame:not([data-role=main]):not([data-field]) .ln").first.click(force=True)
    spec(page, "rotate 30")
    settled(page)
    frame = page.locator(".content .frame:not([data-role=main]):not([data-field])")
    turned = cos(radians(30))
    assert frame.evaluate("(g) => g.transform.baseVal[0].matrix.a") == pytest.approx(turned, abs=1e-6)
    handle = page.locator(".turn-handle").bounding_box()
    assert handle
    page.mouse.move(handle["x"] + handle["width"] / 2, handle["y"] + handle["height"] / 2)
    page.mouse.down()
    page.mouse.move(handle["x"] + 60, handle["y"] + 70, steps=6)
    page.mouse.up()
    settled(page)
    assert frame.evaluate("(g) => g.transform.baseVal[0].matrix.a") != pytest.approx(turned, abs=1e-3)
    page.locator("#sheet").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("All ")
    settled(page)
    assert frame.locator(".ln").first.text_content() == "All Turned about"


def test_several_frames_are_set_moved_and_removed_together(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    for x in (60, 220):
        workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(x, 100, 140, 80), text=words(12, x)))
    page = opened(workspace.job)
    frames = page.locator(".content .frame:not([data-role=main]):not([data-field])")
    frames.nth(0).locator(".ln").first.click(force=True)
    frames.nth(1).locator(".ln").first.click(force=True, modifiers=["Shift"])
    expect(page.locator(".selected-box")).to_have_count(2)
    spec(page, "13/17 italic, fill Marker red 20%, insets 2mm")
    settled(page)
    for number in (0, 1):
        assert frames.nth(number).locator("text").first.get_attribute("font-size") == "13"
        assert frames.nth(number).locator("path").count() == 1
    expect(page.locator(".slip")).to_contain_text("and 1 other: changes apply to all")
    page.locator("#ts").fill("15 pt")
    page.locator("#ts").press("Enter")
    settled(page)
    page.click(".slip h2:has-text('Stroke and fill') button")
    page.locator("#fedge").select_option(label="Black")
    settled(page)
    for number in (0, 1):
        assert frames.nth(number).locator("text").first.get_attribute("font-size") == "15"
        assert frames.nth(number).locator("path[stroke]").count() == 1
    before = [float(frames.nth(n).locator("text").first.get_attribute("x") or 0) for n in (0, 1)]
    page.locator("#sheet").focus()
    page.keyboard.press("Shift+ArrowRight")
    settled(page)
    assert [float(frames.nth(n).locator("text").first.get_attribute("x") or 0) for n in (0, 1)] == [
        x + 10 for x in before
    ]
    page.keyboard.press("Delete")
    settled(page)
    expect(frames).to_have_count(0)
    page.click("#undo")
    settled(page)
    expect(frames).to_have_count(2)


def test_an_outline_is_chosen_in_the_slip(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(70, 60, 220, 240), text=words(90)))
    page = opened(workspace.job)
    page.locator(".content .frame:not([data-role=main]):not([data-field]) .ln").first.click(force=True)
    before = lines(page, ".content .frame:not([data-role=main]):not([data-field]) .ln")
    page.click(".slip h2:has-text('Stroke and fill')")
    page.select_option("#fol", "6")
    settled(page)
    after = lines(page, ".content .frame:not([data-role=main]):not([data-field]) .ln")
    assert after != before
    expect(page.locator("#fol")).to_have_value("6")
    page.select_option("#fol", "box")
    settled(page)
    assert lines(page, ".content .frame:not([data-role=main]):not([data-field]) .ln") == before


def test_a_note_is_cited_typed_left_and_copied_and_a_frame_stands_in_the_line(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("pa", "body", words(120)), Paragraph("pb", "body", words(60, 2))))
    notes, inlay = page.locator('.content .frame[data-role="note"]'), page.locator('.content .frame[data-role="inlay"]')
    type_at(page, 0, 12)
    page.keyboard.press("Control+k")
    page.keyboard.type("insert footnote")
    page.keyboard.press("Enter")
    expect(notes).to_have_count(1)
    expect(page.locator(".slip h1")).to_have_text("Note 1")
    page.keyboard.type("Seen on two mornings.")
    settled(page)
    assert lines(page, '.content .frame[data-role="note"] .ln') == ["1\u00a0Seen on two mornings."]
    page.keyboard.press("Escape")  # back behind its number
    page.keyboard.type(" here")
    settled(page)
    first = lines(page)[0]
    assert re.search(r"1 here", first), first
    # A frame in the line, of a typed size, holds text; the line above gives way to it.
    heights = "(all) => all.slice(0, 3).map((g) => Number(g.querySelector('text').getAttribute('y')))"
    before = page.eval_on_selector_all(MAIN, heights)
    page.get_by_role("button", name="Insert…").click()
    dialog = page.locator("dialog[open]")
    dialog.locator("select").first.select_option("frame")
    dialog.get_by_label("Width").fill("30 mm")
    dialog.get_by_label("Height").fill("5mm * 2")
    dialog.get_by_label("Content").select_option("text")
    page.get_by_role("button", name="Insert", exact=True).click()
    expect(inlay).to_have_count(1)
    page.keyboard.type("!")
    settled(page)
    after = page.eval_on_selector_all(MAIN, heights)
    assert after[0] > before[0]
    assert after[1] - after[0] == pytest.approx(before[1] - before[0], abs=0.01)
    # Chosen, it is as large as was typed, cannot be moved, and is typed in.
    page.keyboard.press("Escape")
    page.click("#tools [data-tool=select]")
    inside = page.locator(".over .frame-box[data-id]").nth(1).bounding_box()
    assert inside
    page.mouse.dblclick(inside["x"] + inside["width"] / 2, inside["y"] + inside["height"] / 2)
    page.keyboard.type("within")
    settled(page)
    assert lines(page, '.content .frame[data-role="inlay"] .ln') == ["within"]
    expect(page.locator("#fw")).to_have_value("1.1811 in")
    expect(page.locator("#fx")).to_be_hidden()
    # It stands near its line at the foot of the column, or in the line again, and goes with the words.
    page.keyboard.press("Escape")
    page.click("#tools [data-tool=select]")
    page.locator("#fti").select_option("near")
    settled(page)
    low = page.locator('.content .frame[data-role="inlay"]').bounding_box()
    last = page.locator(MAIN).last.bounding_box()
    assert low
    assert last
    assert low["y"] > last["y"] + last["height"]
    # Right above its line it moves that down.
    page.locator("#fti").select_option("above")
    expect(page.locator("#saved")).to_have_text(re.compile("^saved"))
    page.wait_for_function(
        """(low) => { const box = document.querySelector('.content .frame[data-role="inlay"]').getBoundingClientRect(); return box.y < low; }""",  # noqa: E501
        arg=low["y"] - 50,
    )
    settled(page)
    high, first_line = (
        page.locator('.content .frame[data-role="inlay"]').bounding_box(),
        page.locator(MAIN).first.bounding_box(),
    )
    assert high
    assert first_line
    assert high["y"] + high["height"] <= first_line["y"] + 1
    page.locator("#fti").select_option("")
    settled(page)
    # What is copied and pasted has a note and a frame of its own.
    type_at(page, 0, 0)
    page.keyboard.press("Shift+End")
    page.keyboard.press("Control+c")
    page.keyboard.press("Control+End")
    page.keyboard.press("Control+v")
    expect(notes).to_have_count(2)
    expect(inlay).to_have_count(2)
    settled(page)
    assert [line[:2] for line in lines(page, '.content .frame[data-role="note"] .ln')] == ["1\u00a0", "2\u00a0"]
    for _ in range(2):
        page.keyboard.press("Control+z")
        settled(page)
    page.reload()
    page.wait_for_selector(".content .ln", state="attached")
    expect(notes).to_have_count(1)


def test_linking_to_a_frame_that_holds_text_asks_first(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book(facing=False))
    first = workspace.job.pages[0].id
    workspace.do(AddTextFrame(first, Rect(70, 60, 120, 60), text="High water"))
    workspace.do(AddTextFrame(first, Rect(70, 300, 120, 60), text="Low water"))
    page = opened(workspace.job)

    def press(words: str) -> None:
        page.locator(".content .ln", has_text=words).first.click(force=True)

    def link() -> None:
        page.click("#tools [data-tool=flow]")
        press("High water")
        expect(page.locator("#toast")).to_contain_text("Now click the frame")
        press("Low water")
        expect(page.locator("#toast")).to_be_hidden()
        expect(page.locator("#ask-words")).to_contain_text("holds other text")

    link()
    page.click("#ask >> text=Cancel")
    settled(page)
    expect(page.locator("#undo")).to_be_disabled()
    link()
    page.click("#ask-yes")
    settled(page)
    expect(page.locator("#undo")).to_have_attribute("title", "Undo: link frame")
