"""What the board shows is what the press prints: line ends to 0.05 pt, and pictures of both laid over each other."""

from __future__ import annotations

import io
from datetime import datetime, timezone

import numpy
import pypdfium2 as pdfium
import pytest
from PIL import Image
from playwright.sync_api import Page

from lexigon.core.flow.desk import Desk
from lexigon.core.job import package
from lexigon.core.job.intents import FormatText, Place, PourText, SetParagraphs
from lexigon.core.job.model import Paragraph, ParaSpec, TypeSpec
from lexigon.core.paint.display import Painter
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.browser.conftest import Server
from tests.core.helpers import book, words

ENDS = """() => [...document.querySelectorAll('.content .ln')].filter((g) => g.children.length).map((g) => {
  const [first, last] = [g.firstElementChild, g.lastElementChild];
  return [g.textContent, first.getStartPositionOfChar(0).x, last.getEndPositionOfChar(last.getNumberOfChars() - 1).x]; })"""


def dense_book() -> Desk:
    """A page of everything the slice can set: fonts that kern with the space, italics, tracking, capitals, figures."""
    desk = Desk(book(facing=False))
    families = ["EB Garamond", "Alegreya", "Source Serif 4", "Spectral", "Fira Sans"]
    made = [
        Paragraph(f"p{n}", "body", words(38, n) + " To AV. “We” fi ffl 1,234", type=TypeSpec(family=family))
        for n, family in enumerate(families)
    ]
    desk.do(PourText("main", (*made, Paragraph("p9", "body", words(40, 9)))))
    desk.do(FormatText("main", Place("p0", 20), Place("p0", 60), TypeSpec(italic=True)))
    desk.do(FormatText("main", Place("p1", 20), Place("p1", 90), TypeSpec(weight=700, swatch="marker")))
    desk.do(FormatText("main", Place("p2", 10), Place("p2", 80), TypeSpec(tracking=60.0)))
    desk.do(
        FormatText(
            "main", Place("p9", 10), Place("p9", 60), TypeSpec(caps="small", figures="oldstyle", size=14.0, shift=2.0)
        )
    )
    desk.do(FormatText("main", Place("p9", 70), Place("p9", 110), TypeSpec(caps="upper")))
    desk.do(SetParagraphs("main", "p4", "p4", para=ParaSpec(align="right")))
    desk.do(SetParagraphs("main", "p3", "p3", para=ParaSpec(align="centre")))
    return desk


@pytest.fixture
def dense(demo: Page, server: Server) -> tuple[Page, Desk]:
    desk = dense_book()
    demo.set_input_files(
        "input[name=file]", {"name": "dense.lexigon", "mimeType": package.MIMETYPE, "buffer": package.write(desk.job)}
    )
    demo.wait_for_url("**/board/")
    demo.wait_for_selector(".content .ln")
    demo.evaluate("() => document.fonts.ready")
    demo.wait_for_timeout(800)
    return demo, desk


def test_lines_end_where_the_composer_says(dense: tuple[Page, Desk]) -> None:
    page, desk = dense
    wanted = [
        ("".join(run.text for run in line.runs), line.runs[0].x, line.runs[-1].x + line.runs[-1].width)
        for frame in Painter(desk.composition).page(0).frames
        for line in frame.lines
        if line.runs
    ]
    shown = page.evaluate(ENDS)
    assert [text for text, _, _ in shown] == [text for text, _, _ in wanted]
    assert len(wanted) > 20
    for (text, start, end), (_, x0, x1) in zip(shown, wanted, strict=True):
        # Tracking also follows the last character; the browser counts it in the end position as we do.
        assert abs(start - x0) <= 0.05, text
        assert abs(end - x1) <= 0.05, text


def test_pictures_of_screen_and_pdf_agree(dense: tuple[Page, Desk]) -> None:
    page, desk = dense
    page.click("#clean")
    page.evaluate("() => document.querySelectorAll('.furniture, .guides, .marks, .edge').forEach((e) => e.remove())")
    paper = page.locator(".paper").first
    screen = Image.open(io.BytesIO(paper.screenshot())).convert("L")
    target = io.BytesIO()
    write_pdf(desk.composition, recipe("screen"), target, datetime(2026, 1, 1, tzinfo=timezone.utc))
    document = pdfium.PdfDocument(target.getvalue())
    printed = document[0].render(scale=3).to_pil().convert("L").resize(screen.size, Image.Resampling.BOX)
    document.close()
    block = (screen.width // 4, screen.height // 4)
    a, b = (numpy.asarray(image.resize(block, Image.Resampling.BOX), dtype=float) for image in (screen, printed))
    assert a.min() < 160, "there is text on it"
    assert numpy.corrcoef(a.ravel(), b.ravel())[0, 1] > 0.97
    assert abs(a - b).mean() < 4
