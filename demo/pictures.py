"""Pictures of the demo, drawn by code: nothing is photographed."""

from __future__ import annotations

import hashlib
import io
from math import sin

import numpy
from PIL import Image, ImageDraw, ImageFilter

from lexigon.core.job.model import PictureFile
from lexigon.core.picture.files import facts_of

SKY = ((24, 44, 66), (110, 120, 140), (236, 186, 140), (250, 222, 170))
"""From the zenith down to the horizon at dusk."""


def dusk(width: int = 1860, height: int = 560) -> bytes:
    """The flats at dusk: a banded sky, a low sun, wet mud, and a flock going over. A PNG."""
    horizon = int(height * 0.66)
    rows = numpy.linspace(0, 1, horizon)
    stops = numpy.linspace(0, 1, len(SKY))
    sky = numpy.stack([numpy.interp(rows, stops, [colour[channel] for colour in SKY]) for channel in range(3)], axis=1)
    mud = sky[::-1][: height - horizon] * 0.62 + numpy.array([18.0, 24.0, 30.0])
    picture = Image.fromarray(numpy.repeat(numpy.vstack([sky, mud])[:, None, :], width, axis=1).round().astype("uint8"))
    pen = ImageDraw.Draw(picture)
    pen.ellipse((width * 0.62, horizon - 120, width * 0.62 + 150, horizon + 30), fill=(255, 214, 150))
    pen.rectangle((0, horizon, width, horizon + 34), fill=(58, 66, 72))
    picture = picture.filter(ImageFilter.GaussianBlur(1.2))
    pen = ImageDraw.Draw(picture)
    for n in range(46):  # creeks
        y = horizon + 40 + n * n * 0.17
        x = width * (0.5 + 0.45 * sin(n * 2.3))
        pen.line((x - 30 - n * 5, y, x + 40 + n * 6, y + 2), fill=(200, 176, 150), width=1 + n // 16)
    for n in range(38):  # waders, as two strokes each
        x, y = width * 0.12 + n * 30 + 18 * sin(n * 1.7), height * 0.36 + 60 * sin(n * 0.41) + 22 * sin(n * 2.9)
        span = 9 + 4 * sin(n * 0.9)
        pen.line((x - span, y - span * 0.5, x, y, x + span, y - span * 0.6), fill=(26, 34, 44), width=3, joint="curve")
    target = io.BytesIO()
    picture.save(target, "PNG", dpi=(300, 300))
    return target.getvalue()


def file_of(data: bytes, name: str, alt: str) -> PictureFile:
    """A picture of a job, by its file's content."""
    facts, key = facts_of(data), hashlib.sha256(data).hexdigest()
    return PictureFile(f"i{key[:10]}", name, key, facts.width, facts.height, facts.ppi, facts.space, facts.alpha, alt)
