"""Named page sizes, in points.

A and B series: ISO 216:2007, trimmed sizes in millimetres; each size is the one before it halved across its longer
side, rounded down (clause 3). Envelopes: ISO 269:1985, from memory. Inch sizes, book trims and cards: common practice,
no source.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import groupby

from lexigon.core.lengths import POINTS


@dataclass(slots=True, frozen=True)
class Size:
    id: str
    name: str
    width: float
    height: float
    unit: str
    group: str = ""


def millimetres(id_: str, width: float, height: float, group: str = "", note: str = "") -> Size:
    name = f"{id_.upper()}{', ' + note if note else ''}, {width:g} × {height:g} mm"
    return Size(id_, name, width * POINTS["mm"], height * POINTS["mm"], "mm", group)


def inches(width: float, height: float, note: str, group: str = "", id_: str = "") -> Size:
    id_ = id_ or f"{width:g}x{height:g}in"
    return Size(id_, f"{width:g} × {height:g} in, {note}", width * POINTS["in"], height * POINTS["in"], "in", group)


def series(letter: str, width: int, height: int, count: int) -> Iterator[Size]:
    """Sizes 0 to ``count`` of an ISO 216 series from its largest."""
    for number in range(count + 1):
        yield millimetres(f"{letter}{number}", width, height, f"ISO {letter.upper()} series")
        width, height = height // 2, width


SIZES = {
    size.id: size
    for size in (
        *(
            inches(w, h, note, "Book trims")
            for w, h, note in (
                (4.25, 6.87, "pocket book"),
                (5, 8, "novel"),
                (5.25, 8, "novel"),
                (5.5, 8.5, "digest"),
                (6, 9, "trade book"),
                (6.14, 9.21, "royal"),
                (7, 10, "textbook"),
                (8, 10, "picture book"),
                (8.5, 8.5, "square book"),
            )
        ),
        *series("a", 841, 1189, 8),
        *series("b", 1000, 1414, 8),
        *(
            inches(w, h, note, "Inch sheets")
            for w, h, note in ((8.5, 11, "letter"), (8.5, 14, "legal"), (11, 17, "tabloid"))
        ),
        Size("business", "Business card, 85 × 55 mm", 85 * POINTS["mm"], 55 * POINTS["mm"], "mm", "Cards"),
        *(
            inches(w, h, note, "Cards")
            for w, h, note in (
                (3.5, 2, "business card"),
                (4, 6, "postcard"),
                (5, 7, "greeting card"),
                (5, 5, "square card"),
            )
        ),
        *(
            millimetres(name, w, h, "Envelopes, ISO 269")
            for name, w, h in (
                ("dl", 110, 220),
                ("c6", 114, 162),
                ("c6/c5", 114, 229),
                ("c5", 162, 229),
                ("c4", 229, 324),
            )
        ),
    )
}


def grouped() -> list[tuple[str, list[Size]]]:
    """The sizes by group, in order."""
    return [(group, list(sizes)) for group, sizes in groupby(SIZES.values(), lambda size: size.group)]


def named(width: float, height: float) -> str:
    """The id of the named size of these measures, or "" ."""
    for size in SIZES.values():
        if abs(size.width - width) < 0.05 and abs(size.height - height) < 0.05:
            return size.id
    return ""
