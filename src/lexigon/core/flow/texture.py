"""The texture of set text: what a reader's eye would stumble over.

Loose and tight lines by their ratio (Knuth & Plass); *lakes*, gaps much wider than a space; *rivers*, gaps
that overlap over three lines or more; *ladders* of hyphens; last lines that are short or hold a lone word.
Limits are common practice (no source).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from lexigon.core.document.cascade import Setting
from lexigon.core.document.model import Paragraph, ParaSpec, TypeSpec
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.type.line import LineRun, place_line
from lexigon.core.type.paragraph import LOOSE, Measure, Merit, merit
from lexigon.core.type.runs import runs_of
from lexigon.core.type.set_line import SetLine

LOOSE_FROM, TIGHT_FROM = 1.0, -0.7
LAKE_EMS = 0.62
"""A gap this wide, in ems of its type, is a lake."""
RIVER_LINES = 3
RIVER_SHARE = 0.5
"""Gaps of two lines belong to one river where this part of the narrower one overlaps."""
LADDER = 3
"""So many hyphens in a row are a ladder."""
SHORT_EMS = 2.2
"""A last line shorter than this leaves a hole in the page."""


@dataclass(slots=True, frozen=True)
class PlacedLine:
    """A placed line: its paragraph, whether it is the last one, its position, its ratio, its runs."""

    paragraph: str
    start: int
    last: bool
    first: bool
    x: float
    baseline: float
    ascent: float
    descent: float
    width: float
    ratio: float
    stretches: bool
    size: float
    runs: tuple[LineRun, ...]


@dataclass(slots=True, frozen=True)
class Mark:
    """Something found. ``boxes`` are (x, y, width, height) in points, ``value`` the ratio or a count."""

    kind: str
    paragraph: str
    offset: int
    value: float
    boxes: tuple[tuple[float, float, float, float], ...]


def gaps_of(line: PlacedLine) -> list[tuple[float, float, float]]:
    """The word gaps of a line: left and right edge, and the size of the type around them."""
    gaps: list[tuple[float, float, float]] = []
    for run in line.runs:
        if run.leader:
            continue
        x = run.x
        for part in run.parts:
            if part.space:
                if gaps and abs(gaps[-1][1] - x) < 1e-6:
                    gaps[-1] = (gaps[-1][0], x + part.advance, run.look.size)
                else:
                    gaps.append((x, x + part.advance, run.look.size))
            x += part.advance
    return gaps


def marks_of(columns: Iterable[Sequence[PlacedLine]]) -> list[Mark]:
    """Everything in the lines of some columns, each column's lines from head to foot."""
    marks: list[Mark] = []
    for lines in columns:
        for line in lines:
            marks += _of_line(line)
        marks += _rivers(lines)
        marks += _ladders(lines)
    return marks


def _box(line: PlacedLine) -> tuple[float, float, float, float]:
    right = line.runs[-1].x + line.runs[-1].width if line.runs else line.x
    return (line.x, line.baseline - line.ascent, right - line.x, line.ascent + line.descent)


def _of_line(line: PlacedLine) -> Iterable[Mark]:
    if line.stretches and (line.ratio > LOOSE_FROM or line.ratio < TIGHT_FROM):
        yield Mark("loose" if line.ratio > 0 else "tight", line.paragraph, line.start, line.ratio, (_box(line),))
    if line.stretches:
        lakes = [(a, b) for a, b, size in gaps_of(line) if b - a > LAKE_EMS * size]
        if lakes:
            y, height = line.baseline - line.ascent, line.ascent + line.descent
            yield Mark("lake", line.paragraph, line.start, len(lakes), tuple((a, y, b - a, height) for a, b in lakes))
    if line.last and not line.first and line.runs:
        length = line.runs[-1].x + line.runs[-1].width - line.runs[0].x
        words = "".join(run.text for run in line.runs).split()
        if length < SHORT_EMS * line.size:
            yield Mark("short", line.paragraph, line.start, length, (_box(line),))
        elif len(words) == 1:
            yield Mark("lone word", line.paragraph, line.start, length, (_box(line),))


def _rivers(lines: Sequence[PlacedLine]) -> Iterable[Mark]:
    """Chains of gaps, each overlapping the one above it."""
    open_: list[list[tuple[PlacedLine, tuple[float, float, float]]]] = []
    done: list[list[tuple[PlacedLine, tuple[float, float, float]]]] = []
    for line in lines:
        gaps = gaps_of(line)
        going: list[list[tuple[PlacedLine, tuple[float, float, float]]]] = []
        used: set[int] = set()
        for chain in open_:
            above, (a, b, _) = chain[-1]
            match = None
            if line.baseline - above.baseline < 2.2 * line.size:
                for number, (c, d, _) in enumerate(gaps):
                    shared = min(b, d) - max(a, c)
                    if number not in used and shared > 0 and shared >= RIVER_SHARE * min(b - a, d - c):
                        match = number
                        break
            if match is None:
                done.append(chain)
            else:
                used.add(match)
                going.append([*chain, (line, gaps[match])])
        going += [[(line, gap)] for number, gap in enumerate(gaps) if number not in used]
        open_ = going
    for chain in (*done, *open_):
        if len(chain) >= RIVER_LINES:
            boxes = tuple((a, at.baseline - at.ascent, b - a, at.ascent + at.descent) for at, (a, b, _) in chain)
            first = chain[0][0]
            yield Mark("river", first.paragraph, first.start, len(chain), boxes)


def _ladders(lines: Sequence[PlacedLine]) -> Iterable[Mark]:
    run: list[PlacedLine] = []
    for line in (*lines, None):
        ends = line is not None and line.runs and line.runs[-1].text[-1:] in "-‐"
        if line is not None and ends:
            run.append(line)
            continue
        if len(run) >= LADDER:
            boxes = tuple(
                (x + width - 0.4 * at.size, y, 0.5 * at.size, height)
                for at, (x, y, width, height) in ((one, _box(one)) for one in run)
            )
            yield Mark("ladder", run[0].paragraph, run[0].start, len(run), boxes)
        run = []


@dataclass(slots=True, frozen=True)
class Numbers:
    """A story in figures, of its justified lines."""

    lines: int
    mean: float
    loose: int
    very_loose: int
    tight: int
    hyphens: int
    fitted: int


def numbers_of(flow: StoryFlow) -> Numbers:
    """Over all lines that have a place."""
    lines: list[SetLine] = []
    for filled in flow.filled:
        for column in filled.columns:
            for block in column.blocks:
                if flow.unbroken(block.paragraph):
                    continue  # rows of a table
                lines += flow.lines(block.paragraph, block.measure, block.base)[block.first_line : block.last_line]
    inner = [line for line in lines if line.stretches]
    return Numbers(
        len(lines),
        sum(abs(line.ratio) for line in inner) / len(inner) if inner else 0.0,
        sum(line.ratio > LOOSE_FROM for line in inner),
        sum(line.ratio > LOOSE for line in inner),
        sum(line.ratio < TIGHT_FROM for line in inner),
        sum(line.hyphen for line in lines),
        sum(line.letters != 0 for line in inner),
    )


@dataclass(slots=True, frozen=True)
class Remedy:
    """A change of one paragraph and what it would be like then."""

    words: str
    para: ParaSpec | None
    type: TypeSpec | None
    merit: Merit


def remedies_for(flow: StoryFlow, index: int, measure: Measure, kind: str = "") -> tuple[Merit, list[Remedy]]:
    """The paragraph as it is at its measure, and what it may be changed to, best first. Beside an obstacle its lines
    are tried at the widths they have now.

    Only what makes it better is offered: fewer marks of the ``kind`` that was found without a much looser line, or
    without a kind a better loosest line and mean.
    """
    set_paragraph = flow.paragraphs[index]
    tracking = flow.cascade.type_of(set_paragraph.paragraph).tracking
    now, marks = _try_remedy(flow, index, measure, set_paragraph.setting, set_paragraph.shown.paragraph, kind)
    offers: list[Remedy] = []
    for words, para, type_ in (
        ("a line longer", ParaSpec(looseness=set_paragraph.setting.looseness + 1), None),
        ("a line shorter", ParaSpec(looseness=set_paragraph.setting.looseness - 1), None),
        ("letters 1 % of an em closer", None, TypeSpec(tracking=tracking - 10)),
        ("letters 1 % of an em apart", None, TypeSpec(tracking=tracking + 10)),
        ("letters ½ % of an em closer", None, TypeSpec(tracking=tracking - 5)),
        ("letters ½ % of an em apart", None, TypeSpec(tracking=tracking + 5)),
    ):
        setting = replace(set_paragraph.setting, looseness=para.looseness or 0) if para else set_paragraph.setting
        paragraph = set_paragraph.shown.paragraph
        if type_ is not None:
            own = replace(paragraph.type or TypeSpec(), tracking=type_.tracking)
            paragraph = replace(paragraph, type=own)
        after, left = _try_remedy(flow, index, measure, setting, paragraph, kind)
        if para is not None and after.lines == now.lines:
            continue
        better = (after.loosest, after.mean) < (now.loosest, now.mean)
        if kind in PATTERNS:
            better = left < marks and after.loosest <= max(now.loosest, LOOSE)
        if better:
            offers.append(Remedy(words, para, type_, after))
    offers.sort(key=lambda remedy: remedy.merit.loosest + remedy.merit.mean)
    return now, offers


PATTERNS = ("river", "lake", "ladder", "short", "lone word")
"""What is a matter of where lines end, not of how loose they are."""


def _try_remedy(
    flow: StoryFlow, index: int, measure: Measure, setting: Setting, paragraph: Paragraph, kind: str
) -> tuple[Merit, int]:
    """A paragraph's figures of merit if it were set so, and how many marks of a kind it would have."""
    set_paragraph = flow.paragraphs[index]
    text, runs = runs_of(flow.cascade, flow.library, paragraph)
    lines = set_paragraph.broken(text, runs, setting, measure)
    widest = max(width for _, width in measure) if isinstance(measure, tuple) else measure
    if kind not in PATTERNS:
        return merit(lines), 0
    placed_lines = []
    for number, line in enumerate(lines):
        own = tuple(place_line(text, runs, line, setting, 0.0, widest))
        placed_lines.append(
            PlacedLine(
                "",
                line.start,
                number == len(lines) - 1,
                number == 0,
                own[0].x if own else 0.0,
                number * setting.leading,
                set_paragraph.ascent,
                set_paragraph.descent,
                line.measure or widest,
                line.ratio,
                line.stretches,
                set_paragraph.size,
                own,
            )
        )
    return merit(lines), sum(mark.kind == kind for mark in marks_of([placed_lines]))
