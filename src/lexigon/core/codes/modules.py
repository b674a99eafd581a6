"""What a code looks like: its dark modules, and the quiet zone round them.

QR codes (ISO/IEC 18004) are made by segno, Code 128 (ISO/IEC 15417) by python-barcode.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from lexigon.core.errors import LexigonError

QR_QUIET = 4
"""Modules left free on every side of a QR code (ISO/IEC 18004, 9.1)."""
BARS_QUIET = 10
"""Modules left free before and behind the bars of Code 128 (ISO/IEC 15417, 4.5)."""


class CodeError(LexigonError):
    """What cannot be written as a code of this kind."""


@dataclass(slots=True, frozen=True)
class Modules:
    """``rows`` of dark (True) and light modules, the uppermost first; bars have one row, which is as high as there is room."""

    rows: tuple[tuple[bool, ...], ...]
    quiet: int
    """Modules left free before and behind each row; above and below too, unless these are bars."""
    bars: bool = False

    @property
    def across(self) -> int:
        """Modules of the whole width, the quiet zone included."""
        return len(self.rows[0]) + 2 * self.quiet


@lru_cache(256)
def modules_of(form: str, text: str, level: str = "M") -> Modules:
    """The modules of a ``qr`` code, with an error correction ``level`` (L, M, Q, H), or of a ``code 128``. Raises CodeError."""
    if not text:
        raise CodeError("A code needs something to say.")
    if form == "qr":
        import segno

        try:
            code = segno.make_qr(text, error=level, boost_error=False)
        except (segno.DataOverflowError, ValueError) as error:
            raise CodeError("That is more than a QR code can hold.") from error
        return Modules(tuple(tuple(map(bool, row)) for row in code.matrix), QR_QUIET)
    from barcode.codex import Code128
    from barcode.errors import BarcodeError

    try:
        (bits,) = Code128(text).build()
    except (BarcodeError, KeyError, ValueError, AssertionError) as error:
        raise CodeError("Code 128 holds plain letters, figures and signs only.") from error
    return Modules((tuple(bit == "1" for bit in bits),), BARS_QUIET, bars=True)
