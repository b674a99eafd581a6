"""Page ranges as they are typed."""

from __future__ import annotations

from lexigon.core.errors import LexigonError


def page_range(text: str, count: int) -> list[int]:
    """Page indexes from ``1-8, 12``; empty text is all of them. Raises LexigonError in plain words."""
    if not text.strip():
        return list(range(count))
    pages: list[int] = []
    for part in text.replace("–", "-").split(","):
        first, dash, last = (piece.strip() for piece in part.partition("-"))
        if not first.isdecimal() or (dash and last and not last.isdecimal()):
            raise LexigonError(f"“{part.strip()}” is not a page or a range such as 3-8.")
        begin, end = int(first), int(last) if last else (count if dash else int(first))
        if begin > end:
            raise LexigonError(f"The range {begin}-{end} runs backwards.")
        if begin < 1 or end > count:
            raise LexigonError(f"The job has pages 1 to {count}; “{part.strip()}” lies outside.")
        pages += range(begin - 1, end)
    return pages
