"""What the values of a field are: numbers, dates, addresses, pictures, colours, or text.

Values are text and stay as they are in the file. What they look like decides how they are shown, and which of them are
unlike the others. A number that begins with a zero, or that has more digits than a number needs, is a code: it is never
calculated with. Numbers of more than 11 digits are telephone numbers, article numbers and the like (common practice, no
source).
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

ValueKind = Literal["empty", "number", "code", "date", "e-mail", "web address", "picture", "colour", "text"]
_GROUP = "[.,'’ \u00a0\u202f]"
_SIGN, _UNIT = "[-+−–]?(?:[€£$¥][ \u00a0]?)?", "[ \u00a0]?[€£$¥%]?"
_PATTERNS: tuple[tuple[ValueKind, re.Pattern[str]], ...] = (
    ("code", re.compile(r"0\d{1,60}|\d{12,60}")),
    ("date", re.compile(r"\d{4}-\d\d?-\d\d?(?:[T ]\d\d?:\d\d(?::\d\d)?)?|\d\d?[./-]\d\d?[./-](?:\d{4}|\d\d)")),
    ("number", re.compile(_SIGN + rf"(?:\d{{1,3}}(?:{_GROUP}\d{{3}}){{1,4}}|\d{{1,11}})(?:[.,]\d{{1,9}})?" + _UNIT)),
    ("e-mail", re.compile(r"[^\s@<>\"]{1,64}@[^\s@<>\"]{1,250}\.[^\s@<>\".]{2,63}")),
    ("web address", re.compile(r"https?://[^\s<>\"]{1,2000}|www\.[^\s<>\"]{1,2000}", re.I)),
    ("picture", re.compile(r"[^\n<>|?*\"]{1,250}\.(?:jpe?g|png|tiff?|webp|gif|heic|svg|pdf)", re.I)),
    ("colour", re.compile(r"#(?:[0-9a-f]{3}|[0-9a-f]{6})", re.I)),
)


def kind_of_value(value: str) -> ValueKind:
    """Return what a value looks like."""
    bare = value.strip()
    if not bare:
        return "empty"
    if len(bare) > 2100:
        return "text"
    return next((kind for kind, pattern in _PATTERNS if pattern.fullmatch(bare)), "text")


@dataclass(slots=True, frozen=True)
class FieldFacts:
    """What the values of a field are: the ``kind`` of nearly all that are not empty, else text, how many are empty, how
    many differ, and the rows (from 0) of values that are of another kind."""

    name: str
    kind: ValueKind
    empty: int
    different: int
    odd: tuple[int, ...]
    shortest: int
    longest: int
    """The rows of the shortest and the longest value that is not empty; -1 if all are empty."""


def field_facts(name: str, values: Iterable[str]) -> FieldFacts:
    """Return what the values of a field are. A field is of a kind if at least nine of ten values are; numbers among
    codes are codes as well."""
    values = list(values)
    kinds = [kind_of_value(value) for value in values]
    counts = Counter(kinds)
    empty = counts.pop("empty", 0)
    if counts["code"] and set(counts) <= {"code", "number"}:
        kinds = ["code" if kind == "number" else kind for kind in kinds]
        counts = Counter({"code": sum(counts.values())})
    total = sum(counts.values())
    kind, count = counts.most_common(1)[0] if counts else ("empty", 0)
    if total and count < 0.9 * total:
        kind = "text"
    odd = tuple(at for at, one in enumerate(kinds) if kind != "text" and one not in (kind, "empty"))
    filled = [at for at, one in enumerate(kinds) if one != "empty"]
    lengths = {at: len(values[at].strip()) for at in filled}
    shortest = min(filled, key=lambda at: lengths[at], default=-1)
    longest = max(filled, key=lambda at: lengths[at], default=-1)
    return FieldFacts(name, kind, empty, len({values[at] for at in filled}), odd, shortest, longest)
