"""Plain text manuscripts: hard-wrapped lines joined, ``_emphasis_``, headings, scene breaks, typography.

The conventions are those of plain text editions of books (common practice, no source): paragraphs apart by
an empty line, chapters announced by a short line of their own, emphasis in underscores, scenes parted by
a line of asterisks.
"""

from __future__ import annotations

import itertools
import re
from collections import Counter
from dataclasses import dataclass

from lexigon.core.job.model import Paragraph, Span
from lexigon.core.job.text import new_id
from lexigon.core.manuscript.decode import Decoded
from lexigon.core.manuscript.typography import typeset_with_doubts

_NUMBER = r"(?:\d{1,3}|[ivxlcdm]+|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|" \
    r"thirteen|fourteen|fifteen|sixteen|seventeen|eighteen|nineteen|twenty|thirty|forty|fifty|sixty)" \
    r"(?:-(?:one|two|three|four|five|six|seven|eight|nine))?"  # fmt: skip
_CHAPTER = re.compile(
    rf"(?:chapter|chap\.|letter|canto|act|scene)\s+(?:the\s+)?(?:{_NUMBER}|first|second|third|last)\b[.:]?.*", re.I
)
_PART = re.compile(rf"(?:part|book|volume)\s+(?:the\s+)?(?:{_NUMBER}|first|second|third|fourth|fifth)\b[.:]?.*", re.I)
_NAMED = re.compile(
    r"(?:prologue|epilogue|preface|foreword|introduction|afterword|conclusion|acknowledge?ments|dedication|contents|glossary)[.:]?",
    re.I,
)
_BARE_NUMBER = re.compile(r"(?:[IVXLC]+|\d{1,3})\.?")
_MARKED = re.compile(r"(#{1,4})\s+(.+?)\s*#*")
_SCENE = re.compile(r"(?:[*•·~#⁂—–-]\s*){1,7}")
_BYLINE = re.compile(r"by\s+\S.{0,80}|by", re.I)
_EMPHASIS = re.compile(r"(?<![\w_])_(?=\S)([^_]{1,2000}?)(?<=\S)_(?![\w_])")

HEADINGS = ("part", "chapter", "section")
_HEADS = (*HEADINGS, "title", "scene")


@dataclass(slots=True, frozen=True)
class Manuscript:
    """What a text file holds: its paragraphs, styled, and an account of what was recognised."""

    paragraphs: tuple[Paragraph, ...]
    encoding: str
    counts: dict[str, int]
    """Paragraphs by style, and ``emphasis``, ``words``, ``joined`` (line ends taken out), ``dropped``."""
    headings: tuple[tuple[str, str], ...]
    """(style, text) in order."""
    doubts: tuple[str, ...] = ()
    """Words about quotation marks that could as well be apostrophes, or the other way round."""


def read_plain(decoded: Decoded, *, language: str = "en-GB", quotes: bool = False) -> Manuscript:
    """Recognise the structure of a plain text. ``quotes`` sets typographic quotes and dashes."""
    blocks, joined = _blocks(decoded.text)
    paragraphs: list[Paragraph] = []
    counts: Counter[str] = Counter(joined=joined, dropped=decoded.dropped)
    headings: list[tuple[str, str]] = []
    doubts: list[str] = []
    follows = "first"
    for block in blocks:
        style, text = _recognise(block, follows)
        if not paragraphs and (style == "section" or _begins_with_title(blocks)):
            style = "title"
        elif len(paragraphs) == 1 and paragraphs[0].style == "title" and _BYLINE.fullmatch(text):
            style = "author"
        spans: tuple[Span, ...] = ()
        if style in HEADINGS or style == "title":
            text = text.replace("_", "")
            headings.append((style, text))
        elif style != "scene":
            text, spans = _emphasis(text)
        if quotes:
            text, spans, places = typeset_with_doubts(text, spans, language)
            doubts += [text[max(at - 28, 0) : at + 28].strip() for at in places]
        counts[style] += 1
        counts["emphasis"] += len(spans)
        counts["words"] += len(text.split())
        paragraphs.append(Paragraph(new_id("p"), style, text, spans))
        follows = "first" if style in _HEADS else "body"
    return Manuscript(tuple(paragraphs), decoded.encoding, dict(counts), tuple(headings), tuple(doubts))


def _blocks(text: str) -> tuple[list[str], int]:
    """The text's paragraphs, each on one line, and how many line ends were taken out.

    A file with empty lines has paragraphs parted by them, its other line ends being mere wrapping; in a
    file without any, or one whose lines are far too long to be wrapped, each line is a paragraph. In
    wrapped text an indented line begins a paragraph too.
    """
    lines = [line.rstrip() for line in text.split("\n")]
    filled = [line for line in lines if line]
    gaps = len(lines) - len(filled)
    lengths = sorted(map(len, filled))
    longest = lengths[int(len(lengths) * 0.95)] if lengths else 0
    wrapped = longest <= 100 and len(filled) > 1 and (gaps > 0 or longest > 40) and _looks_wrapped(lines)
    if not wrapped:
        return [" ".join(line.split()) for line in filled], 0
    blocks: list[list[str]] = []
    open_block = False
    joined = 0
    indented = sum(line.startswith(("  ", "\t")) for line in filled)
    indents_begin = 0 < indented < len(filled) * 0.6
    for line in lines:
        if not line:
            open_block = False
        elif open_block and not (indents_begin and line.startswith(("  ", "\t")) and _ends_sentence(blocks[-1][-1])):
            blocks[-1].append(line)
            joined += 1
        else:
            blocks.append([line])
            open_block = True
    return [_join(block) for block in blocks], joined


def _looks_wrapped(lines: list[str]) -> bool:
    """Whether lines end where a line was full: most lines that another follows are near the longest."""
    inner = [len(a) for a, b in itertools.pairwise(lines) if a and b]
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


def _begins_with_title(blocks: list[str]) -> bool:
    """Whether the first lines are a title and who wrote it."""
    if len(blocks) < 2 or len(blocks[0]) > 70 or blocks[0].endswith((".", ",", ";", ":")):
        return False
    return _BYLINE.fullmatch(blocks[1]) is not None


def _recognise(block: str, follows: str) -> tuple[str, str]:
    marked = _MARKED.fullmatch(block)
    if marked:
        return HEADINGS[min(len(marked.group(1)) - 1, 2)], marked.group(2)
    if _SCENE.fullmatch(block) and len(block) <= 20:
        return "scene", "* * *"
    short = len(block) <= 70 and len(block.split()) <= 10
    if short and _PART.fullmatch(block):
        return "part", block
    if short and (_CHAPTER.fullmatch(block) or _NAMED.fullmatch(block) or _BARE_NUMBER.fullmatch(block)):
        return "chapter", block
    if (
        short
        and block.isupper()
        and not block.startswith(('"', "“", "‘", "'"))
        and sum(c.isalpha() for c in block) > 3
        and not block.endswith((",", ";", "!"))
    ):
        return "section", block
    return follows, block


def _emphasis(text: str) -> tuple[str, tuple[Span, ...]]:
    """``_words_`` without their underscores, and where they stand."""
    out, spans, at, length = [], [], 0, 0
    for match in _EMPHASIS.finditer(text):
        before = text[at : match.start()]
        length += len(before)
        inner = match.group(1)
        spans.append(Span(length, length + len(inner), style="emphasis"))
        out += [before, inner]
        length += len(inner)
        at = match.end()
    out.append(text[at:])
    return "".join(out), tuple(spans)
