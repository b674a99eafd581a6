"""Pages of PDF files placed as pictures: they stay vectors, with their fonts and their inks, and look as they
looked."""

from __future__ import annotations

import hashlib
import io
import random
import subprocess
from dataclasses import replace
from datetime import datetime, timezone
from pathlib import Path

import numpy
import pikepdf
import pypdfium2 as pdfium
import pytest
from PIL import Image

from lexigon.core.check.findings import findings_of
from lexigon.core.document.model import Fill, FrameSpec
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.picture.bringing import described
from lexigon.core.picture.conversion import screen_pixels
from lexigon.core.picture.files import PictureError, facts_of
from lexigon.core.press.document import write_pdf
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.recipes import recipe
from tests import hostile
from tests.core.helpers import book
from tests.core.test_flattening import opaque
from tests.core.test_pictures import plates
from tests.core.test_placed_plates import images_and_shadings, meshes_and_letters

NOW = datetime(2026, 1, 1, tzinfo=timezone.utc)


def advertisement(kind: str = "trim", name: str = "Ebb Green") -> bytes:
    """A page with words, a shape in a spot ink, one in light, and one half seen."""
    workspace = Workspace(book(300, 400, facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.PutSwatch(name=name, space="cmyk", values=(0.8, 0.1, 0.6, 0.1), spot=True))
    spot = list(workspace.job.swatches)[-1]
    workspace.do(do.PutSwatch(name="Rose", space="rgb", values=(0.8, 0.2, 0.4)))
    rose = list(workspace.job.swatches)[-1]
    workspace.do(do.AddShape(page, Rect(40, 60, 100, 80), None, FrameSpec(fill=Fill(spot))))
    workspace.do(do.AddShape(page, Rect(160, 60, 100, 80), None, FrameSpec(fill=Fill(rose))))
    workspace.do(do.AddShape(page, Rect(90, 100, 120, 80), None, FrameSpec(fill=Fill("black"), opacity=0.4)))
    workspace.do(do.AddTextFrame(page, Rect(40, 220, 220, 60), text="Soup in the open hide"))
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe(kind), target, NOW)
    return target.getvalue()


def placing(data: bytes, folder: Path, rect: Rect, page: int = 1) -> tuple[Workspace, str]:
    key = hashlib.sha256(data).hexdigest()
    (folder / key).write_bytes(data)
    file = replace(described("ad", "Advertisement.pdf", key, facts_of(data, page)), page=page)
    workspace = Workspace(book(facing=False), lambda name: found if (found := folder / name).exists() else None)
    workspace.do(do.PlacePicture(workspace.job.pages[0].id, rect, file.id, file))
    return workspace, workspace.job.pages[0].objects[-1].id


def pressed(workspace: Workspace, kind: str = "trim") -> bytes:
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe(kind), target, NOW, [0])
    return target.getvalue()


def drawn(data: bytes, box: tuple[float, float, float, float] | None = None, scale: float = 3.0) -> Image.Image:
    document = pdfium.PdfDocument(data)
    picture = document[0].render(scale=scale).to_pil().convert("RGB")
    document.close()
    return picture.crop(tuple(round(v * scale) for v in box)) if box else picture


def apart(one: Image.Image, other: Image.Image) -> float:
    other = other.resize(one.size)
    return float(numpy.abs(numpy.asarray(one, dtype=float) - numpy.asarray(other, dtype=float)).mean())


def test_what_a_pdf_says_of_itself() -> None:
    data = advertisement()
    facts = facts_of(data)
    assert (facts.format, facts.pages, facts.space, facts.alpha) == ("PDF", 1, "cmyk", True)
    file = described("ad", "Advertisement.pdf", "0" * 64, facts)
    assert file.vector
    assert file.name == "Advertisement"
    assert file.size == pytest.approx((300 + 18, 400 + 18), abs=0.05), (
        "its crop box, the bleed of 9 pt on each side included"
    )
    assert facts_of(advertisement("screen")).space == "rgb"


def test_it_stays_a_drawing_with_its_words_its_spot_ink_and_its_look(tmp_path: Path) -> None:
    data = advertisement()
    workspace, _ = placing(data, tmp_path, Rect(50, 60, 318, 418))
    made = pressed(workspace)
    with pikepdf.open(io.BytesIO(made)) as pdf:
        kinds = [str(one.Subtype) for one in pdf.pages[0].Resources.XObject.values()]
        assert kinds == ["/Form"], "no pixels"
    (tmp_path / "made.pdf").write_bytes(made)
    subprocess.run(["qpdf", "--check", tmp_path / "made.pdf"], check=True, capture_output=True)
    words = subprocess.run(["pdftotext", tmp_path / "made.pdf", "-"], check=True, capture_output=True, text=True).stdout
    assert "Soup in the open hide" in words
    fonts = subprocess.run(["pdffonts", tmp_path / "made.pdf"], check=True, capture_output=True, text=True).stdout
    assert all(" yes yes " in line for line in fonts.splitlines()[2:]), "embedded, as subsets"
    assert not pdf_facts(tmp_path / "made.pdf")["findings"]
    found = plates(made, tmp_path)
    assert found["Ebb Green"][9 + 60 + 9 + 70, 9 + 50 + 9 + 50] == pytest.approx(1.0, abs=0.02)
    assert apart(drawn(data), drawn(made, (59, 69, 59 + 318, 69 + 418))) < 1.5


def test_light_in_it_names_its_profile_and_prints(tmp_path: Path) -> None:
    data = advertisement("screen")
    workspace, _ = placing(data, tmp_path, Rect(50, 60, 300, 400))
    made = pressed(workspace)
    with pikepdf.open(io.BytesIO(made)) as pdf:
        (form,) = pdf.pages[0].Resources.XObject.values()
        space = form.Resources.ColorSpace.DefaultRGB
        assert str(space[0]) == "/ICCBased"
        assert int(space[1].N) == 3
    found = plates(made, tmp_path)
    rose = [float(found[ink][9 + 60 + 70, 9 + 50 + 240]) for ink in ("Cyan", "Magenta", "Yellow")]
    assert rose[1] > 0.7 > rose[0], "Ghostscript makes inks of it"


@pytest.mark.parametrize("turned", [0, 90, 180, 270])
def test_a_page_that_is_turned_stands_as_it_is_read(turned: int, tmp_path: Path) -> None:
    with pikepdf.open(io.BytesIO(advertisement())) as pdf:
        pdf.pages[0].Rotate = turned
        target = io.BytesIO()
        pdf.save(target)
    data = target.getvalue()
    wide, high = (318, 418) if turned % 180 == 0 else (418, 318)
    workspace, _ = placing(data, tmp_path, Rect(4, 60, wide, high))
    assert workspace.job.pictures["ad"].size == pytest.approx((wide, high), abs=0.05)
    made = pressed(workspace)
    assert apart(drawn(data), drawn(made, (13, 69, 13 + wide, 69 + high))) < 1.5
    assert (
        apart(
            drawn(data),
            Image.alpha_composite(
                Image.new("RGBA", screen_pixels(tmp_path / workspace.job.pictures["ad"].file, 900).size, "white"),
                screen_pixels(tmp_path / workspace.job.pictures["ad"].file, 900),
            ).convert("RGB"),
        )
        < 4
    )


def test_another_page_another_look_and_many_uses(tmp_path: Path) -> None:
    with (
        pikepdf.open(io.BytesIO(advertisement())) as first,
        pikepdf.open(io.BytesIO(advertisement(name="Flood"))) as other,
    ):
        first.pages.append(other.pages[0])
        target = io.BytesIO()
        first.save(target)
    data = target.getvalue()
    assert facts_of(data).pages == 2
    workspace, frame = placing(data, tmp_path, Rect(50, 60, 100, 130), page=2)
    page = workspace.job.pages[0].id
    for n in range(12):
        workspace.do(do.PlacePicture(page, Rect(60 + 20 * n, 300, 60 + 5 * n, 80), "ad"))
    made = pressed(workspace)
    with pikepdf.open(io.BytesIO(made)) as pdf:
        assert len(pdf.pages[0].Resources.XObject) == 1, "written once, whatever its size"
    assert "Flood" in plates(made, tmp_path)
    workspace.do(do.AdjustPictures(page, (frame,), inverted=True))
    with pikepdf.open(io.BytesIO(pressed(workspace))) as pdf:
        assert sorted(str(one.Subtype) for one in pdf.pages[0].Resources.XObject.values()) == ["/Form", "/Image"], (
            "adjusted it is pixels"
        )
    assert not [f for f in findings_of(workspace.composition) if f.kind == "coarse picture"], "it has no resolution"


def test_what_cannot_be_placed_is_refused_in_words() -> None:
    whole = advertisement()
    with pikepdf.open(io.BytesIO(whole)) as pdf:
        locked = io.BytesIO()
        pdf.save(locked, encryption=pikepdf.Encryption(user="tide", owner="tide"))
    for data, words in (
        (whole[:400], "damaged"),
        (locked.getvalue(), "password"),
        (b"%PDF-1.7\nnothing", "damaged"),
        (whole[: len(whole) // 2], "damaged"),
    ):
        try:
            facts_of(data)
        except PictureError as error:
            assert words in str(error)  # noqa: PT017
        else:
            assert data == whole[: len(whole) // 2], "what readers mend may be placed"
    with pytest.raises(PictureError, match="no page 2"):
        facts_of(whole, 2)


def test_broken_pdfs_are_refused_or_placed_and_never_break_the_file(tmp_path: Path) -> None:
    """Bytes changed and cut off at random, from fixed seeds: what comes out is whole (pikepdf reads it through)."""
    whole = [advertisement(), advertisement("screen"), inked(light=True)]
    for made in (images_and_shadings, meshes_and_letters):
        target = io.BytesIO()
        made().save(target)
        whole.append(target.getvalue())
    placed_ = 0
    for seed in range(40 * hostile.TIMES):
        chance = random.Random(seed)
        data = bytearray(chance.choice(whole))
        if seed % 4 == 0:
            data = data[: chance.randrange(10, len(data))]
        for _ in range(chance.randrange(1, 20)):
            data[chance.randrange(len(data))] = chance.randrange(256)
        try:
            workspace, _ = placing(bytes(data), tmp_path, Rect(10, 10, 200, 300))
        except PictureError:
            continue
        placed_ += 1
        kind = ("trim", "older", "archive", "screen")[seed // 4 % 4]
        (tmp_path / "file.pdf").write_bytes(pressed(workspace, kind))
        with pikepdf.open(tmp_path / "file.pdf") as pdf:
            harmless = "input stream is complete"  # of packed data that says its end too late
            assert not [one for one in pdf.check_pdf_syntax() if harmless not in one]
        pdf_facts(tmp_path / "file.pdf")
    assert placed_ > 10


def test_a_form_that_holds_itself_is_placed_as_it_is(tmp_path: Path) -> None:
    with pikepdf.open(io.BytesIO(advertisement())) as pdf:
        ring = pdf.make_stream(b"/Me Do", Type=pikepdf.Name.XObject, Subtype=pikepdf.Name.Form, BBox=[0, 0, 10, 10])
        ring.Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(Me=ring))
        pdf.pages[0].Resources.XObject = pikepdf.Dictionary(Me=ring)
        pdf.pages[0].Contents = pdf.make_stream(b"/Me Do")
        target = io.BytesIO()
        pdf.save(target)
    workspace, _ = placing(target.getvalue(), tmp_path, Rect(10, 10, 200, 300))
    with pikepdf.open(io.BytesIO(pressed(workspace))) as made:
        assert not made.check_pdf_syntax()


def with_faults() -> bytes:
    """A page in one of the fourteen fonts that readers have themselves, with a transfer function, a screen, and
    PostScript."""
    pdf = pikepdf.new()
    page = pdf.add_blank_page(page_size=(200, 200))
    curve = pdf.make_stream(b"{ 1 exch sub }", FunctionType=4, Domain=[0, 1], Range=[0, 1])
    font = pikepdf.Dictionary(Type=pikepdf.Name.Font, Subtype=pikepdf.Name.Type1, BaseFont=pikepdf.Name.Helvetica)
    screen = pikepdf.Dictionary(
        Type=pikepdf.Name.Halftone, HalftoneType=1, Frequency=60, Angle=45, SpotFunction=pikepdf.Name.Round
    )
    state = pikepdf.Dictionary(Type=pikepdf.Name.ExtGState, TR=curve, HT=screen, LW=2)
    inner = pdf.make_stream(
        b"BT /F1 12 Tf (inner) Tj ET", Type=pikepdf.Name.XObject, Subtype=pikepdf.Name.Form, BBox=[0, 0, 90, 90]
    )
    inner.Resources = pikepdf.Dictionary(
        Font=pikepdf.Dictionary(
            F1=pikepdf.Dictionary(
                Type=pikepdf.Name.Font, Subtype=pikepdf.Name.TrueType, BaseFont=pikepdf.Name("/ABCDEF+Marsh")
            )
        )
    )
    page.Resources = pikepdf.Dictionary(
        Font=pikepdf.Dictionary(F1=font),
        ExtGState=pikepdf.Dictionary(G1=state),
        XObject=pikepdf.Dictionary(X1=pdf.make_indirect(inner)),
    )
    page.Contents = pdf.make_stream(b"/G1 gs BT /F1 24 Tf 20 100 Td (High water) Tj ET /X1 Do")
    target = io.BytesIO()
    pdf.save(target)
    return target.getvalue()


def test_what_a_printer_would_reject_in_a_placed_page_is_found_and_what_changes_nothing_is_left_behind(
    tmp_path: Path,
) -> None:
    workspace, _ = placing(with_faults(), tmp_path, Rect(50, 50, 200, 200))
    found = {finding.kind: finding.text for finding in findings_of(workspace.composition)}
    assert "the font “Helvetica” is not embedded" in "".join(
        one.text for one in findings_of(workspace.composition) if one.kind == "font not embedded"
    )
    assert sum(one.kind == "font not embedded" for one in findings_of(workspace.composition)) == 2
    assert "“Advertisement”, page 1: it contains a transfer function" in found["transfer function"]
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe("print"), target, NOW)
    with pikepdf.open(target) as pdf:
        for one in pdf.objects:
            if isinstance(one, (pikepdf.Dictionary, pikepdf.Stream)):
                assert not {"/HT", "/TR", "/TR2", "/OPI", "/Alternates", "/Ref"} & set(one.keys())
        assert "/GTS_PDFXVersion" not in pdf.docinfo, "it does not say that it keeps to a standard"
        assert b"PDFX" not in pdf.Root.Metadata.read_bytes()
    own, _ = placing(advertisement(), tmp_path, Rect(50, 50, 200, 200))
    assert not [one for one in findings_of(own.composition) if one.kind in ("font not embedded", "transfer function")]


def inked(*, light: bool = False, seen: bool = False) -> bytes:
    """A page in black, process and spot inks; with some light, or something half seen."""
    workspace = Workspace(book(300, 400, facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.PutSwatch(name="Ebb Green", space="cmyk", values=(0.8, 0.1, 0.6, 0.1), spot=True))
    spot = list(workspace.job.swatches)[-1]
    workspace.do(
        do.PutSwatch(
            name="Rose", space="rgb" if light else "cmyk", values=(0.8, 0.2, 0.4) if light else (0, 0.8, 0.3, 0)
        )
    )
    rose = list(workspace.job.swatches)[-1]
    workspace.do(do.AddShape(page, Rect(40, 60, 100, 80), None, FrameSpec(fill=Fill(spot))))
    workspace.do(
        do.AddShape(page, Rect(160, 60, 100, 80), None, FrameSpec(fill=Fill(rose), opacity=0.4 if seen else None))
    )
    workspace.do(do.AddTextFrame(page, Rect(40, 220, 220, 60), text="Soup in the open hide"))
    target = io.BytesIO()
    kind = "screen" if light else "trim"
    write_pdf(workspace.composition, recipe(kind), target, NOW)
    return target.getvalue()


def test_a_placed_page_in_inks_stays_a_drawing_in_its_own_inks_where_nothing_may_be_transparent(tmp_path: Path) -> None:
    """Ghostscript's plates: words on the black plate alone, the spot ink on its own; poppler reads the words."""
    workspace, _ = placing(inked(), tmp_path, Rect(40, 40, 300, 400))
    page = workspace.job.pages[0].id
    workspace.do(do.AddShape(page, Rect(300, 500, 60, 60), None, FrameSpec(fill=Fill("black"), opacity=0.5)))
    data = pressed(workspace, "older")
    (tmp_path / "flat.pdf").write_bytes(data)
    assert not pdf_facts(tmp_path / "flat.pdf")["findings"]
    with pikepdf.open(io.BytesIO(data)) as file:
        opaque(file)
        assert not any("ICCBased" in str(one) for one in file.objects if isinstance(one, pikepdf.Array))
    words = subprocess.run(["pdftotext", tmp_path / "flat.pdf", "-"], capture_output=True, check=True, text=True).stdout
    assert "Soup in the open hide" in words
    with_transparency, flat = plates(pressed(workspace, "print"), tmp_path), plates(data, tmp_path)
    for ink in ("Cyan", "Magenta", "Yellow", "Black", "Ebb Green"):
        assert numpy.abs(flat[ink] - with_transparency[ink]).mean() < 0.002, ink
    assert flat["Ebb Green"].max() > 0.99
    height, width = flat["Cyan"].shape
    inside = flat["Cyan"][height // 2 - 280 : height // 2 + 280, width // 2 - 190 : width // 2 + 190]
    assert inside.max() == 0, "the spot ink is no mix of process inks"


def test_a_placed_page_with_something_half_seen_keeps_its_inks_as_pixels(tmp_path: Path) -> None:
    workspace, _ = placing(inked(seen=True), tmp_path, Rect(40, 40, 300, 400))
    with_transparency, flat = (
        plates(pressed(workspace, "print"), tmp_path),
        plates(pressed(workspace, "older"), tmp_path),
    )
    for ink in ("Cyan", "Magenta", "Yellow", "Black", "Ebb Green"):
        far = numpy.abs(flat[ink] - with_transparency[ink])
        assert far.mean() < 0.004, ink
        assert numpy.quantile(far, 0.99) < 0.1, f"{ink}: only edges may differ"


@pytest.mark.parametrize(("light", "seen"), [(True, False), (False, True)])
def test_a_placed_page_with_light_or_something_half_seen_does_not(light: bool, seen: bool, tmp_path: Path) -> None:
    workspace, _ = placing(inked(light=light, seen=seen), tmp_path, Rect(40, 40, 300, 400))
    data = pressed(workspace, "older")
    with pikepdf.open(io.BytesIO(data)) as file:
        opaque(file)
    (tmp_path / "flat.pdf").write_bytes(data)
    assert not pdf_facts(tmp_path / "flat.pdf")["findings"]


def test_what_is_seen_as_one_in_a_placed_page_stays_one(tmp_path: Path) -> None:
    """Two shapes over each other, half seen as a group, and a soft mask by luminosity: as Ghostscript separates the
    page itself."""
    pdf = pikepdf.new()
    page = pdf.add_blank_page(page_size=(200, 200))
    group = pikepdf.Dictionary(S=pikepdf.Name.Transparency, CS=pikepdf.Name.DeviceCMYK, I=True)
    form = pdf.make_stream(b"0 1 0 0 k 20 20 80 80 re f 1 0 0 0 k 60 60 80 80 re f")
    mask = pdf.make_stream(b"0.7 g 0 0 200 100 re f")
    for one, space in ((form, pikepdf.Name.DeviceCMYK), (mask, pikepdf.Name.DeviceGray)):
        one.Type, one.Subtype, one.BBox = pikepdf.Name.XObject, pikepdf.Name.Form, pikepdf.Array([0, 0, 200, 200])
        one.Resources, one.Group = pikepdf.Dictionary(), pikepdf.Dictionary({**dict(group), "/CS": space})
    soft = pikepdf.Dictionary(Type=pikepdf.Name.Mask, S=pikepdf.Name.Luminosity, G=mask)
    states = pikepdf.Dictionary(H=pikepdf.Dictionary(ca=0.5), M=pikepdf.Dictionary(SMask=soft))
    page.Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(F=form), ExtGState=states)
    page.Contents = pdf.make_stream(b"q /H gs /F Do Q q /M gs 0 0 1 0 k 150 10 40 180 re f Q")
    page.Group = group
    target = io.BytesIO()
    pdf.save(target)
    wanted = plates(target.getvalue(), tmp_path)
    workspace, _ = placing(target.getvalue(), tmp_path, Rect(100, 100, 200, 200))
    for kind in ("print", "older"):
        found = plates(pressed(workspace, kind), tmp_path)
        height, width = found["Cyan"].shape
        left, head = (width - 432) // 2 + 100, (height - 648) // 2 + 100
        for ink in ("Cyan", "Magenta", "Yellow"):
            far = numpy.abs(found[ink][head : head + 200, left : left + 200] - wanted[ink])
            assert wanted[ink].max() > 0.4
            assert numpy.quantile(far, 0.97) < 0.02, f"{kind}, {ink}: {far.mean():.3f}"


@pytest.mark.parametrize("kind", ["trim", "older", "archive", "screen"])
def test_shadings_of_every_form_are_placed_and_their_inks_listed(kind: str, tmp_path: Path) -> None:
    for made in (images_and_shadings, meshes_and_letters):
        source = io.BytesIO()
        made().save(source)
        workspace, _ = placing(source.getvalue(), tmp_path, Rect(40, 40, 300, 300))
        (tmp_path / "file.pdf").write_bytes(pressed(workspace, kind))
        facts = pdf_facts(tmp_path / "file.pdf")
        assert not facts["findings"]
        assert "Ebb Green" in facts["inks"] or kind == "screen"
