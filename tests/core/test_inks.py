"""Spot inks and gradients: what the swatch says, what each plate gets, what the board shows; coverage of a page."""

from __future__ import annotations

import io
import subprocess
from dataclasses import replace
from datetime import datetime, timezone
from math import erf, sqrt
from pathlib import Path

import numpy
import pikepdf
import pypdfium2
import pytest
from PIL import Image

from lexigon.core.check.findings import findings_of
from lexigon.core.colour.colours import Colour, css_of
from lexigon.core.colour.colours import Gradient as Blended
from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import (
    Fill,
    FrameSpec,
    Gradient,
    Job,
    Object,
    Outline,
    Pose,
    Shadow,
    Stop,
    Stroke,
    Swatch,
)
from lexigon.core.editing.intents import AddShape, ChangeFrame
from lexigon.core.errors import FormError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.fileformat.values import passed
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import coverage
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.press.document import write_pdf
from lexigon.core.press.facts import job_facts, pdf_facts
from lexigon.core.press.recipes import recipe
from tests.core.helpers import shape
from tests.core.test_objects import bare

WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)
SEA = Swatch("sea", "Sea blue", "cmyk", (0.9, 0.4, 0.1, 0.1), spot=True)
SAND = Swatch("sand", "Sand", "cmyk", (0.0, 0.2, 0.6, 0.0))
BOX = Rect(60, 60, 240, 120)


def filled(*swatches: Swatch, fill: str, tint: float = 1.0, outline: Outline | None = None) -> Job:
    job = bare()
    job.swatches |= {swatch.id: swatch for swatch in swatches}
    job.pages[0] = replace(job.pages[0], objects=(shape("box", BOX, outline, fill=Fill(fill, tint)),))
    return job


def fading(*stops: Stop, kind: str = "linear", angle: float = 0.0) -> Swatch:
    return Swatch("fade", "Fade", "gradient", gradient=Gradient(stops, kind, angle))  # type: ignore[arg-type]


def pressed(job: Job, name: str = "trim") -> bytes:
    target = io.BytesIO()
    write_pdf(Workspace(job).composition, recipe(name), target, WHEN)
    return target.getvalue()


def plates(job: Job, folder: Path) -> dict[str, numpy.ndarray]:
    """The plates of the first page as Ghostscript separates it, one pixel a point: 1 is full ink. The bleed is 9 pt."""
    (folder / "p.pdf").write_bytes(pressed(job))
    subprocess.run(
        [
            "gs",
            "-q",
            "-dNOPAUSE",
            "-dBATCH",
            "-dSAFER",
            "-sDEVICE=tiffsep",
            "-r72",
            f"-sOutputFile={folder}/p.tif",
            folder / "p.pdf",
        ],
        check=True,
        capture_output=True,
    )
    found = {path.name.split("(")[1].removesuffix(").tif"): path for path in folder.glob("p(*).tif")}
    return {name: 1 - numpy.asarray(Image.open(path).convert("L")) / 255 for name, path in found.items()}


def test_a_spot_ink_has_a_plate_of_its_name_and_no_other(tmp_path: Path) -> None:
    job = filled(SEA, fill="sea", tint=0.5)
    found = plates(job, tmp_path)
    assert set(found) == {"Cyan", "Magenta", "Yellow", "Black", "Sea blue"}
    assert found["Sea blue"][9 + 120, 9 + 180] == pytest.approx(0.5, abs=0.01)
    assert found["Sea blue"][9 + 50, 9 + 180] == 0
    assert all(not found[ink].any() for ink in ("Cyan", "Magenta", "Yellow", "Black"))
    assert job_facts(Workspace(job).composition)["inks"] == ["Sea blue"]
    facts = pdf_facts(tmp_path / "p.pdf")
    assert facts["inks"] == ["Sea blue"]
    assert not facts["findings"]


def test_registration_is_on_every_plate_and_a_tint_on_that_of_its_swatch(tmp_path: Path) -> None:
    """As Ghostscript separates them; a spot ink's plate is one of all."""
    marks = Swatch("marks", "Registration", "registration")
    light = Swatch("light", "Light sea", "tint", base=Fill("sea", 0.4))
    job = filled(SEA, marks, light, fill="marks", tint=0.75)
    job.pages[0] = replace(
        job.pages[0], objects=(*job.pages[0].objects, shape("wave", Rect(20, 20, 60, 20), fill=Fill("light", 0.5)))
    )
    found = plates(job, tmp_path)
    assert set(found) == {"Cyan", "Magenta", "Yellow", "Black", "Sea blue"}
    for ink, plate in found.items():
        assert plate[9 + 120, 9 + 180] == pytest.approx(0.75, abs=0.01), ink
        assert plate[9 + 30, 9 + 40] == pytest.approx(0.2 if ink == "Sea blue" else 0.0, abs=0.01), ink
    assert not pdf_facts(tmp_path / "p.pdf")["findings"]


def test_on_screen_a_spot_ink_is_what_it_looks_like_in_process_inks() -> None:
    assert Colour("cmyk", SEA.values, "Sea blue").at(0.5).css == Colour("cmyk", tuple(v / 2 for v in SEA.values)).css
    svg = svg_of(Display(Workspace(filled(SEA, fill="sea")).composition).page(0).items())
    assert f'fill="{Colour("cmyk", SEA.values).css}"' in svg


def test_a_gradient_passes_in_each_ink_by_itself(tmp_path: Path) -> None:
    """Along a line the amount of each ink grows evenly: closed form, measured on Ghostscript's plates."""
    ends = (Stop(0.0, "sand"), Stop(1.0, "black", 0.5))
    found = plates(filled(SAND, fading(*ends), fill="fade"), tmp_path)
    for ink, first, last in (("Cyan", 0, 0), ("Magenta", 0.2, 0), ("Yellow", 0.6, 0), ("Black", 0, 0.5)):
        row = found[ink][9 + 120, 9 + 60 : 9 + 300]
        wanted = first + (last - first) * (numpy.arange(240) + 0.5) / 240
        assert numpy.abs(row[2:-2] - wanted[2:-2]).max() < 0.012, ink
        assert not found[ink][9 + 50].any(), "nothing outside what it fills"
    assert pdf_facts(tmp_path / "p.pdf")["inks"] == ["Black", "Magenta", "Yellow"]


def test_a_gradient_of_a_spot_ink_stays_on_its_plate(tmp_path: Path) -> None:
    found = plates(filled(SEA, SAND, fading(Stop(0.0, "sea"), Stop(1.0, "sand")), fill="fade"), tmp_path)
    share = (numpy.arange(240) + 0.5) / 240
    for ink, wanted in (
        ("Sea blue", 1 - share),
        ("Yellow", 0.6 * share),
        ("Magenta", 0.2 * share),
        ("Cyan", 0 * share),
    ):
        assert numpy.abs(found[ink][9 + 120, 9 + 60 : 9 + 300] - wanted)[2:-2].max() < 0.012, ink
    assert set(pdf_facts(tmp_path / "p.pdf")["inks"]) == {"Sea blue", "Magenta", "Yellow"}


@pytest.mark.parametrize(
    ("kind", "angle", "at", "part"),
    [
        ("linear", 90.0, (180, 60.5), 0.0),
        ("linear", 90.0, (180, 120), 0.5),
        ("linear", 180.0, (299.5, 100), 0.0),
        ("linear", 45.0, (60.5, 60.5), 0.0),
        ("linear", 45.0, (180, 120), 0.5),
        ("linear", 45.0, (299.5, 179.5), 1.0),
        ("radial", 0.0, (180, 120), 0.0),
        ("radial", 0.0, (300 - 1, 180 - 1), 1.0),
        ("radial", 0.0, (180 + 67.08, 120), 0.5),
    ],
)
def test_where_a_gradient_begins_and_ends(
    kind: str, angle: float, at: tuple[float, float], part: float, tmp_path: Path
) -> None:
    """At an angle it runs from corner to corner of what it fills; a radial one from the middle to the corners."""
    found = plates(
        filled(fading(Stop(0.0, "paper"), Stop(1.0, "black"), kind=kind, angle=angle), fill="fade"), tmp_path
    )
    assert found["Black"][int(9 + at[1]), int(9 + at[0])] == pytest.approx(part, abs=0.02)


def test_a_midpoint_is_where_both_colours_are_half(tmp_path: Path) -> None:
    """Ghostscript's plate follows the exponential interpolation of ISO 32000-2, 7.10.3, and the board's steps lie on
    the same curve."""
    ends = (Stop(0.0, "paper", mid=0.25), Stop(0.5, "sand", mid=0.8), Stop(1.0, "paper"))
    job = filled(SAND, fading(*ends), fill="fade")
    row = plates(job, tmp_path)["Yellow"][9 + 120, 9 + 60 : 9 + 300] / 0.6
    at = (numpy.arange(240) + 0.5) / 240
    up, down = numpy.log(0.5) / numpy.log(0.25), numpy.log(0.5) / numpy.log(0.8)
    wanted = numpy.where(at < 0.5, (2 * at) ** up, 1 - numpy.clip(2 * at - 1, 0, 1) ** down)
    assert numpy.abs(row - wanted)[3:-3].max() < 0.04  # its own steps
    assert row[30] == pytest.approx(0.5, abs=0.02)
    gradient = Display(Workspace(job).composition).page(0).frames[0].ground[0].fill
    assert isinstance(gradient, Blended)
    assert gradient.at(0.125).components[2] == pytest.approx(0.3)
    assert gradient.at(0.9).components[2] == pytest.approx(0.3)
    steps = gradient.steps()
    dark = numpy.interp(at, [part for part, _ in steps], [1 - rgb[2] for _, rgb in steps])
    exact = numpy.array([1 - gradient.at(float(part)).rgb[2] for part in at])
    assert numpy.abs(dark - exact).max() < 0.02


def test_a_way_set_by_hand_stands_in_parts_of_the_box(tmp_path: Path) -> None:
    """From a quarter across to three quarters; the colours go on before and behind. Round: from that middle to that
    rim, in points."""
    job = filled(fading(Stop(0.0, "paper"), Stop(1.0, "black"), angle=90.0), fill="fade")
    way = job.pages[0].objects[0].with_spec(way=(0.25, 0.5, 0.75, 0.5))
    job.pages[0] = replace(job.pages[0], objects=(way,))
    row = plates(job, tmp_path)["Black"][9 + 120, 9 + 60 : 9 + 300]
    wanted = numpy.clip(2 * (numpy.arange(240) + 0.5) / 240 - 0.5, 0, 1)
    assert numpy.abs(row - wanted)[2:-2].max() < 0.012
    palette = Palette(job.swatches)
    fade = Gradient((Stop(0.0, "paper"), Stop(1.0, "black")), "radial")
    assert palette.way(fade, BOX, (0.5, 0.5, 0.5, 1.0)) == ((180, 120), (180, 180))
    with pytest.raises(FormError, match="from one point to another"):
        passed(replace(way.make, way=(0.1, 0.1, 0.1, 0.1)))


def test_the_board_shows_a_gradient_as_the_press_mixes_it() -> None:
    """The drawing for the screen has a step wherever inks mixed evenly would be off; Chromium's is compared by the
    browser's tests."""
    job = filled(SAND, fading(Stop(0.2, "sand"), Stop(0.8, "marker")), fill="fade", outline=Outline())
    art = Display(Workspace(job).composition).page(0)
    svg = svg_of(art.items())
    assert svg.count("<stop ") == 9
    assert "linearGradient" in svg
    data = pressed(job, "screen")
    shown = numpy.asarray(pypdfium2.PdfDocument(data)[0].render(scale=1).to_pil().convert("RGB")).astype(int)
    gradient = art.frames[0].ground[0].fill
    assert not isinstance(gradient, Colour)
    assert gradient is not None
    for x in (70, 120, 180, 240, 290):
        wanted = [round(v * 255) for v in gradient.at((x + 0.5 - 60) / 240).rgb]
        assert numpy.abs(shown[120, x] - wanted).max() <= 4, x
    assert (shown[62, 62] == 255).all(), "cut off by the outline"


def test_a_gradient_of_light_begins_and_ends_in_the_colours_that_even_fills_show() -> None:
    ends = Swatch("a", "Dawn", "rgb", (1.0, 0.2, 0.1)), Swatch("b", "Deep", "rgb", (0.0, 0.1, 0.9))
    job = filled(*ends, fading(Stop(0.0, "a"), Stop(0.5, "b"), Stop(0.5, "a"), Stop(1.0, "b")), fill="fade")
    gradient = Display(Workspace(job).composition).page(0).frames[0].ground[0].fill
    assert isinstance(gradient, Blended)
    sudden = Blended("linear", (0, 0), (9, 0), tuple((0.5, gradient.stops[n][1]) for n in (0, 1)))
    assert [(part, css_of(rgb)) for part, rgb in sudden.steps()] == [(0.5, "#ff331a"), (0.5, "#001ae6")]
    shown = gradient.steps(2)
    assert [(part, tuple(round(v, 2) for v in rgb)) for part, rgb in shown] == [
        (0.0, (1.0, 0.2, 0.1)),
        (0.25, (0.5, 0.15, 0.5)),
        (0.5, (0.0, 0.1, 0.9)),
        (0.5, (1.0, 0.2, 0.1)),
        (0.75, (0.5, 0.15, 0.5)),
        (1.0, (0.0, 0.1, 0.9)),
    ]


def test_type_in_a_gradient_takes_its_first_colour_and_edges_stay() -> None:
    job = filled(SAND, fading(Stop(0.0, "sand"), Stop(1.0, "marker")), fill="fade")
    box = job.pages[0].objects[0].with_spec(stroke=Stroke(2.0, "fade", 1.0, ()))
    job.pages[0] = replace(job.pages[0], objects=(box,))
    with pikepdf.open(io.BytesIO(pressed(job))) as pdf:
        words = [str(i.operator) for i in pikepdf.parse_content_stream(pdf.pages[0])]
    assert words.count("sh") == 1
    assert words.count("S") == 1


def test_coverage_tells_inks_and_bounds_of_all_that_is_painted() -> None:
    job = filled(SEA, SAND, fading(Stop(0.0, "sea"), Stop(1.0, "sand", 0.5)), fill="fade")
    turned = Object("t", place=Pose(Rect(100, 200, 100, 20), 90.0), make=job.pages[0].objects[0].make)
    rich = replace(shape("r", Rect(10, 300, 20, 20)), make=turned.make)
    job.swatches["rich"] = Swatch("rich", "Rich", "cmyk", (0.6, 0.5, 0.5, 1.0))
    rich = rich.with_spec(fill=Fill("rich"), stroke=Stroke(4.0, "rich", 1.0, ()))
    job.pages[0] = replace(job.pages[0], objects=(*job.pages[0].objects, turned, rich))
    marks = {mark.owner: mark for mark in coverage(Display(Workspace(job).composition).page(0).items())}
    assert marks["box"].inks == {"Sea blue": 1.0, "Magenta": 0.1, "Yellow": 0.3}
    assert marks["box"].bounds == BOX
    found = marks["t"].bounds
    assert (found.x, found.y, found.width, found.height) == pytest.approx((140, 160, 20, 100))
    assert marks["r"].total == pytest.approx(2.6)
    assert marks["r"].bounds == Rect(8, 298, 24, 24)


def test_more_ink_than_a_paper_takes_is_told() -> None:
    """330 % and not more; of a gradient what stands together in one place, and not what its ends have each."""
    deep = Swatch("deep", "Deep", "cmyk", (0.8, 0.8, 0.8, 0.9))
    edge, warm = replace(deep, values=(0.8, 0.8, 0.8, 0.91)), Swatch("warm", "Warm", "cmyk", (0.0, 1.0, 1.0, 0.9))
    cold, lab = Swatch("cold", "Cold", "cmyk", (1.0, 0.0, 0.0, 0.9)), Swatch("lab", "Lab", "lab", (2.0, 0.0, 0.0))
    apart = fading(Stop(0.0, "warm"), Stop(1.0, "cold"))

    def told(job: Job) -> list[str]:
        return [one.text for one in findings_of(Workspace(job).composition) if one.kind == "too much ink"]

    assert not told(filled(deep, fill="deep"))
    assert not told(filled(warm, cold, apart, fill="fade"))
    assert not told(filled(lab, fill="lab"))
    assert not told(filled(edge, fill="deep", tint=0.9))
    (words,) = told(filled(edge, fill="deep"))
    assert "has 331 % ink" in words
    (words,) = told(filled(edge, warm, fading(Stop(0.0, "warm"), Stop(1.0, "deep")), fill="fade"))
    assert "331 %" in words
    beside = filled(Swatch("all", "Registration", "registration"), fill="all")
    assert told(beside)
    off = replace(beside.pages[0].objects[0], place=Pose(Rect(-30, 10, 20, 0.5)))
    beside.pages[0] = replace(beside.pages[0], objects=(off,))
    assert not told(beside), "a mark beside the page is meant so"
    assert job_facts(Workspace(filled(lab, fill="lab")).composition)["inks"] == ["RGB"]


@pytest.mark.parametrize(
    ("swatch", "said"),
    [
        (replace(SEA, space="rgb", values=(0, 0, 1)), "needs values in process inks"),
        (replace(SAND, values=()), "needs 4 values"),
        (replace(SEA, name="All"), "is the name of a process ink"),
        (replace(SEA, name="Black"), "is the name of a process ink"),
        (Swatch("x", "X", "gradient"), "must have stops"),
        (replace(SAND, gradient=Gradient((Stop(0, "black"), Stop(1, "paper")))), "must have stops"),
        (fading(Stop(0, "gone"), Stop(1, "black")), "missing"),
        (fading(Stop(0, "fade"), Stop(1, "black")), "cannot use another gradient"),
        (fading(Stop(0.5, "black"), Stop(0.2, "paper")), "must be in order"),
        (fading(Stop(0, "black")), "fewer than 2"),
    ],
)
def test_swatches_that_cannot_be_are_refused(swatch: Swatch, said: str) -> None:
    job = filled(fill="black")
    job.swatches[swatch.id] = swatch
    with pytest.raises(FormError, match=said):
        job_from_json(job_to_json(job))


def test_a_shadow_is_one_ink_on_its_own_plate_and_fades_as_a_gaussian_does(tmp_path: Path) -> None:
    """A spot ink at 60 %, separated by Ghostscript, along a straight edge: against the error function, worked in closed
    form."""
    workspace = Workspace(filled(SEA, fill=""))
    page = workspace.job.pages[0]
    box = Rect(100, 120, 200, 160)
    workspace.do(AddShape(page.id, box, spec=FrameSpec(fill=Fill("paper"), shadow=Shadow(30.0, 0.0, 20.0, "sea", 0.6))))
    found = plates(workspace.job, tmp_path)
    assert not any(found[ink][9 + 200, 9 + 310 :].any() for ink in ("Cyan", "Magenta", "Yellow", "Black"))
    row = found["Sea blue"][9 + 200]
    edge = 9 + box.right + 30.0  # where it is half as strong
    for x in range(int(edge) - 25, int(edge) + 26, 5):
        if x > 9 + box.right + 1:
            wanted = 0.6 * 0.5 * (1 - erf((x + 0.5 - edge) / (10.0 * sqrt(2))))
            assert row[x] == pytest.approx(wanted, abs=0.03), x
    hard = workspace.job.pages[0].objects[-1].id
    workspace.do(ChangeFrame(page.id, hard, rotation=90.0, spec=FrameSpec(shadow=Shadow(30.0, 0.0, 0.0, "sea", 1.0))))
    row = plates(workspace.job, tmp_path)["Sea blue"][9 + 200]
    right = 9 + 200 + 80 + 30  # turned, it is 160 pt wide about x 200; the shadow still falls to the right
    assert row[right - 3] == pytest.approx(1.0, abs=0.02)
    assert row[right + 3] == 0
    marks = coverage(Display(workspace.composition).page(0).items())
    assert any(mark.inks == {"Sea blue": 1.0} for mark in marks)


def test_what_overprints_leaves_the_inks_below_it(tmp_path: Path) -> None:
    cyan, magenta = Swatch("c", "Cyan", "cmyk", (1.0, 0, 0, 0)), Swatch("m", "Magenta", "cmyk", (0, 1.0, 0, 0))
    for over, left in ((True, 1.0), (False, 0.0)):
        workspace = Workspace(filled(replace(cyan, name="Blue"), replace(magenta, name="Red"), SEA, fill="c"))
        spec = FrameSpec(fill=Fill("m"), stroke=Stroke(0.0), overprint=over)
        workspace.do(AddShape(workspace.job.pages[0].id, Rect(100, 80, 40, 40), spec=spec))
        workspace.do(AddShape(workspace.job.pages[0].id, Rect(200, 80, 40, 40), spec=replace(spec, fill=Fill("sea"))))
        found = plates(workspace.job, tmp_path)
        assert found["Magenta"][9 + 100, 9 + 120] == pytest.approx(1.0, abs=0.01)
        assert found["Cyan"][9 + 100, 9 + 120] == pytest.approx(left, abs=0.01)
        assert found["Cyan"][9 + 100, 9 + 220] == pytest.approx(left, abs=0.01)
        assert found["Sea blue"][9 + 100, 9 + 220] == pytest.approx(1.0, abs=0.01)
