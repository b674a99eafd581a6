"""SVG files as pictures, and drawn pictures opened as shapes: against resvg, pdfium and what the files were made of."""

from __future__ import annotations

import gzip
import io
from pathlib import Path

import numpy as np
import pikepdf
import pytest
import resvg_py
from PIL import Image

from lexigon.core.intake.drawings import alike, normalised, page_of
from lexigon.core.paint.svgwords import FONTS, outlined
from lexigon.core.path.steps import bounds
from lexigon.core.picture.files import PictureError, facts_of
from lexigon.core.picture.pdfpage import rendered
from lexigon.core.picture.pdfshapes import read_page
from lexigon.core.picture.svgfile import Blend, SvgError, read_svg, safe
from lexigon.core.picture.svgpixels import render

HEAD = "xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink'"
TIDE = """<defs><linearGradient id='a' gradientUnits='userSpaceOnUse' x1='10' y1='80' x2='90' y2='20' gradientTransform='rotate(5)'>
<stop offset='0' stop-color='#123a52'/><stop offset='1' stop-color='#f2b134'/></linearGradient>
<radialGradient id='r' cx='.5' cy='.5' r='.5'><stop offset='.2' stop-color='red'/><stop offset='1' stop-color='#00f'/></radialGradient></defs>
<rect x='10' y='10' width='80' height='80' fill='url(#a)'/><g transform='translate(120 20) rotate(20) scale(1.5)'>
<circle r='20' cx='30' cy='20' fill='url(#r)'/><path d='M0 0h30v30z' fill='none' stroke='#444' stroke-width='3' stroke-dasharray='6 2'/></g>
<path d='M10 130 C 60 90 90 190 140 130 z M40 130h20v10h-20z' fill-rule='evenodd' fill='#1e5b4f' opacity='.6'/>"""  # noqa: E501
WORDS = """<text x='100' y='60' font-family='EB Garamond, serif' font-size='28' text-anchor='middle'>Low water</text>
<g font-family='Nowhere,sans-serif' font-weight='bold' fill='#a33'><text x='20' y='100' style='font-size:16px;font-style:italic'>fi AV To</text></g>
<text x='190' y='130' text-anchor='end' font-size='12'><tspan x='190'>first</tspan><tspan x='190' dy='14' fill='blue'>second line</tspan></text>"""  # noqa: E501


def svg(inner: str, size: str = "width='220' height='200' viewBox='0 0 220 200'") -> str:
    return f"<svg {HEAD} {size}>{inner}</svg>"


def by_resvg(text: str, width: int) -> Image.Image:
    made = resvg_py.svg_to_bytes(
        svg_string=text,
        width=width,
        skip_system_fonts=True,
        font_dirs=[FONTS.folder],
        serif_family="Source Serif 4",
        sans_serif_family="Source Sans 3",
        font_family="Source Sans 3",
    )
    return Image.open(io.BytesIO(bytes(made))).convert("RGBA")


@pytest.mark.parametrize("inner", [TIDE, WORDS, TIDE + WORDS], ids=["shapes", "words", "both"])
def test_a_drawing_becomes_a_page_that_looks_as_resvg_draws_it(inner: str) -> None:
    page = normalised(svg(inner).encode())
    assert page.startswith(b"%PDF-")
    assert normalised(svg(inner).encode()) == page, "the same drawing gives the same file"
    facts = facts_of(page)
    assert (facts.width / facts.ppi * 96, facts.height / facts.ppi * 96) == pytest.approx((220, 200), abs=0.1)
    shown, seen = rendered(page, 1, (880, 800)), by_resvg(svg(inner), 880)
    on_paper = [
        Image.alpha_composite(Image.new("RGBA", one.size, "white"), one).convert("RGB").resize((220, 200))
        for one in (shown, seen)
    ]
    assert np.abs(np.asarray(on_paper[0]).astype(int) - np.asarray(on_paper[1])).mean() < 0.6
    assert gzip.decompress(gzip.compress(svg(inner).encode())).startswith(b"<svg")
    assert normalised(gzip.compress(svg(inner).encode())) == page


@pytest.mark.parametrize(
    "inner",
    [
        (
            "<defs><mask id='m'><rect width='60' height='200' fill='#fff'/></mask></defs><rect width='200' height='200'"
            " mask='url(#m)'/>"
        ),
        (
            "<defs><filter id='f'><feGaussianBlur stdDeviation='6'/></filter></defs><rect x='40' y='40' width='90' "
            "height='90' filter='url(#f)'/>"
        ),
        (
            "<defs><pattern id='p' width='10' height='10' patternUnits='userSpaceOnUse'><circle r='4' cx='5' "
            "cy='5'/></pattern></defs><rect width='200' height='200' fill='url(#p)'/>"
        ),
        (
            "<defs><clipPath id='c'><circle r='50' cx='100' cy='100'/></clipPath></defs><rect width='200' height='200' "
            "fill='red' clip-path='url(#c)'/>"
        ),
        "<g opacity='.5'><rect width='120' height='120'/><rect x='60' y='60' width='120' height='120' fill='red'/></g>",
        "<text x='10' y='60' rotate='10 20'>turned letters</text>",
    ],
    ids=["mask", "filter", "pattern", "clip", "group", "turned letters"],
)
def test_what_no_outlines_say_is_kept_as_pixels_as_it_looks(inner: str) -> None:
    made = normalised(svg(inner).encode())
    assert made.startswith(b"\x89PNG")
    picture = Image.open(io.BytesIO(made))
    assert picture.size == (1375, 1250), "600 ppi of 220 by 200 pixels of CSS"
    assert picture.info["dpi"][0] == pytest.approx(600, abs=0.1)
    seen = by_resvg(svg(inner), 1375)
    assert np.abs(np.asarray(picture.convert("RGBA")).astype(int) - np.asarray(seen)).mean() < 0.5


def test_two_drawings_that_differ_somewhere_are_not_alike() -> None:
    one = by_resvg(svg(TIDE), 480)
    assert alike(one, one)
    for other in (
        TIDE.replace("r='20'", "r='23'"),
        TIDE.replace("#444", "#844"),
        TIDE + "<rect x='200' y='180' width='8' height='8'/>",
    ):
        assert not alike(one, by_resvg(svg(other), 480))


@pytest.mark.parametrize(
    ("size", "found"),
    [
        ("width='40mm' height='20mm'", (151.18, 75.59)),
        ("viewBox='5 5 300 100'", (300, 100)),
        ("width='96pt' viewBox='0 0 200 100'", (128, 64)),
        ("height='50' viewBox='0 0 200 100'", (100, 50)),
        ("width='100%' height='100%' viewBox='0 0 30 60'", (30, 60)),
        ("", (300, 150)),
    ],
)
def test_how_large_a_drawing_is(size: str, found: tuple[float, float]) -> None:
    """SVG 2, 8.2; CSS 2.1, 10.3.2."""
    assert safe(svg("<path d='M0 0h9v9z'/>", size))[1] == pytest.approx(found, abs=0.01)


def test_nothing_outside_reaches_the_drawer(tmp_path: Path) -> None:
    secret = tmp_path / "secret.png"
    Image.new("RGB", (50, 50), "red").save(secret)
    inner = (
        f"<image href='{secret}' width='200' height='200'/><image href='file://{secret}' width='200' "
        f"height='200'/><style>rect{{fill:url({secret})}}</style><script>1</script><use href='{secret}#a'/><rect "
        f"x='150' y='150' width='9' height='9' style='fill:url({secret}#x)'/><foreignObject width='9' "
        "height='9'/><path d='M0 0h50v50z' onclick='x()'/>"
    )
    made, size = safe(svg(inner))
    assert b"secret" not in made
    assert b"script" not in made
    assert b"onclick" not in made
    shown = np.asarray(render(made, 200, size, FONTS))
    assert not ((shown[..., 0] > 200) & (shown[..., 1] < 60)).any()


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"<svg", "This is not an SVG file"),
        (
            b"<?xml version='1.0'?><!DOCTYPE svg [<!ENTITY a 'b'>]><svg xmlns='http://www.w3.org/2000/svg'>&a;</svg>",
            "entities",
        ),
        (svg("<g id='a'><use href='#a'/></g>").encode(), "This drawing refers to itself endlessly"),
        (svg("", "width='1e9' height='5' viewBox='0 0 1 1'").encode(), ""),
        (gzip.compress(svg(TIDE).encode(), mtime=0)[:60], "damaged"),
        (gzip.compress(b" " * 70_000_000, mtime=0), "unpacks"),
        (svg(TIDE, "width='900000' height='900000'").encode(), "The size of this drawing cannot be shown"),
    ],
)
def test_a_broken_or_hostile_drawing_is_refused_in_words(data: bytes, said: str) -> None:
    if said:
        with pytest.raises(PictureError, match=said):
            normalised(data + b" " if data == b"<svg" else data)
    else:
        normalised(data)


def test_words_become_outlines_only_where_they_are_set_as_they_should_be() -> None:
    found = read_svg(svg(WORDS), outlined)
    assert found.left_out == ()
    assert len(found.shapes) == 4
    box = bounds(found.shapes[0].steps)
    assert box
    assert box.x + box.width / 2 == pytest.approx(75, abs=1.0), "in the middle of 100 pixels"
    assert found.shapes[3].fill == (0.0, 0.0, 1.0)
    others = (
        "<text x='1 2 3' y='9'>abc</text><text y='9'>ab<tspan>c</tspan></text><text x='0' y='9' "
        "letter-spacing='3'>a</text><text x='0' y='9'>\u0633</text>"
    )
    assert read_svg(svg(others + "<path d='M0 0h9v9z'/>"), outlined).left_out == ("4 texts",)


def test_where_a_gradient_goes_is_read() -> None:
    box, disc = (one for one in read_svg(svg(TIDE)).shapes if isinstance(one.fill, Blend))
    assert box.way is not None
    (ax, ay), (bx, by) = box.way
    c, s = np.cos(np.radians(5)), np.sin(np.radians(5))
    assert (ax, ay) == pytest.approx((0.75 * (10 * c - 80 * s), 0.75 * (10 * s + 80 * c)))
    assert (bx, by) == pytest.approx((0.75 * (90 * c - 20 * s), 0.75 * (90 * s + 20 * c)))
    assert disc.way is not None
    assert np.hypot(disc.way[1][0] - disc.way[0][0], disc.way[1][1] - disc.way[0][1]) == pytest.approx(0.75 * 30)


def pdf(content: str, **resources: object) -> bytes:
    made = pikepdf.new()
    page = made.add_blank_page(page_size=(200, 100))
    page.Contents = made.make_stream(content.encode())
    for name, value in resources.items():
        page.Resources[f"/{name}"] = made.make_indirect(value) if not isinstance(value, pikepdf.Dictionary) else value
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def test_a_page_of_a_pdf_is_read_as_shapes_in_its_inks(tmp_path: Path) -> None:
    path = tmp_path / "a.pdf"
    path.write_bytes(
        pdf(
            "q 0.9 0.4 0.1 0.2 k 2 0 0 2 20 10 cm 0 0 10 20 re f Q 1 0 0 RG 3 w 1 J [6 2] 0 d 100 50 m 120 90 150 90 "
            "180 50 c S 0 0 0 1 k 150 10 20 20 re 155 15 10 10 re f* 0.5 g 5 5 10 5 re f"
        )
    )
    found, size = read_page(path)
    assert size == (200, 100)
    box, curve, ring, grey = found.shapes
    assert box.fill == pytest.approx((0.9, 0.4, 0.1, 0.2))
    there = bounds(box.steps)
    assert there
    assert (there.x, there.y, there.width, there.height) == pytest.approx((20, 50, 20, 40))
    assert (curve.fill, curve.weight, curve.cap, curve.dash) == (None, 3.0, "round", (6.0, 2.0))
    assert curve.stroke == (1.0, 0.0, 0.0)
    assert ring.even_odd
    assert ring.fill == (0.0, 0.0, 0.0, 1.0)
    assert grey.fill == pytest.approx((0.5, 0.5, 0.5), abs=0.01)


def test_words_and_forms_of_a_page_are_read_where_pdfium_draws_them(tmp_path: Path) -> None:
    """Written by the press's own painter from outlines, and by a page with a font: drawn again from the shapes, both
    look as before."""
    from lexigon.core.press.document import write_pdf
    from lexigon.core.press.recipes import recipe
    from tests.core.helpers import poured
    from tests.core.test_inks import WHEN

    workspace = poured(3)
    path = tmp_path / "b.pdf"
    with path.open("wb") as out:
        write_pdf(workspace.composition, recipe("trim"), out, WHEN, [0])
    found, size = read_page(path)
    assert found.left_out == ()
    seen = []
    for page in (page_of(found, size), path):
        shown = rendered(page, 1, (1800, 1800))
        paper = Image.new("RGBA", shown.size, "white")
        paper.alpha_composite(shown)
        seen.append(np.asarray(paper.convert("L").resize((300, 450), Image.Resampling.BOX)).astype(int))
    assert np.abs(seen[0] - seen[1]).mean() < 1.0
    assert (np.abs(seen[0] - seen[1]) > 60).mean() < 0.001, "but for letters of ligatures, which are set by themselves"
    assert seen[1].min() < 170


@pytest.mark.parametrize(
    ("content", "said"),
    [
        ("", "This page contains nothing that could be"),
        ("0 0 1 1 re n", "This page contains nothing that could be"),
        ("0 0 9 9 re f " * 1600, "This page is too complex to be converted to"),
    ],
)
def test_a_page_without_shapes_or_with_too_many_says_so(content: str, said: str, tmp_path: Path) -> None:
    path = tmp_path / "c.pdf"
    path.write_bytes(pdf(content))
    with pytest.raises(PictureError, match=said):
        read_page(path)
    path.write_bytes(b"%PDF-1.4 nonsense")
    with pytest.raises(PictureError, match="damaged"):
        read_page(path)


def test_a_drawing_that_takes_too_long_is_given_up() -> None:
    with pytest.raises(SvgError, match="because it is damaged or too complex"):
        render(b"<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'><g", 100, (9, 9), FONTS)
