"""Reading a manuscript in any format, recognised by its content and not by its name."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from types import MappingProxyType

from lexigon.core.manuscript.front import arranged
from lexigon.core.manuscript.mapping import converted
from lexigon.core.manuscript.model import Manuscript
from lexigon.core.manuscript.readers.archive import Archive
from lexigon.core.manuscript.readers.decode import LARGEST, ManuscriptError, decode
from lexigon.core.manuscript.readers.docx import read_docx
from lexigon.core.manuscript.readers.html import read_html
from lexigon.core.manuscript.readers.markdown import read_markdown
from lexigon.core.manuscript.readers.odt import read_odt
from lexigon.core.manuscript.readers.plain_text import read_plain
from lexigon.core.manuscript.readers.rtf import read_rtf
from lexigon.core.manuscript.review.cleaning import Cleaner
from lexigon.core.manuscript.source import Source
from lexigon.core.xmlhead import read_head

SUFFIXES = (".docx", ".odt", ".rtf", ".md", ".markdown", ".html", ".htm", ".xhtml", ".txt", ".text")
MARKDOWN = (".md", ".markdown", ".mdown")
LONG_TEXT = 1_500_000
"""Bytes of plain text (some 250,000 words) that take about a second to read and look through."""
LONG_MARK_UP = 2_000_000
"""The same of XML and RTF, which a table of 300 rows and 80 columns has."""
LONG_DOCUMENT = 400_000
"""The same of a packed document, with its pictures."""


def is_plain(data: bytes) -> bool:
    """Return whether a file is letters all through, and no packed document."""
    return not data.startswith((b"PK\x03\x04", b"\xd0\xcf\x11\xe0")) and not data.lstrip(
        b"\xef\xbb\xbf \r\n\t"
    ).startswith(b"{\\rtf")


def is_long(data: bytes) -> bool:
    """Return whether reading a document takes so long (a second, or more) that nobody should wait for it."""
    if is_plain(data):
        return len(data) > LONG_TEXT
    if data.startswith(b"PK\x03\x04"):
        with Archive(data) as archive:
            return len(data) > LONG_DOCUMENT or archive.mark_up > LONG_MARK_UP
    return len(data) > LONG_MARK_UP


def source_of(data: bytes, name: str = "") -> Source | None:
    """Return the content of a document; None for plain text, which has no styles. Raises ManuscriptError."""
    if not data.strip():
        raise ManuscriptError("The file is empty.")
    if len(data) > LARGEST:
        raise ManuscriptError(
            f"The file has {len(data) / 1e6:.0f} MB; a manuscript has at most {LARGEST // 10**6} MB. Split it into "
            "parts."
        )
    if data.startswith(b"PK\x03\x04"):
        return _from_archive(data)
    if data.startswith(b"\xd0\xcf\x11\xe0"):
        raise ManuscriptError(
            "This is an old or a locked office document. Save it as DOCX or ODT, without a password, and import that."
        )
    if data.lstrip(b"\xef\xbb\xbf \r\n\t").startswith(b"{\\rtf"):
        return read_rtf(data.lstrip(b"\xef\xbb\xbf \r\n\t"))
    text = decode(data).text
    named_so = name.lower().endswith((".html", ".htm", ".xhtml"))
    if _begins_as_html(text[:5000]) or (named_so and re.search(r"<\w[^<>]*>", text[:5000])):
        return read_html(_declared(data) or text)
    if name.lower().endswith(MARKDOWN):
        return read_markdown(text)
    return None


def read(
    data: bytes,
    name: str = "",
    *,
    language: str = "en-GB",
    cleaned: Mapping[str, bool] = MappingProxyType({}),
    mapping: Mapping[str, str] | None = None,
    own: Mapping[str, str] = MappingProxyType({}),
    headed: Collection[str] = (),
) -> Manuscript:
    """Return what a manuscript holds. ``mapping`` overrules which of its styles becomes which, ``cleaned`` which
    clean-ups are done; ``own`` are the job’s styles, ids by name, ``headed`` its styles of headings. Raises
    ManuscriptError."""
    source = source_of(data, name)
    cleaner = Cleaner(language, cleaned)
    if source is None:
        return arranged(read_plain(decode(data), cleaner), cleaner)
    if not source.paragraphs:
        raise ManuscriptError("This document contains no text.")
    return arranged(converted(source, mapping or {}, cleaner, own, headed), cleaner)


def _from_archive(data: bytes) -> Source:
    with Archive(data) as archive:
        kind = (archive.data("mimetype", 200) or b"").decode("ascii", "replace").strip()
        if "application/vnd.oasis.opendocument.text" in kind or (
            "content.xml" in archive.names and "META-INF/manifest.xml" in archive.names
        ):
            return read_odt(archive)
        if kind == "application/vnd.lexigon+zip":
            raise ManuscriptError("This is a Lexigon job. Open it from the shelf.")
        if any(name.startswith("word/") for name in archive.names) or "_rels/.rels" in archive.names:
            if any(name.startswith(("xl/", "ppt/")) for name in archive.names):
                raise ManuscriptError("This is a table or slides, not a text document.")
            return read_docx(archive)
    raise ManuscriptError("This is a zip file, not a text document. Unpack it and import the files inside.")


def _begins_as_html(text: str) -> bool:
    head = read_head(text)
    return head.doctype == "html" or head.element in ("html", "head", "body")


def _declared(data: bytes) -> str | None:
    """HTML in the encoding that it declares, where that differs from what its bytes suggest."""
    match = re.search(rb"<meta[^<>]{1,300}?charset=[\"']?\s{0,9}([\w-]{1,40})", data[:4096], re.IGNORECASE)
    if match is None or data.startswith((b"\xef\xbb\xbf", b"\xff\xfe", b"\xfe\xff")):
        return None
    try:
        return data.decode(match[1].decode("ascii"))
    except (LookupError, UnicodeDecodeError):
        return None
