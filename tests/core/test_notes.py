"""Notes that divide, stand in the margin, are numbered in kinds, and are gathered."""

from __future__ import annotations

import random
from dataclasses import replace
from itertools import pairwise, product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.check.findings import findings_of
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Listing, ListingSource, NoteKind, Paragraph
from lexigon.core.editing import intents as do
from lexigon.core.editing.edits import EditError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.model import Column
from lexigon.core.flow.note_layout import Note, NoteBody
from lexigon.core.flow.notes import sign
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Path
from tests.core.helpers import book, cited_by, examples, words
from tests.core.test_objects_in_texts import at, cited_in, flow_of, note, numbers, set_words, told

PROSE = {"foot_lines": 1, "head_lines": 1, "hyphen_column": True, "grid": False}


def lines_of(note_: Note) -> list[str]:
    """The words of each line that stands of a note."""
    found = []
    flow = note_.body.flow
    for block in note_.blocks:
        text = flow.paragraphs[block.paragraph].shown.paragraph.text
        lines = flow.lines(block.paragraph, block.measure, block.base)
        found += [text[line.start : line.end].strip() for line in lines[block.first_line : block.last_line]]
    return found


def said(workspace: Workspace, ref: str) -> str:
    return "".join("".join(p.text for p in workspace.job.stories[ref].paragraphs).split())


def put_together(columns: list[Column], ref: str) -> str:
    """The characters of a note, without spaces, from all that stands of it, its number left out."""
    found = [line for column in columns for one in column.notes if one.body.ref == ref for line in lines_of(one)]
    return "".join("".join(found).split("\u00a0", 1)[1].split())


def near_the_foot(workspace: Workspace) -> int:
    """A place in the text some lines above the foot of its first column."""
    column = flow_of(workspace).columns[0]
    return flow_of(workspace).lines(0, column.slot.rect.width)[column.blocks[0].last_line - 7].start + 3


def noted(seed: int, notes: list[tuple[int, int]], count: int = 900) -> Workspace:
    """A text of one paragraph with notes of so many words at these places."""
    workspace, p = set_words(words(count, seed), **PROSE)
    for offset, length in sorted(notes, reverse=True):
        note(workspace, p, offset, words(length, length))
    return workspace


places = st.lists(st.tuples(st.integers(0, 4200), st.integers(1, 400)), max_size=7, unique_by=lambda pair: pair[0])


@settings(max_examples=examples(25), deadline=None)
@given(st.integers(0, 5), places, st.sampled_from(["", "goes on overleaf"]))
def test_a_divided_note_is_all_there_begins_where_it_is_cited_and_goes_on_in_the_next_column(
    seed: int, notes: list[tuple[int, int]], goes_on: str
) -> None:
    workspace = noted(seed, notes)
    if kind := next(iter(workspace.job.note_kinds.values()), None):
        workspace.do(do.PutNoteKind(replace(kind, goes_on=goes_on)))
    flow = flow_of(workspace)
    begun: dict[str, int] = {}
    for number, column in enumerate(flow.columns):
        cited = cited_in(flow, column)
        standing = [one.body.ref for one in column.notes]
        owed = [one.ref for one in column.begin.owed]
        assert standing[: len(owed)] == owed[: len(standing)], "what is left of notes comes first"
        for ref in cited:
            begun[ref] = number
        if not owed and column.blocks:
            first, width = column.blocks[0], column.slot.rect.width
            at_head = cited_by(flow, first.paragraph, width, first.base, first.first_line, first.first_line + 1)
            kept = [ref for ref in cited if ref not in at_head] or at_head[:1]
            assert set(kept) <= set(standing), (
                "every note begins below its line, but for those that the line at the head has no room for"
            )
        for one in column.notes:
            assert one.top >= (column.text_foot(flow) or column.slot.rect.y) - 0.01
            assert one.bottom(flow) <= column.slot.rect.foot + 0.01
            assert begun[one.body.ref] <= number
        for above, below in pairwise(column.notes):
            assert below.top == pytest.approx(above.bottom(flow))
            assert (one.body.notice is not None) == bool(goes_on)
            if one.lines is not None and goes_on:  # the words stand under its last line, within what it takes
                assert one.height == pytest.approx(one.body.lines[one.lines - 1][0] + one.body.more)
                assert one.body.more > 5
    for ref in begun:
        assert put_together(flow.columns, ref) == said(workspace, ref)
    assert not flow.end.owed
    assert told(workspace.composition) == told(Composition(workspace.job))


@settings(max_examples=examples(20), deadline=None)
@given(
    st.integers(0, 5),
    st.lists(st.tuples(st.integers(0, 4200), st.integers(1, 14)), max_size=24, unique_by=lambda pair: pair[0]),
)
def test_short_notes_stand_on_one_line_as_far_as_they_have_room_and_columns_take_what_that_leaves(
    seed: int, notes: list[tuple[int, int]]
) -> None:
    """Against laying them out one by one from the widths of their lines alone."""
    workspace = noted(seed, notes)
    if not notes:
        return
    kind = replace(next(iter(workspace.job.note_kinds.values())), together=True, divided=False)
    workspace.do(do.PutNoteKind(kind))
    flow = flow_of(workspace)

    def laid(bodies: list[NoteBody], width: float) -> list[tuple[float, float, float]]:
        """Left edge, right edge and top of each note, from their first line on."""
        made: list[tuple[float, float, float]] = []
        top = below = 0.0
        for body in bodies:
            lines = body.flow.lines(0, width)
            setting, size = body.flow.setting(0), body.flow.paragraphs[0].size
            begin = setting.indent_left + lines[0].indent
            wide = min(lines[0].width, width - setting.indent_right - begin)
            left = made[-1][1] + 1.5 * size if made else 0.0
            one_line = len(lines) == 1 and made and len(bodies[len(made) - 1].flow.lines(0, width)) == 1
            if not (one_line and left + wide <= width - setting.indent_right + 1e-6):
                left, top = begin, below
                below = top + body.height
            made.append((left, left + wide, top))
        return made

    stood = 0
    for column in flow.columns:
        width = column.slot.rect.width
        bodies = [one.body for one in column.notes]
        expected = laid(bodies, width)
        for one, (left, right, top) in zip(column.notes, expected, strict=True):
            line = one.body.flow.lines(0, width)[0]
            assert one.left - column.slot.rect.x + one.body.flow.setting(0).indent_left + line.indent == pytest.approx(
                left
            )
            assert one.top - column.notes[0].top == pytest.approx(top)
            assert one.bottom(flow) <= column.slot.rect.foot + 0.01
            if len(one.body.lines) == 1:
                assert right <= width + 0.01
        for one, other in pairwise(column.notes):
            if one.top == other.top:
                assert one.rect.right < other.rect.right
                assert (
                    one.rect.right
                    <= other.left + other.body.flow.setting(0).indent_left + other.body.flow.lines(0, width)[0].indent
                )
        stood += len(bodies)
    assert stood == len(notes)
    first, block = flow.columns[0], flow.columns[0].blocks[0]
    lines, width = flow.lines(0, first.slot.rect.width), first.slot.rect.width
    ascent, descent = flow.extent(0)

    def holds(count: int) -> bool:
        bodies = [body for ref in cited_by(flow, 0, width, 0, 0, count) if (body := flow.note(ref, width)) is not None]
        high = max(
            (top + body.height for (_, _, top), body in zip(laid(bodies, width), bodies, strict=True)), default=0.0
        )
        high += kind.gap if bodies else 0.0
        return ascent + (count - 1) * block.step + descent + high <= first.slot.rect.height + 1e-6

    assert block.last_line == max(count for count in range(1, len(lines) + 1) if count == 1 or holds(count))
    check(workspace.job)
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_a_side_note_takes_nothing_of_what_a_footnote_keeps_from_the_text() -> None:
    """The first footnote of a column stands clear of the text and within the column, whatever was cited before it."""
    for gap in (6.0, 9.0, 12.0, 14.0):
        workspace, p = set_words(words(900), **PROSE)
        workspace.do(do.AddNote("main", at(p, 40), at(p, 40), "beside", "side"))
        note(workspace, p, near_the_foot(workspace), words(30))
        kind = next(one for one in workspace.job.note_kinds.values() if one.place == "foot")
        workspace.do(do.PutNoteKind(replace(kind, divided=False, gap=gap)))
        flow = flow_of(workspace)
        column = next(one for one in flow.columns if one.notes)
        foot = column.text_foot(flow)
        assert foot is not None
        assert column.notes[0].top >= foot + gap - 0.01
        assert column.notes[-1].bottom(flow) <= column.slot.rect.foot + 0.01


@settings(max_examples=examples(12), deadline=None)
@given(st.integers(0, 3), places)
def test_a_column_ends_only_where_no_line_more_could_stand(seed: int, notes: list[tuple[int, int]]) -> None:
    """Against every number of lines: of one more, the notes would not have room, not even the last of them divided by
    the rule."""
    workspace = noted(seed, notes)
    flow = flow_of(workspace)
    column = flow.columns[0]
    block, kind = column.blocks[0], next(iter(workspace.job.note_kinds.values()), NoteKind("foot", "F"))
    width, (ascent, descent) = column.slot.rect.width, flow.extent(0)
    lines = flow.lines(0, width)

    def holds(count: int) -> bool:
        refs = cited_by(flow, 0, width, 0, 0, count)
        bodies = [body for ref in refs if (body := flow.note(ref, width)) is not None]
        room = column.slot.rect.height - (ascent + (count - 1) * block.step + descent)
        if not bodies:
            return room >= -1e-6
        room -= kind.gap
        whole = sum(body.height for body in bodies[:-1])
        last = bodies[-1]
        newly = last.ref in cited_by(flow, 0, width, 0, count - 1, count)
        parts = [last.height]
        if newly:  # it is divided where its own line is the last
            parts += [last.lines[k - 1][0] for k in range(kind.kept, len(last.lines) - kind.kept + 1)]
        return any(whole + part <= room + 1e-6 for part in parts)

    best = max(count for count in range(1, len(lines) + 1) if count == 1 or holds(count))
    assert block.last_line == best


def test_a_note_longer_than_pages_goes_on_from_page_to_page_and_the_text_beside_it() -> None:
    workspace, p = set_words(words(1500), **PROSE)
    key = note(workspace, p, 30, words(3000))
    flow = flow_of(workspace)
    held = [column for column in flow.columns if any(one.body.ref == key for one in column.notes)]
    assert len(held) > 3
    assert all(column.blocks for column in held), "the text goes on beside it"
    assert put_together(flow.columns, key) == said(workspace, key)
    assert not [one for one in findings_of(workspace.composition) if one.kind == "note too high"]


def test_pages_are_added_for_what_is_left_of_a_note_behind_the_text_and_given_back() -> None:
    workspace, p = set_words(words(60), **PROSE)
    before = len(workspace.job.pages)
    change = workspace.do(do.AddNote("main", at(p, 30), at(p, 30), words(3000)))
    flow = flow_of(workspace)
    assert len(workspace.job.pages) > before
    assert flow.columns[-1].notes or not flow.columns[-1].used
    assert not flow.overset
    workspace.run(change.inverse)
    assert len(workspace.job.pages) == before


def test_a_changed_end_of_a_note_is_set_again_on_the_page_it_goes_on_on() -> None:
    """Its beginning, and where it is divided, stay as they were: the columns behind must follow all the same."""
    workspace, p = set_words(words(900), **PROSE)
    key = note(workspace, p, near_the_foot(workspace), words(260, 4))
    parts = [one for column in flow_of(workspace).columns for one in column.notes if one.body.ref == key]
    assert len(parts) > 1, "the test is about a note that is divided"
    own = workspace.job.stories[key].paragraphs[-1]
    change = workspace.do(
        do.ReplaceText(key, at(own.id, len(own.text)), at(own.id, len(own.text)), " and its very end")
    )
    assert put_together(flow_of(workspace).columns, key).endswith("anditsveryend")
    assert told(workspace.composition) == told(Composition(workspace.job))
    workspace.run(change.inverse)
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_text_in_two_frames_that_end_leaves_a_note_over_and_says_so() -> None:
    workspace, _ = set_words("Before.")
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(60, 60, 150, 80), text="A line that has a note behind it."))
    frame = next(one for one in workspace.job.pages[0].frames if one.story not in (None, "main"))
    own = workspace.job.stories[frame.story].paragraphs[0]  # type: ignore[index]
    workspace.do(do.AddNote(frame.story, at(own.id, 6), at(own.id, 6), words(200)))  # type: ignore[arg-type]
    flow = workspace.composition.flows[frame.story]  # type: ignore[index]
    assert flow.end.owed
    (finding,) = [one for one in findings_of(workspace.composition) if one.kind == "overset"]
    assert "words" in finding.text


@pytest.mark.parametrize(
    ("signs", "wanted"),
    [
        ("1", ["1", "2", "27"]),
        ("a", ["a", "b", "aa"]),
        ("I", ["I", "II", "XXVII"]),
        ("*", ["*", "†", "‡‡‡‡‡"]),
        ("none", ["", "", ""]),
    ],
)
def test_signs(signs: str, wanted: list[str]) -> None:
    assert [sign(number, signs) for number in (1, 2, 27)] == wanted  # type: ignore[arg-type]


def test_notes_counted_by_page_begin_anew_on_each_also_when_text_before_them_grows() -> None:
    workspace, p = set_words(words(2400), **PROSE)
    workspace.do(do.PutNoteKind(NoteKind("foot", "Footnotes", signs="*", counted="page")))
    rng = random.Random(5)
    for offset in sorted(rng.sample(range(12_000), 24), reverse=True):
        note(workspace, p, offset, words(6, offset))

    def right() -> None:
        for page in range(len(workspace.job.pages)):
            standing = [
                one for column in flow_of(workspace).columns if column.slot.page == page for one in column.notes
            ]
            fresh = [
                one
                for one in standing
                if one.body.ref
                in {
                    r
                    for c in flow_of(workspace).columns
                    if c.slot.page == page
                    for r in cited_in(flow_of(workspace), c)
                }
            ]
            for number, one in enumerate(fresh, 1):
                assert one.body.flow.paragraphs[0].shown.paragraph.text.startswith(f"{sign(number, '*')}\u00a0")
                assert numbers(workspace)[one.body.ref] == sign(number, "*")

    right()
    before = job_to_json(workspace.job)
    change = workspace.do(do.ReplaceText("main", at(p, 0), at(p, 0), words(90, 9) + " "))
    right()
    assert told(workspace.composition) == told(Composition(workspace.job))
    workspace.run(change.inverse)
    right()
    assert job_to_json(workspace.job) == before


def test_notes_counted_behind_headings_and_kinds_counted_by_themselves() -> None:
    workspace = Workspace(book())
    paragraphs = [Paragraph(f"p{n}", "chapter" if n % 3 == 0 else "body", f"Words of paragraph {n}.") for n in range(9)]
    workspace.do(do.PourText("main", tuple(paragraphs)))
    workspace.do(do.PutNoteKind(NoteKind("foot", "Footnotes", counted="heading", heading="chapter")))
    workspace.do(do.PutNoteKind(NoteKind("sources", "Sources", signs="a")))
    found = [note(workspace, f"p{n}", 3, f"To {n}.") for n in (1, 2, 4, 5, 7)]
    workspace.do(do.SetNoteKind("sources", (found[1], found[4])))
    assert [numbers(workspace)[ref] for ref in found] == ["1", "a", "1", "2", "b"]
    refs = [one.body.ref for one in flow_of(workspace).columns[0].notes]
    assert refs == sorted(refs, key=lambda ref: ref in (found[1], found[4])), "one kind below the other"
    change = workspace.do(do.RemoveNoteKind("sources"))
    assert [numbers(workspace)[ref] for ref in found] == ["1", "2", "1", "2", "1"]
    workspace.run(change.inverse)
    assert [numbers(workspace)[ref] for ref in found] == ["1", "a", "1", "2", "b"]
    with pytest.raises(EditError, match="There is a kind"):
        workspace.do(do.PutNoteKind(NoteKind("x", "sources")))
    assert package.read(package.write(workspace.job, {})).note_kinds == workspace.job.note_kinds


def beside_each_other(notes: list[tuple[int, int]], seed: int) -> tuple[Workspace, list[str]]:
    workspace, p = set_words(words(300, seed), **PROSE)
    workspace.do(do.PutNoteKind(NoteKind("side", "Side notes", "margin", "none", width=60.0, away=8.0, gap=4.0)))
    refs = []
    for offset, length in sorted(notes, reverse=True):
        before = set(workspace.job.stories)
        workspace.do(do.AddNote("main", at(p, offset), at(p, offset), words(length, length), "side"))
        refs.append(next(key for key in workspace.job.stories if key not in before))
    return workspace, refs[::-1]


@settings(max_examples=examples(15), deadline=None)
@given(
    st.lists(
        st.tuples(st.integers(0, 1200), st.integers(1, 12)), min_size=1, max_size=4, unique_by=lambda pair: pair[0]
    ),
    st.integers(0, 3),
)
def test_side_notes_stand_as_near_to_their_lines_as_none_over_another_allows(
    notes: list[tuple[int, int]], seed: int
) -> None:
    """Against every way to place them in steps of three points: none is nearer by more than that allows."""
    workspace, _ = beside_each_other(notes, seed)
    flow = flow_of(workspace)
    column = next(one for one in flow.columns if one.margin)
    standing, foot = column.margin, column.slot.rect.foot
    assert column.blocks[0].last_line == set_words_lines(workspace), "they take no room from the text"
    wished = []
    for one in standing:
        line = next(
            n
            for n in range(len(flow.lines(0, column.slot.rect.width)))
            if one.body.ref in cited_by(flow, 0, column.slot.rect.width, 0, n, n + 1)
        )
        wished.append(column.blocks[0].at(line) - one.body.first)
    for above, below in pairwise(standing):
        assert below.top >= above.bottom(flow) + 4.0 - 0.01
    assert standing[0].top >= column.slot.rect.y - 0.01
    assert standing[-1].bottom(flow) <= foot + 0.01
    far = sum((one.top - want) ** 2 for one, want in zip(standing, wished, strict=True))
    steps = [[round(want) + 3 * k for k in range(-16, 17)] for want in wished] if len(wished) <= 3 else []
    for tops in product(*steps):
        fits = tops and tops[0] >= column.slot.rect.y and tops[-1] + standing[-1].height <= foot
        fits = fits and all(b >= a + one.height + 4.0 for one, (a, b) in zip(standing, pairwise(tops), strict=False))
        if fits:
            assert far <= sum((top - want) ** 2 for top, want in zip(tops, wished, strict=True)) + 1e-6


def set_words_lines(workspace: Workspace) -> int:
    """How many lines the first column holds without any notes."""
    plain = workspace.job.stories["main"].paragraphs[0].text.replace("\ufffc", "")
    other, _ = set_words(plain, **PROSE)
    return flow_of(other).columns[0].blocks[0].last_line


def test_side_notes_stand_in_the_outer_margin_and_tell_when_it_is_too_narrow() -> None:
    workspace, refs = beside_each_other([(40, 4), (1300, 4)], 1)
    flow = flow_of(workspace)
    workspace.do(do.ReplaceText("main", at("pa", 60), at("pa", 60), words(400, 3) + " "))
    first, second = ([c for c in flow.columns if any(n.body.ref == ref for n in c.margin)][0] for ref in refs[:2])
    for column in (first, second):
        one = column.margin[0]
        if column.slot.side == "verso":
            assert one.rect.right == pytest.approx(column.slot.rect.x - 8.0)
        else:
            assert one.rect.x == pytest.approx(column.slot.rect.right + 8.0)
    assert {first.slot.side, second.slot.side} == {"recto", "verso"} or first.slot.page == second.slot.page
    assert numbers(workspace)[refs[0]] == ""
    workspace.do(do.PutNoteKind(NoteKind("side", "Side notes", "margin", "none", width=400.0)))
    assert [one for one in findings_of(workspace.composition) if one.kind == "note off the page"]


def test_gathered_notes_stand_in_a_listing_under_their_numbers_and_nowhere_else() -> None:
    workspace = Workspace(book())
    text = [Paragraph(f"p{n}", "chapter" if n % 3 == 0 else "body", f"Words of paragraph {n}.") for n in range(6)]
    workspace.do(do.PourText("main", (*text, Paragraph("end", "body", ""))))
    found = [note(workspace, f"p{n}", 5, f"Behind {n}, with words.") for n in (1, 2, 4)]
    workspace.do(do.PutNoteKind(NoteKind("foot", "Footnotes", "gathered", counted="heading", heading="chapter")))
    assert not any(column.notes for column in flow_of(workspace).columns)
    (told_,) = [one for one in findings_of(workspace.composition) if one.kind == "notes nowhere"]
    assert "3 notes" in told_.text
    listing = Listing("l1", "Notes", (ListingSource("chapter"), ListingSource("foot", "notes", 2)), number="none")
    workspace.do(do.PutListing(listing))
    assert [one.entry.words for one in gathered(workspace.composition, workspace.job.listings["l1"])] == [
        "Words of paragraph 0.",
        "1\u00a0Behind 1, with words.",
        "2\u00a0Behind 2, with words.",
        "Words of paragraph 3.",
        "1\u00a0Behind 4, with words.",
    ]
    entries = tuple(one.entry for one in gathered(workspace.composition, workspace.job.listings["l1"]))
    workspace.do(do.PlaceListing("l1", "main", at("end", 0), entries))
    assert [p.text for p in workspace.job.stories["main"].paragraphs[-5:]][1] == "1\u00a0Behind 1, with words."
    assert not [one for one in findings_of(workspace.composition) if one.kind in ("notes nowhere", "stale listing")]
    workspace.do(
        do.ReplaceText(
            found[0],
            at(workspace.job.stories[found[0]].paragraphs[0].id, 0),
            at(workspace.job.stories[found[0]].paragraphs[0].id, 6),
            "Well behind",
        )
    )
    assert [one for one in findings_of(workspace.composition) if one.kind == "stale listing"]


def test_the_rule_above_notes_is_as_its_kind_says_and_crosses_the_column_where_one_goes_on() -> None:
    workspace, p = set_words(words(900), **PROSE)
    note(workspace, p, near_the_foot(workspace), words(260, 4))
    workspace.do(do.PutNoteKind(NoteKind("foot", "Footnotes", rule=0.25, rule_weight=1.5, gap=14.0)))

    def rules() -> list[float]:
        made = []
        for index in range(len(workspace.job.pages)):
            for frame in Display(workspace.composition).page(index).frames:
                made += [
                    one
                    for one in frame.under
                    if isinstance(one, Path) and one.pen is not None and one.pen.weight == 1.5
                ]
        return [one.steps[1][1][0][0] - one.steps[0][1][0][0] for one in made]

    width = flow_of(workspace).columns[0].slot.rect.width
    short, whole = rules()
    assert short == pytest.approx(width / 4)
    assert whole == pytest.approx(width)
    column = next(one for one in flow_of(workspace).columns if one.notes)
    assert (column.text_foot(flow_of(workspace)) or 0) <= column.notes[0].top - 14.0 + 0.01
    workspace.do(do.PutNoteKind(NoteKind("foot", "Footnotes", rule=0.0)))
    assert rules() == []


def test_a_job_from_before_kinds_keeps_its_notes_undivided_until_it_is_told_otherwise() -> None:
    workspace, p = set_words(words(60))
    note(workspace, p, 30, words(20))
    for key in list(workspace.job.note_kinds):
        del workspace.job.note_kinds[key]  # as an older file has it
    older = Workspace(workspace.job)
    note(older, p, 80, words(20))
    assert [kind.divided for kind in older.job.note_kinds.values()] == [False]
    fresh, q = set_words(words(60))
    note(fresh, q, 30, words(20))
    assert [kind.divided for kind in fresh.job.note_kinds.values()] == [True]


def test_a_line_that_has_no_room_stands_nowhere_whether_notes_are_cited_or_not() -> None:
    """In a frame lower than a line: the paragraph that cites a note is overset as one that cites none."""
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(60, 60, 200, 200), text=words(12)))
    frame = workspace.job.pages[0].frames[-1]
    key = frame.story or ""
    (p,) = workspace.job.stories[key].paragraphs
    place = do.Place(p.id, len(p.text))
    workspace.do(do.AddNote(key, place, place, "at the end"))
    assert workspace.composition.flows[key].columns[0].blocks
    workspace.do(do.ChangeFrame(page, frame.id, rect=Rect(60, 60, 200, 9)))
    assert not any(column.blocks for column in workspace.composition.flows[key].columns)
    assert workspace.composition.flows[key].overset
