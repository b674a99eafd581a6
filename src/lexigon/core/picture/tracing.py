"""A picture traced to outlines: an area of one colour becomes a shape, the larger ones below. Tracing is vtracer's."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal

import numpy as np
from PIL import Image

from lexigon.core.geometry import Affine
from lexigon.core.path.steps import mapped_steps
from lexigon.core.picture.conversion import screen_pixels
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.looks import PLAIN, Look
from lexigon.core.picture.svgfile import PIXEL, Blend, Drawing, Inks, Light, SvgError, read_svg

Detail = Literal["coarse", "medium", "fine"]
SIZES: dict[Detail, tuple[int, int]] = {"coarse": (500, 12), "medium": (900, 6), "fine": (1600, 3)}
"""Pixels on the longer side that are traced, and the side of what is too small to become a shape."""
FEWEST, MOST = 2, 24
MOST_BORDERS = 400_000
"""Of pixels of unlike colours beside each other: noise has millions, a photograph in some colours a hundred
thousand."""
MOST_SHAPES = 1500
"""More are better placed as a picture."""


class TracingError(PictureError):
    """The picture has too much in it to become shapes."""


@dataclass(slots=True, frozen=True)
class Tracing:
    """Shapes in parts of the picture's width and height, and how many nodes they have."""

    drawing: Drawing
    nodes: int


def traced(path: Path, colours: int = 6, detail: Detail = "medium", look: Look = PLAIN) -> Tracing:
    """A picture as it is shown, in at most so many colours. What is see-through stays out. Raises PictureError."""
    import vtracer

    size, speck = SIZES[detail]
    picture = screen_pixels(path, size, look)
    flat = _flattened(picture, min(max(colours, FEWEST), MOST))
    if _borders(flat) > MOST_BORDERS:
        raise TracingError(TOO_MUCH)
    if flat.getchannel("A").getextrema()[1] == 0:
        raise TracingError("There is nothing in this picture to trace.")
    png = io.BytesIO()
    flat.save(png, "PNG")
    svg = vtracer.convert_raw_image_to_svg(
        png.getvalue(),
        img_format="png",
        colormode="color",
        hierarchical="stacked",
        mode="spline",
        filter_speckle=speck,
        color_precision=8,
        layer_difference=0,
        corner_threshold=60,
        length_threshold=4.0,
        max_iterations=10,
        splice_threshold=45,
        path_precision=2,
    )
    try:
        drawing = read_svg(svg)
    except SvgError as error:
        raise TracingError(TOO_MUCH) from error
    if len(drawing.shapes) > MOST_SHAPES:
        raise TracingError(TOO_MUCH)
    to_parts = Affine(1 / (flat.width * PIXEL), 0.0, 0.0, 1 / (flat.height * PIXEL), 0.0, 0.0)
    lights = _lights(flat)
    shapes = tuple(
        replace(shape, steps=mapped_steps(shape.steps, to_parts), fill=_nearest(shape.fill, lights))
        for shape in drawing.shapes
    )
    return Tracing(Drawing(shapes, drawing.left_out), sum(len(shape.steps) for shape in shapes))


TOO_MUCH = "This picture is too complex to be traced. Use fewer colours or less detail, or leave it as a picture."


def _borders(flat: Image.Image) -> int:
    """Return how many pixels differ from the one before them, or the one above: what takes time to trace."""
    pixels = np.asarray(flat.convert("RGBA")).view(np.uint32)[..., 0]
    return int((pixels[:, 1:] != pixels[:, :-1]).sum() + (pixels[1:] != pixels[:-1]).sum())


def _lights(flat: Image.Image) -> list[Light]:
    """The colours that a picture in few of them has."""
    colours = flat.getcolors(MOST * 4) or []
    return sorted({(r / 255, g / 255, b / 255) for _, (r, g, b, a) in colours if a})  # type: ignore[misc]


def _nearest(fill: Light | Inks | Blend | None, lights: list[Light]) -> Light | Inks | Blend | None:
    """The tracer returns areas in the mean colour of what they cover: each gets its own colour back."""
    if not isinstance(fill, tuple) or not lights:
        return fill
    return min(lights, key=lambda light: sum((a - b) ** 2 for a, b in zip(light, fill, strict=False)))


def _flattened(picture: Image.Image, colours: int) -> Image.Image:
    """Return the picture in a few plain colours; pixels that are half opaque or more are opaque."""
    even = (
        picture.convert("RGB")
        .quantize(colours, method=Image.Quantize.MAXCOVERAGE, kmeans=2, dither=Image.Dither.NONE)
        .convert("RGBA")
    )
    if picture.mode == "RGBA":
        opaque = np.asarray(picture.getchannel("A")) > 127
        even.putalpha(Image.fromarray((opaque * 255).astype(np.uint8)))
    return even
