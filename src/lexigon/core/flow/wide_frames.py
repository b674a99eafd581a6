"""Frames in the text that are wider than the column they are in, as after the trim was made smaller; and scaling them
to it."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.document.anchors import anchors_in
from lexigon.core.editing.intents import FrameWidth, ScaleInlays
from lexigon.core.flow.composition import Composition

SLACK = 0.5
"""Points that a frame may be wider than its column."""


@dataclass(slots=True, frozen=True)
class Wide:
    """An anchored frame that is wider than its column: ``width`` of the column in points, ``page`` its index."""

    inlay: str
    width: float
    page: int


def too_wide(composition: Composition) -> list[Wide]:
    """The anchored frames that are wider than their column, in reading order."""
    inlays = composition.job.inlays
    wide: list[Wide] = []
    if not inlays:
        return wide
    for flow in composition.flows.values():
        holding = {number for number, one in enumerate(flow.paragraphs) if one.boxes}
        if not holding:
            continue
        for column in flow.columns:
            for block in column.blocks:
                if block.paragraph not in holding or block.first_line:
                    continue
                set_paragraph = flow.paragraphs[block.paragraph]
                room = column.slot.rect.width - set_paragraph.setting.indent_left - set_paragraph.setting.indent_right
                for anchor in anchors_in([set_paragraph.paragraph]):
                    inlay = inlays.get(anchor.ref) if anchor.kind == "frame" else None
                    if inlay is not None and inlay.rect is not None and inlay.rect.width > room + SLACK:
                        wide.append(Wide(inlay.id, room, column.slot.page))
    return wide


def scaled_to_columns(composition: Composition) -> ScaleInlays:
    """The intent that scales every frame that is too wide to its column."""
    widths = {one.inlay: one.width for one in too_wide(composition)}
    return ScaleInlays(tuple(FrameWidth(key, width) for key, width in widths.items()))
