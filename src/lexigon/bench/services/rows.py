"""A job's rows: read whole when it is opened, written edit by edit afterwards.

Paragraphs and pages are ordered by ranks with gaps, so that putting one between two others writes one
row; only when a gap is used up are the ranks of that list dealt out anew.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from lexigon.bench import models
from lexigon.core.job import model
from lexigon.core.job.edits import (
    Primitive,
    PutEntry,
    SetBrief,
    SetFrames,
    SetKind,
    SetMainStory,
    SetName,
    SplicePages,
    SpliceParagraphs,
)
from lexigon.core.job.serial import check, plain, read

GAP = 1 << 20

ENTRY_TABLES: dict[str, type[models.Entry]] = {
    "paragraph_styles": models.ParagraphStyle,
    "character_styles": models.CharacterStyle,
    "frame_styles": models.FrameStyle,
    "rule_styles": models.RuleStyle,
    "swatches": models.Swatch,
    "masters": models.Master,
    "papers": models.Paper,
    "copies": models.StandingCopy,
    "overlays": models.Overlay,
    "fonts": models.OwnFont,
}


class Ranks:
    """The ranks of one ordered list of rows, kept beside the open job.

    ``spent`` says that a gap was used up: the ranks no longer fit the rows, and the list must be written anew.
    """

    def __init__(self, ranks: Iterable[int] = ()) -> None:
        self.ranks = list(ranks)
        self.spent = False

    def splice(self, at: int, remove: int, count: int) -> list[int]:
        """Ranks for ``count`` rows in place of ``remove`` at ``at``."""
        if count <= remove:
            made = self.ranks[at : at + count]
        else:
            behind = self.ranks[at + remove] if at + remove < len(self.ranks) else None
            before = self.ranks[at - 1] if at else (behind or 0) - GAP * (count + 1)
            step = GAP if behind is None else (behind - before) // (count + 1)
            self.spent = self.spent or step < 1
            made = [before + step * (i + 1) for i in range(count)]
        self.ranks[at : at + remove] = made
        return made

    def deal(self) -> list[int]:
        """Fresh ranks for the whole list."""
        self.ranks, self.spent = [GAP * (i + 1) for i in range(len(self.ranks))], False
        return self.ranks


class Rows:
    """Writes the primitive edits of one open job to its tables."""

    def __init__(self, job: model.Job) -> None:
        self.job = job
        self.pages = Ranks()
        self.paragraphs: dict[str, Ranks] = {}
        self.story_ids: dict[str, int] = {}

    # Reading and first writing

    @classmethod
    def load(cls, row: models.Job) -> Rows:
        """Read the whole job. Raises FormError if its rows do not make one."""
        stories: dict[str, model.Story] = {}
        ranks: dict[str, Ranks] = {}
        ids: dict[str, int] = {}
        for story in models.Story.objects.filter(job=row):
            rows = list(
                models.Paragraph.objects.filter(story=story).values_list("key", "rank", "style", "text", "details")
            )
            stories[story.key] = model.Story(story.key, story.name, [_paragraph(*r) for r in rows], list(story.frames))
            ranks[story.key] = Ranks(r[1] for r in rows)
            ids[story.key] = story.pk
        frames: dict[int, list[model.Frame]] = {}
        for frame in models.Frame.objects.filter(page__job=row):
            frames.setdefault(frame.page_id, []).append(read(model.Frame, frame.data))
        page_rows = list(models.Page.objects.filter(job=row))
        tables: dict[str, Any] = {
            name: {e.key: read(_CLASSES[name], e.data) for e in table.objects.filter(job=row)}
            for name, table in ENTRY_TABLES.items()
        }
        job = model.Job(
            row.key, row.name, read(model.Brief, row.brief), row.kind, row.main_story,
            pages=[_page(p, frames.get(p.pk, [])) for p in page_rows],
            stories=stories, **tables,
        )  # fmt: skip
        check(job)
        made = cls(job)
        made.pages, made.paragraphs, made.story_ids = Ranks(p.rank for p in page_rows), ranks, ids
        return made

    @classmethod
    def create(cls, row: models.Job, job: model.Job) -> Rows:
        """Write a job that has no rows yet."""
        made = cls(job)
        for name, table in ENTRY_TABLES.items():
            entries = getattr(job, name)
            table.objects.bulk_create(
                table(job=row, key=key, position=i, name=value.name, data=plain(value))
                for i, (key, value) in enumerate(entries.items())
            )
        for i, story in enumerate(job.stories.values()):
            made._new_story(row.key, story, i)
        made._splice_pages(row.key, SplicePages(0, 0, tuple(job.pages)))
        return made

    # Edits

    def write(self, key: str, edits: Iterable[Primitive]) -> None:
        """Write what the edits, already applied to the job, changed. Job-level values are left to the caller."""
        edits = list(edits)
        for edit in edits:
            if isinstance(edit, SpliceParagraphs):
                self._splice_paragraphs(edit)
            elif isinstance(edit, SplicePages):
                self._splice_pages(key, edit)
            elif isinstance(edit, PutEntry):
                self._put(key, edit)
            elif isinstance(edit, SetFrames):
                models.Story.objects.filter(pk=self.story_ids[edit.story]).update(frames=list(edit.frames))
            else:
                assert isinstance(edit, (SetBrief, SetName, SetKind, SetMainStory))
        for table in {edit.table for edit in edits if isinstance(edit, PutEntry)}:
            self._order(key, table)
        for story, ranks in self.paragraphs.items():
            if ranks.spent:
                models.Paragraph.objects.filter(story=self.story_ids[story]).delete()
                self._add_paragraphs(story, self.job.stories[story].paragraphs, ranks.deal())
        if self.pages.spent:
            models.Page.objects.filter(job=key).delete()
            self._add_pages(key, self.job.pages, self.pages.deal())

    def _splice_paragraphs(self, edit: SpliceParagraphs) -> None:
        ranks = self.paragraphs[edit.story]
        old = ranks.ranks[edit.at : edit.at + edit.remove]
        new = ranks.splice(edit.at, edit.remove, len(edit.insert))
        if ranks.spent:
            return
        rows = models.Paragraph.objects.filter(story=self.story_ids[edit.story])
        if len(old) == len(new) == 1:
            p = edit.insert[0]
            rows.filter(rank=old[0]).update(key=p.id, style=p.style, text=p.text, details=_details(p))
            return
        if old:
            rows.filter(rank__gte=old[0], rank__lte=old[-1]).delete()
        self._add_paragraphs(edit.story, edit.insert, new)

    def _add_paragraphs(self, story: str, paragraphs: Iterable[model.Paragraph], ranks: list[int]) -> None:
        row = self.story_ids[story]
        models.Paragraph.objects.bulk_create(
            [models.Paragraph(story_id=row, key=p.id, rank=r, style=p.style, text=p.text, details=_details(p))
             for p, r in zip(paragraphs, ranks, strict=True)],
            batch_size=400,
        )  # fmt: skip

    def _splice_pages(self, key: str, edit: SplicePages) -> None:
        old = self.pages.ranks[edit.at : edit.at + edit.remove]
        new = self.pages.splice(edit.at, edit.remove, len(edit.insert))
        if self.pages.spent:
            return
        if old:
            models.Page.objects.filter(job=key, rank__gte=old[0], rank__lte=old[-1]).delete()
        self._add_pages(key, edit.insert, new)

    def _add_pages(self, key: str, pages: Iterable[model.Page], ranks: list[int]) -> None:
        pages = list(pages)
        made = models.Page.objects.bulk_create(
            [models.Page(job_id=key, key=p.id, rank=r, master=p.master, made_by_flow=p.made_by_flow, details=_page_details(p))
             for p, r in zip(pages, ranks, strict=True)],
            batch_size=400,
        )  # fmt: skip
        models.Frame.objects.bulk_create(
            models.Frame(page=row, key=f.id, position=i, story=f.story, data=plain(f))
            for row, page in zip(made, pages, strict=True)
            for i, f in enumerate(page.frames)
        )

    def _put(self, key: str, edit: PutEntry) -> None:
        if edit.table == "stories":
            if edit.value is None:
                models.Story.objects.filter(pk=self.story_ids.pop(edit.key)).delete()
                del self.paragraphs[edit.key]
            else:
                self._new_story(key, read(model.Story, edit.value), len(self.job.stories))
            return
        rows = ENTRY_TABLES[edit.table].objects.filter(job=key)
        if edit.value is None:
            rows.filter(key=edit.key).delete()
            return
        changes = {"name": edit.value["name"], "data": edit.value}
        if not rows.filter(key=edit.key).update(**changes):
            rows.create(job_id=key, key=edit.key, position=len(getattr(self.job, edit.table)), **changes)

    def _order(self, key: str, table: str) -> None:
        """Bring the positions of a table's rows into the job's order, writing only those that differ."""
        rows: type[models.Entry] | type[models.Story] = models.Story if table == "stories" else ENTRY_TABLES[table]
        places = {name: at for at, name in enumerate(getattr(self.job, table))}
        moved = []
        for row in rows.objects.filter(job=key):
            if row.position != places[row.key]:
                row.position = places[row.key]
                moved.append(row)
        rows.objects.bulk_update(moved, ["position"], batch_size=400)

    def _new_story(self, key: str, story: model.Story, position: int) -> None:
        if story.id in self.story_ids:
            models.Story.objects.filter(pk=self.story_ids[story.id]).delete()
        row = models.Story.objects.create(
            job_id=key, key=story.id, position=position, name=story.name[:200], frames=story.frames
        )
        self.story_ids[story.id], self.paragraphs[story.id] = row.pk, Ranks()
        self._splice_paragraphs(SpliceParagraphs(story.id, 0, 0, tuple(story.paragraphs)))


_CLASSES: dict[str, type] = {
    "paragraph_styles": model.ParagraphStyle,
    "character_styles": model.CharacterStyle,
    "frame_styles": model.FrameStyle,
    "rule_styles": model.RuleStyle,
    "swatches": model.Swatch,
    "masters": model.Master,
    "papers": model.Paper,
    "copies": model.StandingCopy,
    "overlays": model.Overlay,
    "fonts": model.OwnFont,
}
_PAGE_DETAILS = ("section", "number_shown", "filler", "guides")


def _page_details(page: model.Page) -> dict[str, Any]:
    form = plain(page)
    return {name: form[name] for name in _PAGE_DETAILS if name in form}


def _page(row: models.Page, frames: list[model.Frame]) -> model.Page:
    page = model.Page(row.key, row.master, tuple(frames), row.made_by_flow)
    if not row.details:
        return page
    details: model.Page = read(model.Page, {"id": row.key, **row.details})
    return replace(page, **{name: getattr(details, name) for name in _PAGE_DETAILS})


def _details(paragraph: model.Paragraph) -> dict[str, Any]:
    form = plain(paragraph)
    return {name: form[name] for name in ("spans", "para", "type") if name in form}


def _paragraph(key: str, rank: int, style: str, text: str, details: dict[str, Any]) -> model.Paragraph:
    if not details:
        return model.Paragraph(key, style, text)
    result: model.Paragraph = read(model.Paragraph, {"id": key, "style": style, "text": text, **details})
    return result
