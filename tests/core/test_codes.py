"""Codes: read back by an independent reader from what is printed, and their outlines held against their modules."""

from __future__ import annotations

import pypdfium2 as pdfium
import pytest
import zxingcpp
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from lexigon.core.check.findings import findings_of
from lexigon.core.codes.modules import BARS_QUIET, QR_QUIET, CodeError, modules_of
from lexigon.core.codes.outlines import module_size, outlines_in, traced
from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Rect
from lexigon.core.job import intents as do
from lexigon.core.job.checks import check
from lexigon.core.job.model import Code, Fill, FrameSpec
from lexigon.core.job.serial import job_from_plain, job_to_json, plain
from lexigon.core.paint.coverage import coverage
from lexigon.core.paint.display import Display
from tests.core.helpers import book
from tests.core.test_pictures import pdf


def coded(*codes: tuple[Code, Rect]) -> Desk:
    desk = Desk(book(facing=False))
    for code, rect in codes:
        desk.do(do.AddCode(desk.job.pages[0].id, rect, code))
    return desk


def read(desk: Desk, kind: str) -> list[tuple[str, str]]:
    """What a reader finds on the first page of the file, rendered at 300 ppi: the kind of each code, and what it says."""
    document = pdfium.PdfDocument(pdf(desk, kind))
    picture = document[0].render(scale=300 / 72).to_pil().convert("L")
    document.close()
    return sorted((str(found.format).split(".")[-1], found.text) for found in zxingcpp.read_barcodes(picture))


@pytest.mark.parametrize("kind", ["print", "screen"])
def test_codes_are_read_back_from_the_file(kind: str) -> None:
    address, long = "https://slackwater.example/evening?hide=7", "Wherry Hole · ’Twas ebb, äöü " * 12
    desk = coded(
        (Code("qr", address), Rect(60, 60, 80, 80)), (Code("qr", long, "H", Fill("marker")), Rect(160, 60, 220, 180)),
        (Code("code 128", "SLACK-1234 ~a"), Rect(60, 300, 200, 50)), (Code("code 128", "000123456789"), Rect(60, 400, 160, 40)),
    )  # fmt: skip
    desk.do(do.ChangeFrame(desk.job.pages[0].id, desk.job.pages[0].objects[0].id, rotation=37.0))
    wanted = [("Code128", "000123456789"), ("Code128", "SLACK-1234 ~a"), ("QRCode", address), ("QRCode", long)]
    assert [(form.replace(" ", ""), text) for form, text in read(desk, kind)] == sorted(wanted)
    assert not [f for f in findings_of(desk.composition) if f.kind.startswith("code")]


@given(st.lists(st.lists(st.booleans(), min_size=7, max_size=7), min_size=1, max_size=7))
def test_outlines_hold_the_dark_modules_and_no_others(rows: list[list[bool]]) -> None:
    """Filled by Pillow, loop by loop: what is within an odd number of them is dark."""
    size = 8
    canvas = Image.new("1", (7 * size, len(rows) * size))
    loops = traced(tuple(map(tuple, rows)))
    for loop in loops:
        one = Image.new("1", canvas.size)
        ImageDraw.Draw(one).polygon([(x * size, y * size) for x, y in loop], fill=1)
        pixels = [a ^ b for a, b in zip(canvas.tobytes(), one.tobytes(), strict=True)]
        canvas = Image.frombytes("1", canvas.size, bytes(pixels))
    seen = [[bool(canvas.getpixel((x * size + 4, y * size + 4))) for x in range(7)] for y in range(len(rows))]
    assert seen == rows
    for loop in loops:
        turns = zip((loop[-1], *loop), loop, (*loop[1:], loop[0]), strict=False)
        assert all((a[0] == b[0]) != (b[0] == c[0]) for a, b, c in turns), "every corner is one"


def test_the_quiet_zone_lies_within_the_frame() -> None:
    rect = Rect(10, 20, 200, 100)
    square = modules_of("qr", "ebb")
    size = module_size(square, rect)
    assert size == 100 / (21 + 2 * QR_QUIET), "version 1 has 21 modules (ISO/IEC 18004)"
    points = [point for loop in outlines_in(square, rect) for point in loop]
    assert min(y for _, y in points) == pytest.approx(20 + QR_QUIET * size)
    assert max(y for _, y in points) == pytest.approx(120 - QR_QUIET * size)
    bars = modules_of("code 128", "ebb")
    assert len(bars.rows[0]) == 11 * (1 + 3 + 1) + 13, (
        "start, three signs, a check sign of 11 modules, a stop of 13 (ISO/IEC 15417)"
    )
    points = [point for loop in outlines_in(bars, rect) for point in loop]
    assert min(x for x, _ in points) == pytest.approx(10 + BARS_QUIET * module_size(bars, rect))
    assert {y for _, y in points} == {20, 120}


def test_a_shape_becomes_a_code_and_what_cannot_be_one_is_said() -> None:
    desk = Desk(book(facing=False))
    page = desk.job.pages[0].id
    desk.do(do.AddShape(page, Rect(60, 60, 90, 90)))
    frame = desk.job.pages[0].objects[-1].id
    before = job_to_json(desk.job)
    with pytest.raises(LexigonError, match="Say what"):
        desk.do(do.SetCode(page, frame))
    change = desk.do(do.SetCode(page, frame, text="tel:+441632960001"))
    assert desk.job.pages[0].objects[-1].code == Code("qr", "tel:+441632960001")
    for wrong in (do.SetCode(page, frame, form="code 128", text="für"), do.SetCode(page, frame, text="x" * 2900)):
        with pytest.raises(LexigonError):
            desk.do(wrong)
    inks = {
        ink for mark in coverage(Display(desk.composition).page(0).items()) if mark.owner == frame for ink in mark.inks
    }
    assert inks == {"Black"}, "the shape’s own tint does not lie under it"
    check(job_from_plain(plain(desk.job)))
    desk.run(change.inverse)
    assert job_to_json(desk.job) == before
    desk.do(do.AddTextFrame(page, Rect(60, 200, 90, 90), text="words"))
    with pytest.raises(LexigonError, match="holds something else"):
        desk.do(do.SetCode(page, desk.job.pages[0].objects[-1].id, text="a"))
    with pytest.raises(CodeError):
        modules_of("qr", "")


def test_a_code_that_readers_fail_at_is_a_finding() -> None:
    desk = coded(
        (Code("qr", "a" * 300), Rect(60, 60, 30, 30)), (Code("qr", "b", ink=Fill("black", 0.15)), Rect(60, 160, 60, 60))
    )
    dark = desk.job.pages[0].objects[1].id
    assert [f.kind for f in findings_of(desk.composition) if f.kind.startswith("code")] == [
        "code too small",
        "code contrast",
    ]
    page = desk.job.pages[0].id
    desk.do(
        do.SetCode(page, dark, ink=Fill("black")), do.ChangeFrame(page, dark, spec=FrameSpec(fill=Fill("black", 0.9)))
    )
    assert [f.kind for f in findings_of(desk.composition) if f.kind == "code contrast"] == ["code contrast"]
