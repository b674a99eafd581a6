"""Phrases about frames, and the one that gives settings up."""

from __future__ import annotations

import re
from typing import Any, get_args

from lexigon.core import lengths
from lexigon.core.blending import BLENDS, blend_words
from lexigon.core.document.model import Outline, Vertical, Wrap
from lexigon.core.document.model.frames import CornerKind
from lexigon.core.geometry import regular_polygon
from lexigon.core.path.shapes import star_polygon
from lexigon.core.spec.rules import (
    LENGTH,
    NUMBER,
    Names,
    SpecReading,
    four,
    number,
    rule,
    set_frame,
)


@rule(r"(?P<n>\d{1,2}) columns?", "2 columns", "columns of a frame", "Frames", "1 column")
def _columns(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_frame(out, columns=int(m["n"]))
    return f"{m['n']} columns" if m["n"] != "1" else "one column"


def _own_unit(text: str, names: Names) -> float:
    return lengths.parse(text.replace(",", "."), names.unit)


@rule(rf"gutter\s+(?P<l>{LENGTH})", "gutter 5mm", "between columns", "Frames")
def _gutter(out: SpecReading, m: re.Match[str], names: Names) -> str:
    value = _own_unit(m["l"], names)
    set_frame(out, gutter=value)
    return f"gutter {lengths.show(value, names.unit)}"


@rule(
    rf"insets?\s+(?P<l>{LENGTH}(?:\s+{LENGTH}){{0,3}})",
    "insets 3mm",
    "text from the edges: one length, or top right bottom left",
    "Frames",
)
def _insets(out: SpecReading, m: re.Match[str], names: Names) -> str:
    values = [_own_unit(part, names) for part in re.findall(LENGTH, m["l"])]
    set_frame(out, insets=four(values))
    return "insets " + " ".join(lengths.show(v, names.unit) for v in values)


@rule(r"(?P<no>not |un)?balanced", "balanced", "last columns balanced", "Frames", "not balanced")
def _balanced(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_frame(out, balanced=not m["no"])
    return "columns not balanced" if m["no"] else "columns balanced"


VERTICAL: dict[str, tuple[Vertical, str]] = {
    "top": ("top", "text aligned to the top"),
    "middle": ("centre", "text aligned to the middle"),
    "bottom": ("bottom", "text aligned to the bottom"),
    "head": ("top", "text aligned to the top"),
    "foot": ("bottom", "text aligned to the bottom"),
}
"""What ``text at …`` sets and how it is described; the last two are former words."""


@rule(
    rf"text at (?P<v>{'|'.join(VERTICAL)})|(?P<j>text spread)(?:\s+(?P<l>{LENGTH}))?",
    "text at middle",
    "vertical alignment: text at top, middle, bottom; "
    "text spread 4mm: justified vertically, at most that much between paragraphs",
    "Frames",
    "text at top, text at bottom, text spread",
)
def _vertical(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m["v"]:
        vertical, description = VERTICAL[m["v"].lower()]
        set_frame(out, vertical=vertical)
        return description
    set_frame(out, vertical="justified")
    if m["l"]:
        set_frame(out, stretch=_own_unit(m["l"], names))
    return "text justified vertically"


@rule(
    rf"first line (?:(?P<r>ascent|capital|x-height|leading)(?:\s+at least\s+(?P<m>{LENGTH}))?|(?P<l>{LENGTH}))",
    "first line capital",
    "first baseline: what reaches the top of the frame, with a least distance; or a fixed distance",
    "Frames",
    "first line ascent, first line x-height, first line leading",
)
def _first(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m["l"]:
        set_frame(out, first="fixed", first_at=_own_unit(m["l"], names))
        return f"first baseline {m['l']} down"
    set_frame(out, first=m["r"].lower(), first_at=_own_unit(m["m"], names) if m["m"] else 0.0)
    return f"first line with its {m['r'].lower()} at the top" + (f", at least {m['m']} down" if m["m"] else "")


@rule(
    r"(?:no wrap|wrap(?:\s+(?P<s>both|left|right|largest|jump))?(?P<o>\s+outline)?(?P<c>\s+contour)?"
    rf"(?P<i>\s+inside)?(?:\s+(?P<l>{LENGTH}(?:\s+{LENGTH}){{0,3}}))?)",
    "wrap both outline 3mm",
    "text wrap: both sides, left, right, largest, jump; outline follows the shape, inside is inverted; one offset, or "
    "top right bottom left",
    "Frames",
    "no wrap, wrap left, wrap right, wrap largest, wrap jump",
)
def _wrap(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m[0].lower() == "no wrap":
        set_frame(out, wrap=Wrap("none"))
        return "no text wrap"
    offsets = four([_own_unit(part, names) for part in re.findall(LENGTH, m["l"] or "0")])
    offset = max(offsets)
    sides: Any = (m["s"] or "both").lower()
    set_frame(out, wrap=Wrap(sides, offsets, bool(m["o"] or m["i"]), bool(m["i"]), bool(m["c"])))
    if m["i"]:
        return "text only inside the outline"
    words = {"both": "on both sides", "largest": "on the wider side", "jump": "above and below"}.get(
        sides, f"on the {sides}"
    )
    return f"text wrap {words}, around the {'outline' if m['o'] else 'box'}" + (
        f", offset {lengths.show(offset, names.unit)}" if offset else ""
    )


@rule(
    r"(?:(?P<s>ellipse|box(?: outline)?|triangle|diamond|hexagon)|polygon\s+(?P<n>[3-9]|1\d|2[0-4]))",
    "polygon 6",
    "the frame's outline: ellipse, triangle, diamond, hexagon, polygon with so many corners, box outline",
    "Frames",
    "ellipse, box outline, triangle, diamond, hexagon",
)
def _outline(out: SpecReading, m: re.Match[str], names: Names) -> str:
    word = (m["s"] or "").lower()
    if word.startswith("box"):
        out.changes["outline"] = "box"
        return "as a box"
    if word == "ellipse":
        out.changes["outline"] = Outline()
        return "as an ellipse"
    sides = int(m["n"]) if m["n"] else {"triangle": 3, "diamond": 4, "hexagon": 6}[word]
    out.changes["outline"] = Outline("polygon", regular_polygon(sides))
    return f"as a {word}" if word else f"as a polygon of {sides} corners"


PART = rf"[+-]?{NUMBER}\s?%?"
"""Of a box's width or height, in per cent."""
CORNER_KINDS = "|".join(get_args(CornerKind))


@rule(
    rf"(?:(?P<s>square corners)|corners(?P<c>(?:\s+(?:(?:{CORNER_KINDS})\s+)?{LENGTH}){{1,4}}))",
    "corners 3mm",
    "a box's corners, clockwise from the top left: round, hollow, cut or notch, and how much is taken off",
    "Frames",
    "corners cut 3mm 3mm 0mm 0mm, corners hollow 4mm, square corners",
)
def _corners(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m["s"]:
        out.changes["outline"] = "box"
        return "square corners"
    kind: Any = "round"
    each: list[tuple[float, Any]] = []
    for corner in re.finditer(rf"(?:(?P<k>{CORNER_KINDS})\s+)?(?P<l>{LENGTH})", m["c"], re.I):
        kind = (corner["k"] or kind).lower()
        each.append((_own_unit(corner["l"], names), kind))
    pairs = four(each)
    radii, kinds = tuple(r for r, _ in pairs), tuple(k for _, k in pairs)
    out.changes["outline"] = Outline("box", radii=radii, corners=kinds)  # type: ignore[arg-type]
    return "corners " + ", ".join(f"{k} {lengths.show(r, names.unit)}" for r, k in dict.fromkeys(pairs))


@rule(
    rf"star\s+(?P<n>[3-9]|[1-4]\d)(?:\s+(?P<d>{NUMBER})\s?%)?",
    "star 5 45%",
    "a star with this many points; the depth of its inner corners",
    "Frames",
)
def _star(out: SpecReading, m: re.Match[str], names: Names) -> str:
    depth = min(max(number(m["d"] or "50"), 1.0), 99.0)
    out.changes["outline"] = Outline("polygon", star_polygon(int(m["n"]), depth / 100))
    return f"as a star of {m['n']} points, {depth:g} % deep"


@rule(rf"opacity\s+(?P<n>{NUMBER})\s?%", "opacity 60%", "opacity of the whole object", "Frames")
def _opacity(out: SpecReading, m: re.Match[str], names: Names) -> str:
    value = min(number(m["n"]), 100.0)
    set_frame(out, opacity=value / 100)
    return f"{value:g} % opaque"


@rule(
    rf"(?:(?P<s>soft edge)(?:\s+(?P<l>{LENGTH}))?|hard edge)",
    "soft edge 4pt",
    "fades inward from the outline; hard edge removes it",
    "Frames",
    "hard edge",
)
def _soft_edge(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if not m["s"]:
        set_frame(out, soft_edge=0.0)
        return "no soft edge"
    value = min(max(lengths.parse(m["l"].replace(",", "."), "pt") if m["l"] else 6.0, 0.0), 500.0)
    set_frame(out, soft_edge=value)
    return f"soft edge {value:g} pt"


BLENDED = {blend_words(blend): blend for blend in BLENDS}


@rule(
    rf"blend\s+(?P<b>{'|'.join(BLENDED).replace(' ', '[ -]')})",
    "blend multiply",
    "blend mode: " + ", ".join(BLENDED),
    "Frames",
    "blend normal, blend soft light",
)
def _blend(out: SpecReading, m: re.Match[str], names: Names) -> str:
    words = m["b"].lower().replace("-", " ")
    set_frame(out, blend=BLENDED[words])
    return f"blend mode {words}"


@rule(
    r"(?:(?P<p>ignores wraps|passes)|heeds wraps|keeps clear)",
    "ignores wraps",
    "ignores the text wrap of other frames; heeds wraps removes it",
    "Frames",
    "heeds wraps",
)
def _passes(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_frame(out, passes=bool(m["p"]))
    return f"{'ignores' if m['p'] else 'obeys'} the text wrap of other frames"


@rule(
    r"overprints|(?P<k>knocks out)",
    "overprints",
    "prints its inks on top of those below; knocks out removes it",
    "Frames",
    "knocks out",
)
def _overprint(out: SpecReading, m: re.Match[str], names: Names) -> str:
    set_frame(out, overprint=not m["k"])
    return "knocks out the inks below" if m["k"] else "overprints the inks below"


@rule(
    rf"gradient (?:from\s+(?P<a>{PART})\s+(?P<b>{PART})\s+to\s+(?P<c>{PART})\s+(?P<d>{PART})|(?P<o>by its box))",
    "gradient from 0% 0% to 100% 50%",
    "start and end of its gradient, in per cent across and down; by its box removes it",
    "Frames",
    "gradient by its box",
)
def _way(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m["o"]:
        set_frame(out, way=())
        return "gradient across the frame"
    parts = [number(m[name].replace("%", "")) for name in "abcd"]
    way = tuple(min(max(part / 100, -10.0), 10.0) for part in parts)
    if way[:2] == way[2:]:
        raise ValueError("The start and end of a gradient must differ.")
    set_frame(out, way=way)
    return "gradient from {:g} % across, {:g} % down to {:g} %, {:g} %".format(*parts)


@rule(rf"rotate\s+(?P<n>[+-]?{NUMBER})\s?°?", "rotate 15", "rotation clockwise, in degrees", "Frames")
def _rotate(out: SpecReading, m: re.Match[str], names: Names) -> str:
    out.changes["rotation"] = number(m["n"]) % 360
    return f"rotated by {number(m['n']):g}°"


@rule(rf"(?:skew|lean)\s+(?P<n>[+-]?{NUMBER})\s?°?", "skew 12", "skew to the right, in degrees", "Frames")
def _skew(out: SpecReading, m: re.Match[str], names: Names) -> str:
    out.changes["skew"] = min(max(number(m["n"]), -85.0), 85.0)
    return f"skewed by {number(m['n']):g}°"


@rule(
    r"(?P<n>not )?(?:flipped|mirrored)",
    "flipped",
    "flipped horizontally; not flipped removes it",
    "Frames",
    "not flipped",
)
def _flipped(out: SpecReading, m: re.Match[str], names: Names) -> str:
    out.changes["mirrored"] = not m["n"]
    return "not flipped" if m["n"] else "flipped horizontally"


@rule(
    rf"(?:(?P<no>not along)|along(?P<w> above| middle| below)?(?:\s+from\s+(?P<f>{NUMBER})\s?%)?)",
    "along above from 25%",
    "text on a path: the first line follows the outline above, across or below it; and where it starts",
    "Frames",
    "along below, not along",
)
def _along(out: SpecReading, m: re.Match[str], names: Names) -> str:
    if m["no"]:
        out.changes["along"] = ""
        return "not on a path"
    out.changes["along"] = (m["w"] or "above").strip().lower()
    if m["f"]:
        out.changes["along_from"] = min(number(m["f"]), 100.0) / 100
    return f"text on a path, {out.changes['along']}" + (f", from {m['f']} %" if m["f"] else "")


@rule(
    rf"(?:no fit|fit (?P<k>line|text|height)(?:\s+(?P<a>{NUMBER})\s+to\s+(?P<b>{NUMBER})(?:\s?pt)?)?)",
    "fit text 8 to 14",
    "fit always: fit line the largest size on one line, fit text in the frame, both between two sizes; fit height the "
    "frame to its text",
    "Frames",
    "fit line, fit text, fit height, no fit",
)
def _fit_frame(out: SpecReading, m: re.Match[str], names: Names) -> str:
    kind = (m["k"] or "none").lower()
    out.changes["fit"] = "size" if kind == "text" else kind
    words = {
        "none": "not fitted",
        "line": "largest size on one line",
        "text": "largest size that fits",
        "height": "frame height fits the text",
    }[kind]
    if m["a"] and kind in ("line", "text"):
        out.changes["fit_sizes"] = (number(m["a"]), number(m["b"]))
        words += f", {m['a']} to {m['b']} pt"
    return words


@rule(r"clear|as the style", "clear", "clear local formatting", "Styles", "as the style")
def _clear(out: SpecReading, m: re.Match[str], names: Names) -> str:
    out.clear = True
    return "local formatting cleared"
