"""Colour spaces of placed pages (ISO 32000-2, 8.6) as inks: how much of each a colour prints."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import pikepdf

from lexigon.core.colour.colours import ALL, Colour
from lexigon.core.colour.profiles import Profile
from lexigon.core.picture.pdffunctions import FunctionError, read_function

PROCESS = ("Cyan", "Magenta", "Yellow", "Black")
COUNT = {
    "/DeviceGray": 1,
    "/CalGray": 1,
    "/G": 1,
    "/DeviceRGB": 3,
    "/CalRGB": 3,
    "/RGB": 3,
    "/DeviceCMYK": 4,
    "/CMYK": 4,
}
Values = Sequence[float]


class Unreadable(Exception):
    """A page that is not understood well enough to take its plates apart."""


@dataclass(slots=True, frozen=True)
class Space:
    """A colour space: how many components a colour has, those it begins with, its amount of an ink by name, and the
    inks it prints at all (None for all process inks): of others it leaves the plates alone where it overprints."""

    count: int
    initial: tuple[float, ...]
    amount: Callable[[Values, str], float]
    inks: frozenset[str] | None = None
    process: bool = False
    """It is DeviceCMYK itself, in which an amount of none may overprint (OPM 1, ISO 32000-2, 11.7.4.4)."""
    pattern: bool = False
    indexed: Any = None
    """Of an indexed space its base and table, for images."""
    light: Literal["", "rgb", "lab"] = ""
    """Its three components are light, or CIE L*a*b*."""
    ranges: tuple[float, ...] = ()
    """The least and the most of each component, where that is not 0 and 1."""


def device_space(name: str, profile: Profile) -> Space:
    """One that is called by its name alone. Raises Unreadable."""
    if name == "/Pattern":
        return Space(0, (), lambda values, ink: 0.0, pattern=True)
    count = COUNT.get(name)
    if count == 1:
        return Space(1, (0.0,), lambda values, ink: (1 - values[0]) * (ink == "Black"))
    if count == 3:
        return Space(3, (0.0,) * 3, lambda values, ink: _separated(tuple(values), ink, profile), light="rgb")
    if count == 4:
        return Space(4, (0.0, 0.0, 0.0, 1.0), lambda values, ink: _process(values, ink), process=True)
    raise Unreadable(f"The colour space {name} is not known.")


def _process(values: Values, ink: str) -> float:
    return values[PROCESS.index(ink)] if ink in PROCESS else 0.0


def _separated(light: tuple[float, ...], ink: str, profile: Profile) -> float:
    return _process(Colour("rgb", light).inks(profile), ink)


def _lab_space(obj: Any, profile: Profile) -> Space:
    """CIE L*a*b* (8.6.5.4); whatever its white is, that is the paper's."""
    ends = [float(v) for v in obj[1].get("/Range", (-100, 100, -100, 100))]

    def amount(values: Values, ink: str) -> float:
        light, *rest = values
        a, b = (min(max(v, ends[2 * at]), ends[2 * at + 1]) for at, v in enumerate(rest))
        return _process(Colour("lab", (min(max(light, 0.0), 100.0), a, b)).inks(profile), ink)

    return Space(3, (0.0, max(0.0, ends[0]), max(0.0, ends[2])), amount, light="lab", ranges=(0.0, 100.0, *ends))


def space_of(obj: Any, profile: Profile, named: Any = None) -> Space:
    """A colour space as a file has it; ``named`` are those of the resources. Raises Unreadable."""
    if isinstance(obj, pikepdf.Name):
        space = named.get(str(obj)) if named is not None else None
        return device_space(str(obj), profile) if space is None else space_of(space, profile)
    kind = str(obj[0])
    if kind == "/ICCBased":
        return device_space({1: "/DeviceGray", 3: "/DeviceRGB", 4: "/DeviceCMYK"}.get(int(obj[1].N), ""), profile)
    if kind == "/Separation":
        return _inks([str(obj[1])[1:]])
    if kind == "/DeviceN":
        return _inks([str(name)[1:] for name in obj[1]])
    if kind in ("/Indexed", "/I"):
        return _indexed(obj, profile, named)
    if kind == "/Pattern" and len(obj) > 1:
        base = space_of(obj[1], profile, named)
        return replace(base, pattern=True)
    if kind == "/Lab":
        return _lab_space(obj, profile)
    if len(obj) == 1 or kind in ("/CalGray", "/CalRGB"):
        return device_space(kind, profile)
    raise Unreadable(f"The colour space {kind} is not known.")


def _inks(names: list[str]) -> Space:
    def amount(values: Values, ink: str) -> float:
        return max((value for name, value in zip(names, values, strict=True) if name in (ink, ALL)), default=0.0)

    inks = None if ALL in names else frozenset(names)
    return Space(len(names), (1.0,) * len(names), amount, inks)


def _indexed(obj: Any, profile: Profile, named: Any) -> Space:
    base = space_of(obj[1], profile, named)
    table = obj[3].read_bytes() if isinstance(obj[3], pikepdf.Stream) else bytes(obj[3])

    def amount(values: Values, ink: str) -> float:
        at = int(values[0]) * base.count
        return base.amount([part / 255 for part in table[at : at + base.count].ljust(base.count, b"\0")], ink)

    return Space(1, (0.0,), amount, base.inks, indexed=(base, table))


STEPS = 256


def colours_along(shading: Any, space: Space) -> list[tuple[float, ...]]:
    """The colours of a shading that has a function, at 256 places along what that takes: of one along a line or a
    circle (types 2 and 3) its way, of a mesh (types 4 to 7) what its corners have. Raises Unreadable."""
    mesh = int(shading.ShadingType) >= 4
    try:
        function = read_function(shading.Function)
    except FunctionError as error:
        raise Unreadable(str(error)) from error
    begin, end = (float(v) for v in (list(shading.Decode)[4:6] if mesh else shading.get("/Domain", (0, 1))))
    colours = [function(begin + (end - begin) * at / (STEPS - 1)) for at in range(STEPS)]
    if any(len(values) != space.count for values in colours):
        raise Unreadable("A colour has too many or too few components.")
    return colours


def table_function(pdf: pikepdf.Pdf, shading: Any, rows: Sequence[Sequence[float]]) -> Any:
    """A function (7.10.2) that has what ``colours_along`` became in place of the shading's own: a row for each place,
    of components from 0 to 1."""
    stream = pdf.make_stream(bytes(round(255 * min(max(value, 0.0), 1.0)) for row in rows for value in row))
    mesh = int(shading.ShadingType) >= 4
    stream.FunctionType, stream.Size, stream.BitsPerSample = 0, pikepdf.Array([len(rows)]), 8
    stream.Domain = pikepdf.Array(list(shading.Decode)[4:6]) if mesh else shading.get("/Domain", pikepdf.Array([0, 1]))
    stream.Range = pikepdf.Array([0, 1] * len(rows[0]))
    return stream
