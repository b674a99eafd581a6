"""Objects aligned, spread, made alike, ordered, copied and pasted; held against what can be told by hand or in closed
form."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.brief.forms import sized
from lexigon.core.document.consistency import check
from lexigon.core.document.model import (
    Edges,
    Fill,
    Fold,
    FrameSpec,
    Guide,
    Object,
    PageGrid,
    ParagraphStyle,
    Swatch,
    bounds_of,
    find_object,
)
from lexigon.core.editing import intents as do
from lexigon.core.editing.edits import AnyPrimitive
from lexigon.core.editing.intents import Chosen, Place
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.fileformat.values import plain, read
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.coverage import coverage
from lexigon.core.paint.display import Display
from tests.core.helpers import book, words

BOXES = (Rect(50, 60, 40, 30), Rect(120, 200, 80, 20), Rect(300, 90, 20, 120))


def board(*boxes: Rect, facing: bool = True) -> tuple[Workspace, tuple[Chosen, ...]]:
    """A workspace with shapes on its first page, a recto."""
    job = book(facing=facing)
    bleed = Edges(head=9, foot=8, inner=3, outer=10) if facing else Edges(9, 9, 9, 9)
    job.brief = replace(job.brief, bleed=bleed)
    workspace = Workspace(job)
    page = job.pages[0].id
    workspace.do(*(do.AddShape(page, box) for box in boxes))
    return workspace, tuple(Chosen(page, one.id) for one in job.pages[0].objects)


def boxes(workspace: Workspace, chosen: tuple[Chosen, ...]) -> list[Rect]:
    found = [find_object(workspace.job.pages[0].objects, one.id) for one in chosen]
    return [bounds_of((one,)) for one in found if one]  # type: ignore[misc]


def undone(workspace: Workspace, *intents: do.Intent) -> Workspace:
    """Do something and see that it is taken back to the byte; then do it again."""
    before = job_to_json(workspace.job)
    change = workspace.do(*intents)
    after = job_to_json(workspace.job)
    again = workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    workspace.run(again)
    assert job_to_json(workspace.job) == after
    check(workspace.job)
    return workspace


EDGES = {
    "left": lambda box: box.x,
    "centre": lambda box: box.x + box.width / 2,
    "right": lambda box: box.right,
    "head": lambda box: box.y,
    "middle": lambda box: box.y + box.height / 2,
    "foot": lambda box: box.foot,
}


@pytest.mark.parametrize("edge", EDGES)
@pytest.mark.parametrize(
    ("to", "target"),
    [
        ("selection", Rect(50, 60, 270, 160)),
        ("first", BOXES[0]),
        ("page", Rect(0, 0, 432, 648)),
        ("bleed", Rect(-3, -9, 445, 665)),
        ("margins", Rect(63, 54, 324, 540)),
    ],
)
def test_objects_are_aligned_to_what_is_asked(edge: str, to: str, target: Rect) -> None:
    """Targets by hand: the recto's inner bleed of 3 pt is on its left, the outer one of 10 on its right."""
    workspace, chosen = board(*BOXES)
    undone(workspace, do.AlignObjects(chosen, edge, to))  # type: ignore[arg-type]
    for was, box in zip(BOXES, boxes(workspace, chosen), strict=True):
        assert EDGES[edge](box) == pytest.approx(EDGES[edge](target))
        assert (box.width, box.height) == pytest.approx((was.width, was.height))
        across = edge in ("left", "centre", "right")
        assert (box.y if across else box.x) == pytest.approx(was.y if across else was.x)


def folded(*boxes: Rect) -> tuple[Workspace, tuple[Chosen, ...]]:
    """The outside of a letter fold with shapes on it: panels of 90, 100 and 100 by 200 pt, 9 pt of bleed all round."""
    workspace, _ = board(facing=False)
    fold = Fold(100.0, 200.0, "letter", 3, "side", 10.0)
    workspace.job.brief = sized(replace(workspace.job.brief, margins=Edges(9, 9, 9, 9), form=fold), {})
    page = workspace.job.pages[0].id
    workspace.do(*(do.AddShape(page, box) for box in boxes))
    return workspace, tuple(Chosen(page, one.id) for one in workspace.job.pages[0].objects)


def test_objects_are_aligned_to_the_panel_the_column_and_the_spread_they_stand_on() -> None:
    """Targets by hand."""
    workspace, chosen = folded(Rect(10, 20, 30, 30), Rect(80, 20, 60, 30), Rect(250, 150, 60, 30))
    undone(workspace, do.AlignObjects(chosen, "left", "panel"))
    assert [box.x for box in boxes(workspace, chosen)] == pytest.approx([0, 90, 190]), "where most of each stands"
    undone(workspace, do.FillArea(chosen, "panel"))
    assert boxes(workspace, chosen) == [Rect(-9, -9, 99, 218), Rect(90, -9, 100, 218), Rect(190, -9, 109, 218)], (
        "with its bleed"
    )
    workspace, chosen = board(*BOXES)  # no panels; a first page alone
    with pytest.raises(LexigonError, match="no panels"):
        workspace.do(do.AlignObjects(chosen, "left", "panel"))
    undone(workspace, do.FillArea(chosen[:1], "spread"))
    assert boxes(workspace, chosen)[0] == Rect(-3, -9, 445, 665)
    workspace.job.brief = replace(workspace.job.brief, columns=2, gutter=24.0)
    workspace.do(do.AddPages(1, 2))
    verso, recto = workspace.job.pages[1].id, workspace.job.pages[2].id
    for page in (verso, recto):
        workspace.do(do.AddShape(page, Rect(80, 60, 40, 20)))
    both = tuple(Chosen(page, workspace.job.pages[n].objects[-1].id) for n, page in ((1, verso), (2, recto)))
    undone(workspace, do.AlignObjects(both, "centre", "spread"))
    found = [
        next(f.rect for f in workspace.job.pages[n].frames if f.id == one.id)
        for n, one in zip((1, 2), both, strict=True)
    ]
    assert [rect and rect.x for rect in found] == pytest.approx([432 - 20, -20]), "the fold, from either page"
    undone(workspace, do.AlignObjects(both, "right", "column"))
    found = [
        next(f.rect for f in workspace.job.pages[n].frames if f.id == one.id)
        for n, one in zip((1, 2), both, strict=True)
    ]
    assert [rect and rect.x + 40 for rect in found] == pytest.approx([45 + 324, 63 + 150]), (
        "the right one, the left one"
    )


def test_turned_objects_and_groups_are_aligned_by_the_box_round_them() -> None:
    workspace, chosen = board(*BOXES)
    page = workspace.job.pages[0].id
    workspace.do(do.ChangeFrame(page, chosen[2].id, rotation=90.0), do.GroupObjects(page, (chosen[0].id, chosen[1].id)))
    before = boxes(workspace, chosen)
    workspace.do(do.AlignObjects(chosen, "left", "page"))
    after = boxes(workspace, chosen)
    assert after[2].x == pytest.approx(0)
    assert after[2].width == pytest.approx(120)
    assert [a.x - b.x for a, b in zip(after[:2], before[:2], strict=True)] == pytest.approx([-50, -50]), (
        "the group as one"
    )


def test_sizes_are_changed_by_one_rule_as_each_thing_stands() -> None:
    workspace, chosen = board(*BOXES)
    page = workspace.job.pages[0].id
    workspace.do(do.ChangeFrame(page, chosen[2].id, rotation=30.0))
    undone(workspace, do.SizeObjects(chosen, width=do.SizeChange(0.5, 10.0), height=do.SizeChange(0.0, 33.0)))
    found = {one.id: one.rect for one in workspace.job.pages[0].frames}
    for one, was in zip(chosen, BOXES, strict=True):
        assert found[one.id] == Rect(was.x, was.y, was.width / 2 + 10, 33.0), "a turned one too"
    workspace.do(do.GroupObjects(page, (chosen[0].id, chosen[1].id)))
    before = boxes(workspace, chosen)[:2]
    workspace.do(do.SizeObjects(chosen[:1], width=do.SizeChange(2.0)))
    after = boxes(workspace, chosen)[:2]
    left = min(box.x for box in before)
    for a, b in zip(after, before, strict=True):
        assert (a.x, a.width) == pytest.approx((left + 2 * (b.x - left), 2 * b.width)), (
            "the group as one, from its left"
        )
        assert (a.y, a.height) == pytest.approx((b.y, b.height))
    kept = job_to_json(workspace.job)
    for bad in (do.SizeChange(0.0, 0.0), do.SizeChange(1.0, -1000.0), do.SizeChange(0.0, 1.0)):
        with pytest.raises(LexigonError):
            workspace.do(do.SizeObjects(chosen, height=bad))
    assert job_to_json(workspace.job) == kept


SIZES = st.lists(
    st.tuples(st.floats(0, 300), st.floats(0, 300), st.floats(5, 90), st.floats(5, 90)), min_size=3, max_size=7
)


@given(SIZES, st.sampled_from(["across", "down"]), st.sampled_from(["selection", "margins", "gap"]))
def test_gaps_are_equal(sizes: list[tuple[float, float, float, float]], axis: str, to: str) -> None:
    workspace, chosen = board(*(Rect(*size) for size in sizes))
    before = boxes(workspace, chosen)
    gap = 7.5 if to == "gap" else None
    workspace.do(do.SpreadObjects(chosen, axis, "selection" if gap else to, gap))  # type: ignore[arg-type]
    after = boxes(workspace, chosen)

    def along(box: Rect) -> tuple[float, float]:
        return (box.x, box.right) if axis == "across" else (box.y, box.foot)

    def other(box: Rect) -> tuple[float, float]:
        return (box.y, box.foot) if axis == "across" else (box.x, box.right)

    order = sorted(range(len(before)), key=lambda n: sum(along(before[n])))
    gaps = [along(after[b])[0] - along(after[a])[1] for a, b in pairwise(order)]
    assert gaps == pytest.approx([gaps[0]] * len(gaps), abs=1e-6)
    assert [other(box) for box in after] == [pytest.approx(other(box)) for box in before]
    if gap:
        assert gaps[0] == pytest.approx(gap)
    elif to == "margins":
        ends = (63, 387) if axis == "across" else (54, 594)
        assert (along(after[order[0]])[0], along(after[order[-1]])[1]) == pytest.approx(ends)
    else:
        assert along(after[order[0]])[0] == pytest.approx(min(along(box)[0] for box in before))
        assert along(after[order[-1]])[1] == pytest.approx(max(along(box)[1] for box in before))


def test_alike_in_size_and_as_large_as_the_page() -> None:
    workspace, chosen = board(*BOXES)
    undone(workspace, do.MatchSizes(chosen, height=False))
    assert boxes(workspace, chosen) == [BOXES[0], Rect(120, 200, 40, 20), Rect(300, 90, 40, 120)]
    undone(workspace, do.FillArea(chosen[:1], "bleed"))
    assert boxes(workspace, chosen)[0] == Rect(-3, -9, 445, 665)
    metric, one = board(Rect(50, 50, 30, 30), facing=False)
    metric.do(do.FillArea(one, "bleed"))
    assert boxes(metric, one)[0] == Rect(-9, -9, 450, 666), (
        "a full-bleed frame begins at minus the bleed, on both sides"
    )
    undone(workspace, do.MoveObjects(chosen, 3, -4))
    assert boxes(workspace, chosen)[2] == Rect(303, 86, 40, 120)


def test_a_page_grid_is_no_finer_than_can_be_set_against() -> None:
    workspace, _ = board()
    undone(workspace, do.PutPageGrid(PageGrid(20.0, 20.0, 20)))
    with pytest.raises(LexigonError, match="less than 1 pt"):
        workspace.do(do.PutPageGrid(PageGrid(20.0, 10.0, 20)))
    undone(workspace, do.PutPageGrid())
    assert workspace.job.brief.page_grid is None


def test_more_is_pasted_than_a_page_bears() -> None:
    """5,000 objects are refused in words, and nothing is changed; 1,500 are pasted."""
    workspace, chosen = board(Rect(10, 10, 20, 20))
    clip = do.clip_of(workspace.job, chosen)
    before, page = job_to_json(workspace.job), workspace.job.pages[0].id
    for count, refused in ((5000, True), (1500, False)):
        many = tuple(replace(clip.objects[0], id=f"m{n}") for n in range(count))
        if refused:
            with pytest.raises(LexigonError, match="2,000"):
                workspace.do(do.PasteObjects(page, replace(clip, objects=many)))
            assert job_to_json(workspace.job) == before
        else:
            workspace.do(do.PasteObjects(page, replace(clip, objects=many)))
            assert len(workspace.job.pages[0].objects) == 1501


def ids(workspace: Workspace) -> list[str]:
    return [one.id for one in workspace.job.pages[0].objects]


def test_above_and_below() -> None:
    workspace, chosen = board(*BOXES, Rect(10, 10, 10, 10))
    a, b, c, d = ids(workspace)
    for to, taken, wanted in (
        ("front", (a, c), [b, d, a, c]),
        ("back", (a,), [a, b, d, c]),
        ("forward", (a, b), [d, a, b, c]),
        ("forward", (a, b), [d, c, a, b]),
        ("backward", (c, b), [c, d, b, a]),
    ):
        undone(workspace, do.OrderObjects(tuple(Chosen(chosen[0].page, key) for key in taken), to))  # type: ignore[arg-type]
        assert ids(workspace) == wanted, to
    # What stands on another layer is passed over: one step is one that can be seen.
    workspace.do(do.AddLayer("Upper"))
    upper = list(workspace.job.layers)[-1]
    workspace.do(do.PutOnLayer(upper, (Chosen(chosen[0].page, d),)))
    workspace.do(do.OrderObjects((Chosen(chosen[0].page, c),), "forward"))
    assert [key for key in ids(workspace) if key != d] == [b, c, a]


def with_text() -> tuple[Workspace, Chosen]:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(60, 70, 200, 120), text=words(30)))
    one = workspace.job.pages[0].objects[-1]
    story = one.story or ""
    p = workspace.job.stories[story].paragraphs[0].id
    workspace.do(
        do.AddNote(story, Place(p, 10), Place(p, 10), "Noted."),
        do.AddInlay(story, Place(p, 40), Place(p, 40), 20, 12, "in"),
    )
    return workspace, Chosen(page, one.id)


def texts(workspace: Workspace) -> list[str]:
    return sorted(
        p.text
        for story in workspace.job.stories.values()
        if story.kind == "text"
        for p in story.paragraphs
        if len(p.text) > 5
    )


def test_copies_have_texts_of_their_own_and_stand_where_they_are_told() -> None:
    workspace, one = with_text()
    was = texts(workspace)
    undone(workspace, do.DuplicateObjects((one,), 12, 12))
    assert [frame.rect for frame in workspace.job.pages[0].objects] == [Rect(60, 70, 200, 120), Rect(72, 82, 200, 120)]
    assert texts(workspace) == sorted(was * 2)
    assert len({frame.story for frame in workspace.job.pages[0].objects}) == 2
    assert len({story.name for story in workspace.job.stories.values() if story.frames}) == len(
        [s for s in workspace.job.stories.values() if s.frames]
    )
    grid, chosen = board(Rect(10, 20, 30, 15))
    undone(grid, do.RepeatObjects(chosen, 3, 2, 40, 25))
    found = {(one.rect.x, one.rect.y) for one in grid.job.pages[0].objects if one.rect}
    assert found == {(10 + 40 * n, 20 + 25 * m) for n in range(3) for m in range(2)}
    with pytest.raises(LexigonError, match="2,000"):
        grid.do(do.RepeatObjects(chosen, 200, 200, 1, 1))


def test_the_clipboard_carries_all_that_objects_need_into_another_job() -> None:
    workspace, one = with_text()
    page = one.page
    job = workspace.job
    job.swatches["dusk"] = Swatch("dusk", "Dusk", "cmyk", (0.1, 0.5, 0.3, 0.2))
    job.paragraph_styles["grand"] = ParagraphStyle("grand", "Grand", based_on="opener")
    job.paragraph_styles["opener"] = ParagraphStyle("opener", "Opener", based_on="body")
    story = job.pages[0].objects[-1].story or ""
    p = job.stories[story].paragraphs[0].id
    workspace.do(
        do.SetParagraphs(story, p, p, style="grand"), do.ChangeFrame(page, one.id, spec=FrameSpec(fill=Fill("dusk")))
    )
    clip = read(do.ObjectClip, plain(do.clip_of(job, (one,))))
    assert {s.id for s in clip.paragraph_styles} >= {"grand", "opener", "body"}
    assert [s.id for s in clip.swatches if s.id not in ("black", "paper", "marker")] == ["dusk"]
    other = Workspace(book(facing=False))
    target = other.job.pages[0].id
    undone(other, do.PasteObjects(target, clip, (200.0, 300.0)))
    (pasted,) = other.job.pages[0].objects
    assert pasted.rect == Rect(100, 240, 200, 120), "about the point"
    assert {"grand", "opener"} <= other.job.paragraph_styles.keys()
    assert "dusk" in other.job.swatches
    assert texts(other) == texts(workspace)
    assert sorted(s.kind for s in other.job.stories.values() if s.kind != "text") == ["inlay", "note"]
    other.do(do.PasteObjects(target, clip, in_place=True))
    assert other.job.pages[0].objects[-1].rect == Rect(60, 70, 200, 120)
    assert len({frame.story for frame in other.job.pages[0].objects}) == 2
    workspace.do(do.PasteObjects(page, clip))
    assert workspace.job.pages[0].objects[-1].rect == Rect(72, 82, 200, 120), "beside what it was copied from"
    small = Workspace(book(100, 120, facing=False))
    small.do(do.PasteObjects(small.job.pages[0].id, clip))
    assert small.job.pages[0].objects[-1].rect == Rect(-50, 0, 200, 120), "centred: its place is off this page"
    workspace.do(do.PasteObjects("master:text:recto", clip, in_place=True))
    check(workspace.job)


def test_what_cannot_be_arranged_is_said_and_nothing_is_done() -> None:
    workspace, chosen = board(*BOXES)
    page = chosen[0].page
    main = next(frame for frame, _ in workspace.job.page_frames(0) if frame.main)
    workspace.do(do.ChangeFrame(page, chosen[1].id, locked=True))
    before = job_to_json(workspace.job)
    for intent, said in (
        (do.AlignObjects(chosen, "left"), "locked"),
        (do.AlignObjects(chosen[:1], "left"), "at least two"),
        (do.OrderObjects((chosen[1],), "front"), "locked"),
        (do.SpreadObjects((chosen[0], chosen[2]), "down"), "at least three"),
        (do.MatchSizes(chosen[:1]), "at least two"),
        (do.AlignObjects((Chosen(page, main.id), chosen[0]), "left"), "master"),
        (do.RepeatObjects(chosen[:1]), "Type the number of columns or rows"),
        (do.MoveObjects((Chosen("inlays", "x"),), 1), "Part of the selection is anchored in a story"),
        (do.MoveObjects(chosen[:1], 1e5), "This position is too far from the page"),
        (do.DuplicateObjects((Chosen("nowhere", "x"),)), "no longer"),
    ):
        with pytest.raises(LexigonError, match=said):
            workspace.do(intent)
    assert job_to_json(workspace.job) == before
    workspace.do(do.TakeOver(page, main.id))
    own = next(one for one in workspace.job.pages[0].objects if one.main)
    with pytest.raises(LexigonError, match="main story"):
        workspace.do(do.DuplicateObjects((Chosen(page, own.id),)))
    with pytest.raises(LexigonError):
        workspace.do(do.PasteObjects(page, do.ObjectClip((Object("f1", style="not here", place=None),))))


def test_a_rule_reaches_from_point_to_point() -> None:
    workspace, _ = board()
    page = workspace.job.pages[0].id
    undone(workspace, do.AddRule(page, (100, 200), (130, 240)), do.AddRule(page, (50, 60), (50, 20)))
    for one, ends in zip(workspace.job.pages[0].objects, (((100, 200), (130, 240)), ((50, 60), (50, 20))), strict=True):
        assert one.place
        map_, rect = one.place.map, one.place.rect
        assert map_
        middle = rect.y + rect.height / 2
        found = (map_.apply(rect.x, middle), map_.apply(rect.right, middle))
        assert [v for point in found for v in point] == pytest.approx([v for point in ends for v in point], abs=1e-6)
    marks = [mark for mark in coverage(Display(workspace.composition).page(0).items()) if mark.inks == {"Black": 1.0}]
    assert len([mark for mark in marks if mark.owner in ids(workspace)]) == 2
    with pytest.raises(LexigonError, match="4 pt"):
        workspace.do(do.AddRule(page, (1, 1), (2, 2)))


def test_pages_are_divided_by_guides_into_columns_and_rows() -> None:
    """By hand: margins of 63 to 387 and 54 to 594 pt; three columns of 100 with gutters of 12, two rows without."""
    workspace, _ = board(BOXES[0])
    page = workspace.job.pages[0].id
    workspace.do(do.PutGuides(page, (Guide("x", 40.0),)))
    undone(workspace, do.DivideByGuides((page,), columns=3, rows=2, gutter=12.0))
    assert workspace.job.pages[0].guides == (
        Guide("x", 163.0),
        Guide("x", 175.0),
        Guide("x", 275.0),
        Guide("x", 287.0),
        Guide("y", 324.0),
    )
    workspace.do(do.DivideByGuides(columns=2, to="page", keep=True))
    assert workspace.job.pages[0].guides[-1] == Guide("x", 216.0)
    assert len(workspace.job.pages[0].guides) == 6
    workspace.do(do.DivideByGuides(("master:text:recto",), rows=2, to="bleed"))
    assert workspace.job.masters["text"].guides == (Guide("y", 323.5, "recto"),)
    for bad, said in (
        (do.DivideByGuides((page,), columns=40, gutter=30.0), "leave no room"),
        (do.DivideByGuides((page,), columns=2, gutter=-3.0), "leave no room"),
        (do.DivideByGuides(("inlays",), columns=2), "are on pages"),
    ):
        with pytest.raises(LexigonError, match=said):
            workspace.do(bad)


def test_guides_of_pages_and_of_masters_halves_compose_nothing() -> None:
    workspace, _ = board(BOXES[0])
    page = workspace.job.pages[0].id
    set_, filled = [Guide("x", 40.0), Guide("y", 99.5)], workspace.composition.flows["main"].filled
    undone(workspace, do.PutGuides(page, (*set_, set_[0])))
    assert workspace.job.pages[0].guides == tuple(set_)
    assert workspace.job.pages[0].objects, "what stands there stays"
    workspace.do(do.PutGuides("master:text:verso", (Guide("x", 10.0, "verso"),)))
    undone(workspace, do.PutGuides("master:text:recto", (Guide("x", 20.0, "recto"), Guide("y", 30.0))))
    assert workspace.job.masters["text"].guides == (
        Guide("x", 10.0, "verso"),
        Guide("x", 20.0, "recto"),
        Guide("y", 30.0),
    )
    assert workspace.composition.flows["main"].filled is filled
    change = workspace.do(do.PutGuides(page, ()))
    assert [edit.op for edit in change.edits] == ["set-guides"]
    assert read(AnyPrimitive, {**plain(change.edits[0]), "op": "set-guides"}) == change.edits[0]
    with pytest.raises(LexigonError):
        workspace.do(do.PutGuides("inlays", tuple(set_)))


def corners(one: Object) -> numpy.ndarray:
    """Where the corners of an object's box stand on the page."""
    assert one.place
    r, map_ = one.place.rect, one.place.map or Affine()
    ends = ((r.x, r.y), (r.right, r.y), (r.right, r.foot), (r.x, r.foot))
    return numpy.array([map_.apply(x, y) for x, y in ends])


@given(
    st.sampled_from(["", "across", "down"]),
    st.floats(-60, 60).map(round),
    st.floats(-180, 180).map(round),
    st.sampled_from([(0.0, 0.0), (0.5, 0.5), (1.0, 0.5)]),
    st.booleans(),
)
def test_all_that_is_chosen_is_transformed_as_one(
    mirror: str, skew: int, turn: int, about: tuple[float, float], stretched: bool
) -> None:
    """Against the product of the textbook's matrices, applied to the corners."""
    workspace, chosen = board(*BOXES)
    workspace.do(do.ChangeFrame(chosen[0].page, chosen[1].id, rotation=25.0))
    objects = [find_object(workspace.job.pages[0].objects, one.id) for one in chosen]
    before = numpy.vstack([corners(one) for one in objects if one])
    whole = bounds_of(tuple(one for one in objects if one))
    assert whole
    to = Rect(whole.x - 20, whole.y + 10, whole.width * 1.5, whole.height * 0.6) if stretched else None
    box = to or whole
    matrix = numpy.eye(3)
    if to:
        k, m = to.width / whole.width, to.height / whole.height
        matrix = numpy.array([[k, 0, to.x - whole.x * k], [0, m, to.y - whole.y * m], [0, 0, 1]])
    x, y = box.x + about[0] * box.width, box.y + about[1] * box.height
    there, back = (numpy.array([[1, 0, s * x], [0, 1, s * y], [0, 0, 1]]) for s in (-1, 1))
    flip = numpy.diag({"": (1, 1, 1), "across": (-1, 1, 1), "down": (1, -1, 1)}[mirror])
    lean = numpy.array([[1, -numpy.tan(numpy.radians(skew)), 0], [0, 1, 0], [0, 0, 1]])
    c, s = numpy.cos(numpy.radians(turn)), numpy.sin(numpy.radians(turn))
    wheel = numpy.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
    for step in (flip, lean, wheel):
        matrix = back @ step @ there @ matrix
    intent = do.TransformObjects(chosen, to, mirror, skew, turn, about)  # type: ignore[arg-type]
    change = workspace.do(intent)
    objects = [find_object(workspace.job.pages[0].objects, one.id) for one in chosen]
    after = numpy.vstack([corners(one) for one in objects if one])
    wanted = (numpy.hstack([before, numpy.ones((len(before), 1))]) @ matrix.T)[:, :2]
    assert numpy.abs(after - wanted).max() < 1e-6
    workspace.run(change.inverse)


def test_two_things_change_places() -> None:
    workspace, chosen = board(*BOXES)
    undone(workspace, do.SwapPlaces(chosen[:2]))
    one, other, _ = boxes(workspace, chosen)
    assert (one.x + one.width / 2, one.y + one.height / 2) == pytest.approx((160, 210))
    assert (other.x + other.width / 2, other.y + other.height / 2) == pytest.approx((70, 75))
    assert (one.width, other.width) == (40, 80)
    for bad in (chosen, chosen[:1], (chosen[0], chosen[0])):
        with pytest.raises(LexigonError, match="Select two objects to swap"):
            workspace.do(do.SwapPlaces(bad))


def test_sizes_change_about_any_point_of_the_box() -> None:
    workspace, chosen = board(*BOXES)
    workspace.do(do.SizeObjects(chosen[:2], do.SizeChange(2.0), do.SizeChange(0.5, 3.0), (1.0, 0.5)))
    for box, was in zip(boxes(workspace, chosen), BOXES[:2], strict=False):
        assert box.right == pytest.approx(was.right)
        assert box.y + box.height / 2 == pytest.approx(was.y + was.height / 2)
        assert (box.width, box.height) == pytest.approx((2 * was.width, was.height / 2 + 3))


def test_texts_of_several_frames_become_one_and_nothing_of_them_is_lost() -> None:
    workspace = Workspace(book())
    page, other = workspace.job.pages[0].id, workspace.job.pages[-1].id
    for n, words_ in enumerate(("High water\nand low", "", "Neaps")):
        workspace.do(do.AddTextFrame(other if n == 2 else page, Rect(20, 60 * n + 20, 100, 40), text=words_))
    first, empty, last = (one for p in workspace.job.pages for one in p.objects if one.text and not one.main)
    chosen = (Chosen(page, first.id), Chosen(page, empty.id), Chosen(other, last.id))
    undone(workspace, do.JoinTexts(chosen))
    assert [p.text for p in workspace.job.stories[first.story or ""].paragraphs] == ["High water", "and low", "Neaps"]
    assert empty.story not in workspace.job.stories
    assert [one.id for p in workspace.job.pages for one in p.objects if one.text and not one.main] == [first.id]
    with pytest.raises(LexigonError, match="two frames"):
        workspace.do(do.JoinTexts(chosen[:1]))


@pytest.mark.parametrize(("over", "turned"), [(360.0, True), (180.0, True), (-90.0, False)])
def test_copies_stand_round_a_point(over: float, turned: bool) -> None:
    workspace, chosen = board(Rect(100, 100, 40, 20))
    undone(workspace, do.RepeatRound(chosen, 5, (200.0, 300.0), over, turned))
    objects = workspace.job.pages[0].objects
    assert len(objects) == 5
    step = over / (5 if over == 360 else 4)
    for number, one in enumerate(objects):
        x, y = corners(one).mean(axis=0)
        angle = numpy.radians(number * step)
        dx, dy = 120 - 200, 110 - 300
        wanted = (
            200 + dx * numpy.cos(angle) - dy * numpy.sin(angle),
            300 + dx * numpy.sin(angle) + dy * numpy.cos(angle),
        )
        assert (x, y) == pytest.approx(wanted)
        assert one.rotation == pytest.approx((number * step) % 360 if turned else 0)
    with pytest.raises(LexigonError):
        workspace.do(do.RepeatRound(chosen, 1, (0.0, 0.0)))
