"""The spec line for what is selected: what it says, what it would do, what everything selected has in common."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from lexigon.bench.forms import SpecLine
from lexigon.bench.services.describing import names_of
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.job.holders import holder
from lexigon.core.job.intents import Intent
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
    line, names = asked.line, names_of(live.job)
    understood = read_spec(line, names)
    if asked.was and not understood.unknown:  # the line that stood there, edited in place
        understood = revised(read_spec(asked.was, names), understood, names)
    offers = complete(line, len(line) if asked.caret is None else asked.caret, names)
    return understood, {
        "said": understood.said, "unknown": understood.unknown, "offers": [plain(offer) for offer in offers],
        "does": 0 if understood.unknown else len(intents_of(live, understood, asked)),
    }  # fmt: skip


def shown_line(live: OpenJob, asked: SpecLine) -> dict[str, Any]:
    """The spec line of everything that is selected, and what of it is various."""
    job, names, composition = live.job, names_of(live.job), live.desk.composition
    looks: dict[Any, None] = {}
    for words in asked.words():
        if words.start is not None and words.story in job.stories:
            found = looks_in(job, composition.cascade, words.story, words.start, words.end or words.start, words.whole)
            looks |= dict.fromkeys(found)
    frames = []
    for chosen in asked.frames:
        on = holder(job, chosen.page)
        frame = next((f for f in (*on.frames, *on.inherited()) if f.id == chosen.id), None) if on else None
        if frame is not None:
            frames.append((frame, composition.places.setting(frame)))
    shown = shared_looks(list(looks), names) + shared_frames(frames, names)
    return {"line": shown.line, "various": shown.various}


def intents_of(live: OpenJob, understood: Understood, asked: SpecLine) -> list[Intent]:
    """What a spec line does to what the client has selected: a text, frames, or both."""
    job, made = live.job, list[Intent]()
    for words in asked.words():
        if words.start is not None and words.story in job.stories:
            made += intents_for_text(
                job, live.desk.composition.cascade, understood, words.story, words.start, words.end or words.start, words.whole
            )  # fmt: skip
    return made + intents_for_frames(job, understood, [(frame.page, frame.id) for frame in asked.frames])
