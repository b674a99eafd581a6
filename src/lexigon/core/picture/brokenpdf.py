"""How reading a damaged PDF ends: what libraries raise on the way cannot be told from a mistake of ours, so readers of one name it here."""

from __future__ import annotations

import pikepdf

BROKEN = (
    pikepdf.PdfError,
    pikepdf.PasswordError,
    AttributeError,
    KeyError,
    IndexError,
    ValueError,
    TypeError,
    OSError,
    OverflowError,
    RuntimeError,
)
