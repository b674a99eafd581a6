"""Codes that a reader may fail at: too small, or too little darker than what lies under them."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.codes.modules import CodeError
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.contrast import luminance
from lexigon.core.colour.palette import Palette
from lexigon.core.document.ink_sets import ink_set_of
from lexigon.core.document.model import Object, bounds_of
from lexigon.core.flow.composition import Composition
from lexigon.core.paint.codes import fitted

MM = 72 / 25.4
SLACK = 0.5
"""Points by which a code may exceed what it lies on."""
LEAST_CONTRAST = 0.4
"""How much more light the ground gives back than the code, as parts of white (common practice, no source)."""


def _ground(composition: Composition, palette: Palette, index: int, code: Object) -> Colour:
    """What a code is read against: the fill of its frame, or that of the topmost object below that holds all of it;
    else the paper. What is see-through, and pictures, are left out of account."""
    ground = Colour("rgb", (1.0, 1.0, 1.0))
    box = bounds_of((code,))
    for one, _ in composition.job.page_frames(index):
        setting = composition.places.setting(one)
        if one.id == code.id:
            fill = setting.fill
            return palette.colour(fill.swatch, fill.tint) if fill.swatch else ground
        around = bounds_of((one,))
        if around is None or box is None or not box.within(around, SLACK):
            continue
        if setting.fill.swatch and setting.opacity == 1.0 and setting.blend == "normal":
            ground = palette.colour(setting.fill.swatch, setting.fill.tint)
    return ground


@rule(at_once=True)
def codes(composition: Composition) -> Iterator[Finding]:
    job = composition.job
    for index, page in enumerate(job.pages):
        if not page.objects:
            continue
        palette = Palette(job.swatches, job.ink_sets.get(ink_set_of(job, index)))
        for frame in page.frames:
            if frame.code is None or frame.rect is None:
                continue
            try:
                size = fitted(frame.code, frame.rect).module / MM
            except CodeError as error:
                yield Finding("code", f"A code cannot be made: {error}", index, subject=frame.id)
                continue
            least, most = frame.code.symbology.module
            if size < least - 1e-6:
                words = (
                    f"A code’s modules are {size:.2f} mm wide, less than {least:g} mm. Readers may fail. Enlarge its "
                    "frame."
                )
                yield Finding("code too small", words, index, subject=frame.id)
            elif size > most + 1e-6:
                words = (
                    f"A code’s modules are {size:.2f} mm wide, more than {most:g} mm. Shop scanners may fail. Reduce "
                    "its frame."
                )
                yield Finding("code too large", words, index, subject=frame.id)
            ink = palette.colour(frame.code.ink.swatch, frame.code.ink.tint)
            ground = _ground(composition, palette, index, frame)
            if luminance(ground) - luminance(ink) < LEAST_CONTRAST:
                yield Finding(
                    "code contrast",
                    "A code has too little contrast with its background. Readers may fail. Use a darker ink or a "
                    "lighter background.",
                    index,
                    subject=frame.id,
                )
            elif not frame.code.symbology.message and ground.rgb[0] - ink.rgb[0] < LEAST_CONTRAST:
                words = "Bars in this colour are invisible to the red light of scanners. Use black, blue or green."
                yield Finding("code contrast", words, index, subject=frame.id)
