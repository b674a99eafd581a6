"""The kinds of findings: how grave each is, and why it matters."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Level = Literal["error", "warning", "note"]
LEVELS: tuple[Level, ...] = ("error", "warning", "note")
"""The gravest first. With an error, something does not print as it is on the board, or a printer would send the file
back; with a warning it may look bad; a note is worth knowing."""


@dataclass(slots=True, frozen=True)
class Kind:
    """A kind of finding: what it is called, how grave it is, and why it matters."""

    title: str
    level: Level
    why: str


_RUNS_OUT = "What is below the foot of the column may cover other objects, or leave the page."
_MISREGISTER = "Plates shift against each other by up to a tenth of a millimetre on press."
KINDS: dict[str, Kind] = {
    "overset": Kind("Overset text", "error", "Words that do not fit are not printed."),
    "row too high": Kind("Table row too high", "error", _RUNS_OUT),
    "figure too high": Kind("Figure too high", "error", _RUNS_OUT),
    "note too high": Kind("Note too high", "error", _RUNS_OUT),
    "frame too high": Kind("Anchored frame too high", "error", _RUNS_OUT),
    "frame off the page": Kind("Anchored frame outside the page", "error", "What is outside the page is not printed."),
    "note off the page": Kind("Note outside the page", "error", "What is outside the page is not printed."),
    "notes nowhere": Kind("Notes without a place", "error", "Readers find the number of a note, but not the note."),
    "table too narrow": Kind("Table too narrow", "error", "Figures run into the next cell and cannot be read."),
    "indent": Kind("Indents wider than the frame", "warning", "Text leaves its frame, or has no room in it."),
    "uneven feet": Kind("Uneven feet", "note", "The eye compares the last lines of facing pages."),
    "words off the page": Kind("Text off the page", "error", "What is outside the page is not printed."),
    "words cut off": Kind("Text cut off", "error", "The sheet is trimmed through these words."),
    "words across a fold": Kind("Text across a fold", "warning", "Folds crack the ink and hide letters."),
    "words near an edge": Kind("Text near an edge", "warning", "Trims and folds may be off by a millimetre or more."),
    "words under the bar code": Kind("Text under the bar code", "error", "The bar code will cover these words."),
    "wider than the column": Kind(
        "Object wider than its column", "warning", "It covers the next column or the margin."
    ),
    "off the page": Kind(
        "Objects off the page", "warning", "They are not printed. They may have been forgotten there."
    ),
    "mixed orientation": Kind("Mixed orientation", "note", "Printers and binders must know that pages are rotated."),
    "missing picture": Kind("Missing picture", "error", "A crossed box is printed in its place."),
    "coarse picture": Kind("Low resolution", "warning", "Enlarged pixels look soft, and their edges show as steps."),
    "font not embedded": Kind("Font not embedded", "error", "The printer’s system would use another font."),
    "transfer function": Kind("Transfer function in a PDF", "warning", "Tones may be printed differently."),
    "PostScript": Kind(
        "PostScript in a PDF", "error", "Print standards do not allow it, and printers reject the file."
    ),
    "too much ink": Kind("Too much ink", "error", "Ink that does not dry sets off on the next sheet."),
    "white overprint": Kind("White set to overprint", "error", "It disappears in print, though the board shows it."),
    "fine line": Kind("Fine line in several inks", "warning", _MISREGISTER),
    "fine type": Kind("Small type in several inks", "warning", _MISREGISTER),
    "code": Kind("Code cannot be made", "error", "Nothing is printed in its place."),
    "code too small": Kind("Code too small", "error", "Cameras and scanners cannot distinguish its modules."),
    "code too large": Kind("Code too large", "warning", "Shop scanners do not see all of it at once."),
    "code contrast": Kind("Code with little contrast", "error", "Readers see the code by its difference in lightness."),
    "missing glyphs": Kind("Missing characters", "error", "An empty box is printed for each of them."),
    "missing family": Kind("Missing font", "error", "Another font is wider or narrower: lines and pages change."),
    "unknown language": Kind("Unknown language", "warning", "Words are neither hyphenated nor checked for spelling."),
    "broken reference": Kind("Broken reference", "error", "Readers are sent to a place that does not exist."),
    "stale listing": Kind("Listing out of date", "warning", "Titles or page numbers in it may be wrong."),
    "hidden layer": Kind("Hidden layer", "note", "What is on it is not printed."),
    "binding": Kind("Number of pages", "error", "Sheets are folded into fixed numbers of pages."),
}
"""By the names that findings have for scripts."""
