"""A line over a column that says what the column goes on with: “knot (continued)” above the entries under a term of an index."""

from __future__ import annotations

from lexigon.core.flow.shown import GoesUnder
from lexigon.core.flow.slots import Area
from lexigon.core.flow.story import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.job.cascade import FrameSetting
from lexigon.core.job.model import Paragraph, ParaSpec, Span, TypeSpec
from lexigon.core.type.grid import Grid

ENDLESS = 1e6
AS_OVER = ParaSpec(start="anywhere", space_before=0.0, space_after=0.0, grid=False)
"""What the line has otherwise than its style."""


def line_over(flow: StoryFlow, under: GoesUnder, width: float, setting: FrameSetting) -> StoryFlow:
    """That line, set alone in the styles of a text; its words are cut to what it holds."""
    area = Area(0, "over", "recto", False, Rect(0.0, 0.0, width, ENDLESS), setting)
    words = under.words
    while True:
        text = f"{words} ({under.said})"
        spans = (Span(len(words) + 2, len(text) - 1, type=TypeSpec(italic=True)),)
        p = Paragraph("over", under.style, text, spans, para=AS_OVER)
        made = StoryFlow([p], flow.cascade, flow.library, Grid(), lambda: iter((area,)), 1)
        if len(made.lines(0, width)) < 2 or " " not in words:
            return made
        words = words.rstrip("…").rsplit(" ", 1)[0] + "…"
