"""Cutting and joining paragraphs with their spans. Offsets are code points."""

from __future__ import annotations

import re
import secrets
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace

from lexigon.core.document.model import OBJECT, Paragraph, Span, TypeSpec, combined

LINE_BREAK = "\u2028"
"""A forced line break within a paragraph (Unicode LINE SEPARATOR)."""

_NEWLINES = re.compile(r"\r\n?|\x85|\u2029")
_CONTROLS = re.compile(
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\x80-\x84\x86-\x9f\ud800-\udfff\ufffe\uffff\ufeff" + OBJECT + "]"
)


def clean(text: str) -> str:
    """Text as it may be in a story: line ends as newlines, no control characters, no stray objects."""
    return _CONTROLS.sub("", _NEWLINES.sub("\n", text))


def count_words(paragraphs: Iterable[Paragraph]) -> int:
    """Return the number of words in the paragraphs, without the text of fields."""
    return sum(len(p.text.replace(OBJECT, "").split()) for p in paragraphs)


def new_id(prefix: str) -> str:
    return prefix + secrets.token_hex(5)


def cut_spans(spans: Iterable[Span], start: int, end: int, shift: int = 0) -> tuple[Span, ...]:
    """The parts of ``spans`` within start..end, moved so that ``start`` becomes ``shift``."""
    result = []
    for span in spans:
        s, e = max(span.start, start), min(span.end, end)
        if s < e:
            result.append(replace(span, start=s - start + shift, end=e - start + shift))
    return tuple(result)


def tidy(spans: Iterable[Span]) -> tuple[Span, ...]:
    """Spans that say nothing dropped, neighbours that say the same joined."""
    result: list[Span] = []
    for span in spans:
        if span.type == TypeSpec():
            span = replace(span, type=None)
        if span.start >= span.end or not (span.style or span.type or span.object or span.link):
            continue
        last = result[-1] if result else None
        if (
            last
            and last.end == span.start
            and not span.object
            and replace(last, start=0, end=0) == replace(span, start=0, end=0)
        ):
            result[-1] = replace(last, end=span.end)
        else:
            result.append(span)
    return tuple(result)


def difference(before: str, after: str) -> tuple[int, int]:
    """Return how many characters two strings share at their beginning, and how many of the rest at their end."""
    most = min(len(before), len(after))
    start = 0
    while start < most and before[start] == after[start]:
        start += 1
    tail = 0
    while tail < most - start and before[-1 - tail] == after[-1 - tail]:
        tail += 1
    return start, tail


def piece(paragraph: Paragraph, start: int, end: int) -> Paragraph:
    """The paragraph's text from ``start`` up to ``end``, set the same."""
    return replace(paragraph, text=paragraph.text[start:end], spans=cut_spans(paragraph.spans, start, end))


def joined(first: Paragraph, second: Paragraph) -> Paragraph:
    """``second``'s text after ``first``'s, in the first one's style."""
    moved = cut_spans(second.spans, 0, len(second.text), len(first.text))
    return replace(first, text=first.text + second.text, spans=tidy((*first.spans, *moved)))


def inserted(paragraph: Paragraph, at: int, text: str) -> Paragraph:
    """The paragraph with ``text`` inserted at ``at``, formatted like the character before it."""
    before, after = piece(paragraph, 0, at), piece(paragraph, at, len(paragraph.text))
    spans: tuple[Span, ...] = ()
    if text:
        for span in paragraph.spans:
            if span.start < at <= span.end and not span.object:
                spans = (replace(span, start=0, end=len(text)),)
    return joined(joined(before, Paragraph("", "", text, spans)), after)


def respanned(paragraph: Paragraph, start: int, end: int, type_: TypeSpec | None, style: str | None) -> Paragraph:
    """The stretch set in ``type_`` over what it had; ``style`` changes its character style ("" clears all)."""
    pieces: list[Span] = []
    at = start
    inside = cut_spans(paragraph.spans, start, end, start)
    for span in (*inside, Span(end, end)):
        if at < span.start:
            pieces.append(Span(at, span.start))
        if span.start < span.end:
            pieces.append(span)
        at = span.end

    def changed(span: Span) -> Span:
        if style == "":
            return Span(span.start, span.end, object=span.object, link=span.link)
        merged = combined(span.type or TypeSpec(), type_)
        return replace(span, style=style or span.style, type=merged)

    rest = cut_spans(paragraph.spans, end, len(paragraph.text), end)
    spans = (*cut_spans(paragraph.spans, 0, start), *map(changed, pieces), *rest)
    return replace(paragraph, spans=tidy(spans))


def resolved(paragraph: Paragraph, value: Callable[[Span], str | None]) -> Paragraph:
    """The paragraph with each field replaced by its text; None leaves a field as it is. Spans move along."""
    text, spans, at = "", [], 0
    for span in paragraph.spans:
        text += paragraph.text[at : span.start]
        own = paragraph.text[span.start : span.end]
        replacement = value(span) if span.object else None
        anchor = span.object if span.object and replacement is None else None
        if replacement is None:
            replacement = own
        if replacement:
            spans.append(Span(len(text), len(text) + len(replacement), span.style, span.type, anchor, span.link))
        text += replacement
        at = span.end
    text += paragraph.text[at:]
    return replace(paragraph, text=text, spans=tidy(spans))


Spot = tuple[int, int]
"""A place in a list of paragraphs: (index, offset)."""


def between(paragraphs: Sequence[Paragraph], start: Spot, end: Spot) -> list[Paragraph]:
    """Return the text between two places, as paragraphs."""
    (first, a), (last, b) = start, end
    if first == last:
        return [piece(paragraphs[first], a, b)]
    head, tail = paragraphs[first], paragraphs[last]
    return [piece(head, a, len(head.text)), *paragraphs[first + 1 : last], piece(tail, 0, b)]


def is_table(paragraph: Paragraph) -> bool:
    """Return whether a paragraph shows a table and nothing else."""
    spans = paragraph.spans
    return paragraph.text == OBJECT and bool(spans) and spans[0].object is not None and spans[0].object.kind == "table"


def put_between(head: Paragraph, new: Sequence[Paragraph], tail: Paragraph) -> list[Paragraph]:
    """Insert paragraphs between two halves: the first is appended to ``head``, ``tail`` is appended to the last, which
    then has the setting of ``tail``. Those that end up whole keep their own setting."""
    if not new:
        return [joined(head, tail)]
    if is_table(new[0]) and head.text:  # a table stands alone
        return [head, *put_between(replace(new[0], text="", spans=()), new, tail)]
    if is_table(new[-1]) and tail.text:
        return [*put_between(head, new, replace(tail, text="", spans=())), replace(tail, id=new_id("p"))]
    if len(new) == 1:
        return [joined(joined(head, new[0]), tail)]
    first, *middle, last = new
    first = replace(first, id=head.id) if not head.text else joined(head, first)
    end = joined(replace(last, style=tail.style, para=tail.para, type=tail.type), tail) if tail.text else last
    return [first, *middle, end]


def reworded(paragraph: Paragraph, words: str) -> Paragraph:
    """A paragraph with other words (U+FFFC for its objects), with its formatting kept where words stay."""
    if paragraph.text == words:
        return paragraph
    begin, end = difference(paragraph.text, words)
    head = inserted(piece(paragraph, 0, begin), begin, words[begin : len(words) - end].replace(OBJECT, ""))
    return joined(head, piece(paragraph, len(paragraph.text) - end, len(paragraph.text)))
