"""The head of an XML or HTML document, read in one pass: what precedes its first element can be of any length."""

from __future__ import annotations

from dataclasses import dataclass

SPACE = " \t\r\n\f\v"


@dataclass(slots=True, frozen=True)
class Head:
    """The name after ``<!DOCTYPE`` and that of the first element without its prefix, in small letters; "" where there
    is none."""

    doctype: str
    element: str


def read_head(text: str) -> Head:
    """The head of an HTML, XML or SVG document; both names are "" for anything else.

    A byte order mark, the XML declaration, processing instructions and comments come before them (XML 1.0, 2.8).
    """
    at = 1 if text.startswith("\ufeff") else 0
    doctype = ""
    while True:
        while at < len(text) and text[at] in SPACE:
            at += 1
        if text.startswith("<!--", at):
            end = text.find("-->", at + 4) + 3
        elif text.startswith("<?", at):
            end = text.find(">", at) + 1
        elif text[at : at + 9].lower() == "<!doctype":
            doctype = _name(text, at + 9)
            end = _doctype_end(text, at + 9)
        else:
            return Head(doctype, _name(text, at + 1) if text.startswith("<", at) else "")
        if end <= at:
            return Head(doctype, "")  # it is not closed
        at = end


def _doctype_end(text: str, at: int) -> int:
    """The offset after a document type declaration, whose own declarations are in square brackets; 0 if it is not
    closed."""
    end, bracket = text.find(">", at), text.find("[", at)
    if 0 <= bracket < end:
        close = text.find("]", bracket)
        end = text.find(">", close) if close >= 0 else -1
    return end + 1


def _name(text: str, at: int) -> str:
    """The name that begins there, after any spaces."""
    while at < len(text) and text[at] in SPACE:
        at += 1
    end = at
    while end < len(text) and (text[end].isalnum() or text[end] in "_-.:") and end - at < 100:
        end += 1
    return text[at:end].rpartition(":")[2].lower()
