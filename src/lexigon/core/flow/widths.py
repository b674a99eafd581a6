"""Frames in the text that are wider than the column they are in, as after the trim was made smaller; and scaling them to it."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.flow.composition import Composition
from lexigon.core.job.anchoring import anchors_in
from lexigon.core.job.intents import Scaled, ScaleInlays

SLACK = 0.5
"""Points that a frame may be wider than its column."""


@dataclass(slots=True, frozen=True)
class Wide:
    """A frame in a text that is wider than there is room: ``width`` of its column in points, ``page`` its index."""

    inlay: str
    width: float
    page: int


def too_wide(composition: Composition) -> list[Wide]:
    """The frames in texts that are wider than their column, in the order in which they are read."""
    inlays = composition.job.inlays
    found: list[Wide] = []
    if not inlays:
        return found
    for flow in composition.flows.values():
        holding = {number for number, one in enumerate(flow.paragraphs) if one.boxes}
        if not holding:
            continue
        for column in flow.columns:
            for block in column.blocks:
                if block.paragraph not in holding or block.first_line:
                    continue
                shown = flow.paragraphs[block.paragraph]
                room = column.slot.rect.width - shown.setting.indent_left - shown.setting.indent_right
                for anchor in anchors_in([shown.paragraph]):
                    inlay = inlays.get(anchor.ref) if anchor.kind == "frame" else None
                    if inlay is not None and inlay.rect is not None and inlay.rect.width > room + SLACK:
                        found.append(Wide(inlay.id, room, column.slot.page))
    return found


def scaled_to_columns(composition: Composition) -> ScaleInlays:
    """The intent that scales every frame that is too wide to its column."""
    widths = {one.inlay: one.width for one in too_wide(composition)}
    return ScaleInlays(tuple(Scaled(key, width) for key, width in widths.items()))
