"""Codes made of modules (QR, Data Matrix): the dark modules, and the quiet zone around them.

QR codes (ISO/IEC 18004) are made by segno, Data Matrix (ISO/IEC 16022) by zxing-cpp.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from lexigon.core.codes.qr import qr_rows
from lexigon.core.errors import LexigonError

QR_QUIET = 4
"""Modules left free on every side of a QR code (ISO/IEC 18004, 9.1)."""
MATRIX_QUIET = 1
"""Modules left free on every side of a Data Matrix (ISO/IEC 16022, 7.2)."""
BARS_QUIET = 10
"""Modules left free before and after the bars of Code 128 (ISO/IEC 15417, 4.5)."""


class CodeError(LexigonError):
    """The content cannot be written as a code of this kind."""


@dataclass(slots=True, frozen=True)
class Modules:
    """``rows`` of dark (True) and light modules, the uppermost first."""

    rows: tuple[tuple[bool, ...], ...]
    quiet: int
    """Modules left free on every side."""

    @property
    def across(self) -> int:
        """Modules of the whole width, the quiet zone included."""
        return max(len(self.rows[0]), len(self.rows)) + 2 * self.quiet


@lru_cache(256)
def modules_of(form: str, text: str, level: str = "M") -> Modules:
    """The modules of a ``qr`` code, with an error correction ``level`` (L, M, Q, H), or of a ``data matrix``. Raises
    CodeError."""
    if not text:
        raise CodeError("Type the content of the code.")
    if form == "data matrix":
        return _matrix(text)
    try:
        return Modules(qr_rows(text, level), QR_QUIET)
    except ValueError as error:  # segno's own errors are among these
        raise CodeError("This is more than a QR code can contain. Shorten it.") from error


def _matrix(text: str) -> Modules:
    import numpy as np
    import zxingcpp

    try:
        code = zxingcpp.create_barcode(text, zxingcpp.BarcodeFormat.DataMatrix, force_square=True)
        dark = np.array(code.to_image(scale=1, add_quiet_zones=False)) < 128
    except (ValueError, RuntimeError) as error:
        raise CodeError("This is more than a Data Matrix code can contain. Shorten it.") from error
    return Modules(tuple(tuple(map(bool, row)) for row in dark), MATRIX_QUIET)
