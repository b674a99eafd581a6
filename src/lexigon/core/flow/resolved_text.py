"""Paragraphs as they are shown: fields written out, list marks before them, and the offsets of both in the text
shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from lexigon.core.document.model import OBJECT, PLAIN_TABLE, Anchor, Paragraph, Span, TableStyle, TextTable
from lexigon.core.markup.marker import Opening

ELSEWHERE = ("margin", "near", "above")
"""The position of a frame that is anchored but not in the line: beside it, at the top or foot of a column near it, or
above it."""
STILL = ("index", "hidden")
"""Kinds of objects that show nothing, whatever is done to the job."""


Styled = tuple[tuple[str, str | None], ...]
"""Words in pieces, each with its character style."""
Value = Callable[[Anchor, int], str | Anchor | Styled]
"""What an object at an offset shows: words, or itself."""


@dataclass(slots=True, frozen=True)
class LaidTable(TextTable):
    """A table with its style, its cells' paragraphs as they are to be set."""

    look: TableStyle = PLAIN_TABLE
    body: str = ""

    def is_head(self, row: int) -> bool:
        """Return whether a row is one of those that are repeated."""
        return row < self.heads or row >= len(self.rows) - self.feet

    @property
    def feet(self) -> int:
        """Its foot rows, as far as there are others above them."""
        return self.foots if self.heads + self.foots < len(self.rows) else 0


@dataclass(slots=True, frozen=True)
class GoesUnder:
    """The line above a column in which the entries of a term continue: the term in its style, and the wording
    “continued”."""

    style: str
    words: str
    text: str


@dataclass(slots=True, frozen=True)
class ResolvedText:
    """A paragraph as it is shown: its fields written out, the mark of a list before it.

    ``fields`` are (start, end, source offset, length there) of each: a field is one character of the paragraph's own
    text, a mark none.
    """

    paragraph: Paragraph
    fields: tuple[tuple[int, int, int, int], ...] = ()
    boxed: bool = False
    """Whether frames are anchored in its lines."""
    opening: tuple[Opening, ...] = ()
    """How rules have its first lines set."""
    table: LaidTable | None = None
    """What it shows instead of words, its cells as they are to be set; each of its characters is a band of rows."""
    changes: bool = False
    """Something it shows may become other words: not so the marks of an index, which show nothing."""
    field_texts: tuple[str, ...] = ()
    """What objects in its cells show."""
    silent: tuple[tuple[int, Anchor], ...] = ()
    """What stands elsewhere and shows nothing in the line, and where in the text shown: notes without a number, frames
    beside or near it."""

    under: GoesUnder | None = None
    """What it is said to stand under where it begins a column."""

    cites: bool = False
    """What may become other words in it are the numbers of notes alone."""

    @property
    def alive(self) -> bool:
        """Return what it shows may become another without its words changing."""
        return self.changes or self.boxed or self.under is not None

    def source(self, offset: int) -> int:
        """The offset in the paragraph itself of an offset in the text shown; within a field, its end."""
        shift = 0
        for start, end, at, length in self.fields:
            if offset <= start:
                break
            if offset < end:
                return at + length
            shift += end - start - length
        return offset - shift

    def gaps(self, start: int, end: int) -> tuple[tuple[int, int], ...]:
        """Return what shows nothing from ``start`` up to ``end`` of the text shown: where, from ``start``, and how many
        characters of the paragraph."""
        return tuple(
            (at - start, length)
            for at, behind, _, length in self.fields
            if at == behind and start <= at < end and length
        )

    def to_shown(self, offset: int) -> int:
        """The other way round."""
        shift = 0
        for start, end, at, length in self.fields:
            if offset < at + length:
                break
            shift += end - start - length
        return offset + shift


def tabled(paragraph: Paragraph, table: LaidTable, bands: int, texts: tuple[str, ...] = ()) -> ResolvedText:
    """A paragraph that shows a table alone."""
    anchor = paragraph.spans[0].object
    whole = replace(paragraph, text=OBJECT * bands, spans=(Span(0, bands, object=anchor),))
    return ResolvedText(whole, ((0, bands, 0, 1),), table=table, changes=True, field_texts=texts)


def objects_of(table: TextTable) -> list[tuple[Paragraph, Anchor, int]]:
    """The objects anchored in a table's cells: the paragraph of each, and its offset in it."""
    return [
        (p, span.object, span.start)
        for row in table.rows
        for cell in row
        for p in cell.paragraphs
        for span in p.spans
        if span.object is not None
    ]


def written_out(
    paragraph: Paragraph, value: Value, mark: tuple[str, str | None] | None = None, behind: str = "\t"
) -> ResolvedText:
    """Return the paragraph with each field replaced by its text, spans shifted accordingly. ``value`` gives the text
    for the object at an offset; an anchor in its result stays as it is. ``mark`` is the character and style of its list
    or note mark, ``behind`` the space after that."""
    if mark is None and not any(span.object for span in paragraph.spans):
        return ResolvedText(paragraph)
    boxed = False
    text, spans, fields, at = "", [], [], 0
    silent: list[tuple[int, Anchor]] = []
    if mark is not None:
        text = mark[0] + behind
        fields.append((0, len(text), 0, 0))
        spans.append(Span(0, len(text), mark[1], None, Anchor("mark")))
    for span in paragraph.spans:
        text += paragraph.text[at : span.start]
        own = paragraph.text[span.start : span.end]
        written = value(span.object, span.start) if span.object else own
        if isinstance(written, Anchor) and written.form in ELSEWHERE:
            silent.append((len(text), written))
            written = ""
        if isinstance(written, Anchor):
            spans.append(replace(span, start=len(text), end=len(text) + len(own), object=written))
            text += own
            at, boxed = span.end, True
            continue
        if isinstance(written, tuple):
            fields.append(
                (len(text), len(text) + sum(len(words) for words, _ in written), span.start, span.end - span.start)
            )
            for words, style in written:
                spans.append(Span(len(text), len(text) + len(words), style or span.style, span.type, span.object))
                text += words
            at = span.end
            continue
        if span.object:
            written = written.replace(OBJECT, "")
            fields.append((len(text), len(text) + len(written), span.start, span.end - span.start))
            if not written and span.object.kind == "note":
                silent.append((len(text), span.object))
        if written:
            spans.append(Span(len(text), len(text) + len(written), span.style, span.type, span.object))
        text += written
        at = span.end
    text += paragraph.text[at:]
    kinds = {span.object.kind for span in paragraph.spans if span.object is not None}
    changes = mark is not None or not kinds.issubset(STILL)
    cites = mark is None and kinds == {"note"}
    copy = Paragraph(paragraph.id, paragraph.style, text, tuple(spans), paragraph.para, paragraph.type)
    return ResolvedText(copy, tuple(fields), boxed, changes=changes, silent=tuple(silent), cites=cites)
