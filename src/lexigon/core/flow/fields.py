"""The text of fields: page numbers, dates, standing copy, facts of the job."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from functools import cached_property

from lexigon.core.document import numbering
from lexigon.core.document.model import Anchor, Job, TextTable
from lexigon.core.document.story_text import count_words
from lexigon.core.flow.references import References
from lexigon.core.lengths import show
from lexigon.core.numerals import PLAIN

DATE_FORMS = ("d MMMM yyyy", "d.M.yyyy", "yyyy-MM-dd", "MMMM yyyy", "EEEE, d MMMM yyyy", "yyyy")
"""Date patterns offered, in the notation of Unicode's LDML (UTS 35, part 4)."""


PAGED = ("page", "pages", "section", "heading")
"""Kinds of fields whose value depends on the page that they are on."""


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

    def __init__(self, job: Job, today: datetime.date, references: References) -> None:
        self.job, self.today, self.references = job, today, references

    @cached_property
    def labels(self) -> list[str]:
        """Every page's number as it is written."""
        return numbering.labels(self.job)

    def styled(self, field: Anchor) -> tuple[tuple[str, str | None], ...] | None:
        """Return what a field shows in more looks than one, in pieces with their character styles; None for all
        others."""
        if field.kind != "entry":
            return None
        pieces = self.references.pieces(field, self.labels)
        return tuple((piece.words, piece.style) for piece in pieces) if any(piece.style for piece in pieces) else None

    def value(self, field: Anchor, page: int, heading: Callable[[Anchor, int], str]) -> str:
        """Return what a field shows on a page (its index); ``heading`` finds the running titles."""
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
                return _describe_table(job.tables.get(field.ref))
            case "reference":
                return self.references.words(field, self.labels)
            case "entry":
                return self.references.numbers(field, self.labels)
            case "record":
                return f"{{{field.ref}}}"  # until a record is merged
            case "sum":
                return field.ref  # as its table is set
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
        # The language of a document does not depend on who reads its screens.
        return f"{show(width, unit, PLAIN).removesuffix(' ' + unit)} × {show(height, unit, PLAIN)}"


def _describe_table(table: TextTable | None) -> str:
    """Return the placeholder of a table in a story."""
    if table is None:
        return "[Table: not in this job]"
    rows, columns = len(table.rows), table.columns
    return f"[Table: {rows} row{'s' * (rows != 1)}, {columns} column{'s' * (columns != 1)}]"
