"""Page numbers: sections, roman numerals and letters, prefixes."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.document.model import Job, NumberStyle, Section

_ROMAN = (
    (1000, "m"),
    (900, "cm"),
    (500, "d"),
    (400, "cd"),
    (100, "c"),
    (90, "xc"),
    (50, "l"),
    (40, "xl"),
    (10, "x"),
    (9, "ix"),
    (5, "v"),
    (4, "iv"),
    (1, "i"),
)


def roman(number: int) -> str:
    """Lower-case roman numeral; 0 and less, and 4000 and more, have none and stay arabic."""
    if not 0 < number < 4000:
        return str(number)
    out = ""
    for value, sign in _ROMAN:
        count, number = divmod(number, value)
        out += sign * count
    return out


def letters(number: int) -> str:
    """a to z, then aa to zz, aaa to zzz: as page labels count (ISO 32000-2, table 161)."""
    if number < 1:
        return str(number)
    repeats, at = divmod(number - 1, 26)
    return chr(97 + at) * (repeats + 1)


def written(number: int, style: NumberStyle) -> str:
    if style == "1":
        return str(number)
    text = roman(number) if style in "iI" else letters(number)
    return text.upper() if style in "IA" else text


def sections(job: Job) -> list[tuple[int, Section]]:
    """(first page index, section) of each section, in order."""
    return [(index, page.section) for index, page in enumerate(job.pages) if page.section is not None]


def counted_pages(job: Job) -> Iterator[tuple[int, Section]]:
    """Every page's number, and the section that says how it is written."""
    number, section = 0, Section()
    for page in job.pages:
        number += 1
        if page.section is not None:
            section = page.section
            number = section.start if section.start is not None else number
        yield number, section


def counts(job: Job) -> list[int]:
    """Every page's number."""
    return [number for number, _ in counted_pages(job)]


def labels(job: Job) -> list[str]:
    """Every page's number as it is written, prefix included."""
    return [section.prefix + written(number, section.style) for number, section in counted_pages(job)]


def section_at(job: Job, index: int) -> Section | None:
    """The section a page belongs to, or None before the first."""
    for page in reversed(job.pages[: index + 1]):
        if page.section is not None:
            return page.section
    return None


def section_length(job: Job, index: int) -> int:
    """Return how many pages the section of a page has; of the whole job where there are none."""
    starts = [at for at, _ in sections(job)]
    first = max((at for at in starts if at <= index), default=0)
    return min((at for at in starts if at > index), default=len(job.pages)) - first
