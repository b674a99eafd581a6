"""Frames tied to a text that do not stand in its line: near it at the head or the foot of a column, or beside it."""

from __future__ import annotations

import json
from dataclasses import replace
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.cli import main
from lexigon.core.check.findings import findings_of
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Rect
from lexigon.core.job import intents as do
from lexigon.core.job import package
from lexigon.core.job.anchoring import anchors_in
from lexigon.core.job.checks import check
from lexigon.core.job.edits import EditError
from lexigon.core.job.model import FrameSpec, Paragraph, Wrap
from lexigon.core.job.serial import job_to_json
from tests.core.helpers import book, examples, tied_to, words
from tests.core.test_notes import PROSE, put_together, said
from tests.core.test_objects_in_texts import at, flow_of, note, set_words, told


def tie(desk: Desk, offset: int, width: float, height: float, where: str, paragraph: str = "pa") -> str:
    before = set(desk.job.inlays)
    place = at(paragraph, offset)
    desk.do(do.AddInlay("main", place, place, width, height, where=where))  # type: ignore[arg-type]
    return next(key for key in desk.job.inlays if key not in before)


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
    """With notes among them. None stands on an earlier page than its line or before one that comes earlier; a page that has room for the next
    one has it."""
    desk, p = set_words(words(900, seed), **PROSE)
    order, notes = [], []
    for offset, size, frame in sorted(tied, reverse=True):
        if frame:
            order.append(tie(desk, offset, 200.0, float(size), "near"))
        else:
            notes.append(note(desk, p, offset, words(size // 4, size)))
    flow = flow_of(desk)
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
        assert put_together(flow.columns, ref) == said(desk, ref)
    assert not flow.end.left
    check(desk.job)
    assert told(desk.composition) == told(Composition(desk.job))
    before = job_to_json(desk.job)
    change = desk.do(do.ReplaceText("main", at(p, 0), at(p, 0), words(60, 9) + " "))
    assert told(desk.composition) == told(Composition(desk.job))
    desk.run(change.inverse)
    assert job_to_json(desk.job) == before
    assert told(desk.composition) == told(Composition(desk.job))


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
    """Wherever the lines are moved to in their column; in order where several belong above one line, and over nothing else."""
    desk, p = set_words(words(600), **(PROSE | {"grid": grid}))
    for number, page in enumerate(list(desk.job.pages)):
        main = next(frame for frame, _ in desk.job.page_frames(number) if frame.main)
        desk.do(do.ChangeFrame(page.id, main.id, spec=FrameSpec(vertical=vertical)))  # type: ignore[arg-type]
    order = []
    for offset, size, where in sorted(tied, reverse=True):
        if where == "note":
            note(desk, p, offset, words(size // 4, size))
        else:
            key = tie(desk, offset, 60.0 if where == "margin" else 200.0, float(size), where)
            order += [key] if where == "above" else []
    flow = flow_of(desk)
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
    check(desk.job)
    assert told(desk.composition) == told(Composition(desk.job))


def test_a_frame_too_high_above_its_line_runs_out_and_is_told_and_one_beside_an_obstacle_stands_near() -> None:
    desk, _ = set_words(words(300), **PROSE)
    key = tie(desk, 700, 200.0, 2000.0, "above")
    flow = flow_of(desk)
    assert [one.ref for column in flow.columns for one in column.afloat] == [key]
    assert not flow.end.left
    assert [one for one in findings_of(desk.composition) if one.kind == "frame too high"]
    desk, _ = set_words(words(300), **PROSE)
    page = desk.job.pages[0]
    area = flow_of(desk).columns[0].slot.rect
    desk.do(
        do.AddShape(
            page.id,
            Rect(area.x + area.width / 2, area.y, area.width / 2, area.height),
            spec=FrameSpec(wrap=Wrap("both")),
        )
    )
    tie(desk, 100, 60.0, 40.0, "above")
    assert {one.at for column in flow_of(desk).columns for one in column.afloat} <= {"foot", "head"}
    assert told(desk.composition) == told(Composition(desk.job))


def test_a_frame_that_waits_at_the_end_of_the_text_gets_a_page_and_one_too_high_is_told() -> None:
    desk, _ = set_words(words(430), **PROSE)
    pages = len(desk.job.pages)
    key = tie(desk, 2000, 200.0, 400.0, "near")
    flow = flow_of(desk)
    where = [column.slot.page for column in flow.columns if any(one.ref == key for one in column.afloat)]
    assert len(where) == 1
    assert len(desk.job.pages) >= pages
    assert where[0] < len(desk.job.pages)
    tall = tie(desk, 100, 200.0, 900.0, "near")
    assert [one for one in findings_of(desk.composition) if one.kind == "frame too high"]
    assert any(one.ref == tall for column in flow_of(desk).columns for one in column.afloat)
    assert not flow_of(desk).end.left


def test_a_frame_in_the_margin_stands_beside_its_line_clear_of_side_notes() -> None:
    desk, p = set_words(words(300), **PROSE)
    frame = tie(desk, 400, 30.0, 30.0, "margin")
    before = set(desk.job.stories)
    desk.do(do.AddNote("main", at(p, 420), at(p, 420), words(8), "side"))
    key = next(iter(set(desk.job.stories) - before))
    column = next(one for one in flow_of(desk).columns if one.afloat)
    (standing,) = column.afloat
    beside = next(one for one in column.margin if one.body.ref == key)
    assert standing.ref == frame
    assert standing.at == "beside"
    assert beside.top >= standing.rect.foot or beside.rect.foot <= standing.rect.y
    assert standing.rect.x >= column.slot.rect.right or standing.rect.right <= column.slot.rect.x
    without, _ = set_words(desk.job.stories["main"].paragraphs[0].text.replace("\ufffc", ""), **PROSE)
    assert column.blocks[0].last_line == flow_of(without).columns[0].blocks[0].last_line
    desk.do(do.SetInlayPlace(frame, "near"))
    assert next(one for c in flow_of(desk).columns for one in c.afloat).at in ("foot", "head")
    desk.do(do.SetInlayPlace(frame, ""))
    assert not any(c.afloat for c in flow_of(desk).columns)
    assert told(desk.composition) == told(Composition(desk.job))
    assert package.read(package.write(desk.job, {})).stories == desk.job.stories
    with pytest.raises(EditError, match="no longer"):
        desk.do(do.SetInlayPlace("none", ""))


def test_a_larger_frame_makes_room_for_itself() -> None:
    desk, _ = set_words(words(500), **PROSE)
    key = tie(desk, 300, 200.0, 60.0, "near")
    first = flow_of(desk).columns[0].blocks[0].last_line
    rect = desk.job.inlays[key].rect
    desk.do(do.ChangeFrame("inlays", key, rect=replace(rect, height=160.0)))
    assert flow_of(desk).columns[0].blocks[0].last_line < first
    assert told(desk.composition) == told(Composition(desk.job))


def test_frames_are_told_and_stand_elsewhere_by_the_command_line(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    desk = Desk(book())
    desk.do(do.PourText("main", (Paragraph("pa", "body", words(40)), Paragraph("pb", "body", words(600, 2)))))
    for name in ("Map", "Map", "Mark"):
        desk.do(do.AddInlay("main", do.Place("pa", 30), do.Place("pa", 30), 40.0, 30.0, name=name))
    monkeypatch.chdir(tmp_path)
    Path("t.lexigon").write_bytes(package.write(desk.job, {}))
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
    assert {anchor.form for p in package.read(Path("t.lexigon").read_bytes()).stories["main"].paragraphs for anchor in anchors_in([p])} == {
        "", "near", "margin",
    }  # fmt: skip
    for wrong, why in (
        ("Map=near", "2 frames are called"),
        ("None=near", "no frame"),
        ("Mark=over", "NAME=PLACE"),
        ("Mark", "NAME=PLACE"),
    ):
        before = Path("t.lexigon").read_bytes()
        assert main(["frames", "t.lexigon", "--stand", wrong]) == 2
        assert why in capsys.readouterr().err
        assert Path("t.lexigon").read_bytes() == before
