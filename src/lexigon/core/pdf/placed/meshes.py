"""Shadings of placed pages that are meshes (ISO 32000-2, 8.7.4.5.5 to 8.7.4.5.8), with other colours at their
corners."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any

import pikepdf
from pikepdf import Array

from lexigon.core.pdf.placed.spaces import Unreadable

MESHES = (4, 5, 6, 7)
"""Triangles, a lattice, patches with their edges, and with all of their points."""
POINTS = {6: (12, 8), 7: (16, 12)}
"""Points of a patch that stands alone, and of one that shares an edge with the one before."""
COLOURS = (4, 2)
MOST_CORNERS = 200_000
PACKING = ("/Length", "/Filter", "/DecodeParms", "/Background")
Convert = Callable[[Sequence[float]], Sequence[float]]


class _Bits:
    """Reads numbers of so many bits from bytes, the highest bit first."""

    def __init__(self, data: bytes) -> None:
        self.data, self.at = data, 0

    @property
    def left(self) -> int:
        return 8 * len(self.data) - self.at

    def take(self, bits: int) -> int:
        end = self.at + bits
        if end > 8 * len(self.data):
            raise Unreadable("It has a mesh that breaks off.")
        first, last = self.at // 8, (end + 7) // 8
        value = int.from_bytes(self.data[first:last], "big") >> (8 * last - end)
        self.at = end
        return value & ((1 << bits) - 1)

    def to_byte(self) -> None:
        self.at = (self.at + 7) // 8 * 8


class _Out:
    """Writes numbers of so many bits."""

    def __init__(self) -> None:
        self.made, self.value, self.bits = bytearray(), 0, 0

    def put(self, value: int, bits: int) -> None:
        self.value, self.bits = self.value << bits | value, self.bits + bits
        while self.bits >= 8:
            self.bits -= 8
            self.made.append(self.value >> self.bits)
            self.value &= (1 << self.bits) - 1

    def to_byte(self) -> None:
        if self.bits:
            self.put(0, 8 - self.bits)


def recoloured(pdf: pikepdf.Pdf, shading: Any, convert: Convert, count: int, space: Any) -> Any:
    """A mesh without a function, with the colours at its corners converted to ``count`` components of ``space``. Raises
    Unreadable."""
    kind = int(shading.ShadingType)
    bits = {key: int(shading.get(f"/BitsPer{key}", 0)) for key in ("Flag", "Coordinate", "Component")}
    if not 1 <= bits["Coordinate"] <= 32 or not 1 <= bits["Component"] <= 16 or not 0 <= bits["Flag"] <= 8:
        raise Unreadable("It has a mesh of an unusual form.")
    decode = [float(v) for v in shading.Decode][4:]
    source, out = _Bits(shading.read_bytes()), _Out()
    for points, colours, flag in _corners(source, kind, bits["Flag"]):
        if flag is not None:
            out.put(flag, bits["Flag"])
        for _ in range(2 * points):
            out.put(source.take(bits["Coordinate"]), bits["Coordinate"])
        for _ in range(colours):
            whole = (1 << bits["Component"]) - 1
            values = [
                low + source.take(bits["Component"]) / whole * (high - low)
                for low, high in zip(decode[::2], decode[1::2], strict=True)
            ]
            for value in convert(values):
                out.put(round(255 * min(max(value, 0.0), 1.0)), 8)
        if kind in (4, 5):
            source.to_byte()
            out.to_byte()
    out.to_byte()
    stream = pikepdf.Stream(pdf, bytes(out.made))
    for key, value in dict(shading).items():
        if key not in PACKING:
            stream[key] = value
    stream.ColorSpace, stream.BitsPerComponent = space, 8
    stream.Decode = Array([*[float(v) for v in shading.Decode][:4], *[0, 1] * count])
    return pdf.make_indirect(stream)


def with_function(pdf: pikepdf.Pdf, shading: Any, function: Any, space: Any) -> Any:
    """A mesh with a function, with another function and another space."""
    stream = pikepdf.Stream(pdf, shading.read_bytes())
    for key, value in dict(shading).items():
        if key not in PACKING:
            stream[key] = value
    stream.ColorSpace, stream.Function = space, function
    return pdf.make_indirect(stream)


def _corners(source: _Bits, kind: int, flag_bits: int) -> Iterator[tuple[int, int, int | None]]:
    """Return how many points and colours come next, and the flag before them."""
    for _ in range(MOST_CORNERS):
        if source.left < 8:
            return
        if kind == 5:
            yield 1, 1, None
            continue
        flag = source.take(flag_bits)
        if kind == 4:
            yield 1, 1, flag
        else:
            alone = flag & 3 == 0
            yield POINTS[kind][0 if alone else 1], COLOURS[0 if alone else 1], flag
    raise Unreadable("It has a mesh with too many corners.")
