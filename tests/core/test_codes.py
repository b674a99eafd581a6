"""Codes: read back by an independent reader from what is printed, and their outlines held against their modules."""

from __future__ import annotations

import random
from dataclasses import replace

import numpy
import pypdfium2 as pdfium
import pytest
import segno
import zxingcpp
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from lexigon.core.check.findings import findings_of
from lexigon.core.codes.bars import laid_out, symbol_of
from lexigon.core.codes.modules import BARS_QUIET, QR_QUIET, CodeError, modules_of
from lexigon.core.codes.outlines import module_size, outlines_in, traced
from lexigon.core.codes.qr import _encoding_region, qr_rows
from lexigon.core.colour.palette import Palette
from lexigon.core.document.article_numbers import ArticleError, normal
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Code, Fill, FrameSpec
from lexigon.core.editing import intents as do
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_plain, job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.codes import code_paths, fitted
from lexigon.core.paint.coverage import coverage
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Path
from tests.core.helpers import book
from tests.core.test_pictures import pdf


def coded(*codes: tuple[Code, Rect]) -> Workspace:
    workspace = Workspace(book(facing=False))
    for code, rect in codes:
        workspace.do(do.AddCode(workspace.job.pages[0].id, rect, code))
    return workspace


def read(workspace: Workspace, kind: str) -> list[tuple[str, str]]:
    """What a reader finds on the first page of the file, rendered at 300 ppi: the kind of each code, and what it
    says."""
    document = pdfium.PdfDocument(pdf(workspace, kind))
    picture = document[0].render(scale=300 / 72).to_pil().convert("L")
    document.close()
    return sorted((str(found.format).split(".")[-1], found.text) for found in zxingcpp.read_barcodes(picture))


@pytest.mark.parametrize("kind", ["print", "screen"])
def test_codes_are_read_back_from_the_file(kind: str) -> None:
    address, long = "https://slackwater.example/evening?hide=7", "Wherry Hole · ’Twas ebb, äöü " * 12
    workspace = coded(
        (Code("qr", address), Rect(60, 60, 80, 80)),
        (Code("qr", long, "H", Fill("marker")), Rect(160, 60, 220, 180)),
        (Code("code 128", "SLACK-1234 ~a"), Rect(60, 300, 200, 50)),
        (Code("code 128", "000123456789"), Rect(60, 400, 160, 40)),
    )
    workspace.do(do.ChangeFrame(workspace.job.pages[0].id, workspace.job.pages[0].objects[0].id, rotation=37.0))
    wanted = [("Code128", "000123456789"), ("Code128", "SLACK-1234 ~a"), ("QRCode", address), ("QRCode", long)]
    assert [(form.replace(" ", ""), text) for form, text in read(workspace, kind)] == sorted(wanted)
    assert not [f for f in findings_of(workspace.composition) if f.kind.startswith("code")]


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
    bars = symbol_of("code 128", "ebb")
    assert bars.across - 2 * BARS_QUIET == 11 * (1 + 3 + 1) + 13, (
        "start, three signs, a check sign of 11 modules, a stop of 13 (ISO/IEC 15417)"
    )
    boxes, words = laid_out(bars, rect)
    assert not words
    assert min(box.x for box in boxes) == pytest.approx(10 + BARS_QUIET * 200 / bars.across)
    assert {(box.y, box.foot) for box in boxes} == {(20, 120)}


def test_a_shape_becomes_a_code_and_what_cannot_be_one_is_said() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.AddShape(page, Rect(60, 60, 90, 90)))
    frame = workspace.job.pages[0].objects[-1].id
    before = job_to_json(workspace.job)
    with pytest.raises(LexigonError, match="Type the content of the code"):
        workspace.do(do.SetCode(page, frame))
    change = workspace.do(do.SetCode(page, frame, text="tel:+441632960001"))
    assert workspace.job.pages[0].objects[-1].code == Code("qr", "tel:+441632960001")
    for wrong in (do.SetCode(page, frame, form="code 128", text="für"), do.SetCode(page, frame, text="x" * 2900)):
        with pytest.raises(LexigonError):
            workspace.do(wrong)
    inks = {
        ink
        for mark in coverage(Display(workspace.composition).page(0).items())
        if mark.owner == frame
        for ink in mark.inks
    }
    assert inks == {"Black"}, "the shape’s own tint does not lie under it"
    check(job_from_plain(plain(workspace.job)))
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    workspace.do(do.AddTextFrame(page, Rect(60, 200, 90, 90), text="words"))
    with pytest.raises(LexigonError, match="A code needs an empty frame"):
        workspace.do(do.SetCode(page, workspace.job.pages[0].objects[-1].id, text="a"))
    with pytest.raises(CodeError):
        modules_of("qr", "")


@pytest.mark.parametrize("paper", [True, False])
def test_codes_arrive_on_a_light_ground(paper: bool) -> None:
    workspace = Workspace(book())
    if not paper:
        del workspace.job.swatches["paper"]
        workspace = Workspace(workspace.job)
    page = workspace.job.pages[0].id
    code = Code("qr", "https://saltmarsh.example")
    workspace.do(do.AddShape(page, Rect(40, 40, 300, 300), spec=FrameSpec(fill=Fill("black"))))
    before = job_to_json(workspace.job)
    change = workspace.do(do.AddCode(page, Rect(80, 80, 100, 100), code))
    made = workspace.job.pages[0].objects[-1]
    assert made.make.fill is not None
    ground = workspace.job.swatches[made.make.fill.swatch]
    assert (ground.space, any(ground.values)) == ("cmyk", False)
    assert not [one for one in findings_of(workspace.composition) if one.kind == "code contrast"]
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def test_a_code_that_readers_fail_at_is_a_finding() -> None:
    workspace = coded(
        (Code("qr", "a" * 300), Rect(60, 60, 30, 30)), (Code("qr", "b", ink=Fill("black", 0.15)), Rect(60, 160, 60, 60))
    )
    dark = workspace.job.pages[0].objects[1].id
    assert [f.kind for f in findings_of(workspace.composition) if f.kind.startswith("code")] == [
        "code too small",
        "code contrast",
    ]
    page = workspace.job.pages[0].id
    workspace.do(
        do.SetCode(page, dark, ink=Fill("black")), do.ChangeFrame(page, dark, spec=FrameSpec(fill=Fill("black", 0.9)))
    )
    assert [f.kind for f in findings_of(workspace.composition) if f.kind == "code contrast"] == ["code contrast"]


# Article numbers and other kinds


ARTICLES = [
    ("ean 13", "978-0-306-40615-7", "9780306406157"),
    ("ean 13", "0-306-40615-2", "9780306406157"),
    ("ean 13", "978030640615", "9780306406157"),
    ("ean 8", "9638507", "96385074"),
    ("upc a", "036000291452", "036000291452"),
    ("itf 14", "1540014128876", "15400141288763"),
]
"""Numbers that are shown as examples in the users' manual of the ISBN, and in encyclopedias' articles on EAN-8, UPC and
ITF-14 (from memory)."""


@pytest.mark.parametrize(("form", "typed", "kept"), ARTICLES)
def test_an_article_number_is_kept_with_its_check_digit(form: str, typed: str, kept: str) -> None:
    assert normal(form, typed) == kept
    wrong = kept[:-1] + str((int(kept[-1]) + 1) % 10)
    with pytest.raises(ArticleError, match=f"should be {kept[-1]}"):
        normal(form, wrong)
    for nonsense in ("", "12", "abcdefghijklm", kept + "1", "٣" * 13):
        with pytest.raises(ArticleError):
            normal(form, nonsense)


def test_book_numbers_of_ten_figures_may_end_in_x() -> None:
    """ISBN 0-8044-2957-X, the usual example of such a one (from memory)."""
    assert normal("ean 13", "0-8044-2957-X") == "9780804429573"
    with pytest.raises(ArticleError, match="The last figure should be X"):
        normal("ean 13", "0-8044-2957-1")


@given(st.text("0123456789", min_size=12, max_size=12), st.integers(0, 12), st.integers(1, 9))
def test_one_mistyped_figure_is_always_found(body: str, at: int, by: int) -> None:
    """What check digits of weights 1 and 3 are for."""
    kept = normal("ean 13", body)
    wrong = kept[:at] + str((int(kept[at]) + by) % 10) + kept[at + 1 :]
    with pytest.raises(ArticleError):
        normal("ean 13", wrong)


@pytest.mark.parametrize("kind", ["print", "screen"])
def test_every_kind_is_read_back_from_the_file_with_its_add_on(kind: str) -> None:
    workspace = coded(
        (
            Code("ean 13", "9780306406157", addon="51299", words=True, above="ISBN 978-0-306-40615-7"),
            Rect(60, 60, 165, 90),
        ),
        (Code("ean 13", "9771234567003", addon="07", words=True), Rect(260, 60, 140, 80)),
        (Code("ean 8", "96385074", words=True), Rect(60, 190, 90, 70)),
        (Code("upc a", "036000291452", words=True), Rect(180, 190, 120, 80)),
        (Code("itf 14", "15400141288763", words=True), Rect(60, 300, 260, 90)),
        (Code("data matrix", "Wherry Hole · 7", ink=Fill("marker")), Rect(60, 430, 60, 60)),
        (Code("code 128", "SLACK-12", words=True), Rect(180, 430, 160, 60)),
    )
    document = pdfium.PdfDocument(pdf(workspace, kind))
    picture = document[0].render(scale=300 / 72).to_pil().convert("L")
    document.close()
    found = zxingcpp.read_barcodes(picture, ean_add_on_symbol=zxingcpp.EanAddOnSymbol.Read)
    wanted = {
        "978030640615751299",
        "977123456700307",
        "96385074",
        "0036000291452",
        "15400141288763",
        "WherryHole·7",
        "SLACK-12",
    }
    alone = {"9780306406157", "9771234567003"}  # where the bars stand higher than those of their add-ons
    assert {one.text.replace(" ", "") for one in found} - alone == wanted
    assert not [f for f in findings_of(workspace.composition) if f.kind.startswith("code")]


def test_modules_of_whole_press_dots() -> None:
    """Every edge is a whole number of dots from the first, the code stays in the middle of its frame, and it is still
    read."""
    made = (
        Code("qr", "Wherry Hole", dots=2400),
        Code("data matrix", "Wherry Hole", dots=1200),
        Code("ean 13", "9780306406157", addon="51299", words=True, dots=2540),
        Code("itf 14", "15400141288763", dots=2400),
    )
    palette = Palette(book().swatches)
    for code in made:
        rect = Rect(20.3, 30.7, 171.1, 81.9)
        free, whole = fitted(replace(code, dots=0), rect), fitted(code, rect)
        assert free.box == rect
        assert free.module - 2 * 72 / code.dots < whole.module <= free.module
        assert abs(whole.box.x + whole.box.width / 2 - (rect.x + rect.width / 2)) < 1e-9
        path = code_paths(code, rect, palette)[0]
        assert isinstance(path, Path)
        xs = sorted({x for _, points in path.steps for x, _ in points})
        assert len(xs) > 10
        assert all(abs((x - xs[0]) * code.dots / 72 - round((x - xs[0]) * code.dots / 72)) < 1e-6 for x in xs), (
            code.form
        )
    with pytest.raises(CodeError, match="a module would be smaller than a device dot"):
        fitted(replace(made[0], dots=1200), Rect(0, 0, 1, 1))
    workspace = coded(*((code, Rect(40, 40 + 120 * n, 171.1, 81.9)) for n, code in enumerate(made)))
    document = pdfium.PdfDocument(pdf(workspace, "print"))
    picture = document[0].render(scale=300 / 72).to_pil().convert("L")
    document.close()
    assert len(zxingcpp.read_barcodes(picture)) == len(made)


def test_bars_stand_where_the_standard_says() -> None:
    """ISO/IEC 15420: 95 modules between quiet zones of 11 and 7; an add-on of 47 for five figures, 20 for two. Figures
    leave the bars room."""
    plain, added = symbol_of("ean 13", "9780306406157"), symbol_of("ean 13", "9780306406157", "51299", True)
    assert plain.across == 11 + 95 + 7
    assert added.across == 11 + 95 + 9 + 47 + 5
    assert symbol_of("ean 13", "9780306406157", "12").across == 11 + 95 + 9 + 20 + 5
    assert plain.bars[0].x == 11
    assert sum(bar.width for bar in plain.bars) < 95
    guards = [bar for bar in added.bars if bar.kind == "guard"]
    assert len(guards) == 6, "two at each end, two in the middle"
    rect = Rect(0, 0, added.across, 80)
    bars, words = laid_out(added, rect)
    assert max(bar.foot for bar in bars) <= 80
    for text, box in words:
        assert rect.y <= box.y < box.foot <= rect.foot, text
        assert not any(
            bar.x < box.right and bar.right > box.x and bar.y < box.foot and bar.foot > box.y for bar in bars
        ), text
    assert "".join(text for text, _ in words) == "978030640615751299"


def test_bars_that_scanners_miss_are_findings() -> None:
    workspace = coded(
        (Code("ean 13", "9780306406157"), Rect(60, 60, 50, 40)),
        (Code("ean 13", "9780306406157"), Rect(60, 160, 300, 80)),
    )
    page = workspace.job.pages[0]
    kinds = [f.kind for f in findings_of(workspace.composition) if f.kind.startswith("code")]
    assert kinds == ["code too small", "code too large"]
    workspace.do(do.PutSwatch(name="Poppy", space="cmyk", values=(0.0, 0.95, 0.9, 0.25)))
    poppy = list(workspace.job.swatches)[-1]
    workspace.do(do.AddCode(page.id, Rect(60, 300, 120, 80), Code("ean 13", "9780306406157", ink=Fill(poppy))))
    assert [f.kind for f in findings_of(workspace.composition) if f.kind == "code contrast"] == ["code contrast"]
    with pytest.raises(LexigonError, match="two or five"):
        workspace.do(do.SetCode(page.id, page.objects[0].id, addon="123"))
    with pytest.raises(LexigonError, match="The last figure should be"):
        workspace.do(do.SetCode(page.id, page.objects[0].id, text="9780306406150"))
    workspace.do(do.SetCode(page.id, page.objects[0].id, text="0-306-40615-2", addon="90000"))
    assert workspace.job.pages[0].objects[0].code == Code("ean 13", "9780306406157", addon="90000")


def test_the_modules_of_a_qr_code_are_segno_s() -> None:
    """For every version and level, and for content of every kind: the data mask is found at once for all eight."""
    dice = random.Random(18004)
    texts = {f"{'1' * digits}": level for level in "LMQH" for digits in (1, 60, 900)}
    for letters in ("0123456789", "ABC $%*+-./:", "abcäé🦆xyz;:"):
        for length in (1, 30, 120):
            for level in "LMQH":
                texts["".join(dice.choice(letters) for _ in range(length))] = level
    versions = set()
    for text, level in texts.items():
        code = segno.make_qr(text, error=level, boost_error=False)
        versions.add(code.version)
        assert qr_rows(text, level) == tuple(tuple(map(bool, row)) for row in code.matrix), (text, level)
    assert len(versions) > 8
    for version in (1, 2, 6, 7, 14, 22, 28, 32, 36, 40):
        fixed = segno.make_qr("1", version=version, error="L", boost_error=False)
        size = len(fixed.matrix)
        other = segno.make_qr("2" * 17, version=version, error="L", boost_error=False, mask=fixed.mask)
        differs = numpy.array(fixed.matrix) != numpy.array(other.matrix)
        assert not (differs & ~_encoding_region(size)).any(), "patterns are where data is not"


def test_a_code_is_judged_against_what_is_below_it() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    ground = Fill("black", 0.9)
    workspace.do(do.AddShape(page, Rect(50, 50, 200, 200), None, FrameSpec(fill=ground), "Night"))
    workspace.do(do.AddCode(page, Rect(80, 80, 60, 60), Code("qr", "https://saltmarsh.example")))
    code = workspace.job.pages[0].objects[-1].id

    def kinds() -> list[str]:
        return [one.kind for one in findings_of(workspace.composition) if one.kind.startswith("code")]

    assert kinds() == [], "the light ground of its frame"
    workspace.do(do.ChangeFrame(page, code, spec=FrameSpec(fill=Fill(""))))
    assert kinds() == ["code contrast"], "the dark shape below it"
    workspace.do(do.ChangeFrame(page, code, rect=Rect(300, 300, 60, 60)))
    assert kinds() == [], "the paper"
