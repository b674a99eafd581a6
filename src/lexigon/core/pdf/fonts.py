"""Fonts in a PDF: composite fonts with Identity-H, subset to the glyphs used (ISO 32000-2, 9.7).

TrueType outlines become CIDFontType2, OpenType-CFF ones CIDFontType0C. Glyph ids are retained, so what
the composer shaped can be written down directly. Words are written once and remembered as ready TJ
operands: a page is then little more than joining strings.
"""

from __future__ import annotations

import hashlib
from typing import Any

from lexigon.core.pdf.writer import Name, PdfWriter, Ref, number
from lexigon.core.type.fonts import FontError, FontFace
from lexigon.core.type.runs import Look
from lexigon.core.type.shaping import Cut, Word
from lexigon.core.type.subsetting import program_of, subset

ITALIC, SYMBOLIC = 1 << 6, 1 << 2
"""Font flags of ISO 32000-2, table 121."""


def _tracking(look: Look) -> float:
    """In 1/1000 em of the characters' width."""
    return look.tracking / (look.size * look.squeeze) * 1000 if look.tracking else 0.0


class PdfFont:
    """One face as the file uses it: which glyphs, and what text each stands for."""

    def __init__(self, face: FontFace, number_: int, ref: Ref) -> None:
        self.face = face
        self.name = f"F{number_}"
        self.ref = ref
        self.text: dict[int, str] = {}
        self._words: dict[tuple[Cut, float], dict[str, str]] = {}
        self._per_mille = 1000 / face.upem
        self._kerns: dict[tuple[int, int], str] = {}

    def written(self, look: Look) -> dict[str, str]:
        """The words in a formatting that ``word`` has written so far."""
        return self._words.setdefault((look.cut, _tracking(look)), {})

    def word(self, look: Look, text: str) -> str:
        """The TJ operands of a word: glyph strings with kerning between them, in 1/1000 em."""
        words = self.written(look)
        cached = words.get(text)
        if cached is None:
            cached = words[text] = self._write(look, text, _tracking(look))
        return cached

    def _write(self, look: Look, text: str, tracking: float) -> str:
        word = look.cut.word(text)
        if not (tracking or word.offsets):
            return self._plain(word, text)
        advances, scale = self.face.advances, self._per_mille
        out: list[str] = []
        run: list[str] = []
        pending = 0.0
        clusters = word.clusters
        for index, glyph in enumerate(word.glyphs):
            following = clusters[index + 1] if index + 1 < len(clusters) else len(text)
            own = text[clusters[index] : following] if following > clusters[index] else ""
            self.text.setdefault(glyph, own)
            dx = word.offsets[index][0] * scale if word.offsets else 0.0
            before = pending + dx
            if abs(before) > 5e-4:
                if run:
                    out.append(f"<{''.join(run)}>")
                    run = []
                out.append(number(-before))
            run.append(f"{glyph:04X}")
            advance_wanted = word.advances[index] * scale + (tracking if own else 0.0)
            pending = advance_wanted - advances[glyph] * scale - dx
        if run:
            out.append(f"<{''.join(run)}>")
        if abs(pending) > 5e-4:
            out.append(number(-pending))
        return "".join(out)

    def _plain(self, word: Word, text: str) -> str:
        """The operands of a word whose letters are kerned at most."""
        self._reads(word, text)
        glyphs = "%04X" * len(word.glyphs) % word.glyphs
        own = self.face.advances
        natural = tuple([own[glyph] for glyph in word.glyphs])
        if word.advances == natural:
            return f"<{glyphs}>" if glyphs else ""
        out, begun = "", 0
        for index, (wanted_advance, advance) in enumerate(zip(word.advances, natural, strict=True), 1):
            if wanted_advance != advance:
                out += f"<{glyphs[begun : 4 * index]}>{self._kerned(wanted_advance, advance)}"
                begun = 4 * index
        return f"{out}<{glyphs[begun:]}>" if begun < len(glyphs) else out

    def _kerned(self, wanted_advance: int, advance: int) -> str:
        """The operand that moves on from a glyph's own advance to the wanted one; nothing where that is no distance to
        speak of."""
        cached = self._kerns.get((wanted_advance, advance))
        if cached is None:
            surplus = wanted_advance * self._per_mille - advance * self._per_mille
            cached = self._kerns[wanted_advance, advance] = number(-surplus) if abs(surplus) > 5e-4 else ""
        return cached

    def _reads(self, word: Word, text: str) -> None:
        """Take down what text each glyph of a word stands for."""
        texts = self.text
        if texts.keys() >= set(word.glyphs):
            return
        clusters = (*word.clusters, len(text))
        for index, glyph in enumerate(word.glyphs):
            if glyph not in texts:
                texts[glyph] = text[clusters[index] : clusters[index + 1]]

    def space(self, look: Look, advance: float) -> str:
        """The TJ operands of one space that advances ``advance`` points before characters are widened."""
        if not self.face.has_space:
            return number(-advance / (look.size * look.squeeze) * 1000)
        glyph = look.cut.word(" ").glyphs[0]
        self.text.setdefault(glyph, " ")
        surplus = advance / (look.size * look.squeeze) * 1000 - self.face.advances[glyph] * self._per_mille
        return f"<{glyph:04X}>{number(-surplus)}" if abs(surplus) > 5e-4 else f"<{glyph:04X}>"

    def embed(self, writer: PdfWriter, lists_glyphs: bool = False) -> None:
        """Write the font's objects; call once, when all text has been set. With ``lists_glyphs`` it lists its glyphs
        (CIDSet: ISO 19005-1, 6.3.5 asks for it; newer standards do not)."""
        face, scale = self.face, self._per_mille
        if face.restricted:
            raise FontError(
                f"The licence of {face.postscript_name} does not allow embedding. Use another font, or convert its text"
                " to outlines."
            )
        if face.whole_only:
            glyphs, data, base = list(range(len(face.advances))), program_of(face), face.postscript_name
        else:
            glyphs = sorted({0, *self.text})
            data = subset(face, glyphs)
            tag = "".join(
                chr(65 + b % 26) for b in hashlib.sha256(face.key.encode() + str(glyphs).encode()).digest()[:6]
            )
            base = f"{tag}+{face.postscript_name}"
        if face.is_cff:
            program = writer.add_stream(data, {"Subtype": Name("CIDFontType0C")})
        else:
            program = writer.add_stream(data, {"Length1": len(data)})
        descriptor: dict[str, Any] = {
            "Type": Name("FontDescriptor"),
            "FontName": Name(base),
            "Flags": SYMBOLIC | (ITALIC if face.italic else 0),
            "FontBBox": [round(v * scale) for v in face.bbox],
            "ItalicAngle": face.italic_angle,
            "Ascent": round(face.ascent * scale),
            "Descent": -round(face.descent * scale),
            "CapHeight": round(face.cap_height * scale),
            "XHeight": round(face.x_height * scale),
            "StemV": 50 + round((face.weight / 65) ** 2),
            "FontFile3" if face.is_cff else "FontFile2": program,
        }
        if lists_glyphs:
            descriptor["CIDSet"] = writer.add_stream(_bits(glyphs))
        cid: dict[str, Any] = {
            "Type": Name("Font"),
            "Subtype": Name("CIDFontType0" if face.is_cff else "CIDFontType2"),
            "BaseFont": Name(base),
            "FontDescriptor": writer.add(descriptor),
            "DW": 0,
            "CIDSystemInfo": {"Registry": b"Adobe", "Ordering": b"Identity", "Supplement": 0},
            "W": [item for glyph in glyphs for item in (glyph, [face.advances[glyph] * scale])],
        }
        if not face.is_cff:
            cid["CIDToGIDMap"] = Name("Identity")
        writer.add(
            {
                "Type": Name("Font"),
                "Subtype": Name("Type0"),
                "BaseFont": Name(base + ("-Identity-H" if face.is_cff else "")),
                "Encoding": Name("Identity-H"),
                "DescendantFonts": [writer.add(cid)],
                "ToUnicode": writer.add_stream(self._to_unicode()),
            },
            self.ref,
        )

    def _to_unicode(self) -> bytes:
        rows = [
            f"<{glyph:04X}> <{text.encode('utf-16-be').hex().upper()}>"
            for glyph, text in sorted(self.text.items())
            if glyph and text
        ]
        parts = [
            "/CIDInit /ProcSet findresource begin 12 dict begin begincmap",
            "/CIDSystemInfo <</Registry (Adobe) /Ordering (UCS) /Supplement 0>> def",
            "/CMapName /Adobe-Identity-UCS def /CMapType 2 def",
            "1 begincodespacerange <0000> <FFFF> endcodespacerange",
        ]
        for at in range(0, len(rows), 100):  # at most 100 entries a block
            block = rows[at : at + 100]
            parts += [f"{len(block)} beginbfchar", *block, "endbfchar"]
        parts.append("endcmap CMapName currentdict /CMap defineresource pop end end")
        return "\n".join(parts).encode()


def _bits(glyphs: list[int]) -> bytes:
    """A bit for each glyph from the first on, the highest of a byte first (ISO 32000-2, table 122)."""
    bits = bytearray(glyphs[-1] // 8 + 1)
    for glyph in glyphs:
        bits[glyph // 8] |= 0x80 >> glyph % 8
    return bytes(bits)
