"""Pictures of the demo, drawn by code: nothing is photographed."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Callable
from dataclasses import replace
from functools import cache, partial
from math import sin

import numpy
from PIL import Image, ImageDraw, ImageFilter

from lexigon.core.document.model import PictureFile
from lexigon.core.picture.bringing import described
from lexigon.core.picture.files import facts_of

SKY = ((24, 44, 66), (110, 120, 140), (236, 186, 140), (250, 222, 170))
"""From the zenith down to the horizon at dusk."""


@cache
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


def _png(picture: Image.Image) -> bytes:
    target = io.BytesIO()
    picture.save(target, "PNG", dpi=(300, 300))
    return target.getvalue()


def _jpeg(picture: Image.Image) -> bytes:
    target = io.BytesIO()
    picture.save(target, "JPEG", dpi=(300, 300), quality=92, subsampling=0)
    return target.getvalue()


def _banded(
    width: int, height: int, stops: tuple[tuple[float, tuple[int, int, int]], ...], seed: int, grain: float = 3.0
) -> Image.Image:
    """Colours that pass into each other from head to foot, with a little grain."""
    rows = numpy.linspace(0, 1, height)
    bands = numpy.stack(
        [numpy.interp(rows, [at for at, _ in stops], [c[i] for _, c in stops]) for i in range(3)], axis=1
    )
    noise = numpy.random.default_rng(seed).normal(0, grain, (height, width, 1))
    return Image.fromarray(numpy.clip(bands[:, None, :] + noise, 0, 255).astype("uint8"))


def _wader(
    pen: ImageDraw.ImageDraw, x: float, y: float, size: float, body: str, belly: str, legs: str, bill: float = 1.0
) -> None:
    """A wader that stands and looks to the left: its body about ``size`` wide, its feet at ``y``."""
    high = y - size * 0.95
    for dx in (-0.06, 0.1):
        pen.line(
            (x + dx * size, high + size * 0.2, x + (dx + 0.02) * size, y), fill=legs, width=max(round(size * 0.035), 2)
        )
        pen.line((x + (dx - 0.06) * size, y, x + (dx + 0.1) * size, y), fill=legs, width=max(round(size * 0.025), 2))
    pen.polygon(
        [(x + size * a, high + size * b) for a, b in ((0.3, -0.08), (0.68, 0.1), (0.5, 0.22), (0.2, 0.24))], fill=body
    )
    pen.ellipse((x - size * 0.42, high - size * 0.24, x + size * 0.44, high + size * 0.28), fill=body)
    pen.chord((x - size * 0.4, high - size * 0.2, x + size * 0.36, high + size * 0.27), 5, 178, fill=belly)
    pen.polygon(
        [(x - size * a, high - size * b) for a, b in ((0.4, -0.02), (0.5, 0.3), (0.3, 0.34), (0.12, 0.16))], fill=body
    )
    pen.ellipse((x - size * 0.58, high - size * 0.5, x - size * 0.28, high - size * 0.22), fill=body)
    pen.polygon(
        [
            (x - size * 0.56, high - size * 0.39),
            (x - size * (0.58 + 0.36 * bill), high - size * 0.3),
            (x - size * 0.56, high - size * 0.33),
        ],
        fill=legs,
    )
    eye = (x - size * 0.47, high - size * 0.41)
    pen.ellipse(
        (eye[0] - size * 0.022, eye[1] - size * 0.022, eye[0] + size * 0.022, eye[1] + size * 0.022), fill="#f4efe0"
    )


@cache
def redshank(width: int = 2100, height: int = 1540) -> bytes:
    """A redshank on wet mud, its reflection under it. A JPEG."""
    picture = _banded(
        width, height, ((0, (196, 205, 200)), (0.55, (222, 214, 194)), (0.56, (150, 146, 128)), (1, (104, 104, 96))), 3
    )
    pen = ImageDraw.Draw(picture)
    for n in range(60):
        y = height * (0.57 + n * n * 0.00012)
        x = width * (0.5 + 0.52 * sin(n * 1.9))
        pen.line((x - 56 - n * 4, y, x + 84 + n * 6, y + 1), fill=(188, 184, 166), width=2 + n // 16)
    foot = height * 0.8
    glass = Image.new("RGBA", picture.size, (0, 0, 0, 0))
    _wader(ImageDraw.Draw(glass), width * 0.36, foot, width * 0.3, "#6b5a48", "#c9bda6", "#c4472c")
    mirrored = glass.transpose(Image.Transpose.FLIP_TOP_BOTTOM).filter(ImageFilter.GaussianBlur(5))
    mirrored = mirrored.transform(mirrored.size, Image.Transform.AFFINE, (1, 0, 0, 0, 1, height - 2 * foot))
    picture.paste(mirrored, (0, 0), mirrored.getchannel("A").point(lambda v: v * 0.35))
    picture.paste(glass, (0, 0), glass)
    return _jpeg(picture)


@cache
def morning(width: int = 1600, height: int = 2400) -> bytes:
    """The flats at first light, for a cover: a pale sky with room for words, a low sun, reeds in front. A JPEG."""
    picture = _banded(
        width,
        height,
        (
            (0, (166, 190, 196)),
            (0.42, (232, 214, 190)),
            (0.6, (240, 190, 140)),
            (0.61, (120, 132, 130)),
            (1, (26, 52, 58)),
        ),
        5,
        2.0,
    )
    pen = ImageDraw.Draw(picture)
    sun = (width * 0.66, height * 0.53)
    pen.ellipse((sun[0] - 130, sun[1] - 130, sun[0] + 130, sun[1] + 130), fill=(250, 226, 176))
    pen.rectangle((0, height * 0.602, width, height * 0.612), fill=(70, 84, 86))
    picture = picture.filter(ImageFilter.GaussianBlur(2))
    pen = ImageDraw.Draw(picture)
    chance = numpy.random.default_rng(7)
    for n in range(130):  # the sun's way over the water, wider towards us
        y = height * (0.618 + 0.38 * (n / 130) ** 1.4)
        x = sun[0] + chance.normal(0, 46 + n * 1.3)
        half = chance.uniform(14, 40 + n * 0.5)
        pen.line((x - half, y, x + half, y), fill=(226, 192, 152), width=2 + n // 30)
    for n in range(24):
        x, y = width * (0.12 + 0.03 * n) + 20 * sin(n * 1.7), height * 0.4 + 70 * sin(n * 0.6) + 24 * sin(n * 2.3)
        span = 16 + 7 * sin(n * 0.9)
        pen.line((x - span, y - span * 0.5, x, y, x + span, y - span * 0.6), fill=(52, 66, 72), width=5, joint="curve")
    _reeds(pen, width, height, 150, height * 0.26, (16, 34, 38))
    return _jpeg(picture)


def _reeds(
    pen: ImageDraw.ImageDraw, width: int, height: int, count: int, tall: float, colour: tuple[int, int, int]
) -> None:
    for n in range(count):
        x = width * n / count + 14 * sin(n * 3.1)
        high = tall * (0.55 + 0.45 * abs(sin(n * 1.37)))
        lean = 46 * sin(n * 0.73)
        pen.line(
            (x, height, x + lean * 0.4, height - high * 0.6, x + lean, height - high),
            fill=colour,
            width=4,
            joint="curve",
        )
        if n % 5 == 0:
            pen.ellipse((x + lean - 9, height - high - 46, x + lean + 9, height - high + 30), fill=colour)


@cache
def heron(width: int = 900, height: int = 1300) -> bytes:
    """A heron on white paper, to be cut out. A PNG."""
    picture = Image.new("RGB", (width, height), "white")
    pen = ImageDraw.Draw(picture)
    at = lambda *points: [(width * x, height * y) for x, y in points]  # noqa: E731
    for x in (0.52, 0.6):
        pen.line(at((x, 0.62), (x - 0.03, 0.8), (x, 0.95)), fill="#8b8a72", width=14, joint="curve")
        pen.line(at((x - 0.07, 0.955), (x + 0.08, 0.955)), fill="#8b8a72", width=10)
    pen.polygon(
        at((0.42, 0.45), (0.5, 0.39), (0.66, 0.45), (0.86, 0.66), (0.7, 0.66), (0.5, 0.64), (0.42, 0.55)),
        fill="#7b8c9a",
    )
    pen.polygon(at((0.55, 0.48), (0.88, 0.7), (0.72, 0.69), (0.52, 0.6)), fill="#4d5c69")
    pen.line(
        at((0.46, 0.5), (0.4, 0.42), (0.44, 0.33), (0.5, 0.26), (0.46, 0.17)), fill="#a9b4bb", width=62, joint="curve"
    )
    pen.ellipse([*at((0.38, 0.115))[0], *at((0.52, 0.185))[0]], fill="#c3cbd0")
    pen.polygon(at((0.41, 0.135), (0.14, 0.18), (0.41, 0.168)), fill="#d9a441")
    pen.polygon(at((0.47, 0.125), (0.68, 0.19), (0.5, 0.15)), fill="#2b3640")
    pen.ellipse([*at((0.425, 0.135))[0], *at((0.447, 0.15))[0]], fill="#20282c")
    for n in range(5):
        pen.line(at((0.43 + 0.012 * n, 0.5), (0.4 + 0.02 * n, 0.62)), fill="#d7dde0", width=8)
    return _png(picture.filter(ImageFilter.GaussianBlur(0.8)))


@cache
def grain(width: int = 1200, height: int = 2300) -> bytes:
    """The grain of a handmade paper, in grey: to be printed in any swatch. A PNG."""
    chance = numpy.random.default_rng(11)
    field = numpy.full((height, width), 238.0)
    for scale, strength in ((3, 5.0), (9, 6.0), (40, 7.0)):
        coarse = chance.normal(0, 1, (height // scale + 2, width // scale + 2))
        rough = Image.fromarray(((coarse * 32) + 128).clip(0, 255).astype("uint8")).resize(
            (width, height), Image.Resampling.BICUBIC
        )
        field += (numpy.asarray(rough, dtype=float) - 128) / 32 * strength
    picture = Image.fromarray(field.clip(0, 255).astype("uint8"))
    pen = ImageDraw.Draw(picture)
    for _ in range(420):
        x, y = chance.uniform(0, width), chance.uniform(0, height)
        turn, long = chance.uniform(0, 6.3), chance.uniform(8, 46)
        pen.line((x, y, x + long * sin(turn), y + long * sin(turn + 1.57)), fill=int(chance.uniform(196, 226)), width=1)
    return _png(picture.filter(ImageFilter.GaussianBlur(0.7)))


WARDENS = (
    ("Merrow Finch", "#c98f66", "#3a2a22", "#1e5b4f", "#d8c9a4"),
    ("Ansa Tolley", "#8a5a3c", "#191919", "#7a3b2e", "#cfd8d6"),
    ("Pim Garrow", "#e2b692", "#b5542b", "#27414f", "#e3d3b0"),
    ("Odile Marsh", "#b77a52", "#5b5b5b", "#5d6a3a", "#d6dfe2"),
    ("Hob Wherry", "#dca887", "#d9d4c7", "#40352f", "#c7d3c2"),
    ("Sanna Quill", "#6f4630", "#2a1a12", "#c28a2e", "#dfe4dc"),
)
"""Six wardens, with the colours of skin, hair, coat and ground."""


@cache
def warden(number: int, width: int = 600, height: int = 760) -> bytes:
    """A warden's portrait, in flat colours; beyond the sixth, in those of several. A PNG."""
    turn = number // len(WARDENS)
    skin, hair, coat, ground = (WARDENS[(number + turn * part) % len(WARDENS)][part] for part in range(1, 5))
    picture = Image.new("RGB", (2 * width, 2 * height), ground)
    pen = ImageDraw.Draw(picture)
    w, h = 2 * width, 2 * height
    box = lambda x0, y0, x1, y1: (w * x0, h * y0, w * x1, h * y1)  # noqa: E731
    pen.ellipse(box(0.1, 0.7, 0.9, 1.5), fill=coat)
    pen.polygon([(w * 0.5, h * 0.98), (w * 0.36, h * 0.7), (w * 0.64, h * 0.7)], fill="#f1ece0")
    pen.rectangle(box(0.42, 0.56, 0.58, 0.76), fill=skin)
    pen.ellipse(
        box(0.25 - 0.02 * (number % 2), 0.12, 0.75 + 0.02 * (number % 2), 0.62 - 0.03 * (number % 3)), fill=hair
    )
    pen.ellipse(box(0.3, 0.2, 0.7, 0.64), fill=skin)
    if number % 2:
        pen.pieslice(box(0.27, 0.1, 0.73, 0.5), 180, 360, fill=hair)
    else:
        pen.pieslice(box(0.24, 0.08, 0.76, 0.52), 178, 362, fill=coat)
        pen.rectangle(box(0.2, 0.285, 0.8, 0.315), fill=coat)
    for x in (0.41, 0.59):
        pen.ellipse(box(x - 0.018, 0.4, x + 0.018, 0.43), fill="#20282c")
        pen.arc(box(x - 0.05, 0.36, x + 0.05, 0.42), 200, 340, fill=hair, width=10)
    pen.line([(w * 0.5, h * 0.42), (w * 0.485, h * 0.49), (w * 0.51, h * 0.5)], fill=hair, width=7, joint="curve")
    pen.arc(box(0.43, 0.47, 0.57, 0.56), 20 + 10 * (number % 3), 160, fill="#7d3528", width=10)
    return _png(picture.resize((width, height), Image.Resampling.LANCZOS))


ALL: tuple[Callable[[], bytes], ...] = (
    dusk,
    redshank,
    morning,
    heron,
    grain,
    *(partial(warden, number) for number in range(len(WARDENS))),
)
"""Every picture of the demo, as what draws it."""


def file_of(data: bytes, name: str, alt: str, credit: str = "Drawn by the Observatory") -> PictureFile:
    """A picture of a job, by its file's content."""
    facts, key = facts_of(data), hashlib.sha256(data).hexdigest()
    return replace(described(f"i{key[:10]}", f"{name}.png", key, facts), alt=alt, credit=credit)
