"""Palette files: swatches of a job written down for others, and read.

Three open forms. *Lexigon's* (JSON) says all there is: process, spot and screen colours, tints, gradients, groups. The
*GIMP palette* is a text of screen colours that many programs read; what is mixed of inks is in it as coated paper
looks, gradients are left out. Its lines: ``GIMP Palette``, ``Name:``, ``Columns:``, then ``red green blue<tab>name``
with 0 to 255 (from memory; the format has no standard). A *style sheet* has them as custom properties (CSS Custom
Properties 1), again as a screen shows them."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Mapping
from typing import Any, Literal

from lexigon.core.colour.notation import ColourError, read_colour
from lexigon.core.colour.palette import Palette
from lexigon.core.document.limits import MOST_ENTRIES
from lexigon.core.document.model import FORMAT, Swatch
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain, read
from lexigon.core.numerals import integer

PaletteForm = Literal["lexigon", "gpl", "css"]
SUFFIXES: dict[PaletteForm, str] = {"lexigon": ".swatches.json", "gpl": ".gpl", "css": ".css"}
KIND = "lexigon swatches"
MOST_BYTES = 4_000_000
LINE = re.compile(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*))?$")


PROPERTY = re.compile(r"(?<!-)--([\w-]{1,100}+)\s{0,9}+:([^;:{}]{1,100}+);(?:[ \t]{0,9}+/\*(.{0,200}?)\*/)?")
"""A custom property that may be a colour, and the comment after it; each part of a length in which a colour is
defined."""


class PaletteError(LexigonError):
    """The file is no palette this version can read."""


def write_palette(swatches: Mapping[str, Swatch], form: PaletteForm, name: str = "") -> bytes:
    """All swatches, in order, as a file."""
    if form == "lexigon":
        data = {"kind": KIND, "format": FORMAT, "name": name, "swatches": [plain(one) for one in swatches.values()]}
        return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()
    palette = Palette(swatches)
    if form == "css":
        rows = [
            f"  --{_slug(one.name, number)}: {palette.colour(one.id).css}; /* {_line(one.name).replace('*/', '')} */"
            for number, one in enumerate(swatches.values(), 1)
            if one.gradient is None
        ]
        return "\n".join([":root {", *rows, "}", ""]).encode()
    lines = ["GIMP Palette", f"Name: {_line(name) or 'Lexigon'}", "Columns: 4", "#"]
    for one in swatches.values():
        if one.gradient is None:
            red, green, blue = (round(value * 255) for value in palette.colour(one.id).rgb)
            lines.append(f"{red:3} {green:3} {blue:3}\t{_line(one.name)}")
    return ("\n".join(lines) + "\n").encode()


def _slug(name: str, number: int) -> str:
    """A name of a custom property (CSS Custom Properties 1, 2)."""
    slug = re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-")
    return slug or f"swatch-{number}"


def _line(words: str) -> str:
    return " ".join(words.split())


def read_palette(data: bytes) -> list[Swatch]:
    """The swatches of a palette file, with new ids. Raises PaletteError."""
    if len(data) > MOST_BYTES:
        raise PaletteError("A palette file has at most 4 MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    if text.startswith("GIMP Palette"):
        swatches = _gimp(text)
    elif not text.lstrip().startswith(("{", "[")) and PROPERTY.search(text):
        swatches = _css(text)
    else:
        swatches = _own(text)
    if not swatches:
        raise PaletteError("There are no colours in this palette file.")
    if len(swatches) > MOST_ENTRIES:
        raise PaletteError(f"A palette file has at most {integer(MOST_ENTRIES)} colours.")
    return swatches


def _own(text: str) -> list[Swatch]:
    try:
        data: Any = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise PaletteError(
            "This is not a palette file. Lexigon reads its own swatch files (.swatches.json), .gpl palettes and CSS "
            "files with colours."
        ) from error
    if not isinstance(data, dict) or data.get("kind") != KIND or not isinstance(data.get("swatches"), list):
        raise PaletteError(
            "This is not a palette file. Lexigon reads its own swatch files (.swatches.json), .gpl palettes and CSS "
            "files with colours."
        )
    if not isinstance(data.get("format"), int) or data["format"] > FORMAT:
        raise PaletteError("This palette was written by a newer Lexigon.")
    swatches: list[Swatch] = read(list[Swatch], data["swatches"])
    return list({one.id: one for one in swatches}.values())


def _css(text: str) -> list[Swatch]:
    """Read custom properties that are colours, such as ``--name: #1e5b4f`` or ``rgb(30 91 79)``; a comment after one is
    its name."""
    swatches = []
    for number, match in enumerate(PROPERTY.finditer(text), 1):
        try:
            space, values = read_colour(match[2].replace("(", " ").replace(")", " ").replace(",", " "))
        except ColourError:
            continue
        if space == "rgb":
            name = _line(match[3] or match[1].replace("-", " ").strip().capitalize())[:80]
            swatches.append(Swatch(f"c{number}", name, "rgb", values))
    return _named_apart(swatches)


def _gimp(text: str) -> list[Swatch]:
    group, swatches = "", list[Swatch]()
    for number, line in enumerate(text.splitlines()[1:], 2):
        if line.startswith("Name:"):
            group = _line(line.removeprefix("Name:"))[:80]
        if not line.strip() or line.startswith(("#", "Name:", "Columns:")):
            continue
        match = LINE.match(line)
        if match is None or any(int(value) > 255 for value in match.groups()[:3]):
            raise PaletteError(f"Line {number} of the palette is not a colour: “{line.strip()[:40]}”.")
        values = tuple(int(value) / 255 for value in match.groups()[:3])
        name = _line(match[4] or "")[:80]
        swatches.append(Swatch(f"g{number}", "" if name == "Untitled" else name, "rgb", values, group=group))
    return _named_apart(swatches)


def _named_apart(swatches: Iterable[Swatch]) -> list[Swatch]:
    """One of each colour and name."""
    return list({(one.name.casefold(), one.values): one for one in swatches}.values())
