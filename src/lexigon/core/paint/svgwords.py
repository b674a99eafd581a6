"""The words of an SVG as outlines, in the fonts that ship (SVG 2, chapter 11): lines that begin at a place, in one
formatting each.

Text set differently (along a path, with positions for each letter, in wrapped shapes, from right to left) is left as it
is, for the reader to report or to draw by other means.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from lxml import etree

from lexigon.core.path.steps import Step, data_of
from lexigon.core.picture.svgpixels import Fonts
from lexigon.core.type.fonts import SHIPPED, FontFace, shipped
from lexigon.core.type.glyphs import glyph_path
from lexigon.core.type.shaping import cut_for

SVG = "http://www.w3.org/2000/svg"
SPACE = "{http://www.w3.org/XML/1998/namespace}space"
GENERIC = {
    "serif": "Source Serif 4",
    "sans-serif": "Source Sans 3",
    "monospace": "JetBrains Mono",
    "cursive": "Dancing Script",
    "fantasy": "League Gothic",
}
"""The families that stand for those that CSS names by kind alone."""
OTHER = "Source Sans 3"
FONTS = Fonts(str(SHIPPED), (*GENERIC.values(), OTHER))
"""The same, for whoever draws a drawing by other means."""
SIZES = {
    "xx-small": 9.0,
    "x-small": 10.0,
    "small": 13.0,
    "medium": 16.0,
    "large": 18.0,
    "x-large": 24.0,
    "xx-large": 32.0,
}
LOOK = (
    "font-family",
    "font-size",
    "font-weight",
    "font-style",
    "text-anchor",
    "letter-spacing",
    "writing-mode",
    "direction",
)
PLACES = ("x", "y", "dx", "dy", "rotate", "textLength", "lengthAdjust")
MOST_LETTERS = 20_000


@dataclass(slots=True, frozen=True)
class Look:
    family: str = ""
    size: float = 16.0
    weight: int = 400
    italic: bool = False
    anchor: str = "start"


def outlined(root: Any) -> None:
    """Put paths in the place of the words of a drawing, where that can be done as it should be."""
    letters = 0
    for text in list(root.iter(f"{{{SVG}}}text")):
        letters += sum(len(part) for part in text.itertext())
        if letters > MOST_LETTERS:
            return
        group = _group(text)
        if group is not None:
            group.tail = text.tail
            text.getparent().replace(text, group)


def _group(text: Any) -> Any | None:
    look = _look_of(text)
    if look is None:
        return None
    group = etree.Element(
        f"{{{SVG}}}g", {name: value for name, value in text.attrib.items() if name not in (*PLACES, *LOOK)}
    )
    for words, at, inner, values in _lines(text, look):
        path = _path(words, at, inner)
        if path is None:
            return None
        if path:
            etree.SubElement(group, f"{{{SVG}}}path", {**values, "d": path})
    return group


def _lines(text: Any, look: Look) -> Iterator[tuple[str, tuple[float, float] | None, Look, dict[str, str]]]:
    """Each line with its start, its formatting and its other properties; no start where it cannot be determined."""
    parts = [one for one in text if isinstance(one.tag, str) and etree.QName(one).localname not in ("title", "desc")]
    preserves = text.get(SPACE) == "preserve"
    own = _words(text.text, preserves)
    if own or not parts:
        yield own, _place(text), look, {}
    begun = bool(own)
    for part in parts:
        inner = _look_of(part, look)
        has_position = "x" in part.attrib or "y" in part.attrib
        plain = etree.QName(part).localname == "tspan" and not len(part) and not _words(part.tail, preserves)
        if (
            inner is None
            or not plain
            or (begun and not ("x" in part.attrib and ("y" in part.attrib or "dy" in part.attrib)))
        ):
            yield "?", None, look, {}
            return
        outer = _place(text)
        at = _place(part, outer) if has_position or part.get("dy") else outer
        values = {name: value for name, value in part.attrib.items() if name not in (*PLACES, *LOOK)}
        yield _words(part.text, preserves), at, inner, values
        begun = True


def _words(text_: str | None, preserves: bool) -> str:
    return re.sub(r"[\n\t\r]", " ", text_ or "") if preserves else " ".join((text_ or "").split())


def _place(one: Any, outer: tuple[float, float] | None = (0.0, 0.0)) -> tuple[float, float] | None:
    """Return where a line begins; None where each letter has a place, or where lengths are not plain."""
    if outer is None or any(one.get(name) for name in ("rotate", "textLength", "dx")):
        return None
    coordinates = []
    for name, other in zip(("x", "y"), outer, strict=True):
        value = _plain(one.get(name), other)
        if value is None:
            return None
        coordinates.append(value)
    down = _plain(one.get("dy"), 0.0)
    if down is None:
        return None
    return coordinates[0], coordinates[1] + down


def _plain(text_: str | None, other: float) -> float | None:
    if text_ is None or not text_.strip():
        return other
    match = re.fullmatch(r"\s*([-+]?(?:\d++(?:\.\d*+)?|\.\d++)(?:e[-+]?\d++)?)(px)?\s*", text_, re.IGNORECASE)
    return float(match[1]) if match else None


def _look_of(one: Any, outer: Look | None = None) -> Look | None:
    """Return the formatting of words from their element and its ancestors; None where it is not supported here."""
    chain = [one] if outer is not None else [*reversed(list(one.iterancestors())), one]
    look = outer or Look()
    for element in chain:
        values = {name: element.get(name) for name in LOOK if element.get(name)}
        for part in (element.get("style") or "").split(";"):
            name, _, value = part.partition(":")
            if name.strip() in LOOK:
                values[name.strip()] = value.split("!")[0].strip()
        if values.get("letter-spacing", "0") not in ("0", "0px", "normal") or values.get(
            "writing-mode", "lr-tb"
        ) not in (
            "lr-tb",
            "horizontal-tb",
        ):
            return None
        if values.get("direction", "ltr") != "ltr":
            return None
        size = _size(values.get("font-size"), look.size)
        if size is None:
            return None
        weight = {
            "normal": 400,
            "bold": 700,
            "bolder": min(look.weight + 300, 900),
            "lighter": max(look.weight - 300, 100),
        }
        weight_name = values.get("font-weight", "")
        look = replace(
            look,
            family=values.get("font-family", look.family),
            size=size,
            anchor=values.get("text-anchor", look.anchor),
            weight=int(weight_name)
            if re.fullmatch(r"[1-9]\d{0,2}", weight_name)
            else weight.get(weight_name, look.weight),
            italic=values["font-style"] in ("italic", "oblique") if "font-style" in values else look.italic,
        )
    return look


def _size(text_: str | None, outer: float) -> float | None:
    if text_ is None:
        return outer
    if text_ in SIZES:
        return SIZES[text_]
    match = re.fullmatch(r"(\d++(?:\.\d*+)?|\.\d++)(px|pt|em|rem|%|mm|cm|in|pc)?", text_.strip())
    if match is None:
        return None
    unit = {
        None: 1.0,
        "px": 1.0,
        "pt": 4 / 3,
        "em": outer,
        "rem": 16.0,
        "%": outer / 100,
        "mm": 96 / 25.4,
        "cm": 96 / 2.54,
        "in": 96.0,
        "pc": 16.0,
    }
    return float(match[1]) * unit[match[2]]


def _face(look: Look) -> FontFace:
    library = shipped()
    for name in (part.strip().strip("'\"") for part in look.family.split(",")):
        family = name if library.has(name) else GENERIC.get(name.lower())
        if family:
            return library.face(family, look.weight, look.italic)
    return library.face(OTHER, look.weight, look.italic)


def _path(words: str, at: tuple[float, float] | None, look: Look) -> str | None:
    """A line as path data; "" for no words, None where it has no place or letters that the font lacks."""
    if at is None:
        return None
    face = _face(look)
    if not set(words) - {" "} <= face.characters:
        return None
    scale = look.size / face.upem
    cut = cut_for(face, ())
    steps: list[Step] = []
    x, baseline = 0.0, at[1]
    for part in re.split("( )", words):
        word = cut.word(part) if part else None
        if word is None:
            continue
        for number, glyph in enumerate(word.glyphs):
            dx, dy = word.offsets[number] if word.offsets else (0, 0)
            left = x + dx
            for operator, points in glyph_path(face, glyph):
                steps.append(
                    (operator, tuple(((left + px) * scale, baseline - (py + dy) * scale) for px, py in points))
                )
            x += word.advances[number]
    begin = at[0] - x * scale * {"middle": 0.5, "end": 1.0}.get(look.anchor, 0.0)
    return data_of(tuple((operator, tuple((px + begin, py) for px, py in points)) for operator, points in steps), 4)
