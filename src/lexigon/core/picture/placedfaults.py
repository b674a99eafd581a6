"""Faults of a placed PDF page that are not allowed in print files and cannot be corrected without changing its
appearance.

PDF/X-4 (ISO 15930-7) asks for every font within the file (6.3.1), and refuses transfer functions (6.2.5) and PostScript
(6.2.8); the clauses are
from memory. What says nothing but how a device is to screen, and alternatives for other devices, is omitted when a page
is placed
(``pdf/placed/pages.py``): it prints the same without.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any, Literal

MOST_LOOKED_AT = 5000
"""Resources of a page that are looked at, in forms within forms."""
UNCHANGED = frozenset({"/Identity", "/Default"})
"""Transfer functions that change nothing."""


@dataclass(slots=True, frozen=True)
class Fault:
    """``name`` is that of the font, "" for the other kinds."""

    kind: Literal["font", "transfer", "postscript"]
    name: str = ""


@lru_cache(256)
def faults_of(path: Path, page: int) -> tuple[Fault, ...]:
    """The faults of a page (the first is 1), each once; none of a file that cannot be read, which is reported
    elsewhere."""
    import pikepdf

    from lexigon.core.picture.brokenpdf import BROKEN

    try:
        with pikepdf.open(path) as pdf:
            return tuple(dict.fromkeys(_faults(pdf.pages[page - 1].resources)))
    except BROKEN:
        return ()


def _faults(resources: Any) -> Iterator[Fault]:
    """Those of some resources, and of what is painted with them."""
    waiting, met = [resources], set[tuple[int, int]]()
    for _ in range(MOST_LOOKED_AT):
        if not waiting:
            return
        one = waiting.pop()
        for font in _values(one, "/Font"):
            if str(font.get("/Subtype")) == "/Type3":
                waiting += _own(font, met)
            elif not _embedded(font):
                yield Fault("font", _plain_name(str(font.get("/BaseFont", "")).lstrip("/")))
        for state in _values(one, "/ExtGState"):
            if any(key in state and str(state[key]) not in UNCHANGED for key in ("/TR", "/TR2")):
                yield Fault("transfer")
        for painted in (*_values(one, "/XObject"), *_values(one, "/Pattern")):
            if str(painted.get("/Subtype")) == "/PS" or str(painted.get("/Subtype2")) == "/PS":
                yield Fault("postscript")
            waiting += _own(painted, met)


def _values(resources: Any, kind: str) -> list[Any]:
    values = resources.get(kind) if hasattr(resources, "get") else None
    return [value for value in dict(values).values() if hasattr(value, "get")] if values is not None else []


def _own(one: Any, met: set[tuple[int, int]]) -> list[Any]:
    """The resources of a form, a pattern or a font of shapes, unless they were looked at."""
    if one.objgen != (0, 0):
        if one.objgen in met:
            return []
        met.add(one.objgen)
    own = one.get("/Resources")
    return [own] if own is not None else []


def _embedded(font: Any) -> bool:
    """Return whether the letters of a font are in the file (ISO 32000-2, 9.9)."""
    below = font.get("/DescendantFonts")
    descendant = below[0] if below is not None and len(below) else font
    descriptor = descendant.get("/FontDescriptor")
    return descriptor is not None and any(key in descriptor for key in ("/FontFile", "/FontFile2", "/FontFile3"))


def _plain_name(name: str) -> str:
    """A font's name without the tag of a subset."""
    return name[7:] if len(name) > 7 and name[6] == "+" else name
