"""Intents about pictures: add to the job, place in frames, crop, replace, remove."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.consistency import check_rect
from lexigon.core.document.cropping import freed, scale_of
from lexigon.core.document.limits import MOST_FRAMES, Gamma, Key, Many, Name, Note, Part, Sharpness, Signed, Within
from lexigon.core.document.model import (
    AS_IT_IS,
    Adjustment,
    CutOut,
    Fill,
    FrameSpec,
    Job,
    Object,
    Picture,
    PictureFile,
    Pose,
    exchanged,
    find_object,
    frames_in,
)
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put
from lexigon.core.editing.holders import Holder, everywhere, holder
from lexigon.core.editing.intents.objects.frames import check_free, check_place, new_layer, own_frame
from lexigon.core.geometry import Rect

Scale = Annotated[float, Within(0.001, 1000, "The scale of a picture is 0.1 to 100,000 %.")]


def uses(job: Job, picture: str) -> list[tuple[str, Object]]:
    """The frames that show a picture, each with what edits call its holder."""
    return [
        (key, frame)
        for key, objects in everywhere(job)
        for frame in frames_in(objects)
        if frame.picture and frame.picture.picture == picture
    ]


def add_picture(job: Job, file: PictureFile | None, picture: str) -> tuple[PictureFile, list[Primitive]]:
    """The picture to place, and the edit that adds it where it is new."""
    if file is not None and file.id == picture and picture not in job.pictures:
        return file, [put("pictures", file)]
    present = job.pictures.get(picture)
    if present is None:
        raise EditError("That picture is no longer in the job.")
    return present, []


@dataclass(slots=True, frozen=True)
class AddPicture:
    """Bring a picture into the job, without placing it."""

    picture: PictureFile
    do: Literal["add-picture"] = "add-picture"
    label = "Import picture"

    def expand(self, job: Job) -> list[Primitive]:
        return [put("pictures", self.picture)]


@dataclass(slots=True, frozen=True)
class PlacePicture:
    """A new frame with a picture in it; ``file`` brings the picture in with it."""

    page: str
    rect: Rect
    picture: Key
    file: PictureFile | None = None
    layer: str | None = None
    do: Literal["place-picture"] = "place-picture"
    label = "Place picture"

    def expand(self, job: Job) -> list[Primitive]:
        file, edits = add_picture(job, self.file, self.picture)
        place = holder(job, self.page)
        frame = Object(
            story_text.new_id("f"),
            file.name or "Picture",
            Pose(check_place(self.rect)),
            framed_anew(file),
            layer=new_layer(job, self.layer),
            make=FrameSpec(),
            alt=file.alt,
        )
        return [*edits, *place.with_new(frame)]


def framed_anew(file: PictureFile) -> Picture:
    """A picture that fills its frame, with its subject in view."""
    return Picture(file.id, focus=file.focus or (0.5, 0.5))


def _empty(job: Job, frame: Object) -> bool:
    """Return whether a frame holds nothing that a picture would put out: it is a shape, or its text is empty."""
    if frame.text is None:
        return True
    story = job.stories.get(frame.story or "")
    return (
        not frame.main
        and story is not None
        and story.frames == [frame.id]
        and not any(p.text for p in story.paragraphs)
    )


def with_picture(place: Holder, key: str) -> tuple[Object, Picture, tuple[Object, ...], list[Primitive]]:
    """Return the frame as ``own_frame`` does, if it shows a picture and may be changed, with its crop. Raises
    EditError."""
    frame, objects, edits = own_frame(place, key)
    check_free(place.job, objects, frame.id)
    if frame.picture is None:
        raise EditError("This frame shows no picture.")
    return frame, frame.picture, objects, edits


@dataclass(slots=True, frozen=True)
class ShowPicture:
    """A picture in a frame that is there: one that shows another keeps its framing. Without a picture it is left
    empty."""

    page: str
    frame: str
    picture: Key | None
    file: PictureFile | None = None
    do: Literal["show-picture"] = "show-picture"

    @property
    def label(self) -> str:
        return "Place picture" if self.picture else "Remove picture"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame, objects, edits = own_frame(place, self.frame)
        check_free(job, objects, frame.id)
        if self.picture is None:
            if frame.picture is None:
                raise EditError("This frame shows no picture.")
            new = replace(frame, content=None)
        else:
            if frame.group is not None or not _empty(job, frame):
                raise EditError(
                    "This frame has other content. A picture can go into an empty frame, a shape or a picture frame."
                )
            file, more = add_picture(job, self.file, self.picture)
            edits = [*edits, *more]
            framing = replace(frame.picture, picture=file.id) if frame.picture else framed_anew(file)
            new = replace(frame, content=framing, alt=frame.alt or file.alt)
            if frame.story:
                edits.append(PutEntry("stories", frame.story, None))
        return [*edits, *place.with_objects(exchanged(objects, {frame.id: (new,)}))]


@dataclass(slots=True, frozen=True)
class FramePicture:
    """Crop a picture in its frame. ``scale`` and ``box`` set the crop freely: in fractions of its natural size about
    the centre of the visible part, or as a box from the frame's corner. Omitted values stay."""

    page: str
    frame: str
    fit: Literal["fill", "fit", "free"] | None = None
    focus: tuple[Part, Part] | None = None
    scale: tuple[Scale, Scale] | None = None
    box: Rect | None = None
    rotation: float | None = None
    mirrored: bool | None = None
    do: Literal["frame-picture"] = "frame-picture"
    label = "Adjust crop"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame, picture, objects, edits = with_picture(place, self.frame)
        new = replace(frame, content=self._framed(picture, job.pictures[picture.picture], place, frame))
        return [*edits, *place.with_objects(exchanged(objects, {frame.id: (new,)}))]

    def _framed(self, framing: Picture, file: PictureFile, place: Holder, frame: Object) -> Picture:
        rect = place.rect(frame)
        if self.rotation is not None:
            framing = replace(framing, rotation=self.rotation % 360)
        if self.mirrored is not None:
            framing = replace(framing, mirrored=self.mirrored)
        if self.focus is not None:
            framing = replace(framing, focus=self.focus)
        if self.fit == "free":
            framing = freed(framing, file, rect)
        elif self.fit is not None:
            framing = replace(framing, fit=self.fit, box=None)
        if self.scale is not None:
            framing = freed(framing, file, rect)
            own = framing.box
            assert own is not None
            now = scale_of(framing, file, rect)
            width, height = own.width * self.scale[0] / now[0], own.height * self.scale[1] / now[1]
            middle = own.x + own.width / 2, own.y + own.height / 2
            framing = replace(framing, box=Rect(middle[0] - width / 2, middle[1] - height / 2, width, height))
        if self.box is not None:
            check_rect(self.box.x, self.box.y, self.box.width, self.box.height, 0.01)
            framing = replace(freed(framing, file, rect), box=self.box)
        return framing


@dataclass(slots=True, frozen=True)
class AdjustPictures:
    """Adjust pictures in frames: values of ``Adjustment``; those not given stay. Frames of the
    list that show no picture are left alone."""

    page: str
    frames: Annotated[tuple[str, ...], Many(MOST_FRAMES, 1)]
    black: Part | None = None
    white: Part | None = None
    gamma: Gamma | None = None
    brightness: Signed | None = None
    contrast: Signed | None = None
    saturation: Signed | None = None
    inverted: bool | None = None
    inks: Literal["all", "grey", "one", "two"] | None = None
    ink: Fill | None = None
    second: Fill | None = None
    sharpen: Sharpness | None = None
    cut: CutOut | None = None
    whole: bool = False
    """Nothing is cut out any more."""
    plain: bool = False
    """As the file has it, before what else is said."""
    do: Literal["adjust-pictures"] = "adjust-pictures"
    label = "Adjust picture"

    def expand(self, job: Job) -> list[Primitive]:
        changes = {
            name: value
            for name in (field.name for field in fields(Adjustment))
            if (value := getattr(self, name)) is not None
        }
        if self.whole:
            changes["cut"] = None
        for name in ("ink", "second"):
            if name in changes and changes[name].swatch not in job.swatches:
                raise EditError("That swatch is no longer in the job.")
        place = holder(job, self.page)
        first, objects, edits = own_frame(place, self.frames[0])
        new: dict[str, tuple[Object, ...]] = {}
        for key in (first.id, *self.frames[1:]):
            frame = find_object(objects, key)
            if frame is None:
                raise EditError("That frame is no longer on the page.")
            check_free(job, objects, frame.id)
            if frame.picture is not None:
                adjust = replace(AS_IT_IS if self.plain else frame.picture.adjust, **changes)
                if adjust.inks == "two" and adjust.second == adjust.ink and self.inks and self.second is None:
                    adjust = replace(adjust, second=_coloured(job) or adjust.second)
                if adjust.white <= adjust.black:
                    raise EditError(
                        "The white point must be lighter than the black point. Raise the white point or lower the black"
                        " point."
                    )
                new[frame.id] = (replace(frame, content=replace(frame.picture, adjust=adjust)),)
        if not new:
            raise EditError("None of these frames shows a picture.")
        return [*edits, *place.with_objects(exchanged(objects, new))]


def _coloured(job: Job) -> Fill | None:
    """The first of the job's swatches that is more than black: to begin with as the second ink, where both would be the
    same."""
    for swatch in job.swatches.values():
        if swatch.space in ("spot", "rgb", "lab") or (swatch.space == "cmyk" and any(swatch.values[:3])):
            return Fill(swatch.id)
    return None


@dataclass(slots=True, frozen=True)
class ChangePicture:
    """Change name, description, credit or focus of a picture; or with ``file`` another file for it, everywhere it is
    used."""

    picture: Key
    name: Name | None = None
    alt: Note | None = None
    credit: Note | None = None
    focus: tuple[Part, Part] | None = None
    file: PictureFile | None = None
    do: Literal["change-picture"] = "change-picture"

    @property
    def label(self) -> str:
        return "Replace picture" if self.file else "Rename picture"

    def expand(self, job: Job) -> list[Primitive]:
        former, _ = add_picture(job, None, self.picture)
        new = former
        if self.file:
            new = replace(
                self.file, id=former.id, alt=self.file.alt or former.alt, credit=self.file.credit or former.credit
            )
        changes = {
            name: value for name in ("name", "alt", "credit", "focus") if (value := getattr(self, name)) is not None
        }
        new = replace(new, **changes)
        return [put("pictures", new)] if new != former else []


@dataclass(slots=True, frozen=True)
class RemovePictures:
    """Remove pictures from the job that no frame shows."""

    pictures: Annotated[tuple[Key, ...], Many(1000, 1)]
    do: Literal["remove-pictures"] = "remove-pictures"
    label = "Remove pictures"

    def expand(self, job: Job) -> list[Primitive]:
        for key in self.pictures:
            former, _ = add_picture(job, None, key)
            if used := len(uses(job, key)):
                raise EditError(
                    f"“{former.name}” is shown in {used} frame{'s' if used > 1 else ''}. Remove it there first."
                )
        return [PutEntry("pictures", key, None) for key in dict.fromkeys(self.pictures)]
