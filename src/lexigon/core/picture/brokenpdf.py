"""The errors of reading damaged PDF files: libraries raise them in forms that cannot be distinguished from programming
errors, so readers name them here."""

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
