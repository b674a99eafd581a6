"""Decorations below the text of a frame: fill, shading and borders, rules, underlines and strikethroughs."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from typing import Protocol

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.palette import Palette
from lexigon.core.document.cascade import FrameSetting, stroke_of
from lexigon.core.document.model import Box, Job, Object, ParaRule, Stroke
from lexigon.core.document.outlines import outline_path
from lexigon.core.flow.model import BEGIN, Column
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.paint.items import Item, Path, Pen
from lexigon.core.paint.strokes import fill_and_stroke, overprinting, ruled
from lexigon.core.path.shapes import line_path, rect_path
from lexigon.core.path.steps import Steps
from lexigon.core.type.line import LineRun
from lexigon.core.type.runs import looks_of


class Line(Protocol):
    """The interface of a line for rules and underlines."""

    @property
    def paragraph(self) -> str: ...
    @property
    def baseline(self) -> float: ...
    @property
    def x(self) -> float: ...
    @property
    def runs(self) -> tuple[LineRun, ...]: ...


def ground_of(frame: Object, rect: Rect, setting: FrameSetting, palette: Palette) -> list[Item]:
    """A frame's own surface and edge; the surface alone where a picture lies between the two."""
    edge = setting.stroke if frame.picture is None else None
    if not setting.fill.swatch and not (edge and edge.weight):
        return []
    path, even_odd = outline_path(frame.outline, rect)
    items = fill_and_stroke(palette, path, rect, setting.fill, edge, even_odd, setting.way)
    return overprinting(items) if setting.overprint else items


def edge_of(frame: Object, rect: Rect, setting: FrameSetting, palette: Palette) -> list[Item]:
    """The edge of a frame that is drawn over its picture."""
    steps, even_odd = outline_path(frame.outline, rect)
    items = ruled(palette, steps, setting.stroke, even_odd)
    return overprinting(items) if setting.overprint else items


MISSING = Colour("cmyk", (0.0, 0.0, 0.0, 0.45))


def missing_sign(rect: Rect) -> list[Item]:
    """Return the drawing for a missing picture: a crossed box."""
    pen = Pen(0.5, MISSING)
    ends = ((rect.x, rect.y, rect.right, rect.foot), (rect.x, rect.foot, rect.right, rect.y))
    return [Path(rect_path(rect), pen=pen), *(Path(line_path(*end), pen=pen) for end in ends)]


def rules_between(flow: StoryFlow, columns: Sequence[Column], stroke: Stroke, palette: Palette) -> list[Item]:
    """The rules between a frame's columns, as long as the text beside them."""
    items = []
    heads = sorted({column.slot.rect.y for column in columns})
    for head in heads:
        band = [column for column in columns if column.slot.rect.y == head]
        feet = [column.foot(flow) for column in band if column.blocks]
        if len(band) < 2 or not feet:
            continue
        foot = max(feet)
        for left, column in itertools.pairwise(band):
            if column.blocks:
                x = (left.slot.rect.right + column.slot.rect.x) / 2
                items += ruled(palette, line_path(x, head, x, foot), stroke)
    return items


def rule_above_notes(column: Column, palette: Palette) -> list[Item]:
    """The short rule that sets notes off from the text above them, in the colour of the first one. Above what is left
    of a note from another column it crosses the whole of this one (common practice, no source)."""
    kind = column.notes[0].body.kind if column.notes else None
    if kind is None or not kind.rule or not kind.rule_weight:
        return []
    body = column.notes[0].body.flow
    set_paragraph = body.paragraphs[0]
    look = looks_of(body.cascade, body.library, set_paragraph.paragraph).spec
    area, y = column.slot.rect, column.notes[0].top - kind.gap / 2
    across = 1.0 if body.begin != BEGIN else kind.rule
    pen = Pen(kind.rule_weight, palette.colour(look.swatch, look.tint))
    return [Path(line_path(area.x, y, area.x + area.width * across, y), pen=pen)]


def behind_text(flow: StoryFlow, column: Column, lines: Sequence[Line], job: Job, palette: Palette) -> list[Item]:
    """Shading, borders and rules of the paragraphs in a column."""
    items: list[Item] = []
    area = column.slot.rect
    boxes: list[tuple[Box, Rect, int]] = []
    for block in column.blocks:
        set_paragraph = flow.paragraphs[block.paragraph]
        setting = set_paragraph.setting
        if setting.box.fill.swatch or setting.box.stroke != Stroke():
            head, right, foot, left = setting.box.padding
            x0, x1 = area.x + setting.indent_left - left, area.right - setting.indent_right + right
            y0, y1 = block.baseline - set_paragraph.ascent - head, block.foot + set_paragraph.descent + foot
            if boxes and boxes[-1][0] == setting.box and boxes[-1][2] == block.paragraph - 1:
                above = boxes.pop()[1]
                x0, y0, x1 = min(x0, above.x), above.y, max(x1, above.right)
            boxes.append((setting.box, Rect(x0, y0, x1 - x0, y1 - y0), block.paragraph))
        rules = (
            (setting.rule_above, block.first_line == block.base == 0, block.baseline, -1),
            (
                setting.rule_below,
                block.last_line >= flow.line_count(block.paragraph, block.measure, block.base),
                block.foot,
                1,
            ),
        )
        for rule, here, baseline, down in rules:
            if not here or not (rule.stroke.weight or rule.stroke.style):  # as nearly all are: nothing to look up
                continue
            stroke = stroke_of(job, rule.stroke)
            if stroke.weight:
                own = [
                    line for line in lines if line.paragraph == set_paragraph.paragraph.id and line.baseline == baseline
                ]
                steps = _rule(rule, baseline + down * rule.offset, area, own)
                items += ruled(palette, steps, stroke)
    shades = []
    for box, rect, _ in boxes:
        shades += _box(box, rect, stroke_of(job, box.stroke), palette)
    return [*shades, *items]


def _rule(rule: ParaRule, y: float, area: Rect, lines: Iterable[Line]) -> Steps:
    left, right = area.x, area.right
    ends = [(line.x, line.runs[-1].x + line.runs[-1].width) for line in lines if line.runs]
    if rule.across == "text" and ends:
        left, right = min(x for x, _ in ends), max(x for _, x in ends)
    return line_path(left + rule.indent_left, y, right - rule.indent_right, y)


def _box(box: Box, rect: Rect, stroke: Stroke, palette: Palette) -> list[Item]:
    if len(set(box.sides)) == 4:
        return fill_and_stroke(palette, rect_path(rect), rect, box.fill, stroke)
    items = fill_and_stroke(palette, rect_path(rect), rect, box.fill)
    ends = {
        "head": (rect.x, rect.y, rect.right, rect.y),
        "foot": (rect.x, rect.foot, rect.right, rect.foot),
        "left": (rect.x, rect.y, rect.x, rect.foot),
        "right": (rect.right, rect.y, rect.right, rect.foot),
    }
    if stroke.weight:
        for side in box.sides:
            items += ruled(palette, line_path(*ends[side]), stroke)
    return items


def lines_through(runs: Iterable[LineRun], baseline: float, palette: Palette) -> list[Item]:
    """The lines under words and through them, in the words' own colour."""
    items: list[Item] = []
    for run in runs:
        spec, face = run.look.spec, run.look.cut.face
        size = run.look.size / face.upem
        for on, kind, weight, offset, sign in (
            (spec.underline, "underline", spec.underline_weight, spec.underline_offset, -1),
            (spec.strike, "strike", spec.strike_weight, spec.strike_offset, 1),
        ):
            if not on or run.width <= 0:
                continue
            own_weight, own_height = face.lines[kind]
            height = sign * offset if offset else own_height * size
            thick = weight or own_weight * size
            rect = Rect(run.x, baseline - run.look.rise - height - thick / 2, run.width, thick)
            items.append(Path(rect_path(rect), palette.colour(spec.swatch, spec.tint)))
    return items
