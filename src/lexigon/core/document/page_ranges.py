"""Page ranges as they are typed."""

from __future__ import annotations

from collections.abc import Sequence

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
            raise LexigonError(f"The job has pages 1 to {count}; “{part.strip()}” is outside this range.")
        pages += range(begin - 1, end)
    return pages


def page_words(indexes: Sequence[int]) -> str:
    """Places of pages in words, runs of them together: ``pages 3-8 and 12``; "" for none."""
    runs: list[list[int]] = []
    for index in sorted(set(indexes)):
        if runs and runs[-1][1] == index - 1:
            runs[-1][1] = index
        else:
            runs.append([index, index])
    if not runs:
        return ""
    parts = [str(first + 1) if first == last else f"{first + 1}–{last + 1}" for first, last in runs]
    if len(parts) > 4:
        parts = [*parts[:3], f"{len(parts) - 3} more"]
    several = len(indexes) > 1
    return f"page{'s' * several} {' and '.join([', '.join(parts[:-1]), parts[-1]] if len(parts) > 1 else parts)}"
