"""Comparing a new version of a manuscript with the copy of a job: what differs, paragraph by paragraph, who changed it,
and the merged result.

Who changed it follows from the common base (a three-way comparison): a paragraph of the job that was the same in the
last version imported or exported has been changed by the writer; one that is in the new version as it was there has
been corrected in the job. Where no base is known, all changes count as the writer's.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from hashlib import blake2b
from typing import Literal

from lexigon.core.document.model import Anchor, Cell, Job, Paragraph, Story
from lexigon.core.document.starter import list_styles
from lexigon.core.editing.intents import PourText

Kind = Literal["changed", "added", "removed"]
Whose = Literal["theirs", "ours", "both", "unknown"]
ALIKE = 0.45
"""How much of two paragraphs must be the same for one to count as the other, changed."""
MOST_PAIRS = 4000
"""Pairs of paragraphs of one stretch that are looked at for that; in longer ones paragraphs are paired in order."""
_WORDS = re.compile(r"\s+|[^\W_]+|.", re.DOTALL)


@dataclass(slots=True, frozen=True)
class Hunk:
    """One paragraph that differs; by its place in the job's text and in the new version (where it would go, if it is in
    only one)."""

    kind: Kind
    ours: int
    theirs: int
    whose: Whose

    @property
    def usual(self) -> bool:
        """Return whether it is taken over unless somebody says otherwise: what the job's own people corrected stays."""
        return self.whose in ("theirs", "unknown")


RUNNING = frozenset({"body", "first", *(style.id for style in list_styles())})
"""The styles of running text. Which of them a paragraph is in follows from where it is, and jobs that were poured
before lists had styles have their items in that of the body: neither is a change of the text."""


def mark(p: Paragraph) -> str:
    """Return a short hash of a paragraph: its words, their formatting, and its style; not its other settings."""
    style = "body" if p.style in RUNNING else p.style
    looks = [
        (span.start, span.end, span.style, span.type) if span.object is None else (span.start, span.object.kind)
        for span in p.spans
    ]
    return blake2b(repr((style, p.text.replace("\u200b", ""), looks)).encode(), digest_size=8).hexdigest()


def compared(ours: Sequence[Paragraph], theirs: Sequence[Paragraph], base: Collection[str] = ()) -> list[Hunk]:
    """Return what differs, in reading order. ``base`` are the marks of what both began with; none if that is not
    known."""
    mine, new = [mark(p) for p in ours], [mark(p) for p in theirs]
    base_marks = frozenset(base)
    hunks: list[Hunk] = []
    for what, a, b, c, d in SequenceMatcher(None, mine, new, autojunk=False).get_opcodes():
        if what == "equal":
            continue
        for left, right in _paired(ours, theirs, range(a, b), range(c, d)):
            if left is None:
                assert right is not None
                whose: Whose = _whose(None, new[right], base_marks)
                hunks.append(Hunk("added", _next(hunks, a), right, whose))
            elif right is None:
                hunks.append(Hunk("removed", left, _after(hunks, c), _whose(mine[left], None, base_marks)))
            else:
                hunks.append(Hunk("changed", left, right, _whose(mine[left], new[right], base_marks)))
    return hunks


def _next(hunks: list[Hunk], start: int) -> int:
    """The paragraph of the job before which new ones are inserted: after the part that is compared already."""
    last = hunks[-1] if hunks else None
    return max(start, last.ours + (last.kind != "added") if last and last.ours >= start else start)


def _after(hunks: list[Hunk], start: int) -> int:
    last = hunks[-1] if hunks else None
    return max(start, last.theirs + (last.kind != "removed") if last and last.theirs >= start else start)


def _whose(ours: str | None, theirs: str | None, base: frozenset[str]) -> Whose:
    if not base:
        return "unknown"
    if ours is None:
        return "ours" if theirs in base else "theirs"  # deleted here; or new there
    if theirs is None:
        return "theirs" if ours in base else "ours"  # deleted there; or new here
    if ours in base:
        return "theirs"
    return "ours" if theirs in base else "both"


def _paired(
    ours: Sequence[Paragraph], theirs: Sequence[Paragraph], mine: range, new: range
) -> list[tuple[int | None, int | None]]:
    """Two stretches side by side: the pairs of like paragraphs, in order, of the greatest likeness altogether, and what
    stands alone."""
    if not mine or not new:
        return [*((left, None) for left in mine), *((None, right) for right in new)]
    if len(mine) * len(new) > MOST_PAIRS:
        both = min(len(mine), len(new))
        pairs: list[tuple[int | None, int | None]] = list(zip(mine[:both], new[:both], strict=True))
        return [*pairs, *((left, None) for left in mine[both:]), *((None, right) for right in new[both:])]
    like = [[_likeness(ours[left].text, theirs[right].text) for right in new] for left in mine]
    best = [[0.0] * (len(new) + 1) for _ in range(len(mine) + 1)]
    for i in range(len(mine) - 1, -1, -1):
        for j in range(len(new) - 1, -1, -1):
            pair = like[i][j] + best[i + 1][j + 1] if like[i][j] >= ALIKE else -1.0
            best[i][j] = max(pair, best[i + 1][j], best[i][j + 1])
    matched: list[tuple[int | None, int | None]] = []
    i = j = 0
    while i < len(mine) and j < len(new):
        if like[i][j] >= ALIKE and best[i][j] == like[i][j] + best[i + 1][j + 1]:
            matched.append((mine[i], new[j]))
            i, j = i + 1, j + 1
        elif best[i][j] == best[i + 1][j]:
            matched.append((mine[i], None))
            i += 1
        else:
            matched.append((None, new[j]))
            j += 1
    return [*matched, *((left, None) for left in mine[i:]), *((None, right) for right in new[j:])]


def _likeness(one: str, other: str) -> float:
    """0 to 1, by words."""
    if one == other:
        return 1.0
    matcher = SequenceMatcher(None, one.split(), other.split(), autojunk=False)
    return matcher.ratio() if matcher.real_quick_ratio() >= ALIKE and matcher.quick_ratio() >= ALIKE else 0.0


def words_between(before: str, after: str) -> list[tuple[str, str]]:
    """Return how a paragraph became another, in words: (``=``, ``-`` or ``+``, words), for a screen."""
    one, other = _WORDS.findall(before), _WORDS.findall(after)
    parts: list[tuple[str, str]] = []
    for what, a, b, c, d in SequenceMatcher(None, one, other, autojunk=False).get_opcodes():
        pieces = [("=", one[a:b])] if what == "equal" else [("-", one[a:b]), ("+", other[c:d])]
        parts += [(sign, "".join(piece)) for sign, piece in pieces if piece]
    return parts


def merged(job: Job, story: Story, new: PourText, hunks: Iterable[Hunk], accepted: Collection[int]) -> PourText:
    """The edit that takes over the hunks of these numbers. A paragraph that changed keeps its name and what it is set
    in beyond its style; notes, tables and pictures that say the same stay those of the job."""
    out: list[Paragraph] = []
    at = 0
    anchors = _AnchorCopies(job, new)
    for number, hunk in enumerate(hunks):
        out += story.paragraphs[at : hunk.ours]
        at = hunk.ours
        own = story.paragraphs[at] if hunk.kind != "added" else None
        their = new.paragraphs[hunk.theirs] if hunk.kind != "removed" else None
        if own is not None:
            at += 1
        if number not in accepted:
            out += [own] if own is not None else []
        elif their is not None:
            out.append(anchors.changed(own, their))
    out += story.paragraphs[at:]
    paragraphs = tuple(_follows(out, {p.id for p in story.paragraphs}))
    used = {span.object.ref for p in paragraphs for span in p.spans if span.object}
    notes = tuple(one for one in new.notes if one.id in used)
    inner = {span.object.ref for note in notes for p in note.paragraphs for span in p.spans if span.object} | used
    inlays = tuple(one for one in new.inlays if one.id in inner)
    pictures = {getattr(one.content, "picture", "") for one in inlays}
    return replace(
        new,
        story=story.id,
        paragraphs=paragraphs,
        notes=notes,
        inlays=inlays,
        tables=tuple(one for one in new.tables if one.id in inner),
        pictures=tuple(one for one in new.pictures if one.id in pictures),
    )


def _follows(paragraphs: Iterable[Paragraph], old: Collection[str]) -> Iterable[Paragraph]:
    """Begin or continue running text, as the paragraph before it requires."""
    heads = {"part", "chapter", "section", "title", "author", "scene"}
    before = ""
    for p in paragraphs:
        style = p.style
        if p.id not in old and style in ("first", "body"):
            style = "first" if before in heads or not before else "body"
        before = style
        yield p if style == p.style else replace(p, style=style)


class _AnchorCopies:
    """Keeps the job's own notes, tables and pictures where the new version says the same."""

    def __init__(self, job: Job, new: PourText) -> None:
        self.job = job
        self.notes = {one.id: one for one in new.notes}
        self.tables = {one.id: one for one in new.tables}

    def changed(self, own: Paragraph | None, their: Paragraph) -> Paragraph:
        if own is None:
            return their
        there: dict[tuple[str, str], list[Anchor]] = {}
        for span in own.spans:
            if span.object is not None:
                there.setdefault((span.object.kind, self._says(span.object)), []).append(span.object)
        spans = []
        for span in their.spans:
            same = there.get((span.object.kind, self._says(span.object)), []) if span.object else []
            spans.append(replace(span, object=same.pop(0)) if same else span)
        style = own.style if {own.style, their.style} <= RUNNING else their.style
        return Paragraph(
            own.id, style, their.text, tuple(spans), own.para if own.para is not None else their.para, own.type
        )

    def _says(self, anchor: Anchor) -> str:
        """Return a fingerprint of an anchored object, equal for equal contents; all pictures have the same."""
        if anchor.kind == "note":
            story = self.notes.get(anchor.ref) or self.job.stories.get(anchor.ref)
            return "\n".join(_words(story.paragraphs)) if story else ""
        if anchor.kind == "table":
            table = self.tables.get(anchor.ref) or self.job.tables.get(anchor.ref)
            return repr([[_cell(cell) for cell in row] for row in table.rows]) if table else ""
        return "" if anchor.kind == "frame" else anchor.ref


def _words(paragraphs: Iterable[Paragraph]) -> list[str]:
    """Return the text of paragraphs, independent of their styles."""
    return [mark(replace(p, style="")) for p in paragraphs]


def _cell(cell: Cell) -> tuple[int, int, list[str]]:
    return cell.across, cell.down, _words(cell.paragraphs)
