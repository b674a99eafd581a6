"""Intents about frames: on a page, or on one half of a master page.

Wherever an intent names a ``page``, ``master:<id>:recto`` or ``:verso`` names a master's half.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from math import atan2, degrees, hypot
from typing import Annotated, Any, Literal

from lexigon.core.document import story_text
from lexigon.core.document.anchors import anchors_in, without_anchors
from lexigon.core.document.consistency import check_rect
from lexigon.core.document.holder_keys import INLAYS
from lexigon.core.document.limits import Part, Skew, Within
from lexigon.core.document.model import (
    LINE,
    MAIN_LAYER,
    PLAIN_SWATCH,
    Fill,
    FrameSpec,
    Insets,
    Job,
    Object,
    Outline,
    Paragraph,
    Pose,
    Story,
    Stroke,
    Text,
    Vertical,
    bounds_of,
    combined,
    each_frame,
    exchanged,
    find_object,
    frames_in,
    mapped,
)
from lexigon.core.editing.clipping import clipped, unused_name
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, SetFrames, SpliceParagraphs, put
from lexigon.core.editing.holders import Holder, holder, stories_in_use
from lexigon.core.editing.intents.text.linking import led_after
from lexigon.core.geometry import Affine, Point, Rect, regular_polygon, turned_about
from lexigon.core.path.shapes import star_polygon

SMALLEST_FRAME = 4.0
FARTHEST = 72.0 * 200
"""As far as the largest page reaches."""


def check_place(rect: Rect) -> Rect:
    """Raises an error for a box that is too small or too far away for a frame."""
    check_rect(rect.x, rect.y, rect.width, rect.height, SMALLEST_FRAME)
    if max(abs(rect.x), abs(rect.y)) > FARTHEST:
        raise EditError(
            "This position is too far from the page. Objects can be at most 200 in from the corner of their page."
        )
    return rect


def own_frame(place: Holder, frame_id: str) -> tuple[Object, tuple[Object, ...], list[Primitive]]:
    """An object of the holder itself, all its objects with it, and the edits needed first.

    One that it only shows from a master page is taken over: it becomes the holder's own, with a copy of its text; one
    in a group with the whole group."""
    job = place.job
    own = find_object(place.objects, frame_id)
    if own is not None:
        return own, place.objects, []
    for whole in place.inherited_objects():
        if find_object((whole,), frame_id):
            copy = clipped([(whole,)], job.stories, job.inlays, job.tables, led=place.page is not None)
            (copied,) = each_frame(copy.holders[0], lambda frame: frame.at(place.rect(frame)))
            copied = replace(copied, origin=whole.id, hide_on=copied.hide_on if place.page is None else ())
            objects = (*place.objects, copied)
            own = find_object(objects, copy.ids[frame_id])
            assert own is not None
            return own, objects, list(copy.edits)
    raise EditError("That frame is no longer on the page.")


def base_layer(job: Job) -> str:
    """The default layer for objects: the main one, or the lowest if that was deleted."""
    return MAIN_LAYER if MAIN_LAYER in job.layers else next(iter(job.layers))


def new_layer(job: Job, name: str | None = None) -> str:
    """The layer to draw new objects on: the one wanted, or the base layer where it is gone. Raises EditError where that
    is locked, or not seen."""
    layer = job.layers[name if name in job.layers else base_layer(job)]
    if layer.locked or not layer.visible:
        raise EditError(f"“{layer.name}” is {'locked' if layer.locked else 'hidden'}. Select another layer to draw on.")
    return layer.id


def check_free(job: Job, objects: tuple[Object, ...], key: str) -> None:
    """Raises EditError where an object, a group it is in or its layer is locked."""
    own = next(one for one in objects if find_object((one,), key))
    layer = job.layers.get(own.layer)
    if layer is not None and layer.locked:
        raise EditError(f"“{layer.name}” is locked. Unlock that layer first.")
    at: Object | None = own
    while at is not None:
        if at.locked:
            raise EditError(f"“{at.name or 'This'}” is locked. Unlock it first.")
        inside = at.group.objects if at.group and at.id != key else ()
        at = next((one for one in inside if find_object((one,), key)), None)


@dataclass(slots=True, frozen=True)
class AddTextFrame:
    """Add a text frame, with a new story of its own, or (on a page) linked from ``after``.

    With ``main``, a frame of a master page shows the main story on the pages that use it.
    """

    page: str
    rect: Rect
    after: str | None = None
    style: str = "body"
    main: bool = False
    name: str = ""
    text: str = ""
    turn: Literal[0, 90, 180, 270] = 0
    layer: str | None = None
    """Its layer; by default the main one."""
    do: Literal["add-text-frame"] = "add-text-frame"
    label = "Add text frame"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame_id = story_text.new_id("f")
        edits: list[Primitive] = []
        story_id: str | None = None
        if self.main:
            if place.master is None:
                raise EditError("Main text frames are on master pages. Link the story to a frame of a page instead.")
        elif self.after is None:
            story_id = story_text.new_id("s")
            style = self.style if self.style in job.paragraph_styles else job.body
            lines = story_text.clean(self.text).split("\n")
            paragraphs = [Paragraph(story_text.new_id("p"), style, line) for line in lines]
            name = self.name or (
                unused_name({story.name for story in job.stories.values()})
                if place.page
                else f"{place.master.name if place.master else ''}, {place.side}"
            )
            edits.append(put("stories", Story(story_id, name, paragraphs, [frame_id] if place.page else [])))
        else:
            if place.page is None:
                raise EditError(
                    "Frames can be linked on pages. The main text frames of a master page are linked automatically."
                )
            story_id, order = led_after(job, self.after, frame_id)
            edits.append(SetFrames(story_id, tuple(order)))
        text = Text(None if self.main else story_id, self.main, self.turn)
        frame = Object(frame_id, self.name, Pose(check_place(self.rect)), text, layer=new_layer(job, self.layer))
        return [*edits, *place.with_new(frame)]


@dataclass(slots=True, frozen=True)
class ChangeFrame:
    """New place, size or setting of a frame; on a page, a master's frame is taken over for this page."""

    page: str
    frame: str
    rect: Rect | None = None
    columns: int | None = None
    gutter: float | None = None
    insets: float | Insets | None = None
    vertical: Vertical | None = None
    name: str | None = None
    turn: Literal[0, 90, 180, 270] | None = None
    hide_on: tuple[Literal["opening", "blank", "front"], ...] | None = None
    spec: FrameSpec | None = None
    """Any other values of its make."""
    style: str | None = None
    """Frame style; "" for none."""
    clear: bool = False
    """Give back to the style what the frame says itself."""
    outline: Outline | Literal["box"] | None = None
    rotation: float | None = None
    skew: Skew | None = None
    mirrored: bool | None = None
    fit: Literal["none", "line", "size", "height"] | None = None
    fit_sizes: tuple[float, float] | None = None
    along: Literal["", "above", "middle", "below"] | None = None
    along_from: Part | None = None
    prints: bool | None = None
    locked: bool | None = None
    do: Literal["change-frame"] = "change-frame"

    @property
    def label(self) -> str:
        if self.locked is not None:
            return "Lock object" if self.locked else "Unlock object"
        return "Move object" if self.rect else "Change object"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame, objects, edits = own_frame(place, self.frame)
        if self.locked is None or self != ChangeFrame(self.page, self.frame, locked=self.locked):
            check_free(job, objects, frame.id)
        new = self._with_values(self._with_place(frame, place))
        new = replace(new, **self._changed_values("name", "hide_on", "prints", "locked"))
        if text := self._changed_values("turn", "fit", "fit_sizes", "along", "along_from"):
            if frame.text is None:
                raise EditError("This object contains no text that could be rotated or fitted.")
            new = new.showing(**text)
        if self.style is not None:
            if self.style and self.style not in job.frame_styles:
                raise EditError("That frame style is no longer in the job.")
            new = replace(new, style=self.style or None)
        if self.outline is not None:
            new = replace(new, outline=None if self.outline == "box" else self.outline)
        return [*edits, *place.with_objects(exchanged(objects, {frame.id: (new,)}))]

    def _changed_values(self, *names: str) -> dict[str, Any]:
        return {name: value for name in names if (value := getattr(self, name)) is not None}

    def _with_place(self, frame: Object, place: Holder) -> Object:
        if frame.group is not None:
            return self._place_group(frame)
        if self.rect and place.key == INLAYS:  # where it stands is the words' affair
            frame = frame.at(check_place(Rect(0.0, 0.0, self.rect.width, self.rect.height)))
        elif self.rect:
            frame = frame.at(check_place(self.rect))
        if posed := self._changed_values("rotation", "skew", "mirrored"):
            frame = frame.at(place.rect(frame))
            assert frame.place is not None
            frame = replace(frame, place=replace(frame.place, **posed))
        return frame

    def _place_group(self, group: Object) -> Object:
        """A group's box is the one round all it holds, which is moved, stretched and turned with it; ``rotation`` turns
        it on."""
        box = bounds_of((group,))
        if box is None or not (self.rect or self.rotation):
            return group
        map_ = Affine()
        if self.rect:
            to = check_place(self.rect)
            across, down = to.width / max(box.width, 0.01), to.height / max(box.height, 0.01)
            map_ = Affine(across, 0.0, 0.0, down, to.x - box.x * across, to.y - box.y * down)
            box = to
        if self.rotation:
            map_ = map_.then(turned_about(box, self.rotation))
        return mapped(group, map_)

    def _with_values(self, frame: Object) -> Object:
        if self.clear:
            frame = replace(frame, make=FrameSpec())
        values = self._changed_values("columns", "gutter", "vertical")
        if self.insets is not None:
            values["insets"] = self.insets if isinstance(self.insets, tuple) else (self.insets,) * 4
        return replace(frame, make=combined(combined(frame.make, FrameSpec(**values)), self.spec))


PLAIN_SHAPE = FrameSpec(fill=Fill(PLAIN_SWATCH, 0.15))
"""The text wrap of a new shape: none until it is set."""


@dataclass(slots=True, frozen=True)
class AddShape:
    """A shape that holds no text: a box, an ellipse, a polygon. With ``corners`` it is a regular polygon of so many,
    or, where ``depth`` is given too, a star of so many points."""

    page: str
    rect: Rect
    outline: Outline | None = None
    spec: FrameSpec = PLAIN_SHAPE
    name: str = ""
    layer: str | None = None
    corners: Annotated[int, Within(0, 100, "A polygon has 3 to 100 corners.")] = 0
    depth: Annotated[float, Within(0, 0.99, "The depth of a star is less than 100 %.")] = 0.0
    do: Literal["add-shape"] = "add-shape"
    label = "Add shape"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        outline = self.outline
        if self.corners >= 3:
            points = star_polygon(self.corners, self.depth) if self.depth else regular_polygon(self.corners)
            outline = Outline("polygon", points)
        frame = Object(
            story_text.new_id("f"),
            self.name or "Shape",
            Pose(check_place(self.rect)),
            outline=outline,
            make=self.spec,
            layer=new_layer(job, self.layer),
        )
        return place.with_new(frame)


PLAIN_RULE = Stroke(1.0, PLAIN_SWATCH, 1.0, ())


@dataclass(slots=True, frozen=True)
class AddRule:
    """A rule from one point to another: a box as long as it is, turned, with a line along its middle."""

    page: str
    start: Point
    end: Point
    stroke: Stroke = PLAIN_RULE
    layer: str | None = None
    do: Literal["add-rule"] = "add-rule"
    label = "Draw rule"

    def expand(self, job: Job) -> list[Primitive]:
        pose = _line_pose(self.start, self.end, max(self.stroke.weight or 0.0, SMALLEST_FRAME))
        rule = Object(
            story_text.new_id("f"),
            "Rule",
            pose,
            outline=LINE,
            make=FrameSpec(stroke=self.stroke),
            layer=new_layer(job, self.layer),
        )
        return holder(job, self.page).with_new(rule)


@dataclass(slots=True, frozen=True)
class MoveRule:
    """A rule from another point to another point of its page; one that the page shows from its master is taken over
    first."""

    page: str
    frame: str
    start: Point
    end: Point
    do: Literal["move-rule"] = "move-rule"
    label = "Move rule"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        own, objects, edits = own_frame(place, self.frame)
        if own.outline != LINE or own.rect is None:
            raise EditError("This is not a rule. Change its position and size instead.")
        check_free(job, objects, own.id)
        moved = replace(own, place=_line_pose(self.start, self.end, own.rect.height))
        return [*edits, *place.with_objects(exchanged(objects, {own.id: (moved,)}))]


def _line_pose(start: Point, end: Point, height: float) -> Pose:
    """The box of a height, rotated, along whose middle a line runs from ``start`` to ``end``."""
    (x0, y0), (x1, y1) = start, end
    length = hypot(x1 - x0, y1 - y0)
    if length < SMALLEST_FRAME:
        raise EditError("A rule is at least 4 pt long.")
    rect = Rect((x0 + x1 - length) / 2, (y0 + y1 - height) / 2, length, height)
    return Pose(check_place(rect), round(degrees(atan2(y1 - y0, x1 - x0)), 6) % 360)


@dataclass(slots=True, frozen=True)
class TakeOver:
    """Override a master frame: a copy of it becomes the page's own. Removing that restores it."""

    page: str
    frame: str
    do: Literal["take-over"] = "take-over"
    label = "Override master object"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        if find_object(place.objects, self.frame):
            raise EditError("This object already belongs to the page.")
        _frame, objects, edits = own_frame(place, self.frame)
        return [*edits, *place.with_objects(objects)]


@dataclass(slots=True, frozen=True)
class RemoveFrame:
    """Take a frame away. The text stays with its other frames; where it was taken over, the master's comes back."""

    page: str
    frame: str
    do: Literal["remove-frame"] = "remove-frame"
    label = "Delete object"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame = find_object(place.objects, self.frame)
        if frame is None:
            raise EditError("This object belongs to the master page and cannot be deleted from a single page.")
        check_free(job, place.objects, frame.id)
        first = place.with_objects(exchanged(place.objects, {frame.id: ()}))
        if self.page == INLAYS:
            first = [*_without_anchor(job, frame.id), *first]
        return [*first, *without_frames(job, frames_in((frame,)))]


def _without_anchor(job: Job, inlay: str) -> list[Primitive]:
    """Return the edits that remove an anchored frame from its text."""
    edits: list[Primitive] = []
    for story in job.stories.values():
        for index, p in enumerate(story.paragraphs):
            if any(anchor.ref == inlay for anchor in anchors_in((p,))):
                rest = without_anchors(p, lambda anchor: anchor.ref == inlay)
                edits.append(SpliceParagraphs(story.id, index, 1, (rest,)))
    return edits


def without_frames(job: Job, gone: Collection[Object]) -> list[Primitive]:
    """Return the edits that remove frames from the flow of their stories; a story without frames is deleted with its
    last frame."""
    ids = {frame.id for frame in gone}
    edits: list[Primitive] = []
    left = stories_in_use(job, ids)
    for story_id in dict.fromkeys(frame.story for frame in gone if frame.story in job.stories):
        story = job.stories[story_id or ""]
        rest = tuple(f for f in story.frames if f not in ids)
        if story.id not in left:
            edits.append(PutEntry("stories", story.id, None))
        elif len(rest) != len(story.frames):
            edits.append(SetFrames(story.id, rest))
    return edits
