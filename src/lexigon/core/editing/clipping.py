"""Copies of objects with the stories they show: for duplicated pages, copied master pages, and overridden master
objects."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count

from lexigon.core.document import story_text
from lexigon.core.document.anchors import with_own
from lexigon.core.document.model import Object, Story, TextTable, all_in, frames_in
from lexigon.core.editing.edits import PutEntry, put

_NUMBERED = re.compile(r"Text \d+")


@dataclass(slots=True, frozen=True)
class Clipping:
    """``holders`` are the copies, a tuple of objects for each one given; ``stories`` the copied stories by the ids of
    the originals; ``ids`` the ids of the copies by those of the originals; ``edits`` add the copied stories to the job,
    with their notes and anchored frames."""

    holders: tuple[tuple[Object, ...], ...]
    stories: Mapping[str, Story]
    ids: Mapping[str, str]
    edits: tuple[PutEntry, ...]


def clipped(
    holders: Sequence[tuple[Object, ...]],
    stories: Mapping[str, Story],
    inlays: Mapping[str, Object],
    tables: Mapping[str, TextTable],
    *,
    led: bool,
    main: str | None = None,
    layer: Callable[[str], str] = str,
) -> Clipping:
    """Copy objects under new ids. A story whose frames are all among them is copied whole; of a story that continues
    elsewhere, and of the ``main`` one, the copied frames are empty. With ``led``, the copies are on pages, where
    stories name their frames. ``layer`` gives the layer for the copy of an object on a layer."""
    ids = {one.id: story_text.new_id("f") for objects in holders for one in all_in(objects)}
    new_stories: dict[str, Story] = {}
    inside: list[PutEntry] = []
    for frame in frames_in(tuple(one for objects in holders for one in objects)):
        story = stories.get(frame.story or "")
        if story is None or frame.main:
            continue
        if story.id not in new_stories:
            names = {one.name for one in (*stories.values(), *new_stories.values())}
            whole = story.id != main and all(key in ids for key in story.frames)
            frames = [ids[key] for key in story.frames if key in ids]
            copied = _copied(story, whole, frames if led else [], names)
            copies = with_own(copied.paragraphs, stories, inlays, tables)
            new_stories[story.id] = replace(copied, paragraphs=copies.paragraphs)
            inside += [
                *(put("stories", one) for one in copies.stories),
                *(put("inlays", one) for one in copies.inlays),
                *(put("tables", one) for one in copies.tables),
            ]
        own = new_stories[story.id]
        if led and ids[frame.id] not in own.frames:
            own.frames.append(ids[frame.id])
    edits = (*inside, *(put("stories", story) for story in new_stories.values()))
    return Clipping(tuple(_all(objects, ids, new_stories, layer) for objects in holders), new_stories, ids, edits)


def _all(
    objects: tuple[Object, ...], ids: Mapping[str, str], stories: Mapping[str, Story], layer: Callable[[str], str]
) -> tuple[Object, ...]:
    copies = []
    for one in objects:
        own = replace(one, id=ids[one.id], layer=layer(one.layer))
        if one.group is not None:
            own = own.holding(_all(one.group.objects, ids, stories, layer))
        elif not one.main and (story := stories.get(one.story or "")) is not None:
            own = own.showing(story=story.id)
        copies.append(own)
    return tuple(copies)


def _copied(story: Story, whole: bool, frames: list[str], names: Collection[str]) -> Story:
    """A copy of a story under a new id, with new ids for its paragraphs; ``Text 2`` gets the next number."""
    paragraphs = [replace(p, id=story_text.new_id("p")) for p in story.paragraphs]
    if not whole:
        paragraphs = [replace(paragraphs[0], text="", spans=())]
    name = unused_name(names) if _NUMBERED.fullmatch(story.name) else story.name
    return Story(story_text.new_id("s"), name, paragraphs, frames)


def unused_name(used: Collection[str]) -> str:
    """“Text” with the first number that no text bears."""
    return next(name for number in count(1) if (name := f"Text {number}") not in used)
