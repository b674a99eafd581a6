"""Find stories that are overset."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from itertools import pairwise

from lexigon.core import lengths
from lexigon.core.check.findings import Finding, rule
from lexigon.core.document.listing_merge import standing
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.even_feet import faces, uneven
from lexigon.core.flow.fitting import shortage_of
from lexigon.core.flow.note_layout import Note
from lexigon.core.flow.overset import overset_of
from lexigon.core.paint.display import Display
from lexigon.core.plural import counted

LEAST_MEASURE = 12.0
"""The shortest usable line, in points."""
MOST_LINES = 60
"""Lines without a place for which a frame is measured: more would not fit on the page."""
SLACK = 0.5
"""Points that something may be wider or higher than its place."""


@rule()
def rows(composition: Composition) -> Iterator[Finding]:
    """Find rows of tables that are higher than their column, and run out of it."""
    for flow_id, flow in composition.flows.items():
        for column in flow.columns:
            for block in column.blocks:
                if flow.unbroken(block.paragraph) and block.foot > column.slot.rect.foot + 0.5:
                    words = (
                        "A table row is higher than its column and runs out at the bottom. Shorten it, split it into "
                        "two rows, or allow rows to split."
                    )
                    yield Finding("row too high", words, column.slot.page, subject=flow_id)


@rule()
def floating(composition: Composition) -> Iterator[Finding]:
    """Figures that are higher than their column and run out of it at the foot."""
    for flow_id, flow in composition.flows.items():
        for column in flow.columns:
            low = (block for block in column.blocks if not flow.unbroken(block.paragraph))
            if any(block.foot > column.slot.rect.foot + SLACK for block in low):
                words = (
                    "A figure is higher than its column and runs out at the bottom. Reduce it or shorten its caption."
                )
                yield Finding("figure too high", words, column.slot.page, subject=flow_id)


@rule()
def indents(composition: Composition) -> Iterator[Finding]:
    """Paragraphs whose indents reach beyond their frame or leave no room for words, one finding for each style."""
    positions_found: dict[tuple[str, str], list[tuple[float, int]]] = {}
    for flow in composition.flows.values():
        for column in flow.columns:
            width = column.slot.rect.width
            _, right_inset, _, left_inset = column.slot.setting.insets
            for block in column.blocks:
                one = flow.setting(block.paragraph)
                left = min(one.indent_left, one.indent_left + one.indent_first)
                style = flow.paragraphs[block.paragraph].paragraph.style
                for what, beyond in (
                    ("left", -left - left_inset),
                    ("right", -one.indent_right - right_inset),
                    ("room", one.indent_left + one.indent_right - width + LEAST_MEASURE),
                ):
                    if beyond > SLACK and not block.first_line:
                        positions_found.setdefault((style, what), []).append((beyond, column.slot.page))
    unit = composition.job.brief.unit
    for (style, what), places in positions_found.items():
        style_ = composition.job.paragraph_styles.get(style)
        many = f"{counted(len(places), 'paragraph')} in “{style_.name if style_ else style}”"
        if what == "room":
            words = (
                f"{many} {'have' if len(places) > 1 else 'has'} indents that leave no room for words. Reduce them, or "
                "widen the frame."
            )
        else:
            far = lengths.show(max(beyond for beyond, _ in places), unit)
            words = (
                f"{many} {'reach' if len(places) > 1 else 'reaches'} {far} beyond the {what} edge of the frame: an "
                "indent is negative. Change it, or leave room in the frame."
            )
        yield Finding("indent", words, min(page for _, page in places), subject=style)


@rule()
def figures(composition: Composition) -> Iterator[Finding]:
    """Tables with figures, dates or words that are wider than their cells."""
    for flow in composition.flows.values():
        for column in flow.columns:
            for block in column.blocks:
                body = flow.table(block.paragraph, block.measure) if not block.first_line else None
                if body is None or body.words.excess < SLACK:
                    continue
                name = composition.job.tables[body.table.id].name
                long = lengths.show(body.words.excess, composition.job.brief.unit)
                words = (
                    f"“{name}” is too narrow. A figure or word is {long} wider than its cell. Reduce its type, or make "
                    "its column wider."
                )
                yield Finding("table too narrow", words, column.slot.page, subject=body.table.id)


@rule(at_once=True)
def overset(composition: Composition) -> Iterator[Finding]:
    for story_id, flow in composition.flows.items():
        if over := overset_of(flow):
            name = composition.job.stories[story_id].name
            page = flow.filled[-1].columns[-1].slot.page if flow.filled and flow.filled[-1].columns else None
            low = _shortage(composition, story_id) if over.lines <= MOST_LINES else ""
            yield Finding("overset", f"{over.long} of “{name}” {over.fits}.{low}", page, subject=story_id)


def _shortage(composition: Composition, story_id: str) -> str:
    """By how much the frame of a story is too low, as a sentence; nothing for text in linked frames."""
    areas = list(composition.places.led(composition.job.stories[story_id]))
    short = shortage_of(composition.flows[story_id], areas[0]) if len(areas) == 1 else 0.0
    return f" The frame is {lengths.show(short, composition.job.brief.unit)} too low." if short > SLACK else ""


@rule()
def notes(composition: Composition) -> Iterator[Finding]:
    """Find notes that no column could hold, and anchored frames without room."""
    for flow in composition.flows.values():
        for column in flow.columns:
            for note in column.notes:
                if note.bottom(flow) > column.slot.rect.foot + 0.5:
                    message = (
                        f"{_named(note)} is higher than its column and runs out at the bottom. Shorten it or enlarge "
                        "the column."
                    )
                    yield Finding("note too high", message, column.slot.page)
            for one in column.afloat:
                wide = composition.job.page_size(column.slot.page)[0]
                name = composition.job.inlays[one.ref].name if one.ref in composition.job.inlays else "A frame"
                if one.rect.x < 0 or one.rect.right > wide:
                    where = "the margin" if one.at == "beside" else "the space right of the column’s left edge"
                    message = (
                        f"“{name}” is outside the page, because {where} is narrower than the frame. Reduce the frame or"
                        " widen the margin."
                    )
                    yield Finding("frame off the page", message, column.slot.page, subject=one.ref)
                elif one.bottom(flow) > column.slot.rect.foot + 0.5:
                    message = (
                        f"“{name}” is higher than its column and runs out at the bottom. Shorten it or enlarge the "
                        "column."
                    )
                    yield Finding("frame too high", message, column.slot.page, subject=one.ref)
            width = composition.job.page_size(column.slot.page)[0] if column.margin else 0.0
            for note in column.margin:
                if note.rect.x < 0 or note.rect.right > width:
                    message = (
                        f"{_named(note)} is outside the page, because the margin is narrower than this kind of note. "
                        "Widen the margin or reduce the width of the notes."
                    )
                    yield Finding("note off the page", message, column.slot.page)
                elif note.bottom(flow) > column.slot.rect.foot + 0.5:
                    message = (
                        f"{_named(note)} has no room in the margin beside the other notes and runs out at the bottom. "
                        "Shorten some of them."
                    )
                    yield Finding("note too high", message, column.slot.page)


@rule()
def feet(composition: Composition) -> Iterator[Finding]:
    """Facing pages of running text that should end on the same line, and do not."""
    for flow in composition.flows.values():
        for first, second in pairwise(flow.filled):
            if faces(first, second) and uneven(flow, first, second):
                labels = composition.values.labels
                pages = f"{labels[first.page]} and {labels[second.page]}"
                words = (
                    f"Pages {pages} end on different lines, because no paragraph on them can be set one line longer or "
                    "shorter without loose or tight lines."
                )
                yield Finding("uneven feet", words, first.page)


@rule()
def nowhere(composition: Composition) -> Iterator[Finding]:
    """Find notes that are to be gathered after the text, but are in no listing that is placed."""
    job = composition.job
    gathers = {
        source.style
        for one in job.listings.values()
        if standing(job, one)
        for source in one.sources
        if source.of == "notes"
    }
    counts = Counter(
        cited.kind.id
        for key in composition.flows
        for cited in composition.notes.numbers(key).values()
        if cited.kind.place == "gathered" and cited.kind.id not in gathers
    )
    for kind, count in counts.items():
        words = (
            f"{counted(count, 'note')} of the kind “{job.note_kinds[kind].name}” are not shown anywhere. Insert a "
            "listing that gathers them."
        )
        yield Finding("notes nowhere", words, None)


def _named(note: Note) -> str:
    """A note by its number, or by its first words."""
    text = note.body.flow.paragraphs[0].shown.paragraph.text
    number, sign, _ = text.partition("\u00a0")
    return f"Note {number}" if sign else f"The note “{' '.join(text.split()[:4])} …”"


@rule()
def inlays(composition: Composition) -> Iterator[Finding]:
    """Frames in lines whose text does not fit."""
    inlay_stories = {one.story for one in composition.job.inlays.values() if one.story}
    pages = {composition.page_of(story, composition.job.stories[story].paragraphs[0].id, 0) for story in inlay_stories}
    display = Display(composition)
    for page in sorted(page for page in pages if page is not None):
        for art in display.page(page).frames:
            if art.role == "inlay" and art.overset is not None:
                words = f"{art.overset.long} in “{art.frame.name}” {art.overset.fits}."
                yield Finding("overset", words, page, subject=art.frame.id)
