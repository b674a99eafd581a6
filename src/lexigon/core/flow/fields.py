"""What fields show: page numbers, dates, standing copy, facts of the job; and where they stand in the text shown."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

from lexigon.core.job import numbering
from lexigon.core.job.markup.marking import Opening
from lexigon.core.job.model import OBJECT, Anchor, Job, Paragraph, Span, TextTable
from lexigon.core.job.text import count_words
from lexigon.core.lengths import show

DATE_FORMS = ("d MMMM yyyy", "d.M.yyyy", "yyyy-MM-dd", "MMMM yyyy", "EEEE, d MMMM yyyy", "yyyy")
"""Date patterns offered, in the notation of Unicode's LDML (UTS 35, part 4)."""


def written_date(day: datetime.date, form: str, language: str) -> str:
    """A date by an LDML pattern in a language; an unknown language falls back to English."""
    from babel import UnknownLocaleError
    from babel.core import Locale
    from babel.dates import format_date

    try:
        locale = Locale.parse(language.replace("-", "_"))
    except (UnknownLocaleError, ValueError):
        locale = Locale("en")
    try:
        return format_date(day, form or DATE_FORMS[0], locale)
    except (AttributeError, KeyError, ValueError, NotImplementedError):
        return format_date(day, DATE_FORMS[0], locale)


class FieldValues:
    """The values of one state of a job; make a new one when the job changed."""

    def __init__(self, job: Job, today: datetime.date) -> None:
        self.job, self.today = job, today

    @cached_property
    def labels(self) -> list[str]:
        """Every page's number as it is written."""
        return numbering.labels(self.job)

    def value(self, field: Anchor, page: int, heading: Callable[[Anchor, int], str]) -> str:
        """What a field shows on a page (its index); ``heading`` finds the running titles."""
        job = self.job
        within = 0 <= page < len(job.pages)
        match field.kind:
            case "page":
                return self.labels[page] if within and job.pages[page].number_shown else "" if within else "#"
            case "pages":
                if field.form == "section":
                    return str(numbering.section_length(job, page))
                return str(len(job.pages))
            case "job":
                return job.name
            case "section":
                section = numbering.section_at(job, page) if within else None
                return section.name if section else ""
            case "date":
                return written_date(self.today, field.form, job.brief.language)
            case "copy":
                copy = job.copies.get(field.ref)
                return copy.text if copy else ""
            case "fact":
                return self._fact(field.ref)
            case "table":
                return _table_told(job.tables.get(field.ref))
            case "heading":
                return heading(field, page)
            case _:  # the mark of a list; notes and frames are no words
                return ""

    def _fact(self, which: str) -> str:
        job, unit = self.job, self.job.brief.unit
        if which == "words":
            story = job.stories.get(job.main_story or "")
            return f"{count_words(story.paragraphs) if story else 0:,}"
        if which == "paper":
            paper = job.papers.get(job.brief.paper or "")
            return paper.name if paper else ""
        form = job.brief.form
        width, height = (form.width, form.height) if form else (job.brief.width, job.brief.height)
        return f"{show(width, unit).removesuffix(' ' + unit)} × {show(height, unit)}"


def _table_told(table: TextTable | None) -> str:
    """What stands in a text where a table belongs, until it is set as one."""
    if table is None:
        return "[Table: not in this job]"
    rows, columns = len(table.rows), table.columns
    return f"[Table: {rows} row{'s' * (rows != 1)}, {columns} column{'s' * (columns != 1)}]"


@dataclass(slots=True, frozen=True)
class Shown:
    """A paragraph as it is shown: its fields written out, the mark of a list before it.

    ``fields`` are (start, end, source offset, length there) of each: a field is one character of the paragraph's own
    text, a mark none.
    """

    paragraph: Paragraph
    fields: tuple[tuple[int, int, int, int], ...] = ()
    boxed: bool = False
    """Frames stand in its lines."""
    opening: tuple[Opening, ...] = ()
    """How rules have its first lines set."""

    @property
    def alive(self) -> bool:
        """What it shows may become another without its words changing."""
        return bool(self.fields) or self.boxed

    def source(self, offset: int) -> int:
        """The offset in the paragraph itself of an offset in the text shown; within a field, its end."""
        shift = 0
        for start, end, at, length in self.fields:
            if offset <= start:
                break
            if offset < end:
                return at + length
            shift += end - start - length
        return offset - shift

    def shown(self, offset: int) -> int:
        """The other way round."""
        shift = 0
        for start, end, at, length in self.fields:
            if offset < at + length:
                break
            shift += end - start - length
        return offset + shift


def written_out(
    paragraph: Paragraph, value: Callable[[Anchor], str | Anchor], mark: tuple[str, str | None] | None = None, behind: str = "\t"
) -> Shown:  # fmt: skip
    """The paragraph with each field replaced by its text, spans moved along. What ``value`` gives as an anchor stands there as it
    is. ``mark`` is its list's or note's sign and style, ``behind`` what sets that off."""
    if mark is None and not any(span.object for span in paragraph.spans):
        return Shown(paragraph)
    boxed = False
    text, spans, fields, at = "", [], [], 0
    if mark is not None:
        text = mark[0] + behind
        fields.append((0, len(text), 0, 0))
        spans.append(Span(0, len(text), mark[1], None, Anchor("mark")))
    for span in paragraph.spans:
        text += paragraph.text[at : span.start]
        own = paragraph.text[span.start : span.end]
        shown = value(span.object) if span.object else own
        if isinstance(shown, Anchor):
            spans.append(replace(span, start=len(text), end=len(text) + len(own), object=shown))
            text += own
            at, boxed = span.end, True
            continue
        if span.object:
            shown = shown.replace(OBJECT, "")
            fields.append((len(text), len(text) + len(shown), span.start, span.end - span.start))
        if shown:
            spans.append(Span(len(text), len(text) + len(shown), span.style, span.type, span.object))
        text += shown
        at = span.end
    text += paragraph.text[at:]
    return Shown(replace(paragraph, text=text, spans=tuple(spans)), tuple(fields), boxed)
