"""The slip: what is selected, or the page or master page itself, in words and values."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from lexigon.bench.services.describing import (
    fallbacks,
    features_offered,
    local_words,
    sections_of,
    spec_of_frame,
    spec_of_text,
)
from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.pictures import framing_of
from lexigon.bench.services.spreads import MASTER_SIDES
from lexigon.bench.services.tables import about_cells
from lexigon.core import lengths
from lexigon.core.codes.modules import CodeError
from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.cascade import frame_spec
from lexigon.core.document.cell_stories import cell_of, table_of, text_of
from lexigon.core.document.code_messages import PARTS, read
from lexigon.core.document.forms.sheets import panels_of
from lexigon.core.document.model import Code, Job, Master, Object, Outline, Story, Text, TypeSpec, combined
from lexigon.core.document.numbering import section_at
from lexigon.core.document.story_text import is_table
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.intents import Cells, Place, locate
from lexigon.core.editing.intents.styles.changing import set_by_hand
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.fitting import ScaledCascade
from lexigon.core.flow.notes import Citation
from lexigon.core.flow.overset import overset_of
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.geometry import Rect, regular_polygon
from lexigon.core.paint.codes import fitted
from lexigon.core.paint.standing import kind_of
from lexigon.core.path.shapes import star_depth
from lexigon.core.tables.cell_settings import setter
from lexigon.core.type.paragraph import merit


def about_page(live: OpenJob, index: int) -> dict[str, Any]:
    """The page's own slip."""
    job = live.job
    page = job.pages[index]
    section = section_at(job, index)
    panels = ", ".join(panel.name for panel in panels_of(job.brief, job.papers, index))
    return {
        "id": page.id,
        "index": index,
        "label": live.workspace.composition.values.labels[index],
        "master": page.master or "",
        "section": section.name if section else "",
        "panels": panels,
        "overlays": [plain(o) for o in job.overlays.values() if o.page in (None, page.id)],
    }


def about_master(live: OpenJob, master: Master) -> dict[str, Any]:
    """The slip of a master page: its own settings, and the pages that use it."""
    job, unit = live.job, live.job.brief.unit
    margins = job.master_area(master, "recto")
    width, height = job.brief.page_size(master.turned)
    edges = {
        "head": margins.y,
        "foot": height - margins.foot,
        "inner": margins.x,
        "outer": width - margins.right,
    }
    using = [index for index, page in enumerate(job.pages) if page.master == master.id]
    return {
        "id": master.id,
        "name": master.name,
        "based": master.based_on or "",
        "turned": master.turned,
        "own": master.margins is not None,
        "margins": {name: lengths.show(value, unit) for name, value in edges.items()},
        "columns": master.columns or job.brief.columns,
        "gutter": lengths.show(job.brief.gutter if master.gutter is None else master.gutter, unit),
        "guides": ", ".join(f"{g.axis} {lengths.show(g.at, unit)}" for g in master.guides),
        "using": ranges(using, live.workspace.composition.values.labels),
    }


def ranges(indexes: list[int], labels: list[str]) -> str:
    """Pages by their indexes as one writes them: ``i–iii, 7``."""
    parts: list[list[int]] = []
    for index in indexes:
        if parts and parts[-1][1] == index - 1:
            parts[-1][1] = index
        else:
            parts.append([index, index])
    return ", ".join(labels[a] if a == b else f"{labels[a]}–{labels[b]}" for a, b in parts)


def slip(
    live: OpenJob,
    page: int,
    frame_id: str,
    story_id: str,
    first: Place | None,
    last: Place | None,
    master: str = "",
    cells: Cells | None = None,
) -> dict[str, Any]:
    """The slip of a selected frame, with the range of the selected text, and of selected cells."""
    job = live.job
    result: dict[str, Any] = {}
    if page in MASTER_SIDES and master in job.masters:
        frames = [(f, owner != master) for f, owner in job.master_frames(master, MASTER_SIDES[page])]
        result["master"] = about_master(live, job.masters[master])
    elif 0 <= page < len(job.pages):
        frames = [*job.page_frames(page), *((inlay, False) for inlay in job.inlays.values())]
        result["page"] = about_page(live, page)
    else:
        frames = []
    frame, inherited = next(((f, i) for f, i in frames if f.id == frame_id), (None, False))
    if frame is not None:
        result["frame"] = _frame_slip(live, page, frame, inherited, master)
    if cells is not None and cells.table in job.tables:
        result["cells"] = about_cells(live, cells)
    if text_of(job, story_id) is not None:
        place = first or Place("^", 0)
        try:
            _story, places = locate(job, story_id, place, last or place)
        except EditError:
            return result  # the selection was deleted or undone meanwhile, so there is nothing to describe
        (begin, start), (finish, end) = sorted(places)
        result["text"] = _text_slip(live, story_id, begin, start, finish, end, typing=last is not None)
        result["text"]["selected"] = bool(first and last and (begin, start) != (finish, end))
    return result


def _frame_slip(live: OpenJob, page: int, frame: Object, inherited: bool, master: str) -> dict[str, Any]:
    job, unit = live.job, live.job.brief.unit
    if page in MASTER_SIDES:
        rect = frame.rect or job.master_area(job.masters[master], MASTER_SIDES[page])
    else:
        rect = job.frame_rect(frame, page)
    make = live.workspace.composition.places.setting(frame)
    flow = next(
        (
            f
            for f in live.workspace.composition.flows.values()
            if any(c.slot.page == page and c.slot.frame == frame.id for c in f.columns)
        ),
        None,
    )
    story = next(
        (s for s in job.stories.values() if flow is not None and live.workspace.composition.flows.get(s.id) is flow),
        None,
    )
    order: list[tuple[int, str]] = []
    if flow:
        for column in flow.columns:
            key = (column.slot.page, column.slot.frame)
            if not order or order[-1] != key:
                order.append(key)
    labels = live.workspace.composition.values.labels
    number = order.index((page, frame.id)) + 1 if (page, frame.id) in order else 0
    return {
        "id": frame.id,
        "name": frame.name or ("Text frame" if frame.text else "Shape"),
        "inherited": inherited,
        "taken": bool(frame.origin),
        "locked": frame.locked,
        "prints": frame.prints,
        "x": lengths.show(rect.x, unit),
        "y": lengths.show(rect.y, unit),
        "width": lengths.show(rect.width, unit),
        "height": lengths.show(rect.height, unit),
        "columns": make.columns,
        "gutter": lengths.show(make.gutter, unit),
        "insets": lengths.show(make.insets[0], unit),
        "vertical": make.vertical,
        "story": story.name if story else "",
        "number": number,
        "of": len(order),
        "before": f"page {labels[order[number - 2][0]]}" if number > 1 else "",
        "after": f"page {labels[order[number][0]]}" if 0 < number < len(order) else "",
        "led": bool(story and frame.id in story.frames and (story.id == job.main_story or len(story.frames) > 1)),
        "field": flow is None and frame.text is not None and page not in MASTER_SIDES and frame.id not in job.inlays,
        "turn": frame.turn,
        "main": frame.main,
        "on_master": page in MASTER_SIDES,
        "inlay": frame.id in job.inlays,
        "stands": _stands(job, frame.id),
        "hide": list(frame.hide_on),
        "spec": spec_of_frame(live, frame, make),
        "style": frame.style or "",
        "kind": kind_of(frame),
        "framing": framing_of(job, frame, rect),
        "code": _code_content(frame.code, rect) if frame.code else None,
        "fit": (frame.text or Text()).fit,
        "fitted": _fitted(flow),
        "balanced": make.balanced,
        "wrap": make.wrap.sides,
        "wrap_outline": make.wrap.outline,
        "wrap_inverted": make.wrap.inverted,
        "wrap_contour": make.wrap.contour,
        "wrap_offset": lengths.show(make.wrap.offsets[0], unit),
        "fill": make.fill.swatch,
        "tint": round(make.fill.tint * 100),
        "edge": f"rule:{make.stroke.style}" if make.stroke.style else make.stroke.swatch if make.stroke.weight else "",
        "edge_weight": lengths.show(make.stroke.weight or 0.0, "pt"),
        "outline": _outline_word(frame),
        "rotation": f"{frame.rotation:g}",
        "skew": f"{frame.place.skew if frame.place else 0:g}",
        "mirrored": bool(frame.place and frame.place.mirrored),
        "first": make.first,
        "rule": lengths.show(make.column_rule.weight or 0.0, "pt"),
        "raw": {
            "frame": asdict(frame_spec(job, frame))
            | {
                "fit_sizes": (frame.text or Text()).fit_sizes,
                "outline": asdict(frame.outline or Outline("box")),
                "along": (frame.text or Text()).along,
                "along_from": (frame.text or Text()).along_from,
            },
            "code": asdict(frame.code) | _settable(frame.code) if frame.code else None,
        },
        "overset": _overset(live, flow, page, frame),
        "single": bool(story and story.id != job.main_story and len(story.frames) == 1),
    }


def _text_slip(
    live: OpenJob, story_id: str, begin: int, start: int, finish: int, end: int, typing: bool
) -> dict[str, Any]:
    """Return where nobody types, in a frame as a whole, the paragraph's own setting counts, not that of its first
    words."""
    job, cascade = live.job, live.workspace.composition.cascade
    story = text_of(job, story_id)
    assert story is not None
    paragraphs = story.paragraphs[begin : finish + 1]
    paragraph = paragraphs[0]
    at = start if (begin, start) != (finish, end) else max(start - 1, 0)
    span = next((s for s in paragraph.spans if s.start <= at < s.end), None) if typing else None
    show = setter(job, story_id)
    as_set = show(paragraph)
    face, setting = cascade.type_of(as_set, span), cascade.setting(as_set)
    type_, para = cascade.beneath(show(replace(paragraph, type=None, para=None)))
    style = job.paragraph_styles.get(paragraph.style)
    local = [name for name in ("para", "type") if getattr(paragraph, name)]
    own = combined(type_, paragraph.type) if paragraph.type else TypeSpec()
    # What is set goes to the selected words, without any to the paragraph: so does what is given back.
    words = span if (begin, start) != (finish, end) else None
    return {
        "table": table_of(story_id)
        or (paragraph.spans[0].object.ref if is_table(paragraph) and paragraph.spans[0].object else ""),
        "style": paragraph.style if all(p.style == paragraph.style for p in paragraphs) else "",
        "heading": _heading(live, story),
        "note": _note(live, story),
        "notable": story.kind == "text" and bool(story.frames or story_id == job.main_story),
        "style_name": style.name if style else paragraph.style,
        "local": bool(local),
        "count": len(paragraphs),
        "family": face.family,
        "size": lengths.show(face.size, "pt"),
        "leading": lengths.show(setting.leading, "pt"),
        "weight": face.weight,
        "italic": face.italic,
        "align": setting.align,
        "indent": lengths.show(setting.indent_first, "pt"),
        "grid": setting.grid,
        "before": lengths.show(setting.space_before, "pt"),
        "after": lengths.show(setting.space_after, "pt"),
        "drop": setting.drop_lines if setting.drop_lines > 1 else 0,
        "list": "none"
        if setting.list.kind == "none"
        else "a#)"
        if setting.list.numbers == "a" and setting.list.form == "#)"
        else setting.list.form,
        "flags": {name: bool(getattr(setting, name)) for name in ("hyphenate", "optical", "keep_next", "span")},
        "swatch": face.swatch,
        "tracking": f"{face.tracking:g}",
        "caps": face.caps,
        "figures": face.figures,
        "spec": spec_of_text(live, as_set, span),
        "local_words": local_words(job, cascade, paragraph, show),
        "fallbacks": fallbacks(live, paragraphs[:50]),
        "character_style": span.style if span and span.style else "",
        "words_local": bool(span and span.type),
        "merit": _merit(live, story_id, begin),
        "style_size": lengths.show(type_.size or 0, "pt"),
        "style_leading": lengths.show(para.leading or 0, "pt"),
        "type_local": bool(own.size or own.family),
        "raw": {"type": asdict(face), "para": asdict(setting)},
        "below": {
            "type": asdict(cascade.type_of(as_set, replace(words, type=None)) if words else type_),
            "para": asdict(para),
        },
        "own": {"para": set_by_hand(paragraph.para), "type": set_by_hand(words.type if words else paragraph.type)},
        "sections": sections_of(live, face, setting),
        "features": features_offered(live, face),
    }


def _settable(code: Code) -> dict[str, bool]:
    """Return what can be set of a code of its kind."""
    kind = code.symbology
    return {"levels": bool(kind.most_by_level), "addons": kind.addon, "bars": not kind.message}


def _code_content(code: Code, rect: Rect) -> dict[str, Any]:
    """Return what a code says, and in which parts; and how large its modules are."""
    message = read(code.text) if code.symbology.message else None
    return {
        "form": code.form,
        "text": code.text,
        "message": asdict(message) if message else None,
        "told": _describe_code(code),
        "size": _module_size(code, rect),
    }


def _module_size(code: Code, rect: Rect) -> str:
    try:
        stands = fitted(code, rect)
    except CodeError as error:
        return str(error)
    module, quiet = stands.module / 72 * 25.4, stands.quiet / 72 * 25.4
    full = code.symbology.full
    of = f", {100 * module / full:.0f} % of full size" if full else ""
    return f"modules of {module:.2f} mm{of}; {quiet:.1f} mm kept free beside them"


def _stands(job: Job, key: str) -> str:
    """Return the position of an anchored frame: "" in its line."""
    if key not in job.inlays:
        return ""
    paragraphs = (p for story in job.stories.values() for p in story.paragraphs)
    return next((one.form for one in anchors_in(paragraphs) if one.kind == "frame" and one.ref == key), "")


def _describe_code(code: Code) -> str:
    """In one line, as an article number is printed or a message is called."""
    if code.symbology.message:
        message = read(code.text)
        first = next(iter(message.parts.values()), "")
        return f"{PARTS[message.kind][0]}: {first[:60]}"
    return code.text + (f" + {code.addon}" if code.addon else "")


def _cited(live: OpenJob, story: Story) -> Citation | None:
    """Return how a note is cited; None for other stories."""
    if story.kind != "note":
        return None
    counted = (live.workspace.composition.notes.numbers(key) for key in live.job.stories)
    return next((numbers[story.id] for numbers in counted if story.id in numbers), None)


def _heading(live: OpenJob, story: Story) -> str:
    """Return what words are, where no frame says it: a note by its number, or by its kind; a cell by its row and
    place."""
    if (cell := cell_of(story.id)) is not None:
        return f"Cell {cell[2] + 1} of row {cell[1] + 1}"
    cited = _cited(live, story)
    if cited is None:
        return "Note" if story.kind == "note" else ""
    return f"Note {cited.number}" if cited.number else f"Note of the kind “{cited.kind.name}”"


def _note(live: OpenJob, story: Story) -> dict[str, str] | None:
    cited = _cited(live, story)
    return {"id": story.id, "kind": cited.kind.id, "place": cited.kind.place} if cited is not None else None


def _outline_word(frame: Object) -> str:
    """A frame's outline as the slip offers it: ``box``, ``ellipse``, a regular polygon by its corners, else ``own``."""
    outline = frame.outline
    if outline is None or outline.kind == "ellipse":
        return "ellipse" if outline else "box"
    if outline.kind == "box":
        return "box"
    if star_depth(outline.points):
        return "star"
    sides = len(outline.points)
    return str(sides) if sides in (3, 4, 6) and outline.points == regular_polygon(sides) else "own"


def _merit(live: OpenJob, story_id: str, index: int) -> str:
    """Return the number of lines and hyphens of a paragraph in words; "" if its story is in no frame."""
    flow = live.workspace.composition.flows.get(story_id)
    if flow is None or index >= len(flow):
        return ""
    lines = [
        line
        for column in flow.columns
        for block in column.blocks
        if block.paragraph == index
        for line in flow.lines(index, block.measure, block.base)[block.first_line : block.last_line]
    ]
    quality = merit(lines)
    hyphens = f"{quality.hyphens} hyphen{'' if quality.hyphens == 1 else 's'}"
    count = f"{quality.lines} line{'' if quality.lines == 1 else 's'}"
    return f"{count}, {hyphens}" if lines else ""


def _fitted(flow: StoryFlow | None) -> str:
    """The size and leading that a frame that fits its text to itself has set the first words in; "" for other
    frames."""
    if flow is None or not isinstance(flow.cascade, ScaledCascade) or not len(flow):
        return ""
    first = flow.paragraphs[0].shown.paragraph
    size, leading = (
        flow.cascade.type_of(first, first.spans[0] if first.spans else None).size,
        flow.cascade.setting(first).leading,
    )
    return f"{size:.2f}".rstrip("0").rstrip(".") + " pt on " + f"{leading:.2f}".rstrip("0").rstrip(".") + " pt"


def _overset(live: OpenJob, flow: StoryFlow | None, page: int, frame: Object) -> str:
    """Return how much text has no room, at the frame where that shows."""
    if flow is None or not flow.overset or not flow.filled:
        return ""
    slot = flow.filled[-1].columns[-1].slot
    if (slot.page, slot.frame) != (page, frame.id):
        return ""
    left = overset_of(flow)
    return f"{left.long} {left.fits}" if left is not None else ""
