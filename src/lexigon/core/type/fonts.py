"""The fonts that ship with Lexigon, by family, weight and slope.

Metrics are in font units (``upem`` to the em) as the OpenType tables give them: vertical metrics from
OS/2's typographic values where fsSelection bit 7 asks for them, else from hhea (OpenType 1.9, OS/2).
"""

from __future__ import annotations

import hashlib
import json
import re
import unicodedata
from collections.abc import Mapping
from copy import copy
from functools import cache, cached_property, lru_cache
from pathlib import Path
from typing import Any

import uharfbuzz as hb

from lexigon.core.errors import LexigonError

SHIPPED = Path(__file__).resolve().parents[2] / "fonts"


class FontError(LexigonError):
    """A font file that cannot be used, or not for what was asked."""


LARGEST = 60_000_000
"""Bytes of the largest font file read."""


INDEX = SHIPPED / "index.json"
"""What the shipped files say of themselves, by their paths below SHIPPED, so that a process need not read 72 files to
know which font is which. Made by ``tools/font_index.py``; a test holds it against the files."""


def font_facts(path: Path) -> dict[str, Any]:
    """Return what a font file says of itself. Raises FontError, and whatever a broken file makes the reader raise."""
    from fontTools.ttLib import TTFont

    with TTFont(path, lazy=True) as font:
        names, os2, head, hhea = font["name"], font["OS/2"], font["head"], font["hhea"]
        upem, typographic = int(head.unitsPerEm), bool(os2.fsSelection & 128)
        is_cff = "CFF " in font
        if not is_cff and "glyf" not in font:
            raise FontError("has no outlines")
        if not 16 <= upem <= 16384:
            raise FontError("has a size of its em outside what OpenType allows")
        post = font["post"]
        weight = post.underlineThickness or upem / 20
        x_height = int(getattr(os2, "sxHeight", 0) or 0.45 * upem)
        layout = [font[tag].table for tag in ("GSUB", "GPOS") if tag in font]
        return {
            "family": str(names.getDebugName(16) or names.getDebugName(1)),
            "postscript_name": str(names.getDebugName(6)),
            "weight": int(os2.usWeightClass),
            "italic": bool(os2.fsSelection & 1),
            "fs_type": int(os2.fsType),
            "upem": upem,
            "bbox": (head.xMin, head.yMin, head.xMax, head.yMax),
            "ascent": int(os2.sTypoAscender if typographic else hhea.ascent),
            "descent": -int(os2.sTypoDescender if typographic else hhea.descent),
            "cap_height": int(getattr(os2, "sCapHeight", 0) or 0.7 * upem),
            "x_height": x_height,
            "is_cff": is_cff,
            "has_space": 0x20 in (font.getBestCmap() or {}),
            "italic_angle": float(post.italicAngle),
            "is_variable": "fvar" in font,
            "underline": (weight, post.underlinePosition or -upem / 10),
            "strike": (
                getattr(os2, "yStrikeoutSize", 0) or weight,
                getattr(os2, "yStrikeoutPosition", 0) or x_height / 2,
            ),
            "features": sorted({r.FeatureTag for t in layout if t.FeatureList for r in t.FeatureList.FeatureRecord}),
            "knows_languages": any(
                r.Script.LangSysRecord for t in layout if t.ScriptList for r in t.ScriptList.ScriptRecord
            ),
            "sha256": hashlib.sha256(path.read_bytes()).hexdigest(),
        }


class FontFace:
    """One font file. Opened once and cached; shaping objects are created on first use."""

    def __init__(self, path: Path, facts: Mapping[str, Any] | None = None) -> None:
        """With ``facts`` (see ``font_facts``) the file is not read before it is used."""
        self.path = path
        facts = font_facts(path) if facts is None else facts
        self.family: str = facts["family"]
        self.postscript_name: str = facts["postscript_name"]
        self.weight: int = facts["weight"]
        self.italic: bool = facts["italic"]
        self.fs_type: int = facts["fs_type"]
        self.upem: int = facts["upem"]
        self.bbox: tuple[int, ...] = tuple(facts["bbox"])
        self.ascent: int = facts["ascent"]
        self.descent: int = facts["descent"]
        self.cap_height: int = facts["cap_height"]
        self.x_height: int = facts["x_height"]
        self.is_cff: bool = facts["is_cff"]
        self.has_space: bool = facts["has_space"]
        self.italic_angle: float = facts["italic_angle"]
        self.is_variable: bool = facts["is_variable"]
        self.features: frozenset[str] = frozenset(facts["features"])
        """The tags of the OpenType features it has."""
        self.knows_languages: bool = facts["knows_languages"]
        """It has other forms or features for some languages (OpenType 1.9, LangSys tables)."""
        self.lines: dict[str, tuple[float, float]] = {
            line: (facts[line][0], facts[line][1]) for line in ("underline", "strike")
        }
        """Weight and height over the baseline of the line under the text and of the one through it, in font units."""
        self.sha256: str = facts["sha256"]
        """The digest of the file's bytes."""
        self.key = f"lx-{path.stem.lower()}-{self.sha256[:8]}"
        """A name for style sheets and caches, the same wherever the same file is used."""

    def __repr__(self) -> str:
        return f"<FontFace {self.postscript_name}>"

    @cached_property
    def hb_font(self) -> hb.Font:
        return hb.Font(hb.Face(hb.Blob.from_file_path(str(self.path))))

    @cached_property
    def advances(self) -> list[int]:
        """Each glyph's horizontal advance."""
        font = self.hb_font
        return [font.get_glyph_h_advance(glyph) for glyph in range(font.face.glyph_count)]

    @cached_property
    def characters(self) -> frozenset[str]:
        """The characters it has a glyph for."""
        return frozenset(map(chr, self.hb_font.face.unicodes))

    @cached_property
    def _beyond_common(self) -> re.Pattern[str]:
        """Matches what is not a common character that it has a glyph for."""
        common = "".join(sorted(c for c in self.characters if " " <= c <= "\u024f" or "\u2000" <= c <= "\u206f"))
        return re.compile(f"[^{re.escape(common)}]" if common else ".", re.DOTALL)

    def has_all(self, text: str) -> bool:
        """Return whether it has a glyph for every character of ``text``."""
        return self._beyond_common.search(text) is None or self.characters.issuperset(text)

    @property
    def restricted(self) -> bool:
        """Its licence bits forbid embedding its outlines (OpenType 1.9, OS/2 fsType: bit 1 alone of the lowest four, or
        bit 9, which allows bitmaps only)."""
        return self.fs_type & 0xF == 2 or bool(self.fs_type & 0x200)

    @property
    def whole_only(self) -> bool:
        """Its licence bits forbid embedding a part of it (fsType, bit 8)."""
        return bool(self.fs_type & 0x100)

    def lacks(self, characters: set[str]) -> set[str]:
        """Return which of ``characters`` the font has no glyph for. Controls and spaces are never missing."""
        return {
            c for c in characters - self.characters if unicodedata.category(c) not in ("Cc", "Cf", "Zs", "Zl", "Zp")
        }


class FontLibrary:
    """All faces below one folder. ``face`` finds the nearest one to what was asked.

    ``problems`` says of each file that cannot be used why not; ``own`` are the faces a job brought along.
    """

    own: tuple[FontFace, ...] = ()

    def __init__(self, folder: Path = SHIPPED) -> None:
        self.faces: list[FontFace] = []
        self.problems: dict[str, str] = {}
        index = _index() if folder == SHIPPED else {}
        for path in sorted(folder.glob("*/*.[ot]tf")):
            facts = index.get(path.relative_to(folder).as_posix())
            try:
                self.faces.append(opened(path) if facts is None else FontFace(path, facts))
            except FontError as error:
                self.problems[path.name] = str(error)
        self._index()

    def _index(self) -> None:
        self.families: dict[str, list[FontFace]] = {}
        for face in self.faces:
            self.families.setdefault(face.family, []).append(face)
        self._by_name = {name.casefold(): faces for name, faces in self.families.items()}
        self._found: dict[tuple[str, int, bool], FontFace] = {}
        self._covering: dict[tuple[str, bool], FontFace | None] = {}

    def with_own(self, own: tuple[FontFace, ...]) -> FontLibrary:
        """This library and a job's own faces, which are taken before others of their family."""
        library = copy(self)
        library.own, library.faces = own, [*own, *self.faces]
        library._index()
        return library

    @cached_property
    def _last_resort(self) -> FontFace:
        if not self.faces:
            raise FontError("There is no font at all to set text in.")
        return self.faces[0]

    @property
    def default(self) -> FontFace:
        return self.families.get("EB Garamond", [self._last_resort])[0]

    def has(self, family: str) -> bool:
        return family.casefold() in self._by_name

    def face(self, family: str, weight: int = 400, italic: bool = False) -> FontFace:
        """The family's face nearest in slope, then weight; the default family's where there is none."""
        key = (family, weight, italic)
        cached = self._found.get(key)
        if cached is None:
            faces = self._by_name.get(family.casefold()) or self.families[self.default.family]
            cached = self._found[key] = min(faces, key=lambda f: (f.italic != italic, abs(f.weight - weight), f.weight))
        return cached

    def covering(self, character: str, italic: bool) -> FontFace | None:
        """Some face that has ``character``, or None."""
        key = (character, italic)
        if key not in self._covering:
            faces = [f for f in self.faces if character in f.characters]
            self._covering[key] = min(faces, key=lambda f: (f.italic != italic, abs(f.weight - 400)), default=None)
        return self._covering[key]


def _index() -> dict[str, dict[str, Any]]:
    index: dict[str, dict[str, Any]] = json.loads(INDEX.read_text()) if INDEX.exists() else {}
    return index


@lru_cache(512)
def opened(path: Path) -> FontFace:
    """Open the face in a file. Raises FontError, with words that follow the file's name, for one that cannot be
    used."""
    try:
        with path.open("rb") as stream:
            head = stream.read(4)
        if path.stat().st_size > LARGEST:
            raise FontError(f"is larger than {LARGEST // 1_000_000} MB")
        if head in (b"wOFF", b"wOF2"):
            raise FontError("is made for web pages; take the .otf or .ttf file of the font")
        if head == b"ttcf":
            raise FontError("holds several fonts in one file; take a file for each of them")
        return FontFace(path)
    except FontError:
        raise
    except Exception as error:  # a hostile file may break any part of a reader
        raise FontError("is broken, or no font") from error


@lru_cache(512)
def examined(path: Path) -> FontFace:
    """Open the face in an untrusted file: tables that are otherwise read on first use are read now, so that a damaged
    part is reported here and not in the middle of a page. Raises FontError as ``opened`` does."""
    face = opened(path)
    try:
        readable = bool(face.characters) and len(face.advances) > 0
        buffer = hb.Buffer()
        buffer.add_str("Hamburg fi 12")
        buffer.guess_segment_properties()
        hb.shape(face.hb_font, buffer)
    except Exception as error:
        raise FontError("is broken, or no font") from error
    if not readable:
        raise FontError("has no characters")
    return face


@cache
def shipped() -> FontLibrary:
    """The library of the fonts that come with Lexigon, read once a process."""
    return FontLibrary()
