"""The text of cross-references and of entries of listings: pages, words and numbers of places elsewhere in the job."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from itertools import pairwise
from operator import itemgetter
from typing import TYPE_CHECKING, NamedTuple

from lexigon.core.flow.beyond import Beyond
from lexigon.core.flow.lists import Sign
from lexigon.core.flow.whereabouts import Whereabouts
from lexigon.core.job.listed import MAIN, inner_key
from lexigon.core.job.model import OBJECT, Anchor, Job, Listing, ListingEntry, Paragraph, Span, Target

if TYPE_CHECKING:
    from lexigon.core.flow.notes import Cited

GONE = "??"
"""What a reference shows whose place is no longer there; a check tells it."""


class Piece(NamedTuple):
    """A part of what an entry shows: its words, the index of the page they lead to, the character style they are set in."""

    words: str
    page: int | None
    style: str | None = None


OfText = Callable[[str, Paragraph], Paragraph]
"""A paragraph of a text, by the text's id, in another form."""


def runs_in(paragraph: Paragraph, style: str) -> list[tuple[int, int]]:
    """The stretches of a paragraph in a character style; spans of it that touch are one."""
    found: list[tuple[int, int]] = []
    for span in paragraph.spans:
        if span.style != style or (span.object is not None and span.object.kind != "hidden"):
            continue
        if found and found[-1][1] == span.start:
            found[-1] = found[-1][0], span.end
        else:
            found.append((span.start, span.end))
    return found


class References:
    """Of one composed state. ``where`` says where things stand, ``shown`` how a paragraph is shown, ``marked`` how rules have it, ``marks`` the
    signs of lists, ``beyond`` what stands in other jobs, ``notes`` the numbers of the notes that a text cites."""

    def __init__(
        self, job: Job, where: Callable[[], Whereabouts], shown: OfText, marked: OfText,
        marks: Callable[[], Mapping[str, Mapping[str, Sign]]], beyond: Callable[[], Beyond],
        notes: Callable[[str], Mapping[str, Cited]],
    ) -> None:  # fmt: skip
        self.job, self._where, self._shown, self._marked, self._marks = job, where, shown, marked, marks
        self._notes = notes
        self._found: dict[str, tuple[str, Paragraph]] | None = None
        self._entries: dict[tuple[str, str], tuple[Target, ...]] | None = None
        self._cited: dict[str, tuple[str, str, int]] | None = None
        self._beyond = beyond
        self._terms: dict[str, dict[str, tuple[list[tuple[str, int]], list[str]]]] | None = None

    def find(self, key: str) -> tuple[str, Paragraph] | None:
        """A paragraph and the id of its text."""
        if self._found is None:
            self._found = {p.id: (story.id, p) for story in self.job.stories.values() for p in story.paragraphs}
        return self._found.get(key)

    def page_of(self, target: Target) -> int | None:
        """The index of the page that a paragraph stands on, or words in it; None where they stand nowhere."""
        found = self.find(target.paragraph) if not target.part else None
        if found is None:
            return None
        story, paragraph = found
        offset = 0
        if target.style:
            runs = runs_in(self._marked(story, paragraph), target.style)
            if target.nth >= len(runs):
                return None
            offset = runs[target.nth][0]
        if self.job.stories[story].kind == "note":
            return self._cited_on(story)
        return self._where().page(story, paragraph.id, offset)

    def _cited_on(self, note: str) -> int | None:
        """The page that cites a note."""
        place = self._citing(note)
        return self._where().page(*place) if place is not None else None

    def _citing(self, note: str) -> tuple[str, str, int] | None:
        """Return the place that cites a note, as story, paragraph and offset."""
        if self._cited is None:
            self._cited = {
                span.object.ref: (story.id, p.id, span.start)
                for story in self.job.stories.values() for p in story.paragraphs for span in p.spans
                if span.object is not None and span.object.kind == "note"
            }  # fmt: skip
        return self._cited.get(note)

    def words(self, anchor: Anchor, labels: list[str]) -> str:
        """Return what a reference shows."""
        found = self.find(anchor.ref)
        if found is None:
            return GONE
        story, paragraph = found
        if anchor.form == "words":
            return plain_words(self._shown(story, paragraph))
        noted = self.job.stories[story].kind == "note"
        if anchor.form == "number" and noted:
            place = self._citing(story)
            cited = self._notes(place[0]).get(story) if place is not None else None
            return (cited and cited.number) or GONE
        if anchor.form == "number":
            mark = self._marks().get(story, {}).get(paragraph.id)
            return mark.words.strip(" .") if mark else GONE
        page = self._cited_on(story) if noted else self._where().page(story, paragraph.id)
        return label_of(page, labels)

    def numbers(self, anchor: Anchor, labels: list[str]) -> str:
        """The page numbers of a listing's entry."""
        return "".join(piece.words for piece in self.pieces(anchor, labels))

    def pieces(self, anchor: Anchor, labels: list[str]) -> list[Piece]:
        """The same in pieces, each with the index of the page that it leads to; pages next to each other are one range where all are, or none
        is, a main place."""
        if self._entries is None:
            self._entries = {
                key: targets for one in self.job.listings.values() for entry in one.entries for key, targets in _led(one, entry)
            }  # fmt: skip
        listing, targets = self.job.listings.get(anchor.ref), self._entries.get((anchor.ref, anchor.form))
        if listing is None or targets is None:
            return []
        pages = self._pages(targets)
        if not pages:
            return [Piece(GONE, None)]
        made: list[Piece] = []
        style = MAIN if MAIN in self.job.character_styles else None
        for first, last in _ranges(pages) if listing.ranges else ((page, page) for page in sorted(pages)):
            look = style if pages[first] else None
            if made:
                made.append(Piece(", ", None))
            made.append(Piece(self.label(first, labels), first, look))
            if last > first:
                made += [Piece("–", None, look), Piece(self.label(last, labels), last, look)]
        return made

    @property
    def beyond(self) -> Beyond:
        """The pages of the other jobs of the publication."""
        return self._beyond()

    def label(self, page: int, labels: list[str]) -> str:
        """Return how a page is numbered, of this job or another."""
        return (self.beyond.label(page) if self.job.abroad else None) or label_of(page, labels)

    def _pages(self, targets: Iterable[Target]) -> dict[int, bool]:
        """The pages of targets, and whether one is a main place. A term of the index is looked up wherever it is marked now; between a mark
        that begins a stretch and the next one that ends one, all pages are meant."""
        pages: dict[int, bool] = {}

        def found(page: int, main: bool) -> None:
            pages[page] = pages.get(page, False) or main

        for target in targets:
            page = self.beyond.page_of(target) if target.part else self.page_of(target)
            if target.of != "marks" and page is not None:
                found(page, False)
        for part, term in dict.fromkeys((target.part, target.style) for target in targets if target.of == "marks"):
            begun: tuple[int, bool] | None = None
            for page, form in self.beyond.marks(part, term) if part else self.marks(term):
                main = "main" in form
                if form == "end" and begun is not None:
                    for one in range(begun[0], page + 1):
                        found(one, begun[1])
                begun = (page, main) if form.startswith("begin") else None if form == "end" else begun
                found(page, main)
        return pages

    def marks(self, term: str) -> list[tuple[int, str]]:
        """Return where a term of the index is marked: pages in order, each with what the mark is of a stretch."""
        if self._terms is None:
            self._terms = {}
            for story in self.job.stories.values():
                for p in story.paragraphs:
                    for span in p.spans:
                        if span.object is not None and span.object.kind == "index":
                            places, forms = self._terms.setdefault(span.object.ref, {}).setdefault(story.id, ([], []))
                            places.append((p.id, span.start))
                            forms.append(span.object.form)
        found: list[tuple[int, str]] = []
        for story_id, (places, forms) in self._terms.get(term, {}).items():
            pages = self._where().pages(story_id, places)
            found += [(page, form) for page, form in zip(pages, forms, strict=True) if page is not None]
        found.sort(key=itemgetter(0))  # those of one text stand in their order
        return found


def label_of(page: int | None, labels: list[str]) -> str:
    """Return how a page is numbered; of one that shows no number its place in the job."""
    if page is None:
        return GONE
    return (labels[page] or str(page + 1)) if page < len(labels) else str(page + 1)


def plain_words(paragraph: Paragraph) -> str:
    """A paragraph's words on one line, without the numbers of notes and the mark of a list before them."""
    text = paragraph.text
    for span in reversed(paragraph.spans):
        if _left_out(span):
            text = text[: span.start] + text[span.end :]
    return " ".join(text.replace(OBJECT, "").split())


def _left_out(span: Span) -> bool:
    return span.object is not None and span.object.kind in ("note", "mark", "frame", "table", "hidden", "index")


def _led(listing: Listing, entry: ListingEntry) -> Iterator[tuple[tuple[str, str], tuple[Target, ...]]]:
    """Return what an entry leads to, and those within its paragraph, by how they are named."""
    yield (listing.id, entry.id), entry.made.targets
    for number, one in enumerate(entry.made.inner):
        yield (listing.id, inner_key(entry.id, number)), one.targets


def _ranges(pages: Mapping[int, bool]) -> list[tuple[int, int]]:
    """Pages in order as runs of pages that follow each other and are alike."""
    order = sorted(pages)
    breaks = [(a, b) for a, b in pairwise(order) if b != a + 1 or pages[a] != pages[b]]
    return list(zip([order[0], *(b for _, b in breaks)], [*(a for a, _ in breaks), order[-1]], strict=True))
