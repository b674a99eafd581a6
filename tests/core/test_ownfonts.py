"""Fonts that a job brings along: taken before others of their family, gone and back, in its file and in its PDF."""

from __future__ import annotations

import hashlib
import io
import subprocess
from datetime import datetime, timezone
from pathlib import Path

import pikepdf
import pytest
from fontTools.ttLib import TTFont

from lexigon.cli.jobs import open_job
from lexigon.cli.main import main
from lexigon.core.document.model import OwnFont, Paragraph, TypeSpec
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.intents import AddFont, BringStyles, PourText, PutStyle, RemoveFont
from lexigon.core.fileformat import package
from lexigon.core.flow.workspace import Workspace
from lexigon.core.paint.display import Display
from lexigon.core.press.document import write_pdf
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.recipes import recipe
from lexigon.core.type.features import NAMES, offered
from lexigon.core.type.fonts import FontError, examined, shipped
from lexigon.core.type.ownfonts import cautions
from tests.core.helpers import book, odd_font, words

WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)


def own(path: Path, key: str = "ta") -> OwnFont:
    face = examined(path)
    return OwnFont(key, path.name, hashlib.sha256(path.read_bytes()).hexdigest(), face.family, face.weight, face.italic)


def used(workspace: Workspace) -> str:
    """The family that the first words are really set in."""
    run = next(line.runs[0] for f in Display(workspace.composition).page(0).frames for line in f.lines if line.runs)
    return run.look.cut.face.family


def test_a_font_comes_goes_and_comes_back(tmp_path: Path) -> None:
    path = odd_font(tmp_path / "Wherry Sans.ttf")
    font = own(path)
    workspace = Workspace(book(), {font.file: path}.get)
    workspace.do(PourText("main", (Paragraph("pa", "body", words(30), type=TypeSpec(family="Wherry Sans")),)))
    assert used(workspace) == "EB Garamond"
    workspace.do(AddFont(font))
    assert used(workspace) == "Wherry Sans"
    assert workspace.do(AddFont(font)).edits == (), "the same file a second time"
    change = workspace.do(RemoveFont("ta"))
    assert used(workspace) == "EB Garamond"
    assert workspace.job.stories["main"].paragraphs[0].type == TypeSpec(family="Wherry Sans"), "its name is kept"
    workspace.run(change.inverse)
    assert used(workspace) == "Wherry Sans"
    with pytest.raises(EditError, match="no longer"):
        workspace.do(RemoveFont("tz"))
    missing = Workspace(workspace.job, lambda name: None)
    assert used(missing) == "EB Garamond", "a file that is missing is stood in for"


def test_a_jobs_own_cut_is_taken_before_the_one_that_ships(tmp_path: Path) -> None:
    path = odd_font(tmp_path / "EB Garamond.ttf")
    font = own(path)
    workspace = Workspace(book(), {font.file: path}.get)
    workspace.do(PourText("main", (Paragraph("pa", "body", words(30)),)), AddFont(font))
    run = next(line.runs[0] for f in Display(workspace.composition).page(0).frames for line in f.lines if line.runs)
    assert run.look.cut.face.path == path
    assert Workspace(book()).composition.library is shipped(), "other jobs have nothing of it"


def test_it_travels_in_the_jobs_file_and_into_the_pdf(tmp_path: Path) -> None:
    path = odd_font(tmp_path / "Wherry Sans.ttf")
    font = own(path)
    workspace = Workspace(book(), {font.file: path}.get)
    workspace.do(
        AddFont(font), PourText("main", (Paragraph("pa", "body", "dunlin", type=TypeSpec(family="Wherry Sans")),))
    )
    data = package.write(workspace.job, {font.file: path.read_bytes()})
    assert package.read_files(data) == {font.file: path.read_bytes()}
    target = tmp_path / "job.lexigon"
    target.write_bytes(data)
    again = open_job(str(target))
    assert used(again) == "Wherry Sans"
    pdf = io.BytesIO()
    write_pdf(again.composition, recipe("print"), pdf, WHEN)
    with pikepdf.open(pdf) as made:
        names = [str(o.FontName) for o in made.objects if isinstance(o, pikepdf.Dictionary) and "/FontName" in o]
    face = examined(path)
    assert any(name.endswith(face.postscript_name) for name in names), names


def test_a_book_is_begun_with_a_font_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, out = odd_font(tmp_path / "Wherry Sans.ttf"), tmp_path / "book.lexigon"
    assert main(["new", "--font", str(path), "--body", "10/14 Wherry Sans", "--out", str(out)]) == 0
    assert {font.family for font in open_job(str(out)).job.fonts.values()} == {"Wherry Sans"}
    broken = tmp_path / "Broken.otf"
    broken.write_bytes(b"OTTO" + b"\0" * 200)
    assert main(["new", "--font", str(broken), "--out", str(tmp_path / "no.lexigon")]) == 2
    assert "Broken.otf is broken, or no font" in capsys.readouterr().err
    assert not (tmp_path / "no.lexigon").exists()


def test_styles_bring_their_fonts(tmp_path: Path) -> None:
    path = odd_font(tmp_path / "Wherry Sans.ttf")
    font = own(path)
    there, here = Workspace(book(), {font.file: path}.get), Workspace(book(), {font.file: path}.get)
    there.do(AddFont(font), PutStyle("paragraph", None, "Lead", "body", type=TypeSpec(family="Wherry Sans")))
    styles = tuple(there.job.paragraph_styles.values())
    here.do(BringStyles(styles, fonts=tuple(there.job.fonts.values())))
    assert [f.family for f in here.job.fonts.values()] == ["Wherry Sans"]


@pytest.mark.parametrize(
    ("name", "data", "words_"),
    [
        ("Web.woff2", b"wOF2" + b"\0" * 80, "made for web pages"),
        ("Several.ttc", b"ttcf" + b"\0" * 80, "several fonts"),
        ("Empty.otf", b"", "broken"),
        ("Picture.ttf", b"\x89PNG\r\n\x1a\n" * 40, "broken"),
    ],
)
def test_files_that_are_no_fonts_are_refused_in_words(tmp_path: Path, name: str, data: bytes, words_: str) -> None:
    path = tmp_path / name
    path.write_bytes(data)
    with pytest.raises(FontError, match=words_):
        examined(path)


def test_a_font_cut_off_or_scrambled_anywhere_is_refused_or_usable(tmp_path: Path) -> None:
    """No byte of a hostile file may do more than have the file refused."""
    source = odd_font(tmp_path / "Whole.ttf").read_bytes()
    refused = 0
    for number in range(24):
        data = bytearray(source[: len(source) * (number + 1) // 24])
        for at in range(12 + number * 7, min(len(data), 2000), 97):
            data[at] ^= 0x5A
        path = tmp_path / f"odd-{number}.ttf"
        path.write_bytes(bytes(data))
        try:
            examined(path)
        except FontError:
            refused += 1
    assert refused > 20


def test_what_one_should_know_of_a_font(tmp_path: Path) -> None:
    assert cautions(examined(odd_font(tmp_path / "Plain.ttf"))) == []
    locked = odd_font(tmp_path / "Locked.ttf", lambda font: setattr(font["OS/2"], "fsType", 2))
    assert "forbids embedding" in cautions(examined(locked))[0]


def test_the_features_offered_are_the_fonts_own() -> None:
    """Against the font's GSUB and GPOS as fontTools reads them."""
    for family in ("EB Garamond", "Alegreya", "Source Serif 4"):
        face = shipped().face(family)
        with TTFont(face.path) as font:
            tags = {
                r.FeatureTag for t in ("GSUB", "GPOS") if t in font for r in font[t].table.FeatureList.FeatureRecord
            }
        named = {f.tag for f in offered(face)}
        assert named <= tags
        assert tags & set(NAMES) <= named
        assert {tag for tag in tags if tag[:2] in ("ss", "cv") and tag[2:].isdigit()} <= named
    sets = {f.tag: f.name for f in offered(shipped().face("Source Serif 4")) if f.tag.startswith("ss")}
    assert any("alternates" in name.lower() for name in sets.values()), "named as the font names them"


@pytest.mark.parametrize("cff", [False, True])
def test_a_font_that_may_not_be_divided_is_embedded_whole(cff: bool, tmp_path: Path) -> None:
    """OpenType 1.9, OS/2, fsType: bit 8 forbids subsets, bit 9 allows bitmaps alone. Poppler says whether it is a
    subset."""
    if cff:
        source, path = Path("/usr/share/fonts/opentype/ebgaramond/EBGaramond12-Regular.otf"), tmp_path / "Whole.otf"
        if not source.exists():
            pytest.skip("Debian's fonts-ebgaramond is not installed")
        with TTFont(source) as made:
            made["OS/2"].fsType = 0x100
            for number in (16, 1):
                made["name"].setName("Whole", number, 3, 1, 0x409)
            made.save(path)
    else:
        path = odd_font(tmp_path / "Whole.ttf", lambda font: setattr(font["OS/2"], "fsType", 0x100))
    font = own(path)
    workspace = Workspace(book(), {font.file: path}.get)
    workspace.do(
        AddFont(font), PourText("main", (Paragraph("pa", "body", words(30), type=TypeSpec(family=font.family)),))
    )
    for kind in ("print", "older"):
        with (tmp_path / "whole.pdf").open("wb") as target:
            write_pdf(workspace.composition, recipe(kind), target, WHEN, [0])
        told = subprocess.run(["pdffonts", tmp_path / "whole.pdf"], capture_output=True, check=True, text=True).stdout
        (row,) = [line.split() for line in told.splitlines() if examined(path).postscript_name in line]
        assert row[-5:-3] == ["yes", "no"], "embedded, and no subset"
        read = subprocess.run(["pdftotext", tmp_path / "whole.pdf", "-"], capture_output=True, check=True, text=True)
        assert words(30).split()[0] in read.stdout
        assert not pdf_facts(tmp_path / "whole.pdf")["findings"]
    assert "whole font" in " ".join(cautions(examined(path)))
    bitmap = odd_font(tmp_path / "Bitmap.ttf", lambda font: setattr(font["OS/2"], "fsType", 0x200))
    assert examined(bitmap).restricted
