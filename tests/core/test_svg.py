"""SVG as outlines: against the renderer of another library, pixel by pixel; and what hostile ones can do, which is
nothing."""

from __future__ import annotations

import contextlib
import io
import random

import numpy
import pytest
import resvg_py
from PIL import Image

from lexigon.core.document.model import Fill, FrameSpec, Stroke, bounds_of
from lexigon.core.editing.intents import AddDrawing
from lexigon.core.editing.intents.objects.drawings import DrawnShape
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.intake.drawings import normalised
from lexigon.core.path.steps import area_of, bounds, data_of, flattened
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.svgfile import Blend, SvgError, read_svg
from tests import hostile
from tests.core.helpers import book

NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'


def svg(inner: str, more: str = 'width="200" height="100" viewBox="0 0 100 50"') -> str:
    return f"<svg {NS} {more}>{inner}</svg>"


def test_shapes_curves_styles_and_uses_come_out_where_they_stand() -> None:
    """By hand: two user units to a pixel, and a pixel is three quarters of a point."""
    found = read_svg(
        svg(
            "<style>.a{fill:#0a0;stroke:black;stroke-width:2}</style><g transform='translate(10 5)'><rect class='a' "
            "width='20' height='10'/><use xlink:href='#c' x='40'/></g><circle id='c' r='5' fill='none' "
            "stroke='rgb(10%,20%,30%)' stroke-linecap='round' stroke-dasharray='2 1'/>"
        )
    )
    box, used, circle = found.shapes
    assert bounds(box.steps) == Rect(15, 7.5, 30, 15)
    assert box.fill == pytest.approx((0, 0.667, 0), abs=0.01)
    assert (box.stroke, box.weight) == ((0, 0, 0), 3.0)
    assert used.fill is None
    assert used.stroke == pytest.approx((0.1, 0.2, 0.3), abs=0.01)
    assert (used.cap, used.dash) == ("round", (3.0, 1.5))
    (ring,) = flattened(circle.steps)
    assert abs(area_of(ring)) == pytest.approx(3.14159 * 7.5**2, rel=0.01)
    there = bounds(used.steps)
    assert there
    assert there.x == pytest.approx((50 - 5) * 1.5)


def test_rules_of_filling_gradients_and_opacity() -> None:
    found = read_svg(
        svg(
            "<defs><linearGradient id='a'><stop offset='0' stop-color='red'/><stop offset='50%' "
            "style='stop-color:#00f'/></linearGradient><linearGradient id='b' xlink:href='#a' x1='0' y1='0' x2='0' "
            "y2='1'/><radialGradient id='r' xlink:href='#a'/></defs><path d='M0 0H9V9H0ZM3 3H6V6H3Z' "
            "fill-rule='evenodd' fill='url(#b)' opacity='.5'/><ellipse rx='3' ry='2' fill='url(#r)'/>"
        )
    )
    path, disc = found.shapes
    assert path.even_odd
    assert path.opacity == 0.5
    assert path.fill == Blend("linear", ((0.0, (1.0, 0.0, 0.0)), (0.5, (0.0, 0.0, 1.0))), 90.0)
    assert isinstance(disc.fill, Blend)
    assert disc.fill.kind == "radial"


def test_what_cannot_be_shapes_is_told() -> None:
    found = read_svg(svg("<text>One</text><text>Two</text><image href='x.png'/><path d='M0 0h5v5z'/>"))
    assert found.left_out == ("2 texts", "1 picture")
    assert len(found.shapes) == 1
    hidden = read_svg(svg("<path d='M0 0h5v5z' display='none'/><path d='M0 0h5v5z' fill='none'/><path d='M1 1h5v5z'/>"))
    assert len(hidden.shapes) == 1


LAUGHS = (
    "".join(f"<g id='a{n}'>" + f"<use href='#a{n + 1}'/>" * 10 + "</g>" for n in range(12))
    + "<path id='a12' d='M0 0h5v5z'/>"
)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "This is not an SVG file"),
        ("<svg", "This is not an SVG file"),
        ("<html/>", "This is not an SVG file"),
        ("words", "This is not an SVG file"),
        (svg(""), "nothing to draw"),
        (f'<!DOCTYPE svg [<!ENTITY a "b">]><svg {NS}><path d="M0 0h5v5z"/></svg>', "entities"),
        (svg(LAUGHS), "more than"),
        (svg("<g id='a'><use href='#a'/></g><path d='M0 0h1v1z'/>"), "This drawing refers to itself endlessly"),
        (svg("<path d='M0 0 1e99 1e99z'/>"), "nothing to draw"),
        (svg("<g>" * 300 + "<path d='M0 0h5v5z'/>" + "</g>" * 300), "This is not an SVG file"),
        (svg("<path d='" + "M0 0" + "l1 1" * 450_000 + "'/>"), "too many nodes"),
    ],
)
def test_hostile_drawings_are_refused_in_words(text: str, said: str) -> None:
    with pytest.raises(SvgError, match=said):
        read_svg(text)


@pytest.mark.parametrize("path", ["M0 0 L nan nan Z", "M0,0 Q zzz", "M", "Z", "M0 0 C 1 2 3", "M1 1 A 0 0 0 0 0 1 1 Z"])
def test_broken_paths_are_drawn_as_far_as_they_go_or_refused(path: str) -> None:
    found: tuple[object, ...] = ()
    with contextlib.suppress(SvgError):
        found = read_svg(svg(f"<path d='{path}'/><rect width='5' height='5'/>")).shapes
    assert len(found) <= 2


def test_nothing_outside_is_read_and_nothing_is_run() -> None:
    found = read_svg(
        svg(
            "<script>alert(1)</script><style>@import url(http://192.0.2.1/a.css);path{fill:red}</style><path d='M0 "
            "0h5v5z' onclick='x()'/><use href='http://192.0.2.1/b.svg#c'/><use "
            "href='file:///etc/passwd'/><foreignObject><p xmlns='http://www.w3.org/1999/xhtml'>x</p></foreignObject>"
        )
    )
    assert [shape.fill for shape in found.shapes] == [(1.0, 0.0, 0.0)]


def test_a_drawing_is_put_on_a_page_as_a_group_no_larger_than_it() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    line = FrameSpec(stroke=Stroke(10.0, "black"))
    shapes = (
        DrawnShape("M0 0L2000 0L2000 1000L0 1000Z", FrameSpec(fill=Fill("marker"))),
        DrawnShape("M0 0L2000 1000", line, name="Rope"),
    )
    before = job_to_json(workspace.job)
    change = workspace.do(AddDrawing(page, shapes))
    group = workspace.job.pages[0].objects[-1]
    assert group.group
    assert [one.name for one in group.group.objects] == ["Shape", "Rope"]
    box, area = bounds_of((group,)), workspace.job.text_area(0)
    assert box
    assert box.width == pytest.approx(area.width)
    assert box.x + box.width / 2 == pytest.approx(area.x + area.width / 2)
    weight = group.group.objects[1].make.stroke
    assert weight
    assert weight.weight == pytest.approx(10 * area.width / 2000), "its lines are thinner with it"
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def test_drawn_by_another_renderer_it_is_the_same() -> None:
    """resvg draws the SVG, and again what was read of it written as bare paths."""

    text = svg(
        "<g transform='rotate(12 50 25) scale(1.1 .9)' stroke='#224' stroke-width='1.5'><path d='M10 40C20 0 40 0 50 "
        "25S80 45 90 10' fill='none' stroke-linecap='round'/><path d='M60 5q10 15 20 0a8 8 0 1 0 -20 0z' "
        "fill='#c63'/><rect x='8' y='6' width='22' height='14' rx='4' fill='#8ac' stroke-dasharray='3 2'/><polygon "
        "points='40,30 45,45 30,36 50,36 35,45' fill-rule='evenodd' fill='#484'/></g>"
    )
    drawn = ""
    for shape in read_svg(text).shapes:
        fill = (
            "none"
            if shape.fill is None or isinstance(shape.fill, Blend)
            else "rgb(" + ",".join(f"{v * 100}%" for v in shape.fill) + ")"
        )
        stroke = "none" if shape.stroke is None else "rgb(" + ",".join(f"{v * 100}%" for v in shape.stroke) + ")"
        drawn += (
            f"<path d='{data_of(shape.steps)}' fill='{fill}' stroke='{stroke}' stroke-width='{shape.weight}' "
            f"fill-rule='{'evenodd' if shape.even_odd else 'nonzero'}' stroke-linecap='{shape.cap}' "
            f"stroke-linejoin='{shape.join}' stroke-dasharray='{' '.join(map(str, shape.dash)) or 'none'}'/>"
        )
    other = svg(f"<g transform='scale({1 / 1.5})'>{drawn}</g>")
    pictures = []
    for source in (text, other):
        made = resvg_py.svg_to_bytes(svg_string=source, width=800)
        image = Image.open(io.BytesIO(bytes(made))).convert("RGBA")
        white = Image.new("RGBA", image.size, "white")
        pictures.append(numpy.asarray(Image.alpha_composite(white, image).convert("L"), dtype=float))
    difference = abs(pictures[0] - pictures[1])
    assert pictures[0].std() > 20
    # Lines that are stretched unevenly keep one weight here; all else agrees.
    assert difference.mean() < 2.5
    assert numpy.percentile(difference, 96) < 12


SOURCE = svg(
    "<style>.a{fill:#0a0;stroke:black;stroke-width:2}</style><linearGradient id='g'><stop offset='0' "
    "stop-color='red'/><stop offset='1'/></linearGradient><g transform='translate(10 5)' opacity='0.5'><rect class='a'"
    " width='20' height='10' rx='2'/><use xlink:href='#c' x='40'/></g><circle id='c' r='5' fill='url(#g)' "
    "stroke='rgb(10%,20%,30%)' stroke-dasharray='2 1'/><path d='M1 1C2 2 3 3 4 1S6 1 7 7Q8 8 9 1T3 3A4 4 0 1 0 9 "
    "9z'/><clipPath id='k'><polygon points='0,0 50,0 50,50'/></clipPath><text x='3' y='40' "
    "clip-path='url(#k)'>Ebb</text>"
).encode()


def test_drawings_changed_at_random_are_read_or_refused() -> None:
    read_ = 0
    for number in range(20 * hostile.TIMES):
        chance = random.Random(number)
        data = hostile.shuffled(SOURCE, chance) if number % 2 else hostile.scrambled(SOURCE, chance, 8)
        with contextlib.suppress(SvgError):
            read_svg(data.decode("utf-8", "replace"))
            read_ += 1
        with contextlib.suppress(PictureError):
            normalised(data)
    assert read_ > 6
