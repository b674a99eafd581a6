"""Whatever is set, however it is combined: every word stands on the page once and in order, within its column; what is
brought up to date edit by edit is what is composed anew; one undo brings back what was there; a PDF can be made of
it."""

from __future__ import annotations

import io
import re
import unicodedata
from collections import Counter
from dataclasses import replace
from datetime import datetime, timezone
from itertools import pairwise

import pikepdf
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from lexigon.core.document.cascade import LOOKS
from lexigon.core.document.model import FrameSpec, Object, Paragraph, ParaSpec, RuleStyle, Span, Stroke, TypeSpec, Wrap
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.editing.intents import (
    AddShape,
    AddTextFrame,
    ChangeFrame,
    FormatText,
    Place,
    PourText,
    PutStyle,
    SetParagraphs,
)
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book, examples, words
from tests.core.strategies import frames, paras, types

WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)
TEXTS = (
    words(40),
    "Dunlin\t4,120\tLow water\t9.5",
    "A line ended here\u2028and another, “quoted” (in part)—then more " + words(25),
    "",
    "Unbreakablywordsthatnocolumncanholdinoneline " + words(12),
    words(70),
)
some_texts = st.lists(st.sampled_from(TEXTS), min_size=2, max_size=5)
some_shapes = st.builds(
    Wrap,
    sides=st.sampled_from(["both", "left", "right", "largest", "jump"]),
    offsets=st.just((4.0,) * 4),
    outline=st.booleans(),
)
relaxed = settings(
    deadline=None, max_examples=examples(16), suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)


def desk_of(texts: list[str], made: list[tuple[TypeSpec, ParaSpec]], frame: Object, wrap: Wrap) -> Workspace:
    """A text in a frame of several columns with a shape in its way, and in the main frame too."""
    job = book()
    job.rule_styles["hair"] = RuleStyle("hair", "Hairline", None, Stroke(0.25))
    workspace = Workspace(job)
    paragraphs = tuple(
        Paragraph(f"p{n}", "body", text, (Span(2, 7, style="emphasis"),) if len(text) > 9 else (), para, type_)
        for n, (text, (type_, para)) in enumerate(zip(texts, made, strict=False))
    )
    page = workspace.job.pages[0].id
    workspace.do(PourText("main", paragraphs), AddTextFrame(page, Rect(40, 60, 260, 340), text="x"))
    own = workspace.job.pages[0].frames[-1]
    workspace.do(
        PourText(
            own.story or "", tuple(Paragraph(f"q{p.id}", p.style, p.text, p.spans, p.para, p.type) for p in paragraphs)
        )
    )
    spec = replace(frame.make, wrap=None)
    workspace.do(ChangeFrame(page, own.id, spec=spec, rotation=frame.rotation, outline=frame.outline))
    workspace.do(AddShape(page, Rect(120, 180, 90, 90), frame.outline, FrameSpec(wrap=wrap)))
    return workspace


def painted(workspace: Workspace) -> list[str]:
    display = Display(workspace.composition)
    return [svg_of(display.page(index).items()) for index in range(len(workspace.job.pages))]


def check_words(flow: StoryFlow) -> None:
    """The lines of each paragraph follow on each other from its first character to its last, as far as there is
    room."""
    at, offset = 0, 0
    for column in flow.columns:
        for block in column.blocks:
            found = flow.paragraphs[block.paragraph]
            lines = flow.lines(block.paragraph, block.measure, block.base)
            if block.first_line >= block.last_line:
                continue
            if block.paragraph != at:
                assert offset >= len(flow.paragraphs[at].shown.paragraph.text), (
                    "a paragraph ends before the next begins"
                )
                assert block.paragraph == at + 1
                at, offset = block.paragraph, 0
            text = found.shown.paragraph.text
            if offset < len(text) and text[offset] == LINE_BREAK:
                offset += 1
            initial = found.initial.end if found.initial and offset == 0 else 0
            assert lines[block.first_line].start == max(offset, initial)
            for line, following in pairwise(lines[block.first_line : block.last_line]):
                assert line.start <= line.end <= line.next
                assert following.start == line.next + (text[line.next : line.next + 1] == LINE_BREAK)
            last = lines[block.last_line - 1]
            offset = len(text) if block.last_line == len(lines) else last.next


def check_places(flow: StoryFlow) -> None:
    """Baselines go down a column, and nothing that is justified ends beyond its measure."""
    for column in flow.columns:
        before: dict[tuple[float, float], float] = {}
        for block in column.blocks:
            setting = flow.paragraphs[block.paragraph].setting
            for number in range(block.first_line, block.last_line):
                line = flow.lines(block.paragraph, block.measure, block.base)[number]
                place = (column.slot.rect.x, line.left) if not block.base and setting.split == 1 else (-1.0, -1.0)
                if setting.split == 1 and not line.measure:
                    assert block.at(number) > before.get(place, -1e9) - 1e-6
                    before[place] = block.at(number)
                if line.stretches and line.ratio >= -1:
                    width = line.measure or column.slot.rect.width
                    assert line.width <= width + 60, "as far as its spaces can close"


@relaxed
@given(some_texts, st.lists(st.tuples(types, paras), min_size=5, max_size=5), frames, some_shapes)
def test_every_word_once_in_order_and_in_its_place(
    texts: list[str], made: list[tuple[TypeSpec, ParaSpec]], frame: Object, wrap: Wrap
) -> None:
    workspace = desk_of(texts, made, frame, wrap)
    for flow in workspace.composition.flows.values():
        check_words(flow)
        check_places(flow)
    assert all(svg.startswith("<g") or not svg for svg in painted(workspace))


@settings(relaxed, max_examples=examples(8))
@given(some_texts, st.lists(st.tuples(types, paras), min_size=5, max_size=5), frames, some_shapes, types, paras)
def test_an_edit_leaves_what_composing_anew_would(
    texts: list[str], made: list[tuple[TypeSpec, ParaSpec]], frame: Object, wrap: Wrap, type_: TypeSpec, para: ParaSpec
) -> None:
    workspace = desk_of(texts, made, frame, wrap)
    before, shown = plain(workspace.job), painted(workspace)
    first = workspace.job.stories["main"].paragraphs[0]
    change = workspace.do(
        SetParagraphs("main", first.id, first.id, para=para, type=type_),
        FormatText("main", Place(first.id, 0), Place(first.id, len(first.text) // 2), type_),
    )
    assert painted(workspace) == painted(Workspace(workspace.job))
    workspace.run(change.inverse)
    assert plain(workspace.job) == before
    assert painted(workspace) == shown


@settings(relaxed, max_examples=examples(5))
@given(some_texts, st.lists(st.tuples(types, paras), min_size=5, max_size=5), frames, some_shapes, types, paras, frames)
def test_what_is_only_painted_otherwise_is_composed_no_more(
    texts: list[str],
    made: list[tuple[TypeSpec, ParaSpec]],
    frame: Object,
    wrap: Wrap,
    type_: TypeSpec,
    para: ParaSpec,
    drawn: Object,
) -> None:
    workspace = desk_of(texts, made, frame, wrap)
    own = next(f for f in workspace.job.pages[0].frames if f.text and not f.main)
    workspace.do(PutStyle("frame", name="Boxed", frame=FrameSpec(columns=2)))
    *_, boxed = workspace.job.frame_styles
    workspace.do(ChangeFrame(workspace.job.pages[0].id, own.id, style=boxed, clear=True))
    before, shown = plain(workspace.job), painted(workspace)
    columns = [column for flow in workspace.composition.flows.values() for column in flow.columns]
    looks = {
        spec: {name: getattr(of, name) for name in LOOKS[spec]}
        for spec, of in (("type", type_), ("para", para), ("frame", drawn.make))
    }
    change = workspace.do(
        PutStyle("paragraph", "body", type=TypeSpec(**looks["type"]), para=ParaSpec(**looks["para"])),
        PutStyle("character", "emphasis", type=TypeSpec(**looks["type"])),
        PutStyle("frame", boxed, frame=FrameSpec(**looks["frame"])),
        PutStyle("rule", "hair", stroke=Stroke(3.0, "marker", 0.5, (4.0, 2.0))),
    )
    assert painted(workspace) == painted(Workspace(workspace.job))
    kept = [column for flow in workspace.composition.flows.values() for column in flow.columns]
    assert all(a is b for a, b in zip(columns, kept, strict=True))
    workspace.run(change.inverse)
    assert plain(workspace.job) == before
    assert painted(workspace) == shown


@settings(deadline=None, max_examples=examples(6), suppress_health_check=[HealthCheck.too_slow])
@given(some_texts, st.lists(st.tuples(types, paras), min_size=5, max_size=5), frames, some_shapes)
def test_a_pdf_can_be_made_of_it(
    texts: list[str], made: list[tuple[TypeSpec, ParaSpec]], frame: Object, wrap: Wrap
) -> None:
    workspace = desk_of(texts, made, frame, wrap)
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe("print", marks=False), target, WHEN)
    display = Display(workspace.composition)
    with pikepdf.open(target) as pdf:
        assert len(pdf.pages) == len(workspace.job.pages)
        for index, page in enumerate(pdf.pages):
            read = words_in(page.obj, page.resources)
            runs = [run for frame in display.page(index).frames for line in frame.lines for run in line.runs]
            assert letters(read) == letters("".join(run.text for run in runs)), "a reader finds the same letters"


def words_in(content: pikepdf.Object, resources: pikepdf.Object) -> str:
    """The text of a page or a form, and of the forms it paints; states that are saved are restored."""
    depth, read = 0, ""
    meanings: dict[str, str] = {}
    for operands, operator in pikepdf.parse_content_stream(content):
        depth += {"q": 1, "Q": -1}.get(str(operator), 0)
        assert depth >= 0
        if str(operator) == "Tf":
            meanings = meanings_of(resources.Font[str(operands[0])])
        elif str(operator) == "TJ":
            codes = "".join(bytes(part).hex() for part in operands[0] if isinstance(part, pikepdf.String))
            read += "".join(meanings[codes[at : at + 4]] for at in range(0, len(codes), 4))
        elif str(operator) == "Do" and (form := resources.XObject[str(operands[0])]).Subtype == "/Form":
            read += words_in(form, form.get("/Resources", resources))
    assert depth == 0
    return read


def meanings_of(font: pikepdf.Object) -> dict[str, str]:
    """What each glyph of a font stands for, by its code in hexadecimal digits: its ToUnicode map."""
    pairs = re.findall(rb"<([0-9A-Fa-f]{4})> <([0-9A-Fa-f]+)>", font.ToUnicode.read_bytes())
    return {code.decode().lower(): bytes.fromhex(text.decode()).decode("utf-16-be") for code, text in pairs}


def letters(text: str) -> Counter[str]:
    """How often each letter and figure stands there. Where small capitals have one glyph for a capital and its small
    letter, a reader of the file is told one of them."""
    return Counter(c for c in unicodedata.normalize("NFKC", text).casefold() if c.isalnum())
