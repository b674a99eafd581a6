"""Display lists as SVG, for the board and for previews.

One ``<text>`` a line and run, with explicit x and word-spacing, in the very font file the composer
measured; nothing is left for the browser to lay out. Style attributes are avoided (a strict
Content-Security-Policy blocks them): what presentation attributes cannot express is expressed by classes. Frames and
lines are not described in the drawing but by ``standing``, in the order of the groups of class ``frame`` and ``ln``.
The one ``data-f``
lists OpenType features, for a script to set.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from functools import lru_cache
from html import escape
from math import hypot
from typing import get_args
from zlib import crc32

from lexigon.core.blending import Blend
from lexigon.core.colour.colours import BLACK, Colour, Gradient, css_of
from lexigon.core.colour.profiles import Profile
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.items import MITER_LIMIT, Fade, Glyphs, Group, Item, Path, Pen, Picture, Shadow, paint
from lexigon.core.paint.pieces import pieces, screen_size
from lexigon.core.path.steps import Steps
from lexigon.core.picture.looks import written
from lexigon.core.type.fonts import FontFace
from lexigon.core.type.line import LineRun
from lexigon.core.type.shaping import PLAIN

CLASSES = {"frame": "frame", "line": "ln"}
"""The class of a group by the kind of its owner."""


@lru_cache(1 << 14)
def number(value: float) -> str:
    """A coordinate with no more digits than can be seen at 64 times."""
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


Address = Callable[[str, str], str]
"""The address of the picture of a file, by the file's name and its adjustment as written."""


def by_name(file: str, look: str) -> str:
    """A picture called by its file's name alone."""
    return file


def svg_of(items: Iterable[Item], address: Address = by_name, proof: Profile | None = None) -> str:
    """A display list as SVG elements, in page coordinates. The caller supplies the ``<svg>`` around them. With
    ``proof`` colours are as that printing condition gives them."""
    painter = SvgPainter(address, proof)
    paint(items, painter)
    return painter.svg()


class SvgPainter:
    """Paints a display list as SVG elements."""

    def __init__(self, address: Address = by_name, proof: Profile | None = None) -> None:
        self._parts: list[str] = []
        self._address = address
        self._proof = proof

    def _css(self, colour: Colour) -> str:
        return css_of(colour.proofed(self._proof))

    def svg(self) -> str:
        return "".join(self._parts)

    def begin(self, group: Group) -> None:
        if group.shadow and any(isinstance(item, Group) and item.blend != "normal" for item in group.items):
            # Inside a filter nothing is blended with what is below: the shadow comes from a copy that is invisible
            # itself.
            only = self._shadow(group.shadow, alone=True)
            self._parts.append(
                f'<g filter="url(#{only})">{svg_of(_nameless(group.items), self._address, self._proof)}</g>'
            )
            group = replace(group, shadow=None)
        group_attributes = []
        if group.owner:
            group_attributes.append(CLASSES[group.owner.kind])
        if group.blend != "normal":
            group_attributes.append(f"blend-{group.blend}")
        attributes = f' class="{" ".join(group_attributes)}"' if group_attributes else ""
        if group.transform:
            attributes += f' transform="{_matrix(group.transform)}"'
        if group.shadow:
            attributes += f' filter="url(#{self._shadow(group.shadow)})"'
        if group.fade:
            attributes += f' mask="url(#{self._fade(group.fade)})"'
        if group.opacity < 1:
            attributes += f' opacity="{number(group.opacity)}"'
        self._parts.append(f"<g{attributes}>")
        if group.clip:
            # The name holds the outline's own mark, so that drawings in one document do not take each other's.
            name = f"clip{crc32(repr((group.clip, group.even_odd)).encode()):08x}"
            rule = ' clip-rule="evenodd"' if group.even_odd else ""
            self._parts.append(
                f'<clipPath id="{name}"><path d="{_data(group.clip)}"{rule}/></clipPath><g clip-path="url(#{name})">'
            )

    def _fade(self, fade: Fade) -> str:
        """Written before what fades: its outline in white, half of the width taken off, softened."""
        name = f"fade{crc32(repr(fade).encode()):08x}"
        b, width = fade.bounds, number(fade.width)
        where = f'x="{number(b.x)}" y="{number(b.y)}" width="{number(b.width)}" height="{number(b.height)}"'
        rule = ' fill-rule="evenodd"' if fade.even_odd else ""
        self._parts.append(
            f'<filter id="{name}s" filterUnits="userSpaceOnUse" color-interpolation-filters="sRGB" '
            f'{where}><feGaussianBlur stdDeviation="{number(fade.deviation)}"/></filter><mask id="{name}" '
            f'maskUnits="userSpaceOnUse" {where}><g filter="url(#{name}s)"><rect {where} fill="#000"/><path '
            f'd="{_data(fade.steps)}" fill="#fff" stroke="#000" stroke-width="{width}"{rule}/></g></mask>'
        )
        return name

    def _shadow(self, shadow: Shadow, alone: bool = False) -> str:
        """Written before what throws it. Browsers would mix it as light; the press does not."""
        name = f"shadow{crc32(repr((shadow, alone)).encode()):08x}"
        both = _around(shadow.bounds, shadow.reach)
        where = f'x="{number(both.x)}" y="{number(both.y)}" width="{number(both.width)}" height="{number(both.height)}"'
        fall = f'dx="{number(shadow.dx)}" dy="{number(shadow.dy)}"'
        deviation = f'stdDeviation="{number(shadow.deviation)}"'
        flood = f'flood-color="{self._css(shadow.colour)}" flood-opacity="{number(shadow.opacity)}"'
        self._parts.append(
            f'<filter id="{name}" filterUnits="userSpaceOnUse" color-interpolation-filters="sRGB" {where}>'
            + (
                _SHADOW_ALONE.format(soft=deviation, offset=fall, flood=flood)
                if alone
                else f"<feDropShadow {fall} {deviation} {flood}/>"
            )
            + "</filter>"
        )
        return name

    def end(self, group: Group) -> None:
        self._parts.append("</g></g>" if group.clip else "</g>")

    def path(self, path: Path) -> None:
        if isinstance(path.fill, Gradient):
            paint = f' fill="url(#{self._gradient(path.fill)})"'
        else:
            paint = f' fill="{self._css(path.fill)}"' if path.fill else ' fill="none"'
        if path.even_odd and path.fill:
            paint += ' fill-rule="evenodd"'
        if path.pen:
            paint += f' stroke="{self._css(path.pen.colour)}" stroke-width="{number(path.pen.weight)}"'
            if path.pen.dash:
                paint += f' stroke-dasharray="{" ".join(map(number, path.pen.dash))}"'
            paint += _pen(path.pen)
        self._parts.append(f'<path d="{_data(path.steps)}"{paint}/>')

    def _gradient(self, gradient: Gradient) -> str:
        """Written before what it fills, in so many steps that the screen's way of mixing does not show."""
        name = f"gradient{crc32(repr(gradient).encode()):08x}"
        (x0, y0), (x1, y1) = gradient.begin, gradient.end
        if gradient.kind == "linear":
            where = f'x1="{number(x0)}" y1="{number(y0)}" x2="{number(x1)}" y2="{number(y1)}"'
        else:
            where = f'cx="{number(x0)}" cy="{number(y0)}" r="{number(hypot(x1 - x0, y1 - y0))}"'
        stops = "".join(
            f'<stop offset="{at:.4g}" stop-color="{css_of(rgb)}"/>' for at, rgb in gradient.steps(proof=self._proof)
        )
        kind = f"{gradient.kind}Gradient"
        self._parts.append(f'<{kind} id="{name}" gradientUnits="userSpaceOnUse" {where}>{stops}</{kind}>')
        return name

    def picture(self, picture: Picture) -> None:
        where = escape(self._address(picture.file, written(picture.look)))
        self._parts.append(
            f'<image width="1" height="1" preserveAspectRatio="none" transform="{_matrix(picture.map)}" '
            f'href="{where}"/>'
        )

    def glyphs(self, glyphs: Glyphs) -> None:
        run = glyphs.run
        look = run.look
        size, scale = screen_size(look.size)
        base = glyphs.baseline - look.rise
        shared = f' y="{number(base)}" font-family="{look.cut.face.key}" font-size="{number(size)}"'
        shared += _attributes(run, scale)
        if glyphs.colour != BLACK or self._proof:
            shared += f' fill="{self._css(glyphs.colour)}"'
        for piece in pieces(run):
            scaled = _scaled(piece.x, base, piece.wide, scale)
            self._parts.append(f'<text x="{number(piece.x)}"{scaled}{shared}>{escape(piece.text, quote=False)}</text>')


_SHADOW_ALONE = (
    '<feGaussianBlur in="SourceAlpha" {soft}/><feOffset {offset} result="fallen"/><feFlood {flood}/>'
    '<feComposite in2="fallen" operator="in"/>'
)


def _nameless(items: Iterable[Item]) -> tuple[Item, ...]:
    """A display list that belongs to nobody, and is mixed with nothing."""
    return tuple(
        replace(item, items=_nameless(item.items), owner=None, blend="normal") if isinstance(item, Group) else item
        for item in items
    )


def _around(one: Rect, other: Rect) -> Rect:
    x, y = min(one.x, other.x) - 1, min(one.y, other.y) - 1
    return Rect(x, y, max(one.right, other.right) + 1 - x, max(one.foot, other.foot) + 1 - y)


def _attributes(run: LineRun, scale: float) -> str:
    """Features, language and spacing of a run that is drawn at ``scale``."""
    look = run.look
    wide = look.squeeze * run.glyphs * scale
    attributes = ""
    features = look.cut.features
    if features and run.letters:
        features = DEFAULT_FEATURES | features
    if features:
        attributes += f' data-f="{" ".join(f"{tag}={value}" for tag, value in features.items())}"'
    elif run.letters:
        attributes += ' class="kept"'
    if not look.cut.language.startswith(PLAIN):  # the board's page is English itself
        attributes += f' lang="{escape(look.cut.language)}"'
    if run.word_space:
        attributes += f' word-spacing="{number(run.word_space / wide)}"'
    spacing = look.tracking / look.squeeze / scale + run.letters / wide
    if spacing:
        attributes += f' letter-spacing="{number(spacing)}"'
    return attributes


def _matrix(map_: Affine) -> str:
    turned = " ".join(f"{v:.10g}" for v in (map_.a, map_.b, map_.c, map_.d))
    return f"matrix({turned} {number(map_.e)} {number(map_.f)})"


def _pen(pen: Pen) -> str:
    """Caps and corners; mitres are cut off where the press cuts them."""
    cap = "" if pen.cap == "butt" else f' stroke-linecap="{pen.cap}"'
    return cap + (
        f' stroke-miterlimit="{number(MITER_LIMIT)}"' if pen.join == "miter" else f' stroke-linejoin="{pen.join}"'
    )


def _data(steps: Steps) -> str:
    return "".join(step + " ".join(f"{number(x)} {number(y)}" for x, y in points) for step, points in steps)


def _scaled(x: float, y: float, wide: float, high: float) -> str:
    """The transform of text that is drawn ``wide`` and ``high`` times as large, from (x, y) on."""
    if abs(wide - 1) < 1e-9 and high == 1:
        return ""
    k = f"{wide:.8g}"
    return f' transform="matrix({k} 0 0 {high:.8g} {number(x * (1 - wide))} {number(y * (1 - high))})"'


DEFAULT_FEATURES = {"liga": 1, "clig": 1, "calt": 1}
"""Asked for where letters give a hundredth of an em: browsers drop ligatures from any spaced text, the press does
not."""


def font_css(faces: Iterable[FontFace], address: Callable[[FontFace], str]) -> str:
    """The @font-face rules of some faces, with the ``address`` of each one's file."""
    return "\n".join(
        f"@font-face{{font-family:{face.key};src:url({address(face)});font-display:block}}" for face in faces
    )


def text_css() -> str:
    """Return how the text of painted pages is shown, and the classes that runs use."""
    return (
        "svg text{white-space:pre;text-rendering:geometricPrecision;font-kerning:normal;"
        "font-feature-settings:normal;font-synthesis:none}"
        "svg .kept{font-feature-settings:'liga','clig','calt'}"
        + "".join(f"svg .blend-{mode}{{mix-blend-mode:{mode}}}" for mode in get_args(Blend) if mode != "normal")
    )
