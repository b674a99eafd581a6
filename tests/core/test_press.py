"""The PDF against other people's tools: qpdf, poppler, pdfium, Ghostscript's plates; the profile against its data."""

from __future__ import annotations

import io
import re
import shutil
import subprocess
from collections.abc import Iterator
from datetime import datetime, timezone
from pathlib import Path

import numpy
import pikepdf
import pypdfium2 as pdfium
import pytest
from coloraide import Color
from PIL import Image, ImageChops, ImageCms

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.profiles import COATED, UNCOATED
from lexigon.core.document.model import OBJECT, Anchor, Listing, ListingSource, Paragraph, ParaSpec, Span, TypeSpec
from lexigon.core.document.starter import new_book
from lexigon.core.editing.intents import (
    FormatText,
    Place,
    PlaceListing,
    PourText,
    PutListing,
    ReplaceText,
    SetParagraphs,
)
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.readers.decode import decode
from lexigon.core.manuscript.readers.plain_text import read_plain
from lexigon.core.press.document import OutputStopped, write_pdf
from lexigon.core.press.facts import findings, pdf_facts
from lexigon.core.press.recipes import page_range, recipe
from tests.core.helpers import book, poured, words

WHEN = datetime(2026, 1, 2, tzinfo=timezone.utc)


def pressed(workspace: Workspace, name: str = "print", **more: object) -> bytes:
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe(name, **more), target, WHEN)
    return target.getvalue()


def command(*arguments: object) -> str:
    if not shutil.which(str(arguments[0])):
        pytest.skip(f"{arguments[0]} is not installed")
    done = subprocess.run([str(a) for a in arguments], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr + done.stdout
    return done.stdout


@pytest.fixture(scope="module")
def guide_text() -> str:
    return (Path(__file__).parents[2] / "demo/birds_of_the_merrow_flats.txt").read_text("utf-8")


@pytest.fixture(scope="module")
def press_file(tmp_path_factory: pytest.TempPathFactory, guide_text: str) -> Path:
    workspace = Workspace(new_book("Birds & Tides", book().brief))
    workspace.do(PourText("main", read_plain(decode(guide_text.encode())).paragraphs))
    path = tmp_path_factory.mktemp("press") / "book.pdf"
    path.write_bytes(pressed(workspace))
    return path


def test_qpdf_and_our_own_rules_find_nothing(press_file: Path) -> None:
    assert "No syntax or stream encoding errors" in command("qpdf", "--check", press_file)
    facts = pdf_facts(press_file)
    assert facts["conforms"] == "PDF/X-4"
    assert facts["findings"] == []
    assert facts["inks"] == ["Black", "all inks (marks)"]


def test_our_rules_do_find_what_is_wrong(press_file: Path) -> None:
    with pikepdf.open(press_file) as pdf:
        page = pdf.pages[1]
        page.obj.TrimBox = pikepdf.Array([0, 0, 9000, 10])
        page.contents_add(b"q 1 0 0 rg BT")
        del pdf.Root.OutputIntents
        found = " ".join(findings(pdf))
    for part in ("output intent", "Page 2: the boxes", "RGB without", "do not match"):
        assert part in found


def test_boxes_by_poppler(press_file: Path) -> None:
    """6 x 9 in with 0.125 in bleed: trim 432 x 648 pt, bleed 450 x 666 pt."""
    out = command("pdfinfo", "-box", press_file)
    boxes = {m[1]: [float(v) for v in m[2].split()] for m in re.finditer(r"(\w+Box):\s+([\d. ]+)", out)}
    x0, y0, x1, y1 = boxes["TrimBox"]
    assert (x1 - x0, y1 - y0) == (432, 648)
    assert boxes["BleedBox"] == [x0 - 9, y0 - 9, x1 + 9, y1 + 9]
    assert boxes["MediaBox"][2] > boxes["BleedBox"][2] + 18
    assert "PDF/X-4" in out


def test_fonts_are_embedded_subsets_by_poppler(press_file: Path) -> None:
    rows = command("pdffonts", press_file).splitlines()[2:]
    assert len(rows) >= 2
    for row in rows:
        assert re.match(r"[A-Z]{6}\+", row), "subset names carry a tag (ISO 32000-2, 9.9.2)"
        assert row.split()[-5:-2] == ["yes", "yes", "yes"], "embedded, subset, with a Unicode map"


def plain_words(text: str) -> list[str]:
    return text.replace("\u00ad", "").split()


def test_text_reads_back_in_order_by_poppler_and_pdfium(press_file: Path, guide_text: str) -> None:
    paragraphs = read_plain(decode(guide_text.encode())).paragraphs
    wanted = " ".join(p.text for p in paragraphs).split()
    with pikepdf.open(press_file) as pdf:  # body text only: no running heads, folios, slugs
        x0, y0, x1, y1 = (float(v) for v in pdf.pages[0].TrimBox)
        height = float(pdf.pages[0].MediaBox[3])
    crop = ["-x", int(x0), "-y", int(height - y1 + 50), "-W", int(x1 - x0), "-H", int(y1 - y0 - 50 - 50)]
    out = command("pdftotext", *crop, press_file, "-")
    joined = re.sub("\u00ad\n|(?<=\\w)\u00ad\\s", "", out)
    # pdftotext itself takes a compound's own hyphen away where a line ends in it ("north-east").
    # Headings are set in capitals.
    bare = lambda all_: [w.replace("-", "").casefold() for w in all_]  # noqa: E731
    assert bare(plain_words(joined)) == bare(wanted)
    document = pdfium.PdfDocument(press_file)
    page = document[12].get_textpage().get_text_range()
    assert len(set(page.split()) & set(wanted)) > 0.7 * len(set(page.split()))
    document.close()


def test_black_text_is_on_the_black_plate_alone_and_overprints(press_file: Path, tmp_path: Path) -> None:
    """Ghostscript's tiffsep makes a picture of every plate; inside the trim only black may have any ink."""
    command(
        "gs",
        "-q",
        "-dNOPAUSE",
        "-dBATCH",
        "-dSAFER",
        "-sDEVICE=tiffsep",
        "-r72",
        "-dFirstPage=13",
        "-dLastPage=13",
        f"-sOutputFile={tmp_path}/p.tif",
        press_file,
    )
    plates = {path.name.split("(")[1].rstrip(").tif"): Image.open(path) for path in tmp_path.glob("p(*).tif")}
    assert set(plates) == {"Cyan", "Magenta", "Yellow", "Black"}
    width, height = plates["Black"].size
    inside = (40, 40, width - 40, height - 40)
    for name, plate in plates.items():
        ink = numpy.asarray(plate.convert("L").crop(inside)).min()
        assert (ink < 100) if name == "Black" else (ink == 255), name
    with pikepdf.open(press_file) as pdf:
        assert pdf.pages[12].Resources.ExtGState.GO.OP
        assert pdf.pages[12].Resources.ExtGState.GO.OPM == 1
        assert b"/GO gs 0 0 0 1 k" in pdf.pages[12].Contents.read_bytes()


def test_crop_marks_stand_outside_the_bleed_at_the_offset(tmp_path: Path) -> None:
    workspace = Workspace(book())
    for offset in (4.0, 9.0, 20.0):
        with pikepdf.open(io.BytesIO(pressed(workspace, mark_offset=offset))) as pdf:
            page = pdf.pages[0]
            trim, media = [float(v) for v in page.TrimBox], [float(v) for v in page.MediaBox]
            marks = page.Contents.read_bytes().decode()
            marks = re.split(r"/S\d+ CS", marks)[1].split(" S Q")[0]
            lines = re.findall(r"([\d.-]+) ([\d.-]+) m ([\d.-]+) ([\d.-]+) l", marks)
        assert len(lines) == 8
        for a, b, c, d in (map(float, line) for line in lines):
            gaps = [max(trim[0] - max(a, c), min(a, c) - trim[2]), max(trim[1] - max(b, d), min(b, d) - trim[3])]
            assert max(gaps) == pytest.approx(max(offset, 9.0)), "never nearer than the bleed"
            assert min(a, c) >= media[0]
            assert max(b, d) <= media[3]


def test_same_job_recipe_and_date_give_the_same_bytes() -> None:
    workspace = poured(30)
    assert pressed(workspace) == pressed(Workspace(workspace.job))
    assert pressed(workspace, "screen") == pressed(Workspace(workspace.job), "screen")


def test_screen_pdf_has_nested_bookmarks_links_and_page_labels(tmp_path: Path) -> None:
    workspace = Workspace(book())
    text = [
        ("contents", "The Mud 3"),
        ("part", "One"),
        ("chapter", "The Mud"),
        ("body", "See https://example.org/tides, please."),
        ("section", "Worms"),
        ("chapter", "The Sky"),
    ]
    workspace.do(PourText("main", tuple(Paragraph(f"p{i}", s, t) for i, (s, t) in enumerate(text))))
    path = tmp_path / "screen.pdf"
    path.write_bytes(pressed(workspace, "screen"))
    command("qpdf", "--check", path)
    facts = pdf_facts(path)
    assert facts["bookmarks"] == [(1, "One"), (2, "The Mud"), (3, "Worms"), (2, "The Sky")]
    with pikepdf.open(path) as pdf:
        assert list(pdf.pages[0].MediaBox) == [0, 0, 432, 648]
        links = [a for page in pdf.pages for a in page.Annots]
        assert str(links[1].A.URI) == "https://example.org/tides"
        assert links[0].Dest[0].objgen == pdf.pages[4].obj.objgen, "the contents entry leads to its chapter"
        assert pdf.pages[2].label == "3"


def test_listings_and_references_lead_to_their_pages(tmp_path: Path) -> None:
    """An entry that leads to one page does so as a whole, one of several pages by each of its numbers, a reference
    where it stands."""
    workspace = Workspace(book())
    bird = (Span(4, 8, "strong"),)
    text = f"see {OBJECT} there"
    rows = [
        Paragraph("slot", "body", ""),
        Paragraph("list", "body", ""),
        Paragraph("h", "chapter", "Of mud"),
        Paragraph("k1", "body", "The knot.", bird),
        Paragraph("k2", "body", "The knot.", bird, para=ParaSpec(start="page")),
        Paragraph("r", "body", text, (Span(4, 5, object=Anchor("reference", "k1")),)),
    ]
    workspace.do(PourText("main", tuple(rows)))
    for key, listing in (
        ("slot", Listing("c", "Contents", (ListingSource("chapter"),))),
        ("list", Listing("b", "Birds", (ListingSource("strong", "words"),), separator=", ", merged=True)),
    ):
        workspace.do(PutListing(listing))
        now = tuple(found.entry for found in gathered(workspace.composition, listing))
        workspace.do(PlaceListing(listing.id, "main", Place(key, 0), now))
    path = tmp_path / "screen.pdf"
    path.write_bytes(pressed(workspace, "screen"))
    command("qpdf", "--check", path)
    with pikepdf.open(path) as pdf:
        numbers = {page.obj.objgen: at for at, page in enumerate(pdf.pages)}
        links = [
            (at, [float(v) for v in a.Rect], numbers[a.Dest[0].objgen])
            for at, page in enumerate(pdf.pages)
            for a in page.get("/Annots", [])
        ]
    (contents, first, second, reference) = links
    assert [(at, to) for at, _, to in links] == [(0, 2), (0, 2), (0, 3), (3, 2)]
    assert contents[1][2] - contents[1][0] > 200, "a line of contents is led on as a whole"
    assert first[1][2] < second[1][0], "each number by itself"
    words = command("pdftotext", "-f", "1", "-l", "1", "-layout", path, "-").split()
    assert words[-3:] == ["knot,", "3,", "4"]
    x = command("pdftotext", "-f", "1", "-l", "1", "-bbox", path, "-")
    boxes = [
        tuple(map(float, re.findall(r'x(?:Min|Max)="([\d.]+)"', line)))
        for line in x.splitlines()
        if ">4</word>" in line
    ]
    assert boxes[0] == pytest.approx((second[1][0], second[1][2]), abs=1.0)
    assert reference[1][2] - reference[1][0] < 12


def test_open_type_cff_fonts_are_embedded_as_such(tmp_path: Path) -> None:
    """Debian's fonts-ebgaramond has CFF outlines."""
    folder = Path("/usr/share/fonts/opentype/ebgaramond")
    if not folder.exists():
        pytest.skip("Debian's fonts-ebgaramond is not installed")
    from lexigon.core.type.fonts import FontLibrary

    (tmp_path / "eb").mkdir()
    source = next(folder.glob("EBGaramond12-Regular.otf"))
    shutil.copy(source, tmp_path / "eb" / source.name)
    workspace = Workspace(book(), FontLibrary(tmp_path))
    workspace.do(ReplaceText("main", Place("^", 0), Place("^", 0), words(50)))
    path = tmp_path / "cff.pdf"
    path.write_bytes(pressed(workspace, information=False))
    command("qpdf", "--check", path)
    (row,) = command("pdffonts", path).splitlines()[2:]
    assert "CID Type 0C" in row
    assert plain_words(command("pdftotext", "-raw", path, "-").replace("\u00ad\n", ""))[:50] == words(50).split()


@pytest.mark.parametrize("name", ["print", "screen"])
def test_two_renderers_agree(tmp_path: Path, name: str) -> None:
    workspace = poured(40)
    workspace.do(FormatText("main", Place("^", 0), Place("$", 0), TypeSpec(tracking=30.0)))
    first = workspace.job.stories["main"].paragraphs[1].id
    workspace.do(
        SetParagraphs("main", first, first, type=TypeSpec(swatch="marker", size=14.0, shift=3.0, caps="small"))
    )
    path = tmp_path / "r.pdf"
    path.write_bytes(pressed(workspace, name))
    command("pdftoppm", "-r", "100", "-f", "1", "-l", "1", "-png", path, tmp_path / "poppler")
    poppler = Image.open(next(tmp_path.glob("poppler*.png"))).convert("L")
    document = pdfium.PdfDocument(path)
    ours = document[0].render(scale=100 / 72).to_pil().convert("L").resize(poppler.size)
    document.close()
    small = (poppler.width // 6, poppler.height // 6)
    difference = ImageChops.difference(
        poppler.resize(small, Image.Resampling.BOX), ours.resize(small, Image.Resampling.BOX)
    )
    assert max(difference.getdata()) < 70
    assert numpy.asarray(difference).mean() < 2


def test_output_can_be_stopped() -> None:
    seen = []
    with pytest.raises(OutputStopped):
        write_pdf(
            poured(60).composition,
            recipe("print"),
            io.BytesIO(),
            WHEN,
            progress=lambda done, total: seen.append(done) or done < 3,
        )  # type: ignore[func-returns-value]
    assert seen == [1, 2, 3]


@pytest.mark.parametrize(
    ("text", "pages"), [("", [0, 1, 2, 3]), ("2", [1]), ("1-2,4", [0, 1, 3]), ("3-", [2, 3]), ("2–3", [1, 2])]
)
def test_page_ranges(text: str, pages: list[int]) -> None:
    assert page_range(text, 4) == pages


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("9-3", "backwards"),
        ("0", "outside"),
        ("5", "outside"),
        ("a", "not a page"),
        ("1-x", "not a page"),
        (",", "not a page"),
    ],
)
def test_page_ranges_that_are_none(text: str, says: str) -> None:
    with pytest.raises(Exception, match=says):
        page_range(text, 4)


CHARACTERISATION = Path("/usr/share/color/icc")
patched = pytest.mark.skipif(not CHARACTERISATION.exists(), reason="Debian's icc-profiles-free is not installed")


def patches(name: str) -> Iterator[tuple[list[float], list[float]]]:
    """The inks (per cent) and measured XYZ (D50, of 100) of a condition's published patches."""
    text = (CHARACTERISATION / name).read_text()
    names = text.split("BEGIN_DATA_FORMAT")[1].split("END_DATA_FORMAT")[0].split()
    for line in text.split("BEGIN_DATA\n")[1].split("END_DATA")[0].strip().splitlines():
        row = dict(zip(names, line.split(), strict=True))
        yield [float(row[f"CMYK_{c}"]) for c in "CMYK"], [float(row[f"XYZ_{c}"]) for c in "XYZ"]


@patched
def test_a_soft_proof_shows_what_was_measured_on_uncoated_paper() -> None:
    """Colours on the board as proof, against the FOGRA29L patches relative to their paper (ISO 15076-1: XYZ times D50
    by the paper's): where a screen can show them, mean dE2000 under 1.5, and black alone as pale as it was measured."""
    rows = list(patches("FOGRA29L.ti3"))
    paper = next(xyz for inks, xyz in rows if not any(inks))
    differences, black = [], None
    for inks, xyz in rows[::8] + [row for row in rows if row[0] == [0, 0, 0, 100]][:1]:
        wanted = Color("xyz-d50", [v / p * w for v, p, w in zip(xyz, paper, (0.9642, 1.0, 0.8249), strict=True)])
        if not wanted.convert("srgb").in_gamut(tolerance=0.01):
            continue
        shown = Color("srgb", Colour("cmyk", tuple(v / 100 for v in inks)).proofed(UNCOATED))
        differences.append(shown.delta_e(wanted, method="2000"))
        if inks == [0, 0, 0, 100]:
            black = shown.convert("lab")["l"], wanted.convert("lab")["l"]
    assert len(differences) > 100
    assert numpy.mean(differences) < 1.5
    assert black is not None
    assert black[0] == pytest.approx(black[1], abs=2)
    assert black[0] > 25, "far from the black of a screen"


@patched
def test_profile_against_the_published_patches() -> None:
    """Every 8th patch of the FOGRA39L characterisation data: mean dE2000 under 1, 8-bit rounding included."""
    rows = list(patches("FOGRA39L.ti3"))[::8]
    inks = [ink for ink, _ in rows]
    lab = [Color("xyz-d50", [v / 100 for v in xyz]).convert("lab").coords() for _, xyz in rows]
    transform = ImageCms.buildTransform(
        str(COATED.path),
        ImageCms.createProfile("LAB"),
        "CMYK",
        "LAB",
        renderingIntent=ImageCms.Intent.ABSOLUTE_COLORIMETRIC,
    )
    differences = []
    for ink, wanted in zip(inks, lab, strict=True):
        pixel = Image.new("CMYK", (1, 1), tuple(round(v * 2.55) for v in ink))
        shown = ImageCms.applyTransform(pixel, transform)
        assert shown is not None
        lightness, a, b = shown.getpixel((0, 0))  # type: ignore[misc]
        signed = [a - 128, b - 128]
        differences.append(Color("lab", [lightness / 2.55, *signed]).delta_e(Color("lab", wanted), method="2000"))
    assert len(differences) > 150
    assert numpy.mean(differences) < 1.0, "with 8-bit Lab rounding"
