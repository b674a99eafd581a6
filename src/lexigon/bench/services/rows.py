"""The rows of a job: read whole in one snapshot when it is opened, written edit by edit afterwards.

Paragraphs and pages are ordered by ranks with gaps, so that inserting one writes one row; only when a gap is used up
are the ranks of that list assigned again. No rows are cached between two writes: the neighbours of a change are looked
up in the transaction that writes it, so that it does not matter which process wrote last.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, fields, is_dataclass, replace
from typing import Any, assert_never

from django.db import connection, transaction
from django.db.models import Model, QuerySet

from lexigon.bench import models
from lexigon.core.document import model
from lexigon.core.document.consistency import check
from lexigon.core.document.model import FORMAT
from lexigon.core.document.registry import TABLES
from lexigon.core.editing.edits import Primitive, apply_all, edits_from_plain
from lexigon.core.editing.touches import (
    Edit,
    EntryTouch,
    ObjectsTouch,
    PagesTouch,
    PageTouch,
    ParagraphsTouch,
    StoryFramesTouch,
    ValueTouch,
    touches_of,
)
from lexigon.core.fileformat.jobs import job_from_plain
from lexigon.core.fileformat.upgrades import upgraded_edits
from lexigon.core.fileformat.values import plain, read, shared

FEW = 4
"""Rows that are written one by one."""
GAP = 1 << 20

ENTRY_TABLES = tuple(name for name in TABLES if name != "stories")
"""The tables whose entries are rows of ``Entry``; those of stories are more than one."""


_IN_SNAPSHOT = "in_snapshot"
"""The attribute of a connection that says whether a snapshot has begun on it."""


@contextmanager
def snapshot() -> Iterator[None]:
    """Everything read within is of one moment, whatever others write meanwhile. Nothing is written within."""
    if connection.in_atomic_block or getattr(connection, _IN_SNAPSHOT, False):
        yield
    elif connection.vendor == "sqlite":
        with connection.cursor() as cursor:
            cursor.execute("BEGIN DEFERRED")  # Django's own transactions would wait for the writers
            setattr(connection, _IN_SNAPSHOT, True)
            try:
                yield
            finally:
                setattr(connection, _IN_SNAPSHOT, False)
                cursor.execute("ROLLBACK")
    else:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY")
            yield


# Reading


def load(key: str) -> tuple[models.Job, model.Job]:
    """A job's row and the whole job, as they were at one moment. Raises FormError if its rows do not make a job.

    A job that an older version wrote is brought up to the present form, and its rows are written anew.
    """
    with snapshot():
        row = models.Job.objects.get(pk=key)
        data = _raw(row) if row.form < FORMAT else None
        job = _read(row) if data is None else None
    if job is None:
        job = job_from_plain(data)
        _bring_up(row, job)
    return row, job


def load_at(key: str, revision: int) -> model.Job:
    """The job as it was at a revision: as its rows are, with the changes since taken back."""
    if models.Job.objects.filter(pk=key, form__lt=FORMAT).exists():
        load(key)  # brings its rows up
    with snapshot():
        row, job = load(key)
        since = models.Edit.objects.filter(job=key, revision__gt=revision, revision__lte=row.revision)
        for edit in since.order_by("-revision"):
            apply_all(job, edits_from_plain(upgraded_edits(edit.inverse, edit.form)))
    return job


def sketch(key: str, tables: Collection[str] = ()) -> model.Job:
    """The brief of a job, its pages without their objects, and some of its tables: what counting and comparing need.
    Raises FormError if its rows do not make a job."""
    if models.Job.objects.filter(pk=key, form__lt=FORMAT).exists():
        load(key)  # brings its rows up
    with snapshot():
        row = models.Job.objects.get(pk=key)
        values = _entries(row, tables)
        pages = [_page(page, []) for page in models.Page.objects.filter(job=row)]
    return model.Job(row.key, row.name, read(model.Brief, row.brief), row.kind, row.main_story, pages=pages, **values)  # type: ignore[arg-type]


def _read(row: models.Job) -> model.Job:
    stories = {}
    for story in models.Story.objects.filter(job=row):
        rows = models.Paragraph.objects.filter(story=story).values_list("key", "style", "text", "details")
        paragraphs, kind = [_paragraph(*values) for values in rows], read(model.StoryKind, story.kind)
        stories[story.key] = model.Story(story.key, story.name, paragraphs, list(story.frames), kind)
    objects: dict[int, list[model.Object]] = {}
    for one in models.PageObject.objects.filter(page__job=row):
        objects.setdefault(one.page_id, []).append(read(model.Object, one.data))
    job = model.Job(
        row.key,
        row.name,
        read(model.Brief, row.brief),
        read(model.Kind, row.kind),
        row.main_story,
        pages=[_page(page, objects.get(page.pk, [])) for page in models.Page.objects.filter(job=row)],
        stories=stories,
        **_entries(row, ENTRY_TABLES),
    )
    check(job)
    return job


def _entries(row: models.Job, tables: Collection[str]) -> dict[str, Any]:
    """Return the entries of some tables of a job by key, ordered. Raises FormError."""
    entries: dict[str, dict[str, Any]] = {name: {} for name in tables}
    rows = models.Entry.objects.filter(job=row, table__in=entries)
    for table, key, data in rows.values_list("table", "key", "data"):
        entries[table][key] = read(TABLES[table].type, data)
    return entries


def _raw(row: models.Job) -> dict[str, Any]:
    """The JSON form of a job, put together from its rows unread, in the format they were written in."""
    stories = {}
    for story in models.Story.objects.filter(job=row):
        rows = models.Paragraph.objects.filter(story=story).values_list("key", "style", "text", "details")
        paragraphs = [{"id": key, "style": style, "text": text, **details} for key, style, text, details in rows]
        stories[story.key] = {
            "id": story.key,
            "name": story.name,
            "paragraphs": paragraphs,
            "frames": story.frames,
            "kind": story.kind,
        }
    column = "frames" if row.form < 3 else "objects"
    frames: dict[int, list[Any]] = {}
    for frame in models.PageObject.objects.filter(page__job=row):
        frames.setdefault(frame.page_id, []).append(frame.data)
    pages = [
        {
            "id": page.key,
            "master": page.master,
            "made_by_flow": page.made_by_flow,
            column: frames.get(page.pk, []),
            **page.details,
        }
        for page in models.Page.objects.filter(job=row)
    ]
    tables: dict[str, dict[str, Any]] = {name: {} for name in ENTRY_TABLES}
    for table, key, data in models.Entry.objects.filter(job=row).values_list("table", "key", "data"):
        tables.setdefault(table, {})[key] = data
    return {
        "id": row.key,
        "name": row.name,
        "brief": row.brief,
        "kind": row.kind,
        "main_story": row.main_story,
        "pages": pages,
        "stories": stories,
        **tables,
        "format": row.form,
    }


def _bring_up(row: models.Job, job: model.Job) -> None:
    """Write the rows of a job that was brought up to the present form, unless another process did."""
    with transaction.atomic():
        updated = models.Job.objects.filter(pk=row.pk, form=row.form, revision=row.revision)
        if not updated.update(form=FORMAT, name=job.name, brief=plain(job.brief)):
            return
        for rows_of in (models.Page, models.Story, models.Entry):
            rows_of.objects.filter(job=row).delete()
        create(row.pk, job)


# Writing


def create(key: str, job: model.Job) -> None:
    """Write the parts of a job that has none yet."""
    models.Entry.objects.bulk_create(
        models.Entry(job_id=key, table=table, key=entry, position=at, name=value.name, data=plain(value))
        for table in ENTRY_TABLES
        for at, (entry, value) in enumerate(getattr(job, table).items())
    )
    for at, story in enumerate(job.stories.values()):
        _write_story(key, story, at)
    _write_pages(key, job.pages, 0, 0)


def write(key: str, job: model.Job, edits: Iterable[Primitive]) -> None:
    """Write what edits, already applied to the job, changed. Job-level values are left to the caller.

    To be called in the transaction that took the job's next revision: the rows are then those of the revision before.
    """
    parts = _parts(edits)
    written: set[str] = set()
    for table, keys in parts.entries.items():
        if table == "stories":
            written = set(keys)
            for story in keys:
                models.Story.objects.filter(job=key, key=story).delete()
                if story in job.stories:
                    _write_story(key, job.stories[story], len(job.stories))
        else:
            _write_entries(key, table, getattr(job, table), keys)
        if table in parts.ordered:
            _order(key, table, getattr(job, table))
    for story in dict.fromkeys((*parts.paragraphs, *parts.story_frames)):
        if story in job.stories and story not in written:
            _write_changes(key, job.stories[story], parts.paragraphs.get(story, ()), story in parts.story_frames)
    _write_changed_pages(key, job, parts)


@dataclass(slots=True)
class _Parts:
    """The parts of a job that edits touch, grouped by table of the database."""

    entries: dict[str, dict[str, None]] = field(default_factory=dict)
    """By table, the keys of entries."""
    ordered: set[str] = field(default_factory=set)
    """Tables whose entries may be in another order."""
    paragraphs: dict[str, list[ParagraphsTouch]] = field(default_factory=dict)
    story_frames: set[str] = field(default_factory=set)
    pages: list[PagesTouch] = field(default_factory=list)
    values: set[str] = field(default_factory=set)
    """Pages whose own values changed."""
    objects: list[ObjectsTouch] = field(default_factory=list)


def _parts(edits: Iterable[Edit]) -> _Parts:
    parts = _Parts()
    for touch in touches_of(edits):
        match touch:
            case EntryTouch():
                parts.entries.setdefault(touch.table, {})[touch.key] = None
                if touch.part == "whole":
                    parts.ordered.add(touch.table)
            case ParagraphsTouch() if touch.table:
                parts.entries.setdefault("tables", {})[touch.table] = None
            case ParagraphsTouch():
                parts.paragraphs.setdefault(touch.story, []).append(touch)
            case StoryFramesTouch():
                parts.story_frames.add(touch.story)
            case PagesTouch():
                parts.pages.append(touch)
            case PageTouch():
                parts.values.add(touch.page)
            case ObjectsTouch() if half := touch.half:
                parts.entries.setdefault("masters", {})[half[0]] = None
            case ObjectsTouch():
                parts.objects.append(touch)
            case ValueTouch():
                pass  # see job_values
            case _:
                assert_never(touch)
    return parts


def job_values(job: model.Job, edits: Iterable[Edit]) -> dict[str, Any]:
    """Return the columns of a job's own row that edits, already applied to the job, changed."""
    fields = {touch.field for touch in touches_of(edits) if isinstance(touch, ValueTouch)}
    return {name: plain(value) if is_dataclass(value := getattr(job, name)) else value for name in sorted(fields)}


def _write_entries(key: str, table: str, values: dict[str, Any], keys: Iterable[str]) -> None:
    rows = models.Entry.objects.filter(job=key, table=table)
    for entry in keys:
        if entry not in values:
            rows.filter(key=entry).delete()
            continue
        changes = {"name": values[entry].name, "data": plain(values[entry])}
        if not rows.filter(key=entry).update(**changes):
            rows.create(job_id=key, table=table, key=entry, position=len(values), **changes)


def _order(key: str, table: str, values: dict[str, Any]) -> None:
    """Bring the positions of a table's rows into the job's order, writing only those that differ."""
    rows: QuerySet[Any] = models.Story.objects.filter(job=key)
    if table != "stories":
        rows = models.Entry.objects.filter(job=key, table=table)
    places = {name: at for at, name in enumerate(values)}
    moved = []
    for row in rows.only("key", "position"):
        if row.position != places[row.key]:
            row.position = places[row.key]
            moved.append(row)
    rows.model.objects.bulk_update(moved, ["position"], batch_size=400)


def _write_story(key: str, story: model.Story, position: int) -> None:
    row = models.Story.objects.create(
        job_id=key, key=story.id, position=position, name=story.name, frames=list(story.frames), kind=story.kind
    )
    _write_paragraphs(row.pk, story.paragraphs, 0, 0)


def _write_changes(key: str, story: model.Story, splices: Sequence[ParagraphsTouch], frames: bool) -> None:
    row = models.Story.objects.filter(job=key, key=story.id).values_list("pk", flat=True).get()
    if frames:
        models.Story.objects.filter(pk=row).update(frames=list(story.frames))
    if len(splices) == 1 and splices[0].remove == len(splices[0].insert) == 1:  # a keystroke: one row, found by its key
        own = splices[0].insert[0]
        if models.Paragraph.objects.filter(story=row, key=own.id).update(**_paragraph_values(own)):
            return
    if splices:
        _write_paragraphs(row, story.paragraphs, *_untouched(splices, len(story.paragraphs)))


def _untouched(splices: Sequence[ParagraphsTouch] | Sequence[PagesTouch], count: int) -> tuple[int, int]:
    """Return how many items at the head and at the tail of a list, ``count`` long in the end, no splice has touched."""
    length = count - sum(len(splice.insert) - splice.remove for splice in splices)
    head = tail = length
    for splice in splices:
        head, tail = min(head, splice.at), min(tail, length - splice.at - splice.remove)
        length += len(splice.insert) - splice.remove
    return head, max(min(tail, count - head), 0)


def _write_paragraphs(story: int, paragraphs: Sequence[model.Paragraph], head: int, tail: int) -> None:
    rows = models.Paragraph.objects.filter(story=story)
    _write_ordered(rows, {"story_id": story}, paragraphs, head, tail, _paragraph_values)


def _paragraph_values(paragraph: model.Paragraph) -> dict[str, Any]:
    return {"style": paragraph.style, "text": paragraph.text, "details": _details(paragraph)}


def _write_pages(key: str, pages: Sequence[model.Page], head: int, tail: int) -> None:
    rows = models.Page.objects.filter(job=key)
    _write_ordered(rows, {"job_id": key}, pages, head, tail, _page_values)
    _write_objects(key, pages[head : len(pages) - tail])


def _page_values(page: model.Page) -> dict[str, Any]:
    return {"master": page.master, "made_by_flow": page.made_by_flow, "details": _page_details(page)}


def _write_changed_pages(key: str, job: model.Job, parts: _Parts) -> None:
    if parts.pages:
        _write_pages(key, job.pages, *_untouched(parts.pages, len(job.pages)))
    for page in job.pages if parts.values else ():
        if page.id in parts.values:
            models.Page.objects.filter(job=key, key=page.id).update(**_page_values(page))
    framed = {touch.holder for touch in parts.objects}
    if framed and not _write_exchanged(key, job, parts.objects):
        _write_objects(key, [page for page in job.pages if page.id in framed])


def _write_exchanged(key: str, job: model.Job, touches: Sequence[ObjectsTouch]) -> bool:
    """Write objects that took the place of ones of the same ids: their rows alone. False where that is not all that was
    done."""
    ids: dict[str, set[str]] = {}
    for touch in touches:
        if not touch.in_place:
            return False
        ids.setdefault(touch.holder, set()).update({touch.within} if touch.within else {o.id for o in touch.insert})
    targets: dict[str, dict[str, tuple[int, model.Object]]] = {}
    for page in job.pages:
        if page.id in ids:
            own = {one.id: (at, one) for at, one in enumerate(page.objects) if one.id in ids[page.id]}
            if len(own) != len(ids[page.id]):  # within a group that is in a group itself
                return False
            targets[page.id] = own
    if len(targets) != len(ids):
        return False
    changed = []
    for page_id, own in targets.items():
        rows = models.PageObject.objects.filter(page__job=key, page__key=page_id, key__in=own)
        there = {name: (pk, page, at) for pk, page, name, at in rows.values_list("pk", "page_id", "key", "position")}
        if {name: at for name, (_, _, at) in there.items()} != {name: at for name, (at, _) in own.items()}:
            return False
        changed += [(pk, page, at, shared(own[name][1])) for name, (pk, page, at) in there.items()]
    _rewrite(changed)
    return True


def _rewrite(rows: Sequence[tuple[int, int, int, Any]]) -> None:
    """Rows that are there with other values: each its key, its page's, its position and its data. Many by one statement
    prepared once: the ORM takes longer to put theirs together than the database to carry them out."""
    if len(rows) <= FEW:
        for pk, page, position, data in rows:
            models.PageObject.objects.filter(pk=pk).update(page_id=page, position=position, data=data)
        return
    table = connection.ops.quote_name(models.PageObject._meta.db_table)
    json_ = "%s::jsonb" if connection.vendor == "postgresql" else "%s"
    with connection.cursor() as cursor:
        cursor.executemany(
            f"UPDATE {table} SET page_id = %s, position = %s, data = {json_} WHERE id = %s",
            [(page, position, json.dumps(data), pk) for pk, page, position, data in rows],
        )


def _write_ordered(
    rows: QuerySet[Any],
    owner: dict[str, Any],
    items: Sequence[Any],
    head: int,
    tail: int,
    values: Callable[[Any], dict[str, Any]],
) -> None:
    """Write the items of an ordered list that stand between its first ``head`` and its last ``tail``, which did not
    change.

    Rows that are there keep their rank, and are written only where they differ; new ones get ranks between their
    neighbours."""
    middle = items[head : len(items) - tail]
    table: type[Model] = rows.model
    if not middle and head + tail == 0:
        rows.all().delete()
        return
    before = _rank(rows, items[head - 1]) if head else None
    behind = _rank(rows, items[len(items) - tail]) if tail else None
    there = {row.key: row for row in _between(rows, before, behind)}
    ids = {item.id for item in middle}
    gone = [row.pk for key, row in there.items() if key not in ids]
    for at in range(0, len(gone), 400):
        rows.filter(pk__in=gone[at : at + 400]).delete()
    ranks = _ranks([there[item.id].rank if item.id in there else None for item in middle], before, behind)
    if ranks is None:  # a gap is used up: the whole list is dealt out anew
        rows.all().delete()
        ranks, middle, there = [GAP * (at + 1) for at in range(len(items))], items, {}
    created, changed = [], []
    for item, rank in zip(middle, ranks, strict=True):
        row, values_ = there.get(item.id), {"rank": rank, **values(item)}
        if row is None:
            created.append(table(**owner, key=item.id, **values_))
        elif any(getattr(row, name) != value for name, value in values_.items()):
            for name, value in values_.items():
                setattr(row, name, value)
            changed.append(row)
    table._default_manager.bulk_create(created, batch_size=400)
    if changed:
        table._default_manager.bulk_update(changed, ["rank", *values(middle[0])], batch_size=200)


def _rank(rows: QuerySet[Any], item: Any) -> int:
    rank: int = rows.filter(key=item.id).values_list("rank", flat=True).get()
    return rank


def _between(rows: QuerySet[Any], before: int | None, behind: int | None) -> QuerySet[Any]:
    if before is not None:
        rows = rows.filter(rank__gt=before)
    return rows if behind is None else rows.filter(rank__lt=behind)


def _ranks(ranks: Sequence[int | None], before: int | None, behind: int | None) -> list[int] | None:
    """Increasing ranks for entries whose rank is None or out of order, between ``before`` and ``behind``. None if a gap
    has no room."""
    rising: list[int | None] = []
    last = before
    for rank in ranks:  # the longest beginning that rises; what was moved to before it gets a new rank
        fits = rank is not None and (last is None or rank > last)
        rising.append(rank if fits else None)
        last = rank if fits else last
    new_ranks: list[int] = []
    at = 0
    while at < len(rising):
        if (rank := rising[at]) is not None:
            new_ranks.append(rank)
            at += 1
            continue
        end = at
        while end < len(rising) and rising[end] is None:
            end += 1
        low, high = (new_ranks[-1] if new_ranks else before), (rising[end] if end < len(rising) else behind)
        count = end - at
        if low is None:
            low = (high if high is not None else 0) - GAP * (count + 1)
        step = GAP if high is None else (high - low) // (count + 1)
        if step < 1:
            return None
        new_ranks += [low + step * (i + 1) for i in range(count)]
        at = end
    return new_ranks


def _write_objects(key: str, pages: Sequence[model.Page]) -> None:
    """Update the rows of the objects on some pages, writing only those that differ."""
    rows = models.Page.objects.filter(job=key)
    if len(pages) <= 400:
        rows = rows.filter(key__in=[page.id for page in pages])
    ids = dict(rows.values_list("key", "pk"))
    positions = {one.id: (ids[page.id], at, one) for page in pages for at, one in enumerate(page.objects)}
    on_pages = [ids[page.id] for page in pages]
    gone, changed, there = [], [], set()
    for start in range(0, len(on_pages), 400):
        for row in models.PageObject.objects.filter(page__in=on_pages[start : start + 400]):
            if row.key not in positions:
                gone.append(row.pk)
                continue
            there.add(row.key)
            page, at, one = positions[row.key]
            values = {"page_id": page, "position": at, "data": shared(one)}
            if any(getattr(row, name) != value for name, value in values.items()):
                changed.append((row.pk, *values.values()))
    for start in range(0, len(gone), 400):
        models.PageObject.objects.filter(pk__in=gone[start : start + 400]).delete()
    _rewrite(changed)
    models.PageObject.objects.bulk_create(
        (
            models.PageObject(page_id=page, key=name, position=at, data=shared(one))
            for name, (page, at, one) in positions.items()
            if name not in there
        ),
        batch_size=400,
    )


_PAGE_DETAILS = tuple(
    one.name for one in fields(model.Page) if one.name not in ("id", "master", "objects", "made_by_flow")
)
"""The values of a page that are stored together as JSON: all that have no column."""


def _page_details(page: model.Page) -> dict[str, Any]:
    form = plain(replace(page, objects=()))
    return {name: form[name] for name in _PAGE_DETAILS if name in form}


def _page(row: models.Page, objects: list[model.Object]) -> model.Page:
    page = model.Page(row.key, row.master, tuple(objects), row.made_by_flow)
    if not row.details:
        return page
    details: model.Page = read(model.Page, {"id": row.key, **row.details})
    return replace(page, **{name: getattr(details, name) for name in _PAGE_DETAILS})


def _details(paragraph: model.Paragraph) -> dict[str, Any]:
    form = plain(paragraph)
    return {name: form[name] for name in ("spans", "para", "type") if name in form}


def _paragraph(key: str, style: str, text: str, details: dict[str, Any]) -> model.Paragraph:
    if not details:
        return model.Paragraph(key, style, text)
    result: model.Paragraph = read(model.Paragraph, {"id": key, "style": style, "text": text, **details})
    return result
