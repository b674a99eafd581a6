"""The kinds of PDF that are made, as data: what each must have and may have."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(slots=True, frozen=True)
class Variant:
    """A kind of PDF. A new one is an entry of ``VARIANTS`` and a kind of recipe."""

    version: str
    space: Literal["cmyk", "rgb"]
    """What its colours are written in."""
    conforms: str = ""
    """The standard it says it keeps to, as ISO 15930-7, 6.7 has it written."""
    intent: Literal["", "GTS_PDFX", "GTS_PDFA1"] = ""
    """It names the printing condition its inks are meant for, and carries its profile (ISO 32000-2, 14.11.5)."""
    clipped: bool = False
    """Its pages are cut off at the bleed."""
    flattened: bool = False
    """Nothing in it is mixed with what lies below it."""
    overprints: bool = False
    """What is black alone is printed over other inks."""

    @property
    def for_press(self) -> bool:
        """Whether files follow PDF/X, which the information dictionary states."""
        return self.intent == "GTS_PDFX" and bool(self.conforms)


VARIANTS = {
    "print": Variant("1.6", "cmyk", "PDF/X-4", "GTS_PDFX", clipped=True, overprints=True),
    "older": Variant("1.4", "cmyk", "PDF/X-1a:2003", "GTS_PDFX", clipped=True, flattened=True, overprints=True),
    "archive": Variant("1.4", "cmyk", "PDF/A-1b", "GTS_PDFA1", clipped=True, flattened=True, overprints=True),
    "screen": Variant("1.7", "rgb"),
    "png": Variant("1.7", "rgb"),
    "jpeg": Variant("1.7", "rgb"),
    "svg": Variant("1.7", "rgb"),
}
"""By the kind of recipe."""
