"""Pictures: what their files say, how they stand in frames, and how they are printed."""

from __future__ import annotations

import contextlib
import hashlib
import io
import random
import struct
import subprocess
import zlib
from collections.abc import Sequence
from datetime import datetime, timezone
from math import cos, radians, sin
from pathlib import Path

import numpy
import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms

from lexigon.core.check.findings import findings_of
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.profiles import COATED, PROFILES, UNCOATED
from lexigon.core.document.consistency import check
from lexigon.core.document.cropping import box_of, map_of, resolution
from lexigon.core.document.model import Fill, FrameSpec, Outline, Picture, PictureFile, Stroke
from lexigon.core.editing import intents as do
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.intake import files as intake
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.picture.conversion import on_screen, raster
from lexigon.core.picture.files import PictureError, facts_of, upright
from lexigon.core.press.document import write_pdf
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book

NOW = datetime(2026, 1, 1, tzinfo=timezone.utc)


def saved(picture: Image.Image, form: str = "PNG", **values: object) -> bytes:
    target = io.BytesIO()
    picture.save(target, form, **values)  # type: ignore[arg-type]
    return target.getvalue()


def flat(mode: str = "RGB", colour: object = (200, 40, 40), size: tuple[int, int] = (600, 400)) -> Image.Image:
    return Image.new(mode, size, colour)  # type: ignore[arg-type]


def file_of(data: bytes, folder: Path, name: str = "Redshank") -> tuple[PictureFile, Path]:
    """A picture of the job and where its file stands."""
    facts, key = facts_of(data), hashlib.sha256(data).hexdigest()
    path = folder / key
    path.write_bytes(data)
    return PictureFile(f"i{key[:8]}", name, key, facts.width, facts.height, facts.ppi, facts.space, facts.alpha), path


def placed(data: bytes, folder: Path, rect: Rect, **framing: object) -> tuple[Workspace, str, PictureFile]:
    """A workspace with a picture in a frame on its first page; the frame's id."""
    file, _ = file_of(data, folder)
    workspace = Workspace(book(facing=False), lambda name: path if (path := folder / name).exists() else None)
    page = workspace.job.pages[0].id
    workspace.do(do.PlacePicture(page, rect, file.id, file))
    frame = workspace.job.pages[0].objects[-1].id
    if framing:
        workspace.do(do.FramePicture(page, frame, **framing))  # type: ignore[arg-type]
    return workspace, frame, file


def pdf(workspace: Workspace, kind: str = "print", pages: Sequence[int] = (0,)) -> bytes:
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe(kind), target, NOW, list(pages))
    return target.getvalue()


def plates(data: bytes, folder: Path) -> dict[str, numpy.ndarray]:
    (folder / "p.pdf").write_bytes(data)
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


# What files say


def test_what_a_file_says_of_itself() -> None:
    assert facts_of(saved(flat(), dpi=(150, 150))).ppi == pytest.approx(150, abs=0.1)
    assert facts_of(saved(flat())).ppi == 300
    assert facts_of(saved(flat(), "JPEG", dpi=(1, 1))).ppi == 300, "no resolution that can be meant"
    turned = Image.Exif()
    turned[0x0112] = 6
    told = facts_of(saved(flat(), "JPEG", exif=turned))
    assert (told.width, told.height) == (400, 600)
    kinds = {
        "grey": (flat("L", 90), flat("1", 1), flat("LA", (90, 120))),
        "rgb": (flat(), flat("RGBA", (9, 9, 9, 9)), flat().quantize(8)),
        "cmyk": (flat("CMYK", (10, 20, 30, 40)),),
    }
    for space, pictures in kinds.items():
        for picture in pictures:
            form = "TIFF" if picture.mode == "CMYK" else "PNG"
            assert facts_of(saved(picture, form)).space == space, picture.mode
    assert facts_of(saved(flat("RGBA", (9, 9, 9, 9)))).alpha
    assert facts_of(saved(flat().quantize(8), transparency=3)).alpha
    assert not facts_of(saved(flat())).alpha


def bomb() -> bytes:
    """A PNG that says it has 30,000 by 30,000 pixels, and holds none."""
    head = struct.pack(">IIBBBBB", 30_000, 30_000, 8, 2, 0, 0, 0)
    chunks = ((b"IHDR", head), (b"IDAT", zlib.compress(b"\0" * 1000)), (b"IEND", b""))
    body = b"".join(struct.pack(">I", len(d)) + k + d + struct.pack(">I", zlib.crc32(k + d)) for k, d in chunks)
    return b"\x89PNG\r\n\x1a\n" + body


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b"GIF89a" + b"\0" * 50, "GIF and BMP pictures cannot be imported"),
        (b"<svg/>", "not a PNG"),
        (b"\0\0\0\x18ftypheic" + b"\0" * 99, "HEIC"),
        (b"words", "not a PNG"),
        (bomb(), "pixels"),
        (saved(flat(size=(900, 900)))[:-300], "damaged"),
        (saved(flat(), "JPEG")[:200], "damaged|not a PNG"),
        (b"%PDF-1.7 nothing", "damaged"),
        (saved(flat(), "TIFF")[:120], "damaged|not a PNG"),
    ],
)
def test_what_is_no_picture_is_refused_in_plain_words(data: bytes, words: str) -> None:
    with pytest.raises(PictureError, match=words):
        facts_of(data)


# How they stand in frames

ASPECTS = st.tuples(st.integers(20, 4000), st.integers(20, 4000))
FRAMES = st.builds(Rect, st.floats(-50, 500), st.floats(-50, 500), st.floats(10, 600), st.floats(10, 600))


@given(
    ASPECTS,
    FRAMES,
    st.sampled_from([0.0, 90.0, 180.0, 270.0, 12.0, 45.0, 301.5]),
    st.booleans(),
    st.tuples(st.floats(0, 1), st.floats(0, 1)),
)
def test_a_picture_fills_its_frame_or_fits_into_it(
    pixels: tuple[int, int], frame: Rect, rotation: float, mirrored: bool, focus: tuple[float, float]
) -> None:
    """Seen from the frame's corners: filling, all of them lie within the picture; fitting, all of the picture lies
    within them."""
    file = PictureFile("i", "", "0" * 64, *pixels)
    corners = [(frame.x, frame.y), (frame.right, frame.y), (frame.right, frame.foot), (frame.x, frame.foot)]
    for fit in ("fill", "fit"):
        shown = Picture("i", fit, focus, None, rotation, mirrored)  # type: ignore[arg-type]
        box = box_of(shown, file, frame)
        assert box.width / box.height == pytest.approx(pixels[0] / pixels[1], rel=1e-6), "it is never distorted"
        map_ = map_of(shown, file, frame)
        back = map_.inverse()
        assert back is not None
        if fit == "fill":
            inside = [back.apply(*corner) for corner in corners]
            assert all(-1e-6 <= u <= 1 + 1e-6 and -1e-6 <= v <= 1 + 1e-6 for u, v in inside)
            assert any(min(abs(u), abs(u - 1), abs(v), abs(v - 1)) < 1e-6 for u, v in inside), (
                "no larger than it need be"
            )
        else:
            ends = [map_.apply(u, v) for u in (0, 1) for v in (0, 1)]
            xs, ys = [x for x, _ in ends], [y for _, y in ends]
            assert min(xs) >= frame.x - 1e-6
            assert max(xs) <= frame.right + 1e-6
            assert min(ys) >= frame.y - 1e-6
            assert max(ys) <= frame.foot + 1e-6
            spare = (frame.width - max(xs) + min(xs), frame.height - max(ys) + min(ys))
            assert min(spare) == pytest.approx(0, abs=1e-6), "as large as it can be"


def test_resolution_and_focus_by_hand() -> None:
    """A 1,200 x 900 pixel picture, 4 in wide: 300 ppi (worked by hand)."""
    file = PictureFile("i", "", "0" * 64, 1200, 900)
    frame = Rect(36, 72, 288, 100)
    filling = Picture("i")
    assert box_of(filling, file, frame) == Rect(36, 72 - 58, 288, 216)
    assert resolution(filling, file, frame) == 300
    assert box_of(Picture("i", focus=(0.5, 0.0)), file, frame).y == 72
    assert box_of(Picture("i", focus=(0.5, 1.0)), file, frame).foot == 172
    fitting = box_of(Picture("i", "fit"), file, frame)
    assert (fitting.width, fitting.height) == pytest.approx((400 / 3, 100))
    assert resolution(Picture("i", "free", box=Rect(0, 0, 144, 216)), file, frame) == 300
    quarter = map_of(Picture("i", "fill", rotation=90.0), file, Rect(0, 0, 90, 120))
    assert quarter.apply(0, 0) == pytest.approx((90, 0))
    assert quarter.apply(1, 0) == pytest.approx((90, 120))
    c, s = cos(radians(30)), sin(radians(30))
    leaning = box_of(Picture("i", "fit", rotation=30.0), file, Rect(0, 0, 1000, 100))
    assert leaning.width * s + leaning.height * c == pytest.approx(100)


# Placing and framing


def test_placing_framing_swapping_and_undoing(tmp_path: Path) -> None:
    workspace, frame, file = placed(saved(flat()), tmp_path, Rect(50, 60, 100, 100))
    page = workspace.job.pages[0].id
    start = job_to_json(workspace.job)
    done = [workspace.do(do.FramePicture(page, frame, scale=(0.5, 0.5)))]
    shown = workspace.job.pages[0].objects[-1].picture
    assert shown
    assert shown.fit == "free"
    assert shown.box == Rect(14, 26, 72, 48), "about its middle, where it stood"
    other, _ = file_of(saved(flat(colour=(1, 2, 3), size=(300, 300))), tmp_path, "Dunlin")
    done.append(workspace.do(do.ShowPicture(page, frame, other.id, other)))
    swapped = workspace.job.pages[0].objects[-1].picture
    assert swapped
    assert (swapped.picture, swapped.box) == (other.id, shown.box), "the framing is kept"
    done.append(workspace.do(do.ChangePicture(other.id, file=file, name="Both")))
    assert workspace.job.pictures[other.id].file == file.file
    done.append(workspace.do(do.ShowPicture(page, frame, None)))
    done.append(workspace.do(do.RemovePictures((file.id, other.id))))
    assert not workspace.job.pictures
    check(workspace.job)
    for change in reversed(done):
        workspace.run(change.inverse)
    assert job_to_json(workspace.job) == start
    with pytest.raises(LexigonError, match="shown in 1 frame"):
        workspace.do(do.RemovePictures((file.id,)))
    workspace.do(do.AddTextFrame(page, Rect(50, 200, 90, 60), text="words"))
    words = workspace.job.pages[0].objects[-1].id
    with pytest.raises(LexigonError, match="A picture can go into an empty frame"):
        workspace.do(do.ShowPicture(page, words, file.id))
    workspace.do(do.AddTextFrame(page, Rect(50, 300, 90, 60)))
    empty = workspace.job.pages[0].objects[-1]
    workspace.do(do.ShowPicture(page, empty.id, file.id))
    assert empty.story not in workspace.job.stories
    check(workspace.job)
    files = {file.file: (tmp_path / file.file).read_bytes()}
    data = package.write(workspace.job, files)
    assert package.read(data) == workspace.job
    assert package.read_files(data) == files


def test_a_picture_that_a_master_shows_is_brought_into_another_job(tmp_path: Path) -> None:
    workspace, frame, file = placed(saved(flat()), tmp_path, Rect(50, 60, 100, 100))
    page = workspace.job.pages[0].id
    workspace.do(do.ShowPicture(page, frame, None))
    workspace.do(do.PlacePicture("master:text:recto", Rect(10, 10, 30, 30), file.id))
    other = Workspace(book())
    masters = tuple(workspace.job.masters.values())
    stories, styles = tuple(workspace.job.stories.values()), tuple(workspace.job.paragraph_styles.values())
    other.do(do.BringMasters(masters, stories, styles, workspace.job.brief, (), tuple(workspace.job.pictures.values())))
    assert set(other.job.pictures) == {file.id}
    check(other.job)


# Out


def test_a_picture_is_cut_off_by_its_frame_below_the_frames_edge(tmp_path: Path) -> None:
    workspace, frame, _ = placed(saved(flat()), tmp_path, Rect(50, 60, 100, 100))
    page = workspace.job.pages[0].id
    workspace.do(do.ChangeFrame(page, frame, outline=Outline(), spec=FrameSpec(stroke=Stroke(2.0, "black", 1.0, ()))))
    svg = svg_of(Display(workspace.composition).page(0).items(), lambda name, look: f"/there/{name}")
    image, edge = svg.index("<image"), svg.rindex("<path")
    assert svg.index("clip-path") < image < edge
    assert 'href="/there/' in svg


def test_a_missing_file_is_shown_and_found(tmp_path: Path) -> None:
    workspace, _, file = placed(saved(flat()), tmp_path, Rect(50, 60, 100, 100))
    assert not [f for f in findings_of(workspace.composition) if "picture" in f.kind]
    (tmp_path / file.file).unlink()
    gone = Workspace(workspace.job, lambda name: None)
    (finding,) = [f for f in findings_of(gone.composition) if f.kind == "missing picture"]
    assert "“Redshank”" in finding.text
    assert "<image" not in svg_of(Display(gone.composition).page(0).items())
    assert b"/Subtype/Image" not in pdf(gone)


def test_too_coarse_a_picture_is_a_finding(tmp_path: Path) -> None:
    workspace, frame, _ = placed(saved(flat()), tmp_path, Rect(50, 60, 300, 200))
    (finding,) = [f for f in findings_of(workspace.composition) if f.kind == "coarse picture"]
    assert "144 ppi" in finding.text, "600 pixels on 300 pt, worked by hand"
    workspace.do(do.ChangeFrame(workspace.job.pages[0].id, frame, rect=Rect(50, 60, 150, 100)))
    assert not [f for f in findings_of(workspace.composition) if f.kind == "coarse picture"]


def test_pictures_are_reduced_to_the_recipes_resolution_by_poppler(tmp_path: Path) -> None:
    workspace, _, _ = placed(saved(flat(size=(3000, 2000))), tmp_path, Rect(50, 60, 144, 96))
    (tmp_path / "q.pdf").write_bytes(pdf(workspace))
    rows = subprocess.run(["pdfimages", "-list", tmp_path / "q.pdf"], check=True, capture_output=True, text=True).stdout
    row = rows.splitlines()[2].split()
    assert row[3:6] == ["600", "400", "cmyk"]
    assert row[12:14] == ["300", "300"]
    assert not pdf_facts(tmp_path / "q.pdf")["findings"]


def middle(found: dict[str, numpy.ndarray]) -> dict[str, float]:
    """How much of each ink stands in the middle of the picture; the bleed is 9 pt."""
    return {ink: round(float(plate[9 + 110, 9 + 100]), 2) for ink, plate in found.items()}


@pytest.mark.parametrize("form", ["TIFF", "JPEG"])
def test_inks_of_a_picture_go_to_their_plates_as_they_are(form: str, tmp_path: Path) -> None:
    """Separated by Ghostscript, from a file of its own and from a JPEG, whose inks are inverted."""
    inks = flat("CMYK", (204, 0, 51, 102))
    workspace, _, _ = placed(
        saved(inks, form, **({"quality": 100} if form == "JPEG" else {})), tmp_path, Rect(50, 60, 100, 100)
    )
    found = middle(plates(pdf(workspace), tmp_path))
    assert found == pytest.approx({"Cyan": 0.8, "Magenta": 0.0, "Yellow": 0.2, "Black": 0.4}, abs=0.02)


def test_light_becomes_the_inks_that_swatches_of_it_become_and_grey_is_black_alone(tmp_path: Path) -> None:
    workspace, _, _ = placed(saved(flat(colour=(204, 51, 102))), tmp_path, Rect(50, 60, 100, 100))
    found = middle(plates(pdf(workspace), tmp_path))
    inks = Colour("rgb", (0.8, 0.2, 0.4)).cmyk
    assert [found[ink] for ink in ("Cyan", "Magenta", "Yellow", "Black")] == pytest.approx(list(inks), abs=0.02)
    grey, _, _ = placed(saved(flat("L", 128)), tmp_path, Rect(50, 60, 100, 100))
    found = middle(plates(pdf(grey), tmp_path))
    assert found == pytest.approx({"Cyan": 0, "Magenta": 0, "Yellow": 0, "Black": 0.5}, abs=0.02)


def test_a_pictures_own_profile_counts_and_a_broken_one_does_not(tmp_path: Path) -> None:
    """Against the conversion of swatches, which goes through the same profiles."""
    plain = flat(colour=(180, 90, 60))
    own = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    for profile in (own, b"not a profile"):
        _, path = file_of(saved(plain, icc_profile=profile), tmp_path)
        made = raster(path, COATED, (600, 400))
        assert made.mode == "CMYK"
        direct = [round(v * 255) for v in Colour("rgb", (180 / 255, 90 / 255, 60 / 255)).cmyk]
        assert list(made.pixels[:4]) == pytest.approx(direct, abs=2)


def test_alpha_is_a_soft_mask_and_sixteen_bits_become_eight(tmp_path: Path) -> None:
    shade = flat("RGBA", (10, 20, 30, 255))
    shade.putalpha(Image.linear_gradient("L").resize(shade.size))
    workspace, _, _ = placed(saved(shade), tmp_path, Rect(50, 60, 100, 100))
    with pikepdf.open(io.BytesIO(pdf(workspace))) as document:
        (image,) = document.pages[0].Resources.XObject.values()
        assert image.SMask.ColorSpace == "/DeviceGray"
        assert image.ColorSpace == "/DeviceCMYK"
    deep = Image.fromarray(numpy.full((40, 60), 0x8080, dtype="uint16"))
    _, path = file_of(saved(deep), tmp_path)
    made = raster(path, COATED, (60, 40))
    assert (made.mode, set(made.pixels)) == ("L", {0x80})


def test_the_same_picture_is_written_once_and_a_turned_one_upright(tmp_path: Path) -> None:
    half = flat(size=(60, 40))
    half.paste((0, 0, 255), (0, 0, 60, 20))  # blue above, red below
    turned = Image.Exif()
    turned[0x0112] = 6  # shown turned a quarter clockwise: blue on the right
    data = saved(half, "JPEG", exif=turned, quality=100, subsampling=0)
    workspace, _, file = placed(data, tmp_path, Rect(50, 60, 40, 60))
    workspace.do(do.PlacePicture(workspace.job.pages[0].id, Rect(150, 60, 40, 60), file.id))
    with pikepdf.open(io.BytesIO(pdf(workspace, "screen"))) as document:
        assert len(document.pages[0].Resources.XObject) == 1
    shown = Image.open(io.BytesIO(on_screen(tmp_path / file.file))).convert("RGB")
    assert shown.size == (40, 60)
    left, right = shown.getpixel((4, 30)), shown.getpixel((35, 30))
    assert left[0] > 150 > left[2]  # type: ignore[index]
    assert right[2] > 150 > right[0]  # type: ignore[index]


@pytest.mark.parametrize("form", ["RGB", "CMYK", "L"])
def test_a_proof_shows_a_picture_as_it_shows_a_swatch_of_its_colour(form: str, tmp_path: Path) -> None:
    """And paler than without it: what is dark does not get so dark on that paper."""
    values = {"RGB": (40, 30, 60), "CMYK": (200, 180, 40, 160), "L": 40}[form]
    file = saved(Image.new(form, (12, 12), values), "TIFF")
    colour = {
        "RGB": Colour("rgb", tuple(v / 255 for v in (40, 30, 60))),
        "CMYK": Colour("cmyk", tuple(v / 255 for v in (200, 180, 40, 160))),
        "L": Colour("cmyk", (0.0, 0.0, 0.0, 215 / 255)),
    }[form]
    path = tmp_path / "file"
    path.write_bytes(file)
    shown = Image.open(io.BytesIO(on_screen(path, proof=UNCOATED))).convert("RGB").getpixel((6, 6))
    assert shown == pytest.approx([255 * v for v in colour.proofed(UNCOATED)], abs=3)
    assert sum(colour.proofed(UNCOATED)) > sum(colour.proofed()) + 0.1


@pytest.mark.parametrize("name", ["print", "uncoated"])
def test_light_becomes_the_inks_of_the_paper_that_the_recipe_names(name: str, tmp_path: Path) -> None:
    """Swatch and picture alike, against LittleCMS asked directly (through Pillow) with the recipe's own profile."""
    light = (204, 51, 102)
    workspace, _, _ = placed(saved(flat(colour=light)), tmp_path, Rect(50, 60, 100, 100))
    page = workspace.job.pages[0].id
    workspace.do(do.PutSwatch(name="Rose", space="rgb", values=tuple(round(v / 255, 6) for v in light)))
    rose = list(workspace.job.swatches)[-1]
    workspace.do(do.AddShape(page, Rect(200, 60, 100, 100), None, FrameSpec(fill=Fill(rose))))
    profile = PROFILES[recipe(name).profile]
    transform = ImageCms.buildTransform(
        ImageCms.createProfile("sRGB"),
        str(profile.path),
        "RGB",
        "CMYK",
        renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
        flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )
    made = ImageCms.applyTransform(Image.new("RGB", (1, 1), light), transform)
    assert made is not None
    wanted = [value / 255 for value in made.getpixel((0, 0))]
    found = plates(pdf(workspace, name), tmp_path)
    edge = (found["Cyan"].shape[1] - 432) // 2
    for x in (100, 250):
        inks = [float(found[ink][edge + 110, edge + x]) for ink in ("Cyan", "Magenta", "Yellow", "Black")]
        assert inks == pytest.approx(wanted, abs=0.02), "picture and swatch"


@pytest.mark.parametrize("form", ["AVIF", "WEBP", "TIFF"])
def test_broken_pictures_are_refused_in_words(form: str) -> None:
    """Bytes changed and cut off at random, from fixed seeds."""
    whole = saved(Image.effect_noise((120, 80), 60).convert("RGB"), form)
    for seed in range(40):
        chance = random.Random(seed)
        data = bytearray(whole)
        if seed % 3 == 0:
            data = data[: chance.randrange(1, len(data))]
        for _ in range(chance.randrange(1, 12)):
            data[chance.randrange(len(data))] = chance.randrange(256)
        with contextlib.suppress(PictureError):
            facts_of(bytes(data))


def test_a_large_picture_with_alpha_is_reduced_in_strips_to_the_same_pixels() -> None:
    noise = numpy.random.default_rng(1).integers(0, 256, (1999, 3001, 4), dtype=numpy.uint8)
    picture = Image.fromarray(noise, "RGBA")
    whole = picture.resize((300, 201), Image.Resampling.LANCZOS, reducing_gap=3.0)
    target = io.BytesIO()
    picture.save(target, "PNG", compress_level=1)
    made = upright(Image.open(target), (300, 201))
    assert numpy.abs(numpy.asarray(made).astype(int) - numpy.asarray(whole)).max() <= 3


def test_a_picture_that_takes_too_much_is_refused_and_the_others_are_taken_in(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The process that decodes pictures has a limit of memory: what goes over it costs nobody else anything."""
    small, large, drawing = tmp_path / "a", tmp_path / "b", tmp_path / "c"
    Image.new("RGB", (30, 20), "red").save(small, "PNG")
    Image.new("RGBA", (6000, 6000), (0, 90, 90, 128)).save(large, "PNG", compress_level=1)
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="9" height="9"/></svg>'
    )
    assert intake.is_small(small)
    assert not intake.is_small(large)
    taken = intake.examine_all([small, large, drawing], [320])
    assert [one.facts.width if isinstance(one, intake.Intake) else one for one in taken][:2] == [30, 6000]
    assert isinstance(taken[2], intake.Intake)
    assert taken[2].facts.format == "PDF"
    with Image.open(taken[2].screens[320]) as shown:
        assert shown.size == (320, 160)
    monkeypatch.setattr(intake, "MEMORY", 400_000_000)
    first, second, third = intake.examine_all([small, large, drawing], [])
    assert isinstance(first, intake.Intake)
    assert second == intake.GAVE_UP
    assert isinstance(third, intake.Intake)
