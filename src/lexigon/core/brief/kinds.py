"""The kinds of piece, and what the Brief begins with for each."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(slots=True, frozen=True)
class Kind:
    id: str
    word: str
    make: str
    """The words on the button that makes it."""
    form: str = ""
    """"cover" or "fold" where the page is a flat sheet with panels; else its pages are bound or stand alone."""
    bound: bool = False
    """It has many pages, which may face each other."""
    defaults: dict[str, str] = field(default_factory=dict)


BASE = {
    "kind": "book",
    "name": "",
    "unit": "in",
    "width": "6 in",
    "height": "9 in",
    "facing": "",
    "language": "en-GB",
    "exceptions": "",
    "margins.head": "0.5 in",
    "margins.foot": "0.5 in",
    "margins.inner": "0.5 in",
    "margins.outer": "0.5 in",
    "bleed.head": "0.125 in",
    "bleed.foot": "0.125 in",
    "bleed.inner": "0.125 in",
    "bleed.outer": "0.125 in",
    "columns": "1",
    "gutter": "0.2 in",
    "rows": "1",
    "row_gutter": "0.2 in",
    "main": "",
    "pages": "1",
    "binding": "none",
    "paper": "",
    "colour": "process",
    "ppi": "300",
    "safe": "0.125 in",
    "family": "EB Garamond",
    "size": "11 pt",
    "leading": "15 pt",
    "spine": "",
    "whole": "",
    "flap": "0 in",
    "interior": "",
    "fold": "half",
    "panels": "2",
    "direction": "side",
    "allowance": "0 in",
    "grid": "1",
}
"""Every field of the form with the value it has where a kind says nothing else."""

KINDS = {
    kind.id: kind
    for kind in (
        Kind(
            "book",
            "Book inside",
            "Create book",
            "",
            True,
            {
                "facing": "1",
                "main": "1",
                "binding": "perfect",
                "paper": "white",
                "margins.head": "0.75 in",
                "margins.foot": "0.75 in",
                "margins.inner": "0.875 in",
                "margins.outer": "0.625 in",
            },
        ),
        Kind(
            "cover",
            "Cover",
            "Create cover",
            "cover",
            False,
            {
                "pages": "150",
                "paper": "white",
                "safe": "0.5 in",
                "family": "Cormorant Garamond",
                "size": "14 pt",
                "leading": "18 pt",
                "grid": "",
            },
        ),
        Kind(
            "magazine",
            "Magazine",
            "Create magazine",
            "",
            True,
            {
                "unit": "mm",
                "width": "210 mm",
                "height": "280 mm",
                "facing": "1",
                "pages": "36",
                "binding": "stitched",
                "paper": "silk115",
                "margins.head": "20 mm",
                "margins.foot": "22 mm",
                "margins.inner": "16 mm",
                "margins.outer": "14 mm",
                "columns": "3",
                "gutter": "5 mm",
                "row_gutter": "5 mm",
                "bleed.head": "3 mm",
                "bleed.foot": "3 mm",
                "bleed.inner": "3 mm",
                "bleed.outer": "3 mm",
                "size": "10 pt",
                "leading": "13 pt",
            },
        ),
        Kind(
            "brochure",
            "Brochure",
            "Create brochure",
            "fold",
            False,
            {
                "unit": "mm",
                "width": "99 mm",
                "height": "210 mm",
                "fold": "letter",
                "panels": "3",
                "allowance": "2 mm",
                "safe": "6 mm",
                "paper": "silk170",
                "bleed.head": "3 mm",
                "bleed.foot": "3 mm",
                "bleed.inner": "3 mm",
                "bleed.outer": "3 mm",
                "family": "Source Sans 3",
                "size": "9.5 pt",
                "leading": "13 pt",
                "grid": "",
            },
        ),
        Kind(
            "folded card",
            "Folded card",
            "Create card",
            "fold",
            False,
            {
                "width": "5 in",
                "height": "7 in",
                "paper": "board300",
                "safe": "0.25 in",
                "family": "Cormorant Garamond",
                "size": "13 pt",
                "leading": "17 pt",
                "grid": "",
            },
        ),
        Kind(
            "flyer",
            "Flyer",
            "Create flyer",
            "",
            False,
            {
                "unit": "mm",
                "width": "148 mm",
                "height": "210 mm",
                "margins.head": "10 mm",
                "margins.foot": "10 mm",
                "margins.inner": "10 mm",
                "margins.outer": "10 mm",
                "bleed.head": "3 mm",
                "bleed.foot": "3 mm",
                "bleed.inner": "3 mm",
                "bleed.outer": "3 mm",
                "paper": "silk115",
                "family": "Source Sans 3",
                "size": "10 pt",
                "leading": "14 pt",
                "grid": "",
                "gutter": "5 mm",
                "row_gutter": "5 mm",
            },
        ),
        Kind(
            "poster",
            "Poster",
            "Create poster",
            "",
            False,
            {
                "unit": "mm",
                "width": "420 mm",
                "height": "594 mm",
                "margins.head": "20 mm",
                "margins.foot": "20 mm",
                "margins.inner": "20 mm",
                "margins.outer": "20 mm",
                "bleed.head": "3 mm",
                "bleed.foot": "3 mm",
                "bleed.inner": "3 mm",
                "bleed.outer": "3 mm",
                "paper": "silk170",
                "family": "Source Sans 3",
                "size": "24 pt",
                "leading": "32 pt",
                "grid": "",
                "gutter": "10 mm",
                "row_gutter": "10 mm",
                "ppi": "200",
            },
        ),
        Kind(
            "card",
            "Card",
            "Create card",
            "",
            False,
            {
                "unit": "mm",
                "width": "85 mm",
                "height": "55 mm",
                "margins.head": "4 mm",
                "margins.foot": "4 mm",
                "margins.inner": "4 mm",
                "margins.outer": "4 mm",
                "bleed.head": "3 mm",
                "bleed.foot": "3 mm",
                "bleed.inner": "3 mm",
                "bleed.outer": "3 mm",
                "pages": "2",
                "paper": "board300",
                "family": "Source Sans 3",
                "size": "8 pt",
                "leading": "11 pt",
                "grid": "",
                "gutter": "4 mm",
                "row_gutter": "4 mm",
            },
        ),
        Kind(
            "label",
            "Label",
            "Create label",
            "",
            False,
            {
                "unit": "mm",
                "width": "90 mm",
                "height": "60 mm",
                "margins.head": "4 mm",
                "margins.foot": "4 mm",
                "margins.inner": "4 mm",
                "margins.outer": "4 mm",
                "bleed.head": "2 mm",
                "bleed.foot": "2 mm",
                "bleed.inner": "2 mm",
                "bleed.outer": "2 mm",
                "family": "Source Sans 3",
                "size": "9 pt",
                "leading": "12 pt",
                "grid": "",
                "gutter": "4 mm",
                "row_gutter": "4 mm",
            },
        ),
    )
}
"""Sizes and margins are usual ones (common practice, no source)."""


ROUND = {
    "0.125 in": "3 mm",
    "0.2 in": "5 mm",
    "0.25 in": "6 mm",
    "0.5 in": "12 mm",
    "0.625 in": "16 mm",
    "0.75 in": "20 mm",
    "0.875 in": "22 mm",
    "2 mm": "0.0625 in",
    "3 mm": "0.125 in",
    "4 mm": "0.1875 in",
    "5 mm": "0.2 in",
    "6 mm": "0.25 in",
    "10 mm": "0.375 in",
    "14 mm": "0.5625 in",
    "16 mm": "0.625 in",
    "20 mm": "0.75 in",
    "22 mm": "0.875 in",
}
"""What a usual distance is where people measure the other way: round there, not converted."""


ELSEWHERE = {
    ("6 in", "9 in"): ("148 mm", "210 mm"),
    ("5 in", "7 in"): ("105 mm", "148 mm"),
    ("148 mm", "210 mm"): ("5.5 in", "8.5 in"),
    ("210 mm", "280 mm"): ("8.375 in", "10.875 in"),
    ("420 mm", "594 mm"): ("18 in", "24 in"),
    ("85 mm", "55 mm"): ("3.5 in", "2 in"),
}
"""The usual size of a piece where people measure the other way (common practice, no source): a format that is sold
there, not a conversion."""


def defaults(kind: str) -> dict[str, str]:
    """Return what the form shows for a new piece of a kind."""
    kind_ = KINDS.get(kind, KINDS["book"])
    return {**BASE, **kind_.defaults, "kind": kind_.id}
