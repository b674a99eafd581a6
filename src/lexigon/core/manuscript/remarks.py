"""What a manuscript holds beside its words, and what became of it, in words."""

from __future__ import annotations

from collections.abc import Mapping

ROWS = (
    ("footnotes", "footnote", "at the foot of its column"), ("endnotes", "endnote", "set as footnotes for now"),
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
"""What is counted, what one of it is called, and what became of it."""
UNEXPECTED = ("unnoted", "missing", "lost references")
"""What should be looked at: something of the manuscript is not there."""
PLURALS = {
    "text box": "text boxes",
    "character of a symbol font": "characters of a symbol font",
    "note within a note": "notes within notes",
}


def remarks(counts: Mapping[str, int]) -> list[str]:
    """A remark for each kind of thing that was counted: ``3 comments, left out``."""
    return [
        f"{count:,} {word if count == 1 else PLURALS.get(word, f'{word}s')}" + (f", {became}" if became else "")
        for key, word, became in ROWS
        if (count := counts.get(key, 0))
    ]
