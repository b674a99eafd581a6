"""The test whether a PDF page can go unchanged into a file without transparency and with inks only (PDF/X-1a,
PDF/A-1b).

What such a file may have: ISO 15930-4 (PDF/X-1a:2003), 6.2 and 6.3, on top of PDF 1.4 (from memory). All that is
looked at are the resources of the page, in forms within forms, and the operators of its contents that choose colours.
What is not understood counts as not fit.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import Any

import pikepdf

from lexigon.core.picture.brokenpdf import BROKEN
from lexigon.core.picture.placedfaults import faults_of

MOST_LOOKED_AT = 2000
LIGHT = frozenset({"rg", "RG", "ri"})
"""Operators that choose light, or a way to print it."""
DEVICE = frozenset({"/DeviceGray", "/DeviceCMYK", "/G", "/CMYK", "/Pattern"})
FILTERS = frozenset(
    {
        "/FlateDecode",
        "/LZWDecode",
        "/ASCII85Decode",
        "/ASCIIHexDecode",
        "/RunLengthDecode",
        "/DCTDecode",
        "/CCITTFaxDecode",
        "/JBIG2Decode",
    }
)
"""Those of PDF 1.4."""
NORMAL = frozenset({"/Normal", "/Compatible"})


class _Unfit(Exception):
    """Something that such a file may not have, or that is not understood."""


@lru_cache(256)
def is_opaque_ink(path: Path, page: int) -> bool:
    """Return whether a page (the first is 1) has nothing transparent, and no colours but grey, process and spot inks,
    in terms of PDF 1.4."""
    if faults_of(path, page):
        return False
    try:
        with pikepdf.open(path) as pdf:
            for one in _painted(pdf.pages[page - 1].obj):
                _check(one)
    except (_Unfit, *BROKEN):
        return False
    return True


def _painted(page: Any) -> Iterator[Any]:
    """The page, and the forms, patterns and Type 3 glyphs drawn on it that have contents of their own, each once."""
    waiting, met = [page], set[tuple[int, int]]()
    for _ in range(MOST_LOOKED_AT):
        if not waiting:
            return
        one = waiting.pop()
        yield one
        resources = _resources(one)
        inner = [*_values(resources, "/XObject"), *_values(resources, "/Pattern")]
        inner += [
            letter
            for font in _values(resources, "/Font")
            if "/CharProcs" in font
            for letter in dict(font.CharProcs).values()
        ]
        for part in inner:
            if part.objgen not in met or part.objgen == (0, 0):
                met.add(part.objgen)
                waiting.append(part)
    raise _Unfit


def _resources(one: Any) -> Any:
    """The resources of a page, which may be those of the pages above it (ISO 32000-2, 7.7.3.4), or of a form; None
    where there are none."""
    for _ in range(MOST_LOOKED_AT):
        if "/Resources" in one or "/Parent" not in one:
            return one.get("/Resources")
        one = one.Parent
    raise _Unfit


def _values(resources: Any, kind: str) -> list[Any]:
    is_opaque = resources.get(kind) if resources is not None else None
    return list(dict(is_opaque).values()) if is_opaque is not None else []


def _check(one: Any) -> None:
    """Raise _Unfit for something that is painted and may not be."""
    if str(one.get("/Subtype")) == "/Image":
        _check_image(one)
        return
    if "/Shading" in one:  # a pattern that is one
        _check_shading(one.Shading)
        return
    resources = _resources(one)
    if "/Ref" in one or (str(one.get("/Subtype")) == "/Form" and resources is None):
        raise _Unfit
    for state in _values(resources, "/ExtGState"):
        _check_state(state)
    for space in _values(resources, "/ColorSpace"):
        _check_space(space)
    for shading in _values(resources, "/Shading"):
        _check_shading(shading)
    for font in _values(resources, "/Font"):
        _check_font(font)
    for instruction in pikepdf.parse_content_stream(one):
        operands: Any = instruction.operands
        name = str(instruction.operator)
        if name in LIGHT:
            raise _Unfit
        if name in ("cs", "CS") and str(operands[0]).startswith(("/DeviceRGB", "/RGB", "/CalRGB", "/Lab")):
            raise _Unfit
        if name == "INLINE IMAGE":
            _check_image(operands[0].obj)


def _check_state(state: Any) -> None:
    mode = state.get("/BM", "/Normal")
    modes = [str(one) for one in mode] if isinstance(mode, pikepdf.Array) else [str(mode)]
    is_opaque = all(float(state.get(key, 1)) == 1 for key in ("/ca", "/CA"))
    if not is_opaque or not set(modes) <= NORMAL or str(state.get("/SMask", "/None")) != "/None":
        raise _Unfit


def _check_space(space: Any) -> None:
    if not isinstance(space, pikepdf.Array):
        if str(space) not in DEVICE:
            raise _Unfit
        return
    kind = str(space[0])
    if kind in ("/Separation", "/DeviceN"):
        _check_space(space[2])
    elif kind in ("/Indexed", "/I") or (kind == "/Pattern" and len(space) > 1):
        _check_space(space[1])
    elif kind not in DEVICE:
        raise _Unfit


def _check_shading(shading: Any) -> None:
    _check_space(shading.ColorSpace)


def _check_image(image: Any) -> None:
    if any(key in image for key in ("/SMask", "/SMaskInData", "/Alternates", "/OPI")):
        raise _Unfit
    filters = image.get("/Filter", image.get("/F", pikepdf.Array()))
    named = [str(one) for one in filters] if isinstance(filters, pikepdf.Array) else [str(filters)]
    if not set(named) <= FILTERS or int(image.get("/BitsPerComponent", image.get("/BPC", 1))) > 8:
        raise _Unfit
    if not bool(image.get("/ImageMask", image.get("/IM", False))):
        _check_space(image.get("/ColorSpace", image.get("/CS")))


def _check_font(font: Any) -> None:
    below = font.get("/DescendantFonts")
    descriptor = (below[0] if below is not None and len(below) else font).get("/FontDescriptor")
    file = descriptor.get("/FontFile3") if descriptor is not None else None
    if file is not None and str(file.get("/Subtype")) == "/OpenType":  # of PDF 1.6
        raise _Unfit
