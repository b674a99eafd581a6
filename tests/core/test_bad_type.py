"""Fonts, sizes and words that nobody would wish for: a clear word, nothing lost, no endless work."""

from __future__ import annotations

import io
import shutil
from dataclasses import replace
from datetime import datetime, timezone
from pathlib import Path

import pikepdf
import pytest
from fontTools.ttLib import TTFont

from lexigon.core.document.model import Paragraph, ParaSpec, Span, TypeSpec
from lexigon.core.editing.intents import AddTextFrame, PourText, SetParagraphs
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from lexigon.core.type.fonts import FontLibrary, shipped
from tests.core.helpers import book, odd_font, shape, words

SOURCE = shipped().face("Fira Sans").path
WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)


@pytest.fixture
def library(tmp_path: Path) -> FontLibrary:
    """A library of odd fonts beside a good one."""
    good = tmp_path / "good"
    good.mkdir()
    shutil.copy(shipped().face("EB Garamond").path, good)
    odd = tmp_path / "odd"
    odd_font(odd / "Spaceless.ttf", lambda font: [table.cmap.pop(0x20, None) for table in font["cmap"].tables])
    odd_font(odd / "Locked.ttf", lambda font: setattr(font["OS/2"], "fsType", 2))
    (odd / "Broken.ttf").write_bytes(SOURCE.read_bytes()[:4000])
    (odd / "Empty.otf").write_bytes(b"")
    (odd / "Picture.ttf").write_bytes(b"\x89PNG\r\n\x1a\n" * 50)
    return FontLibrary(tmp_path)


def test_broken_fonts_are_left_out_and_named(library: FontLibrary) -> None:
    assert set(library.problems) == {"Broken.ttf", "Empty.otf", "Picture.ttf"}
    assert set(library.families) == {"EB Garamond", "Spaceless", "Locked"}
    with pytest.raises(LexigonError, match="no font at all"):
        _ = FontLibrary(Path("/nowhere")).default


def test_a_font_without_a_space_sets_words_apart(library: FontLibrary) -> None:
    job = book()
    workspace = Workspace(job, library)
    workspace.do(PourText("main", (Paragraph("pa", "body", words(40), type=TypeSpec(family="Spaceless")),)))
    art = Display(workspace.composition).page(0)
    line = next(line for frame in art.frames for line in frame.lines if len(line.runs[0].text.split()) > 3)
    spaces = [part.advance for part in line.runs[0].parts if part.space]
    assert min(spaces) > 1.5
    assert svg_of(art.items())
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe("screen"), target, WHEN)
    assert len(pikepdf.open(target).pages) == len(job.pages)


def test_a_font_that_may_not_be_embedded_is_refused_in_words(library: FontLibrary) -> None:
    workspace = Workspace(book(), library)
    workspace.do(PourText("main", (Paragraph("pa", "body", "locked", type=TypeSpec(family="Locked")),)))
    with pytest.raises(LexigonError, match="The licence of FiraSans-Regular does not"):
        write_pdf(workspace.composition, recipe("print"), io.BytesIO(), WHEN)


def test_a_family_that_is_gone_keeps_its_name_and_comes_back(library: FontLibrary) -> None:
    workspace = Workspace(book(), library)
    workspace.do(PourText("main", (Paragraph("pa", "body", "spaceless words", type=TypeSpec(family="Spaceless")),)))
    kept = job_from_json(job_to_json(workspace.job))
    gone = Workspace(kept, shipped())
    run = next(line.runs[0] for f in Display(gone.composition).page(0).frames for line in f.lines if line.runs)
    assert run.look.cut.face.family == "EB Garamond"
    assert run.look.spec.family == "Spaceless"
    back = Workspace(gone.job, library)
    run = next(line.runs[0] for f in Display(back.composition).page(0).frames for line in f.lines if line.runs)
    assert run.look.cut.face.family == "Spaceless"


@pytest.mark.parametrize(
    ("spec", "para", "says"),
    [
        (TypeSpec(size=0.0), None, "0.1 and 5,000"),
        (TypeSpec(size=6000.0), None, "0.1 and 5,000"),
        (None, ParaSpec(leading=0.1), "Leading"),
        (None, ParaSpec(drop_lines=99), "A drop cap is"),
        (TypeSpec(scale_x=0.0), None, "2,000 %"),
        (TypeSpec(features=("nonsense",)), None, "OpenType feature"),
    ],
)
def test_values_nothing_can_be_set_in_are_refused(spec: TypeSpec | None, para: ParaSpec | None, says: str) -> None:
    workspace = Workspace(book())
    first = workspace.job.stories["main"].paragraphs[0].id
    with pytest.raises(LexigonError, match=says):
        workspace.do(SetParagraphs("main", first, first, para=para, type=spec))


@pytest.mark.parametrize("size", [0.1, 5000.0])
def test_the_smallest_and_the_largest_type(size: float) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(50, 50, 200, 200), text="Marsh and sea"))
    frame = workspace.job.pages[0].frames[-1]
    story = frame.story or ""
    p = workspace.job.stories[story].paragraphs[0].id
    workspace.do(SetParagraphs(story, p, p, type=TypeSpec(size=size), para=ParaSpec(leading=0.0)))
    art = next(f for f in Display(workspace.composition).page(0).frames if f.frame.id == frame.id)
    shown = "".join(run.text for line in art.lines for run in line.runs)
    assert shown == "Marsh and sea" if size < 1 else art.overset is not None
    first = workspace.job.stories["main"].paragraphs[0].id
    workspace.do(SetParagraphs("main", first, first, type=TypeSpec(size=size)))
    assert len(workspace.job.pages) < 5, "type that fits no page makes no endless pages"


def test_right_to_left_words_and_emoji_are_kept_and_flagged() -> None:
    from lexigon.core.type.runs import runs_of

    workspace = Workspace(book())
    text = "Latin שלום words 🐦 and end"
    workspace.do(PourText("main", (Paragraph("pa", "body", text, (Span(0, 5, style="strong"),)),)))
    paragraph = workspace.job.stories["main"].paragraphs[0]
    shown, runs = runs_of(workspace.composition.cascade, workspace.composition.library, paragraph)
    assert shown == text
    missing = {c for run in runs for c in shown[run.start : run.end] if run.look.cut.face.lacks({c})}
    covered = {c for face in shipped().faces for c in text if c in face.characters}
    assert missing == set("שלום🐦") - covered
    whole = "".join(
        run.text
        for f in Display(workspace.composition).page(0).frames
        for line in f.lines
        for run in line.runs
        if f.frame.main
    )
    assert whole == text


def test_a_wrap_that_takes_the_whole_of_every_page_ends() -> None:
    from lexigon.core.document.model import Wrap

    job = book(facing=False)
    master = job.masters["text"]
    wall = shape("wall", Rect(0, 0, 432, 648), wrap=Wrap("both"))
    job.masters["text"] = replace(master, recto=(*master.recto, wall))
    workspace = Workspace(job)
    workspace.do(PourText("main", (Paragraph("pa", "body", words(50)),)))
    assert len(job.pages) < 5
    assert workspace.composition.flows["main"].overset


def test_a_variable_font_is_set_and_embedded_at_its_default(tmp_path: Path) -> None:
    from fontTools.fontBuilder import FontBuilder
    from fontTools.pens.ttGlyphPen import TTGlyphPen
    from fontTools.ttLib.tables.TupleVariation import TupleVariation

    def square(size: int) -> object:
        pen = TTGlyphPen(None)
        pen.moveTo((0, 0))
        for point in ((0, size), (size, size), (size, 0)):
            pen.lineTo(point)
        pen.closePath()
        return pen.glyph()

    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder([".notdef", "space", "A"])
    builder.setupCharacterMap({0x20: "space", 0x41: "A"})
    builder.setupGlyf({".notdef": square(500), "space": TTGlyphPen(None).glyph(), "A": square(600)})
    builder.setupHorizontalMetrics({".notdef": (500, 0), "space": (250, 0), "A": (650, 0)})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Variable", "styleName": "Regular", "psName": "Variable-Regular"})
    builder.setupOS2(usWeightClass=400)
    builder.setupPost()
    builder.setupFvar([("wght", 100, 400, 900, "Weight")], [])
    heavier = TupleVariation({"wght": (0, 1, 1)}, [(0, 0), (0, 90), (90, 90), (90, 0), (0, 0), (90, 0), (0, 0), (0, 0)])
    builder.setupGvar({".notdef": [], "space": [], "A": [heavier]})
    (tmp_path / "v").mkdir()
    builder.save(tmp_path / "v" / "Variable.ttf")
    (tmp_path / "good").mkdir()
    shutil.copy(shipped().face("EB Garamond").path, tmp_path / "good")
    library = FontLibrary(tmp_path)
    assert not library.problems
    workspace = Workspace(book(), library)
    workspace.do(PourText("main", (Paragraph("pa", "body", "A A", type=TypeSpec(family="Variable")),)))
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe("print"), target, WHEN)
    with pikepdf.open(target) as pdf:
        fonts = [o for o in pdf.objects if isinstance(o, pikepdf.Dictionary) and "/FontFile2" in o]
        font = next(TTFont(io.BytesIO(o.FontFile2.read_bytes())) for o in fonts if "Variable" in str(o.FontName))
    assert "fvar" not in font
    assert "gvar" not in font
    assert font["hmtx"]["glyph00002"][0] == 650
