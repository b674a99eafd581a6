"""The check for lines and type too fine to print in several inks, where a small shift of plates shows coloured
edges."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.palette import Palette
from lexigon.core.document.cascade import frame_setting
from lexigon.core.document.model import all_in
from lexigon.core.flow.composition import Composition
from lexigon.core.type.runs import runs_of

THIN = 0.5
"""The weight in points up to which a line is printed in one ink (common practice, no source)."""
SMALL = 9.0
"""The size in points below which type is printed in one ink or two (common practice, no source)."""
LEAST = 0.01
"""Part of an ink that counts."""


def inks_in(colour: Colour) -> int:
    """Return how many inks a colour is printed with; light is mixed of all of them, unless it is white."""
    if colour.spot:
        return 1 if colour.strength >= LEAST else 0
    if colour.space == "cmyk":
        return sum(part >= LEAST for part in colour.components)
    white = colour.components[0] >= 99 if colour.space == "lab" else min(colour.components) >= 0.99
    return 0 if white else 4


@rule()
def fine_lines(composition: Composition) -> Iterator[Finding]:
    """Lines up to ``THIN`` in two inks or more, by the page that shows them first."""
    job = composition.job
    if job.brief.colour != "process":
        return
    palette, reported = Palette(job.swatches), set[str]()
    for index in range(len(job.pages)):
        for frame in dict.fromkeys(one for obj, _ in job.page_frames(index) for one in all_in((obj,))):
            if frame.id in reported or not frame.prints:
                continue
            reported.add(frame.id)
            stroke = frame_setting(job, frame).stroke
            weight, tint = stroke.weight or 0.0, 1.0 if stroke.tint is None else stroke.tint
            if stroke.swatch and 0 < weight <= THIN and inks_in(palette.colour(stroke.swatch, tint)) > 1:
                name = f"“{frame.name}”" if frame.name else "an object"
                words = (
                    f"A line of {weight:g} pt at {name} is printed in several inks, so that small shifts on press give "
                    f"it coloured edges. Use one ink, or make it heavier than {THIN:g} pt."
                )
                yield Finding("fine line", words, index, subject=frame.id)


@rule()
def fine_type(composition: Composition) -> Iterator[Finding]:
    """Type below ``SMALL`` in three inks or more: what is smallest, with the page it is first on."""
    job = composition.job
    mixed = Palette(job.swatches)
    if job.brief.colour != "process" or all(
        inks_in(mixed.colour(key)) < 3 for key, one in job.swatches.items() if one.gradient is None
    ):
        return
    many: dict[tuple[str, float], bool] = {}
    smallest: tuple[float, str, str, int] | None = None
    for story in job.stories.values():
        for paragraph in story.paragraphs:
            for run in runs_of(composition.cascade, composition.library, paragraph)[1]:
                spec = run.look.spec
                if spec.size >= SMALL or (smallest is not None and spec.size >= smallest[0]) or run.end <= run.start:
                    continue
                key = spec.swatch, spec.tint
                if key not in many:
                    many[key] = inks_in(mixed.colour(*key)) > 2
                if many[key]:
                    smallest = spec.size, story.id, paragraph.id, run.start
    if smallest is not None:
        words = (
            f"Type of {smallest[0]:g} pt is printed in three or more inks, so that small shifts on press make it hard "
            f"to read. Use black or another single ink, or set it in {SMALL:g} pt or more."
        )
        yield Finding("fine type", words, composition.page_of(*smallest[1:]), subject=smallest[1])
