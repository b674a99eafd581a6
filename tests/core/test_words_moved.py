"""Words carried, pasted and put in lists: what comes out is what went in, in its new order; undone, it is as before."""

from __future__ import annotations

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.consistency import check
from lexigon.core.document.model import ListMark, Paragraph, ParaSpec, Span, TextTable, TypeSpec
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import AddTextFrame, InsertRich, MoveText, Place, PourText
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.list_marks import list_marks
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.manuscript.richtext import ClipboardText, carried, from_html, to_html
from tests.core.helpers import book, words


def filled(seed: int) -> Workspace:
    chance = random.Random(seed)
    workspace = Workspace(book())
    made = []
    for number in range(6):
        text = words(chance.choice([0, 1, 5, 12]), seed + number)
        end = min(6, len(text))
        spans = (Span(0, end, type=TypeSpec(italic=True)),) if end and chance.random() < 0.5 else ()
        made.append(Paragraph(f"p{number}", chance.choice(["body", "quote"]), text, spans))
    workspace.do(PourText("main", tuple(made)))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(50, 50, 100, 100), text="elsewhere\nthere"))
    return workspace


def texts(workspace: Workspace, story: str = "main") -> str:
    return "\n".join(p.text for p in workspace.job.stories[story].paragraphs)


@settings(max_examples=150, deadline=None)
@given(st.integers(0, 10**6))
def test_carried_words_are_neither_lost_nor_doubled(seed: int) -> None:
    workspace, chance = filled(seed), random.Random(seed)
    other = workspace.job.pages[0].frames[-1].story or ""
    before = plain(workspace.job)
    flat = texts(workspace)

    def place(at: int) -> Place:
        for p in workspace.job.stories["main"].paragraphs:
            if at <= len(p.text):
                return Place(p.id, at)
            at -= len(p.text) + 1
        raise AssertionError

    a, b = sorted((chance.randint(0, len(flat)), chance.randint(0, len(flat))))
    copy = chance.random() < 0.3
    if chance.random() < 0.3:
        to, target = Place(workspace.job.stories[other].paragraphs[0].id, 4), other
        wanted = flat if copy else flat[:a] + flat[b:]
    else:
        c = chance.randint(0, len(flat))
        to, target = place(c), "main"
        left = flat if copy else flat[:a] + flat[b:]
        spot = c if copy or c <= a else c - (b - a)
        wanted = left[:spot] + flat[a:b] + left[spot:]
        if not copy and a <= c <= b:
            with pytest.raises(LexigonError, match="The text is already there"):
                workspace.do(MoveText("main", place(a), place(b), target, to))
            return
    change = workspace.do(MoveText("main", place(a), place(b), target, to, copy))
    assert texts(workspace) == wanted
    if target == other:
        assert texts(workspace, other) == f"else{flat[a:b]}where\nthere"
    check(workspace.job)
    apply_all(workspace.job, change.inverse)
    assert plain(workspace.job) == before


def test_pasted_paragraphs_keep_their_emphasis_and_take_their_surroundings_style() -> None:
    workspace = filled(3)
    story = workspace.job.stories["main"]
    story.paragraphs[0] = Paragraph("p0", "quote", "one two")
    workspace = Workspace(workspace.job)
    new = from_html("<p>a <i>b</i></p><p>c <b>d</b></p><p>e</p>", workspace.job).carried.paragraphs
    workspace.do(InsertRich("main", Place("p0", 4), Place("p0", 7), tuple(new)))
    first, second, third = workspace.job.stories["main"].paragraphs[:3]
    assert (first.text, second.text, third.text) == ("one a b", "c d", "e")
    assert {p.style for p in (first, second, third)} == {"quote"}
    assert first.spans[0].style == "emphasis"
    assert (first.spans[0].start, first.spans[0].end) == (6, 7)
    check(workspace.job)


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6))
def test_what_is_copied_reads_back_as_it_was(seed: int) -> None:
    workspace = filled(seed)
    paragraphs = [p for p in workspace.job.stories["main"].paragraphs if p.text]
    back = from_html(
        to_html(ClipboardText(tuple(paragraphs)), workspace.composition.cascade), workspace.job
    ).carried.paragraphs
    assert [(p.text, p.style, p.spans) for p in back] == [(p.text, p.style, p.spans) for p in paragraphs]


@pytest.mark.parametrize(
    ("html", "text"),
    [
        ("<div>one<div>two</div>three</div>", "one|two|three"),
        ("<p>  many \n  spaces </p>", "many spaces"),
        ("plain &amp; simple", "plain & simple"),
        ("<pre>a\n b</pre>", "a\u2028 b"),
        ("<table role=presentation><tr><td>a</td><td>b</td></tr></table>", "a|b"),
        ("<style>p{}</style><p>x</p>", "x"),
        ("", ""),
        ("<p></p>", ""),
        ("\x00<p>ok</p>", "ok"),
        ('"it\'s" -- so', '"it\'s" -- so'),
        ("<table><tr><td>a<br>b</td></tr></table>", "a\u2028b"),
        ('<p style="white-space: pre-wrap">a  b</p>', "a  b"),
    ],
)
def test_html_of_every_sort(html: str, text: str) -> None:
    assert "|".join(p.text for p in from_html(html, book()).carried.paragraphs) == text


def cells(table: TextTable) -> list[list[tuple[str, int]]]:
    return [[(cell.paragraphs[0].text, cell.across) for cell in row] for row in table.rows]


PASTED = """<h2>Of <i>snow</i></h2><p>One <b>two</b> <a href="https://example.org/a">a link</a><a id="r1" href="#n1"><sup>1</sup></a> and
<a href="#far">far</a>.</p><ul><li>a<ul><li>b</li></ul></li></ul><ol><li>c</li><li id="far">d</li></ol>
<table><tr><th>Pass</th><th colspan=2>Height</th></tr><tr><td>x</td><td>1</td><td>m</td></tr></table>
<p><img src="https://example.org/i.png">end</p><hr><div><p><a id="n1" href="#r1">1</a>. The <i>first</i></p><p>note.</p></div>"""  # noqa: E501


def test_a_paste_is_read_as_a_manuscript_is() -> None:
    workspace = filled(3)
    found = from_html(PASTED, workspace.job)
    assert found.counts["missing"] == 1
    start = Place(workspace.job.stories["main"].paragraphs[0].id, 0)
    before = plain(workspace.job)
    change = workspace.do(
        InsertRich(
            "main", start, start, *(getattr(found.carried, one) for one in ("paragraphs", "notes", "inlays", "tables"))
        )
    )
    check(workspace.job)
    head, text, a, b, c, d, table, end = workspace.job.stories["main"].paragraphs[:8]
    assert head.style == "section"
    assert [s.style for s in head.spans] == ["emphasis"]
    assert [(s.style, s.link) for s in text.spans] == [
        ("strong", ""),
        (None, "https://example.org/a"),
        ("note-number", ""),
        (None, f"#{d.id}"),
    ]
    marks = [p.para.list for p in (a, b, c, d) if p.para and p.para.list]
    assert [(m.kind, m.level) for m in marks] == [("bullet", 1), ("bullet", 2), ("number", 1), ("number", 1)]
    note = workspace.job.stories[text.spans[2].object.ref]
    assert [p.text for p in note.paragraphs] == ["The first", "note."]
    assert note.paragraphs[0].style == "note" in workspace.job.paragraph_styles
    held = workspace.job.tables[table.spans[0].object.ref]
    assert held.heads == 1
    assert cells(held) == [
        [("Pass", 1), ("Height", 2)],
        [("x", 1), ("1", 1), ("m", 1)],
    ]
    assert end.text.startswith("end")
    # copied on into another job, with all of it; and in the same job once more
    for other in (Workspace(book()), workspace):
        first = Place(other.job.stories["main"].paragraphs[0].id, 0)
        again = from_html(
            to_html(carried([text, table], workspace.job), workspace.composition.cascade), other.job
        ).carried
        second = other.do(
            InsertRich("main", first, first, again.paragraphs, again.notes, again.inlays, again.tables, again.pictures)
        )
        check(other.job)
        twice = other.job.stories["main"].paragraphs
        assert cells(other.job.tables[twice[1].spans[0].object.ref]) == cells(held)
        assert [p.text for p in other.job.stories[twice[0].spans[2].object.ref].paragraphs] == ["The first", "note."]
    apply_all(workspace.job, second.inverse)
    apply_all(workspace.job, change.inverse)
    assert plain(workspace.job) == before


@pytest.mark.parametrize(
    "html",
    [
        # a list of contents
        '<p><a id="t" href="#s">1</a></p><div id="s"><h2><a href="#t">1</a></h2><p>words</p></div>',
        '<p>see <a href="#x">2</a></p><p id="x">words</p>',
        '<p id="x">a</p><p><a href="#x">1</a></p>',
        '<p><a id="q" href="#q">1</a></p>',
    ],
)
def test_what_only_looks_like_a_note_is_none(html: str) -> None:
    assert from_html(html, book()).carried.notes == ()


def test_numbers_of_lists_by_level_continued_and_restarted() -> None:
    def item(form: str = "#.", **more: object) -> Paragraph:
        item.count += 1  # type: ignore[attr-defined]
        return Paragraph(f"i{item.count}", "body", "x", para=ParaSpec(list=ListMark("number", form, **more)))  # type: ignore[attr-defined, arg-type]

    item.count = 0  # type: ignore[attr-defined]
    plain_one = Paragraph("z", "body", "between")
    paragraphs = [
        item(),
        item(),
        item("#1.#2", level=2),
        item("#1.#2", level=2),
        item(),
        item("#1.#2", level=2),
        plain_one,
        item(),
        plain_one,
        item(continued=True),
        item("(#)", start=7, numbers="i"),
        item("(#)", numbers="A"),
    ]
    marks, _ = list_marks(paragraphs, Cascade(book()))
    found = [marks[p.id][0] for p in paragraphs if p.id in marks]
    assert found == ["1.", "2.", "2.1", "2.2", "3.", "3.1", "1.", "2.", "(vii)", "(H)"]


def test_a_lists_numbers_follow_what_is_typed_before_them() -> None:
    from lexigon.core.editing.intents import ReplaceText
    from lexigon.core.paint.display import Display

    workspace = Workspace(book())
    sign = ParaSpec(list=ListMark("number", "#."), indent_left=18.0, indent_first=-18.0)
    workspace.do(PourText("main", tuple(Paragraph(f"p{n}", "body", words(4, n), para=sign) for n in range(3))))

    def shown() -> list[str]:
        frame = next(f for f in Display(workspace.composition).page(0).frames if f.frame.main)
        return [line.runs[0].text for line in frame.lines]

    assert shown() == ["1.", "2.", "3."]
    workspace.do(ReplaceText("main", Place("p0", 3), Place("p0", 3), "\n"))
    assert shown() == ["1.", "2.", "3.", "4."]
    first = workspace.job.stories["main"].paragraphs[0]
    workspace.do(ReplaceText("main", Place(first.id, 3), Place(workspace.job.stories["main"].paragraphs[1].id, 0)))
    assert shown() == ["1.", "2.", "3."]
