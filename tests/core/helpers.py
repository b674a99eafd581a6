"""Small jobs for tests. The words are drawn from a fixed list, so that a failure can be repeated."""

from __future__ import annotations

import os
import random
from collections.abc import Callable
from pathlib import Path

from fontTools.ttLib import TTFont

from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.setup import Setup, read_setup
from lexigon.core.document.model import Brief, Edges, FrameSpec, Job, Object, Outline, Paragraph, Pose, Span
from lexigon.core.document.starter import new_book
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import PourText
from lexigon.core.flow.model import Block
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.type.fonts import shipped
from lexigon.core.type.paragraph import Measure
from lexigon.core.type.runs import Boxed

WORDS = [
    "the",
    "marsh",
    "keeps",
    "two",
    "clocks",
    "one",
    "is",
    "sun",
    "and",
    "geese",
    "obey",
    "it",
    "other",
    "moon",
    "water",
    "mud",
    "plank",
    "between",
    "creek",
    "observatory",
    "extraordinary",
    "well-known",
    "office",
    "fluffy",
    "waders,",
    "tide;",
    "counting.",
    "shingle",
    "“quoted”",
    "half—dash",
    "redshank’s",
    "saltings",
    "whistling",
    "unfinished",
    "sentences",
    "in",
    "wind",
    "a",
    "of",
    "to",
    "that",
    "was",
    "bird",
    "birds",
    "flock",
    "turning",
    "all",
    "at",
    "once",
    "dark",
    "white",
]


NIGHTLY = bool(os.environ.get("LEXIGON_NIGHTLY"))


def examples(count: int) -> int:
    """How many examples a costly property is tried on: the same ones each time, and new ones, eight times as many, by
    night."""
    return count * 8 if NIGHTLY else count


def words(count: int, seed: int = 1) -> str:
    return " ".join(random.Random(seed).choices(WORDS, k=count))


def book(width: float = 432.0, height: float = 648.0, **more: object) -> Job:
    brief = Brief(width, height, Edges(54, 54, 63, 45), Edges(9, 9, 9, 9), unit="in", **more)  # type: ignore[arg-type]
    return new_book("A test of pages", brief)


def paragraphs(count: int, seed: int = 1) -> tuple[Paragraph, ...]:
    """Body text with chapter headings, section headings and some italics among it."""
    chance = random.Random(seed)
    made = []
    for number in range(count):
        style = "chapter" if number % 23 == 0 else "section" if number % 11 == 5 else "body"
        text = words(4 if style != "body" else chance.choice([1, 6, 20, 45, 80, 130]), seed * 1000 + number)
        spans = (
            (Span(2, min(9, len(text)), style="emphasis"),)
            if style == "body" and len(text) > 9 and number % 4 == 0
            else ()
        )
        made.append(Paragraph(new_id("p"), style, text, spans))
    return tuple(made)


def poured(count: int = 60, seed: int = 1, **more: object) -> Workspace:
    workspace = Workspace(book(**more))  # type: ignore[arg-type]
    workspace.do(PourText("main", paragraphs(count, seed)))
    return workspace


def odd_font(path: Path, change: Callable[[TTFont], object] | None = None) -> Path:
    """A font file of the family that its name says, made from one that ships, with something about it changed."""
    path.parent.mkdir(parents=True, exist_ok=True)
    font = TTFont(shipped().face("Fira Sans").path)
    for number in (16, 1):
        font["name"].setName(path.stem, number, 3, 1, 0x409)
    if change:
        change(font)
    font.save(path)
    return path


def setup(kind: str, /, **values: str) -> Setup:
    """The set-up of a kind of piece, as its form is filled in."""
    made, errors = read_setup({**defaults(kind), **values, "kind": kind})
    assert made is not None, errors
    return made


def shape(name: str, rect: Rect, outline: Outline | None = None, **make: object) -> Object:
    """A shape to stand on a page."""
    return Object(name, place=Pose(rect), outline=outline, make=FrameSpec(**make))  # type: ignore[arg-type]


def cited_by(flow: StoryFlow, index: int, measure: Measure, base: int, first: int, last: int) -> list[str]:
    """The notes that lines ``first`` up to ``last`` of a paragraph cite."""
    carried = flow.burdens(index, measure, base)
    return [ref for line in range(first, last) if line in carried for ref in carried[line].notes]


def tied_to(flow: StoryFlow, block: Block, line: int) -> list[Boxed]:
    """The frames that are tied to a line of a block."""
    carried = flow.burdens(block.paragraph, block.measure, block.base)
    return carried[line].tied if line in carried else []
