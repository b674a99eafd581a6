"""Searching records: text in any of their fields, or in one."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence

_MARK = re.compile(r"[:=]")


def record_filter(search: str, fields: Sequence[str]) -> Callable[[Mapping[str, str]], bool]:
    """Return a function that says whether a record matches a search, in any case of letters.

    Text matches where any value contains it; ``post: hide`` where the field ``post`` contains it; ``post = the hide``
    where it is exactly that, and ``post =`` where it is empty. What precedes the colon or equals must be a field,
    else all of it is text.
    """
    match = _MARK.search(search)
    name = {one.casefold(): one for one in fields}.get(search[: match.start()].strip().casefold()) if match else None
    if match is None or name is None:
        needle = search.strip().casefold()
        return lambda record: any(needle in one.casefold() for one in record.values())
    value = search[match.end() :].strip().casefold()
    if match[0] == "=":
        return lambda record: record.get(name, "").strip().casefold() == value
    return lambda record: value in record.get(name, "").casefold()
