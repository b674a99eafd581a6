"""Kinds of codes for machines: what each holds, how it is read, what may be set of it. How one is drawn is ``codes``'
business."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf
from typing import Literal

CodeForm = Literal["qr", "data matrix", "ean 13", "ean 8", "upc a", "itf 14", "code 128"]
"""ISO/IEC 18004, 16022, 15420, 16390, 15417."""


@dataclass(slots=True, frozen=True)
class Symbology:
    """A kind of code (ISO/IEC 19762). Lengths in millimetres."""

    name: str
    description: str
    """Its name and what it is for."""
    size: tuple[float, float]
    """A new one's width and height."""
    module: tuple[float, float]
    """The least and the greatest module that is read well: one of a matrix, the narrowest bar."""
    message: bool = False
    """It says a message by its parts, in modules; the others are bars."""
    digits: int = 0
    """Of a number of articles, its check digit included."""
    example: str = ""
    most: int = 0
    """Bytes that the largest holds; 0 for no such limit."""
    most_by_level: tuple[tuple[str, int], ...] = ()
    """The same by how much of it may be lost."""
    full: float = 0.0
    """A module at full size (GS1 General Specifications, 5.2.6 and 5.3.2)."""
    addon: bool = False
    """Whether an add-on may follow it."""

    def holds(self, level: str) -> int:
        """Bytes that the largest holds with so much that may be lost; 0 for no limit."""
        return dict(self.most_by_level).get(level, self.most)


ARTICLE = 0.33
READ_IN_SHOPS = (0.264, 0.66)

SYMBOLOGIES: dict[CodeForm, Symbology] = {
    # ISO/IEC 18004, table 7; modules: common practice, no source.
    "qr": Symbology(
        "QR code",
        "QR code, for cameras",
        (25, 25),
        (0.33, inf),
        True,
        most_by_level=(("L", 2953), ("M", 2331), ("Q", 1663), ("H", 1273)),
    ),
    # ISO/IEC 16022, table 7; modules: common practice, no source.
    "data matrix": Symbology("Data Matrix", "Data Matrix, small and square", (15, 15), (0.255, inf), True, most=1555),
    # Of article numbers 80 to 200 % of 0.33 mm, of ITF-14 half to full size (GS1 General Specifications, 5.12.3).
    "ean 13": Symbology(
        "EAN-13",
        "EAN-13, for books and goods",
        (113 * ARTICLE, 26),
        READ_IN_SHOPS,
        digits=13,
        example="978-0-306-40615-7; the last figure may be left out",
        full=ARTICLE,
        addon=True,
    ),
    "ean 8": Symbology(
        "EAN-8",
        "EAN-8, for small goods",
        (81 * ARTICLE, 21),
        READ_IN_SHOPS,
        digits=8,
        example="9638507",
        full=ARTICLE,
        addon=True,
    ),
    "upc a": Symbology(
        "UPC-A", "UPC-A", (113 * ARTICLE, 26), READ_IN_SHOPS, digits=12, example="03600029145", full=ARTICLE, addon=True
    ),
    "itf 14": Symbology(
        "ITF-14", "ITF-14, for cartons", (143, 40), (0.495, 1.016), digits=14, example="1540014128876", full=1.016
    ),
    # Common practice, no source.
    "code 128": Symbology("Code 128", "Code 128, for letters and figures", (60, 18), (0.19, inf), example="SLACK-1234"),
}
