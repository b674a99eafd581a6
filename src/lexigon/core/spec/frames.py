"""Phrases about frames, and the one that gives settings up."""

from __future__ import annotations

import re
from typing import Any, get_args

from lexigon.core import lengths
from lexigon.core.blending import BLENDS, blend_words
from lexigon.core.geometry import regular_polygon
from lexigon.core.job.model import Outline, Wrap
from lexigon.core.job.model.frames import CornerKind
from lexigon.core.path.shapes import star_polygon
from lexigon.core.spec.rules import (
    LENGTH,
    NUMBER,
    Names,
    Understood,
    four,
    number,
    rule,
    set_frame,
)


@rule(r"(?P<n>\d{1,2}) columns?", "2 columns", "columns of a frame", "Frames", "1 column")
def _columns(out: Understood, m: re.Match[str], names: Names) -> str:
    set_frame(out, columns=int(m["n"]))
    return f"{m['n']} columns" if m["n"] != "1" else "one column"


def _own_unit(text: str, names: Names) -> float:
    return lengths.parse(text.replace(",", "."), names.unit)


@rule(rf"gutter\s+(?P<l>{LENGTH})", "gutter 5mm", "between columns", "Frames")
def _gutter(out: Understood, m: re.Match[str], names: Names) -> str:
    value = _own_unit(m["l"], names)
    set_frame(out, gutter=value)
    return f"gutter {lengths.show(value, names.unit)}"


@rule(
    rf"insets?\s+(?P<l>{LENGTH}(?:\s+{LENGTH}){{0,3}})",
    "insets 3mm",
    "text from the edges: one length, or head right foot left",
    "Frames",
)
def _insets(out: Understood, m: re.Match[str], names: Names) -> str:
    values = [_own_unit(part, names) for part in re.findall(LENGTH, m["l"])]
    set_frame(out, insets=four(values))
    return "insets " + " ".join(lengths.show(v, names.unit) for v in values)


@rule(r"(?P<no>not |un)?balanced", "balanced", "last columns equally high", "Frames", "not balanced")
def _balanced(out: Understood, m: re.Match[str], names: Names) -> str:
    set_frame(out, balanced=not m["no"])
    return "columns as they fill" if m["no"] else "columns balanced"


@rule(
    rf"text at (?P<v>head|middle|foot)|(?P<j>text spread)(?:\s+(?P<l>{LENGTH}))?", "text at middle",
    "where text stands: text at head, middle, foot; text spread 4mm over the height, so much between paragraphs at most", "Frames",
    "text at head, text at foot, text spread",
)  # fmt: skip
def _vertical(out: Understood, m: re.Match[str], names: Names) -> str:
    where: dict[str, Any] = {"head": "top", "middle": "centre", "foot": "bottom"}
    set_frame(out, vertical="justified" if m["j"] else where[m["v"].lower()])
    if m["l"]:
        set_frame(out, stretch=_own_unit(m["l"], names))
    return "text spread over the height" if m["j"] else f"text at the {m['v'].lower()}"


@rule(
    rf"first line (?:(?P<r>ascent|capital|x-height|leading)(?:\s+at least\s+(?P<m>{LENGTH}))?|(?P<l>{LENGTH}))",
    "first line capital",
    "what of the first line reaches the head, at least so far down; or its distance",
    "Frames",
    "first line ascent, first line x-height, first line leading",
)
def _first(out: Understood, m: re.Match[str], names: Names) -> str:
    if m["l"]:
        set_frame(out, first="fixed", first_at=_own_unit(m["l"], names))
        return f"first baseline {m['l']} down"
    set_frame(out, first=m["r"].lower(), first_at=_own_unit(m["m"], names) if m["m"] else 0.0)
    return f"first line at its {m['r'].lower()}" + (f", at least {m['m']} down" if m["m"] else "")


@rule(rf"(?:no wrap|wrap(?:\s+(?P<s>both|left|right|largest|jump))?(?P<o>\s+outline)?(?P<c>\s+contour)?(?P<i>\s+inside)?(?:\s+(?P<l>{LENGTH}(?:\s+{LENGTH}){{0,3}}))?)", "wrap both outline 3mm",
      "text keeps clear of the frame: on both sides, left, right, largest, jump; outline its shape, inside only within; one distance, or head right foot left", "Frames",
      "no wrap, wrap left, wrap right, wrap largest, wrap jump")  # fmt: skip
def _wrap(out: Understood, m: re.Match[str], names: Names) -> str:
    if m[0].lower() == "no wrap":
        set_frame(out, wrap=Wrap("none"))
        return "text runs over it"
    offsets = four([_own_unit(part, names) for part in re.findall(LENGTH, m["l"] or "0")])
    offset = max(offsets)
    sides: Any = (m["s"] or "both").lower()
    set_frame(out, wrap=Wrap(sides, offsets, bool(m["o"] or m["i"]), bool(m["i"]), bool(m["c"])))
    if m["i"]:
        return "text only inside its outline"
    said = {"both": "on both sides", "largest": "on its wider side", "jump": "above and below"}.get(
        sides, f"on its {sides}"
    )
    return f"text {said} of its {'outline' if m['o'] else 'box'}" + (
        f", {lengths.show(offset, names.unit)} away" if offset else ""
    )


@rule(
    r"(?:(?P<s>ellipse|box(?: outline)?|triangle|diamond|hexagon)|polygon\s+(?P<n>[3-9]|1\d|2[0-4]))", "polygon 6",
    "the frame's outline: ellipse, triangle, diamond, hexagon, polygon with so many corners, box outline", "Frames",
    "ellipse, box outline, triangle, diamond, hexagon",
)  # fmt: skip
def _outline(out: Understood, m: re.Match[str], names: Names) -> str:
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
    rf"(?:(?P<s>square corners)|corners(?P<c>(?:\s+(?:(?:{CORNER_KINDS})\s+)?{LENGTH}){{1,4}}))", "corners 3mm",
    "a box's corners, from the head's left clockwise: round, hollow, cut or notch, and how much is taken off", "Frames",
    "corners cut 3mm 3mm 0mm 0mm, corners hollow 4mm, square corners",
)  # fmt: skip
def _corners(out: Understood, m: re.Match[str], names: Names) -> str:
    if m["s"]:
        out.changes["outline"] = "box"
        return "square corners"
    kind: Any = "round"
    each: list[tuple[float, Any]] = []
    for said in re.finditer(rf"(?:(?P<k>{CORNER_KINDS})\s+)?(?P<l>{LENGTH})", m["c"], re.I):
        kind = (said["k"] or kind).lower()
        each.append((_own_unit(said["l"], names), kind))
    pairs = four(each)
    radii, kinds = tuple(r for r, _ in pairs), tuple(k for _, k in pairs)
    out.changes["outline"] = Outline("box", radii=radii, corners=kinds)  # type: ignore[arg-type]
    return "corners " + ", ".join(f"{k} {lengths.show(r, names.unit)}" for r, k in dict.fromkeys(pairs))


@rule(
    rf"star\s+(?P<n>[3-9]|[1-4]\d)(?:\s+(?P<d>{NUMBER})\s?%)?", "star 5 45%",
    "a star of so many points, whose inner corners lie so far in", "Frames",
)  # fmt: skip
def _star(out: Understood, m: re.Match[str], names: Names) -> str:
    depth = min(max(number(m["d"] or "50"), 1.0), 99.0)
    out.changes["outline"] = Outline("polygon", star_polygon(int(m["n"]), depth / 100))
    return f"as a star of {m['n']} points, {depth:g} % deep"


@rule(rf"opacity\s+(?P<n>{NUMBER})\s?%", "opacity 60%", "how much it covers of what lies below, as one", "Frames")
def _opacity(out: Understood, m: re.Match[str], names: Names) -> str:
    value = min(number(m["n"]), 100.0)
    set_frame(out, opacity=value / 100)
    return f"{value:g} % opaque"


@rule(
    rf"(?:(?P<s>soft edge)(?:\s+(?P<l>{LENGTH}))?|hard edge)", "soft edge 4pt",
    "it fades out inward from its outline; hard edge takes that back", "Frames", "hard edge",
)  # fmt: skip
def _soft_edge(out: Understood, m: re.Match[str], names: Names) -> str:
    if not m["s"]:
        set_frame(out, soft_edge=0.0)
        return "with a hard edge"
    value = min(max(lengths.parse(m["l"].replace(",", "."), "pt") if m["l"] else 6.0, 0.0), 500.0)
    set_frame(out, soft_edge=value)
    return f"its edge fades over {value:g} pt"


BLENDED = {blend_words(blend): blend for blend in BLENDS}


@rule(
    rf"blend\s+(?P<b>{'|'.join(BLENDED).replace(' ', '[ -]')})", "blend multiply",
    "how it is mixed with what lies below: " + ", ".join(BLENDED), "Frames", "blend normal, blend soft light",
)  # fmt: skip
def _blend(out: Understood, m: re.Match[str], names: Names) -> str:
    words = m["b"].lower().replace("-", " ")
    set_frame(out, blend=BLENDED[words])
    return "mixed as it is" if words == "normal" else f"mixed by {words}"


@rule(
    r"(?:(?P<p>ignores wraps|passes)|heeds wraps|keeps clear)",
    "ignores wraps",
    "its text ignores other frames' wraps; heeds wraps takes it back",
    "Frames",
    "heeds wraps",
)
def _passes(out: Understood, m: re.Match[str], names: Names) -> str:
    set_frame(out, passes=bool(m["p"]))
    return f"text {'ignores' if m['p'] else 'heeds'} other frames' wraps"


@rule(
    r"overprints|(?P<k>knocks out)",
    "overprints",
    "its inks go over those below it; knocks out takes it back",
    "Frames",
    "knocks out",
)
def _overprint(out: Understood, m: re.Match[str], names: Names) -> str:
    set_frame(out, overprint=not m["k"])
    return "knocks out what lies below it" if m["k"] else "overprints what lies below it"


@rule(
    rf"gradient (?:from\s+(?P<a>{PART})\s+(?P<b>{PART})\s+to\s+(?P<c>{PART})\s+(?P<d>{PART})|(?P<o>by its box))", "gradient from 0% 0% to 100% 50%",
    "where a gradient that fills it begins and ends, across and down its box; by its box takes it back", "Frames", "gradient by its box",
)  # fmt: skip
def _way(out: Understood, m: re.Match[str], names: Names) -> str:
    if m["o"]:
        set_frame(out, way=())
        return "a gradient goes by the box"
    parts = [number(m[name].replace("%", "")) for name in "abcd"]
    way = tuple(min(max(part / 100, -10.0), 10.0) for part in parts)
    if way[:2] == way[2:]:
        raise ValueError("A gradient goes from one point to another.")
    set_frame(out, way=way)
    return "a gradient from {:g} % across, {:g} % down to {:g} %, {:g} %".format(*parts)


@rule(rf"rotate\s+(?P<n>[+-]?{NUMBER})\s?°?", "rotate 15", "turned clockwise, in degrees", "Frames")
def _rotate(out: Understood, m: re.Match[str], names: Names) -> str:
    out.changes["rotation"] = number(m["n"]) % 360
    return f"turned by {number(m['n']):g}°"


@rule(rf"lean\s+(?P<n>[+-]?{NUMBER})\s?°?", "lean 12", "leaning to the right, in degrees", "Frames")
def _lean(out: Understood, m: re.Match[str], names: Names) -> str:
    out.changes["skew"] = min(max(number(m["n"]), -85.0), 85.0)
    return f"leaning by {number(m['n']):g}°"


@rule(
    r"(?P<n>not )?mirrored",
    "mirrored",
    "left and right exchanged; not mirrored takes it back",
    "Frames",
    "not mirrored",
)
def _mirrored(out: Understood, m: re.Match[str], names: Names) -> str:
    out.changes["mirrored"] = not m["n"]
    return "as it was drawn" if m["n"] else "left and right exchanged"


@rule(
    rf"(?:(?P<no>not along)|along(?P<w> above| middle| below)?(?:\s+from\s+(?P<f>{NUMBER})\s?%)?)", "along above from 25%",
    "its first line runs along the frame's outline: above, middle, below; from so far along it", "Frames", "along below, not along",
)  # fmt: skip
def _along(out: Understood, m: re.Match[str], names: Names) -> str:
    if m["no"]:
        out.changes["along"] = ""
        return "within the frame"
    out.changes["along"] = (m["w"] or "above").strip().lower()
    if m["f"]:
        out.changes["along_from"] = min(number(m["f"]), 100.0) / 100
    return f"along the outline, {out.changes['along']}" + (f", from {m['f']} % on" if m["f"] else "")


@rule(
    rf"(?:no fit|fit (?P<k>line|text|height)(?:\s+(?P<a>{NUMBER})\s+to\s+(?P<b>{NUMBER})(?:\s?pt)?)?)", "fit text 8 to 14",
    "kept: fit line the largest size on one line, fit text in the frame, both between two sizes; fit height the frame to its text", "Frames",
    "fit line, fit text, fit height, no fit",
)  # fmt: skip
def _fit_frame(out: Understood, m: re.Match[str], names: Names) -> str:
    kind = (m["k"] or "none").lower()
    out.changes["fit"] = "size" if kind == "text" else kind
    said = {"none": "size and frame as they are", "line": "as large as one line holds", "text": "as large as the frame holds",
            "height": "frame as high as its text"}[kind]  # fmt: skip
    if m["a"] and kind in ("line", "text"):
        out.changes["fit_sizes"] = (number(m["a"]), number(m["b"]))
        said += f", {m['a']} to {m['b']} pt"
    return said


@rule(r"clear|as the style", "clear", "give up local changes", "Styles", "as the style")
def _clear(out: Understood, m: re.Match[str], names: Names) -> str:
    out.clear = True
    return "local changes cleared"
