"""Merging on screen: records of a job as a table, each with its verdict and its piece."""

from __future__ import annotations

import threading
import time
import weakref
from collections import OrderedDict
from collections.abc import Callable, Iterable
from contextlib import suppress
from dataclasses import asdict, dataclass, field, replace
from itertools import islice
from typing import Any, Literal

from lexigon.bench.forms import AdjustForm
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.pictures import addresses
from lexigon.core.document.model import Job, RecordSet, all_in
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.intents import AdjustRecord, Intent, PutRecords
from lexigon.core.editing.intents.merging.record_sets import RecordsChanged
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.lengths import parse, show
from lexigon.core.merge.applying import all_texts, record_fields
from lexigon.core.merge.fitting import Way, fit_intents, fit_of
from lexigon.core.merge.kinds import FieldFacts, field_facts
from lexigon.core.merge.merger import Merged, Merger
from lexigon.core.merge.model import MOST_VALUE, Recognition, RecordError, Records
from lexigon.core.merge.reading import read_records
from lexigon.core.merge.reloading import Reload, reloaded
from lexigon.core.merge.repeating import RepeatedPages, repeated_object
from lexigon.core.merge.searching import record_filter
from lexigon.core.merge.storage import CellChange, RecordRows, Row, pack
from lexigon.core.merge.verdicts import RecordCheck, Verdict
from lexigon.core.numerals import integer
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.plural import counted

MOST_TRIES = 5
"""The number of times that a change of records is made anew because others changed them at the same moment."""
MOST_OPEN = 6
"""Mergers that stay composed."""
BUDGET = 0.3
"""Seconds of checking in one request."""
MOST_REPEATED = 20
"""Pages with several records each that are shown before output."""
SAMPLE = 6
"""Records that are shown before they are imported."""
MOST_CHANGES = 200
"""Changes of reloaded records that are listed."""


@dataclass(slots=True, weakref_slot=True)
class LiveMerge:
    """A merger of a job at one revision, with the verdicts known so far. Use it with its ``lock``."""

    revision: int
    records: RecordSet
    merger: Merger
    design: dict[str, Any]
    """The job without its records and adjustments, as JSON: while it is the same, verdicts of the same rows stay."""
    check: RecordCheck | None = None
    verdicts: dict[int, Verdict] = field(default_factory=dict)
    repeated: RepeatedPages | None = None
    """Where an object is repeated for all records: their pages, as far as they were shown."""
    lock: threading.RLock = field(default_factory=threading.RLock)

    def __post_init__(self) -> None:
        weakref.finalize(self, self.merger.composition.let_go).atexit = False

    def take_over(self, former: LiveMerge) -> None:
        """Take over the verdicts of rows that are what they were before a change of the records."""
        same_fields = (former.records.fields, former.records.computed, former.records.key)
        if same_fields != (self.records.fields, self.records.computed, self.records.key) or self.merger.other_sets:
            return
        if not former.verdicts:
            return
        self.check = RecordCheck(self.merger)
        before = former.check or RecordCheck(former.merger)
        for number, one in former.verdicts.items():
            if number < len(self.merger.rows) and self.merger.rows.row(number) == former.merger.rows.row(number):
                adjusted = (each.merger.adjustments.get(one.key) for each in (self, former))
                if self.check.count(number) == before.count(number) and len({str(each) for each in adjusted}) == 1:
                    self.verdicts[number] = one

    def check_some(self, seconds: float = BUDGET) -> None:
        """Check records that have no verdict yet, for some time, at least one."""
        end = time.monotonic() + seconds
        for number in self.merger.numbers():
            if number not in self.verdicts:
                self.check = self.check or RecordCheck(self.merger)
                self.verdicts[number] = self.check.verdict(number)
                if time.monotonic() > end:
                    return


_open: OrderedDict[tuple[str, str, str], LiveMerge] = OrderedDict()
_guard = threading.Lock()


def records_of(job: Job, key: str) -> RecordSet:
    """Return a record set by its id, "" for the first. Raises RecordError if there is none."""
    own = job.record_sets.get(key) if key else next(iter(job.record_sets.values()), None)
    if own is None:
        raise RecordError("That record set is no longer in the job." if key else "This job has no records yet.")
    return own


def live_merge(live: OpenJob, key: str, place: str = "merge") -> LiveMerge:
    """Return the merger of a record set with the job as it is, one for each ``place`` where records are shown. Building
    one takes a moment; the last few are cached."""
    own = records_of(live.job, key)
    name = (live.key, own.id, place)
    with _guard:
        cached = _open.get(name)
        if cached is not None and cached.revision == live.revision:
            _open.move_to_end(name)
            return cached
    design = plain(live.job)
    design = {name: value for name, value in design.items() if name not in ("record_sets", "record_adjustments")}
    merger = Merger(live.job, own, live.files.path_of, live.workspace.composition.today)
    opened = LiveMerge(live.revision, own, merger, design)
    if cached is not None and cached.design == design:
        with cached.lock:
            opened.take_over(cached)
    with _guard:
        _open[name] = opened
        while len(_open) > MOST_OPEN:
            _open.popitem(last=False)
    return opened


def describe_sets(job: Job) -> list[dict[str, Any]]:
    """Return the record sets of a job for the screen."""
    return [
        {
            "id": one.id,
            "name": one.name,
            "fields": list(one.fields),
            "computed": [{"name": own.name, "expression": own.expression} for own in one.computed],
            "count": one.count,
            "key": one.key,
            "source": one.source,
        }
        for one in job.record_sets.values()
    ]


def describe_bindings(job: Job) -> list[dict[str, Any]]:
    """Return everything in a job that records set, with where: a page (its index), an object or a story."""
    rows: list[dict[str, Any]] = []
    indexes = {page.id: at for at, page in enumerate(job.pages)}
    for page in job.pages:
        for page_binding in page.bindings:
            rows.append(
                {
                    "page": indexes[page.id],
                    "holder": page.id,
                    "kind": "page",
                    "name": f"Page {indexes[page.id] + 1}",
                    "property": page_binding.property,
                    "value": page_binding.value,
                }
            )
    for holder_key, objects in everywhere(job):
        for one in all_in(objects):
            for binding in one.bindings:
                rows.append(
                    {
                        "page": indexes.get(holder_key),
                        "holder": holder_key,
                        "kind": "object",
                        "object": one.id,
                        "name": one.name or "Object",
                        "property": binding.property,
                        "value": binding.value,
                    }
                )
    for story in all_texts(job):
        names = dict.fromkeys(record_fields(story.paragraphs))
        if names:
            rows.append({"kind": "story", "story": story.id, "name": story.name, "value": ", ".join(names)})
    return rows


Show = Literal["all", "ready", "warning", "error", "off"]


@dataclass(slots=True, frozen=True)
class TableQuery:
    """A request for rows of the table: which ones, and in what order."""

    search: str = ""
    sort: str = ""
    descending: bool = False
    show: Show = "all"
    start: int = 0
    count: int = 100


def table(merge: LiveMerge, query: TableQuery) -> dict[str, Any]:
    """Return rows of the table: ``rows`` (number, whether it is merged, values), their ``total``, and the ``numbers``
    before and after each for stepping."""
    merger, names = merge.merger, merge.records.names
    matches = record_filter(query.search, names)
    rows: list[tuple[int, bool, dict[str, str]]] = []
    for number in range(len(merger.rows)):
        on = merger.rows.row(number).on
        verdict = merge.verdicts.get(number)
        if query.show == "off" and on:
            continue
        if query.show in ("ready", "warning", "error") and (verdict is None or not on or verdict.level != query.show):
            continue
        record = merger.record(number)
        if not matches(record):
            continue
        rows.append((number, on, record))
    if query.sort in names:
        numeric = field_facts(query.sort, (record[query.sort] for _, _, record in rows)).kind == "number"
        rows.sort(key=lambda row: _sort_key(row[2][query.sort], numeric), reverse=query.descending)
    part = rows[query.start : query.start + query.count]
    return {
        "total": len(rows),
        "start": query.start,
        "rows": [[number, on, [record.get(name, "") for name in names]] for number, on, record in part],
        "numbers": [number for number, _, _ in rows],
    }


def _sort_key(value: str, numeric: bool) -> tuple[int, float, str]:
    from lexigon.core.merge.expressions import number_of

    number = number_of(value) if numeric else None
    if not value.strip():
        return (2, 0.0, "")  # empty values come last
    return (0, float(number), "") if number is not None else (1, 0.0, value.casefold())


def fit_offers(merge: LiveMerge) -> list[dict[str, Any]]:
    """Return offers for the stories that do not fit with some of the records checked so far."""
    over: dict[str, list[int]] = {}
    for one in merge.verdicts.values():
        for story in one.overset:
            over.setdefault(story, []).append(one.number)
    offers = []
    for story, numbers in over.items():
        with suppress(LexigonError):  # linked frames are fitted on the board
            offer = fit_of(merge.merger, story, numbers)
            unit = merge.merger.job.brief.unit
            lengths = {
                "height": show(offer.height, unit),
                "higher": offer.higher and show(offer.higher, unit),
                "width": show(offer.width, unit),
                "wider": offer.wider and show(offer.wider.width, unit),
            }
            offers.append(asdict(offer) | lengths | {"possible": offer.possible})
    return offers


def fit_all(merge: LiveMerge, story: str, way: Way) -> list[Intent]:
    """Return the intents that make a story fit with all records."""
    numbers = [one.number for one in merge.verdicts.values() if story in one.overset]
    return fit_intents(merge.merger, fit_of(merge.merger, story, numbers), way)


def verdict_rows(merge: LiveMerge, since: int) -> list[dict[str, Any]]:
    """Return the verdicts known so far, without the first ``since``."""
    return [
        {
            "number": one.number,
            "level": one.level,
            "words": one.words,
            "problems": [_problem(problem) for problem in one.problems],
        }
        for one in islice(merge.verdicts.values(), since, None)
    ]


def _problem(problem: Any) -> dict[str, Any]:
    values = {name: getattr(problem, name) for name in ("kind", "text", "field", "value")}
    return values | {"suggestions": list(problem.suggestions)}


def piece(merge: LiveMerge, key: str, number: int) -> dict[str, Any]:
    """Return a record as it is shown: its values and pages, each as SVG. Points."""
    merger = merge.merger
    merged: Merged = merger.show(number)
    display, labels = Display(merger.composition), merger.composition.values.labels
    design = repeated_object(merger.job)
    pages, note = [], ""
    for index in merged.pages:
        width, height = merger.job.page_size(index)
        page = {"index": index, "label": labels[index], "w": width, "h": height}
        if design is not None and index == design[0]:
            own, note = _repeated_page(merge, key, number)
            merger.show(number)  # other records were shown meanwhile
            if own is not None:
                pages.append(page | own)
                continue
        pages.append(page | {"svg": svg_of(display.page(index).items(), addresses(key))})
    return {
        "number": number,
        "key": merged.key,
        "record": merged.record,
        "pages": pages,
        "note": note,
        "objects": _adjustable(merger, merged),
        "adjustments": adjustments_of(merger, number, merged.record),
    }


def _repeated_page(merge: LiveMerge, key: str, number: int) -> tuple[dict[str, Any] | None, str]:
    """The page on which a record is shown among others, with the boxes of all of them, and what there is to be said of
    it; None for pages that would take too long."""
    numbers = merge.merger.numbers()
    try:
        pages = merge.repeated = merge.repeated or RepeatedPages(merge.merger, numbers)
        at = pages.page_with(number, MOST_REPEATED)
    except LexigonError as error:
        merge.repeated = None
        return None, str(error)
    if at is None:
        return None, f"This is its entry alone. The preview shows the first {MOST_REPEATED} pages."
    job = pages.finished(merge.merger.job.name)
    job.pages[:] = job.pages[: pages.design.index + at + 1]
    composition = Workspace(job, merge.merger.composition.find, merge.merger.composition.today).composition
    index, boxes = pages.design.index + at, pages.sheets[at].boxes
    own = {
        "label": composition.values.labels[index],
        "svg": svg_of(Display(composition).page(index).items(), addresses(key)),
        "boxes": [[one, box.x, box.y, box.width, box.height] for one, box in boxes.items()],
    }
    return own, f"This page has {integer(len(boxes))} of {counted(len(numbers), 'record')}."


def _adjustable(merger: Merger, merged: Merged) -> list[dict[str, Any]]:
    """The objects of a record's pages that can be changed for it alone: where they are, and their words or crop."""
    unit = merger.job.brief.unit
    rows: list[dict[str, Any]] = []
    for index in merged.pages:
        for one in all_in(merger.job.pages[index].objects):
            if one.rect is None or one.group is not None:
                continue
            story = merger.job.stories.get(one.story or "")
            row = {"id": one.id, "name": one.name or "Object", "page": index, "unit": unit}
            if story is not None and len(story.frames) <= 1:
                row["text"] = [p.text for p in story.paragraphs]
            if one.picture is not None:
                row["focus"], row["rotation"] = list(one.picture.focus), one.picture.rotation
            rows.append(row | {"box": [one.rect.x, one.rect.y, one.rect.width, one.rect.height]})
    return rows


def adjustments_of(merger: Merger, number: int, record: dict[str, str]) -> list[dict[str, Any]]:
    """Return the adjustments made for a record, each in words."""
    key = merger.rows.key(number, record)
    names = {one.id: one.name or "Object" for _, objects in everywhere(merger.job) for one in all_in(objects)}
    unit = merger.job.brief.unit
    rows = []
    for one in merger.adjustments.get(key, ()):
        parts = [f"moved by {show(one.move[0], unit)}, {show(one.move[1], unit)}"] if one.move else []
        parts += ["another crop"] if one.picture else []
        parts += ["other words"] if one.text is not None else []
        rows.append(
            {"id": one.id, "words": f"{names.get(one.object, 'An object that was deleted')}: {', '.join(parts)}"}
        )
    return rows


def adjust_intent(merge: LiveMerge, unit: str, form: AdjustForm) -> AdjustRecord:
    """Return the intent that changes an object for one record. Raises LexigonError."""
    merged = merge.merger.show(form.record)
    job = merge.merger.job
    one = next((one for _, objects in everywhere(job) for one in all_in(objects) if one.id == form.object), None)
    if one is None:
        raise LexigonError("This record does not show that object.")
    former = next((a for a in merge.merger.adjustments.get(merged.key, ()) if a.object == one.id), None)
    before = former.move if former and former.move else (0.0, 0.0)
    by = parse(form.right or "0", unit), parse(form.down or "0", unit)
    move = (before[0] + by[0], before[1] + by[1]) if any(by) else None
    picture = None
    if one.picture is not None and (form.focus is not None or form.rotation is not None):
        picture = replace(
            one.picture,
            focus=form.focus if form.focus is not None else one.picture.focus,
            rotation=form.rotation % 360 if form.rotation is not None else one.picture.rotation,
        )
    return AdjustRecord(merge.records.id, merged.key, one.id, move, picture, form.text)


def words_of(merge: LiveMerge, number: int, story_id: str) -> dict[str, Any]:
    """Return the words of a story as a record sets them, with what is needed to change them for it alone. Raises
    LexigonError for words that are in no frame, or in several."""
    merged = merge.merger.show(number)
    rows = _adjustable(merge.merger, merged)
    stories = {one.id: one.story for page in merge.merger.job.pages for one in all_in(page.objects)}
    row = next((one for one in rows if "text" in one and stories[one["id"]] == story_id), None)
    if row is None:
        raise LexigonError(
            "Only words in a single frame can be changed for one record. Edit the design, or the record."
        )
    own = {"set": merge.records.id, "record": merged.key, "object": row["id"]}
    return own | {"name": row["name"], "text": row["text"]}


def extremes(merge: LiveMerge) -> dict[str, Any]:
    """Return, for each field, the records with its longest and its shortest value, and the record with most words."""
    rows = [merge.merger.record(number) for number in merge.merger.numbers()]
    numbers = merge.merger.numbers()
    facts: list[FieldFacts] = [field_facts(name, (row[name] for row in rows)) for name in merge.records.names]
    ends = {one.name: [numbers[one.longest], numbers[one.shortest]] for one in facts if one.longest >= 0}
    most = max(merge.verdicts.values(), key=lambda one: one.words, default=None)
    return {"fields": ends, "most_words": most.number if most else None, "kinds": {one.name: one.kind for one in facts}}


# Importing


def recognised(data: bytes, language: str, **given: Any) -> dict[str, Any]:
    """Return how a file of records is read, with its first records, before it is imported."""
    records, recognition = read_records(data, language=language, **given)
    facts = [field_facts(name, records.column(name)) for name in records.fields]
    return {
        "recognition": _recognition(recognition),
        "count": len(records.rows),
        "fields": [{"name": one.name, "kind": one.kind, "empty": one.empty, "odd": len(one.odd)} for one in facts],
        "rows": [list(row) for row in records.rows[:SAMPLE]],
    }


def _recognition(recognition: Recognition) -> dict[str, Any]:
    names = ("kind", "file", "encoding", "separator", "sheet", "header")
    values = {name: getattr(recognition, name) for name in names}
    return values | {"sheets": list(recognition.sheets), "ragged": list(recognition.ragged[:20])}


def reload_of(live: OpenJob, key: str, records: Records) -> Reload:
    """Return what changes where the records of a set are replaced."""
    own = records_of(live.job, key)
    shared_key = own.key if own.key in records.fields else ""
    return reloaded(RecordRows(own, live.files.path_of), records, shared_key)


def describe_reload(reload: Reload) -> dict[str, Any]:
    """Return what changes in reloaded records for the screen."""
    return {
        "added": list(reload.added[:MOST_CHANGES]),
        "removed": list(reload.removed[:MOST_CHANGES]),
        "changed": [plain(one) for one in reload.changed[:MOST_CHANGES]],
        "counts": [len(reload.added), len(reload.removed), len({one.key for one in reload.changed})],
        "new_fields": list(reload.new_fields),
        "lost_fields": list(reload.lost_fields),
    }


def import_intent(live: OpenJob, records: Records, name: str, source: str, key: str = "") -> PutRecords:
    """Store records and return the intent that adds them as a set, or replaces those of one."""
    rows = reload_of(live, key, records).rows if key else [Row(values) for values in records.rows]
    names, files = pack(rows)
    _store(live.files, files)
    return PutRecords(name, records.fields, names, len(rows), source, key or None)


def _store(files: Files, contents: dict[str, bytes]) -> None:
    for content in contents.values():
        files.keep(content)


# Editing


def change_records(live: OpenJob, user: Any, make: Callable[[], PutRecords]) -> None:
    """Carry out a change of records; it is made again where another process changed them meanwhile."""
    for _ in range(MOST_TRIES):
        with suppress(RecordsChanged):
            live.do([make()], user)
            return
        live.catch_up()
    live.do([make()], user)


def change_intent(live: OpenJob, key: str, changes: Iterable[CellChange]) -> PutRecords:
    """Store changed cells and return the intent for them. Raises RecordError for rows and fields that are not there."""
    own = records_of(live.job, key)
    rows = RecordRows(own, live.files.path_of)
    new: dict[int, Row] = {}
    for one in changes:
        if not 0 <= one.row < len(rows):
            raise RecordError("That record is no longer in the set.")
        row = new.get(one.row) or rows.row(one.row)
        if one.on is not None:
            row = replace(row, on=one.on)
        if one.field:
            if one.field not in own.fields:
                raise RecordError(f"The values of “{one.field}” are computed. Change its expression instead.")
            if len(one.value) > MOST_VALUE:
                raise RecordError(f"A value has at most {MOST_VALUE:,} characters.")
            at = own.fields.index(one.field)
            row = replace(row, values=(*row.values[:at], one.value, *row.values[at + 1 :]))
        new[one.row] = row
    changed, files = rows.with_rows(new)
    _store(live.files, files)
    return PutRecords(own.name, own.fields, changed.files, own.count, id=own.id, former=own.files)


def rows_intent(live: OpenJob, key: str, *, add: int = 0, remove: Iterable[int] = ()) -> PutRecords:
    """Return the intent that adds empty records at the end of a set, or deletes some."""
    own = records_of(live.job, key)
    gone = set(remove)
    rows = [row for number, row in enumerate(RecordRows(own, live.files.path_of)) if number not in gone]
    rows += [Row(("",) * len(own.fields))] * add
    names, files = pack(rows)
    _store(live.files, files)
    return PutRecords(own.name, own.fields, names, len(rows), id=own.id, former=own.files)


def typed_records(text: str) -> Records:
    """Return the fields of a new record set as they are typed: names separated by commas or lines. Raises
    RecordError."""
    from lexigon.core.merge.model import unique_names

    names = [name.strip() for name in text.replace("\n", ",").split(",") if name.strip()]
    if not names:
        raise RecordError("Type the names of the fields, such as name, post, phone.")
    return Records(tuple(unique_names(names)), ())
