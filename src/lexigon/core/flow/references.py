"""The text of cross-references and of entries of listings: pages, words and numbers of places elsewhere in the job."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from itertools import pairwise
from operator import itemgetter
from typing import TYPE_CHECKING, NamedTuple

from lexigon.core.document.listing_merge import MAIN, inner_key
from lexigon.core.document.model import OBJECT, Anchor, Job, Listing, ListingEntry, Paragraph, Span, Target
from lexigon.core.flow.list_marks import Sign
from lexigon.core.flow.locator import Locator
from lexigon.core.flow.other_jobs import OtherJobs

if TYPE_CHECKING:
    from lexigon.core.flow.notes import Citation

GONE = "??"
"""The text of a reference whose target is missing; a check reports it."""


class Piece(NamedTuple):
    """A part of what an entry shows: its words, the index of the page they lead to, the character style they are set
    in."""

    words: str
    page: int | None
    style: str | None = None


OfText = Callable[[str, Paragraph], Paragraph]
"""A paragraph of a story, by the story's id, in another form."""


def runs_in(paragraph: Paragraph, style: str) -> list[tuple[int, int]]:
    """The stretches of a paragraph in a character style; spans of it that touch are one."""
    runs: list[tuple[int, int]] = []
    for span in paragraph.spans:
        if span.style != style or (span.object is not None and span.object.kind != "hidden"):
            continue
        if runs and runs[-1][1] == span.start:
            runs[-1] = runs[-1][0], span.end
        else:
            runs.append((span.start, span.end))
    return runs


class References:
    """The references of one composed state. ``where`` finds positions, ``resolve`` the paragraphs with fields written
    out, ``marked`` those with mark-up rules applied, ``marks`` list marks, ``beyond`` places in other jobs, ``notes``
    the numbers of the notes that a story cites."""

    def __init__(
        self,
        job: Job,
        where: Callable[[], Locator],
        resolve: OfText,
        marked: OfText,
        marks: Callable[[], Mapping[str, Mapping[str, Sign]]],
        beyond: Callable[[], OtherJobs],
        notes: Callable[[str], Mapping[str, Citation]],
    ) -> None:
        self.job, self._where, self._shown, self._marked, self._marks = job, where, resolve, marked, marks
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
        """The index of the page that a paragraph, or words in it, are on; None if they are not placed."""
        place = self.find(target.paragraph) if not target.part else None
        if place is None:
            return None
        story, paragraph = place
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
                for story in self.job.stories.values()
                for p in story.paragraphs
                for span in p.spans
                if span.object is not None and span.object.kind == "note"
            }
        return self._cited.get(note)

    def words(self, anchor: Anchor, labels: list[str]) -> str:
        """Return what a reference shows."""
        target = self.find(anchor.ref)
        if target is None:
            return GONE
        story, paragraph = target
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
        """The same in pieces, each with the index of the page that it leads to; pages next to each other are one range
        where all are, or none is, a main place."""
        if self._entries is None:
            self._entries = {
                key: targets
                for one in self.job.listings.values()
                for entry in one.entries
                for key, targets in _led(one, entry)
            }
        listing, targets = self.job.listings.get(anchor.ref), self._entries.get((anchor.ref, anchor.form))
        if listing is None or targets is None:
            return []
        pages = self._pages(targets)
        if not pages:
            return [Piece(GONE, None)]
        pieces: list[Piece] = []
        style = MAIN if MAIN in self.job.character_styles else None
        for first, last in _ranges(pages) if listing.ranges else ((page, page) for page in sorted(pages)):
            look = style if pages[first] else None
            if pieces:
                pieces.append(Piece(", ", None))
            pieces.append(Piece(self.label(first, labels), first, look))
            if last > first:
                pieces += [Piece("–", None, look), Piece(self.label(last, labels), last, look)]
        return pieces

    @property
    def beyond(self) -> OtherJobs:
        """The pages of the other jobs of the publication."""
        return self._beyond()

    def label(self, page: int, labels: list[str]) -> str:
        """Return how a page is numbered, of this job or another."""
        return (self.beyond.label(page) if self.job.abroad else None) or label_of(page, labels)

    def _pages(self, targets: Iterable[Target]) -> dict[int, bool]:
        """The pages of targets, and whether one is a main place. A term of the index is looked up wherever it is marked
        now; between a mark that begins a stretch and the next one that ends one, all pages are meant."""
        pages: dict[int, bool] = {}

        def add_page(page: int, main: bool) -> None:
            pages[page] = pages.get(page, False) or main

        for target in targets:
            page = self.beyond.page_of(target) if target.part else self.page_of(target)
            if target.of != "marks" and page is not None:
                add_page(page, False)
        for part, term in dict.fromkeys((target.part, target.style) for target in targets if target.of == "marks"):
            begun: tuple[int, bool] | None = None
            for page, form in self.beyond.marks(part, term) if part else self.marks(term):
                main = "main" in form
                if form == "end" and begun is not None:
                    for one in range(begun[0], page + 1):
                        add_page(one, begun[1])
                begun = (page, main) if form.startswith("begin") else None if form == "end" else begun
                add_page(page, main)
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
        marks: list[tuple[int, str]] = []
        for story_id, (places, forms) in self._terms.get(term, {}).items():
            pages = self._where().pages(story_id, places)
            marks += [(page, form) for page, form in zip(pages, forms, strict=True) if page is not None]
        marks.sort(key=itemgetter(0))  # those of one story are in order
        return marks


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
    """Return pages in order as ranges of consecutive pages that are of the same kind."""
    order = sorted(pages)
    breaks = [(a, b) for a, b in pairwise(order) if b != a + 1 or pages[a] != pages[b]]
    return list(zip([order[0], *(b for _, b in breaks)], [*(a for a, _ in breaks), order[-1]], strict=True))
