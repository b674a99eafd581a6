"""Placed pages with colours in light, in files that may have inks alone: they stay drawings.

Plates are those of Ghostscript; the inks of a colour are those that a swatch of the same light becomes.
"""

from __future__ import annotations

import io
import subprocess
from pathlib import Path

import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name
from PIL import Image

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.profiles import COATED
from lexigon.core.geometry import Rect
from lexigon.core.pdf.placed.inked_pages import inked_page
from lexigon.core.picture.placedinks import is_opaque_ink
from lexigon.core.press.facts import pdf_facts
from tests.core.test_pictures import plates
from tests.core.test_placed_pdf import placing, pressed
from tests.core.test_placed_plates import GREEN, image, page_of

ROSE, SEA = (0.8, 0.2, 0.4), (0.1, 0.4, 0.6)
SPOTS = ("Cyan", "Magenta", "Yellow", "Black")


def numbers(values: tuple[float, ...]) -> str:
    return " ".join(f"{value:g}" for value in values)


def in_light() -> tuple[pikepdf.Pdf, dict[tuple[int, int], tuple[float, ...]]]:
    """A page of 200 pt with fields of 30 in light of every kind, and the inks of each by its middle, from the foot."""
    rose, sea = (Colour("rgb", light).inks(COATED) for light in (ROSE, SEA))
    lab = Colour("lab", (50.0, 40.0, -20.0)).inks(COATED)
    places = [(10 + 36 * (at % 5), 10 + 36 * (at // 5)) for at in range(14)]
    boxes = [f"{x} {y} 30 30 re f" for x, y in places]
    content = [
        f"{numbers(ROSE)} rg {boxes[0]}",
        f"/DeviceRGB cs {numbers(SEA)} sc {boxes[1]}",
        f"/Icc cs {numbers(ROSE)} scn {boxes[2]}",
        f"/Lab cs 50 40 -20 scn {boxes[3]}",
        (
            f"q 20 w {numbers(SEA)} RG {places[4][0]} {places[4][1] + 15} m {places[4][0] + 30} {places[4][1] + 15} l S"
            f" Q {boxes[4].replace('re f', 're n')}"
        ),
        f"0 0 0 rg {boxes[5]}",
        f"/Table cs 1 sc {boxes[6]}",
        f"/Pattern cs /Tiles scn {boxes[7]}",
        f"/Tinted cs {numbers(SEA)} /Stamp scn {boxes[8]}",
        f"q 30 0 0 30 {places[9][0]} {places[9][1]} cm /Photo Do Q",
        f"q 30 0 0 30 {places[10][0]} {places[10][1]} cm BI /W 1 /H 1 /CS /RGB /BPC 8 /F /AHx ID cc3366> EI Q",
        f"q 30 0 0 30 {places[11][0]} {places[11][1]} cm /Even sh Q",
        f"q 1 0 0 1 {places[12][0]} {places[12][1]} cm /Form Do Q",
        f"/Green cs 0.5 scn {boxes[13]}",
        "BT /F 12 Tf 10 180 Td (Soup in the hide) Tj ET",
    ]
    pdf = page_of(" ".join(content))
    profile = pdf.make_stream(_srgb(), {"/N": 3, "/Alternate": Name.DeviceRGB})
    icc = Array([Name.ICCBased, pdf.make_indirect(profile)])
    green = Array(
        [
            Name.Separation,
            Name("/Ebb Green"),
            Name.DeviceRGB,
            Dictionary(FunctionType=2, Domain=Array([0, 1]), C0=Array([1, 1, 1]), C1=Array([0.2, 0.6, 0.4]), N=1),
        ]
    )
    tiles = pdf.make_stream(f"{numbers(ROSE)} rg 0 0 10 10 re f".encode())
    stamp = pdf.make_stream(b"0 0 10 10 re f")
    for paint, one in ((1, tiles), (2, stamp)):
        for key, value in {
            "Type": Name.Pattern,
            "PatternType": 1,
            "PaintType": paint,
            "TilingType": 1,
            "BBox": Array([0, 0, 10, 10]),
            "XStep": 10,
            "YStep": 10,
            "Resources": Dictionary(),
        }.items():
            one[f"/{key}"] = value
    form = pdf.make_stream(f"{numbers(SEA)} rg 0 0 30 30 re f".encode())
    form.Type, form.Subtype, form.BBox, form.Resources = Name.XObject, Name.Form, Array([0, 0, 30, 30]), Dictionary()
    form.Group = Dictionary(S=Name.Transparency, CS=Name.DeviceRGB)
    even = Dictionary(
        ShadingType=2,
        ColorSpace=Name.DeviceRGB,
        Coords=Array([0, 0, 1, 0]),
        BBox=Array([0, 0, 1, 1]),
        Function=Dictionary(FunctionType=2, Domain=Array([0, 1]), C0=Array(ROSE), C1=Array(ROSE), N=1),
    )
    pdf.pages[0].Resources = Dictionary(
        ColorSpace=Dictionary(
            Icc=icc,
            Lab=Array([Name.Lab, Dictionary(WhitePoint=Array([0.9642, 1, 0.8249]))]),
            DefaultRGB=icc,
            Table=Array([Name.Indexed, Name.DeviceRGB, 1, pikepdf.String(bytes([0, 0, 0, 26, 102, 153]))]),
            Tinted=Array([Name.Pattern, Name.DeviceRGB]),
            Green=green,
        ),
        Pattern=Dictionary(Tiles=tiles, Stamp=stamp),
        Shading=Dictionary(Even=even),
        XObject=Dictionary(Photo=image(pdf, icc, bytes([204, 51, 102] * 4), (2, 2)), Form=form),
        Font=Dictionary(
            F=Dictionary(
                Type=Name.Font,
                Subtype=Name.Type3,
                FontBBox=Array([0, 0, 1, 1]),
                FontMatrix=Array([1, 0, 0, 1, 0, 0]),
                CharProcs=Dictionary(s=pdf.make_stream(b"1 0 0 0 1 1 d1 0 0 0.5 0.5 re f")),
                Encoding=Dictionary(Differences=Array([32, *[Name.s] * 91])),
                FirstChar=32,
                LastChar=122,
                Widths=Array([1] * 91),
                Resources=Dictionary(),
                ToUnicode=pdf.make_stream(_as_they_are()),
            )
        ),
    )
    pdf.pages[0].Group = Dictionary(S=Name.Transparency, CS=Name.DeviceRGB)
    inks = [rose, sea, rose, lab, sea, (0.0, 0.0, 0.0, 1.0), sea, rose, sea, rose, rose, rose, sea, None]
    return pdf, {(x + 15, y + 15): one for (x, y), one in zip(places, inks, strict=True) if one is not None}


def _srgb() -> bytes:
    from PIL import ImageCms

    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


def _as_they_are() -> bytes:
    return b"1 begincodespacerange <00> <ff> endcodespacerange 1 beginbfrange <20> <7a> <0020> endbfrange"


def test_a_page_in_light_is_drawn_in_inks(tmp_path: Path) -> None:
    pdf, wanted = in_light()
    file = tmp_path / "light.pdf"
    pdf.save(file)
    assert not is_opaque_ink(file, 1)
    found = inked_page(file, 1, COATED)
    assert found is not None
    with pikepdf.open(found[0]) as inked:
        contents = inked.pages[0].Contents.read_bytes()
        assert b"rg" not in contents
        assert b"Tj" in contents, "words stay words"
    separated = plates(found[0].read_bytes(), tmp_path)
    off = []
    for (x, y), inks in wanted.items():
        seen = [float(separated[ink][200 - y, x]) for ink in SPOTS]
        if max(abs(a - b) for a, b in zip(seen, inks, strict=True)) > 0.02:
            off.append(f"{x}, {y}: {seen} for {inks}")
    assert not off, "\n".join(off)
    assert float(separated["Ebb Green"][200 - 97, 133]) == pytest.approx(0.5, abs=0.02)
    assert inked_page(file, 1, COATED) == found, "rewritten once"


def test_in_a_file_for_older_printers_it_has_no_pixels(tmp_path: Path) -> None:
    source = io.BytesIO()
    in_light()[0].save(source)
    workspace, _ = placing(source.getvalue(), tmp_path, Rect(40, 40, 300, 300))
    data = pressed(workspace, "older")
    target = tmp_path / "older.pdf"
    target.write_bytes(data)
    assert not pdf_facts(target)["findings"]
    images = subprocess.run(["pdfimages", "-list", target], capture_output=True, check=True, text=True).stdout
    assert len(images.splitlines()) == 2 + 2, f"its own two alone:\n{images}"
    assert "rgb" not in images


@pytest.mark.parametrize("reason", ["half seen", "overprints", "not understood", "cut out by a colour"])
def test_what_cannot_be_drawn_in_inks_alone_is_not(reason: str, tmp_path: Path) -> None:
    pdf, _ = in_light()
    resources = pdf.pages[0].Resources
    if reason == "half seen":
        resources.ExtGState = Dictionary(G=Dictionary(ca=0.5))
    elif reason == "overprints":
        resources.ExtGState = Dictionary(G=Dictionary(op=True))
    elif reason == "not understood":
        resources.Shading.Odd = Dictionary(ShadingType=1, ColorSpace=Name.DeviceRGB, Function=Dictionary())
    else:
        resources.XObject.Photo.Mask = Array([0, 0, 0, 0, 0, 0])
    file = tmp_path / "light.pdf"
    pdf.save(file)
    assert inked_page(file, 1, COATED) is None


def test_a_photograph_in_light_stays_a_photograph(tmp_path: Path) -> None:
    target = io.BytesIO()
    Image.new("RGB", (40, 40), (204, 51, 102)).save(target, "JPEG", quality=95)
    pdf = page_of("q 200 0 0 200 0 0 cm /I Do Q")
    made = pikepdf.Stream(pdf, target.getvalue())
    for key, value in {
        "Type": Name.XObject,
        "Subtype": Name.Image,
        "Width": 40,
        "Height": 40,
        "ColorSpace": Name.DeviceRGB,
        "BitsPerComponent": 8,
        "Filter": Name.DCTDecode,
    }.items():
        made[f"/{key}"] = value
    pdf.pages[0].Resources.XObject = Dictionary(I=pdf.make_indirect(made))
    file = tmp_path / "photo.pdf"
    pdf.save(file)
    found = inked_page(file, 1, COATED)
    assert found is not None
    with pikepdf.open(found[0]) as inked:
        assert inked.pages[0].Resources.XObject.I.Filter == Name.DCTDecode
    separated = plates(found[0].read_bytes(), tmp_path)
    rose = Colour("rgb", ROSE).inks(COATED)
    seen = [float(separated[ink][100, 100]) for ink in SPOTS]
    assert max(abs(a - b) for a, b in zip(seen, rose, strict=True)) < 0.03


def test_a_page_in_inks_is_taken_as_it_is(tmp_path: Path) -> None:
    pdf = page_of("0 1 0 0 k 0 0 100 100 re f", ColorSpace=Dictionary(Green=GREEN))
    file = tmp_path / "inks.pdf"
    pdf.save(file)
    assert inked_page(file, 1, COATED) == (file, 1)
