"""Intents about listings: what they gather, and their entries in a story."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.cell_stories import table_of
from lexigon.core.document.limits import MOST_PARAGRAPHS, Key, Many, Matching
from lexigon.core.document.listing_merge import CONTENTS, INDEX, LETTER, entry_of, merged, standing
from lexigon.core.document.model import (
    Abroad,
    Gathered,
    Job,
    Listing,
    ListingEntry,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    Story,
    TabStop,
    TypeSpec,
)
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, SpliceParagraphs, put
from lexigon.core.editing.intents.text.note_kinds import FOOT
from lexigon.core.editing.intents.text.words import Place, locate

HEADING = "contentshead"
"""The style of a listing's heading."""
INDENT = 12.0
"""Points that entries of a lower level are set in (common practice, no source)."""


def _listing(job: Job, key: str) -> Listing:
    listing = job.listings.get(key)
    if listing is None:
        raise EditError("That listing is no longer in the job.")
    return listing


HeadingLine = Annotated[str, Matching(r"[^\n]*", "A heading is one line of at most 200 characters.", 200)]


@dataclass(slots=True, frozen=True)
class PutListing:
    """Add a listing, or change what it gathers. Its entries in a story stay as they are until they are updated."""

    listing: Listing
    do: Literal["put-listing"] = "put-listing"

    label = "Change listing"

    def expand(self, job: Job) -> list[Primitive]:
        name = " ".join(self.listing.name.split())
        if not name:
            raise EditError("Type a name for the listing.", "name")
        others = (one for one in job.listings.values() if one.id != self.listing.id)
        if any(one.name.casefold() == name.casefold() for one in others):
            raise EditError(f"There is a listing “{name}” already.", "name")
        if not self.listing.sources:
            raise EditError("Select at least one style to gather.", "sources")
        for source in self.listing.sources:
            if source.of == "marks" or (source.of == "notes" and source.style in (*job.note_kinds, FOOT)):
                continue
            if source.of == "notes":
                raise EditError("A kind of note that the listing gathers is no longer in the job.", "sources")
            styles = job.paragraph_styles if source.of == "paragraphs" else job.character_styles
            if source.style not in styles:
                raise EditError("A style that the listing gathers is no longer in the job.", "sources")
        present = job.listings.get(self.listing.id)
        return [put("listings", replace(self.listing, name=name, entries=present.entries if present else ()))]


@dataclass(slots=True, frozen=True)
class PutAbroad:
    """Store the entries that other jobs of the publication have for the listings of this one, in order."""

    parts: Annotated[tuple[Abroad, ...], Many(1000)] = ()
    do: Literal["put-abroad"] = "put-abroad"
    label = "Gather entries from the publication"
    inward = True

    def expand(self, job: Job) -> list[Primitive]:
        if tuple(job.abroad.values()) == self.parts:
            return []
        gone = [PutEntry("abroad", key, None) for key in job.abroad]
        return [*gone, *(put("abroad", one) for one in self.parts)]


@dataclass(slots=True, frozen=True)
class RemoveListing:
    """Delete a listing with its entries, wherever they are; text that an editor added between them stays. With ``out``
    it only leaves its story, to be inserted elsewhere."""

    listing: str
    out: bool = False
    do: Literal["remove-listing"] = "remove-listing"

    @property
    def label(self) -> str:
        return "Remove listing from its story" if self.out else "Delete listing"

    def expand(self, job: Job) -> list[Primitive]:
        listing = _listing(job, self.listing)
        stands = standing(job, listing)
        edits: list[Primitive] = []
        if stands is not None:
            story, first, behind = stands
            own = {one.paragraph for one in listing.entries}
            left = [p for p in story.paragraphs[first:behind] if p.id not in own]
            if not left and behind - first == len(story.paragraphs):
                left = [Paragraph(story_text.new_id("p"), job.body)]
            edits.append(SpliceParagraphs(story.id, first, behind - first, tuple(left)))
        gone = put("listings", replace(listing, entries=())) if self.out else PutEntry("listings", listing.id, None)
        return [*edits, gone]


@dataclass(slots=True, frozen=True)
class PlaceListing:
    """Insert the entries of a listing into a story, with a heading if one is given: after the paragraph of ``at``, or
    replacing it if it is empty."""

    listing: str
    story: str
    at: Place
    gathered: Annotated[tuple[Gathered, ...], Many(MOST_PARAGRAPHS)]
    heading: HeadingLine = ""
    do: Literal["place-listing"] = "place-listing"
    label = "Place listing"

    def expand(self, job: Job) -> list[Primitive]:
        listing, entries, paragraphs = _fresh_entries(job, self.listing, self.gathered)
        story, ((index, _),) = locate(job, self.story, self.at)
        if story.kind != "text" or table_of(self.story):
            raise EditError("A listing can be in a story on pages, not in a note or an anchored frame.")
        styles = entry_styles(job, self.gathered)
        if heading := self.heading.strip():
            first = job.paragraph_styles.get(self.gathered[0].style or job.body)
            beside = Paragraph("", self._heading_listed(job) or (first.id if first else job.body))
            styles += _heading_style(job, beside, paragraphs[0].style)
            here = ParaSpec(start="anywhere", space_before=0.0)
            paragraphs = (Paragraph(story_text.new_id("p"), HEADING, heading, para=here), *paragraphs)
        empty = not story.paragraphs[index].text
        splice = SpliceParagraphs(story.id, index if empty else index + 1, 1 if empty else 0, paragraphs)
        return [*styles, put("listings", replace(listing, entries=entries)), splice]

    def _heading_listed(self, job: Job) -> str | None:
        """The style of the first heading that the listing leads to."""
        listed = {target.paragraph for one in self.gathered for target in one.targets}
        paragraphs = (p for story in job.stories.values() for p in story.paragraphs if p.id in listed)
        first_key = next(paragraphs, None)
        return first_key.style if first_key is not None else None


@dataclass(slots=True, frozen=True)
class InsertListing:
    """Insert a listing with its heading where readers expect it: before the first heading that it lists, after the
    title page and other front matter, as for contents; or at the end of the text, as for an index."""

    listing: str
    story: str
    gathered: Annotated[tuple[Gathered, ...], Many(MOST_PARAGRAPHS)]
    where: Literal["front", "end"] = "front"
    heading: HeadingLine = ""
    do: Literal["insert-listing"] = "insert-listing"
    label = "Insert listing"

    def expand(self, job: Job) -> list[Primitive]:
        listing, entries, paragraphs = _fresh_entries(job, self.listing, self.gathered)
        story = job.stories.get(self.story)
        if story is None or story.kind != "text":
            raise EditError("This job has no main story. Insert the listing on a separate page.")
        count = len(story.paragraphs)
        empty = int(self.where == "end" and count > 1 and not story.paragraphs[-1].text)
        at = count - empty if self.where == "end" else self._first_listed(job, story)
        styles = entry_styles(job, self.gathered)
        if heading := self.heading.strip():
            styles += _heading_style(job, story.paragraphs[min(at, count - 1)], paragraphs[0].style)
            paragraphs = (Paragraph(story_text.new_id("p"), HEADING, heading), *paragraphs)
        splice = SpliceParagraphs(story.id, at, empty, paragraphs)
        return [*styles, put("listings", replace(listing, entries=entries)), splice]

    def _first_listed(self, job: Job, story: Story) -> int:
        """The index of the paragraph before which the listing is inserted: the first one listed, or a paragraph kept
        with it, such as its number."""
        listed = {target.paragraph for one in self.gathered for target in one.targets}
        at = next((number for number, p in enumerate(story.paragraphs) if p.id in listed), None)
        if at is None:
            raise EditError(
                "Nothing in this listing is in the main story. Insert it at the end, or on a separate page."
            )
        cascade = Cascade(job)
        while at and cascade.setting(story.paragraphs[at - 1]).keep_next:
            at -= 1
        return at


def _fresh_entries(
    job: Job, key: str, gathered: tuple[Gathered, ...]
) -> tuple[Listing, tuple[ListingEntry, ...], tuple[Paragraph, ...]]:
    """A listing that is not placed yet, with its entries and their paragraphs. Raises EditError for one that is placed,
    or has no entries."""
    listing = _listing(job, key)
    if not gathered:
        raise EditError("There is nothing to gather yet, because no text uses the styles of this listing.")
    if standing(job, listing) is not None:
        raise EditError("This listing is in a story already. Remove it there first, or add another of the same kind.")
    entries = [entry_of(job, listing, one) for one in gathered]
    return listing, tuple(entry for entry, _ in entries), tuple(p for _, p in entries)


def _heading_style(job: Job, beside: Paragraph, entries: str) -> list[Primitive]:
    """The style for a listing's heading, if the job lacks it: based on that of the heading next to it, and beginning on
    a new page."""
    if HEADING in job.paragraph_styles:
        return []
    style = job.paragraph_styles.get(beside.style)
    base = beside.style if style is not None and style.level else job.body
    start = Cascade(job).setting(Paragraph("", base)).start
    para = ParaSpec(start="page" if start in ("anywhere", "column") else None, keep_next=True)
    return [
        put("paragraph_styles", ParagraphStyle(HEADING, "Contents heading", based_on=base, next=entries, para=para))
    ]


@dataclass(slots=True, frozen=True)
class UpdateListing:
    """A listing's entries brought up to date with what is gathered now. Where an editor has changed an entry that is
    gathered otherwise now, that stays, but for the entries named in ``taken``."""

    listing: str
    gathered: Annotated[tuple[Gathered, ...], Many(MOST_PARAGRAPHS)]
    taken: Annotated[tuple[Key, ...], Many(MOST_PARAGRAPHS)] = ()
    mine: Annotated[tuple[Key, ...], Many(MOST_PARAGRAPHS)] = ()
    """Those of which the editor's words are to stand, and which are not asked about again."""
    do: Literal["update-listing"] = "update-listing"
    label = "Update listing"

    def expand(self, job: Job) -> list[Primitive]:
        listing = _listing(job, self.listing)
        stands = standing(job, listing)
        if stands is None:
            raise EditError("This listing is not in a story.")
        story, first, behind = stands
        merge = merged(job, listing, self.gathered, story.paragraphs[first:behind], self.taken, self.mine)
        paragraphs = merge.paragraphs
        if not paragraphs and behind - first == len(story.paragraphs):
            paragraphs = [Paragraph(story_text.new_id("p"), job.body)]
        edits: list[Primitive] = list(entry_styles(job, self.gathered))
        after = replace(listing, entries=tuple(merge.entries))
        if after != listing:
            edits.append(put("listings", after))
        if paragraphs != story.paragraphs[first:behind]:
            edits.append(SpliceParagraphs(story.id, first, behind - first, tuple(paragraphs)))
        return edits


def entry_styles(job: Job, gathered: tuple[Gathered, ...]) -> list[Primitive]:
    """The styles that entries need and the job lacks: those of a table of contents, with page numbers at the right edge
    after dot leaders; each lower level is indented a little more."""
    levels = sorted({entry.level for entry in gathered if not entry.style} | {1})
    entry: list[Primitive] = []
    for level in levels:
        key = CONTENTS if level == 1 else f"{CONTENTS}-{level}"
        if key in job.paragraph_styles or (level == 1 and all(one.style or one.level > 1 for one in gathered)):
            continue
        has_contents_style = CONTENTS in job.paragraph_styles
        margin = Cascade(job).setting(Paragraph("", CONTENTS)).indent_left if has_contents_style else 0.0
        para = ParaSpec(indent_left=margin + INDENT * (level - 1))
        if not has_contents_style:
            para = replace(para, align="left", hyphenate=False, indent_first=0.0, tabs=(TabStop(None, "right", " ."),))
        base = CONTENTS if level > 1 and has_contents_style else job.body
        name = "Contents" if level == 1 else f"Contents, level {level}"
        entry.append(put("paragraph_styles", ParagraphStyle(key, name, based_on=base, next=key, para=para)))
    return [*entry, *_index_styles(job, gathered)]


def _index_styles(job: Job, gathered: tuple[Gathered, ...]) -> Iterator[Primitive]:
    """Those of an index: what goes over a line is set in, each lower level a little more (common practice, no
    source)."""
    body = Cascade(job).setting(Paragraph("", job.body))
    quiet = ParaSpec(align="left", hyphenate=False, space_before=0.0, space_after=0.0)
    for key in sorted({one.style for one in gathered} - job.paragraph_styles.keys()):
        if key == LETTER:
            letter = replace(quiet, indent_first=0.0, space_before=body.leading, keep_next=True)
            yield put(
                "paragraph_styles",
                ParagraphStyle(
                    key, "Index letter", based_on=job.body, next=INDEX, type=TypeSpec(weight=700), para=letter
                ),
            )
        elif key == INDEX or key.startswith(f"{INDEX}-"):
            level = 1 if key == INDEX else int(key.rpartition("-")[2])
            para = replace(quiet, indent_left=INDENT * (level + 1), indent_first=-2 * INDENT if level == 1 else -INDENT)
            name = "Index" if level == 1 else f"Index, level {level}"
            yield put("paragraph_styles", ParagraphStyle(key, name, based_on=job.body, next=key, para=para))
