"""Quotation marks by language, and what straight ones become while they are typed.

The marks are CLDR's delimiters (unicode.org, common/main, quotationStart ...; values from memory).
"""

from __future__ import annotations

from lexigon.core.document.model import OBJECT

QUOTES = {
    "en-GB": "‘’“”",
    "en": "“”‘’",
    "de": "„“‚‘",
    "fr": "«»“”",
    "es": "«»“”",
    "it": "«»“”",
    "nl": "‘’“”",
    "sv": "””’’",
    "pl": "„”«»",
    "da": "“”‘’",
}
"""Outer opening, outer closing, inner opening, inner closing."""

OPENS_BEHIND = "([{—–-“‘«„‚\"'"
"""Characters after which a quotation mark opens."""


def marks_for(language: str) -> str:
    return QUOTES.get(language) or QUOTES.get(language.split("-")[0]) or QUOTES["en"]


def typed_marks(before: str, text: str, language: str) -> str:
    """Return what is typed after ``before``, with straight quotation marks replaced by those of the language."""
    marks, out = marks_for(language), ""
    for character in text:
        if character not in "\"'":
            out += character
            continue
        last = (before + out)[-1:] or " "
        opens = last.isspace() or last in OPENS_BEHIND or last == OBJECT
        single = "‘’" if "‘" in marks else marks[2:]
        double = marks[:2] if marks[0] not in "‘’" else marks[2:]
        pair = double if character == '"' else single
        out += "’" if character == "'" and not opens else pair[0 if opens else 1]
    return out
