"""Copies of objects with the texts they show: for duplicated pages, copied masters, and what is taken over from a master."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count

from lexigon.core.job import text as texts
from lexigon.core.job.anchoring import with_own
from lexigon.core.job.edits import PutEntry, put
from lexigon.core.job.model import Object, Story, TextTable, all_in, frames_in

_NUMBERED = re.compile(r"Text \d+")


@dataclass(slots=True, frozen=True)
class Clipping:
    """``holders`` are the copies, a tuple of objects for each that was given; ``stories`` the copied texts by their originals'
    ids; ``ids`` the copies' ids by their originals'; ``edits`` put the copied texts into the job, with the notes and frames in
    them."""

    holders: tuple[tuple[Object, ...], ...]
    stories: Mapping[str, Story]
    ids: Mapping[str, str]
    edits: tuple[PutEntry, ...]


def clipped(
    holders: Sequence[tuple[Object, ...]], stories: Mapping[str, Story], inlays: Mapping[str, Object], tables: Mapping[str, TextTable], *, led: bool, main: str | None = None,
    layer: Callable[[str], str] = str,
) -> Clipping:  # fmt: skip
    """Copies under ids of their own. A text whose frames are all among them is copied whole; of one that flows on elsewhere, and
    of the ``main`` one, the frames are left empty. With ``led`` the copies stand on pages, where texts name their frames.
    ``layer`` says on which layer a copy of what stands on one is put."""
    ids = {one.id: texts.new_id("f") for objects in holders for one in all_in(objects)}
    made: dict[str, Story] = {}
    inside: list[PutEntry] = []
    for frame in frames_in(tuple(one for objects in holders for one in objects)):
        story = stories.get(frame.story or "")
        if story is None or frame.main:
            continue
        if story.id not in made:
            names = {one.name for one in (*stories.values(), *made.values())}
            whole = story.id != main and all(key in ids for key in story.frames)
            frames = [ids[key] for key in story.frames if key in ids]
            copied = _copied(story, whole, frames if led else [], names)
            copies = with_own(copied.paragraphs, stories, inlays, tables)
            made[story.id] = replace(copied, paragraphs=copies.paragraphs)
            inside += [
                *(put("stories", one) for one in copies.stories), *(put("inlays", one) for one in copies.inlays), *(put("tables", one) for one in copies.tables),
            ]  # fmt: skip
        own = made[story.id]
        if led and ids[frame.id] not in own.frames:
            own.frames.append(ids[frame.id])
    edits = (*inside, *(put("stories", story) for story in made.values()))
    return Clipping(tuple(_all(objects, ids, made, layer) for objects in holders), made, ids, edits)


def _all(
    objects: tuple[Object, ...], ids: Mapping[str, str], made: Mapping[str, Story], layer: Callable[[str], str]
) -> tuple[Object, ...]:
    copies = []
    for one in objects:
        own = replace(one, id=ids[one.id], layer=layer(one.layer))
        if one.group is not None:
            own = own.holding(_all(one.group.objects, ids, made, layer))
        elif not one.main and (story := made.get(one.story or "")) is not None:
            own = own.showing(story=story.id)
        copies.append(own)
    return tuple(copies)


def _copied(story: Story, whole: bool, frames: list[str], names: Collection[str]) -> Story:
    """A text under a new id, with new ids for its paragraphs; ``Text 2`` gets the next number."""
    paragraphs = [replace(p, id=texts.new_id("p")) for p in story.paragraphs]
    if not whole:
        paragraphs = [replace(paragraphs[0], text="", spans=())]
    name = unused_name(names) if _NUMBERED.fullmatch(story.name) else story.name
    return Story(texts.new_id("s"), name, paragraphs, frames)


def unused_name(taken: Collection[str]) -> str:
    """“Text” with the first number that no text bears."""
    return next(name for number in count(1) if (name := f"Text {number}") not in taken)
