"""The front matter: recognised by its words, and put in the order and on the pages that are customary.

The order is that of The Chicago Manual of Style, 17th edition, 1.4 (from memory): half title, other books, title page,
copyright page, dedication, epigraph, contents, foreword, preface, acknowledgements, introduction. Which of them begin a
right-hand page is common practice.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.model import OBJECT, Paragraph, ParaSpec
from lexigon.core.manuscript.model import HEADINGS, Heading, Manuscript
from lexigon.core.manuscript.review.cleaning import Cleaner
from lexigon.core.manuscript.review.fixes import Fix

MOST = 400
"""Paragraphs from the beginning in which front matter is looked for."""
SHORT = 90
ORDER: dict[str, tuple[str, Literal["recto", "verso"]]] = {
    "half": ("half-title", "recto"),
    "also": ("other books", "verso"),
    "title": ("title page", "recto"),
    "imprint": ("imprint", "verso"),
    "dedication": ("dedication", "recto"),
    "epigraph": ("motto", "recto"),
    "contents": ("contents", "recto"),
    "foreword": ("foreword", "recto"),
    "preface": ("preface", "recto"),
    "thanks": ("acknowledgements", "recto"),
    "introduction": ("introduction", "recto"),
}
_HEADED = {
    "contents": r"(table of )?contents|inhalt(sverzeichnis)?|table des matières|sommaire",
    "foreword": r"foreword|geleitwort|avant-propos",
    "preface": r"preface|vorwort|préface",
    "thanks": r"acknowledge?ments|dank(sagung)?|remerciements",
    "introduction": r"introduction|einleitung|einführung",
    "dedication": r"dedication|widmung",
    "also": r"(also|other (books|works|titles)|books) by\b.*|by the same author|vom selben autor|du même auteur",
}
_IMPRINT = re.compile(
    r"©|\(c\) ?\d{4}|copyright|\bISBN\b|all rights reserved|first (published|edition)|printed (in|by)|published by|alle"
    r" rechte|tous droits|dépôt légal",
    re.I,
)
_DEDICATION = re.compile(r"(for|to|in (loving )?memory of|für|dem andenken|à|pour) [^.!?]{2,80}", re.I)


@dataclass(slots=True, frozen=True)
class Leaf:
    """A piece of front matter: what it is, and the numbers of its paragraphs."""

    kind: str
    start: int
    end: int


def front_matter(paragraphs: Sequence[Paragraph]) -> tuple[Leaf, ...]:
    """The parts of the front matter in their order in the manuscript; none where the text begins at once."""
    parts: list[tuple[str, int]] = []
    end = 0
    for number, p in enumerate(paragraphs[:MOST]):
        kind = _kind(p, parts[-1][0] if parts else "")
        if kind is None:
            break
        end = number + 1
        if kind and (not parts or parts[-1][0] != kind or (kind == "title" and p.style == "title")):
            parts.append((kind, number))
    else:
        return ()  # no end of it: it was something else
    if not parts or parts[0][1] > 0:
        return ()
    titles = [at for at, (kind, _) in enumerate(parts) if kind == "title"]
    if len(titles) > 1 and _bare(paragraphs[parts[titles[0]][1]].text) == _bare(paragraphs[parts[titles[1]][1]].text):
        parts[titles[0]] = ("half", parts[titles[0]][1])
    return tuple(
        Leaf(kind, start, parts[at + 1][1] if at + 1 < len(parts) else end) for at, (kind, start) in enumerate(parts)
    )


def _kind(p: Paragraph, now: str) -> str | None:
    """Return the part that a paragraph begins, "" where it continues the present one, None where the text itself
    begins."""
    text = _bare(p.text)
    short = len(text) <= SHORT
    for kind, words in _HEADED.items():
        if (
            short
            and (p.style in HEADINGS or kind == "also" or text.isupper() or now in ("", "title", "half", "imprint"))
            and re.fullmatch(words, text, re.I)
        ):
            return kind
    if p.style in HEADINGS:
        return "" if now == "contents" and text[-1:].isdigit() else None
    if p.style == "halftitle":
        return "half"
    if p.style == "title":
        return "title"
    if p.style == "subtitle" and now in ("title", "half"):
        return ""
    if p.style == "author":
        return "" if now in ("title", "half") else "title"
    if p.style == "dedication":
        return "dedication"
    if p.style == "imprint" or (_IMPRINT.search(text) and len(text) < 400):
        return "imprint"
    if now in ("contents", "also") and short and _DEDICATION.fullmatch(text) and not text[-1].isdigit():
        return "dedication"
    if now in ("contents", "foreword", "preface", "thanks", "introduction", "also"):
        return ""
    if p.style in ("quote", "verse"):
        return "epigraph"
    if short and _DEDICATION.fullmatch(text):
        return "dedication"
    if now in ("imprint", "epigraph", "dedication", "title", "half") and short:
        return ""
    return None


def arranged(read: Manuscript, cleaner: Cleaner) -> Manuscript:
    """The manuscript with its front matter in order, if that is requested; its parts are reported in any case."""
    leaves = front_matter(read.paragraphs)
    if not leaves:
        return read
    ordered = sorted(leaves, key=lambda leaf: list(ORDER).index(leaf.kind))
    was, now = (", ".join(ORDER[leaf.kind][0] for leaf in some) for some in (leaves, ordered))
    if not cleaner.is_enabled("front", was, Fix(0, len(was), now)):
        return replace(read, found=cleaner.findings)
    paragraphs: list[Paragraph] = []
    for leaf in ordered:
        first, *more = (_styled(p, leaf.kind) for p in read.paragraphs[leaf.start : leaf.end])
        paragraphs += [_begins(first, ORDER[leaf.kind][1]), *more]
    rest = read.paragraphs[max(leaf.end for leaf in leaves) :]
    if rest:
        paragraphs += [_begins(rest[0], "recto"), *rest[1:]]
    at = {p.id: number for number, p in enumerate(paragraphs)}
    headings = (Heading(at[read.paragraphs[one.number].id], one.style, one.text) for one in read.headings)
    return replace(
        read,
        paragraphs=tuple(paragraphs),
        headings=tuple(sorted(headings, key=lambda one: one.number)),
        found=cleaner.findings,
    )


def _styled(p: Paragraph, kind: str) -> Paragraph:
    """In the style of its piece, where there is one and it is set as running text."""
    return replace(p, style=kind) if kind in ("imprint", "dedication") and p.style in ("body", "first") else p


def _begins(p: Paragraph, start: Literal["recto", "verso"]) -> Paragraph:
    return replace(p, para=replace(p.para or ParaSpec(), start=start))


def _bare(text: str) -> str:
    return " ".join(text.replace(OBJECT, "").split())
