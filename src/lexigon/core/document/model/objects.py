"""Objects on pages and master pages: one class for all, with a pose and a content.

An object without a content is a shape. A group is an object whose content are other objects; they keep their own places
on the page, so that everything that looks at frames can do without knowing of groups (``frames_in``)."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from math import atan2, cos, degrees, hypot, sin
from typing import Annotated, Any, Literal

from pydantic import Discriminator

from lexigon.core.blending import Blend
from lexigon.core.document.limits import (
    MOST_BINDINGS,
    MOST_FRAMES,
    CodeText,
    Digits,
    Dots,
    Id,
    Key,
    Many,
    Name,
    Note,
    Opacity,
    Part,
    Skew,
    Turn,
    TypeSize,
)
from lexigon.core.document.model.choices import MAIN_LAYER
from lexigon.core.document.model.codes import SYMBOLOGIES, CodeForm, Symbology
from lexigon.core.document.model.frames import NOTHING_SAID, FrameSpec, Outline
from lexigon.core.document.model.pictures import Picture
from lexigon.core.document.model.records import FieldBinding, Repeat
from lexigon.core.document.model.surface import PLAIN_SWATCH, Fill
from lexigon.core.geometry import Affine, Rect, mapped_about, turned_about


@dataclass(slots=True, frozen=True)
class Pose:
    """An upright box, and how what is in it is mirrored, skewed and turned about the box's centre, in this order.

    Together they say any affine map of a box but the collapse.
    """

    rect: Rect
    rotation: Turn = 0.0
    """Degrees clockwise."""
    skew: Skew = 0.0
    """Degrees that its upright edges lean to the right."""
    mirrored: bool = False
    """Left and right are exchanged."""

    @classmethod
    def of(cls, rect: Rect, map_: Affine) -> Pose:
        """Return the pose of a box under an affine map that leaves it an area."""
        x, y = map_.apply(rect.x + rect.width / 2, rect.y + rect.height / 2)
        across = map_.a * rect.width, map_.b * rect.width
        down = map_.c * rect.height, map_.d * rect.height
        mirrored = map_.a * map_.d - map_.b * map_.c < 0
        angle = atan2(-across[1], -across[0]) if mirrored else atan2(across[1], across[0])
        width, c, s = hypot(*across), cos(angle), sin(angle)
        lean, height = c * down[0] + s * down[1], c * down[1] - s * down[0]
        skew = degrees(atan2(-lean, height))
        box = Rect(x - width / 2, y - height / 2, width, height)
        return cls(box, round(degrees(angle), 9) % 360, round(skew, 9), mirrored)

    @property
    def map(self) -> Affine | None:
        """From the upright box to the page; ``None`` where it stands as it is."""
        if not (self.rotation or self.skew or self.mirrored):
            return None
        return mapped_about(self.rect, self.rotation, self.skew, self.mirrored)


@dataclass(slots=True, frozen=True)
class Text:
    """A frame that shows a story, or part of one."""

    story: Id | None = None
    main: bool = False
    """It carries the main text of the pages that show it; ``story`` is not said then."""
    turn: Literal[0, 90, 180, 270] = 0
    """Degrees its words are turned clockwise within it, as on a panel that hangs head over foot."""
    fit: Literal["none", "line", "size", "height"] = "none"
    """Kept to: ``line`` the largest size at which no line of its text breaks, ``size`` the largest at which all of it
    has room, ``height`` a frame as high as its text."""
    fit_sizes: tuple[TypeSize, TypeSize] = (4.0, 400.0)
    """The least and the greatest size of the text's first character, in points."""
    along: Literal["", "above", "middle", "below"] = ""
    """Its first line runs along the frame's outline: with its baseline on that, with the middle of its small letters,
    or under it."""
    along_from: Part = 0.0
    """How far along, in parts of the whole way; a ring's begins at its foot."""
    kind: Literal["text"] = "text"


@dataclass(slots=True, frozen=True)
class Code:
    """A frame that shows a code for machines, with its quiet zone within the frame. The frame's fill is its ground."""

    form: CodeForm = "qr"
    text: CodeText = ""
    level: Literal["L", "M", "Q", "H"] = "M"
    """How much of a QR code may be lost: about 7, 15, 25 or 30 % (ISO/IEC 18004)."""
    ink: Fill = Fill(PLAIN_SWATCH)
    addon: Digits = ""
    """Two or five figures in separate bars beside an article number: an issue, or a price (ISO/IEC 15420)."""
    words: bool = False
    """Bars have what they say under them, for people to read."""
    above: Name = ""
    """What stands over such bars, as the book number or a price."""
    dots: Dots = 0
    """Dots to the inch of the press, which modules are whole numbers of; 0 for modules as large as the frame lets them
    be."""
    kind: Literal["code"] = "code"

    @property
    def symbology(self) -> Symbology:
        return SYMBOLOGIES[self.form]


@dataclass(slots=True, frozen=True)
class Group:
    """Objects that are selected, moved and blended with what is below them as one, the lowest first."""

    objects: Annotated[tuple[Object, ...], Many(MOST_FRAMES)] = ()
    opacity: Opacity = 1.0
    blend: Blend = "normal"
    clip: Outline | None = None
    """Only what is within it is visible; its position is that of the group's object."""
    rotation: Turn = 0.0
    """Degrees clockwise that a group without a clip was rotated as a whole; one with a clip is rotated as its place
    is."""
    kind: Literal["group"] = "group"

    @property
    def plain(self) -> bool:
        """Return whether its objects look as they would without it."""
        return self.opacity == 1.0 and self.blend == "normal" and self.clip is None


@dataclass(slots=True, frozen=True)
class Object:
    """An object of a page, or of a side of a master page.

    ``place`` is ``None`` for a main text frame that fills its page's margins, and for groups without a clip. ``origin``
    names the master object that this one, on a page, overrides.
    """

    id: Id
    name: Name = ""
    place: Pose | None = None
    content: Annotated[Text | Picture | Code | Group, Discriminator("kind")] | None = None
    outline: Outline | None = None
    make: FrameSpec = NOTHING_SAID
    """What it says itself of how it is made; ``style`` gives what is left open."""
    style: Key | None = None
    layer: Key = MAIN_LAYER
    """Ignored for members of a group: the layer of the group counts."""
    hide_on: Annotated[tuple[Literal["opening", "blank", "front"], ...], Many(3)] = ()
    """On masters only: not shown on pages a chapter opens on, on pages the text leaves blank, or on those before the
    first heading (half-title, title, imprint)."""
    origin: Id | None = None
    alt: Note = ""
    """What it is read out as."""
    prints: bool = True
    locked: bool = False
    """Whether it can be selected, but not moved or changed by hand."""
    bindings: Annotated[tuple[FieldBinding, ...], Many(MOST_BINDINGS)] = ()
    """What records set on it when the job is merged, each property once."""
    repeat: Repeat | None = None
    """How it is repeated for all records, where each page of a merge has several."""

    @property
    def rect(self) -> Rect | None:
        return self.place.rect if self.place else None

    @property
    def rotation(self) -> float:
        return self.place.rotation if self.place else 0.0

    @property
    def text(self) -> Text | None:
        return self.content if isinstance(self.content, Text) else None

    @property
    def picture(self) -> Picture | None:
        return self.content if isinstance(self.content, Picture) else None

    @property
    def code(self) -> Code | None:
        return self.content if isinstance(self.content, Code) else None

    @property
    def group(self) -> Group | None:
        return self.content if isinstance(self.content, Group) else None

    @property
    def story(self) -> str | None:
        """The text it shows, where that is said."""
        return self.content.story if isinstance(self.content, Text) else None

    @property
    def main(self) -> bool:
        """Whether it shows the main story."""
        return isinstance(self.content, Text) and self.content.main

    @property
    def turn(self) -> int:
        """Degrees its words are turned within it."""
        return self.content.turn if isinstance(self.content, Text) else 0

    def at(self, rect: Rect) -> Object:
        """The same in another box."""
        return replace(self, place=replace(self.place, rect=rect) if self.place else Pose(rect))

    def with_spec(self, **values: Any) -> Object:
        """The same, made otherwise: values of ``FrameSpec``."""
        return replace(self, make=replace(self.make, **values))

    def showing(self, **values: Any) -> Object:
        """The same with another story, or with other values of ``Text``."""
        return replace(self, content=replace(self.text or Text(), **values))

    def holding(self, objects: tuple[Object, ...]) -> Object:
        """The same group with other objects."""
        return replace(self, content=replace(self.group or Group(), objects=objects))


def frames_in(objects: tuple[Object, ...]) -> tuple[Object, ...]:
    """Return the objects of the holder, the lowest first: the objects that are no groups, and those within groups."""
    if not any(isinstance(one.content, Group) for one in objects):
        return objects
    return tuple(one for one in all_in(objects) if not isinstance(one.content, Group))


def all_in(objects: Iterable[Object]) -> Iterator[Object]:
    """Every object, groups before what they hold."""
    for one in objects:
        yield one
        if isinstance(one.content, Group):
            yield from all_in(one.content.objects)


def find_object(objects: Iterable[Object], key: str) -> Object | None:
    """The object of this id, however deep it stands."""
    return next((one for one in all_in(objects) if one.id == key), None)


def exchanged(objects: Iterable[Object], new: Mapping[str, tuple[Object, ...]]) -> tuple[Object, ...]:
    """The objects with some, by their ids, replaced. A group that is left with nothing goes."""
    objects_: list[Object] = []
    for one in objects:
        if one.id in new:
            objects_ += new[one.id]
        elif one.group is not None:
            inner = exchanged(one.group.objects, new)
            if inner == one.group.objects:
                objects_.append(one)
            elif inner:
                objects_.append(one.holding(inner))
        else:
            objects_.append(one)
    return tuple(objects_)


def bounds_of(objects: tuple[Object, ...]) -> Rect | None:
    """The upright box round the objects, rotation included; None where none of them has a position."""
    corners = [
        (one.place.map or Affine()).apply(x, y)
        for one in _visible(objects)
        if one.place
        for x in (one.place.rect.x, one.place.rect.right)
        for y in (one.place.rect.y, one.place.rect.foot)
    ]
    if not corners:
        return None
    xs, ys = [x for x, _ in corners], [y for _, y in corners]
    return Rect(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))


def pose_of(one: Object) -> Pose | None:
    """Return where an object is, a group by the smallest box round it that is rotated as the group is; None where
    nothing in it has a place."""
    group = one.group
    if group is None or group.clip is not None:
        return one.place
    if not group.rotation:
        box = bounds_of(group.objects)
        return Pose(box) if box is not None else None
    upright = turned_about(Rect(0.0, 0.0, 0.0, 0.0), -group.rotation)
    box = bounds_of(tuple(mapped(inner, upright) for inner in group.objects))
    if box is None:
        return None
    back = turned_about(Rect(0.0, 0.0, 0.0, 0.0), group.rotation)
    x, y = back.apply(box.x + box.width / 2, box.y + box.height / 2)
    return Pose(Rect(x - box.width / 2, y - box.height / 2, box.width, box.height), group.rotation)


def _visible(objects: Iterable[Object]) -> Iterator[Object]:
    """Return what the box around some objects is measured from: of a group that is cut off what cuts it off, else what
    it holds."""
    for one in objects:
        if one.group is not None and one.group.clip is None:
            yield from _visible(one.group.objects)
        else:
            yield one


def mapped(one: Object, map_: Affine) -> Object:
    """An object, with all it holds, where an affine map puts it. Its type and its lines keep their sizes."""
    place = one.place
    if place is not None:
        one = replace(one, place=Pose.of(place.rect, place.map.then(map_) if place.map else map_))
    if one.group is not None:
        own = turned_about(Rect(0.0, 0.0, 0.0, 0.0), one.group.rotation).then(map_)
        rotation = Pose.of(Rect(0.0, 0.0, 1.0, 1.0), own).rotation if one.group.clip is None else 0.0
        inside = tuple(mapped(inner, map_) for inner in one.group.objects)
        return replace(one, content=replace(one.group, objects=inside, rotation=rotation))
    return one


def each_frame(objects: Iterable[Object], change: Callable[[Object], Object]) -> tuple[Object, ...]:
    """The objects with ``change`` applied to each that is no group."""
    return tuple(
        one.holding(each_frame(one.group.objects, change)) if one.group is not None else change(one) for one in objects
    )
