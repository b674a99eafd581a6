"""Plates of placed pages: each ink of a page by itself, as Ghostscript separates it."""

from __future__ import annotations

import zlib
from pathlib import Path

import numpy
import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name

from lexigon.core.colour.profiles import COATED
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.items import Picture
from lexigon.core.pdf.placed.plates import spots_in, write_plate
from lexigon.core.pdf.placed.spaces import Unreadable
from lexigon.core.press.plates import Plater
from tests.core.test_pictures import plates

SIDE = 200
GREEN = Array(
    [
        Name.Separation,
        Name("/Ebb Green"),
        Name.DeviceCMYK,
        Dictionary(
            FunctionType=2,
            Domain=Array([0, 1]),
            C0=Array([0, 0, 0, 0]),
            C1=Array([0.8, 0.1, 0.6, 0.1]),
            N=1,
        ),
    ]
)


def page_of(content: str, **resources: object) -> pikepdf.Pdf:
    pdf = pikepdf.new()
    page = pdf.add_blank_page(page_size=(SIDE, SIDE))
    page.Resources = Dictionary({f"/{kind}": value for kind, value in resources.items()})
    page.Contents = pdf.make_stream(content.encode())
    return pdf


def image(pdf: pikepdf.Pdf, space: object, data: bytes, size: tuple[int, int], bits: int = 8, **more: object) -> object:
    made = pikepdf.Stream(pdf, zlib.compress(data))
    made.Filter = Name.FlateDecode
    for key, value in {
        "Type": Name.XObject,
        "Subtype": Name.Image,
        "Width": size[0],
        "Height": size[1],
        "ColorSpace": space,
        "BitsPerComponent": bits,
        **more,
    }.items():
        made[f"/{key}"] = value
    return pdf.make_indirect(made)


def ramp(count: int) -> bytes:
    return bytes((7 * at * (n + 3)) % 256 for at in range(64) for n in range(count))


def inks_and_shapes() -> pikepdf.Pdf:
    """Grey, process and spot inks; a form, a tiling and a stencil; overprint of both kinds; strokes."""
    states = Dictionary(
        O0=Dictionary(OP=True, op=True, OPM=0), O1=Dictionary(OP=True, op=True, OPM=1), N=Dictionary(OP=False, op=False)
    )
    pdf = page_of(
        "0.2 0.6 0 0.1 k 0 0 200 100 re f 0.5 g 10 10 30 30 re f /Green cs 0.7 scn 50 10 30 30 re f 8 w 1 0 0 0 K 90 10"
        " 30 30 re S /O1 gs 0 0 0 1 k 130 10 30 30 re f 0 0.9 0 0 k 10 50 30 30 re f /O0 gs 0 0.9 0 0 k 50 50 30 30 re "
        "f /Green cs 1 scn 90 50 30 30 re f /N gs 0 0 0.5 0 k 130 50 30 30 re f q 1 0 0 1 0 100 cm /F Do Q /Pattern cs"
        " /T scn 60 110 40 40 re f 0 1 1 0 k q 30 0 0 30 110 110 cm /S Do Q",
        ColorSpace=Dictionary(Green=GREEN),
        ExtGState=states,
    )
    form = pdf.make_stream(b"0 0.5 1 0 k 5 5 20 20 re f 1 g 10 10 10 10 re f")
    form.Type, form.Subtype, form.BBox, form.Resources = Name.XObject, Name.Form, Array([0, 0, 50, 50]), Dictionary()
    tiling = pdf.make_stream(b"1 0 0 0 k 0 0 5 5 re f /G cs 1 scn 5 5 5 5 re f")
    for key, value in {
        "Type": Name.Pattern,
        "PatternType": 1,
        "PaintType": 1,
        "TilingType": 1,
        "BBox": Array([0, 0, 10, 10]),
        "XStep": 10,
        "YStep": 10,
        "Resources": Dictionary(ColorSpace=Dictionary(G=GREEN)),
    }.items():
        tiling[f"/{key}"] = value
    stencil = pikepdf.Stream(pdf, bytes([0b10101010, 0b01010101] * 4))
    for key, value in {
        "Type": Name.XObject,
        "Subtype": Name.Image,
        "Width": 8,
        "Height": 8,
        "ImageMask": True,
        "BitsPerComponent": 1,
    }.items():
        stencil[f"/{key}"] = value
    resources = pdf.pages[0].Resources
    resources.XObject, resources.Pattern = Dictionary(F=form, S=pdf.make_indirect(stencil)), Dictionary(T=tiling)
    return pdf


def images_and_shadings() -> pikepdf.Pdf:
    """Images in grey, process inks, a spot ink, several inks and of a table; shadings along a line and a circle."""
    line = Dictionary(
        ShadingType=2,
        ColorSpace=Name.DeviceCMYK,
        Coords=Array([0, 0, 1, 0]),
        Extend=Array([True, True]),
        Function=Dictionary(
            FunctionType=3,
            Domain=Array([0, 1]),
            Bounds=Array([0.4]),
            Encode=Array([0, 1, 0, 1]),
            Functions=Array(
                [
                    Dictionary(
                        FunctionType=2, Domain=Array([0, 1]), C0=Array([1, 0, 0, 0]), C1=Array([0, 0.8, 0, 0]), N=1
                    ),
                    Dictionary(
                        FunctionType=2, Domain=Array([0, 1]), C0=Array([0, 0.8, 0, 0]), C1=Array([0, 0, 1, 0.5]), N=2
                    ),
                ]
            ),
        ),
    )
    circle = Dictionary(
        ShadingType=3,
        ColorSpace=GREEN,
        Coords=Array([0.5, 0.5, 0, 0.5, 0.5, 0.5]),
        Function=Dictionary(FunctionType=2, Domain=Array([0, 1]), C0=Array([1]), C1=Array([0.1]), N=1),
    )
    boxes = [(10 + 48 * (at % 4), 10 + 48 * (at // 4)) for at in range(5)]
    content = " ".join(f"q 40 0 0 40 {x} {y} cm /I{at} Do Q" for at, (x, y) in enumerate(boxes))
    content += " q 60 0 0 60 10 120 cm 0 0 1 1 re W n /L sh Q q 60 0 0 60 100 120 cm 0 0 1 1 re W n /C sh Q"
    pdf = page_of(content, Shading=Dictionary(L=line, C=circle))
    several = Array(
        [
            Name.DeviceN,
            Array([Name.Magenta, Name("/Ebb Green")]),
            Name.DeviceCMYK,
            pdf.make_indirect(
                pikepdf.Stream(
                    pdf, b"{0.5 mul dup 0 exch 0}", FunctionType=4, Domain=Array([0, 1, 0, 1]), Range=Array([0, 1] * 4)
                )
            ),
        ]
    )
    table = Array(
        [
            Name.Indexed,
            Name.DeviceCMYK,
            3,
            pikepdf.String(bytes([0, 0, 0, 0, 255, 0, 0, 0, 0, 128, 0, 0, 0, 0, 64, 200])),
        ]
    )
    pdf.pages[0].Resources.XObject = Dictionary(
        I0=image(pdf, Name.DeviceGray, ramp(1), (8, 8)),
        I1=image(pdf, Name.DeviceCMYK, ramp(4), (8, 8)),
        I2=image(pdf, GREEN, ramp(1), (8, 8), Decode=Array([1, 0])),
        I3=image(pdf, several, ramp(2), (8, 8)),
        I4=image(pdf, table, bytes(at % 4 for at in range(64)), (8, 8)),
    )
    return pdf


def mixed() -> pikepdf.Pdf:
    """Half seen, multiplied, a group, over bare paper and over inks."""
    states = Dictionary(H=Dictionary(ca=0.5), M=Dictionary(BM=Name.Multiply), N=Dictionary(ca=1, BM=Name.Normal))
    pdf = page_of(
        "0.2 0.6 0 0.1 k 0 0 200 60 re f /H gs 1 0 0 0 k 20 20 60 80 re f /Green cs 1 scn 100 20 40 80 re f "
        "/N gs /M gs 0 0.4 0.9 0 k 60 10 60 120 re f /N gs /H gs /F Do",
        ColorSpace=Dictionary(Green=GREEN),
        ExtGState=states,
    )
    form = pdf.make_stream(b"0 1 0 0 k 150 20 30 30 re f 0 0 1 0 k 160 30 30 60 re f")
    form.Type, form.Subtype, form.BBox, form.Resources = Name.XObject, Name.Form, Array([0, 0, 200, 200]), Dictionary()
    form.Group = Dictionary(S=Name.Transparency, CS=Name.DeviceCMYK, I=True)
    pdf.pages[0].Resources.XObject = Dictionary(F=form)
    pdf.pages[0].Group = Dictionary(S=Name.Transparency, CS=Name.DeviceCMYK, I=True)
    return pdf


def unusual_images() -> pikepdf.Pdf:
    """Images within the contents, of other depths, with stretched values, cut out by their colours."""
    content = " ".join(f"q 40 0 0 40 {10 + 48 * (at % 4)} {10 + 48 * (at // 4)} cm /I{at} Do Q" for at in range(5))
    hexed = "".join(f"{16 * at:02x}{255 - 16 * at:02x}0000" for at in range(4))
    content += f" q 40 0 0 40 10 120 cm BI /W 2 /H 2 /CS /CMYK /BPC 8 /F /AHx ID {hexed}> EI Q"
    content += " /Green cs 0.8 scn q 40 0 0 40 60 120 cm BI /W 8 /H 1 /IM true /F /AHx ID aa> EI Q"
    content += " q 40 0 0 40 110 120 cm BI /W 2 /H 1 /CS [/I /CMYK 1 <00ff000000000080>] /BPC 1 /F /AHx ID 40> EI Q"
    pdf = page_of(content, ColorSpace=Dictionary(Green=GREEN))
    pdf.pages[0].Resources.XObject = Dictionary(
        I0=image(pdf, Name.DeviceGray, bytes(range(0, 256, 8)), (8, 8), bits=4),
        I1=image(pdf, Name.DeviceCMYK, bytes(128) + bytes(range(128)) * 3, (8, 8), bits=16),
        I2=image(pdf, GREEN, ramp(1), (8, 8), Decode=Array([0.2, 0.7])),
        I3=image(pdf, Name.DeviceCMYK, ramp(4), (8, 8), Decode=Array([1, 0, 0.5, 1, 0, 1, 0, 0.3])),
        I4=image(pdf, Name.DeviceGray, bytes(range(0, 256, 4)), (8, 8), Mask=Array([40, 130])),
    )
    return pdf


def meshes_and_letters() -> pikepdf.Pdf:
    """Meshes of triangles, of a lattice and of patches, with and without a function; letters in colours of their
    own."""

    def mesh(pdf: pikepdf.Pdf, kind: int, data: bytes, space: object, count: int, **more: object) -> object:
        made = pdf.make_stream(data)
        for key, value in {
            "ShadingType": kind,
            "ColorSpace": space,
            "BitsPerCoordinate": 8,
            "BitsPerComponent": 8,
            "Decode": Array([0, 255, 0, 255, *[0, 1] * count]),
            **more,
        }.items():
            made[f"/{key}"] = value
        return made

    pdf = page_of(
        "/A sh /B sh /C sh /D sh BT /L 40 Tf 10 150 Td (ab) Tj ET /Green cs 0.5 scn 150 150 40 40 re f",
        ColorSpace=Dictionary(Green=GREEN),
    )
    rows = [(0, 10, 10, 255, 0, 0, 0), (0, 60, 10, 0, 200, 0, 0), (0, 10, 60, 0, 0, 100, 50), (1, 60, 60, 0, 0, 0, 255)]
    lattice = [(80, 10, 0), (130, 10, 255), (80, 60, 128), (130, 60, 10)]
    edge = [
        (10, 80),
        (10, 100),
        (10, 110),
        (10, 130),
        (30, 130),
        (40, 130),
        (60, 130),
        (60, 110),
        (60, 100),
        (60, 80),
        (40, 80),
        (30, 80),
    ]
    inks = [(255, 0, 0, 0), (0, 255, 0, 0), (0, 0, 255, 0), (0, 0, 0, 255)]
    patch = bytes([0, *(v for point in edge for v in point), *(v for ink in inks for v in ink)])
    inner = [(95, 97), (95, 113), (115, 113), (115, 97)]
    whole = [(x + 70, y) for x, y in edge] + inner
    tensor = bytes([0, *(v for point in whole for v in point), 0, 128, 255, 60])
    way = Dictionary(FunctionType=2, Domain=Array([0, 1]), C0=Array([0.1]), C1=Array([0.9]), N=2)
    pdf.pages[0].Resources.Shading = Dictionary(
        A=mesh(pdf, 4, bytes(v for row in rows for v in row), Name.DeviceCMYK, 4, BitsPerFlag=8),
        B=mesh(pdf, 5, bytes(v for row in lattice for v in row), GREEN, 1, VerticesPerRow=2),
        C=mesh(pdf, 6, patch, Name.DeviceCMYK, 4, BitsPerFlag=8),
        D=mesh(pdf, 7, tensor, GREEN, 1, BitsPerFlag=8, Function=way),
    )
    letters = Dictionary(
        a=pdf.make_stream(b"1 0 d0 0.1 0.8 0 0 k 0 0 0.8 0.8 re f /G cs 0.6 scn 0.2 0.2 0.4 0.4 re f"),
        b=pdf.make_stream(b"1 0 0 0 1 1 d1 0.2 0 0.6 0.8 re f"),
    )
    pdf.pages[0].Resources.Font = Dictionary(
        L=Dictionary(
            Type=Name.Font,
            Subtype=Name.Type3,
            FontBBox=Array([0, 0, 1, 1]),
            FontMatrix=Array([1, 0, 0, 1, 0, 0]),
            CharProcs=letters,
            Encoding=Dictionary(Differences=Array([97, Name.a, Name.b])),
            FirstChar=97,
            LastChar=98,
            Widths=Array([1, 1]),
            Resources=Dictionary(ColorSpace=Dictionary(G=GREEN)),
        )
    )
    return pdf


@pytest.mark.parametrize("made", [inks_and_shapes, images_and_shadings, mixed, unusual_images, meshes_and_letters])
def test_plates_of_a_page_are_those_that_ghostscript_separates(made: object, tmp_path: Path) -> None:
    file = tmp_path / "page"
    made().save(file)  # type: ignore[operator]
    wanted = plates(file.read_bytes(), tmp_path)
    (tmp_path / "plates").mkdir()
    plater = Plater(300, COATED, {"page": file}.get, tmp_path / "plates")
    picture = Picture("page", Affine(SIDE, 0.0, 0.0, SIDE, 0.0, 0.0), "cmyk", vector=True)
    found = plater.plates((picture,), Rect(0, 0, SIDE, SIDE), 1.0)
    assert list(plater.spots((picture,))) == ["Ebb Green"]
    for ink in ("Cyan", "Magenta", "Yellow", "Black", "Ebb Green"):
        ours = numpy.asarray(found[ink], dtype=float) / 255
        far = numpy.abs(ours - wanted[ink])
        assert wanted[ink].max() > 0.05, ink
        assert numpy.quantile(far, 0.95) < 0.02, f"{ink}: {far.mean():.3f}, only edges may differ"


def test_what_is_not_understood_is_said(tmp_path: Path) -> None:
    mesh = Dictionary(ShadingType=1, ColorSpace=Name.DeviceCMYK)
    for content, resources in (
        ("/S sh", {"Shading": Dictionary(S=mesh)}),
        ("BI /W 1 /H 1 /CS /G /BPC 3 ID x EI", {}),
        ("BI /W 1 /H 1 /CS /G /BPC 8 /F /CCF ID x EI", {}),
        ("/None cs 1 scn", {}),
    ):
        file = tmp_path / "page.pdf"
        page_of(content, **resources).save(file)
        with pytest.raises(Unreadable):
            write_plate(file, 1, "Cyan", COATED, tmp_path / "plate.pdf")
    (tmp_path / "page.pdf").write_bytes(b"%PDF-1.7 broken")
    with pytest.raises(Unreadable):
        spots_in(tmp_path / "page.pdf", 1)
