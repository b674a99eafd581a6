"""Folded sheets, turned frames and turned pages in the finished PDF, by renderers and readers that are not ours."""

from __future__ import annotations

import io
import re
import subprocess
from dataclasses import replace
from datetime import datetime, timezone
from pathlib import Path

import numpy
import pikepdf
import pypdfium2 as pdfium
import pytest

from lexigon.core.document.forms.sheets import folds_of
from lexigon.core.document.model import Anchor
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book, setup, words

WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)


def pressed(workspace: Workspace, name: str = "print", **more: object) -> bytes:
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe(name, **more), target, WHEN)
    return target.getvalue()


def ink(data: bytes, page: int = 0, scale: float = 1.0) -> numpy.ndarray:
    """Where there is ink on a page: rows and columns of booleans."""
    document = pdfium.PdfDocument(data)
    try:
        return numpy.asarray(document[page].render(scale=scale).to_pil().convert("L")) < 128
    finally:
        document.close()


@pytest.mark.parametrize("turn", [90, 180, 270])
def test_a_turned_frame_is_the_upright_one_turned_about_its_centre(turn: int) -> None:
    def page(turned: int) -> numpy.ndarray:
        job = book(width=300.0, height=300.0, facing=False)
        job.main_story, job.masters, job.pages = None, {}, [replace(job.pages[0], master=None)]
        workspace = Workspace(job)
        key = job.pages[0].id
        workspace.do(do.AddTextFrame(key, Rect(100, 100, 100, 100), text="Slack water at half past ten"))
        workspace.do(do.ChangeFrame(key, job.pages[0].frames[0].id, turn=turned))  # type: ignore[arg-type]
        return ink(pressed(workspace, "screen"), scale=3)

    upright, turned = page(0), page(turn)
    assert upright.sum() > 500
    wanted = numpy.rot90(upright, -turn // 90)
    assert (wanted & turned).sum() > 0.75 * upright.sum(), "the same ink in the same places, but for smoothing"
    assert (upright & turned).sum() < 0.5 * upright.sum()


def test_fold_marks_stand_outside_the_bleed_where_the_sheet_folds() -> None:
    made = setup("brochure")
    workspace = Workspace(made.new_job())
    data = pressed(workspace)
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) == 2
        for index, page in enumerate(pdf.pages):
            trim, bleed = ([float(v) for v in page[name]] for name in ("/TrimBox", "/BleedBox"))
            _, folds = folds_of(made.brief, made.papers, index)
            content = page.Contents.read_bytes().decode()
            dashed = re.search(r"\[3 2\] 0 d (.*?) S", content)
            assert dashed
            marks = re.findall(r"([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l", dashed[1])
            assert sorted({round(float(x) - trim[0], 2) for x, *_ in marks}) == [round(f, 2) for f in folds]
            for _, y0, _, y1 in marks:
                assert min(float(y0), float(y1)) >= bleed[3] or max(float(y0), float(y1)) <= bleed[1]
    assert folds_of(made.brief, made.papers, 0)[1] != folds_of(made.brief, made.papers, 1)[1], (
        "the narrow panel changes sides"
    )


def test_a_page_that_lies_on_its_side_has_its_boxes_turned(tmp_path: Path) -> None:
    workspace = Workspace(book())
    workspace.do(do.AddPages(1, 1, "text"))
    workspace.do(do.AddMaster("Plate", "text"))
    plate = next(m.id for m in workspace.job.masters.values() if m.name == "Plate")
    workspace.do(do.ChangeMaster(plate, turned=True))
    workspace.do(do.ApplyMaster(plate, (workspace.job.pages[1].id,)))
    assert workspace.job.text_area(1).width == 648 - 63 - 45
    path = tmp_path / "turned.pdf"
    path.write_bytes(pressed(workspace, "screen"))
    told = subprocess.run(["pdfinfo", "-l", "2", path], capture_output=True, text=True, check=True).stdout
    assert re.findall(r"Page +\d size: +([\d.]+) x ([\d.]+)", told) == [("432", "648"), ("648", "432")]


def test_a_page_on_its_side_is_rotated_on_the_sheet_with_folio_and_running_head_as_on_the_others(
    tmp_path: Path,
) -> None:
    """Read back by PDFium: where the folio stands on the sheet, and which way the words of the page run."""
    workspace = Workspace(book())
    workspace.do(do.ReplaceText("main", do.Place("^", 0), do.Place("^", 0), words(1800)))
    workspace.do(do.AddMaster("Plate", "text"))
    plate = next(m.id for m in workspace.job.masters.values() if m.name == "Plate")
    workspace.do(do.ChangeMaster(plate, turned=True))
    workspace.do(do.ApplyMaster(plate, (workspace.job.pages[1].id,)))
    path = tmp_path / "rotated.pdf"
    path.write_bytes(pressed(workspace, "trim"))
    document = pdfium.PdfDocument(path)
    upright, rotated, after = (document[index] for index in (3, 1, 2))
    assert rotated.get_size() == upright.get_size() == after.get_size()
    places = [text_box(page, number) for page, number in ((upright, "4"), (rotated, "2"))]
    assert places[0] == pytest.approx(places[1], abs=0.6), "the folio is where it is on other left-hand pages"
    first = letters(rotated)[:40]
    assert (
        max(x for x, _ in first) - min(x for x, _ in first) < 30 < max(y for _, y in first) - min(y for _, y in first)
    )
    assert first[0][1] < first[20][1], "lines run from the foot of the sheet upwards: the head is at the left"
    path.write_bytes(pressed(workspace, "trim", landscape="upright"))
    assert pdfium.PdfDocument(path)[1].get_size() == upright.get_size()[::-1]
    path.write_bytes(pressed(workspace, "print"))
    with pikepdf.open(path) as made:
        boxes = [
            [[float(v) for v in page[name]] for name in ("/MediaBox", "/BleedBox", "/TrimBox")] for page in made.pages
        ]
    assert boxes[1] == boxes[3]
    # A master's own running heads and folios are moved with it, and back.
    before = workspace.job.masters["text"]
    workspace.do(do.ChangeMaster("text", turned=True))
    laid = workspace.job.masters["text"]
    assert [f.turn for f in laid.verso] == [0, 90, 90]
    assert [f.rect for f, _ in workspace.job.master_frames(plate, "verso")] == [f.rect for f in laid.verso]
    workspace.do(do.ChangeMaster("text", turned=False))
    assert workspace.job.masters["text"] == before


def letters(page: pdfium.PdfPage) -> list[tuple[float, float]]:
    """The left foot of each letter of a page that is in its text area, in the order of the file."""
    text = page.get_textpage()
    boxes = (text.get_charbox(index) for index in range(text.count_chars()))
    return [(left, foot) for left, foot, _, head in boxes if 90 < foot < 560 and head > foot]


def text_box(page: pdfium.PdfPage, words: str) -> tuple[float, ...]:
    """Where words stand that are a line of their own at the foot of the sheet."""
    text = page.get_textpage()
    found = [text.get_charbox(index) for index in range(text.count_chars()) if text.get_text_range(index, 1) == words]
    return min(found, key=lambda box: box[1])


def test_words_of_standing_copy_and_dates_read_back_by_poppler(tmp_path: Path) -> None:
    workspace = Workspace(book(), today=WHEN.date())
    workspace.do(do.PutCopy("House", "The Saltmarsh Observatory, Merrowick"))
    (copy,) = workspace.job.copies
    start = do.Place("^", 0)
    for field in (Anchor("date", form="d MMMM yyyy"), Anchor("copy", copy)):
        workspace.do(do.InsertField("main", start, start, field))
    path = tmp_path / "copy.pdf"
    path.write_bytes(pressed(workspace))
    text = subprocess.run(["pdftotext", path, "-"], capture_output=True, text=True, check=True).stdout
    assert "The Saltmarsh Observatory, Merrowick1 January 2026" in text.replace("\n", "")
