"""Mark-up rules: what they find, that words never change, that a rule switched off leaves no trace, and that typing
under rules comes out as composing anew does."""

from __future__ import annotations

import random
import re
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.document.model import (
    CharacterStyle,
    Marking,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    Span,
    Swatch,
    TypeSpec,
)
from lexigon.core.editing.edits import put
from lexigon.core.editing.intents import Place, PourText, ReplaceText, SetParagraphs
from lexigon.core.editing.intents.text.rewriting import Rewrite
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.workspace import Workspace
from lexigon.core.markup.marker import Marker, MarkingError, done_once, finder, stretches
from lexigon.core.markup.notation import read_rule, write_rule
from lexigon.core.paint.display import Display
from lexigon.core.paint.page import FrameArt
from tests.core.helpers import book


def ruled(*lines: str, texts: list[tuple[str, str]] | None = None) -> Workspace:
    """A job with styles of every kind, a text, and rules."""
    workspace = Workspace(book())
    job = workspace.job
    for key, name in (("chapter", "Chapter heading"), ("summary", "Summary"), ("odd", "Verse, or song")):
        job.paragraph_styles[key] = ParagraphStyle(
            key, name, "body", type=TypeSpec(size=14.0 if key == "chapter" else 9.0)
        )
    for key, name in (("query", "Query"), ("strong", "Strong"), ("small", "Set small")):
        spec = {"query": TypeSpec(underline=True), "strong": TypeSpec(weight=700), "small": TypeSpec(caps="small")}[key]
        job.character_styles[key] = CharacterStyle(key, name, type=spec)
    job.swatches["marker"] = Swatch("marker", "Marker red", "cmyk", (0.0, 0.9, 0.8, 0.0))
    texts = texts or [("body", "x")]
    for n, line in enumerate(lines):
        job.markings[f"r{n}"] = read_rule(line, job, f"r{n}")
    workspace = Workspace(job)
    workspace.do(PourText("main", tuple(Paragraph(f"p{n}", style, text) for n, (style, text) in enumerate(texts))))
    return workspace


def shown(workspace: Workspace) -> list[Paragraph]:
    assert workspace.composition.main
    return [p.shown.paragraph for p in workspace.composition.main.paragraphs]


def looks(p: Paragraph) -> list[tuple[str, str | None]]:
    return [(p.text[span.start : span.end], span.style) for span in p.spans]


LINES = [
    'in Body, from "[" through "]": Query, in colour Marker red',
    'between "(" and ")": Set small',
    'up to ":": Strong',
    'through "—", once: Strong',
    'from "†": hidden',
    'after ": ": Query',
    "after Chapter heading: Summary",
    "in Body, after Chapter heading, 2 paragraphs: Summary, plain",
    "before Chapter heading: Query",
    "in Body or Summary, first of each run: Summary",
    "number 3 of each run: Strong",
    "last of each run: plain",
    "first word: Strong",
    "in Body, first 3 words: Set small",
    "last 2 sentences: Query",
    "after Chapter heading, first 2 lines: Set small",
    "first line: Strong",
    "first 5 characters: Strong",
    r'like "\b[A-Z]{2,}\b", 2 times: Set small',
    "in “Verse, or song”: Summary",
    "anywhere: in colour Marker red",
    r'from "\"" through "\"": Query',
]


def test_after_a_mark_has_a_former_word_and_a_style_of_that_name_comes_first() -> None:
    job = ruled().job
    assert read_rule('behind ":": Query', job, "r") == read_rule('after ":": Query', job, "r", 'behind ":": Query')
    assert read_rule('after "Chapter heading": Query', job, "r").place == "after"
    rule = read_rule('behind "Chapter heading": Query', job, "r")
    assert (rule.stretch, write_rule(rule, job)) == ("from", 'behind "Chapter heading": Query')


@pytest.mark.parametrize("line", LINES)
def test_a_line_is_the_rule_that_it_says(line: str) -> None:
    job = ruled().job
    rule = read_rule(line, job, "r")
    assert write_rule(rule, job) == line
    assert read_rule(write_rule(rule, job), job, "r") == rule
    job.markings["r"] = rule
    assert job_from_json(job_to_json(job)).markings["r"] == rule


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("in Body", "A rule consists of a place"),
        ("in Nowhere: Query", "no paragraph style “Nowhere”"),
        ("in Body: Nowhere", "no paragraph style “Nowhere”"),
        ('like "(": Query', "The regular expression is not valid"),
        ("sideways: Query", "is not understood"),
        ("in Body:", "Type what to apply after the colon"),
        ('from "[" through "]": Summary', "no character style “Summary”"),
        ("in Body: in colour Mauve", "no swatch"),
        ('from "" through "]": Query', "needs both"),
        ("", "A rule consists of a place"),
        ("last line: Query", "Rules for lines can only name the first ones"),
    ],
)
def test_what_is_no_rule_is_said(line: str, words: str) -> None:
    with pytest.raises(MarkingError, match=words):
        read_rule(line, ruled().job, "r")


def test_rules_act_on_what_they_say_in_their_order_and_change_no_word() -> None:
    texts = [
        ("chapter", "One"),
        ("body", "The gist: what [who?] it (all) is."),
        ("body", "NATO and EU. Two. Three."),
        ("chapter", "Two"),
        ("body", "More†gone"),
    ]
    workspace = ruled(
        "after Chapter heading: Summary",
        'in Body, from "[" through "]": Query',
        r'in Body, like "\b[A-Z]{2,}\b": Set small',
        "in Body, last sentence: Strong",
        'from "†": hidden',
        texts=texts,
    )
    made = shown(workspace)
    assert [p.style for p in made] == ["chapter", "summary", "body", "chapter", "summary"]
    assert looks(made[1]) == [("[who?]", "query"), ("it (all) is.", "strong")]
    assert looks(made[2]) == [("NATO", "small"), ("EU", "small"), ("Three.", "strong")]
    assert made[4].text == "More"
    assert [p.text for p in workspace.job.stories["main"].paragraphs] == [text for _, text in texts]
    found = workspace.composition.main.paragraphs[4]  # type: ignore[union-attr]
    assert [found.shown.to_shown(at) for at in (3, 4, 9)] == [3, 4, 4], (
        "the caret in what is hidden stands where it would be"
    )
    before = job_to_json(Workspace(job_from_json(job_to_json(workspace.job))).job)
    for rule in list(workspace.job.markings.values()):
        workspace.run(
            [
                put(
                    "markings",
                    Marking(
                        rule.id,
                        rule.name,
                        False,
                        **{k: getattr(rule, k) for k in ("styles", "stretch", "begin", "end")},
                    ),
                )
            ]
        )
    assert shown(workspace) == workspace.job.stories["main"].paragraphs, "switched off they leave no trace"
    assert before != job_to_json(workspace.job)


def test_a_rule_done_once_is_as_if_set_by_hand_and_a_hidden_one_is_refused() -> None:
    texts = [("chapter", "One"), ("body", "The [gist]."), ("body", "No.")]
    workspace = ruled(texts=texts)
    rule = read_rule('in Body, from "[" through "]": Query', workspace.job, "r")
    assert [(p.id, p.text[a:b]) for _, p, a, b in stretches(rule, workspace.job)] == [("p1", "[gist]")]
    workspace.do(Rewrite(done_once(rule, workspace.job)))
    assert looks(workspace.job.stories["main"].paragraphs[1]) == [("[gist]", "query")]
    assert done_once(rule, workspace.job) == {}, "done twice it changes nothing"
    workspace.do(Rewrite(done_once(read_rule("after Chapter heading: Summary", workspace.job, "r"), workspace.job)))
    assert [p.style for p in workspace.job.stories["main"].paragraphs] == ["chapter", "summary", "body"]
    with pytest.raises(MarkingError, match="hidden"):
        done_once(read_rule('from "(": hidden', workspace.job, "r"), workspace.job)


def test_by_hand_stays_under_a_rule_unless_it_is_plain() -> None:
    italic = Span(4, 6, type=TypeSpec(italic=True))
    workspace = ruled()
    p = Paragraph("p", "body", "One [two] three", (italic,), ParaSpec(align="right"))
    for line, kept in (("in Body: Strong", True), ("in Body: Strong, plain", False)):
        rule = read_rule(line, workspace.job, "r")
        workspace.job.markings = {"r": rule}
        marker = Marker(workspace.job)
        made = marker.marked(p, marker.acting([p], 0))
        assert any(span.type and span.type.italic for span in made.spans) is kept
        assert (made.para is not None) is kept


def test_a_pattern_that_takes_too_long_does_nothing_and_says_so_where_it_is_written() -> None:
    slow = Marking("r", "slow", stretch="pattern", begin=r"(a+)+\1+b")
    assert list(finder(slow)("a" * 3000)) == []
    with pytest.raises(MarkingError, match=r"takes more than 0\.05 seconds in “Once aaa"):
        list(finder(slow, strict=True)("Once " + "a" * 3000))


@given(st.text(alphabet="ab .!?[]():", max_size=40), st.integers(1, 4))
def test_stretches_against_plain_expressions(text: str, amount: int) -> None:
    def found(**said: Any) -> list[str]:
        return [text[a:b] for a, b in finder(Marking("r", "r", **said))(text)]

    words = [m.span() for m in re.finditer(r"\S+", text)]
    assert found(stretch="first", amount=amount) == (
        [text[words[0][0] : words[min(amount, len(words)) - 1][1]]] if words else []
    )
    assert found(stretch="last", amount=amount) == (
        [text[words[-min(amount, len(words))][0] : words[-1][1]]] if words else []
    )
    assert found(stretch="between", begin="[", end="]") == re.findall(r"\[.*?\]", text)
    assert found(stretch="between", begin="(", end=")", with_marks=False) == re.findall(r"\((.*?)\)", text)
    assert found(stretch="pattern", begin="a+b") == re.findall("a+b", text)
    assert found(stretch="up to", end=":", with_marks=False) == (
        [text[: text.index(":")]] if text.find(":") > 0 else []
    )


@pytest.mark.parametrize("seed", range(6))
def test_typing_under_rules_comes_out_as_composing_anew(seed: int) -> None:
    rng = random.Random(seed)
    styles = ["body", "body", "chapter", "summary"]
    texts = [
        (
            rng.choice(styles),
            " ".join(rng.choice(["tide", "MUD", "[who]", "mud.", "hide:"]) for _ in range(rng.randrange(1, 30))),
        )
        for _ in range(40)
    ]
    workspace = ruled(
        "after Chapter heading, 2 paragraphs: Summary",
        "before Chapter heading: Query",
        "number 2 of each run: Strong",
        'from "[" through "]": hidden',
        "last of each run: Set small",
        'like "MUD": Strong',
        texts=texts,
    )
    for _ in range(12):
        paragraphs = workspace.job.stories["main"].paragraphs
        p = rng.choice(paragraphs)
        at = rng.randrange(len(p.text) + 1)
        what = rng.randrange(4)
        if what == 0:
            workspace.do(ReplaceText("main", Place(p.id, at), Place(p.id, at), rng.choice(["[", "]", "MUD ", "x"])))
        elif what == 1:
            workspace.do(ReplaceText("main", Place(p.id, at), Place(p.id, at), "\n"))
        elif what == 2:
            workspace.do(SetParagraphs("main", p.id, p.id, style=rng.choice(styles)))
        else:
            other = paragraphs[min(paragraphs.index(p) + 1, len(paragraphs) - 1)]
            places = sorted([(paragraphs.index(p), at), (paragraphs.index(other), len(other.text) // 2)])
            begin, end = (Place(paragraphs[i].id, o) for i, o in places)
            workspace.do(ReplaceText("main", begin, end, ""))
        anew = Composition(workspace.job)
        assert anew.main
        assert workspace.composition.main
        assert [found.shown for found in workspace.composition.main.paragraphs] == [
            found.shown for found in anew.main.paragraphs
        ]
        assert [c.slot.page for c in workspace.composition.main.columns] == [c.slot.page for c in anew.main.columns]


def test_rules_of_styles_that_are_gone_do_nothing() -> None:
    workspace = ruled("in Body: Query", texts=[("body", "Word")])
    del workspace.job.character_styles["query"]
    again = Workspace(job_from_json(job_to_json(workspace.job)))
    assert shown(again) == again.job.stories["main"].paragraphs


@given(
    st.lists(
        st.sampled_from(
            [
                "a",
                "ab",
                "b?",
                "a*",
                "b+",
                r"\b",
                r"\w",
                r"\d",
                "^",
                "$",
                "(a|b)",
                "[ab]",
                ".",
                r"\x61",
                "a{0,2}",
                r"\p{L}",
            ]
        ),
        min_size=1,
        max_size=4,
    ),
    st.text(alphabet="ab 1", max_size=12),
)
def test_what_a_rule_needs_leaves_nothing_out(pieces: list[str], text: str) -> None:
    """A paragraph that is passed over for want of letters has nothing that the pattern finds."""
    rule = Marking("r", "r", stretch="pattern", begin="".join(pieces), character_style="query")
    try:
        found = list(finder(rule)(text))
    except MarkingError:
        return
    job = ruled().job
    job.markings = {"r": rule}
    p = Paragraph("p", "body", text)
    marker = Marker(job)
    assert bool(marker.marked(p, marker.acting([p], 0)).spans) == bool(found)


@pytest.mark.parametrize("measure", [120.0, 200.0, 310.0])
def test_first_lines_are_those_that_are_set_whatever_they_are_set_in(measure: float) -> None:
    """What is set so is what stands in the first lines, with words that make it wider or narrower; the rest is as it
    was."""
    text = (
        "The tide turned at six and the hide was full of wardens who had nothing to say to each other, and said it. "
        * 4
    )
    for line, style in (("first 2 lines: Strong", "strong"), ("first line: Set small", "small")):
        workspace = ruled(line, texts=[("body", text.strip()), ("body", "Short.")])
        flow = workspace.composition.main
        assert flow is not None
        lines = flow.lines(0, measure)
        count = 2 if style == "strong" else 1
        made = flow.set_as(0, measure)
        (span,) = [span for span in made.spans if span.style == style]
        left = text[span.end : lines[count - 1].end].split()
        assert span.start == 0
        assert len(left) <= (measure < 150), "where a word fits into a line only as long as it is not set so, it is not"
        assert lines[count].start >= span.end
        assert lines[-1].end == len(text.strip())
        assert flow.set_as(1, measure).spans[0].end == len("Short.")
        assert workspace.job.stories["main"].paragraphs[0].spans == ()


def test_first_lines_follow_what_is_typed_and_are_painted() -> None:
    text = (
        "The tide turned at six and the hide was full of wardens who had nothing to say to each other, and said it. "
        * 3
    )
    workspace = ruled("first line: Strong", texts=[("body", text.strip()), ("body", text.strip())])
    workspace.do(ReplaceText("main", Place("p0", 0), Place("p0", 0), "Now "))
    anew = Composition(workspace.job)
    assert anew.main
    assert workspace.composition.main
    block = workspace.composition.main.columns[0].blocks[0]
    assert workspace.composition.main.set_as(0, block.measure) == anew.main.set_as(0, block.measure)
    page = Display(workspace.composition).page(0)
    frame = max(
        (part for layer in page.layers for part in layer.parts if isinstance(part, FrameArt)),
        key=lambda one: len(one.lines),
    )
    bold = [[run.look.spec.weight for run in line.runs] for line in frame.lines]
    firsts = [n for n, line in enumerate(frame.lines) if line.start == 0]
    assert [set(weights) for n, weights in enumerate(bold) if n in firsts] == [{700}, {700}]
    assert {weight for n, weights in enumerate(bold) if n not in firsts for weight in weights} == {400}
    workspace.run([put("markings", replace(next(iter(workspace.job.markings.values())), on=False))])
    assert workspace.composition.main.set_as(0, block.measure).spans == ()
