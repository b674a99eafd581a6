"""The spec line for what is selected: what it says, what it would do, what everything selected has in common."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Any

from lexigon.bench.forms import SpecLine
from lexigon.bench.services.describing import names_of
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.job.cellsetting import Set, in_place
from lexigon.core.job.celltexts import cell_key, text_of
from lexigon.core.job.holders import holder
from lexigon.core.job.intents import Cells, Intent, Place, SetCellWords, SetParagraphs
from lexigon.core.job.intents.cells import meant
from lexigon.core.job.model import Job
from lexigon.core.job.serial import plain
from lexigon.core.spec.carrying import intents_for_frames, intents_for_text
from lexigon.core.spec.completion import complete
from lexigon.core.spec.grammar import Understood, read_spec
from lexigon.core.spec.revising import revised
from lexigon.core.spec.sharing import looks_in, shared_frames, shared_looks


def plain_intents(intents: Iterable[Intent]) -> list[dict[str, Any]]:
    """Intents as the client sends them back."""
    return [{**plain(intent), "do": intent.do} for intent in intents]


def read_line(live: OpenJob, asked: SpecLine) -> tuple[Understood, dict[str, Any]]:
    """A spec line for a selection: what it says, what is not understood, how it may go on, and how much it would do."""
    line, names = asked.line, replace(names_of(live.job), bare="colour" if _has_words(live.job, asked) else "fill")
    understood = read_spec(line, names)
    if asked.was and not understood.unknown:  # the line that stood there, edited in place
        understood = revised(read_spec(asked.was, names), understood, names)
    offers = complete(line, len(line) if asked.caret is None else asked.caret, names)
    return understood, {
        "said": understood.said, "unknown": understood.unknown, "offers": [plain(offer) for offer in offers],
        "does": 0 if understood.unknown else len(intents_of(live, understood, asked)),
    }  # fmt: skip


def _has_words(job: Job, asked: SpecLine) -> bool:
    """Return whether text is selected, in frames or in cells."""
    texts = (words for words in asked.words() if words.start is not None)
    return asked.cells is not None or any(text_of(job, words.story) is not None for words in texts)


def shown_line(live: OpenJob, asked: SpecLine) -> dict[str, Any]:
    """The spec line of everything that is selected, and what of it is various."""
    job, names, composition = live.job, names_of(live.job), live.desk.composition
    looks: dict[Any, None] = {}
    for words in asked.words():
        if words.start is not None and text_of(job, words.story) is not None:
            found = looks_in(job, composition.cascade, words.story, words.start, words.end or words.start, words.whole)
            looks |= dict.fromkeys(found)
    for key, show in _cells_of(job, asked.cells):
        looks |= dict.fromkeys(looks_in(job, composition.cascade, key, *ENDS, whole=True, show=show))
    frames = []
    for chosen in asked.frames:
        on = holder(job, chosen.page)
        frame = next((f for f in (*on.frames, *on.inherited()) if f.id == chosen.id), None) if on else None
        if frame is not None:
            frames.append((frame, composition.places.setting(frame)))
    shown = shared_looks(list(looks), names) + shared_frames(frames, names)
    return {"line": shown.line, "various": shown.various}


def intents_of(live: OpenJob, understood: Understood, asked: SpecLine) -> list[Intent]:
    """Return what a spec line does to what the client has selected: a text, frames, or both."""
    job, made = live.job, list[Intent]()
    for words in asked.words():
        if words.start is not None and text_of(job, words.story) is not None:
            made += intents_for_text(
                job, live.desk.composition.cascade, understood, words.story, words.start, words.end or words.start, words.whole
            )  # fmt: skip
    made += _to_cells(live, understood, asked.cells)
    return made + intents_for_frames(job, understood, [(frame.page, frame.id) for frame in asked.frames])


ENDS = Place("^", 0), Place("$", 0)


def _cells_of(job: Job, cells: Cells | None) -> Iterator[tuple[str, Set]]:
    """The texts of chosen cells by their names, each with how its paragraphs are set."""
    if cells is None:
        return
    table, _, held = meant(job, cells)
    for one in held:
        yield cell_key(table.id, one.row, one.number), in_place(job, table, one.row, one.column)


def _to_cells(live: OpenJob, understood: Understood, cells: Cells | None) -> list[Intent]:
    """Return what a spec line does to chosen cells: one change of them all where it does the same to each."""
    if cells is None:
        return []
    cascade = live.desk.composition.cascade
    each = [
        intents_for_text(live.job, cascade, understood, key, *ENDS, whole=True, show=show)
        for key, show in _cells_of(live.job, cells)
    ]
    alike = {tuple(_without_place(intent) for intent in made) for made in each}
    if len(alike) == 1 and (same := next(iter(alike))) and None not in same:
        return [SetCellWords(cells, *said) for said in same if said is not None]
    return [intent for made in each for intent in made]


def _without_place(intent: Intent) -> tuple[Any, ...] | None:
    """Return what is set of paragraphs, whichever they are; None for an intent of another kind."""
    return (intent.style, intent.para, intent.type, intent.clear) if isinstance(intent, SetParagraphs) else None
