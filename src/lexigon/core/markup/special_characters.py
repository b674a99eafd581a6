"""Characters that cannot be typed or seen, by name: ``<tab>``, ``<line end>``, ``<no-break space>`` in searches and
replacements."""

from __future__ import annotations

import re

from lexigon.core.document.model import OBJECT
from lexigon.core.document.story_text import LINE_BREAK

NAMED: dict[str, str] = {
    "tab": "\t",
    "line end": LINE_BREAK,
    "no-break space": "\u00a0",
    "narrow no-break space": "\u202f",
    "thin space": "\u2009",
    "hair space": "\u200a",
    "em space": "\u2003",
    "en space": "\u2002",
    "soft hyphen": "\u00ad",
    "no-break hyphen": "\u2011",
    "en dash": "–",
    "em dash": "—",
    "ellipsis": "…",
    "opening quote": "“",
    "closing quote": "”",
    "opening single quote": "‘",
    "apostrophe": "’",
    "prime": "′",
    "double prime": "″",
    "bullet": "•",
    "dagger": "†",
    "minus": "−",
    "times": "×",
    "degree": "°",
    "less than": "<",
    "object": OBJECT,
}
"""``object`` is a note's number, a field, a picture or a table in the line."""
CLASSES: dict[str, str] = {
    "any letter": r"\p{L}",
    "any digit": r"\p{Nd}",
    "any sign": r".",
    "any space": r"[\s\u00a0\u202f]",
    "any word": r"[\p{L}\p{M}’'-]+",
}
"""What stands for one of many, in what is looked for."""
_NAME = re.compile(r"<([a-z][a-z -]{1,30})>")


def named(text: str) -> str:
    """Replace the names in a text by their characters; an unknown name stays as it is."""
    return _NAME.sub(lambda match: NAMED.get(match[1], match[0]), text)


def pattern_of(words: str, escape: bool = True) -> str:
    """A regular expression for a search in which characters and classes are named; in a pattern only the names are
    replaced."""
    out, at = "", 0
    for match in _NAME.finditer(words):
        expression = CLASSES.get(match[1]) or (re.escape(NAMED[match[1]]) if match[1] in NAMED else None)
        if expression is None:
            continue
        out += (re.escape(words[at : match.start()]) if escape else words[at : match.start()]) + expression
        at = match.end()
    rest = words[at:]
    return out + (re.escape(rest) if escape else rest)
