"""Pictures shown otherwise than their files have them: curves, inks of their own, what is cut out, contours, what
matters in them."""

from __future__ import annotations

import io
from dataclasses import replace
from math import pi
from pathlib import Path

import numpy
import pikepdf
import pypdfium2 as pdfium
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageOps
from shapely import Point, Polygon

from lexigon.core.colour.colours import Colour
from lexigon.core.document.consistency import check
from lexigon.core.document.model import CutOut, Fill, FrameSpec, Wrap
from lexigon.core.editing import intents as do
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_plain, job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.contours import contour_in
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import coverage
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.picture.adjusting import curve, cut_mask
from lexigon.core.picture.contour import contours_of
from lexigon.core.picture.conversion import screen_pixels
from lexigon.core.picture.files import facts_of
from lexigon.core.picture.looks import PLAIN, Cut, Look, LookError, read, written
from lexigon.core.picture.measured import lab_of
from tests.core.helpers import book, paragraphs
from tests.core.test_pictures import file_of, pdf, placed, plates, saved

FRAME = Rect(72, 72, 72, 72)
signed = st.floats(-1, 1)
part = st.floats(0, 1)
LIGHTS = st.tuples(*[st.integers(0, 255)] * 3)
COLOURS = st.one_of(
    st.builds(lambda v: Colour("cmyk", v), st.tuples(part, part, part, part)),
    st.builds(lambda v: Colour("rgb", v), st.tuples(part, part, part)),
    st.builds(lambda v: Colour("lab", v), st.tuples(st.floats(0, 100), st.floats(-100, 100), st.floats(-100, 100))),
)


def stepped() -> Image.Image:
    """Grey in four steps from black to white, from the left."""
    picture = Image.new("L", (400, 400))
    for at, value in enumerate((0, 85, 170, 255)):
        picture.paste(value, (at * 100, 0, at * 100 + 100, 400))
    return picture


def along(plate: numpy.ndarray) -> list[int]:
    """Ink of 0 to 255 in the middle of the four steps of a picture in ``FRAME``, at 72 dots an inch; the bleed is 9 pt
    wide and marks take what is left of the sheet."""
    edge = (plate.shape[1] - 432) // 2
    return [round(255 * float(plate[edge + 108, edge + 72 + x])) for x in (9, 27, 45, 63)]


# Curves


def test_curves_by_hand() -> None:
    assert curve(PLAIN) == list(range(256))
    assert curve(Look(inverted=True)) == list(range(255, -1, -1))
    levels = curve(Look(levels=(0.2, 0.6, 1.0)))
    assert (levels[51], levels[102], levels[153]) == (0, 128, 255)
    assert curve(Look(levels=(0.0, 1.0, 2.0)))[64] == round(255 * (64 / 255) ** 0.5)
    assert curve(Look(brightness=0.5))[100] == 100 + 64
    assert curve(Look(contrast=1.0))[126:130] == [0, 0, 255, 255]
    assert set(curve(Look(contrast=-1.0))) == {128}
    assert curve(Look(contrast=0.5))[128] == pytest.approx(128, abs=1)


@given(part, part, st.floats(0.1, 10), signed, st.floats(-0.99, 0.99))
def test_a_curve_never_turns_back(a: float, b: float, gamma: float, brightness: float, contrast: float) -> None:
    made = curve(Look(levels=(min(a, b), max(a, b), gamma), brightness=brightness, contrast=contrast))
    assert made == sorted(made)


def test_inverted_is_what_pillow_inverts_and_grey_what_it_greys(tmp_path: Path) -> None:
    noise = Image.effect_noise((60, 40), 90)
    picture = Image.merge("RGB", [noise, noise.rotate(180), noise.transpose(Image.Transpose.FLIP_LEFT_RIGHT)])
    _, path = file_of(saved(picture), tmp_path)
    assert screen_pixels(path, look=Look(inverted=True)).tobytes() == ImageOps.invert(picture).tobytes()
    assert screen_pixels(path, look=Look(inks="grey")).tobytes() == picture.convert("L").convert("RGB").tobytes()
    assert screen_pixels(path, look=Look(saturation=-1)).getpixel((7, 7)) == picture.convert("L").convert(
        "RGB"
    ).getpixel((7, 7))
    sharp = numpy.asarray(screen_pixels(path, look=Look(sharpen=2.0)), dtype=float)
    assert sharp.std() > numpy.asarray(picture, dtype=float).std()


# Written looks


@given(
    st.none() | st.builds(Cut, LIGHTS, part, st.booleans()),
    st.tuples(part, part, st.floats(0.1, 10)),
    signed,
    signed,
    signed,
    st.booleans(),
    st.one_of(
        st.just(("all", ())),
        st.just(("grey", ())),
        st.tuples(st.just("one"), st.tuples(COLOURS)),
        st.tuples(st.just("two"), st.tuples(COLOURS, COLOURS)),
    ),
    st.floats(0, 3),
)
def test_a_look_is_read_as_it_was_written(
    cut, levels, brightness, contrast, saturation, inverted, inks, sharpen
) -> None:  # type: ignore[no-untyped-def]
    look = Look(cut, levels, brightness, contrast, saturation, inverted, *inks, sharpen)
    again = read(written(look))
    assert written(again) == written(look), "what is rounded is rounded once"
    assert (again.inverted, again.inks, len(again.colours)) == (look.inverted, look.inks, len(look.colours))
    assert again.brightness == pytest.approx(look.brightness, abs=1e-4)


@pytest.mark.parametrize(
    "text", ["?", "e30x", "bnVsbA", "W10", "eyJiIjogNX0", "eyJpIjoib25lIn0", "A" * 5000, "eyJ4IjpbMV19"]
)
def test_what_is_no_look_is_refused(text: str) -> None:
    if text == "e30x":
        text = "e30"  # {} is a look that says nothing
        assert read(text) == PLAIN
        return
    with pytest.raises(LookError):
        read(text)


# In print


def test_one_ink_carries_how_dark_a_picture_is(tmp_path: Path) -> None:
    """By Ghostscript's plates: each process ink of the swatch in its part, and nothing where the picture is white."""
    workspace, frame, _ = placed(saved(stepped()), tmp_path, FRAME)
    page = workspace.job.pages[0].id
    workspace.do(do.PutSwatch(name="Slack", space="cmyk", values=(0.6, 0.0, 0.2, 0.0)))
    slack = list(workspace.job.swatches)[-1]
    workspace.do(do.AdjustPictures(page, (frame,), inks="one", ink=Fill(slack)))
    found = plates(pdf(workspace, "print"), tmp_path)
    assert along(found["Cyan"]) == pytest.approx([153, 102, 51, 0], abs=2)
    assert along(found["Yellow"]) == pytest.approx([51, 34, 17, 0], abs=2)
    assert along(found["Black"]) == along(found["Magenta"]) == [0, 0, 0, 0]
    inks = next(mark.inks for mark in coverage(Display(workspace.composition).page(0).items()) if mark.owner == frame)
    assert {name for name, strength in inks.items() if strength} == {"Cyan", "Yellow"}


def test_two_inks_and_a_spot_stand_on_their_own_plates(tmp_path: Path) -> None:
    """The first carries the square of how dark it is, the second that itself (worked by hand)."""
    workspace, frame, _ = placed(saved(stepped()), tmp_path, FRAME)
    page = workspace.job.pages[0].id
    workspace.do(do.PutSwatch(name="Ebb Green", space="cmyk", values=(0.8, 0.1, 0.6, 0.1), spot=True))
    spot = list(workspace.job.swatches)[-1]
    workspace.do(do.AdjustPictures(page, (frame,), inks="two"))
    (chosen,) = [one.picture.adjust for one, _ in workspace.job.page_frames(0) if one.id == frame and one.picture]
    assert (chosen.ink, chosen.second) == (Fill("black"), Fill("marker")), "twice the same ink is nobody's wish"
    workspace.do(do.AdjustPictures(page, (frame,), inks="two", ink=Fill("black"), second=Fill(spot)))
    found = plates(pdf(workspace, "print"), tmp_path)
    assert along(found["Ebb Green"]) == pytest.approx([255, 170, 85, 0], abs=2)
    assert along(found["Black"]) == pytest.approx([255, 113, 28, 0], abs=2)
    assert along(found["Cyan"]) == [0, 0, 0, 0]
    workspace.do(do.AdjustPictures(page, (frame,), inks="one", ink=Fill(spot, 0.5)))
    assert along(plates(pdf(workspace, "print"), tmp_path)["Ebb Green"]) == pytest.approx([128, 85, 43, 0], abs=2)


def test_inks_of_a_picture_keep_to_their_plates_when_it_is_adjusted(tmp_path: Path) -> None:
    picture = Image.new("CMYK", (400, 400), (100, 0, 50, 0))
    workspace, frame, _ = placed(saved(picture, "TIFF"), tmp_path, FRAME)
    workspace.do(do.AdjustPictures(workspace.job.pages[0].id, (frame,), brightness=0.2))
    found = plates(pdf(workspace, "print"), tmp_path)
    assert along(found["Cyan"])[0] == pytest.approx(100 - 25.5, abs=2), "more paper is seen"
    assert along(found["Magenta"])[0] == along(found["Black"])[0] == 0


@pytest.mark.parametrize(
    "look",
    [
        {"inverted": True},
        {"brightness": 0.2, "contrast": 0.3, "saturation": 0.4},
        {"inks": "grey"},
        {"inks": "two", "ink": Fill("black"), "second": Fill("marker")},
        {"cut": CutOut("#C82828", 0.1)},
    ],
    ids=lambda look: next(iter(look)),
)
def test_the_screen_shows_what_its_file_has(look: dict[str, object], tmp_path: Path) -> None:
    """The PDF for screens by pdfium beside what the board is given."""
    picture = Image.new("RGB", (400, 400), (200, 40, 40))
    ImageDraw.Draw(picture).ellipse((80, 80, 320, 320), fill=(40, 120, 90))
    workspace, frame, _ = placed(saved(picture), tmp_path, FRAME)
    workspace.do(do.AdjustPictures(workspace.job.pages[0].id, (frame,), **look))  # type: ignore[arg-type]
    (item,) = [art.picture for art in Display(workspace.composition).page(0).frames if art.picture]
    board = screen_pixels(tmp_path / item.file, look=read(written(item.look)))
    on_paper = Image.new("RGB", board.size, "white")
    on_paper.paste(board, mask=board.getchannel("A") if board.mode == "RGBA" else None)
    document = pdfium.PdfDocument(pdf(workspace, "screen"))
    printed = document[0].render(scale=400 / 72).to_pil().convert("RGB").crop((400, 400, 800, 800))
    document.close()
    far = numpy.abs(numpy.asarray(printed, dtype=float) - numpy.asarray(on_paper, dtype=float))
    assert far.mean() < 1.5


# Cut out


def test_what_is_like_a_colour_is_taken_away_and_what_is_inside_may_stay() -> None:
    picture = Image.new("RGB", (1500, 900), "white")
    draw = ImageDraw.Draw(picture)
    draw.ellipse((300, 150, 900, 750), fill=(30, 60, 40))
    draw.ellipse((500, 350, 700, 550), fill="white")
    everywhere = cut_mask(picture, Cut((255, 255, 255), 0.1))
    assert [everywhere.getpixel(at) for at in ((5, 5), (600, 450), (400, 450))] == [0, 0, 255]
    outside = cut_mask(picture, Cut((255, 255, 255), 0.1, True))
    assert [outside.getpixel(at) for at in ((5, 5), (1490, 890), (600, 450), (400, 450))] == [0, 0, 255, 255]


def test_a_contour_is_what_shapely_says_a_disc_is(tmp_path: Path) -> None:
    picture = Image.new("RGBA", (800, 400), (0, 0, 0, 0))
    ImageDraw.Draw(picture).ellipse((100, 50, 400, 350), fill=(90, 60, 30, 255))
    _, path = file_of(saved(picture), tmp_path)
    (ring,) = contours_of(path, None)
    disc = Point(250.5, 200.5).buffer(150.5, quad_segs=64)
    found = Polygon([(u * 800, v * 400) for u, v in ring])
    assert found.area == pytest.approx(pi * 150.5**2, rel=0.01)
    assert found.symmetric_difference(disc).area / disc.area < 0.01
    _, plain_path = file_of(saved(picture.convert("RGB")), tmp_path, "Plain")
    assert contours_of(plain_path, None) == (), "all of it is seen"
    (cut,) = contours_of(plain_path, Cut((0, 0, 0), 0.05))
    assert Polygon([(u * 800, v * 400) for u, v in cut]).symmetric_difference(disc).area / disc.area < 0.02


def test_text_keeps_clear_of_a_contour_and_follows_another_file(tmp_path: Path) -> None:
    """Beside a disc that fills its frame lines reach into the frame's corners, as they cannot beside its box."""
    disc = Image.new("RGBA", (300, 300), (0, 0, 0, 0))
    ImageDraw.Draw(disc).ellipse((0, 0, 299, 299), fill=(10, 20, 30, 255))
    file, _ = file_of(saved(disc), tmp_path)
    workspace = Workspace(book(), lambda name: path if (path := tmp_path / name).exists() else None)
    workspace.do(do.PourText("main", paragraphs(60)))
    page = workspace.job.pages[0].id
    area = workspace.job.text_area(0)
    rect = Rect(area.x, area.y + 40, 150, 150)
    workspace.do(do.PlacePicture(page, rect, file.id, file))
    frame = workspace.job.pages[0].objects[-1]

    def taken() -> float:
        """How many points of the lines beside the frame lie within its box."""
        flow = workspace.composition.main
        assert flow is not None
        lines = [line for art in Display(workspace.composition).page(0).frames for line in art.lines]
        near = [line for line in lines if rect.y < line.baseline - 3 < rect.foot]
        return sum(max(rect.right - min((run.x for run in line.runs), default=rect.right), 0.0) for line in near)

    workspace.do(do.ChangeFrame(page, frame.id, spec=FrameSpec(wrap=Wrap("right", contour=True))))
    found = contour_in(workspace.job, workspace.job.pages[0].objects[-1], rect, workspace.composition.find)
    assert found is not None
    assert Polygon(found).area == pytest.approx(pi * 75**2, rel=0.02)
    with_contour = taken()
    workspace.do(do.ChangeFrame(page, frame.id, spec=FrameSpec(wrap=Wrap("right"))))
    assert taken() == 0 < with_contour
    workspace.do(do.ChangeFrame(page, frame.id, spec=FrameSpec(wrap=Wrap("right", contour=True))))
    solid, _ = file_of(saved(disc.convert("RGB")), tmp_path, "Solid")
    change = workspace.do(do.ChangePicture(file.id, file=solid))
    assert taken() == 0, "another file has another contour"
    workspace.run(change.inverse)
    assert taken() == pytest.approx(with_contour)


# What matters


def test_pixels_are_measured_as_the_standard_has_it() -> None:
    """L*a*b* of sRGB by D50, from the matrices of IEC 61966-2-1 adapted by Bradford (known values, from memory); grey
    has no colour."""
    known = {
        (255, 0, 0): (54.3, 80.8, 69.9),
        (0, 255, 0): (87.8, -79.3, 81.0),
        (0, 0, 255): (29.6, 68.3, -112.0),
        (128, 128, 128): (53.6, 0, 0),
    }
    for light, lab in known.items():
        assert lab_of(Image.new("RGB", (3, 2), light))[1, 2] == pytest.approx(lab, abs=1.0)


@pytest.mark.parametrize("at", [(0.25, 0.5), (0.7, 0.3), (0.5, 0.75)])
def test_what_stands_out_is_what_matters(at: tuple[float, float]) -> None:
    noise = numpy.random.default_rng(7).normal(128, 12, (400, 600, 3))  # of every hue, on both sides of grey
    picture = Image.fromarray(noise.clip(0, 255).astype("uint8"))
    x, y = at[0] * 600, at[1] * 400
    ImageDraw.Draw(picture).ellipse((x - 50, y - 40, x + 50, y + 40), fill=(190, 60, 30))
    focus = facts_of(saved(picture)).focus
    assert focus == pytest.approx(at, abs=0.06)
    assert facts_of(saved(Image.new("RGB", (600, 400), (90, 90, 90)))).focus == (0.5, 0.5)


def test_a_picture_is_placed_with_what_matters_in_view_and_keeps_its_adjustment(tmp_path: Path) -> None:
    picture = Image.new("RGB", (900, 300), (235, 235, 230))
    ImageDraw.Draw(picture).rectangle((100, 80, 220, 220), fill=(20, 60, 90))
    data = saved(picture)
    file, _ = file_of(data, tmp_path)
    file = replace(file, focus=facts_of(data).focus)
    workspace, _, _ = placed(data, tmp_path, FRAME)
    page = workspace.job.pages[0].id
    workspace.do(do.PlacePicture(page, Rect(72, 200, 90, 90), "seen", replace(file, id="seen")))
    shown = workspace.job.pages[0].objects[-1]
    assert shown.picture
    assert shown.picture.focus[0] < 0.3
    start = job_to_json(workspace.job)
    change = workspace.do(do.AdjustPictures(page, (shown.id,), inverted=True, sharpen=0.5))
    again = workspace.do(do.AdjustPictures(page, (shown.id,), cut=CutOut(tolerance=0.2)))
    adjusted = workspace.job.pages[0].objects[-1].picture
    assert adjusted
    assert (adjusted.adjust.inverted, adjusted.adjust.sharpen, adjusted.adjust.cut) == (
        True,
        0.5,
        CutOut(tolerance=0.2),
    )
    check(job_from_plain(plain(workspace.job)))
    for wrong in (
        do.AdjustPictures(page, (shown.id,), black=0.6, white=0.4),
        do.AdjustPictures(page, (shown.id,), inks="one", ink=Fill("gone")),
        do.AdjustPictures(page, ("nothing",), inverted=True),
    ):
        with pytest.raises(LexigonError):
            workspace.do(wrong)
    workspace.run(again.inverse)
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == start


# Soft edges


def test_an_edge_fades_alike_on_the_board_and_in_print(tmp_path: Path) -> None:
    """Nothing on the outline, half of it halfway in, all of it further in: by pdfium from the printer's file, and by
    resvg from the drawing."""
    import resvg_py

    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.AddShape(page, Rect(100, 100, 120, 120), None, FrameSpec(fill=Fill("black"), soft_edge=24.0)))
    document = pdfium.PdfDocument(pdf(workspace, "screen"))
    printed = document[0].render(scale=2).to_pil().convert("L")
    document.close()
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="864" height="1296" viewBox="0 0 432 648"><rect width="432" '
        f'height="648" fill="#fff"/>{svg_of(Display(workspace.composition).page(0).items())}</svg>'
    )
    shown = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg)))).convert("L")
    for drawn in (printed, shown):
        values = [drawn.getpixel((2 * (100 + inward), 2 * 160)) for inward in (0, 12, 24, 60)]
        assert values[0] > 240
        assert values[1] == pytest.approx(128, abs=14)
        assert values[2] < 14
        assert values[3] == 0
    far = numpy.abs(numpy.asarray(printed, dtype=float) - numpy.asarray(shown, dtype=float))
    assert far.mean() < 0.6
    found = plates(pdf(workspace, "print"), tmp_path)
    edge = (found["Black"].shape[1] - 432) // 2
    assert float(found["Black"][edge + 160, edge + 160]) == pytest.approx(1.0, abs=0.02)
    assert 0.3 < float(found["Black"][edge + 160, edge + 112]) < 0.7, "on its plate"
    assert float(found["Cyan"][edge + 160, edge + 112]) == 0


def test_the_form_of_a_soft_edge_has_resources_of_its_own() -> None:
    """A mask that named the resources of the pages would name itself: some readers go round in circles."""
    workspace = Workspace(book(facing=False))
    fading = FrameSpec(fill=Fill("black"), soft_edge=24.0)
    workspace.do(do.AddShape(workspace.job.pages[0].id, Rect(100, 100, 120, 120), None, fading))
    with pikepdf.open(io.BytesIO(pdf(workspace, "print"))) as file:
        masks = [one.SMask.G for one in file.objects if isinstance(one, pikepdf.Dictionary) and "/SMask" in one]
        states = file.pages[0].Resources.ExtGState
        masks += [one.SMask.G for one in dict(states).values() if "/SMask" in one]
        assert masks
        for form in masks:
            assert list(form.Resources.keys()) == ["/XObject"]
            assert all(str(image.Subtype) == "/Image" for image in dict(form.Resources.XObject).values())
