"""Nothing typed is lost: on the board, in cells, in notes, along outlines and in the writing view, whatever the line is
like."""

from __future__ import annotations

import io
import os
import random
import zipfile
from collections.abc import Callable

import pytest
from playwright.sync_api import Page

from lexigon.core.document.model import Job, Paragraph
from lexigon.core.editing.intents import AddTable, AddTextFrame, Place
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import lines, poured, type_at
from tests.browser.test_paths import board, write_along_ring
from tests.browser.typing import TextArea, keys_of, slow, strike


def words_of(page: Page) -> str:
    """The main text as the server has it."""
    key = page.url.split("/job/")[1].split("/")[0]
    return str(
        page.evaluate(
            "async (key) => (await (await fetch(`/job/${key}/manuscript/text/`)).json()).rows.map(({ text }) => "
            "text).join('\\n')",
            key,
        )
    )


NIGHTLY = bool(os.environ.get("LEXIGON_NIGHTLY"))
LINES = 200 if NIGHTLY else 14
PACES = [(delay, lag, 1) for delay in (0, 10, 30, 60, 120) for lag in (0, 50, 400, 1500)] if NIGHTLY else [(10, 400, 1)]
"""Milliseconds between keys, milliseconds that an answer takes longer, answers that are lost."""


@pytest.mark.parametrize(("delay", "lag", "lose"), PACES)
def test_the_board_has_what_a_text_area_has(opened: Callable[[Job], Page], delay: int, lag: int, lose: int) -> None:
    page = opened(poured(Paragraph("p1", "body", "Begin ")))
    type_at(page, 0, 0)
    page.keyboard.press("End")
    settled(page)
    compare(page, delay, lag, lose)


def compare(page: Page, delay: int, lag: int, lose: int) -> str:
    """Type in a text that says "Begin ", at its end; the words there are those of a text area that got the same
    keys."""
    slow(page, lag, lose)
    area = TextArea("Begin ", 6, 6)
    keys = keys_of(LINES, delay + lag)
    for key in keys:
        area.press(key)
    strike(page, keys, delay)
    settled(page, 120_000)
    slow(page)
    assert words_of(page) == area.text
    return area.text


@pytest.mark.parametrize(("delay", "lag", "lose"), PACES)
def test_the_writing_view_has_what_a_text_area_has(
    opened: Callable[[Job], Page], delay: int, lag: int, lose: int
) -> None:
    page = opened(poured(Paragraph("p1", "body", "Begin ")))
    page.click(".strip-places a:has-text('Manuscript')")
    page.wait_for_selector(".written [data-p]")
    page.locator(".written [data-p]").first.click()
    page.keyboard.press("End")
    text = compare(page, delay, lag, lose)
    shown = page.locator(".written [data-p]").evaluate_all("(all) => all.map((one) => one.textContent)")
    assert "\n".join(shown) == text


@pytest.mark.parametrize("lag", [0, 400] if NIGHTLY else [400])
def test_cells_take_what_is_typed_and_tab_goes_on_at_once(opened: Callable[[Job], Page], lag: int) -> None:
    workspace = Workspace(poured(Paragraph("a", "body", "Before"), Paragraph("b", "body", "")))
    workspace.do(AddTable("main", Place("b", 0), words="Bird\tJan\nKnot\t59"))
    page = opened(workspace.job)
    page.click("#tools [data-tool=text]")
    page.locator(".content text", has_text="Bird").first.click(force=True)
    page.keyboard.press("End")
    slow(page, lag, 1 if lag else 0)
    keys = [*"s", "Tab", *"uary", "Tab", "s", "Backspace", "s", "Tab", "Enter", *"60", "Tab", *"Dun", "Tab", "7"]
    strike(page, keys)
    settled(page, 120_000)
    slow(page)
    shown = [text.replace("\u2028", "\n") for text in lines(page, "g[data-role=cell] .ln")]
    assert shown == ["Birds", "January", "Knots", "59", "60", "Dun", "7"]


@pytest.mark.parametrize("lag", [0, 400] if NIGHTLY else [400])
def test_notes_take_what_is_typed(opened: Callable[[Job], Page], lag: int) -> None:
    page = opened(poured(Paragraph("p1", "body", "The tide turned.")))
    type_at(page, 0, 8)
    slow(page, lag, 1 if lag else 0)
    page.keyboard.press("Control+k")
    page.keyboard.type("insert footnote")
    page.keyboard.press("Enter")
    page.locator(".slip h1", has_text="Note 1").wait_for()
    strike(page, [*"At six", "Enter", *"or so", "Home", "Backspace", " ", "End", "!"])
    settled(page, 120_000)
    assert "".join(lines(page, '.content .frame[data-role="note"] .ln')).endswith("At six or so!")


def test_words_along_an_outline_take_what_is_typed(opened: Callable[[Job], Page]) -> None:
    page = opened(board())
    write_along_ring(page, "High water")
    page.keyboard.press("Enter")
    slow(page, 400, 1)
    strike(page, ["End", "x", "Backspace", *" at the", "Home", "Delete", "h", "End", *" plank"], 10)
    settled(page, 120_000)
    ring = page.locator(".content .frame").last
    assert "".join(ring.locator("text").all_text_contents()) == "highwaterattheplank"


def test_undo_paste_and_style_keys_come_in_their_turn(opened: Callable[[Job], Page]) -> None:
    """What is typed after them is not done before them, however late their answers are."""
    page = opened(poured(Paragraph("p1", "body", "")))
    type_at_start(page)
    slow(page, 400)
    strike(page, [*"one", "Enter", *"two", "Control+z", *"three", "Enter"])
    page.evaluate("() => navigator.clipboard.writeText('pasted\\nlines')")
    strike(page, ["Control+v", *" end", "Enter", *"bold", "Shift+Home", "Control+b", "End", *" more"])
    settled(page, 120_000)
    slow(page)
    assert words_of(page) == "one\nthree\npasted\nlines end\nbold more"
    assert page.locator(".content text[font-family*=bold]", has_text="bold").count() == 1


def type_at_start(page: Page) -> None:
    page.click("#tools [data-tool=text]")
    box = page.locator(".over .frame-box").first.bounding_box()
    assert box
    page.mouse.click(box["x"] + 30, box["y"] + 20)
    page.wait_for_function("() => document.activeElement.id === 'typing'")


@pytest.mark.parametrize("change", ["undo", "note"])
def test_a_press_keeps_its_place_while_an_answer_is_on_its_way(opened: Callable[[Job], Page], change: str) -> None:
    """The caret is where somebody pressed, not where a late answer would put it."""
    workspace = Workspace(
        poured(Paragraph("p1", "body", "The tide turned."), Paragraph("p2", "body", "The geese came."))
    )
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(80, 400, 200, 90), text="A headline"))
    page = opened(workspace.job)
    type_at(page, 0, 8)
    page.keyboard.type("XY")
    settled(page)
    slow(page, 500)
    if change == "undo":
        page.keyboard.press("Control+z")
    else:
        page.keyboard.press("Control+k")
        page.keyboard.type("insert footnote")
        page.keyboard.press("Enter")
    page.locator(".content text", has_text="A headline").first.click(force=True, position={"x": 3, "y": 5})
    strike(page, ["Home", *"77 "])
    settled(page, 120_000)
    slow(page)
    assert page.locator(".content text", has_text="77 A headline").count() == 1
    assert (
        words_of(page).replace("\ufffc", "")
        == ("The tide turned." if change == "undo" else "The tideXY turned.") + "\nThe geese came."
    )


def test_what_is_refused_is_offered_back_complete(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("p1", "body", "The tide turned.")))
    page.expected.add(409)  # type: ignore[attr-defined]
    # The route comes well before the first key: Chromium may let a request pass that follows at once.
    page.route(
        "**/edits/", lambda route: route.fulfill(status=409, json={"error": "Changed elsewhere.", "stale": True})
    )
    type_at(page, 0, 8)
    page.keyboard.type("Ines Marrow")
    page.keyboard.press("Enter")
    page.keyboard.type("Lantern maker")
    dialog = page.locator("dialog#ask")
    dialog.wait_for()
    page.unroute("**/edits/")
    assert dialog.locator("textarea").input_value() == "Ines Marrow\nLantern maker"
    assert page.locator("#toast").inner_text() == "Changed elsewhere.", "the reason stays in sight"
    assert page.locator("#saved").inner_text() == "not saved"
    # The next key may come before the browser says that the dialog is closed: it is typed all the same.
    page.evaluate(
        "() => { document.querySelector('#ask button[value=\"\"]').click(); document.execCommand('insertText', false, '"
        " Still'); }"
    )
    page.keyboard.type(" here.")
    settled(page)
    assert words_of(page) == "The tide Still here. turned."


def test_what_has_no_answer_when_the_window_closes_is_saved_when_it_opens_again(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("p1", "body", "The tide turned.")))
    type_at(page, 0, 0)
    page.route("**/edits/", lambda route: route.abort())
    page.keyboard.type("Now ")
    page.wait_for_function("() => document.documentElement.dataset.queue === 'offline'")
    page.on("dialog", lambda dialog: dialog.accept())
    page.reload()
    page.unroute("**/edits/")
    page.reload()
    page.wait_for_selector(".content .frame", state="attached")
    settled(page)
    page.wait_for_function("() => document.querySelector('.content').textContent.includes('Now The')")
    assert words_of(page) == "Now The tide turned."


PAIRS = 100 if NIGHTLY else 10
AIM = """
(word) => {
  const text = [...document.querySelectorAll('.content text')].find((one) => one.textContent.includes(word));
  if (!text) return null;
  const at = text.getStartPositionOfChar(text.textContent.indexOf(word)), map = text.getScreenCTM();
  const base = new DOMPoint(at.x + 0.4, at.y - 3).matrixTransform(map);
  return [base.x, base.y];
}
"""
"""Where the left edge of a word is on the screen, as it is drawn now."""


HOLD = """
() => { window.held = true; return new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))); }
"""
"""Somebody presses what they see: until then no answer comes."""
COPY = """
(table) => navigator.clipboard.write([new ClipboardItem(table
  ? { 'text/html': new Blob(['<table><tr><td>x</td><td>y</td></tr><tr><td>x</td><td>y</td></tr></table>'], { type: 'text/html' }) }
  : { 'text/plain': new Blob(['two pasted\\nlines'], { type: 'text/plain' }) })])
"""  # noqa: E501


def saved(page: Page) -> str:
    """The job as it is saved, with the words that have no room in their frame, too."""
    data = page.request.get(f"{page.url.split('board/')[0]}file/").body()
    with zipfile.ZipFile(io.BytesIO(data)) as package:
        return package.read("job.json").decode()


def test_a_press_right_after_a_change_lands_in_what_was_pressed(opened: Callable[[Job], Page]) -> None:
    """Undo, redo, lines typed, words pasted, a note or a table inserted; at once a press before a word elsewhere, and
    letters: they are before that word. Every word is there once."""
    dice = random.Random(29)
    names = [f"w{number:03}" for number in range(90)]
    rows = [" ".join(names[at : at + 6]) for at in range(0, 60, 6)]
    workspace = Workspace(poured(*(Paragraph(f"p{at}", "body", row) for at, row in enumerate(rows))))
    aside = "\n".join(" ".join(names[at : at + 3]) for at in range(60, 78, 3))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(60, 440, 300, 120), text=aside))
    workspace.do(
        AddTable("main", Place("p9", 0), words="\n".join("\t".join(names[at : at + 3]) for at in range(78, 90, 3)))
    )
    page = opened(workspace.job)
    # no note stands in a note; what is refused is offered back
    page.expected |= {400, 409}  # type: ignore[attr-defined]
    type_at(page, 0, 0)
    page.keyboard.type("begun ")
    settled(page)
    missed = []
    for number in range(PAIRS):
        slow(page, dice.choice((0, 0, 150, 400)))
        change = dice.choice(("undo", "redo", "lines", "paste", "note", "table"))
        target = dice.choice(names[12:])
        if change in ("lines", "paste", "note", "table"):
            place = page.evaluate(AIM, dice.choice(names[:12]))
            if place:
                page.mouse.click(*place)
        if change == "lines":
            strike(page, [*"ab", "Enter", *"cd", "Enter"])
        elif change == "note":
            page.keyboard.press("Control+k")
            page.keyboard.type("insert footnote")
            page.keyboard.press("Enter")
        else:
            page.evaluate(COPY, change == "table")
            page.keyboard.press({"undo": "Control+z", "redo": "Control+Shift+z"}.get(change, "Control+v"))
        page.evaluate(HOLD)
        place = page.evaluate(AIM, target)
        if place is None or (target in names[:60] and place[1] > page.evaluate(AIM, names[60])[1] - 30):
            page.evaluate("window.held = false")
            continue  # it is on another page by now, or below the other frame
        page.mouse.click(*place)
        page.evaluate("window.held = false")
        mark = "".join(chr(97 + number // 26**at % 26) for at in (1, 0)).upper()
        strike(page, [*mark])
        settled(page, 120_000)
        if f"{mark}{target}" not in saved(page):
            missed.append(f"{number}: {change}, {mark} before {target}")
    slow(page)
    assert not missed, missed
