"""Intents that copy objects: on their page, in rows and columns, and by way of the clipboard to other pages and
jobs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

from lexigon.core.document.anchors import anchors_with_cells, objects_in
from lexigon.core.document.holder_keys import INLAYS
from lexigon.core.document.limits import MOST_FRAMES, Length, Many, Within
from lexigon.core.document.model import (
    CharacterStyle,
    FrameStyle,
    Job,
    Object,
    ParagraphStyle,
    PictureFile,
    RuleStyle,
    Story,
    Swatch,
    TableStyle,
    TextTable,
    bounds_of,
    frames_in,
    mapped,
)
from lexigon.core.editing.clipping import clipped
from lexigon.core.editing.edits import EditError, Primitive, put
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.areas import trim_of
from lexigon.core.editing.intents.objects.arranging import SelectedObject, Some, around, selected_objects
from lexigon.core.editing.intents.objects.frames import base_layer, new_layer
from lexigon.core.fileformat.values import plain
from lexigon.core.geometry import Affine, Point, Rect, turned_about
from lexigon.core.numerals import integer

MOST_COPIES = 2000
BESIDE = 12.0
"""The offset to the right and downwards of a copy from its original, in points."""


def _copyable(chosen: list[SelectedObject]) -> list[SelectedObject]:
    """The same. Raises EditError where the main text is among it, which has its own frames on every page."""
    if any(frame.main for one in chosen for frame in frames_in((one.object,))):
        raise EditError("Frames of the main story belong to their pages and cannot be copied. Link frames instead.")
    return chosen


def copies_of(job: Job, chosen: Iterable[SelectedObject], maps: Iterable[Affine]) -> list[Primitive]:
    """Return the edits that add copies of the selected objects, with their stories, at the positions given by some
    maps."""
    edits: list[Primitive] = []
    by_place: dict[str, list[SelectedObject]] = {}
    for one in chosen:
        by_place.setdefault(one.place.key, []).append(one)
    maps = list(maps)
    for some in by_place.values():
        place = some[0].place
        order = {one.id: at for at, one in enumerate(place.objects)}
        some.sort(key=lambda one: order[one.object.id])
        new: list[Object] = []
        stories = dict(job.stories)
        for map_ in maps:
            copy = clipped(
                [tuple(one.object for one in some)],
                stories,
                job.inlays,
                job.tables,
                led=place.page is not None,
                main=job.main_story,
            )
            stories |= {story.id: story for story in copy.stories.values()}  # so that each is named apart
            edits += copy.edits
            new += [mapped(replace(one, origin=None), map_) for one in copy.holders[0]]
        edits += place.with_new(*new)
    return edits


@dataclass(slots=True, frozen=True)
class DuplicateObjects:
    """Add copies of the selected objects above them, moved by a distance."""

    objects: Some
    dx: Length = 0.0
    dy: Length = 0.0
    do: Literal["duplicate-objects"] = "duplicate-objects"
    label = "Duplicate object"

    def expand(self, job: Job) -> list[Primitive]:
        return copies_of(
            job, _copyable(selected_objects(job, self.objects, free=False)), [Affine.move(self.dx, self.dy)]
        )


Count = Annotated[int, Within(1, 200, "Repeat at most 200 times in each direction.")]


@dataclass(slots=True, frozen=True)
class RepeatObjects:
    """Repeat the selected objects in columns and rows, the original included, at distances ``dx`` and ``dy``."""

    objects: Some
    columns: Count = 1
    rows: Count = 1
    dx: Length = 0.0
    dy: Length = 0.0
    do: Literal["repeat-objects"] = "repeat-objects"
    label = "Repeat object"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = _copyable(selected_objects(job, self.objects, free=False))
        if self.columns * self.rows < 2:
            raise EditError("Type the number of columns or rows.")
        if (self.columns * self.rows - 1) * len(chosen) > MOST_COPIES:
            raise EditError(f"This makes more than {integer(MOST_COPIES)} copies.")
        maps = [
            Affine.move(column * self.dx, row * self.dy)
            for row in range(self.rows)
            for column in range(self.columns)
            if row or column
        ]
        return copies_of(job, chosen, maps)


@dataclass(slots=True, frozen=True)
class RepeatRound:
    """Repeat the selected objects round a point of the page, the original included, in equal steps over a number of
    degrees: each rotated with its direction (``turned``), or upright."""

    objects: Some
    count: Count
    about: tuple[Length, Length]
    over: Annotated[float, Within(-360, 360, "The angle is at most 360 degrees.")] = 360.0
    turned: bool = True
    do: Literal["repeat-round"] = "repeat-round"
    label = "Repeat object around a point"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = _copyable(selected_objects(job, self.objects, free=False))
        if self.count < 2:
            raise EditError("Type the number of copies.")
        if (self.count - 1) * len(chosen) > MOST_COPIES:
            raise EditError(f"This makes more than {integer(MOST_COPIES)} copies.")
        step = self.over / (self.count if abs(self.over) == 360 else self.count - 1)
        x, y = self.about
        box = around([one.box for one in chosen])
        middle = box.x + box.width / 2, box.y + box.height / 2
        maps = []
        for number in range(1, self.count):
            map_ = turned_about(Rect(x, y, 0.0, 0.0), number * step)
            if not self.turned:
                to = map_.apply(*middle)
                map_ = Affine.move(to[0] - middle[0], to[1] - middle[1])
            maps.append(map_)
        return copies_of(job, chosen, maps)


@dataclass(slots=True, frozen=True)
class ObjectClip:
    """Objects on the clipboard, with all that they need in another job. ``page`` is what they were copied from."""

    objects: Annotated[tuple[Object, ...], Many(MOST_FRAMES, 1)]
    page: str = ""
    stories: tuple[Story, ...] = ()
    inlays: tuple[Object, ...] = ()
    swatches: tuple[Swatch, ...] = ()
    rule_styles: tuple[RuleStyle, ...] = ()
    character_styles: tuple[CharacterStyle, ...] = ()
    paragraph_styles: tuple[ParagraphStyle, ...] = ()
    frame_styles: tuple[FrameStyle, ...] = ()
    pictures: tuple[PictureFile, ...] = ()
    tables: tuple[TextTable, ...] = ()
    table_styles: tuple[TableStyle, ...] = ()


NEEDED = ("swatches", "rule_styles", "character_styles", "paragraph_styles", "table_styles", "frame_styles", "pictures")
"""The tables of the job that objects may depend on, in an order in which no reference is missing when entries are added
one by one."""


def clip_of(job: Job, objects: Some) -> ObjectClip:
    """Return the selected objects of a page for copying. Frames of stories that continue elsewhere are copied empty."""
    chosen = _copyable(selected_objects(job, objects, free=False))
    place = chosen[0].place
    if any(one.place.key != place.key for one in chosen):
        raise EditError("Copy objects of one page at a time.")
    order = {one.id: at for at, one in enumerate(place.objects)}
    originals = tuple(one.object for one in sorted(chosen, key=lambda one: order[one.object.id]))
    originals = tuple(replace(one, origin=None) for one in originals)
    stories, inlays = _texts_of(job, originals)
    table_ids = (anchor.ref for story in stories for anchor in objects_in(story.paragraphs) if anchor.kind == "table")
    tables = tuple(job.tables[key] for key in dict.fromkeys(table_ids) if key in job.tables)
    strings = _strings([plain(originals), plain(stories), plain(inlays), plain(tables)])
    needed: dict[str, dict[str, Any]] = {name: {} for name in NEEDED}
    while True:
        more = [
            (name, key, entry)
            for name in NEEDED
            for key, entry in getattr(job, name).items()
            if key in strings and key not in needed[name]
        ]
        if not more:
            break
        for name, key, entry in more:  # what a style is based on, or a gradient passes through, is needed with it
            needed[name][key] = entry
            strings |= _strings(plain(entry))
    in_order = {
        name: tuple(entry for key, entry in getattr(job, name).items() if key in needed[name]) for name in NEEDED
    }
    return ObjectClip(originals, place.key, tuple(stories), tuple(inlays), tables=tables, **in_order)


def _texts_of(job: Job, objects: tuple[Object, ...]) -> tuple[list[Story], list[Object]]:
    """The stories that objects show, with their notes and anchored frames."""
    stories: dict[str, Story] = {}
    inlays: dict[str, Object] = {}
    left = [frame.story for frame in frames_in(objects) if frame.story]
    while left:
        story = job.stories.get(left.pop())
        if story is None or story.id in stories:
            continue
        stories[story.id] = story
        for anchor in anchors_with_cells(story.paragraphs, job.tables):
            if anchor.kind == "note":
                left.append(anchor.ref)
            elif (inlay := job.inlays.get(anchor.ref)) is not None:
                inlays[inlay.id] = inlay
                left += [inlay.story] if inlay.story else []
    return list(stories.values()), list(inlays.values())


def _strings(value: Any) -> set[str]:
    """Every word that plain JSON values hold: names of styles and inks among them."""
    if isinstance(value, str):
        return {value}
    inner = value.values() if isinstance(value, dict) else value if isinstance(value, list) else ()
    return set().union(*map(_strings, inner))


def _onto_page(box: Rect, page: Rect) -> Affine:
    """Moves what has its middle off a page to the middle of that."""
    x, y = box.x + box.width / 2, box.y + box.height / 2
    if page.x <= x <= page.right and page.y <= y <= page.foot:
        return Affine()
    return Affine.move(page.x + page.width / 2 - x, page.y + page.height / 2 - y)


@dataclass(slots=True, frozen=True)
class PasteObjects:
    """Paste copied objects on a page: about a point, or in its own place, a little beside it where it was copied there.
    What has its place off this page, which may be smaller than the one it comes from, is centred."""

    page: str
    clip: ObjectClip
    at: Point | None = None
    in_place: bool = False
    layer: str | None = None
    do: Literal["paste-objects"] = "paste-objects"
    label = "Paste object"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        if self.page == INLAYS:
            raise EditError("Select a page to paste on.")
        edits: list[Primitive] = [
            put(name, entry)
            for name in NEEDED
            for entry in getattr(self.clip, name)
            if entry.id not in getattr(job, name)
        ]
        free = new_layer(job, self.layer)
        open_ = {layer.id for layer in job.layers.values() if layer.visible and not layer.locked}
        styles = {*job.paragraph_styles, *(style.id for style in self.clip.paragraph_styles)}
        stories = {one.id: self._settled(job, one, styles) for one in self.clip.stories}
        inlays = {one.id: replace(one, layer=base_layer(job)) for one in self.clip.inlays}
        copy = clipped(
            [self.clip.objects],
            job.stories | stories,
            job.inlays | inlays,
            job.tables | {one.id: one for one in self.clip.tables},
            led=place.page is not None,
            main=job.main_story,
            layer=lambda layer: layer if layer in open_ else free,
        )
        (objects,) = copy.holders
        box = bounds_of(objects)
        map_ = Affine()
        if self.at is not None and box is not None:
            map_ = Affine.move(self.at[0] - box.x - box.width / 2, self.at[1] - box.y - box.height / 2)
        elif not self.in_place and self.clip.page == self.page:
            map_ = Affine.move(BESIDE, BESIDE)
        elif box is not None and self.clip.page != self.page:
            map_ = _onto_page(box, trim_of(place))
        return [*edits, *copy.edits, *place.with_new(*(mapped(one, map_) for one in objects))]

    def _settled(self, job: Job, story: Story, styles: set[str]) -> Story:
        """Convert text from elsewhere to styles of the job."""
        return replace(
            story, paragraphs=[p if p.style in styles else replace(p, style=job.body) for p in story.paragraphs]
        )
