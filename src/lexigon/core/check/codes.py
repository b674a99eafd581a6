"""Codes that a reader may fail at: too small, or too little darker than what lies under them."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.codes.modules import CodeError
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.contrast import luminance
from lexigon.core.colour.palette import Palette
from lexigon.core.flow.composition import Composition
from lexigon.core.paint.codes import fitted

MM = 72 / 25.4
LEAST_CONTRAST = 0.4
"""How much more light the ground gives back than the code, as parts of white (common practice, no source)."""


@rule(at_once=True)
def codes(composition: Composition) -> Iterator[Finding]:
    job, palette = composition.job, Palette(composition.job.swatches)
    for index, page in enumerate(job.pages):
        for frame in page.frames if page.objects else ():
            if frame.code is None or frame.rect is None:
                continue
            try:
                size = fitted(frame.code, frame.rect).module / MM
            except CodeError as error:
                yield Finding("code", f"A code cannot be made: {error}", index)
                continue
            least, most = frame.code.symbology.module
            if size < least - 1e-6:
                words = (
                    f"A code’s modules are {size:.2f} mm wide, less than {least:g} mm. Readers may fail. Enlarge its "
                    "frame."
                )
                yield Finding("code too small", words, index)
            elif size > most + 1e-6:
                words = (
                    f"A code’s modules are {size:.2f} mm wide, more than {most:g} mm. Shop scanners may fail. Reduce "
                    "its frame."
                )
                yield Finding("code too large", words, index)
            ink = palette.colour(frame.code.ink.swatch, frame.code.ink.tint)
            under = composition.places.setting(frame).fill
            ground = palette.colour(under.swatch, under.tint) if under.swatch else Colour("rgb", (1.0, 1.0, 1.0))
            if luminance(ground) - luminance(ink) < LEAST_CONTRAST:
                yield Finding(
                    "code contrast",
                    "A code has too little contrast with its background. Readers may fail. Use a darker ink or a "
                    "lighter background.",
                    index,
                )
            elif not frame.code.symbology.message and ground.rgb[0] - ink.rgb[0] < LEAST_CONTRAST:
                words = "Bars in this colour are invisible to the red light of scanners. Use black, blue or green."
                yield Finding("code contrast", words, index)
