"""Drawings from elsewhere in the job's inks."""

from __future__ import annotations

from dataclasses import replace
from math import sqrt
from pathlib import Path

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.palette import Palette
from lexigon.core.document.cropping import map_of
from lexigon.core.document.model import (
    PLAIN_SWATCH,
    Fill,
    FrameSpec,
    Gradient,
    Job,
    Object,
    PictureFile,
    Stop,
    Stroke,
    Swatch,
    frames_in,
)
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.holders import Holder, holder
from lexigon.core.editing.intents.colour.swatches import mixed_name
from lexigon.core.editing.intents.objects.drawings import MOST_SHAPES, AddDrawing, DrawnShape
from lexigon.core.editing.intents.objects.tracing import TracePicture
from lexigon.core.errors import LexigonError
from lexigon.core.geometry import Affine
from lexigon.core.numerals import integer
from lexigon.core.paint.looks import look_of
from lexigon.core.paint.svgwords import outlined
from lexigon.core.path.steps import bounds, data_of, mapped_steps
from lexigon.core.picture.pdfshapes import read_page
from lexigon.core.picture.svgfile import Blend, Drawing, Inks, Light, Shape, read_svg
from lexigon.core.picture.tracing import Detail, Tracing, traced

NEAR = 0.015
"""Parts of an ink by which two mixtures may differ and are one swatch."""


def drawing_from(
    live: OpenJob, svg: str, page: str, at: tuple[float, float] | None, layer: str | None
) -> tuple[AddDrawing, str]:
    """Return what puts an SVG on a page, and what of it is left out, in words."""
    drawing = read_svg(svg, outlined)
    if len(drawing.shapes) > MOST_SHAPES:
        raise LexigonError(f"This drawing has more than {integer(MOST_SHAPES)} shapes. Place it as a picture.")
    left = f"Not imported: {', '.join(drawing.left_out)}." if drawing.left_out else ""
    return _in_inks(live.job, drawing, page, at, layer), left


def tracing_of(live: OpenJob, page: str, key: str, colours: int, detail: Detail) -> Tracing:
    """The shapes that the picture of an object is traced to. Raises LexigonError."""
    _, frame, file, path = _picture_of(live, page, key)
    assert frame.picture is not None
    return traced(path, colours, detail, look_of(frame.picture.adjust, Palette(live.job.swatches), file.page))


def opened_of(live: OpenJob, page: str, key: str, keep: bool) -> tuple[TracePicture, str]:
    """Return what puts the shapes that a drawn picture is made of in its place, and what of it is left out, in words.
    Raises LexigonError."""
    place, frame, file, path = _picture_of(live, page, key)
    if not file.vector:
        raise LexigonError("This picture consists of pixels. Trace it to convert it to shapes.")
    drawing, (width, height) = read_page(path, file.page)
    map_ = map_of(frame.picture, file, place.rect(frame))  # type: ignore[arg-type]
    larger = sqrt(abs(map_.a * map_.d - map_.b * map_.c) / (width * height))
    to_parts = Affine(1 / width, 0.0, 0.0, 1 / height)
    shapes = tuple(
        replace(
            one,
            steps=mapped_steps(one.steps, to_parts),
            weight=one.weight * larger,
            dash=tuple(part * larger for part in one.dash),
        )
        for one in drawing.shapes
    )
    inks = _Inks(live.job)
    intent = TracePicture(page, key, _shapes(Drawing(shapes, ()), inks, 6), tuple(inks.new), keep, opened=True)
    return intent, f"Not imported: {', '.join(drawing.left_out)}." if drawing.left_out else ""


def _picture_of(live: OpenJob, page: str, key: str) -> tuple[Holder, Object, PictureFile, Path]:
    """Return the holder of an object, the object, its picture, and the path of its file. Raises LexigonError."""
    place = holder(live.job, page)
    frame = next((one for one in (*place.frames, *frames_in(tuple(place.inherited_objects()))) if one.id == key), None)
    if frame is None or frame.picture is None:
        raise LexigonError("That picture is no longer in the job.")
    file = live.job.pictures[frame.picture.picture]
    path = live.files.path_of(file.file)
    if path is None:
        raise LexigonError("The file of this picture is missing.")
    return place, frame, file, path


def traced_in_inks(live: OpenJob, intent: Tracing, page: str, key: str, keep: bool) -> TracePicture:
    """Return what puts them there, in the job's inks."""
    inks = _Inks(live.job)
    return TracePicture(page, key, _shapes(intent.drawing, inks, 6), tuple(inks.new), keep)


def _in_inks(job: Job, drawing: Drawing, page: str, at: tuple[float, float] | None, layer: str | None) -> AddDrawing:
    inks = _Inks(job)
    return AddDrawing(page, _shapes(drawing, inks, 3), tuple(inks.new), at, layer)


def _shapes(drawing: Drawing, inks: _Inks, digits: int) -> tuple[DrawnShape, ...]:
    shapes = []
    for shape in drawing.shapes:
        fill = inks.blend(shape.fill) if isinstance(shape.fill, Blend) else inks.of(shape.fill) if shape.fill else ""
        line = (
            Stroke(shape.weight, inks.of(shape.stroke), 1.0, shape.dash, cap=shape.cap, join=shape.join)
            if shape.stroke
            else None
        )
        make = FrameSpec(
            fill=Fill(fill) if fill else None,
            way=_way(shape),
            stroke=line,
            opacity=shape.opacity if shape.opacity < 1 else None,
        )
        shapes.append(DrawnShape(data_of(shape.steps, digits), make, shape.even_odd, shape.name))
    return tuple(shapes)


def _way(shape: Shape) -> tuple[float, ...] | None:
    """Return where a gradient goes that fills a shape, in parts of the shape's box."""
    box = bounds(shape.steps)
    if shape.way is None or not isinstance(shape.fill, Blend) or box is None or min(box.width, box.height) < 0.01:
        return None
    direction = tuple(
        round(part, 5) for x, y in shape.way for part in ((x - box.x) / box.width, (y - box.y) / box.height)
    )
    return direction if all(abs(part) <= 10 for part in direction) and direction[:2] != direction[2:] else None


class _Inks:
    """The job's swatches, and those that are new, by their inks."""

    def __init__(self, job: Job) -> None:
        self.known = [one for one in job.swatches.values() if one.space == "cmyk" and not one.spot]
        self.names = {one.name.casefold() for one in job.swatches.values()}
        self.new: list[Swatch] = []
        self._found: dict[Light | Inks | Blend, str] = {}

    def of(self, light: Light | Inks) -> str:
        """The swatch of inks, or of a screen colour: black is black ink alone, the others go through the press
        profile."""
        if light not in self._found:
            if len(light) == 4:
                self._found[light] = (
                    PLAIN_SWATCH if light == (0.0, 0.0, 0.0, 1.0) else self._swatch(tuple(round(v, 4) for v in light))
                )
            elif max(light) < 0.02:
                self._found[light] = PLAIN_SWATCH
            else:
                values = (0.0,) * 4 if min(light) > 0.99 else tuple(round(v, 2) for v in Colour("rgb", light).cmyk)
                self._found[light] = self._swatch(values)
        return self._found[light]

    def _swatch(self, values: tuple[float, ...]) -> str:
        for one in self.known:
            if all(abs(a - b) <= NEAR for a, b in zip(one.values, values, strict=True)):
                return one.id
        swatch = Swatch(new_id("w"), self._name(mixed_name("cmyk", values)), "cmyk", values)
        self.known.append(swatch)
        self.new.append(swatch)
        return swatch.id

    def blend(self, blend: Blend) -> str:
        if blend not in self._found:
            stops = tuple(Stop(at, self.of(light)) for at, light in sorted(blend.stops))
            swatch = Swatch(
                new_id("w"), self._name("Gradient"), "gradient", gradient=Gradient(stops, blend.kind, blend.angle)
            )
            self.new.append(swatch)
            self._found[blend] = swatch.id
        return self._found[blend]

    def _name(self, base_name: str) -> str:
        name, number = base_name, 2
        while name.casefold() in self.names:
            name, number = f"{base_name} ({number})", number + 1
        self.names.add(name.casefold())
        return name
