"""The publication as plain dataclasses. Lengths in points, origin at a page's top left trim corner.

Attributes that a style or a local setting may leave open are ``None``: "take it from what I am based
on". ``cascade.py`` resolves them. ``serial.py`` writes and reads the JSON form and publishes its schema.

One module a subject; everything is imported from here.
"""

from __future__ import annotations

from lexigon.core.job.model.brief import Brief, Cover, Edges, Fold, Paper
from lexigon.core.job.model.frames import FrameSpec, FrameStyle, Insets, Outline, Wrap
from lexigon.core.job.model.laying import Spec, combined, without
from lexigon.core.job.model.masters import ONE_LAYER, Guide, Layer, Master, Overlay
from lexigon.core.job.model.objects import (
    Group,
    Object,
    Pose,
    Text,
    all_in,
    bounds_of,
    each_frame,
    exchanged,
    found_in,
    frames_in,
    mapped,
)
from lexigon.core.job.model.publication import Job, OwnFont, Page, Section
from lexigon.core.job.model.setting import (
    Box,
    CharacterStyle,
    ListMark,
    ParagraphStyle,
    ParaRule,
    ParaSpec,
    TabStop,
    TypeSpec,
)
from lexigon.core.job.model.surface import Fill, Gradient, RuleStyle, Stop, Stroke, Swatch
from lexigon.core.job.model.text import OBJECT, Anchor, Paragraph, Span, StandingCopy, Story
from lexigon.core.job.model.words import (
    FORMAT,
    MAIN_LAYER,
    SIDES,
    Align,
    AnchorKind,
    Binding,
    Caps,
    FieldKind,
    Figures,
    FirstLine,
    Kind,
    NumberStyle,
    Side,
    Start,
    StoryKind,
    TabAlign,
    Unit,
    Vertical,
)

__all__ = [
    "Align",
    "AnchorKind",
    "StoryKind",
    "Binding",
    "Box",
    "Brief",
    "Caps",
    "CharacterStyle",
    "Cover",
    "Edges",
    "FORMAT",
    "Anchor",
    "FieldKind",
    "Figures",
    "Fill",
    "FirstLine",
    "Fold",
    "FrameSpec",
    "FrameStyle",
    "Guide",
    "Insets",
    "Job",
    "Kind",
    "ListMark",
    "Master",
    "NumberStyle",
    "OBJECT",
    "Outline",
    "Overlay",
    "OwnFont",
    "Page",
    "Paper",
    "ParaRule",
    "ParaSpec",
    "Paragraph",
    "ParagraphStyle",
    "RuleStyle",
    "SIDES",
    "Section",
    "Side",
    "Span",
    "Spec",
    "StandingCopy",
    "Start",
    "Story",
    "Stroke",
    "Swatch",
    "TabAlign",
    "TabStop",
    "TypeSpec",
    "Unit",
    "Vertical",
    "Wrap",
    "combined",
    "without",
    "Gradient",
    "Group",
    "Stop",
    "Layer",
    "MAIN_LAYER",
    "ONE_LAYER",
    "Object",
    "Pose",
    "Text",
    "all_in",
    "bounds_of",
    "each_frame",
    "exchanged",
    "found_in",
    "frames_in",
    "mapped",
]
