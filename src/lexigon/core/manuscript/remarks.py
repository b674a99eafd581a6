"""Remarks on what a manuscript contains besides its words, and on what happens to it."""

from __future__ import annotations

from collections.abc import Mapping

ROWS = (
    ("footnotes", "footnote", "at the foot of its column"), ("endnotes", "endnote", "at the foot of its column until a listing gathers it"),
    ("unnoted", "note reference", "without a note"), ("notes in notes", "note within a note", "left out"),
    ("pictures", "picture", "in its place in the text"), ("missing", "picture", "which did not come with it: left out"),
    ("tables", "table", "set with its rows and columns"), ("list items", "list item", ""), ("page breaks", "page break", ""),
    ("comments", "comment", "left out"), ("insertions", "tracked insertion", "accepted"),
    ("deletions", "tracked deletion", "left out"), ("links", "link", "which works in a screen PDF"),
    ("references", "cross-reference", "which follows what it refers to"),
    ("lost references", "cross-reference", "as it read last: it shows neither a page nor a whole paragraph of this document"),
    ("fields", "field", "as it read last"), ("text boxes", "text box", "its words taken"), ("hidden", "hidden piece", "left out"),
    ("symbols", "character of a symbol font", "which is unknown"), ("macros", "macro project", "not looked at"),
    ("left out", "part", "left out"),
)  # fmt: skip
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
        f"{count:,} {word if count == 1 else PLURALS.get(word, f'{word}s')}" + (f", {became}" if became else "")
        for key, word, became in ROWS
        if (count := counts.get(key, 0))
    ]
