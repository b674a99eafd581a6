"""Listings: contents, glossaries and the like, gathered from styled text, and their entries when they were last
inserted or updated."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    CONTROLS,
    MOST_PAGES,
    MOST_PARAGRAPHS,
    Id,
    Key,
    KeyOrEmpty,
    Many,
    Matching,
    Name,
    Text,
    Within,
)
from lexigon.core.document.model.text import Span

MOST_SOURCES = 40
MOST_TARGETS = 2000
"""Places that one entry names."""
ListedLevel = Annotated[int, Within(1, 9, "Levels of a listing are 1 to 9.")]
TextCount = Annotated[int, Within(1, 10_000, "An entry takes 1 to 10,000 words or sentences, or all of them.")]
Which = Annotated[int, Within(0, 100_000, "There is no such place in the paragraph.")]
PageThere = Annotated[int, Within(-1, 100_000, "The job has no such page.")]
Form = Annotated[str, Matching(r"[a-z ]*", "There is no such kind of index entry.", 40)]
Mark = Annotated[str, Matching(f"[^{CONTROLS}]+", "The mark that ends an explanation has 1 to 20 characters.", 20)]
Between = Annotated[str, Matching(f"[^{CONTROLS}]*|\t", "The separator has at most 40 characters.", 40)]
"""A tab is allowed, which the entry's style places."""


@dataclass(slots=True, frozen=True)
class ListingSource:
    """A style that feeds a listing."""

    style: Key
    of: Literal["paragraphs", "words", "marks", "notes"] = "paragraphs"
    """Paragraphs in a paragraph style, words in a character style, what is marked for the index (``style`` is ``marks``
    then), or notes of the kind that ``style`` names."""
    level: ListedLevel = 1
    entry: KeyOrEmpty = ""
    """The paragraph style its entries are set in; "" for that of contents at its level."""
    take: Literal["all", "sentences", "words"] = "all"
    count: TextCount = 1
    """How many of them, the first."""
    explain: Literal["no", "sentence", "mark", "paragraph"] = "no"
    """Of words in a character style: how much of the text after them is their explanation, as in a glossary. Up to the
    end of their sentence, up to ``mark``, or up to the end of their paragraph."""
    mark: Mark = ";"


@dataclass(slots=True, frozen=True)
class Target:
    """The target of an entry: a paragraph, or the words in a character style in it (the marks of an index term of that
    id, if it is ``of`` marks), counted from 0."""

    paragraph: Id
    style: KeyOrEmpty = ""
    nth: Which = 0
    of: Literal["words", "marks"] = "words"
    part: KeyOrEmpty = ""
    """The other job of the publication that it is in; "" for this one."""


@dataclass(slots=True, frozen=True)
class Inner:
    """An entry under another that is written in the same paragraph."""

    targets: Annotated[tuple[Target, ...], Many(MOST_TARGETS)]
    words: Text
    spans: Annotated[tuple[Span, ...], Many(MOST_PARAGRAPHS)] = ()
    behind: Text = ""


@dataclass(slots=True, frozen=True)
class Gathered:
    """A gathered entry: its target, its words with their formatting, its level, the style to set it in."""

    targets: Annotated[tuple[Target, ...], Many(MOST_TARGETS)]
    """Where there are none, no number stands."""
    words: Text
    spans: Annotated[tuple[Span, ...], Many(MOST_PARAGRAPHS)] = ()
    level: ListedLevel = 1
    style: KeyOrEmpty = ""
    behind: Text = ""
    """The terms after its page numbers: see also."""
    inner: Annotated[tuple[Inner, ...], Many(MOST_TARGETS)] = ()
    """Entries under it, in an index that is set run-in."""


@dataclass(slots=True, frozen=True)
class ListingEntry:
    """An entry as it was last inserted into the story: its source, and its paragraph there."""

    id: Key
    made: Gathered
    text: Text
    """The paragraph's text as it was made, U+FFFC for its number."""
    spans: Annotated[tuple[Span, ...], Many(MOST_PARAGRAPHS)]
    style: Key
    paragraph: Id
    out: bool = False
    """Whether it was removed from the story by hand, and is not inserted again."""


@dataclass(slots=True, frozen=True)
class Listing:
    """A listing: its sources, the format of its entries, and the entries in its story."""

    id: Key
    name: Name
    sources: Annotated[tuple[ListingSource, ...], Many(MOST_SOURCES)] = ()
    number: Literal["after", "before", "none"] = "after"
    """Where its page number stands."""
    separator: Between = "\t"
    order: Literal["appearance", "alphabetical"] = "appearance"
    merged: bool = False
    """Entries of the same words are one, with several numbers."""
    ranges: bool = False
    """Pages that follow each other are written as one range."""
    letters: bool = False
    """Entries in alphabetical order have a heading for each letter."""
    run_in: bool = False
    """Whether lower entries of an index follow their term in its paragraph, each after a semicolon."""
    over: Literal["job", "publication"] = "job"
    """Whether it gathers from the other jobs of the publication, too (``Abroad``)."""
    continued: Name = ""
    """The text in brackets after the words of an entry of the first level, above a column that continues with the
    entries under it; "" for none."""
    sections: Annotated[tuple[Id, ...], Many(MOST_PARAGRAPHS)] = ()
    """Of these sections alone, by the pages they begin with; of all where there are none."""
    stories: Annotated[tuple[Id, ...], Many(MOST_PARAGRAPHS)] = ()
    """The stories to gather from; all of them if empty."""
    entries: Annotated[tuple[ListingEntry, ...], Many(MOST_PARAGRAPHS)] = ()


@dataclass(slots=True, frozen=True)
class IndexTerm:
    """Words of an index; marks in the text name it (an ``Anchor`` of the kind ``index``)."""

    id: Key
    name: Name
    parent: KeyOrEmpty = ""
    """The term it stands under."""
    sort: Name = ""
    """What it is sorted as, where not as its words."""
    see: Annotated[tuple[Key, ...], Many(40)] = ()
    """It only leads to these terms."""
    also: Annotated[tuple[Key, ...], Many(40)] = ()
    """These are worth looking up, too."""


@dataclass(slots=True, frozen=True)
class AbroadEntry:
    """An entry that a listing gathers in another job: an entry, and the page (an index there, -1 for none) of each of
    its places."""

    listing: Key
    made: Gathered
    pages: Annotated[tuple[PageThere, ...], Many(MOST_TARGETS)]


@dataclass(slots=True, frozen=True)
class AbroadTerm:
    """A term of another job's index, and where it is marked: the page, an index there, and what the mark is of a
    stretch."""

    term: IndexTerm
    marks: Annotated[tuple[tuple[PageThere, Form], ...], Many(MOST_PARAGRAPHS)] = ()


@dataclass(slots=True, frozen=True)
class Abroad:
    """The entries that another job of the publication has for the listings of this one, when it was last read."""

    id: Key
    """The job's."""
    name: Name
    before: bool
    """Whether it is before this job; those of either side are in order."""
    labels: Annotated[tuple[Name, ...], Many(MOST_PAGES)]
    """The numbers of its pages as they are written."""
    found: Annotated[tuple[AbroadEntry, ...], Many(MOST_PARAGRAPHS)] = ()
    terms: Annotated[tuple[AbroadTerm, ...], Many(MOST_PARAGRAPHS)] = ()
