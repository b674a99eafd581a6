"""The blocks of plain text: paragraphs with wrapped lines joined, verse with its lines, quotations.

The conventions are those of plain text editions of books (common practice, no source): paragraphs are separated by an
empty line or begin with an indent, verse and letters are indented with spaces.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from lexigon.core.document.story_text import LINE_BREAK

BlockKind = Literal["text", "verse", "quote"]

LEAST_INDENT = 2
FAR_RIGHT = 24
"""Spaces from which on a line alone is a date or a name set to the right, not a line of verse."""
MOST_INDENT = 12
"""Spaces by which a line is set in against the others at most: what stands further out is a name set to the right."""
NO_BREAK_SPACE = "\u00a0"
SPACES_A_STEP = 2
"""No-break spaces for one space of a typewriter's line, which is twice as wide."""


@dataclass(slots=True, frozen=True)
class Block:
    """A paragraph's text, on one line; of verse its lines, with the indents they have against each other."""

    text: str
    kind: BlockKind = "text"


@dataclass(slots=True)
class _Chunk:
    """Lines between two empty ones."""

    lines: list[str]
    kind: BlockKind = "text"

    @property
    def indent(self) -> int:
        return min(map(_indent, self.lines))


def blocks_of(text: str) -> tuple[list[Block], int]:
    """The blocks of the text, and the number of line ends removed.

    In a file with empty lines, these separate paragraphs, and other line ends are mere wrapping; in a file without any,
    or with lines far too long to be wrapped, each line is a paragraph. In wrapped text, an indented line begins a
    paragraph, too.
    """
    lines = [line.rstrip().expandtabs(8) for line in text.split("\n")]
    filled = [line for line in lines if line]
    gaps = len(lines) - len(filled)
    lengths = sorted(map(len, filled))
    longest = lengths[int(len(lengths) * 0.95)] if lengths else 0
    wrapped = longest <= 100 and len(filled) > 1 and (gaps > 0 or longest > 40) and _looks_wrapped(lines)
    if not wrapped:
        return [Block(" ".join(line.split())) for line in filled], 0
    chunks = [_Chunk(list(run)) for full, run in itertools.groupby(lines, bool) if full]
    _displayed(chunks)
    indented = sum(line.startswith("  ") for line in filled)
    indents_begin = 0 < indented < len(filled) * 0.85
    blocks: list[Block] = []
    joined = 0
    for number, chunk in enumerate(chunks):
        if chunk.kind == "verse":
            base = min(c.indent for c in _run_around(chunks, number))
            blocks.append(Block(LINE_BREAK.join(_verse_line(line, base) for line in chunk.lines), "verse"))
            continue
        paragraphs = list(_paragraphs(chunk.lines, indents_begin and chunk.kind == "text"))
        blocks += [Block(_join(paragraph), chunk.kind) for paragraph in paragraphs]
        joined += len(chunk.lines) - len(paragraphs)
    return blocks, joined


def _paragraphs(lines: list[str], indents_begin: bool) -> Iterable[list[str]]:
    paragraph: list[str] = []
    for line in lines:
        if paragraph and indents_begin and line.startswith("  ") and _ends_sentence(paragraph[-1]):
            yield paragraph
            paragraph = []
        paragraph.append(line)
    yield paragraph


# Matter set in by spaces


def _indent(line: str) -> int:
    return len(line) - len(line.lstrip())


def _displayed(chunks: list[_Chunk]) -> None:
    """Tell apart what is set in: more than paragraphs begin with, on every line."""
    mixed = [c for c in chunks if c.indent == 0 and _indent(c.lines[0]) > 0]
    usual = Counter(_indent(c.lines[0]) for c in mixed).most_common(1)[0][0] if mixed else 0
    begins = [c for c in chunks if len(c.lines) > 1 and c.indent == 0]
    parted = len(mixed) <= len(begins) * 0.3  # indents do not begin paragraphs here
    alone: list[_Chunk] = []
    for chunk in chunks:
        if chunk.indent < LEAST_INDENT or (not parted and chunk.indent <= usual):
            continue
        if len(chunk.lines) > 1:
            chunk.kind = "verse" if _is_verse(chunk.lines) else "quote"
        elif parted:
            alone.append(chunk)
    for number, chunk in enumerate(chunks):
        if any(chunk is one for one in alone):
            beside = (c.kind for c in (*chunks[number + 1 : number + 2], *chunks[max(number - 1, 0) : number]))
            near: BlockKind = next((kind for kind in beside if kind != "text"), "verse")
            chunk.kind = "quote" if chunk.indent >= FAR_RIGHT else near


def _is_verse(lines: list[str]) -> bool:
    """Lines that begin with a capital, and are set in unlike each other, or end with a stop, or before they must: the
    next line's first word would have had room."""
    bare = [line.strip() for line in lines]
    capital = sum(line.lstrip("\"'“‘«„([_—-")[:1].isupper() for line in bare)
    room = max(map(len, lines))
    full = sum(len(a) + 1 + len(b.split()[0]) > room for a, b in itertools.pairwise(lines))
    unlike = len({_indent(line) for line in lines[1:]}) > 1
    stopped = sum(line.rstrip("\"'”’»_)").endswith((",", ";", ":", ".", "!", "?", "-", "—")) for line in bare)
    early = len(lines) < 3 or full < (len(lines) - 1) * 0.8
    return capital >= len(lines) * 0.7 and (unlike or early or stopped >= len(lines) * 0.6)


def _run_around(chunks: list[_Chunk], number: int) -> list[_Chunk]:
    """The stanzas of the poem that a chunk belongs to."""
    first = last = number
    while first and chunks[first - 1].kind == "verse":
        first -= 1
    while last + 1 < len(chunks) and chunks[last + 1].kind == "verse":
        last += 1
    return chunks[first : last + 1]


def _verse_line(line: str, base: int) -> str:
    return NO_BREAK_SPACE * (SPACES_A_STEP * min(_indent(line) - base, MOST_INDENT)) + " ".join(line.split())


# Wrapped lines


def _looks_wrapped(lines: list[str]) -> bool:
    """Return whether lines end where a line was full: most lines that another follows are near the longest. Lines that
    are set in may be verse, and count where there are no others."""
    pairs = [(a, b) for a, b in itertools.pairwise(lines) if a and b]
    inner = [len(a) for a, _ in pairs if not a.startswith("  ")]
    if len(inner) < 2:
        inner = [len(a) for a, _ in pairs]
    if len(inner) < 2:
        return bool(inner) and max(inner) > 40
    full = sorted(inner)[int(len(inner) * 0.9)]
    return full <= 100 and sum(length > full * 0.7 for length in inner) > len(inner) * 0.5


def _ends_sentence(line: str) -> bool:
    return line.rstrip().endswith((".", "!", "?", "”", '"', "’", "'", ":", "—", "--"))


def _join(lines: list[str]) -> str:
    text = ""
    for line in lines:
        line = " ".join(line.split())
        if text.endswith(("--", "—")) or not text:
            text += line
        elif text.endswith("-") and not text.endswith(" -") and line[:1].islower():
            text += line  # a compound divided at its own hyphen
        else:
            text += " " + line
    return text
