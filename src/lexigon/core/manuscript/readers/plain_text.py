"""Plain text manuscripts: hard-wrapped lines joined, ``_emphasis_``, headings, scene breaks, typography.

The conventions are those of plain text editions of books (common practice, no source): paragraphs are separated by an
empty line, chapters begin with a short line by itself, emphasis is in underscores, scenes are separated by a line of
asterisks.
"""

from __future__ import annotations

import re
from collections import Counter

from lexigon.core.document.model import Paragraph, Span
from lexigon.core.document.story_text import LINE_BREAK, new_id
from lexigon.core.manuscript.model import HEADINGS, STARTS_TEXT, Heading, Manuscript
from lexigon.core.manuscript.readers.blocks import Block, blocks_of
from lexigon.core.manuscript.readers.decode import DecodedText
from lexigon.core.manuscript.review.cleaning import Cleaner

_NUMBER = (
    r"(?:\d{1,3}|[ivxlcdm]+|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|"
    r"thirteen|fourteen|fifteen|sixteen|seventeen|eighteen|nineteen|twenty|thirty|forty|fifty|sixty)"
    r"(?:-(?:one|two|three|four|five|six|seven|eight|nine))?"
)
_CHAPTER = re.compile(
    rf"(?:chapter|chap\.|letter|canto|act|scene)\s+(?:the\s+)?(?:{_NUMBER}|first|second|third|last)\b[.:]?.*", re.I
)
PART = re.compile(rf"(?:part|book|volume)\s+(?:the\s+)?(?:{_NUMBER}|first|second|third|fourth|fifth)\b[.:]?.*", re.I)
_NAMED = re.compile(
    r"(?:prologue|epilogue|preface|foreword|introduction|afterword|conclusion|acknowledge?ments|dedication|contents|glossary)[.:]?",
    re.I,
)
_BARE_NUMBER = re.compile(r"(?:[IVXLC]+|\d{1,3})\.?")
_MARKED = re.compile(r"(#{1,4})\s+(\S.*)")
SCENE = re.compile(r"(?:[*•·~#⁂—–-]\s*){1,7}")
_BYLINE = re.compile(r"by\s+\S.{0,80}|by", re.I)
_YEAR = re.compile(r"\(?\d{4}\)?")
_END = re.compile(r"(?:the end|finis|end)[.!]?", re.I)
_EMPHASIS = re.compile(r"(?<![\w_])_(?=\S)([^_]{1,2000}?)(?<=\S)_(?![\w_])")


def read_plain(decoded: DecodedText, cleaner: Cleaner | None = None) -> Manuscript:
    """Recognise the structure of a plain text, and clean it up."""
    cleaner = cleaner or Cleaner()
    blocks, joined = blocks_of(decoded.text)
    front, block_count = _title_page(blocks)
    paragraphs: list[Paragraph] = []
    counts: Counter[str] = Counter(joined=joined, dropped=decoded.dropped)
    headings: list[Heading] = []
    follows, style = "first", ""
    for number in range(len(front) + len(blocks) - block_count):
        if number < len(front):
            style, text = front[number]
        else:
            style, text = _recognise(blocks[number - len(front) + block_count], follows, style in ("verse", "quote"))
        if not paragraphs and style == "section":
            style = "title"
        spans: tuple[Span, ...] = ()
        if style in HEADINGS or style == "title":
            text = text.replace("_", "")
            headings.append(Heading(len(paragraphs), style, text))
        elif style != "scene":
            text, spans = _emphasis(text)
        text, spans = cleaner.clean(text, spans, style == "verse")
        counts[style] += 1
        counts["emphasis"] += len(spans)
        counts["words"] += len(text.split())
        paragraphs.append(Paragraph(new_id("p"), style, text, spans))
        follows = "first" if style in STARTS_TEXT else "body"
    return Manuscript(
        tuple(paragraphs),
        decoded.encoding,
        dict(counts),
        tuple(headings),
        tuple(cleaner.doubts),
        found=cleaner.findings,
    )


def _title_page(blocks: list[Block]) -> tuple[list[tuple[str, str]], int]:
    """The (style, text) of a title, an author and a date at the beginning of a text, and the number of blocks they
    take: a "by" on a line by itself goes with the name after it."""
    head = [block.text for block in blocks[:5]]
    if not head or len(head[0]) > 70 or head[0].endswith((".", ",", ";", ":")):
        return [], 0
    rows, author, joined = [("title", head[0])], False, 0
    for text in head[1:]:
        if author and rows[-1][1].casefold() == "by" and len(text) <= 60:
            rows[-1] = ("author", f"{rows[-1][1]} {text}")
            joined = 1
        elif not author and _BYLINE.fullmatch(text):
            rows.append(("author", text))
            author = True
        elif len(rows) == 1 and text.casefold() == head[0].casefold():
            rows.append(("title", text))  # after a half-title
        elif _YEAR.fullmatch(text):
            rows.append(("author", text))
        else:
            break
    return (rows, len(rows) + joined) if author else ([], 0)


def _recognise(first_block: Block, follows: str, behind_display: bool) -> tuple[str, str]:
    """The style of a block and its text. Text after verse that continues a sentence does not begin a paragraph."""
    block = first_block.text
    marked = _MARKED.fullmatch(block)
    if marked:
        return HEADINGS[min(len(marked.group(1)), len(HEADINGS)) - 1], marked.group(2).rstrip("#").rstrip() or "#"
    if SCENE.fullmatch(block) and len(block) <= 20:
        return "scene", "* * *"
    if _END.fullmatch(block):
        return "scene", block
    if first_block.kind == "verse" and LINE_BREAK in block:
        return "verse", block
    short = len(block) <= 70 and len(block.split()) <= 10
    if short and PART.fullmatch(block):
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
    if first_block.kind == "text":
        return ("first" if follows == "body" and behind_display and block[:1].islower() else follows), block
    return first_block.kind, block


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
