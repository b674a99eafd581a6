"""Codes that a reader may fail at: too small, or too little darker than what lies under them."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.codes.modules import CodeError, modules_of
from lexigon.core.codes.outlines import module_size
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.palette import Palette
from lexigon.core.flow.composition import Composition

LEAST_MODULE = {"qr": 0.33 / 25.4 * 72, "code 128": 0.19 / 25.4 * 72}
"""Points: the smallest module that is read well in print (common practice, no source)."""
LEAST_CONTRAST = 0.4
"""How much more light the ground gives back than the code, as parts of white (common practice, no source)."""


def luminance(colour: Colour) -> float:
    """Relative luminance (WCAG 2.2, from IEC 61966-2-1)."""
    linear = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in colour.rgb]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@rule(at_once=True)
def codes(composition: Composition) -> Iterator[Finding]:
    job, palette = composition.job, Palette(composition.job.swatches)
    for index, page in enumerate(job.pages):
        for frame in page.frames if page.objects else ():
            if frame.code is None or frame.rect is None:
                continue
            try:
                size = module_size(modules_of(frame.code.form, frame.code.text, frame.code.level), frame.rect)
            except CodeError as error:
                yield Finding("code", f"A code cannot be made: {error}", index)
                continue
            if size < LEAST_MODULE[frame.code.form]:
                words = f"A code’s modules are {size / 72 * 25.4:.2f} mm wide: readers may fail. Make its frame larger."
                yield Finding("code too small", words, index)
            ink = palette.colour(frame.code.ink.swatch, frame.code.ink.tint)
            under = composition.places.setting(frame).fill
            ground = palette.colour(under.swatch, under.tint) if under.swatch else Colour("rgb", (1.0, 1.0, 1.0))
            if luminance(ground) - luminance(ink) < LEAST_CONTRAST:
                yield Finding("code contrast", "A code is not dark enough on its ground: readers may fail.", index)
