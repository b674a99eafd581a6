"""Words off the trimmed page, across a fold, too close to an edge of a panel or under the bar code, and frames in the
text that are wider than their column."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from lexigon.core.brief.forms import bar_code_area, safe_area
from lexigon.core.check.findings import Finding, rule
from lexigon.core.document.forms.sheets import folds_of, panel_at, panels_of
from lexigon.core.document.model import Object, Page, bounds_of
from lexigon.core.editing.intents import ChangeFrame
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.wide_frames import too_wide
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.page import FrameArt, LineArt
from lexigon.core.plural import counted

SLACK = 1.0
"""Points that a line may go beyond an edge: accents and descenders are measured generously."""
ON_PAGE, IN_SAFE_ZONE = "move onto the page", "move into the safe zone"
"""The names of fixes."""
LETTERS = 0.75
"""How much of a line's ascent its letters reach, nearly always (common practice, no source)."""


@dataclass(slots=True, frozen=True)
class Reach:
    """The area that a line of a frame covers on its page."""

    frame: str
    box: Rect
    id: str


@rule(at_once=True)
def edges(composition: Composition) -> Iterator[Finding]:
    for index, trim, reaches in _pages(composition):
        yield from _off(reaches, trim, index, _movable(composition.job.pages[index]))
        if composition.job.brief.form is not None:
            inside = [one for one in reaches if one.box.overlaps(trim, SLACK)]
            yield from _in_the_way(composition, inside, index)


def _pages(composition: Composition) -> Iterator[tuple[int, Rect, list[Reach]]]:
    """The pages on which words may be in the way of an edge: the index of each, its trim, and what its lines cover."""
    job = composition.job
    flat = job.brief.form is not None
    display: Display | None = None
    for index, page in enumerate(job.pages):
        if not page.objects:
            continue
        width, height = job.page_size(index)
        trim = Rect(0.0, 0.0, width, height)
        texts = [one for one in page.frames if one.text is not None]
        if not texts or (not flat and all(_on_the_page(one, trim) for one in texts)):
            continue
        display = display or Display(composition)
        yield index, trim, [one for art in display.page(index).frames if not art.is_field for one in _reaches(art)]


def moved_within(composition: Composition, safe: bool) -> Iterator[ChangeFrame]:
    """Yield the changes that move text frames onto the page, or into the ``safe`` zone of their panel, if some of their
    words are outside it. Frames that are too large are reduced to it; rotated frames are left alone."""
    job = composition.job
    for index, trim, reaches in _pages(composition):
        panels = panels_of(job.brief, job.papers, index)
        handled: set[str] = set()
        for one in reaches:
            if one.id in handled:
                continue
            area: Rect | None = trim
            if safe:
                area = safe_area(panel_at(panels, one.box), job.brief.safe) if one.box.overlaps(trim, SLACK) else None
            frame = next((f for f in job.pages[index].frames if f.id == one.id), None)
            if area is None or frame is None or frame.rect is None or one.box.within(area, SLACK):
                continue
            if frame.id not in _movable(job.pages[index]):
                continue
            handled.add(one.id)
            yield ChangeFrame(job.pages[index].id, frame.id, rect=_within(frame.rect, area))


def _movable(page: Page) -> set[str]:
    """The ids of the objects of a page that fixes move: neither locked nor rotated, nor placed by the margins."""
    return {one.id for one in page.frames if one.place is not None and one.place.map is None and not one.locked}


def _within(rect: Rect, area: Rect) -> Rect:
    """Return a box moved into an area, and reduced to its size if it is larger."""
    width, height = min(rect.width, area.width), min(rect.height, area.height)
    x = min(max(rect.x, area.x), area.right - width)
    y = min(max(rect.y, area.y), area.foot - height)
    return Rect(x, y, width, height)


def _on_the_page(one: Object, trim: Rect) -> bool:
    box = bounds_of((one,))
    return box is None or box.within(trim, SLACK)


def _reaches(art: FrameArt) -> Iterator[Reach]:
    name = art.frame.name or "a text frame"
    if art.runs_along is not None:
        return
    for line in art.lines:
        if (box := _box(line)) is not None:
            yield Reach(name, _mapped(box, art.words_map), art.frame.id)


def _box(line: LineArt) -> Rect | None:
    """The box round the letters of a line; None for one without any."""
    words = [run for run in line.runs if run.box is None and run.text.strip()]
    if not words:
        return None
    left, right = min(run.x for run in words), max(run.x + run.width for run in words)
    return Rect(left, line.baseline - LETTERS * line.ascent, right - left, LETTERS * line.ascent)


def _mapped(box: Rect, map_: Affine | None) -> Rect:
    if map_ is None:
        return box
    corners = [map_.apply(x, y) for x in (box.x, box.right) for y in (box.y, box.foot)]
    xs, ys = [x for x, _ in corners], [y for _, y in corners]
    return Rect(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))


def _off(reaches: list[Reach], trim: Rect, index: int, movable: set[str]) -> Iterator[Finding]:
    """Lines beyond the trim, frame by frame."""
    by_frame: dict[tuple[str, str], tuple[int, int]] = {}
    for one in reaches:
        if one.box.within(trim, SLACK):
            continue
        key = one.id, one.frame
        gone, cut = by_frame.get(key, (0, 0))
        by_frame[key] = (gone, cut + 1) if one.box.overlaps(trim, SLACK) else (gone + 1, cut)
    for (subject, name), (gone, cut) in by_frame.items():
        fix = ON_PAGE if subject in movable else ""
        if gone:
            verb = "is off the page and does" if gone == 1 else "are off the page and do"
            words = f"{counted(gone, 'line')} of “{name}” {verb} not print."
            yield Finding("words off the page", words, index, fix, subject)
        if cut:
            verb = "is" if cut == 1 else "are"
            words = f"{counted(cut, 'line')} of “{name}” {verb} cut off by the edge of the page."
            yield Finding("words cut off", words, index, fix, subject)


def _in_the_way(composition: Composition, reaches: list[Reach], index: int) -> Iterator[Finding]:
    """Find words across the folds of a flat sheet, beyond the safe zones of its panels, and under its bar code."""
    job = composition.job
    panels = panels_of(job.brief, job.papers, index)
    along, folds = folds_of(job.brief, job.papers, index)
    code = bar_code_area(job.brief, job.papers) if index == 0 else None
    across, near, under = dict[str, str](), dict[str, str](), dict[str, str]()
    for one in reaches:
        box = one.box
        begin, end = (box.x, box.right) if along == "x" else (box.y, box.foot)
        if any(begin < at - SLACK and end > at + SLACK for at in folds):
            across[one.id] = one.frame
            continue
        panel = panel_at(panels, box)
        safe = safe_area(panel, job.brief.safe)
        if safe is not None and not box.within(safe, SLACK):
            near[one.id] = one.frame
        if code is not None and box.overlaps(code, SLACK):
            under[one.id] = one.frame
    for key, name in across.items():
        words = f"Words of “{name}” cross a fold. Move the text into one panel."
        yield Finding("words across a fold", words, index, subject=key)
    for key, name in near.items():
        words = f"Words of “{name}” are outside the safe zone of their panel. They may be trimmed or folded."
        fix = IN_SAFE_ZONE if key in _movable(job.pages[index]) else ""
        yield Finding("words near an edge", words, index, fix, key)
    for key, name in under.items():
        words = f"Words of “{name}” are in the area reserved for the bar code. Move the text away."
        yield Finding("words under the bar code", words, index, subject=key)


@rule(at_once=True)
def wide_pictures(composition: Composition) -> Iterator[Finding]:
    wide = too_wide(composition)
    if wide:
        are = "is" if len(wide) == 1 else "are"
        words = (
            f"{counted(len(wide), 'object')} in the text {are} wider than the column: scale "
            f"{'it' if len(wide) == 1 else 'them'} to it."
        )
        yield Finding("wider than the column", words, wide[0].page, "scale to column")
