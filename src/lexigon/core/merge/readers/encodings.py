"""The encodings of text files with records."""

from __future__ import annotations

from lexigon.core.merge.model import RecordError

ENCODINGS = {
    "UTF-8": "utf-8",
    "UTF-16": "utf-16",
    "Windows-1252": "cp1252",
    "Windows-1250": "cp1250",
    "Windows-1251": "cp1251",
    "ISO 8859-1": "latin-1",
    "ISO 8859-15": "iso8859-15",
    "Mac OS Roman": "mac-roman",
}
"""The encodings that can be selected, by name, with Python's names for them."""
MARKS = (
    (b"\xef\xbb\xbf", "UTF-8", "utf-8"),
    (b"\xff\xfe", "UTF-16", "utf-16-le"),
    (b"\xfe\xff", "UTF-16", "utf-16-be"),
)


def decoded(data: bytes, encoding: str = "") -> tuple[str, str]:
    """Return the text of a file and the name of its encoding: by its byte order mark, else strict UTF-8, else UTF-16
    where every other byte is zero, else Windows-1252; or the encoding that is asked for. Raises RecordError for bytes
    that the encoding does not have, and for what is no text."""
    if encoding:
        codec = next((codec for name, codec in ENCODINGS.items() if name.casefold() == encoding.casefold()), None)
        if codec is None:
            raise RecordError(f"There is no encoding “{encoding[:40]}”. Select one of {', '.join(ENCODINGS)}.")
        try:
            text = data.decode(codec)
        except UnicodeError as error:
            raise RecordError(f"This file is not in {encoding}: some of its bytes have no meaning there.") from error
        return _text(text.removeprefix("\ufeff")), next(name for name in ENCODINGS if ENCODINGS[name] == codec)
    for mark, name, codec in MARKS:
        if data.startswith(mark):
            return _text(data[len(mark) :].decode(codec, "replace")), name
    if len(data) >= 4 and (codec := _wide(data[:2000])):
        return _text(data.decode(codec, "replace")), "UTF-16"
    try:
        return _text(data.decode("utf-8")), "UTF-8"
    except UnicodeDecodeError:
        return _text(data.decode("cp1252", "replace")), "Windows-1252"


def _wide(sample: bytes) -> str:
    """The codec of text whose every other byte is zero; "" for any other."""
    even, odd = sample[::2], sample[1::2]
    if odd.count(0) > 0.8 * len(odd) and not even.count(0):
        return "utf-16-le"
    return "utf-16-be" if even.count(0) > 0.8 * len(even) and not odd.count(0) else ""


def _text(text: str) -> str:
    controls = sum(text.count(chr(code)) for code in (*range(9), *range(14, 32), 127))
    if controls > max(8, len(text) // 200):
        raise RecordError("This is not a text file: it is full of control characters.")
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")
