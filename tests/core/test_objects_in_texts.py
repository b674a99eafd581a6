"""Notes at the foot of the column they are cited in, and frames that stand in lines."""

from __future__ import annotations

import random
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.check.findings import findings_of
from lexigon.core.document.anchors import anchored, anchors_in
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Anchor, Fill, FrameSpec, Job, NoteKind, Paragraph, ParaSpec, Span, TypeSpec
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents import Place
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.model import Column
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.standing import standing
from tests.core.helpers import book, cited_by, examples, poured, words

Told = list[list[dict[str, object]]]


def told(composition: Composition) -> Told:
    """What stands on all pages."""
    display = Display(composition)
    return [standing(display.page(index)) for index in range(len(composition.job.pages))]


def set_words(text: str, **para: object) -> tuple[Workspace, str]:
    """A workspace with one paragraph of these words, and the paragraph's id."""
    workspace = Workspace(book())
    workspace.do(do.PourText("main", (Paragraph("pa", "body", text, para=ParaSpec(**para)),)))  # type: ignore[arg-type]
    return workspace, "pa"


def at(paragraph: str, offset: int) -> Place:
    return Place(paragraph, offset)


def note(workspace: Workspace, paragraph: str, offset: int, text: str) -> str:
    """Add a note to the main text; its name."""
    before = set(workspace.job.stories)
    workspace.do(do.AddNote("main", at(paragraph, offset), at(paragraph, offset), text))
    return next(key for key in workspace.job.stories if key not in before)


def numbers(workspace: Workspace) -> dict[str, str]:
    """The numbers of the main text's notes."""
    return {ref: cited.number for ref, cited in workspace.composition.notes.numbers("main").items()}


WHOLE = NoteKind("foot", "Footnotes", divided=False)
"""Notes that are not divided, as they were before a job could say so."""


def inlay(
    workspace: Workspace, paragraph: str, offset: int, width: float, height: float, text: str | None = None
) -> str:
    before = set(workspace.job.inlays)
    workspace.do(do.AddInlay("main", at(paragraph, offset), at(paragraph, offset), width, height, text))
    return next(key for key in workspace.job.inlays if key not in before)


def flow_of(workspace: Workspace) -> StoryFlow:
    assert workspace.composition.main is not None
    return workspace.composition.main


def cited_in(flow: StoryFlow, column: Column) -> list[str]:
    found = []
    for block in column.blocks:
        found += cited_by(flow, block.paragraph, block.measure, block.base, block.first_line, block.last_line)
    return found


def test_a_note_stands_at_the_foot_of_the_column_that_cites_it_under_its_number() -> None:
    workspace = poured(80, seed=5)
    workspace.do(do.PutNoteKind(WHOLE))
    paragraphs = workspace.job.stories["main"].paragraphs
    rng = random.Random(3)
    for p in rng.sample([p for p in paragraphs if len(p.text) > 40], 25):
        note(workspace, p.id, rng.randrange(len(p.text)), words(rng.randrange(3, 40), len(p.text)))
    flow = flow_of(workspace)
    order = [anchor.ref for anchor in anchors_in(workspace.job.stories["main"].paragraphs)]
    assert [ref for column in flow.columns for ref in cited_in(flow, column)] == order
    for column in flow.columns:
        assert [n.body.ref for n in column.notes] == cited_in(flow, column)
        if column.notes:
            assert column.notes[-1].bottom(flow) == pytest.approx(column.slot.rect.foot)
            assert column.blocks[-1].bottom(flow) <= column.notes[0].top - WHOLE.gap + 0.01
        for above, below in pairwise(column.notes):
            assert below.top == pytest.approx(above.bottom(flow))
    for number, ref in enumerate(order, 1):
        shown = next(n.body.flow for c in flow.columns for n in c.notes if n.body.ref == ref).paragraphs[0].shown
        assert shown.paragraph.text.startswith(f"{number}\u00a0")
    check(workspace.job)


def heights(lines: list[float], notes: dict[int, float], room: float, step: float) -> int:
    """The most lines, by trying each number, whose notes have room below them: what a column should hold."""
    best = 0
    for count in range(1, len(lines) + 1):
        asked = sum(height for line, height in notes.items() if line < count)
        if lines[count - 1] + asked + (WHOLE.gap if asked else 0.0) <= room + 1e-6:
            best = count
    return best


@settings(max_examples=examples(12), deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 2600), st.integers(1, 60)), max_size=6, unique_by=lambda pair: pair[0]),
    st.integers(0, 5),
)
def test_a_column_holds_as_many_lines_as_an_exhaustive_search_finds(notes: list[tuple[int, int]], seed: int) -> None:
    """Of one long paragraph without keep rules."""
    workspace, p = set_words(words(600, seed), foot_lines=1, head_lines=1, hyphen_column=True, grid=False)
    workspace.do(do.PutNoteKind(WHOLE))
    for offset, count in sorted(notes, reverse=True):
        note(workspace, p, offset, words(count, count))
    flow = flow_of(workspace)
    first = flow.columns[0]
    width = first.slot.rect.width
    lines = flow.lines(0, width)
    ascent, descent = flow.extent(0)
    step = flow.setting(0).leading
    reach = [ascent + number * step + descent for number in range(len(lines))]
    asked: dict[int, float] = {}
    for number in range(len(lines)):
        for ref in cited_by(flow, 0, width, 0, number, number + 1):
            body = flow.note(ref, width)
            assert body is not None
            asked[number] = asked.get(number, 0.0) + body.height
    assert first.blocks[0].last_line == heights(reach, asked, first.slot.rect.height, step)


def test_notes_are_counted_again_where_one_comes_before_them_and_their_styles_are_the_jobs_own() -> None:
    workspace, p = set_words(words(200))
    second = note(workspace, p, 500, "Behind.")
    assert numbers(workspace) == {second: "1"}
    first = note(workspace, p, 20, "Before.")
    assert numbers(workspace) == {first: "1", second: "2"}
    assert told(workspace.composition) == told(Composition(workspace.job))
    body = workspace.job.stories[first].paragraphs[0]
    assert body.style == "note"
    size = workspace.composition.cascade.type_of(body).size
    assert size < workspace.composition.cascade.type_of(workspace.job.stories["main"].paragraphs[0]).size
    workspace.do(do.PutStyle("paragraph", "note", type=TypeSpec(size=6.0)))
    assert workspace.composition.cascade.type_of(body).size == 6.0
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_a_note_is_typed_in_found_and_undone_as_any_text_is() -> None:
    workspace, p = set_words(words(400))
    key = note(workspace, p, 900, "Short.")
    before = job_to_json(workspace.job)
    tall = flow_of(workspace).columns[0].notes[0].body.height
    own = workspace.job.stories[key].paragraphs[0].id
    change = workspace.do(
        do.ReplaceText(key, at(own, 5), at(own, 6), " and then longer than a line, " * 8 + "\nwith a second paragraph.")
    )
    assert flow_of(workspace).columns[0].notes[0].body.height > tall * 3
    assert told(workspace.composition) == told(Composition(workspace.job))
    assert workspace.composition.page_of(key, own, 3) == 0
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_standing_copy_in_a_note_shows_what_it_is_changed_to() -> None:
    workspace, p = set_words(words(300))
    key = note(workspace, p, 400, "See .")
    own = workspace.job.stories[key].paragraphs[0].id
    workspace.do(do.PutCopy("Hours", "dawn"))
    (hours,) = workspace.job.copies
    workspace.do(do.InsertField(key, at(own, 4), at(own, 4), Anchor("copy", hours)))
    short = flow_of(workspace).columns[0].notes[0].body.height
    change = workspace.do(do.PutCopy("Hours", "from an hour before dawn until the tide turns, " * 6, hours))
    assert flow_of(workspace).columns[0].notes[0].body.height > short
    assert told(workspace.composition) == told(Composition(workspace.job))
    workspace.run(change.inverse)
    assert flow_of(workspace).columns[0].notes[0].body.height == short
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_a_note_that_no_column_could_hold_is_shown_all_the_same_and_loses_nothing() -> None:
    workspace, p = set_words(words(60))
    workspace.do(do.PutNoteKind(WHOLE))
    key = note(workspace, p, 30, words(3000))
    flow = flow_of(workspace)
    (column,) = [c for c in flow.columns if c.notes]
    assert column.blocks, "its line stands with it"
    assert column.notes[0].bottom(flow) > column.slot.rect.foot
    assert [b.paragraph for c in flow.columns for b in c.blocks][0] == 0
    (finding,) = [f for f in findings_of(workspace.composition) if f.kind == "note too high"]
    assert finding.page == column.slot.page
    assert "Note 1" in finding.text
    lines = [f for f in told(workspace.composition)[column.slot.page] if f["id"] == key]
    assert len(lines[0]["lines"]) > 100  # type: ignore[arg-type]


def test_a_frame_in_the_line_moves_with_the_words_and_the_line_above_gives_way() -> None:
    workspace, p = set_words(words(120))
    key = inlay(workspace, p, 300, 40.0, 30.0)
    flow = flow_of(workspace)
    (block,) = flow.columns[0].blocks
    where = next(n for n, line in enumerate(flow.lines(0, 324.0)) if line.start <= 300 < line.next)
    step = flow.setting(0).leading
    steps = [block.at(n + 1) - block.at(n) for n in range(block.last_line - 1)]
    assert steps[where - 1] > step
    assert [round(s, 6) for n, s in enumerate(steps) if n != where - 1] == [step] * (len(steps) - 1)
    (art,) = [f for f in Display(workspace.composition).page(0).frames if f.role == "inlay"]
    assert (art.rect.width, art.rect.height) == (40.0, 30.0)
    assert art.rect.foot == pytest.approx(block.at(where))
    line = Display(workspace.composition).page(0).frames[0].lines[where]
    assert [run.x for run in line.runs if run.box] == [art.rect.x]
    x = [run.x for run in line.runs] + [line.runs[-1].x + line.runs[-1].width]
    assert x == sorted(x)
    assert x[-1] == pytest.approx(line.x + 324.0, abs=1e-6), "the line is as full as any"
    workspace.do(do.ReplaceText("main", at(p, 0), at(p, 0), "Moved along by these words. "))
    (moved,) = [f for f in Display(workspace.composition).page(0).frames if f.role == "inlay"]
    assert moved.rect != art.rect
    assert moved.frame.id == key


def test_a_frame_in_the_line_is_resized_filled_and_holds_text() -> None:
    workspace, p = set_words(words(120))
    key = inlay(workspace, p, 0, 60.0, 40.0, "In the line\nof words")
    workspace.do(do.ChangeFrame("inlays", key, rect=Rect(300, 300, 80, 20), spec=FrameSpec(fill=Fill("black", 0.2))))
    assert workspace.job.inlays[key].rect == Rect(0, 0, 80, 20)
    assert told(workspace.composition) == told(Composition(workspace.job))
    (art,) = [f for f in Display(workspace.composition).page(0).frames if f.role == "inlay"]
    assert art.ground
    assert art.overset, "two lines have no room in 20 points"
    assert [f.text for f in findings_of(workspace.composition) if f.kind == "overset"] == [
        "2 words (1 line) in “Anchored frame” do not fit."
    ]
    with pytest.raises(LexigonError, match="cannot be rotated"):
        workspace.do(do.ChangeFrame("inlays", key, rotation=30.0))
    before = job_to_json(workspace.job)
    change = workspace.do(do.RemoveFrame("inlays", key))
    assert not workspace.job.inlays
    assert "\ufffc" not in workspace.job.stories["main"].paragraphs[0].text
    check(workspace.job)
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def test_what_stands_in_a_turned_frame_is_turned_with_it() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(80, 90, 160, 120), text=words(30), turn=90))
    frame = workspace.job.pages[0].objects[-1]
    story = frame.story or ""
    p = workspace.job.stories[story].paragraphs[0].id
    workspace.do(do.AddNote(story, at(p, 10), at(p, 10), "Turned."), do.AddInlay(story, at(p, 40), at(p, 40), 20, 12))
    workspace.do(do.ChangeFrame(page, frame.id, rotation=30.0))
    arts = {art.role: art for art in Display(workspace.composition).page(0).frames if art.role}
    outer = next(art for art in Display(workspace.composition).page(0).frames if art.frame.id == frame.id)
    for role in ("note", "inlay"):
        assert arts[role].words_map == outer.words_map
        one = next(f for f in told(workspace.composition)[0] if f["role"] == role)
        assert one["rotation"] == pytest.approx(120.0)
        centre = outer.words_map.apply(  # type: ignore[union-attr]
            arts[role].rect.x + arts[role].rect.width / 2, arts[role].rect.y + arts[role].rect.height / 2
        )
        assert (one["x"] + one["w"] / 2, one["y"] + one["h"] / 2) == pytest.approx(centre, abs=1e-3)  # type: ignore[operator]


def test_copies_have_notes_and_frames_of_their_own_and_what_was_cut_comes_back() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(80, 90, 260, 220), text=words(60)))
    story = workspace.job.pages[0].objects[-1].story or ""
    p = workspace.job.stories[story].paragraphs[0].id
    workspace.do(
        do.AddNote(story, at(p, 10), at(p, 10), "One."), do.AddInlay(story, at(p, 40), at(p, 40), 20, 12, "two")
    )
    workspace.do(do.DuplicatePages((page,)))
    check(workspace.job)
    stories = [s for s in workspace.job.stories.values() if s.kind == "text" and any(anchors_in(s.paragraphs))]
    refs = [{a.ref for a in anchors_in(s.paragraphs)} for s in stories]
    assert len(refs) == 2
    assert not refs[0] & refs[1]
    assert sorted(s.kind for s in workspace.job.stories.values()).count("note") == 2
    # Cut and pasted in another place: the same note. Pasted once more: a copy of it.
    whole = workspace.job.stories[story].paragraphs[0]
    carried = replace(whole, text=whole.text[10:11], spans=(Span(0, 1, "note-number", object=whole.spans[0].object),))
    workspace.do(do.ReplaceText(story, at(p, 10), at(p, 11)))
    assert len(anchored(workspace.job)) == 3
    workspace.do(do.InsertRich(story, at(p, 20), at(p, 20), (carried,)))
    assert anchored(workspace.job)[carried.spans[0].object.ref] == (story, p)  # type: ignore[union-attr]
    workspace.do(do.InsertRich(story, at(p, 30), at(p, 30), (carried,)))
    assert len([a for a in anchors_in(workspace.job.stories[story].paragraphs) if a.kind == "note"]) == 2
    assert len(anchored(workspace.job)) == 5
    check(workspace.job)
    # In another job, with the note's words and without them.
    other, q = set_words("Other words")
    note_ = workspace.job.stories[carried.spans[0].object.ref]  # type: ignore[union-attr]
    other.do(do.InsertRich("main", at(q, 0), at(q, 0), (carried,), (note_,)))
    assert [s.paragraphs[0].text for s in other.job.stories.values() if s.kind == "note"] == ["One."]
    other.do(do.InsertRich("main", at(q, 3), at(q, 3), (replace(carried, text="\ufffc", spans=carried.spans),)))
    check(other.job)
    assert package.read(package.write(other.job)) == other.job


@pytest.mark.parametrize("words_", ["a note in a note", "a frame in a frame", "a note on a master"])
def test_where_they_cannot_stand_is_said(words_: str) -> None:
    workspace, p = set_words(words(40))
    inner = note(workspace, p, 3, "inside")
    held = inlay(workspace, p, 9, 30, 20, "held")
    before = job_to_json(workspace.job)
    story = {"a note in a note": inner, "a frame in a frame": workspace.job.inlays[held].story}.get(words_)
    if story is None:
        workspace.do(do.AddTextFrame("master:text:recto", Rect(50, 50, 100, 30), text="Head"))
        story = workspace.job.masters["text"].recto[-1].story
        before = job_to_json(workspace.job)
    own = workspace.job.stories[story or ""].paragraphs[0].id
    with pytest.raises(LexigonError, match="can be in a story on pages"):
        workspace.do(do.AddNote(story or "", at(own, 1), at(own, 1)))
    with pytest.raises(LexigonError, match="can be in a story on pages"):
        workspace.do(do.AddInlay(story or "", at(own, 1), at(own, 1), 10, 10))
    if words_ != "a note on a master":
        with pytest.raises(LexigonError, match="The text contains notes or frames"):
            workspace.do(do.MoveText("main", at(p, 0), at(p, 20), story or "", at(own, 0)))
    assert job_to_json(workspace.job) == before


def broken(job: Job, what: str) -> dict[str, object]:
    data = plain(job)
    (key,) = [k for k, s in job.stories.items() if s.kind == "note"]
    (held,) = job.inlays
    if what == "no note":
        del data["stories"][key]
    elif what == "no frame":
        del data["inlays"][held]
    elif what == "a text as a note":
        del data["stories"][key]["kind"]
    elif what == "turned":
        data["inlays"][held]["place"]["rotation"] = 10
    elif what == "in itself":
        text = data["stories"][data["inlays"][held]["content"]["story"]]
        text["paragraphs"][0] |= {
            "text": "\ufffc",
            "spans": [{"start": 0, "end": 1, "object": {"kind": "frame", "ref": held}}],
        }
    return data


@pytest.mark.parametrize("what", ["no note", "no frame", "a text as a note", "turned", "in itself"])
def test_a_file_whose_notes_and_frames_do_not_hold_is_refused(what: str) -> None:
    workspace, p = set_words(words(40))
    note(workspace, p, 3, "inside")
    inlay(workspace, p, 9, 30, 20, "held")
    from lexigon.core.fileformat.jobs import job_from_plain

    assert job_from_plain(plain(workspace.job)) == workspace.job
    with pytest.raises(LexigonError):
        check(job_from_plain(broken(workspace.job, what)))


OPS = st.lists(
    st.tuples(
        st.sampled_from(["note", "inlay", "type", "cut", "in note", "resize", "columns", "undo"]),
        st.integers(0, 10**6),
        st.integers(1, 60),
    ),
    min_size=3,
    max_size=10,
)


@settings(max_examples=examples(12), deadline=None)
@given(OPS, st.sampled_from([{}, {"columns": 2}, {"columns": 2, "balanced": True}, {"vertical": "bottom"}]))
def test_after_any_edits_all_is_as_composed_anew(ops: list[tuple[str, int, int]], make: dict[str, object]) -> None:
    workspace = poured(24, seed=9)
    page = workspace.job.pages[0].id
    main = next(f for f, _ in workspace.job.page_frames(0) if f.main)
    if make:
        workspace.do(do.ChangeFrame(page, main.id, spec=FrameSpec(**make)))  # type: ignore[arg-type]
    done = []
    for op, seed, size in ops:
        text = workspace.job.stories["main"].paragraphs
        p = text[seed % len(text)]
        where = at(p.id, seed % (len(p.text) + 1))
        notes = [s for s in workspace.job.stories.values() if s.kind == "note"]
        if op == "undo":
            if done:
                workspace.run(done.pop().inverse)
            continue
        intent: do.Intent
        if op == "note":
            intent = do.AddNote("main", where, where, words(size, seed))
        elif op == "inlay":
            intent = do.AddInlay("main", where, where, size + 4.0, size / 2 + 4.0, "in" if seed % 2 else None)
        elif op == "cut":
            intent = do.ReplaceText("main", where, at(p.id, len(p.text)), "")
        elif op == "in note" and notes:
            own = notes[seed % len(notes)]
            intent = do.ReplaceText(own.id, Place("^", 0), Place("^", 0), words(size, seed) + " ")
        elif op == "resize" and workspace.job.inlays:
            intent = do.ChangeFrame("inlays", sorted(workspace.job.inlays)[0], rect=Rect(0, 0, size + 5, size))
        else:
            intent = do.ReplaceText("main", where, where, words(size, seed) + "\n" * (seed % 2))
        done.append(workspace.do(intent))
        check(workspace.job)
    anew = Composition(workspace.job, workspace.composition.library, workspace.composition.today)
    assert told(workspace.composition) == told(anew)
    while done:
        workspace.run(done.pop().inverse)
    assert told(workspace.composition) == told(
        Composition(workspace.job, workspace.composition.library, workspace.composition.today)
    )


def test_a_note_recoloured_by_its_style_is_painted_so_and_set_no_more() -> None:
    workspace, p = set_words(words(60))
    note(workspace, p, 30, "Noted.")
    before = flow_of(workspace).columns[0].notes[0].body
    workspace.do(do.PutStyle("paragraph", "note", type=TypeSpec(swatch="marker")))
    assert flow_of(workspace).columns[0].notes[0].body is before
    (art,) = [f for f in Display(workspace.composition).page(0).frames if f.role == "note"]
    assert {run.look.spec.swatch for line in art.lines for run in line.runs} == {"marker"}
    workspace.do(do.ReplaceText("main", at(p, 0), at(p, 0), "More. "))
    (art,) = [f for f in Display(workspace.composition).page(0).frames if f.role == "note"]
    assert {run.look.spec.swatch for line in art.lines for run in line.runs} == {"marker"}
