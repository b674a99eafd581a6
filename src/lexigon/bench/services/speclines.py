"""The spec line for what is selected: what it says, what it would do, what everything selected has in common."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Any

from lexigon.bench.forms import SpecLineForm
from lexigon.bench.services.describing import names_of
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.cell_stories import cell_key, text_of
from lexigon.core.document.model import Job
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents import Cells, Intent, Place, SetCellWords, SetParagraphs
from lexigon.core.editing.intents.tables.cells import resolve_cells
from lexigon.core.fileformat.values import plain
from lexigon.core.spec.carrying import intents_for_frames, intents_for_text
from lexigon.core.spec.completion import complete
from lexigon.core.spec.grammar import SpecReading, read_spec
from lexigon.core.spec.revising import revised
from lexigon.core.spec.sharing import looks_in, shared_frames, shared_looks
from lexigon.core.tables.cell_settings import Set, in_place


def plain_intents(intents: Iterable[Intent]) -> list[dict[str, Any]]:
    """Intents as the client sends them back."""
    return [{**plain(intent), "do": intent.do} for intent in intents]


def read_line(live: OpenJob, form: SpecLineForm) -> tuple[SpecReading, dict[str, Any]]:
    """A spec line for a selection: its description, unknown phrases, completions, and the number of objects it would
    change."""
    line, names = form.line, replace(names_of(live.job), bare="colour" if _has_words(live.job, form) else "fill")
    understood = read_spec(line, names)
    if form.was and not understood.unknown:  # the line before it was edited in place
        understood = revised(read_spec(form.was, names), understood, names)
    offers = complete(line, len(line) if form.caret is None else form.caret, names)
    return understood, {
        "said": understood.descriptions,
        "unknown": understood.unknown,
        "offers": [plain(offer) for offer in offers],
        "does": 0 if understood.unknown else len(intents_of(live, understood, form)),
    }


def _has_words(job: Job, form: SpecLineForm) -> bool:
    """Return whether text is selected, in frames or in cells."""
    texts = (words for words in form.words() if words.start is not None)
    return form.cells is not None or any(text_of(job, words.story) is not None for words in texts)


def describe_selection(live: OpenJob, form: SpecLineForm) -> dict[str, Any]:
    """The spec line of everything that is selected, and what of it is various."""
    job, names, composition = live.job, names_of(live.job), live.workspace.composition
    looks: dict[Any, None] = {}
    for words in form.words():
        if words.start is not None and text_of(job, words.story) is not None:
            looks_found = looks_in(
                job, composition.cascade, words.story, words.start, words.end or words.start, words.whole
            )
            looks |= dict.fromkeys(looks_found)
    for key, show in _cells_of(job, form.cells):
        looks |= dict.fromkeys(looks_in(job, composition.cascade, key, *ENDS, whole=True, show=show))
    frames = []
    for chosen in form.frames:
        on = holder(job, chosen.page)
        frame = next((f for f in (*on.frames, *on.inherited()) if f.id == chosen.id), None) if on else None
        if frame is not None:
            frames.append((frame, composition.places.setting(frame)))
    line = shared_looks(list(looks), names) + shared_frames(frames, names)
    return {"line": line.line, "various": line.various}


def intents_of(live: OpenJob, understood: SpecReading, form: SpecLineForm) -> list[Intent]:
    """Return the intents by which a spec line changes what the client has selected: text, frames, or both."""
    job, intents = live.job, list[Intent]()
    for words in form.words():
        if words.start is not None and text_of(job, words.story) is not None:
            intents += intents_for_text(
                job,
                live.workspace.composition.cascade,
                understood,
                words.story,
                words.start,
                words.end or words.start,
                words.whole,
            )
    intents += _to_cells(live, understood, form.cells)
    return intents + intents_for_frames(job, understood, [(frame.page, frame.id) for frame in form.frames])


ENDS = Place("^", 0), Place("$", 0)


def _cells_of(job: Job, cells: Cells | None) -> Iterator[tuple[str, Set]]:
    """The stories of selected cells by their names, each with the setting of its paragraphs."""
    if cells is None:
        return
    table, _, cells_ = resolve_cells(job, cells)
    for one in cells_:
        yield cell_key(table.id, one.row, one.number), in_place(job, table, one.row, one.column)


def _to_cells(live: OpenJob, understood: SpecReading, cells: Cells | None) -> list[Intent]:
    """Return the intents by which a spec line changes selected cells: one for all of them where it does the same to
    each."""
    if cells is None:
        return []
    cascade = live.workspace.composition.cascade
    each = [
        intents_for_text(live.job, cascade, understood, key, *ENDS, whole=True, show=show)
        for key, show in _cells_of(live.job, cells)
    ]
    alike = {tuple(_without_place(intent) for intent in intents) for intents in each}
    if len(alike) == 1 and (same := next(iter(alike))) and None not in same:
        return [SetCellWords(cells, *change) for change in same if change is not None]
    return [intent for intents in each for intent in intents]


def _without_place(intent: Intent) -> tuple[Any, ...] | None:
    """Return what is set of paragraphs, whichever they are; None for an intent of another kind."""
    return (intent.style, intent.para, intent.type, intent.clear) if isinstance(intent, SetParagraphs) else None
