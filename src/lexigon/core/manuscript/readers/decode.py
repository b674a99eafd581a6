"""From the bytes of a text file to text, and in which encoding they were."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.document.story_text import clean
from lexigon.core.errors import LexigonError

LARGEST = 40_000_000
"""Bytes; some forty long novels. Anything larger is not one manuscript."""

_SIGNATURES = (
    (b"\x89PNG", "a PNG picture"),
    (b"\xff\xd8\xff", "a JPEG picture"),
    (b"GIF8", "a GIF picture"),
    (b"II*\0", "a TIFF picture"),
    (b"MM\0*", "a TIFF picture"),
    (b"%PDF", "a PDF file"),
    (b"RIFF", "a media file"),
    (b"{\\rtf", "an RTF document"),
    (b"\xd0\xcf\x11\xe0", "an old office document"),
    (b"\x1f\x8b", "a compressed file"),
)


class ManuscriptError(LexigonError):
    """The file cannot be read as a manuscript; the job was not changed."""


@dataclass(slots=True, frozen=True)
class DecodedText:
    text: str
    encoding: str
    """The name for the user: “UTF-8”, “UTF-16”, “Windows-1252”."""
    dropped: int
    """Control characters that were left out."""


def decode(data: bytes) -> DecodedText:
    """Decode a plain text file: by its byte order mark, else as strict UTF-8, else as Windows-1252.

    Raises ManuscriptError for what is no text: pictures, archives, empty files, files over 40 MB.
    """
    if not data.strip():
        raise ManuscriptError("The file is empty.")
    if len(data) > LARGEST:
        raise ManuscriptError(
            f"The file has {len(data) / 1e6:.0f} MB; a manuscript has at most {LARGEST // 10**6} MB. Split it into "
            "parts."
        )
    for signature, what in _SIGNATURES:
        if data.startswith(signature):
            raise ManuscriptError(f"This is {what}, not a text file, whatever its name says.")
    if data.startswith(b"PK\x03\x04"):
        raise ManuscriptError("This is a zip file or an office document. Save it as plain text (.txt) and import that.")
    text, encoding = _text(data)
    controls = sum(text.count(chr(c)) for c in (*range(9), 11, *range(14, 32), 127))
    if controls > max(8, len(text) // 200):
        raise ManuscriptError(
            "This does not look like text: it is full of control characters. Save it as plain text and try again."
        )
    cleaned = clean(text.replace("\f", "\n\n"))
    if not cleaned.strip():
        raise ManuscriptError("The file is empty.")
    return DecodedText(cleaned, encoding, controls)


def _text(data: bytes) -> tuple[str, str]:
    for mark, codec, name in (
        (b"\xef\xbb\xbf", "utf-8", "UTF-8"),
        (b"\xff\xfe", "utf-16-le", "UTF-16"),
        (b"\xfe\xff", "utf-16-be", "UTF-16"),
    ):
        if data.startswith(mark):
            return data[len(mark) :].decode(codec, "replace"), name
    try:
        return data.decode("utf-8"), "UTF-8"
    except UnicodeDecodeError:
        # The five bytes cp1252 leaves open become replacement characters instead of an error.
        return data.decode("cp1252", "replace"), "Windows-1252"
