"""What the board is sent: painted pages, where the caret went, and what the slip says of a selection."""

from __future__ import annotations

import zlib
from collections.abc import Iterable
from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core import lengths
from lexigon.core.flow.desk import Change
from lexigon.core.job.edits import SplicePages, SpliceParagraphs
from lexigon.core.job.intents import Place, ReplaceText, locate
from lexigon.core.job.model import Frame, Job, TypeSpec, overlay
from lexigon.core.job.spreads import spread_of
from lexigon.core.job.text import difference
from lexigon.core.paint.display import Painter
from lexigon.core.paint.svg import page_svg


def painted(live: OpenJob, indexes: Iterable[int], have: dict[str, str] | None = None) -> dict[str, Any]:
    """Pages as the board shows them. A page whose hash the client already has is sent without its drawing."""
    painter = Painter(live.desk.composition)
    result: dict[str, Any] = {}
    for index in indexes:
        if not 0 <= index < len(live.job.pages):
            continue
        art = painter.page(index)
        svg = page_svg(art, live.job.swatches)
        mark = f"{zlib.crc32(svg.encode()):08x}"
        page: dict[str, Any] = {
            "index": index,
            "id": live.job.pages[index].id,
            "label": art.label,
            "side": art.side,
            "hash": mark,
        }
        if (have or {}).get(str(index)) != mark:
            page["svg"] = svg
        result[str(index)] = page
    return result


def state(live: OpenJob) -> dict[str, Any]:
    """What changes with every edit, apart from the pages: revision, page count, what undo would undo."""
    back, forward = live.history()
    return {"revision": live.revision, "count": len(live.job.pages), "undo": back, "redo": forward}


def sheet(job: Job) -> dict[str, Any]:
    """The page's lines for the board: trim, bleed, text areas and columns, baseline grid. Points."""
    b = job.brief

    def area(side: Any) -> dict[str, Any]:
        rect = b.text_area(side)
        return {"x": rect.x, "y": rect.y, "w": rect.width, "h": rect.height}

    return {
        "width": b.width, "height": b.height, "unit": b.unit, "facing": b.facing,
        "bleed": {"head": b.bleed.head, "foot": b.bleed.foot, "inner": b.bleed.inner, "outer": b.bleed.outer},
        "areas": {"recto": area("recto"), "verso": area("verso")},
        "columns": b.columns, "gutter": b.gutter, "grid": {"start": b.grid_start, "step": b.grid_step},
        "points": lengths.POINTS[b.unit], "decimals": lengths.DECIMALS[b.unit],
    }  # fmt: skip


def caret_after(live: OpenJob, intent: ReplaceText, change: Change, behind: int) -> dict[str, Any] | None:
    """Where the caret stands after typing: ``behind`` characters before the end of the last new paragraph."""
    for edit in reversed(change.edits):
        if isinstance(edit, SpliceParagraphs) and edit.story == intent.story and edit.insert:
            paragraph = edit.insert[-1]
            return caret(live, intent.story, paragraph.id, len(paragraph.text) - behind)
    return None


def caret_at_change(live: OpenJob, change: Change) -> dict[str, Any] | None:
    """Where the caret belongs after an undo or redo: behind the words that came or went. None if none did."""
    for edit, inverse in zip(reversed(change.edits), change.inverse, strict=True):
        if not (isinstance(edit, SpliceParagraphs) and isinstance(inverse, SpliceParagraphs) and edit.insert):
            continue
        after, before = ("\n".join(p.text for p in splice.insert) for splice in (edit, inverse))
        if before == after:
            continue
        at = len(after) - difference(before, after)[1]
        for paragraph in edit.insert:
            if at <= len(paragraph.text):
                return caret(live, edit.story, paragraph.id, at)
            at -= len(paragraph.text) + 1
    return None


def page_of_change(live: OpenJob, change: Change) -> int | None:
    """The page on which a change that moved no caret shows first."""
    for edit in change.edits:
        if isinstance(edit, SplicePages) and edit.insert:
            return min(edit.at, len(live.job.pages) - 1)
        if isinstance(edit, SpliceParagraphs) and edit.insert:
            return live.desk.composition.page_of(edit.story, edit.insert[0].id, 0)
    return None


def text_behind(job: Job, intent: ReplaceText) -> int:
    """How many characters of its paragraph stand behind the end of what an intent replaces."""
    story, places = locate(job, intent.story, intent.start, intent.end)
    index, offset = max(places)
    return len(story.paragraphs[index].text) - offset


def caret(live: OpenJob, story: str, paragraph: str, offset: int) -> dict[str, Any]:
    page = live.desk.composition.page_of(story, paragraph, offset)
    return {"story": story, "p": paragraph, "offset": offset, "page": page}


def view_for(
    live: OpenJob, view: list[int], caret_: dict[str, Any] | None = None, page: int | None = None
) -> list[int]:
    """The pages to answer with: the client's, or the spread that the caret went to or ``page`` is on."""
    page = caret_["page"] if caret_ else page
    if page is not None and page not in view:
        return spread_of(live.job, page)
    kept = [index for index in view if index < len(live.job.pages)]
    return kept or spread_of(live.job, len(live.job.pages) - 1)


def slip(
    live: OpenJob, page: int, frame_id: str, story_id: str, first: Place | None, last: Place | None
) -> dict[str, Any]:
    """The slip of a selected frame and, with places, of the selected text."""
    job, result = live.job, {}
    frames = list(job.page_frames(page)) if 0 <= page < len(job.pages) else []
    frame, inherited = next(((f, i) for f, i in frames if f.id == frame_id), (None, False))
    if frame is not None:
        result["frame"] = _frame_slip(live, page, frame, inherited)
    if story_id in job.stories:
        place = first or Place("^", 0)
        _story, places = locate(job, story_id, place, last or place)
        (begin, start), (finish, end) = sorted(places)
        result["text"] = _text_slip(live, story_id, begin, start, finish, end)
        result["text"]["selected"] = bool(first and last and (begin, start) != (finish, end))
    return result


def _frame_slip(live: OpenJob, page: int, frame: Frame, inherited: bool) -> dict[str, Any]:
    job, unit = live.job, live.job.brief.unit
    rect = job.frame_rect(frame, page)
    flow = next(
        (
            f
            for f in live.desk.composition.flows.values()
            if any(c.slot.page == page and c.slot.frame == frame.id for c in f.columns)
        ),
        None,
    )
    story = next(
        (s for s in job.stories.values() if flow is not None and live.desk.composition.flows.get(s.id) is flow), None
    )
    order: list[tuple[int, str]] = []
    if flow:
        for column in flow.columns:
            key = (column.slot.page, column.slot.frame)
            if not order or order[-1] != key:
                order.append(key)
    number = order.index((page, frame.id)) + 1 if (page, frame.id) in order else 0
    return {
        "id": frame.id, "name": frame.name or "Text frame", "inherited": inherited, "taken": bool(frame.origin),
        "x": lengths.show(rect.x, unit), "y": lengths.show(rect.y, unit),
        "width": lengths.show(rect.width, unit), "height": lengths.show(rect.height, unit),
        "columns": frame.columns, "gutter": lengths.show(frame.gutter, unit), "insets": lengths.show(frame.insets, unit),
        "vertical": frame.vertical, "story": story.name if story else "", "number": number, "of": len(order),
        "before": f"page {order[number - 2][0] + 1}" if number > 1 else "",
        "after": f"page {order[number][0] + 1}" if 0 < number < len(order) else "",
        "led": bool(story and frame.id in story.frames and (story.id == job.main_story or len(story.frames) > 1)),
        "field": flow is None,
    }  # fmt: skip


def _text_slip(live: OpenJob, story_id: str, begin: int, start: int, finish: int, end: int) -> dict[str, Any]:
    job, cascade = live.job, live.desk.composition.cascade
    paragraphs = job.stories[story_id].paragraphs[begin : finish + 1]
    paragraph = paragraphs[0]
    at = start if (begin, start) != (finish, end) else max(start - 1, 0)
    span = next((s for s in paragraph.spans if s.start <= at < s.end), None)
    face, setting = cascade.face(paragraph, span), cascade.setting(paragraph)
    type_, para = cascade.style(paragraph.style)
    style = job.paragraph_styles.get(paragraph.style)
    local = [name for name in ("para", "type") if getattr(paragraph, name)]
    own = overlay(type_, paragraph.type) if paragraph.type else TypeSpec()
    return {
        "style": paragraph.style if all(p.style == paragraph.style for p in paragraphs) else "",
        "style_name": style.name if style else paragraph.style,
        "local": bool(local), "count": len(paragraphs),
        "family": face.family, "size": lengths.show(face.size, "pt"), "leading": lengths.show(setting.leading, "pt"),
        "weight": face.weight, "italic": face.italic, "align": setting.align,
        "indent": lengths.show(setting.indent_first, "pt"), "grid": setting.grid,
        "spec": spec_line(face.size, setting.leading, face.family, face.weight, face.italic, setting.align, setting.indent_first),
        "style_size": lengths.show(type_.size or 0, "pt"), "style_leading": lengths.show(para.leading or 0, "pt"),
        "type_local": bool(own.size or own.family),
    }  # fmt: skip


def spec_line(size: float, leading: float, family: str, weight: int, italic: bool, align: str, indent: float) -> str:
    """The setting as designers write it: ``11/15 EB Garamond, justified, indent 15pt``."""
    cut = f"{' bold' if weight >= 600 else ''}{' italic' if italic else ''}"
    return f"{size:g}/{leading:g} {family}{cut}, {align}" + (f", indent {indent:g}pt" if indent else "")
