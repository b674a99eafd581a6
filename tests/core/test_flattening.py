"""PDF/X-1a: no transparency in the file, and every plate as in the file that has it."""

from __future__ import annotations

import io
from pathlib import Path

import numpy
import pikepdf
import pytest
from PIL import Image, ImageDraw

from lexigon.core.colour.profiles import COATED, UNCOATED
from lexigon.core.document.model import CutOut, Fill, FrameSpec, Outline, Shadow, Stroke
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.press import flattening
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.inkload import ink_load, job_ink
from tests.core.helpers import book
from tests.core.test_pictures import file_of, pdf, plates, saved


def swatch(workspace: Workspace, **values: object) -> str:
    workspace.do(do.PutSwatch(**values))  # type: ignore[arg-type]
    return list(workspace.job.swatches)[-1]


def mixed_page(folder: Path) -> Workspace:
    """Grounds, a soft shadow, blends, half-seen and fading shapes, a cut-out picture, a duotone with a spot ink; words
    over all of it."""
    picture = Image.new("RGB", (500, 400), "white")
    ImageDraw.Draw(picture).ellipse((80, 60, 420, 340), fill=(200, 60, 40))
    file, _ = file_of(saved(picture), folder)
    workspace = Workspace(book(facing=False), lambda name: path if (path := folder / name).exists() else None)
    page = workspace.job.pages[0].id
    teal = swatch(workspace, name="Teal", space="cmyk", values=(0.8, 0.1, 0.4, 0.0))
    sand = swatch(workspace, name="Sand", space="cmyk", values=(0.0, 0.2, 0.5, 0.1))
    green = swatch(workspace, name="Ebb Green", space="cmyk", values=(0.7, 0.0, 0.7, 0.1), spot=True)
    for rect, spec in (
        (Rect(40, 60, 200, 160), FrameSpec(fill=Fill(sand))),
        (Rect(70, 90, 100, 100), FrameSpec(fill=Fill(teal), shadow=Shadow(5.0, 5.0, 8.0, "black", 0.6))),
        (Rect(140, 110, 140, 60), FrameSpec(fill=Fill(teal), blend="multiply")),
        (Rect(60, 180, 180, 60), FrameSpec(fill=Fill(green, 0.8), opacity=0.5)),
        (Rect(220, 60, 90, 90), FrameSpec(fill=Fill("black"), soft_edge=20.0)),
    ):
        workspace.do(do.AddShape(page, rect, Outline() if spec.shadow else None, spec))
    workspace.do(do.PlacePicture(page, Rect(60, 300, 150, 120), file.id, file))
    cut = workspace.job.pages[0].objects[-1].id
    workspace.do(do.AdjustPictures(page, (cut,), cut=CutOut(tolerance=0.1)))
    workspace.do(do.PlacePicture(page, Rect(230, 300, 150, 120), file.id))
    two = workspace.job.pages[0].objects[-1].id
    workspace.do(do.AdjustPictures(page, (two,), inks="two", ink=Fill("black"), second=Fill(green)))
    workspace.do(do.ChangeFrame(page, two, spec=FrameSpec(opacity=0.7)))
    workspace.do(do.AddTextFrame(page, Rect(60, 450, 250, 60), text="Above all of it"))
    workspace.do(do.AddShape(page, Rect(60, 520, 250, 40), None, FrameSpec(stroke=Stroke(2.0, "black"))))
    return workspace


def opaque(pdf_: pikepdf.Pdf) -> None:
    for obj in pdf_.objects:
        if isinstance(obj, (pikepdf.Dictionary, pikepdf.Stream)):
            assert "/SMask" not in obj or str(obj["/SMask"]) == "/None"
            assert float(obj.get("/ca", 1)) == float(obj.get("/CA", 1)) == 1
            assert str(obj.get("/BM", "/Normal")) == "/Normal"
            group = obj.get("/Group")
            assert not (isinstance(group, pikepdf.Dictionary) and str(group.get("/S")) == "/Transparency")


def test_every_plate_is_as_in_the_file_that_has_transparency(tmp_path: Path) -> None:
    """Ghostscript separates both: it mixes the one itself."""
    workspace = mixed_page(tmp_path)
    flat = pdf(workspace, "older")
    with pikepdf.open(io.BytesIO(flat)) as made:
        opaque(made)
        assert made.pdf_version == "1.4"
        assert str(made.docinfo["/GTS_PDFXVersion"]) == "PDF/X-1a:2003"
        assert any(
            str(x.get("/Subtype")) == "/Font" or "/BaseFont" in x
            for x in made.objects
            if isinstance(x, pikepdf.Dictionary)
        ), "words stay words"
    (tmp_path / "older.pdf").write_bytes(flat)
    assert not pdf_facts(tmp_path / "older.pdf")["findings"]
    wanted, found = plates(pdf(workspace, "print"), tmp_path), plates(flat, tmp_path)
    assert set(found) == set(wanted) >= {"Cyan", "Magenta", "Yellow", "Black", "Ebb Green"}
    for ink, plate in wanted.items():
        far = numpy.abs(plate.astype(float) - found[ink].astype(float))
        assert far.mean() < 0.005, ink
        assert numpy.quantile(far, 0.99) < 0.12, f"{ink}: but for edges"


def test_a_page_that_mixes_nothing_is_drawn_as_ever(tmp_path: Path) -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.AddShape(page, Rect(40, 60, 200, 160), None, FrameSpec(fill=Fill("marker"))))
    with pikepdf.open(io.BytesIO(pdf(workspace, "older"))) as made:
        opaque(made)
        assert not dict(made.pages[0].Resources.get("/XObject", {})), "no pixels"


@pytest.mark.parametrize("overprints", [True, False])
def test_what_overprints_leaves_the_plates_below_alone(overprints: bool, tmp_path: Path) -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    teal = swatch(workspace, name="Teal", space="cmyk", values=(0.8, 0.0, 0.0, 0.0))
    rust = swatch(workspace, name="Rust", space="cmyk", values=(0.0, 0.7, 0.0, 0.0))
    workspace.do(do.AddShape(page, Rect(60, 60, 200, 200), None, FrameSpec(fill=Fill(teal))))
    workspace.do(do.AddShape(page, Rect(100, 100, 60, 60), None, FrameSpec(fill=Fill(rust), overprint=overprints)))
    workspace.do(do.AddShape(page, Rect(80, 80, 160, 160), None, FrameSpec(fill=Fill("black", 0.2), opacity=0.5)))
    found = plates(pdf(workspace, "older"), tmp_path)
    edge = (found["Cyan"].shape[1] - 432) // 2
    cyan = float(found["Cyan"][edge + 130, edge + 130])
    assert cyan == pytest.approx(0.4 if overprints else 0.0, abs=0.03), "half of what the grey over it leaves"


def test_most_ink_of_a_page_is_what_its_plates_add_up_to(tmp_path: Path) -> None:
    """Ghostscript's plates of the same page, laid together. What is drawn one over another counts what lies on top."""
    workspace = mixed_page(tmp_path)
    page = workspace.job.pages[0].id
    heavy = swatch(workspace, name="Heavy", space="cmyk", values=(0.9, 0.8, 0.7, 0.6))
    inks = Image.new("CMYK", (200, 160), (200, 190, 30, 140))
    file, _ = file_of(saved(inks, "TIFF"), tmp_path)
    workspace.do(do.PlacePicture(page, Rect(250, 480, 60, 48), file.id, file))
    workspace.do(do.AddShape(page, Rect(250, 200, 60, 60), None, FrameSpec(fill=Fill(heavy))))
    workspace.do(do.AddShape(page, Rect(280, 230, 60, 60), None, FrameSpec(fill=Fill(heavy), blend="multiply")))
    width, height = workspace.job.page_size(0)
    box = Rect(0, 0, width, height)
    found = ink_load(
        Display(workspace.composition).page(0).items(printed=True), box, COATED, workspace.composition.find, 3.3
    )
    sums = sum(plates(pdf(workspace, "trim"), tmp_path).values())
    edge = (sums.shape[1] - round(width)) // 2
    sums = sums[edge : edge + round(height), edge : edge + round(width)]
    assert found.most == pytest.approx(sums.max(), abs=0.02)
    assert found.most > 3.4
    assert found.over == pytest.approx((sums > 3.31).mean(), abs=0.0005)
    told = job_ink(workspace.composition, [0], COATED)
    assert (told["page"], told["over"]) == (0, [0])
    plain = Workspace(book(facing=False))
    black = swatch(plain, name="Deep", space="cmyk", values=(0.6, 0.4, 0.4, 1.0))
    plain.do(do.AddShape(plain.job.pages[0].id, Rect(0, 0, 216, 324), None, FrameSpec(fill=Fill(black))))
    plain.do(do.AddShape(plain.job.pages[0].id, Rect(10, 10, 50, 50), None, FrameSpec(fill=Fill(black, 0.5))))
    assert job_ink(plain.composition, [0], UNCOATED) == {
        "most": 2.4,
        "page": 0,
        "limit": 3.0,
        "over": [],
        "simulated": False,
    }


def test_a_large_region_is_drawn_in_bands_without_a_seam(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    workspace = mixed_page(tmp_path)
    whole = plates(pdf(workspace, "older"), tmp_path)
    monkeypatch.setattr(flattening, "BAND", 300_000)
    parts = pdf(workspace, "older")
    with pikepdf.open(io.BytesIO(parts)) as file:
        images = [x for x in file.objects if isinstance(x, pikepdf.Stream) and str(x.get("/Subtype")) == "/Image"]
        assert len(images) > 5
    divided = plates(parts, tmp_path)
    for ink, plate in whole.items():
        far = numpy.abs(plate - divided[ink])
        assert far.mean() < 0.0005, ink
        assert numpy.quantile(far, 0.999) < 0.06, f"{ink}: at most a pixel of an edge here and there"
