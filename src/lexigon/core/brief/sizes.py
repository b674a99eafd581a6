"""Named page sizes, in points.

A and B series: ISO 216:2007, trimmed sizes in millimetres. Inch sizes: common North American book
trims and sheets (common practice, no source).
"""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.lengths import POINTS


@dataclass(slots=True, frozen=True)
class Size:
    id: str
    name: str
    width: float
    height: float
    unit: str


def _mm(id_: str, width: float, height: float, note: str = "") -> Size:
    name = f"{id_.upper() if len(id_) < 4 else id_}{', ' + note if note else ''}, {width:g} × {height:g} mm"
    return Size(id_, name, width * POINTS["mm"], height * POINTS["mm"], "mm")


def _in(width: float, height: float, note: str) -> Size:
    return Size(f"{width:g}x{height:g}in", f"{width:g} × {height:g} in, {note}", width * 72, height * 72, "in")


SIZES = {
    size.id: size
    for size in (
        _in(5, 8, "novel"), _in(5.25, 8, "novel"), _in(5.5, 8.5, "digest"), _in(6, 9, "trade book"),
        _in(7, 10, "textbook"), _in(8, 10, "picture book"), _in(8.5, 11, "letter"), _in(4.25, 6.87, "pocket book"),
        _mm("a4", 210, 297), _mm("a5", 148, 210), _mm("a6", 105, 148), _mm("a3", 297, 420),
        _mm("b5", 176, 250), _mm("b6", 125, 176), _mm("b4", 250, 353),
    )
}  # fmt: skip


def named(width: float, height: float) -> str:
    """The id of the named size of these measures, or "" ."""
    for size in SIZES.values():
        if abs(size.width - width) < 0.05 and abs(size.height - height) < 0.05:
            return size.id
    return ""
