"""Ink: more of it in one place than a paper takes."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.check.fine import inks_in
from lexigon.core.colour.palette import Palette
from lexigon.core.colour.profiles import COATED
from lexigon.core.document.cascade import frame_setting
from lexigon.core.document.model import all_in
from lexigon.core.flow.composition import Composition
from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import coverage, total_of
from lexigon.core.paint.display import Display

MOST_INK = COATED.most_ink
"""What is said while one works; the press measures what it prints against the paper of its recipe
(``press/inkload.py``)."""


@rule()
def too_much_ink(composition: Composition) -> Iterator[Finding]:
    """Find areas with more ink than can dry. RGB colours and pictures never are: their profiles limit the ink."""
    palette = Palette(composition.job.swatches)
    if all(total_of(palette.colour(key)) <= MOST_INK for key in _plain(composition)):
        return  # no page has to be looked at
    display, reported = Display(composition), set()
    for index in range(len(composition.job.pages)):
        width, height = composition.job.page_size(index)
        names = {one.id: one.name for one, _ in composition.job.page_frames(index)}
        for mark in coverage(display.page(index).items(printed=True)):
            if mark.total <= MOST_INK + 1e-6 or mark.owner in reported or not _touches(mark.bounds, width, height):
                continue
            reported.add(mark.owner)
            name = names.get(mark.owner)
            what = f"“{name}”" if name else "Something"
            words = (
                f"{what} has {mark.total * 100:.0f} % ink. More than {MOST_INK * 100:.0f} % smears and does not dry. "
                "Reduce the inks of its swatch, or use more black and less of the colours."
            )
            yield Finding("too much ink", words, index, subject=mark.owner)


@rule()
def white_overprint(composition: Composition) -> Iterator[Finding]:
    """Objects that are filled or edged with no ink and set to overprint: nothing of them prints."""
    job = composition.job
    palette, reported = Palette(job.swatches), set[str]()
    for index in range(len(job.pages)):
        for frame in (one for obj, _ in job.page_frames(index) for one in all_in((obj,))):
            if frame.id in reported or not frame.prints:
                continue
            reported.add(frame.id)
            setting = frame_setting(job, frame)
            if not setting.overprint:
                continue
            used = [setting.fill.swatch, setting.stroke.swatch if setting.stroke.weight else None]
            plain = [
                palette.colour(key)
                for key in used
                if key and (key not in job.swatches or job.swatches[key].gradient is None)
            ]
            if any(not inks_in(colour) for colour in plain):
                name = f"“{frame.name}”" if frame.name else "An object"
                words = (
                    f"{name} is white and set to overprint. White has no ink, so the object will not print. Switch its "
                    "overprint off."
                )
                yield Finding("white overprint", words, index, subject=frame.id)


def _touches(box: Rect, width: float, height: float) -> bool:
    """Return whether something prints on the trimmed page: marks beside it are for the press, in all inks."""
    return box.x < width and box.right > 0 and box.y < height and box.foot > 0


def _plain(composition: Composition) -> Iterator[str]:
    """The swatches that are mixed themselves; gradients, tints and roles are made of these."""
    return (key for key, swatch in composition.job.swatches.items() if swatch.gradient is None)


__all__ = ["MOST_INK", "too_much_ink"]
