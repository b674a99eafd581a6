"""The lines of a page as texture looks at them: placed, each column for itself."""

from __future__ import annotations

from lexigon.core.flow.composition import Composition
from lexigon.core.flow.texture import PlacedLine
from lexigon.core.type.line import place_line
from lexigon.core.type.runs import runs_of


def placed_columns(composition: Composition, page: int) -> list[list[PlacedLine]]:
    """Every column of flowing text on a page, its lines in order. Offsets are the paragraphs' own."""
    columns: list[list[PlacedLine]] = []
    for story_id, column in composition.columns_on(page):
        flow, area = composition.flows[story_id], column.slot.rect
        lines: list[PlacedLine] = []
        for block in column.blocks:
            if flow.unbroken(block.paragraph):
                continue  # a table has no texture
            set_paragraph = flow.paragraphs[block.paragraph]
            text, runs = runs_of(flow.cascade, flow.library, flow.set_as(block.paragraph, block.measure, block.base))
            all_lines = flow.lines(block.paragraph, block.measure, block.base)
            for number in range(block.first_line, min(block.last_line, len(all_lines))):
                line = all_lines[number]
                placed_runs = tuple(place_line(text, runs, line, set_paragraph.setting, area.x, area.width))
                lines.append(
                    PlacedLine(
                        set_paragraph.paragraph.id,
                        set_paragraph.shown.source(line.start),
                        number == len(all_lines) - 1,
                        number == 0 and block.base == 0,
                        placed_runs[0].x if placed_runs else area.x,
                        block.at(number),
                        set_paragraph.ascent,
                        set_paragraph.descent,
                        line.measure or area.width,
                        line.ratio,
                        line.stretches,
                        set_paragraph.size,
                        placed_runs,
                    )
                )
        columns.append(lines)
    return columns
