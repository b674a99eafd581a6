"""Pictures traced to shapes: held against the geometry they were drawn from, and against how the picture looks."""

from __future__ import annotations

from math import pi
from pathlib import Path

import numpy
import pypdfium2 as pdfium
import pytest
from PIL import Image, ImageDraw
from shapely import Polygon
from shapely.ops import unary_union

from lexigon.core.document.consistency import check
from lexigon.core.document.model import Fill, FrameSpec, Outline, Swatch
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents.objects.drawings import DrawnShape
from lexigon.core.fileformat.jobs import job_from_plain, job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.geometry import Rect
from lexigon.core.path.steps import data_of, flattened
from lexigon.core.picture.looks import Look
from lexigon.core.picture.tracing import TracingError, traced
from tests.core.test_pictures import file_of, pdf, placed, saved


def disc() -> Image.Image:
    picture = Image.new("RGB", (1000, 500), (255, 255, 255))
    ImageDraw.Draw(picture).ellipse((100, 50, 500, 450), fill=(30, 60, 110))
    ImageDraw.Draw(picture).rectangle((600, 100, 899, 399), fill=(200, 40, 40))
    return picture


def areas(made: object) -> dict[tuple[float, ...], float]:
    """How much each colour covers, in parts of the picture: what lies above is taken away from what lies below."""
    found: dict[tuple[float, ...], float] = {}
    above = Polygon()
    for shape in reversed(made.drawing.shapes):  # type: ignore[attr-defined]
        whole = unary_union([Polygon(ring).buffer(0) for ring in flattened(shape.steps, 12) if len(ring) > 3])
        colour = tuple(round(v, 2) for v in shape.fill)
        found[colour] = found.get(colour, 0.0) + whole.difference(above).area
        above = above.union(whole)
    return found


@pytest.mark.parametrize("detail", ["coarse", "medium", "fine"])
def test_a_disc_and_a_square_become_a_disc_and_a_square(detail: str, tmp_path: Path) -> None:
    _, path = file_of(saved(disc()), tmp_path)
    made = traced(path, 3, detail)  # type: ignore[arg-type]
    found = areas(made)
    assert len(found) == 3
    blue = next(area for colour, area in found.items() if colour[2] > 0.3 > colour[0])
    red = next(area for colour, area in found.items() if colour[0] > 0.6 and colour[2] < 0.5)
    assert blue == pytest.approx(pi * 200**2 / 500_000, rel=0.02)
    assert red == pytest.approx(300 * 300 / 500_000, rel=0.02)
    assert made.nodes < 120
    assert areas(traced(path, 3, detail, Look(inverted=True))).keys() != found.keys(), "as it is shown"  # type: ignore[arg-type]


def test_what_is_see_through_stays_out_and_too_much_is_said(tmp_path: Path) -> None:
    picture = Image.new("RGBA", (600, 600), (0, 0, 0, 0))
    ImageDraw.Draw(picture).ellipse((100, 100, 500, 500), fill=(40, 90, 60, 255))
    _, path = file_of(saved(picture), tmp_path)
    assert list(areas(traced(path, 4)).values()) == pytest.approx([pi * 200**2 / 360_000], rel=0.02)
    noise = Image.effect_noise((1600, 1200), 90).convert("RGB")
    _, path = file_of(saved(noise), tmp_path, "Noise")
    with pytest.raises(TracingError, match="fewer colours"):
        traced(path, 24, "fine")
    _, path = file_of(saved(Image.new("RGBA", (60, 60), (0, 0, 0, 0))), tmp_path, "Nothing")
    with pytest.raises(TracingError, match="nothing"):
        traced(path)


def test_shapes_stand_where_the_picture_stood_cut_off_by_its_frame(tmp_path: Path) -> None:
    workspace, frame, _ = placed(saved(disc()), tmp_path, Rect(60, 80, 220, 160))
    page = workspace.job.pages[0].id
    workspace.do(
        do.ChangeFrame(page, frame, outline=Outline(), rotation=20.0), do.FramePicture(page, frame, mirrored=True)
    )
    before = _drawn(pdf(workspace, "screen"))
    start = job_to_json(workspace.job)
    made = traced(tmp_path / workspace.job.pictures[workspace.job.pages[0].objects[-1].picture.picture].file, 3, "fine")  # type: ignore[union-attr]
    swatches = tuple(
        Swatch(f"t{n}", f"Traced {n}", "rgb", tuple(shape.fill)) for n, shape in enumerate(made.drawing.shapes)
    )  # type: ignore[arg-type]
    shapes = tuple(
        DrawnShape(data_of(shape.steps, 6), FrameSpec(fill=Fill(swatch.id)))
        for shape, swatch in zip(made.drawing.shapes, swatches, strict=True)
    )
    change = workspace.do(do.TracePicture(page, frame, shapes, swatches))
    group = workspace.job.pages[0].objects[-1]
    assert group.group
    assert group.group.clip == Outline()
    check(job_from_plain(plain(workspace.job)))
    far = numpy.abs(before - _drawn(pdf(workspace, "screen")))
    assert far.mean() < 1.0
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == start
    workspace.do(do.TracePicture(page, frame, shapes, swatches, keep=True))
    assert [bool(one.picture) for one in workspace.job.pages[0].objects[-2:]] == [True, False]


def _drawn(data: bytes) -> numpy.ndarray:
    document = pdfium.PdfDocument(data)
    picture = document[0].render(scale=2).to_pil().convert("RGB")
    document.close()
    return numpy.asarray(picture, dtype=float)
