"""Copy as plain text and as Markdown (CommonMark 0.31, with tables, strikethrough and footnotes as markdown-it reads
them)."""

from __future__ import annotations

import re
from collections.abc import Iterable

from lexigon.core.document.model import OBJECT, Anchor, TypeSpec
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.manuscript.source import Source, SourceNote, SourceParagraph, SourceTable
from lexigon.core.manuscript.writers.outgoing import numbered, pieces

SCENES = re.compile(r"[*•·~#⁂\s]+")
_SIGNS = re.compile(r"([\\`*_{}\[\]<>#|~])")
_BULLET, _NUMBER = re.compile(r"^([-+=])"), re.compile(r"^(\d+)([.)])")
"""What would begin a list, or make a heading of the line before."""


def write_plain(source: Source) -> str:
    """Words alone: paragraphs apart by an empty line, notes by number at the end."""
    numbers = numbered(source, source.paragraphs)
    blocks = [_plain(source, numbers, p) for p in source.paragraphs]
    done: set[str] = set()
    while left := [key for key in numbers if key not in done]:
        for key in left:
            done.add(key)
            for n, p in enumerate(source.notes[key].paragraphs):
                blocks.append((f"[{numbers[key]}] " if n == 0 else "") + _plain(source, numbers, p))
    return "\n\n".join(blocks) + "\n"


def _plain(source: Source, numbers: dict[str, int], p: SourceParagraph) -> str:
    text_ = ""
    for text, _, anchor, _ in pieces(p):
        if anchor is None:
            text_ += text.replace(LINE_BREAK, "\n")
        elif anchor.kind == "note":
            text_ += f"[{numbers[anchor.ref]}]"
        elif anchor.kind == "table":
            rows = source.tables[anchor.ref].rows
            text_ += "\n".join(
                "\t".join(" ".join(_plain(source, numbers, one) for one in cell.paragraphs) for cell in row)
                for row in rows
            )
        elif anchor.kind == "frame":
            text_ += f"[{source.pictures[anchor.ref].alt or source.pictures[anchor.ref].name}]"
    return text_


def write_markdown(source: Source, folder: str = "pictures") -> str:
    """Pictures are named as files in ``folder``. Formatting for which Markdown has no syntax (small capitals,
    underlines, superscript) is dropped."""
    return _Markdown(source, folder).written()


class _Markdown:
    def __init__(self, source: Source, folder: str) -> None:
        self.source, self.folder = source, folder
        self.numbers = numbered(source, source.paragraphs)
        self.counts: list[int] = []

    def written(self) -> str:
        out: list[str] = []
        was: SourceParagraph | None = None
        for p in self.source.paragraphs:
            block = self._block(p)
            tight = was is not None and was.listed is not None and p.listed is not None
            out += ["" if tight or not out else "\n", block, "\n"]
            was = p
        out += [f"\n{one}\n" for one in self._notes()]
        return "".join(out)

    def _notes(self) -> Iterable[str]:
        for key, number in self.numbers.items():
            note: SourceNote = self.source.notes[key]
            first, *more = [self._inline(p) for p in note.paragraphs] or [""]
            yield f"[^{number}]: {first}" + "".join(f"\n\n    {one}" for one in more)

    def _block(self, p: SourceParagraph) -> str:
        objects = [span.object for span in p.spans if span.object]
        if len(p.text) == 1 and objects and objects[0].kind == "table":
            self.counts = []
            return self._table(self.source.tables[objects[0].ref])
        text = self._inline(p)
        if p.listed is not None:
            return self._item(p, text)
        self.counts = []
        if p.level:
            return f"{'#' * min(p.level, 6)} {text.replace(chr(10), ' ')}"
        if SCENES.fullmatch(p.text) and p.text.strip():
            return "***"  # some readers take the same with spaces for lists within lists
        return _begun(text)

    def _item(self, p: SourceParagraph, text: str) -> str:
        assert p.listed is not None
        level = p.listed.level
        self.counts = self.counts[:level] + [0] * (level - len(self.counts))
        self.counts[level - 1] = 1 if p.listed.first else self.counts[level - 1] + 1
        sign = f"{self.counts[level - 1]}." if p.listed.ordered else "-"
        indent = "    " * (level - 1)
        return f"{indent}{sign} " + _begun(text).replace("\n", f"\n{indent}{' ' * (len(sign) + 1)}")

    def _inline(self, p: SourceParagraph) -> str:
        return "".join(
            _led(self._piece(text, look, anchor, bool(p.level)), link) for text, look, anchor, link in pieces(p)
        ).strip()

    def _piece(self, text: str, look: TypeSpec, anchor: Anchor | None, heading: bool) -> str:
        if anchor is not None:
            return self._object(anchor)
        words = _SIGNS.sub(r"\\\1", text.replace(OBJECT, "")).replace(LINE_BREAK, "\\\n")
        sign = (
            ("**" if look.weight and look.weight >= 600 and not heading else "")
            + ("*" if look.italic else "")
            + ("~~" if look.strike else "")
        )
        bare = words.strip()
        if not sign or not bare:
            return words
        left, right = words[: len(words) - len(words.lstrip())], words[len(words.rstrip()) :]
        return f"{left}{sign}{bare}{sign[::-1]}{right}"

    def _object(self, anchor: Anchor) -> str:
        if anchor.kind == "note":
            return f"[^{self.numbers[anchor.ref]}]"
        if anchor.kind == "frame":
            picture = self.source.pictures[anchor.ref]
            alt = _SIGNS.sub(r"\\\1", picture.alt)
            return f"![{alt}](<{self.folder}/{picture.name}>)"
        return " / ".join(
            " | ".join(_cell(self, cell.paragraphs) for cell in row) for row in self.source.tables[anchor.ref].rows
        )

    def _table(self, table: SourceTable) -> str:
        width = max((sum(cell.across for cell in row) for row in table.rows), default=0)
        rows = [[_cell(self, cell.paragraphs) for cell in row] for row in table.rows]
        rows = [row + [""] * (width - len(row)) for row in rows]
        head, body = (rows[0], rows[1:]) if rows else ([], [])
        lines = [head, ["---"] * width, *body]
        return "\n".join(f"| {' | '.join(row)} |" for row in lines)


def _led(text: str, link: str) -> str:
    """Words with a link to an address; Markdown has no syntax for places within a text."""
    return f"[{text}](<{link}>)" if link and not link.startswith("#") and text.strip() else text


def _begun(text: str) -> str:
    """Escape the first characters of a paragraph that would begin a list."""
    return _NUMBER.sub(r"\1\\\2", _BULLET.sub(r"\\\1", text))


def _cell(writer: _Markdown, paragraphs: Iterable[SourceParagraph]) -> str:
    return " ".join(writer._inline(p).replace("\\\n", " ") for p in paragraphs)
