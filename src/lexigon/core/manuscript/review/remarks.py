"""Remarks on what a manuscript contains besides its words, and on what happens to it."""

from __future__ import annotations

from collections.abc import Mapping

from lexigon.core.numerals import integer

ROWS = (
    ("footnotes", "footnote", "at the bottom of the column"),
    ("endnotes", "endnote", "at the bottom of the column until gathered by a listing"),
    ("unnoted", "note reference", "without a note"),
    ("notes in notes", "note within a note", "left out"),
    ("pictures", "picture", "in the text"),
    ("missing", "picture", "not included in the file: left out"),
    ("tables", "table", "with rows and columns"),
    ("list items", "list item", ""),
    ("page breaks", "page break", ""),
    ("comments", "comment", "left out"),
    ("insertions", "tracked insertion", "accepted"),
    ("deletions", "tracked deletion", "left out"),
    ("links", "link", "active in screen PDFs"),
    ("references", "cross-reference", "always current"),
    (
        "lost references",
        "cross-reference",
        "imported as text, because the target is neither a page nor a whole paragraph of this document",
    ),
    ("fields", "field", "imported as text"),
    ("text boxes", "text box", "imported as text"),
    ("hidden", "hidden passage", "left out"),
    ("symbols", "character of a symbol font", "unknown"),
    ("macros", "macro project", "ignored"),
    ("left out", "part", "left out"),
)
"""The key of each count, the term for one item, and what happens to it."""
UNEXPECTED = ("unnoted", "missing", "lost references")
"""The counts that need attention, because a part of the manuscript is missing."""
PLURALS = {
    "text box": "text boxes",
    "character of a symbol font": "characters of a symbol font",
    "note within a note": "notes within notes",
}


def remarks(counts: Mapping[str, int]) -> list[str]:
    """Return a remark for each kind of item counted, such as ``3 comments, left out``."""
    return [
        f"{integer(count)} {word if count == 1 else PLURALS.get(word, f'{word}s')}" + (f", {became}" if became else "")
        for key, word, became in ROWS
        if (count := counts.get(key, 0))
    ]
