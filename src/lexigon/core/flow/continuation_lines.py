"""A line above a column that says what the column continues: “knot (continued)” above the entries under a term of an
index."""

from __future__ import annotations

from lexigon.core.document.cascade import FrameSetting
from lexigon.core.document.model import Paragraph, ParaSpec, Span, TypeSpec
from lexigon.core.flow.areas import Area
from lexigon.core.flow.resolved_text import GoesUnder
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.type.grid import Grid

ENDLESS = 1e6
AS_OVER = ParaSpec(start="anywhere", space_before=0.0, space_after=0.0, grid=False)
"""The local formatting of the line."""


def line_over(flow: StoryFlow, under: GoesUnder, width: float, setting: FrameSetting) -> StoryFlow:
    """The line itself, set by itself in the styles of a story; words that do not fit are left out."""
    area = Area(0, "over", "recto", False, Rect(0.0, 0.0, width, ENDLESS), setting)
    words = under.words
    while True:
        text = f"{words} ({under.text})"
        spans = (Span(len(words) + 2, len(text) - 1, type=TypeSpec(italic=True)),)
        p = Paragraph("over", under.style, text, spans, para=AS_OVER)
        line_flow = StoryFlow([p], flow.cascade, flow.library, Grid(), lambda: iter((area,)), 1)
        if len(line_flow.lines(0, width)) < 2 or " " not in words:
            return line_flow
        words = words.rstrip("…").rsplit(" ", 1)[0] + "…"
