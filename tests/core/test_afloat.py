"""Frames tied to a text that do not stand in its line: near it at the head or the foot of a column, or beside it."""

from __future__ import annotations

import json
from dataclasses import replace
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.cli.main import main
from lexigon.core.check.findings import findings_of
from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.consistency import check
from lexigon.core.document.model import FrameSpec, Paragraph, Wrap
from lexigon.core.editing import intents as do
from lexigon.core.editing.edits import EditError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import book, examples, tied_to, words
from tests.core.test_notes import PROSE, put_together, said
from tests.core.test_objects_in_texts import at, flow_of, note, set_words, told


def tie(workspace: Workspace, offset: int, width: float, height: float, where: str, paragraph: str = "pa") -> str:
    before = set(workspace.job.inlays)
    place = at(paragraph, offset)
    workspace.do(do.AddInlay("main", place, place, width, height, where=where))  # type: ignore[arg-type]
    return next(key for key in workspace.job.inlays if key not in before)


@settings(max_examples=examples(20), deadline=None)
@given(
    st.lists(
        st.tuples(st.integers(0, 4000), st.integers(20, 300), st.booleans()),
        min_size=1,
        max_size=7,
        unique_by=lambda one: one[0],
    ),
    st.integers(0, 3),
)
def test_frames_near_their_line_stand_in_order_not_before_it_and_over_nothing(
    tied: list[tuple[int, int, bool]], seed: int
) -> None:
    """With notes among them. None stands on an earlier page than its line or before one that comes earlier; a page that
    has room for the next one has it."""
    workspace, p = set_words(words(900, seed), **PROSE)
    order, notes = [], []
    for offset, size, frame in sorted(tied, reverse=True):
        if frame:
            order.append(tie(workspace, offset, 200.0, float(size), "near"))
        else:
            notes.append(note(workspace, p, offset, words(size // 4, size)))
    flow = flow_of(workspace)
    standing = [(number, one) for number, column in enumerate(flow.columns) for one in column.afloat]
    assert [one.ref for _, one in standing] == order[::-1]
    cited: dict[str, int] = {}
    for number, column in enumerate(flow.columns):
        for block in column.blocks:
            for line in range(block.first_line, block.last_line):
                for one in tied_to(flow, block, line):
                    cited[one.ref] = number
    for number, one in standing:
        column = flow.columns[number]
        assert number >= cited[one.ref]
        assert (one.at == "foot") == (number == cited[one.ref])
        assert one.rect.x + one.rect.width / 2 == pytest.approx(column.slot.rect.x + column.slot.rect.width / 2)
    for column in flow.columns:
        heads = [one.rect.foot for one in column.afloat if one.at == "head"]
        feet = [one.rect for one in column.afloat if one.at == "foot"]
        text_foot = column.text_foot(flow)
        if heads and column.blocks:
            first = column.blocks[0]
            assert first.baseline - flow.extent(first.paragraph)[0] >= max(heads) - 0.01
        if feet and text_foot is not None:
            assert text_foot <= feet[0].y - 11.9
        for above, below in pairwise(feet):
            assert below.y >= above.foot + 11.9
        if column.notes and feet:
            assert feet[-1].foot <= column.notes[0].top
        assert all(one.bottom(flow) <= column.slot.rect.foot + 0.01 for one in column.notes)
    for ref in notes:
        assert put_together(flow.columns, ref) == said(workspace, ref)
    assert not flow.end.left
    check(workspace.job)
    assert told(workspace.composition) == told(Composition(workspace.job))
    before = job_to_json(workspace.job)
    change = workspace.do(do.ReplaceText("main", at(p, 0), at(p, 0), words(60, 9) + " "))
    assert told(workspace.composition) == told(Composition(workspace.job))
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    assert told(workspace.composition) == told(Composition(workspace.job))


@settings(max_examples=examples(20), deadline=None)
@given(
    st.lists(
        st.tuples(
            st.integers(0, 2500), st.integers(20, 200), st.sampled_from(["above", "above", "near", "margin", "note"])
        ),
        min_size=1,
        max_size=7,
        unique_by=lambda one: one[0],
    ),
    st.booleans(),
    st.sampled_from(["top", "centre", "bottom", "justified"]),
)
def test_a_frame_above_its_line_stands_between_it_and_the_line_before(
    tied: list[tuple[int, int, str]], grid: bool, vertical: str
) -> None:
    """Wherever the lines are moved to in their column; in order where several belong above one line, and over nothing
    else."""
    workspace, p = set_words(words(600), **(PROSE | {"grid": grid}))
    for number, page in enumerate(list(workspace.job.pages)):
        main = next(frame for frame, _ in workspace.job.page_frames(number) if frame.main)
        workspace.do(do.ChangeFrame(page.id, main.id, spec=FrameSpec(vertical=vertical)))  # type: ignore[arg-type]
    order = []
    for offset, size, where in sorted(tied, reverse=True):
        if where == "note":
            note(workspace, p, offset, words(size // 4, size))
        else:
            key = tie(workspace, offset, 60.0 if where == "margin" else 200.0, float(size), where)
            order += [key] if where == "above" else []
    flow = flow_of(workspace)
    found = []
    for column in flow.columns:
        above = {one.ref: one.rect for one in column.afloat if one.at == "above"}
        head, under = column.slot.rect.y, max((one.rect.foot for one in column.afloat if one.at == "head"), default=0.0)
        before = max(head, under)
        for block in column.blocks:
            ascent, descent = flow.extent(block.paragraph)
            for line in range(block.first_line, block.last_line):
                rects = [above[one.ref] for one in tied_to(flow, block, line) if one.ref in above]
                found += [one.ref for one in tied_to(flow, block, line) if one.ref in above]
                heads = before <= head + 0.01
                for rect in rects:
                    assert rect.y >= before + (0.0 if heads else 11.9) - 0.01
                    before, heads = rect.foot, False
                top = block.at(line) - ascent
                if rects:
                    assert top - before == pytest.approx(12.0)
                assert top >= before - 0.01 or not rects
                before = block.at(line) + descent
        below = [one.rect.y for one in column.afloat if one.at == "foot"] + [one.top for one in column.notes]
        assert before <= min(below, default=column.slot.rect.foot) + 0.01
        for beside in (one for one in column.afloat if one.at == "beside"):
            assert head - 0.01 <= beside.rect.y
            assert beside.rect.foot <= column.slot.rect.foot + 0.01
    assert found == order[::-1]
    assert not flow.end.left
    check(workspace.job)
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_a_frame_too_high_above_its_line_runs_out_and_is_told_and_one_beside_an_obstacle_stands_near() -> None:
    workspace, _ = set_words(words(300), **PROSE)
    key = tie(workspace, 700, 200.0, 2000.0, "above")
    flow = flow_of(workspace)
    assert [one.ref for column in flow.columns for one in column.afloat] == [key]
    assert not flow.end.left
    assert [one for one in findings_of(workspace.composition) if one.kind == "frame too high"]
    workspace, _ = set_words(words(300), **PROSE)
    page = workspace.job.pages[0]
    area = flow_of(workspace).columns[0].slot.rect
    workspace.do(
        do.AddShape(
            page.id,
            Rect(area.x + area.width / 2, area.y, area.width / 2, area.height),
            spec=FrameSpec(wrap=Wrap("both")),
        )
    )
    tie(workspace, 100, 60.0, 40.0, "above")
    assert {one.at for column in flow_of(workspace).columns for one in column.afloat} <= {"foot", "head"}
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_a_frame_that_waits_at_the_end_of_the_text_gets_a_page_and_one_too_high_is_told() -> None:
    workspace, _ = set_words(words(430), **PROSE)
    pages = len(workspace.job.pages)
    key = tie(workspace, 2000, 200.0, 400.0, "near")
    flow = flow_of(workspace)
    where = [column.slot.page for column in flow.columns if any(one.ref == key for one in column.afloat)]
    assert len(where) == 1
    assert len(workspace.job.pages) >= pages
    assert where[0] < len(workspace.job.pages)
    tall = tie(workspace, 100, 200.0, 900.0, "near")
    assert [one for one in findings_of(workspace.composition) if one.kind == "frame too high"]
    assert any(one.ref == tall for column in flow_of(workspace).columns for one in column.afloat)
    assert not flow_of(workspace).end.left


def test_a_frame_in_the_margin_stands_beside_its_line_clear_of_side_notes() -> None:
    workspace, p = set_words(words(300), **PROSE)
    frame = tie(workspace, 400, 30.0, 30.0, "margin")
    before = set(workspace.job.stories)
    workspace.do(do.AddNote("main", at(p, 420), at(p, 420), words(8), "side"))
    key = next(iter(set(workspace.job.stories) - before))
    column = next(one for one in flow_of(workspace).columns if one.afloat)
    (standing,) = column.afloat
    beside = next(one for one in column.margin if one.body.ref == key)
    assert standing.ref == frame
    assert standing.at == "beside"
    assert beside.top >= standing.rect.foot or beside.rect.foot <= standing.rect.y
    assert standing.rect.x >= column.slot.rect.right or standing.rect.right <= column.slot.rect.x
    without, _ = set_words(workspace.job.stories["main"].paragraphs[0].text.replace("\ufffc", ""), **PROSE)
    assert column.blocks[0].last_line == flow_of(without).columns[0].blocks[0].last_line
    workspace.do(do.SetInlayPlace(frame, "near"))
    assert next(one for c in flow_of(workspace).columns for one in c.afloat).at in ("foot", "head")
    workspace.do(do.SetInlayPlace(frame, ""))
    assert not any(c.afloat for c in flow_of(workspace).columns)
    assert told(workspace.composition) == told(Composition(workspace.job))
    assert package.read(package.write(workspace.job, {})).stories == workspace.job.stories
    with pytest.raises(EditError, match="no longer"):
        workspace.do(do.SetInlayPlace("none", ""))


def test_a_larger_frame_makes_room_for_itself() -> None:
    workspace, _ = set_words(words(500), **PROSE)
    key = tie(workspace, 300, 200.0, 60.0, "near")
    first = flow_of(workspace).columns[0].blocks[0].last_line
    rect = workspace.job.inlays[key].rect
    workspace.do(do.ChangeFrame("inlays", key, rect=replace(rect, height=160.0)))
    assert flow_of(workspace).columns[0].blocks[0].last_line < first
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_frames_are_told_and_stand_elsewhere_by_the_command_line(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    workspace = Workspace(book())
    workspace.do(do.PourText("main", (Paragraph("pa", "body", words(40)), Paragraph("pb", "body", words(600, 2)))))
    for name in ("Map", "Map", "Mark"):
        workspace.do(do.AddInlay("main", do.Place("pa", 30), do.Place("pa", 30), 40.0, 30.0, name=name))
    monkeypatch.chdir(tmp_path)
    Path("t.lexigon").write_bytes(package.write(workspace.job, {}))
    assert main(["frames", "t.lexigon", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [(one["name"], one["stands"], one["page"]) for one in told] == [
        ("Map", "", "1"),
        ("Map", "", "1"),
        ("Mark", "", "1"),
    ]
    assert main(["frames", "t.lexigon", "--stand", "Mark=near", "--stand", f"{told[0]['id']}=margin"]) == 0
    assert main(["frames", "t.lexigon"]) == 0
    shown = capsys.readouterr().out
    assert "Mark" in shown
    assert "near its line, page 1, at “" in shown
    assert {
        anchor.form
        for p in package.read(Path("t.lexigon").read_bytes()).stories["main"].paragraphs
        for anchor in anchors_in([p])
    } == {
        "",
        "near",
        "margin",
    }
    for wrong, why in (
        ("Map=near", "2 frames are called"),
        ("None=near", "no anchored frame"),
        ("Mark=over", "NAME=POSITION"),
        ("Mark", "NAME=POSITION"),
    ):
        before = Path("t.lexigon").read_bytes()
        assert main(["frames", "t.lexigon", "--stand", wrong]) == 2
        assert why in capsys.readouterr().err
        assert Path("t.lexigon").read_bytes() == before
