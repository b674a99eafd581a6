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

from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Rect
from lexigon.core.job import intents as do
from lexigon.core.job.forms.sheets import folds_of
from lexigon.core.job.model import Anchor
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book, setup

WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)


def pressed(desk: Desk, name: str = "print") -> bytes:
    target = io.BytesIO()
    write_pdf(desk.composition, recipe(name), target, WHEN)
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
        desk = Desk(job)
        key = job.pages[0].id
        desk.do(do.AddTextFrame(key, Rect(100, 100, 100, 100), text="Slack water at half past ten"))
        desk.do(do.ChangeFrame(key, job.pages[0].frames[0].id, turn=turned))  # type: ignore[arg-type]
        return ink(pressed(desk, "screen"), scale=3)

    upright, turned = page(0), page(turn)
    assert upright.sum() > 500
    wanted = numpy.rot90(upright, -turn // 90)
    assert (wanted & turned).sum() > 0.75 * upright.sum(), "the same ink in the same places, but for smoothing"
    assert (upright & turned).sum() < 0.5 * upright.sum()


def test_fold_marks_stand_outside_the_bleed_where_the_sheet_folds() -> None:
    made = setup("brochure")
    desk = Desk(made.new_job())
    data = pressed(desk)
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
    desk = Desk(book())
    desk.do(do.AddPages(1, 1, "text"))
    desk.do(do.AddMaster("Plate", "text"))
    plate = next(m.id for m in desk.job.masters.values() if m.name == "Plate")
    desk.do(do.ChangeMaster(plate, turned=True))
    desk.do(do.ApplyMaster(plate, (desk.job.pages[1].id,)))
    assert desk.job.text_area(1).width == 648 - 63 - 45
    path = tmp_path / "turned.pdf"
    path.write_bytes(pressed(desk, "screen"))
    told = subprocess.run(["pdfinfo", "-l", "2", path], capture_output=True, text=True, check=True).stdout
    assert re.findall(r"Page +\d size: +([\d.]+) x ([\d.]+)", told) == [("432", "648"), ("648", "432")]


def test_words_of_standing_copy_and_dates_read_back_by_poppler(tmp_path: Path) -> None:
    desk = Desk(book(), today=WHEN.date())
    desk.do(do.PutCopy("House", "The Saltmarsh Observatory, Merrowick"))
    (copy,) = desk.job.copies
    start = do.Place("^", 0)
    for field in (Anchor("date", form="d MMMM yyyy"), Anchor("copy", copy)):
        desk.do(do.InsertField("main", start, start, field))
    path = tmp_path / "copy.pdf"
    path.write_bytes(pressed(desk))
    text = subprocess.run(["pdftotext", path, "-"], capture_output=True, text=True, check=True).stdout
    assert "The Saltmarsh Observatory, Merrowick1 January 2026" in text.replace("\n", "")
