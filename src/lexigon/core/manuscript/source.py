"""Manuscripts independent of their format: paragraphs in the author's styles, with notes, tables and pictures in
their places.

Each reader (``docx``, ``odt``, ``rtf``, ``markdown``, ``htmlfile``) makes one of these; ``mapping`` makes paragraphs of
a job of it. Nothing here knows a job's styles. Looks are ``TypeSpec``s that say only what is set apart from the style.
"""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass, field
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.model import OBJECT, Anchor, Span, TypeSpec, combined
from lexigon.core.manuscript.readers.decode import ManuscriptError
from lexigon.core.numerals import integer

MOST_PARAGRAPHS = 100_000
MOST_LETTERS = 30_000_000
PLAIN = TypeSpec()
LINK = re.compile(r"#[^\s#]{1,200}|(https?://|mailto:|tel:)[^\s<>\"\x00-\x1f]{1,1900}")
"""Links that are imported: addresses, and places within the same document."""
Align = Literal["", "left", "centre", "right", "justify"]


@dataclass(slots=True, frozen=True)
class Listed:
    """An item of a list: numbered or not, and how deep."""

    ordered: bool
    level: int = 1
    first: bool = False
    """A list begins with it."""


@dataclass(slots=True, frozen=True)
class SourceParagraph:
    text: str
    spans: tuple[Span, ...] = ()
    style: str = ""
    """What its style is called where it was written; "" for none."""
    level: int = 0
    """Its level among the headings, 1 the highest; 0 for text."""
    align: Align = ""
    """As it is set by itself, or by its style."""
    listed: Listed | None = None
    starts_page: bool = False
    size: float = 0.0
    """Of its type, in points; 0 where nothing says."""
    names: tuple[str, ...] = ()
    """What links call places in it."""


@dataclass(slots=True, frozen=True)
class SourceCell:
    paragraphs: tuple[SourceParagraph, ...]
    across: int = 1
    down: int = 1


@dataclass(slots=True, frozen=True)
class SourceTable:
    rows: tuple[tuple[SourceCell, ...], ...]
    heads: int = 0


@dataclass(slots=True, frozen=True)
class SourceNote:
    kind: Literal["footnote", "endnote"]
    paragraphs: tuple[SourceParagraph, ...]


@dataclass(slots=True, frozen=True)
class SourcePicture:
    name: str
    data: bytes
    alt: str = ""
    width: float = 0.0
    """Its size in the document, in points; 0 if not given."""


@dataclass(slots=True)
class Source:
    format: str
    """In words: a Word document (DOCX), HTML."""
    paragraphs: list[SourceParagraph] = field(default_factory=list)
    notes: dict[str, SourceNote] = field(default_factory=dict)
    tables: dict[str, SourceTable] = field(default_factory=dict)
    pictures: dict[str, SourcePicture] = field(default_factory=dict)
    references: dict[str, SourceReference] = field(default_factory=dict)
    noted: dict[str, str] = field(default_factory=dict)
    """The notes whose numbers references show, by the names of their places."""
    reported: Counter[str] = field(default_factory=Counter)
    """The number of other things that are reported: ``comments``, ``insertions``, ``deletions``, ``fields``, ``links``,
    ``missing`` pictures and others."""


ReferenceForm = Literal["page", "words", "number"]
"""What a reference shows: the page of a place, the words of its paragraph, the number of a note."""


@dataclass(slots=True, frozen=True)
class SourceReference:
    """A cross-reference: the ``name`` of the place that it leads to, what it shows of it, and what it showed last."""

    name: str
    form: ReferenceForm
    shown: str


@dataclass(slots=True)
class Builder:
    """Puts paragraphs together from pieces of words, in the order of the source. Raises ManuscriptError for too
    many."""

    source: Source
    made: list[SourceParagraph] = field(default_factory=list)
    link: str = ""
    """The link target of the words that are added now; ``#`` and a name for a place in the document."""
    names: list[str] = field(default_factory=list)
    """Places that begin here."""
    _text: list[str] = field(default_factory=list)
    _spans: list[Span] = field(default_factory=list)
    _length: int = 0
    _all: int = 0

    def words(self, words: str, look: TypeSpec = PLAIN) -> None:
        words = story_text.clean(words.replace(OBJECT, "")).replace("\n", story_text.LINE_BREAK)
        if not words:
            return
        link = self.link if LINK.fullmatch(self.link) else ""
        if look != PLAIN or link:
            last = self._spans[-1] if self._spans else None
            if (
                last is not None
                and last.end == self._length
                and last.type == look
                and last.object is None
                and last.link == link
            ):
                self._spans[-1] = Span(last.start, self._length + len(words), type=look, link=link)
            else:
                self._spans.append(Span(self._length, self._length + len(words), type=look, link=link))
        self._put(words)

    def object(self, kind: Literal["note", "table", "frame", "reference"], ref: str, look: TypeSpec = PLAIN) -> None:
        """A note, a table or a picture, by the key under which the source stores it."""
        self._spans.append(Span(self._length, self._length + 1, object=Anchor(kind, ref)))
        self._put(OBJECT)

    @property
    def at(self) -> int:
        """Return how many characters the paragraph has so far."""
        return self._length

    def reference(self, name: str, form: ReferenceForm, start: int) -> None:
        """The words that the paragraph has from ``start`` on are a cross-reference's: it takes their place."""
        text = "".join(self._text)
        if start > len(text):
            return  # the paragraph ended within the field
        self._spans = list(story_text.cut_spans(self._spans, 0, start))
        self._text, self._length = [text[:start]], start
        key = f"r{len(self.source.references)}"
        self.source.references[key] = SourceReference(name, form, text[start:])
        self.object("reference", key)

    def _put(self, words: str) -> None:
        self._text.append(words)
        self._length += len(words)
        self._all += len(words)
        if self._all > MOST_LETTERS:
            raise ManuscriptError("This is more text than a job can contain.")

    @property
    def begun(self) -> bool:
        return self._length > 0

    def end(
        self,
        style: str = "",
        level: int = 0,
        align: Align = "",
        listed: Listed | None = None,
        starts_page: bool = False,
        size: float = 0.0,
    ) -> None:
        """Complete the paragraph. An empty one is kept, so that it can be reported."""
        text = "".join(self._text)
        if len(self.made) >= MOST_PARAGRAPHS:
            raise ManuscriptError(f"This has more than {integer(MOST_PARAGRAPHS)} paragraphs. Split it into parts.")
        names, self.names = tuple(self.names[:20]), []
        self.made.append(
            SourceParagraph(text, tuple(self._spans), style, level, align, listed, starts_page, size, names)
        )
        self._text, self._spans, self._length = [], [], 0

    def put_aside(self) -> tuple[list[str], list[Span], int]:
        """Return what was begun of a paragraph, which waits while something else is made."""
        begun = self._text, self._spans, self._length
        self._text, self._spans, self._length = [], [], 0
        return begun

    def go_on(self, begun: tuple[list[str], list[Span], int]) -> None:
        self._text, self._spans, self._length = begun

    def take_paragraphs(self) -> tuple[SourceParagraph, ...]:
        """Return what was made, of a note or a cell; the builder begins anew."""
        if self.begun:
            self.end()
        paragraphs, self.made = tuple(self.made), []
        return paragraphs


def over(look: TypeSpec, more: TypeSpec) -> TypeSpec:
    """A look with what is said more; what is taken back again says nothing."""
    return combined(look, more)
