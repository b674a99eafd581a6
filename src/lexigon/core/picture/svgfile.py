"""SVG as outlines: read with care, for what can be drawn of it on a page. Geometry, ``use`` and CSS are svgelements'.

Nothing outside the text is read, nothing in it is run. Lengths are points; a pixel of CSS is three quarters of one.
"""

from __future__ import annotations

import io
import re
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import atan2, degrees, hypot, sqrt
from typing import Any, Literal

from lxml import etree

from lexigon.core.errors import LexigonError
from lexigon.core.geometry import Affine, Point
from lexigon.core.numerals import integer
from lexigon.core.path.steps import Step, Steps, mapped_steps
from lexigon.core.xmlhead import read_head

MOST_BYTES = 8_000_000
MOST_SHAPES = 5000
MOST_STEPS = 60_000
MANY_NODES = "This drawing has too many nodes to be converted to shapes. Place it as a picture."
PIXEL = 0.75
SVG = "http://www.w3.org/2000/svg"
LINK = "{http://www.w3.org/1999/xlink}href"
SHAPES = frozenset({"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"})
UNSAFE = frozenset(
    {"script", "foreignObject", "iframe", "animate", "animateMotion", "animateTransform", "set", "handler", "listener"}
)
Light = tuple[float, float, float]
"""Red, green, blue, each 0 to 1."""
Inks = tuple[float, float, float, float]
"""Cyan, magenta, yellow, black, each 0 to 1."""


class SvgError(LexigonError):
    """The text is no drawing that can be taken; the words are for people."""


@dataclass(slots=True, frozen=True)
class Blend:
    """A gradient: its colours along the way, and in which direction it goes."""

    kind: Literal["linear", "radial"]
    stops: tuple[tuple[float, Light], ...]
    angle: float = 0.0


@dataclass(slots=True, frozen=True)
class Shape:
    """An outline with what it is painted with; ``fill`` None for none, and a line of no weight for none."""

    steps: Steps
    even_odd: bool
    fill: Light | Inks | Blend | None
    stroke: Light | Inks | None
    weight: float
    cap: Literal["butt", "round", "square"]
    join: Literal["miter", "round", "bevel"]
    dash: tuple[float, ...]
    opacity: float
    name: str
    way: tuple[Point, Point] | None = None
    """The start and the end of a gradient that fills it; of a radial one its centre and a point of its rim. None where
    that cannot be determined."""


@dataclass(slots=True, frozen=True)
class Drawing:
    shapes: tuple[Shape, ...]
    left_out: tuple[str, ...]
    """What cannot be drawn as shapes, in words: ``2 texts``."""


def read_svg(text: str, words: Callable[[Any], None] | None = None) -> Drawing:
    """The shapes of an SVG, the lowest first; ``words`` makes outlines of its words where it can, in the tree. Raises
    SvgError for what is none, or too much."""
    root = _parsed(text)
    if words is not None:
        words(root)
    left_out = _cleaned(root)
    if sum(len(re.findall(r"[A-Za-z]", one.get("d") or "")) for one in root.iter(f"{{{SVG}}}path")) > MOST_STEPS:
        raise SvgError(MANY_NODES)
    _expanded(root)
    gradients = {str(one.get("id")): one for one in root.iter(f"{{{SVG}}}linearGradient", f"{{{SVG}}}radialGradient")}
    import svgelements  # takes a while to import, and few need it

    try:
        drawing = svgelements.SVG.parse(io.BytesIO(etree.tostring(root)), reify=True, ppi=96.0)
        elements = [one for one in drawing.elements() if isinstance(one, svgelements.Shape)]
        shapes = [shape for one in elements if (shape := _shape(svgelements.Path(one), one, gradients)) is not None]
    except SvgError:
        raise
    except RecursionError as error:
        raise SvgError("This drawing refers to itself endlessly.") from error
    except Exception as error:  # the reader meets nonsense with any kind of error
        raise SvgError("This drawing cannot be read.") from error
    if sum(len(shape.steps) for shape in shapes) > MOST_STEPS:
        raise SvgError(MANY_NODES)
    if not shapes:
        raise SvgError("This SVG contains nothing to draw.")
    return Drawing(tuple(shapes), left_out)


MOST_WITHIN = 20_000_000
"""Bytes of all pictures that a drawing holds."""


def is_svg(head: bytes) -> bool:
    """Return whether a file begins as an SVG does."""
    return read_head(head.decode("utf-8", "replace")).element == "svg"


def safe(text: str) -> tuple[bytes, tuple[float, float]]:
    """A drawing with nothing in it that runs or that lies outside, but all that can be drawn; and its width and height
    in pixels of CSS. Raises SvgError."""
    root = _parsed(text)
    _expanded(root)
    for one in list(root.iter()):
        if isinstance(one.tag, str):
            _make_safe(one, within=True)
    width, height = _size(root)
    root.set("width", f"{width:g}")
    root.set("height", f"{height:g}")
    return etree.tostring(root), (width, height)


def _size(root: Any) -> tuple[float, float]:
    """Its width and height, else those of what it shows, else 300 by 150 (CSS 2.1, 10.3.2)."""
    box = [
        float(part)
        for part in re.findall(r"[-+.\deE]+", root.get("viewBox") or "")
        if re.fullmatch(r"[-+]?(\d++(?:\.\d*+)?|\.\d++)([eE][-+]?\d+)?", part)
    ]
    view_box = (box[2], box[3]) if len(box) == 4 and min(box[2:]) > 0 else None
    sides = [_pixels(root.get("width")), _pixels(root.get("height"))]
    if view_box is not None:
        if sides[0] is None and sides[1] is None:
            return view_box
        sides = [
            sides[0] or (sides[1] or 0) * view_box[0] / view_box[1],
            sides[1] or (sides[0] or 0) * view_box[1] / view_box[0],
        ]
    width, height = sides[0] or 300.0, sides[1] or 150.0
    if not (0.1 <= width <= 100_000 and 0.1 <= height <= 100_000):
        raise SvgError("The size of this drawing cannot be shown.")
    return width, height


UNITS = {"": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "q": 96 / 101.6}


def _pixels(text_: str | None) -> float | None:
    """A length in CSS pixels; None where it has none itself, like fractions of its surroundings."""
    match = re.fullmatch(r"\s*\+?(\d++(?:\.\d*+)?|\.\d++)\s*+([a-z]*+)\s*+", (text_ or "").lower())
    return float(match[1]) * UNITS[match[2]] if match and match[2] in UNITS else None


def _parsed(text: str) -> Any:
    data = text.encode("utf-8", "replace")
    if len(data) > MOST_BYTES:
        raise SvgError(
            f"This drawing has {len(data) / 1e6:.0f} MB; at most {MOST_BYTES // 10**6} MB can be converted to shapes."
        )
    if b"<!ENTITY" in data.upper():
        raise SvgError("This drawing defines XML entities, which are not read.")
    data = re.sub(rb"^\s*<\?xml[^>]*\?>", b"", data)
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, remove_pis=True, remove_comments=True
    )
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise SvgError("This is not an SVG file, or it is damaged.") from error
    if etree.QName(root).localname != "svg":
        raise SvgError("This is not an SVG file.")
    return root


def _cleaned(root: Any) -> tuple[str, ...]:
    """Remove elements that are not drawn from the tree. Returns those that a user would miss, in words."""
    missed: Counter[str] = Counter()
    for one in list(root.iter()):
        if not isinstance(one.tag, str):
            continue
        name = etree.QName(one).localname
        if name in ("text", "image"):
            missed["text" if name == "text" else "picture"] += 1
        if name in ("text", "image"):
            _remove(one)
            continue
        _make_safe(one)
    return tuple(f"{count} {word}{'s' * (count > 1)}" for word, count in missed.items())


def _remove(one: Any) -> None:
    parent = one.getparent()
    if parent is None:
        return
    if one.tail:  # what follows it stays
        before = one.getprevious()
        if before is not None:
            before.tail = (before.tail or "") + one.tail
        else:
            parent.text = (parent.text or "") + one.tail
    parent.remove(one)


PICTURE = re.compile(r"\s*data:image/(png|jpeg|jpg|webp);base64,", re.IGNORECASE)


def _without_outside(text_: str, other: str) -> str:
    """A style without what it takes from outside the drawing, with ``other`` in its place: ``url(...)`` of anything but
    a part of it."""
    parts, at = [], 0
    while (begin := text_.find("url(", at)) >= 0:
        end = text_.find(")", begin) + 1 or len(text_)
        within = text_[begin + 4 : end].lstrip(" \t\r\n\f").lstrip("'\"").startswith("#")
        parts += [text_[at:begin], text_[begin:end] if within else other]
        at = end
    return "".join((*parts, text_[at:]))


def _make_safe(one: Any, within: bool = False) -> None:
    """An element without anything that runs or that is external; with ``within``, embedded pictures stay."""
    if etree.QName(one).localname in UNSAFE:
        _remove(one)
        return
    if etree.QName(one).localname == "style" and one.text:
        one.text = _without_outside(re.sub(r"@import[^;]*;?", "", one.text), "")
    for attribute in list(one.attrib):
        value, local = one.attrib[attribute], etree.QName(attribute).localname
        outside = local == "href" and not value.strip().startswith("#")
        if local.startswith("on") or (outside and not (within and PICTURE.match(value) and len(value) < MOST_WITHIN)):
            del one.attrib[attribute]
        elif "url(" in value and local != "href":
            one.attrib[attribute] = _without_outside(value, "none")


def _expanded(root: Any) -> None:
    """Raises SvgError where what is drawn again and again (``use``) would come to too much, or to no end."""
    named = {str(one.get("id")): one for one in root.iter() if isinstance(one.tag, str) and one.get("id")}
    counts: dict[Any, int] = {}

    def size(one: Any, within: frozenset[Any]) -> int:
        if one in within:
            raise SvgError("This drawing refers to itself endlessly.")
        if one in counts:
            return counts[one]
        if len(within) > 200:
            raise SvgError("This drawing is nested too deeply.")
        inner = within | {one}
        name = etree.QName(one).localname if isinstance(one.tag, str) else ""
        count = int(name in SHAPES)
        if name == "use":
            target = named.get((one.get("href") or one.get(LINK) or "").strip().removeprefix("#"))
            count += size(target, inner) if target is not None else 0
        count += sum(size(child, inner) for child in one)
        if count > MOST_SHAPES:
            raise SvgError(f"This drawing has more than {integer(MOST_SHAPES)} shapes. Place it as a picture.")
        counts[one] = count
        return count

    size(root, frozenset())


def _shape(path: Any, one: Any, gradients: dict[str, Any]) -> Shape | None:
    attributes = one.values
    if attributes.get("display") == "none" or attributes.get("visibility") in ("hidden", "collapse"):
        return None
    steps = mapped_steps(_steps(path), Affine(PIXEL, 0.0, 0.0, PIXEL))
    if len(steps) < 2 or any(abs(v) > 1e6 for _, points in steps for point in points for v in point):
        return None
    blend = _blend(str(attributes.get("fill", "")), gradients)
    fill = blend or _light(one.fill)
    stroke = _light(one.stroke)
    weight = min(float(one.stroke_width or 0.0) * PIXEL, 500.0) if stroke else 0.0
    if fill is None and not weight:
        return None
    opacity = _number(attributes.get("opacity"), 1.0)
    if one.fill is not None and one.fill.value is not None and fill is not None and not weight:
        opacity *= one.fill.opacity if one.fill.opacity is not None else 1.0
    larger = _larger(attributes)  # svgelements sees to the weight of a line, not to its dashes
    dash = tuple(
        _number(part, 0.0) * PIXEL * larger
        for part in re.split(r"[\s,]+", str(attributes.get("stroke-dasharray") or "").strip())
        if part != "none"
    )
    return Shape(
        steps,
        attributes.get("fill-rule") == "evenodd",
        fill,
        stroke if weight else None,
        weight,
        _among(attributes.get("stroke-linecap"), ("butt", "round", "square")),
        _among(attributes.get("stroke-linejoin"), ("miter", "round", "bevel")),
        dash[:20] if any(dash) and all(part >= 0 for part in dash) else (),
        min(max(opacity, 0.0), 1.0),
        " ".join(str(one.id or "").split())[:60],
        _way(path, attributes, gradients) if blend else None,
    )


def _larger(attributes: dict[str, Any]) -> float:
    """Return how many times as large an element is drawn as it says."""
    from svgelements import Matrix

    try:
        turn = Matrix(str(attributes.get("transform") or ""))
        return sqrt(abs(turn.a * turn.d - turn.b * turn.c))
    except (ValueError, TypeError, AttributeError):
        return 1.0


def _among(value: Any, words: tuple[Any, ...]) -> Any:
    return value if value in words else words[0]


def _number(value: Any, other: float) -> float:
    try:
        text = str(value)
        return float(text.removesuffix("%")) / (100 if text.endswith("%") else 1) if value is not None else other
    except ValueError:
        return other


def _light(colour: Any) -> Light | None:
    if colour is None or colour.value is None or not colour.alpha:
        return None
    return colour.red / 255, colour.green / 255, colour.blue / 255


def _steps(path: Any) -> Steps:
    """The segments of svgelements as steps; arcs and parabolas as cubics."""
    from svgelements import Arc, Close, CubicBezier, Line, Move, QuadraticBezier

    steps: list[Step] = []
    start: Point | None = None

    def point(at: Any) -> Point:
        return float(at.x), float(at.y)

    for part in path.segments():
        if part.end is None and not isinstance(part, Close):
            continue
        if isinstance(part, Move):
            start = point(part.end)
            steps.append(("M", (start,)))
        elif not steps:
            continue
        elif isinstance(part, Close):
            steps.append(("Z", ()))
        elif isinstance(part, CubicBezier):
            steps.append(("C", (point(part.control1), point(part.control2), point(part.end))))
        elif isinstance(part, QuadraticBezier):
            (x0, y0), (x1, y1), (x2, y2) = point(part.start), point(part.control), point(part.end)
            steps.append(
                (
                    "C",
                    (
                        (x0 + (x1 - x0) * 2 / 3, y0 + (y1 - y0) * 2 / 3),
                        (x2 + (x1 - x2) * 2 / 3, y2 + (y1 - y2) * 2 / 3),
                        (x2, y2),
                    ),
                )
            )
        elif isinstance(part, Arc):
            steps += [("C", (point(c.control1), point(c.control2), point(c.end))) for c in part.as_cubic_curves()]
        elif isinstance(part, Line):
            steps.append(("L", (point(part.end),)))
    return tuple(steps)


def _blend(fill: str, gradients: dict[str, Any]) -> Blend | None:
    """The gradient that a fill names, with the colours of the one it is based on."""
    match = re.match(r"\s*url\(\s*['\"]?#([^)'\"]+)", fill)
    one = gradients.get(match[1].strip()) if match else None
    if one is None:
        return None
    stops = next(
        (stops_ for at in _based(one, gradients) if (stops_ := [_stop(stop) for stop in at.findall(f"{{{SVG}}}stop")])),
        [],
    )
    if len(stops) < 2:
        return None
    kind: Literal["linear", "radial"] = "linear" if etree.QName(one).localname == "linearGradient" else "radial"
    ends = [_number(one.get(name), other) for name, other in (("x1", 0.0), ("y1", 0.0), ("x2", 1.0), ("y2", 0.0))]
    return Blend(
        kind, tuple(stops[:40]), degrees(atan2(ends[3] - ends[1], ends[2] - ends[0])) if kind == "linear" else 0.0
    )


def _way(path: Any, attributes: dict[str, Any], gradients: dict[str, Any]) -> tuple[Point, Point] | None:
    """From where to where the gradient that fills a path goes (SVG 2, 14.2): its numbers are parts of the path's box,
    or lengths; both before what turns them, which the path has gone through already."""
    from svgelements import Matrix

    match = re.match(r"\s*url\(\s*['\"]?#([^)'\"]+)", str(attributes.get("fill", "")))
    chain = list(_based(gradients.get(match[1].strip()) if match else None, gradients))
    if not chain:
        return None

    def value(name: str, other: str) -> str:
        return next((one.get(name) for one in chain if one.get(name) is not None), other).strip()

    names = ("x1", "y1", "x2", "y2") if etree.QName(chain[0]).localname == "linearGradient" else ("cx", "cy", "r")
    usual = ("0", "0", "1", "0") if len(names) == 4 else ("0.5", "0.5", "0.5")
    in_box = value("gradientUnits", "objectBoundingBox") != "userSpaceOnUse"
    coordinates = [value(name, other) for name, other in zip(names, usual, strict=True)]
    if value("spreadMethod", "pad") != "pad" or (not in_box and any("%" in one for one in coordinates)):
        return None
    try:
        numbers = [_number(one, float("nan")) for one in coordinates]
        whole = Matrix(str(attributes.get("transform") or ""))
        turn = Matrix(value("gradientTransform", "")) * whole
        if in_box:
            x0, y0, x1, y1 = (path * ~whole).bbox()
            turn = Matrix(value("gradientTransform", "")) * Matrix(x1 - x0, 0, 0, y1 - y0, x0, y0) * whole
        ends = [numbers[:2], numbers[2:] if len(numbers) == 4 else [numbers[0] + numbers[2], numbers[1]]]
        (ax, ay), (bx, by) = (
            (turn.point_in_matrix_space(end).x * PIXEL, turn.point_in_matrix_space(end).y * PIXEL) for end in ends
        )
    except (ValueError, TypeError, ZeroDivisionError, AttributeError):
        return None
    return ((ax, ay), (bx, by)) if 1e-3 < hypot(bx - ax, by - ay) < 1e6 else None


def _based(one: Any, gradients: dict[str, Any]) -> Iterator[Any]:
    """A gradient and those it is based on."""
    visited: set[Any] = set()
    while one is not None and one not in visited:
        visited.add(one)
        yield one
        one = gradients.get((one.get("href") or one.get(LINK) or "").strip().removeprefix("#"))


def _stop(one: Any) -> tuple[float, Light]:
    from svgelements import Color

    properties = dict(part.split(":", 1) for part in (one.get("style") or "").split(";") if ":" in part)
    properties = {name.strip(): value.strip() for name, value in properties.items()}
    colour = _light(Color(properties.get("stop-color") or one.get("stop-color") or "black")) or (0.0, 0.0, 0.0)
    return min(max(_number(one.get("offset"), 0.0), 0.0), 1.0), colour
