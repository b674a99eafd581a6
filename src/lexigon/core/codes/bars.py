"""Codes in bars: where each bar stands, how far down it goes, and the figures beside them for people.

EAN-13 with add-ons, EAN-8 and UPC-A by ISO/IEC 15420, ITF-14 by ISO/IEC 16390 and the GS1 General Specifications, Code
128 by ISO/IEC 15417. The bars are python-barcode's, those of add-ons our own. One module is the narrowest bar; of
ITF-14, whose wide bars are two and a half times as wide, half of that."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby
from typing import Literal

from lexigon.core.codes.modules import BARS_QUIET, CodeError
from lexigon.core.geometry import Rect

FIGURE = 7.0
"""Modules that a figure under the bars is high."""
FOOT = 9.0
"""The modules at the foot, beside which figures are printed."""
GUARD = 5.0
"""Modules that the bars at the ends and in the middle go further down (ISO/IEC 15420, 4.3.5)."""
APART = 9
"""Modules between an article's bars and its add-on: 7 to 12 are allowed (ISO/IEC 15420, 4.3.4)."""
BEARER = 4.0
"""Modules of the bars that bear an ITF-14 at head and foot."""
L = ("0001101", "0011001", "0010011", "0111101", "0100011", "0110001", "0101111", "0111011", "0110111", "0001011")
G = tuple("".join("1" if bit == "0" else "0" for bit in code)[::-1] for code in L)
"""Number sets A and B of ISO/IEC 15420, table 1; set B is C, which is A inverted and read backwards."""
TWO = ("LL", "LG", "GL", "GG")
FIVE = ("GGLLL", "GLGLL", "GLLGL", "GLLLG", "LGGLL", "LLGGL", "LLLGG", "LGLGL", "LGLLG", "LLGLG")
"""Which sets the figures of an add-on are in (ISO/IEC 15420, tables 4 and 5)."""


@dataclass(slots=True, frozen=True)
class Bar:
    """A bar from ``x``, so many modules wide; ``kind`` says how far down: ``guard`` further than the others, ``addon``
    from below its figures."""

    x: float
    width: float
    kind: Literal["", "guard", "addon"] = ""


@dataclass(slots=True, frozen=True)
class Words:
    """The human-readable text, centred in a number of modules from ``x``."""

    text: str
    x: float
    width: float
    where: Literal["foot", "head", "addon"] = "foot"


@dataclass(slots=True, frozen=True)
class Symbol:
    """Bars and words; ``across`` is their whole width in modules, the quiet zones included."""

    across: float
    bars: tuple[Bar, ...]
    words: tuple[Words, ...] = ()
    borne: bool = False

    def has(self, where: str) -> bool:
        return any(one.where == where for one in self.words)


@lru_cache(256)
def symbol_of(form: str, text: str, addon: str = "", words: bool = False, above: str = "") -> Symbol:
    """The bars of an ``ean 13``, ``ean 8``, ``upc a``, ``itf 14`` or ``code 128`` that holds ``text``, as
    ``article_numbers.normal`` leaves it. Raises CodeError."""
    if not text:
        raise CodeError("Type the content of the code.")
    if form in ("ean 13", "ean 8", "upc a"):
        return _article(form, text, addon, words, above)
    bits, quiet = (_code_128(text), BARS_QUIET) if form == "code 128" else (_itf(text), 2 * BARS_QUIET)
    across = len(bits) + 2 * quiet
    labels = [Words(text, quiet, len(bits))] if words else []
    if above:
        labels.append(Words(above, quiet, len(bits), "head"))
    return Symbol(across, tuple(_bars(bits, quiet)), tuple(labels), borne=form == "itf 14")


def _built(make: object, text: str) -> str:
    from barcode.errors import BarcodeError

    try:
        (bits,) = make(text).build()  # type: ignore[operator]
    except (BarcodeError, KeyError, ValueError, AssertionError, IndexError) as error:
        raise CodeError("This kind of code cannot contain these characters.") from error
    return str(bits)


def _code_128(text: str) -> str:
    from barcode.codex import Code128

    try:
        return _built(Code128, text)
    except CodeError as error:
        raise CodeError("Code 128 can contain unaccented letters, figures and punctuation only.") from error


def _itf(text: str) -> str:
    from barcode.itf import ITF

    if not text.isdigit() or len(text) != 14:
        raise CodeError("An ITF-14 has 14 figures.")
    return _built(ITF, text)


def _article(form: str, text: str, addon: str, words: bool, above: str) -> Symbol:
    from barcode.ean import EAN8, EAN13
    from barcode.upc import UPCA

    if not (text.isascii() and text.isdigit()) or len(text) != {"ean 13": 13, "ean 8": 8, "upc a": 12}[form]:
        raise CodeError("An article number consists of figures only.")
    bits = _built({"ean 13": EAN13, "ean 8": EAN8, "upc a": UPCA}[form], text)
    left, right = {"ean 13": (11, 7), "ean 8": (7, 7), "upc a": (9, 9)}[form]  # quiet zones, ISO/IEC 15420, table 6
    half = 28 if form == "ean 8" else 42
    ends = [(0, 3), (3 + half, 8 + half), (len(bits) - 3, len(bits))]
    if form == "upc a":
        ends[0], ends[2] = (0, 10), (len(bits) - 10, len(bits))  # the first and the last figure's bars too
    bars = [Bar(left + x, width, "guard" if any(a <= x < b for a, b in ends) else "") for x, width in _runs(bits)]
    labels: list[Words] = []
    if words:
        labels = _figures(form, text, left, half, len(bits))
    across = left + len(bits) + right
    if addon:
        start = left + len(bits) + APART
        more = _addon(addon)
        bars += [Bar(start + x, width, "addon") for x, width in _runs(more)]
        labels += [Words(addon, start, len(more), "addon")]
        across = start + len(more) + 5
    if above:
        labels.append(Words(above, left, len(bits), "head"))
    return Symbol(across, tuple(bars), tuple(labels))


def _figures(form: str, text: str, left: int, half: int, count: int) -> list[Words]:
    """Each half's figures under it; the first of thirteen, and the first and last of twelve, beside the bars."""
    if form == "ean 8":
        first, second = text[:4], text[4:]
    elif form == "upc a":
        first, second = text[1:6], text[6:11]
    else:
        first, second = text[1:7], text[7:]
    inset = 7 if form == "upc a" else 0
    each = [
        Words(digit, left + start + 7 * at, 7)
        for start, part in ((3 + inset, first), (8 + half, second))
        for at, digit in enumerate(part)
    ]
    if form == "ean 13":
        each.insert(0, Words(text[0], left - 9, 7))
    if form == "upc a":
        each = [Words(text[0], left - 8, 7), *each, Words(text[11], left + count + 1, 7)]
    return each


def _addon(digits: str) -> str:
    """The bars of two or five figures (ISO/IEC 15420, 4.2.3 and 4.2.4)."""
    if len(digits) == 2:
        sets = TWO[int(digits) % 4]
    elif len(digits) == 5:
        total = 3 * sum(int(d) for d in digits[::2]) + 9 * sum(int(d) for d in digits[1::2])
        sets = FIVE[total % 10]
    else:
        raise CodeError("An add-on has two or five figures.")
    return "1011" + "01".join((L if one == "L" else G)[int(digit)] for digit, one in zip(digits, sets, strict=True))


def _runs(bits: str) -> list[tuple[int, int]]:
    """Return where dark bits begin that hang together, and how many they are."""
    runs, at = [], 0
    for bit, group in groupby(bits):
        count = len(list(group))
        if bit == "1":
            runs.append((at, count))
        at += count
    return runs


def _bars(bits: str, quiet: int) -> list[Bar]:
    return [Bar(quiet + x, width) for x, width in _runs(bits)]


def laid_out(symbol: Symbol, rect: Rect) -> tuple[list[Rect], list[tuple[str, Rect]]]:
    """The bars in a box, and the words, each with the box that it is centred in. The bars get the height that the words
    leave."""
    module = rect.width / symbol.across
    line = FOOT * module
    head = rect.y + (line if symbol.has("head") else 0.0)
    foot = rect.foot - (line if symbol.has("foot") else 0.0)
    room = max(foot - head, 1.0)
    deeper = min(GUARD * module, rect.foot - foot)
    bars = []
    if symbol.borne:
        first, last = symbol.bars[0], symbol.bars[-1]
        left, width = rect.x + first.x * module, (last.x + last.width - first.x) * module
        thick = min(BEARER * module, room / 4)
        bars += [Rect(left, head, width, thick), Rect(left, foot - thick, width, thick)]
    for bar in symbol.bars:
        top, end = head, foot + (deeper if bar.kind == "guard" else 0.0)
        if bar.kind == "addon":
            top, end = min(head + line, foot - 0.5), foot + deeper
        bars.append(Rect(rect.x + bar.x * module, top, bar.width * module, end - top))
    heights = {"foot": foot + module, "head": rect.y, "addon": head}
    high = FIGURE * module
    words = [
        (
            one.text,
            Rect(
                rect.x + one.x * module,
                heights[one.where] + (0.5 * module if one.where != "foot" else 0.0),
                one.width * module,
                high,
            ),
        )
        for one in symbol.words
    ]
    return (bars if room > 1.0 else []), words
