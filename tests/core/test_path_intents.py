"""Paths drawn, worked on by their nodes, combined and moved outward, as people do it: on the page, turned or not,
undone again."""

from __future__ import annotations

from math import hypot

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.model import Fill, FrameSpec, Object, Outline, Stroke
from lexigon.core.document.outlines import outline_on_page
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents import (
    AddFreehand,
    AddPath,
    AddShape,
    AddTextFrame,
    ChangeFrame,
    CombineShapes,
    EditNodes,
    GroupObjects,
    OffsetShapes,
    PartShapes,
    SmoothPath,
    intent_from_plain,
)
from lexigon.core.editing.intents.objects.paths import (
    AddNode,
    ChangeNodes,
    ExtendLine,
    JoinNodes,
    MoveNodes,
    PutHandle,
    ReverseLines,
    nodes_of,
)
from lexigon.core.editing.intents.objects.selection import Chosen
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.path.steps import area_of, bounds, flattened
from tests.core.helpers import book


@pytest.fixture
def workspace() -> Workspace:
    return Workspace(book(facing=False))


def page(workspace: Workspace) -> str:
    return workspace.job.pages[0].id


def last(workspace: Workspace) -> Object:
    return workspace.job.pages[0].objects[-1]


def chosen(workspace: Workspace, *objects: Object) -> tuple[Chosen, ...]:
    return tuple(Chosen(page(workspace), one.id) for one in objects)


def area(workspace: Workspace, one: Object) -> float:
    """What an object's rings cover; holes are wound the other way."""
    assert one.rect
    return abs(sum(area_of(ring) for ring in flattened(outline_on_page(one, one.rect)[0], 48)))


def nodes(workspace: Workspace, one: Object) -> list[list[tuple[float, float]]]:
    return [[node.at for node in line.nodes] for line in nodes_of(holder(workspace.job, page(workspace)), one)]


def test_a_path_stands_where_it_was_drawn_closed_ones_filled_and_lines_drawn(workspace: Workspace) -> None:
    workspace.do(AddPath(page(workspace), "M 50 60 C 80 20 120 20 150 60 L 100 140 Z"))
    closed = last(workspace)
    assert closed.rect
    assert closed.rect.y == pytest.approx(30.0), "the box is as tight as the curve"
    assert closed.make.fill
    assert closed.make.stroke is None, "a new shape has no outline unless asked"
    workspace.do(AddPath(page(workspace), "M 50 200 L 150 200"))
    line = last(workspace)
    assert line.make.fill is None
    assert line.make.stroke
    assert nodes(workspace, line) == [[pytest.approx((50, 200)), pytest.approx((150, 200))]]
    for data in ("", "M 5 5", "L 3 3", "Z"):
        with pytest.raises(LexigonError):
            workspace.do(AddPath(page(workspace), data))
    with pytest.raises(LexigonError):
        workspace.do(AddPath(page(workspace), "M 0 0 L 99999999 5"))


def test_a_drawing_by_hand_has_few_nodes(workspace: Workspace) -> None:
    points = tuple((50 + i, 100 + (i % 2) * 0.3) for i in range(200))
    workspace.do(AddFreehand(page(workspace), points, 1.5))
    assert len(nodes(workspace, last(workspace))[0]) == 2
    ring = tuple((100.0 + 40 * x, 100.0 + 40 * y) for x, y in ((0, -1), (1, 0), (0, 1), (-1, 0)))
    workspace.do(AddFreehand(page(workspace), ring, 1.0, closed=True, spec=FrameSpec(stroke=Stroke(2.0))))
    assert nodes_of(holder(workspace.job, page(workspace)), last(workspace))[0].closed


@pytest.mark.parametrize("rotation", [0.0, 30.0, 200.0])
def test_a_node_goes_where_it_is_put_and_the_others_stay(workspace: Workspace, rotation: float) -> None:
    """Also of an object that is turned: its box is another one then, about another centre."""
    workspace.do(AddShape(page(workspace), Rect(60, 80, 120, 70), Outline()))
    workspace.do(ChangeFrame(page(workspace), last(workspace).id, rotation=rotation))
    ((*before,),) = nodes(workspace, last(workspace))
    change = workspace.do(EditNodes(page(workspace), last(workspace).id, MoveNodes(((0, 1),), 25.0, -40.0)))
    ((*after,),) = nodes(workspace, last(workspace))
    wanted = [(x + 25, y - 40) if n == 1 else (x, y) for n, (x, y) in enumerate(before)]
    for found, right in zip(after, wanted, strict=True):
        assert hypot(found[0] - right[0], found[1] - right[1]) < 1e-3
    place = last(workspace).place
    assert place
    assert place.rotation == pytest.approx(rotation)
    was = plain(workspace.job)
    again = workspace.run(change.inverse)
    assert last(workspace).outline == Outline()
    workspace.run(again)
    assert plain(workspace.job) == was


@settings(deadline=None, max_examples=30)
@given(
    st.floats(0, 359).map(lambda v: round(v, 1)),
    st.floats(-200, 200).map(lambda v: round(v, 1)),
    st.floats(-200, 200).map(lambda v: round(v, 1)),
)
def test_moving_a_node_and_moving_it_back_leaves_the_outline(rotation: float, dx: float, dy: float) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(AddPath(page(workspace), "M 100 100 C 130 60 170 60 200 100 L 150 180 Z"))
    workspace.do(ChangeFrame(page(workspace), last(workspace).id, rotation=rotation))
    before = nodes(workspace, last(workspace))
    for sign in (1, -1):
        workspace.do(EditNodes(page(workspace), last(workspace).id, MoveNodes(((0, 2),), sign * dx, sign * dy)))
    for found, right in zip(nodes(workspace, last(workspace))[0], before[0], strict=True):
        assert hypot(found[0] - right[0], found[1] - right[1]) < 2e-3


def test_every_change_of_nodes(workspace: Workspace) -> None:
    workspace.do(AddShape(page(workspace), Rect(100, 100, 100, 60)))
    box = last(workspace).id

    def do(change: object) -> list[list[tuple[float, float]]]:
        workspace.do(EditNodes(page(workspace), box, change))  # type: ignore[arg-type]
        return nodes(workspace, last(workspace))

    assert len(do(AddNode((0, 0), 0.5))[0]) == 5
    do(ChangeNodes(((0, 1),), "smooth"))
    assert nodes_of(holder(workspace.job, page(workspace)), last(workspace))[0].nodes[1].smooth
    do(PutHandle((0, 1), "after", (170.0, 80.0)))
    do(ChangeNodes(((0, 1),), "sharp"))
    do(ChangeNodes(((0, 1),), "gone"))
    assert area(workspace, last(workspace)) == pytest.approx(6000, rel=1e-4)
    opened = do(ChangeNodes(((0, 0),), "cut"))
    assert len(opened[0]) == 5
    do(ReverseLines((0,)))
    more = do(ExtendLine((0, 4), "M 0 0 L 100 220"))
    assert more[0][-1] == pytest.approx((100, 220))
    do(JoinNodes((0, 0), (0, 5)))
    assert nodes_of(holder(workspace.job, page(workspace)), last(workspace))[0].closed
    with pytest.raises(LexigonError, match="ends of open lines"):
        do(JoinNodes((0, 0), (0, 1)))
    with pytest.raises(LexigonError, match="no longer"):
        do(ChangeNodes(((3, 9),), "gone"))
    count = len(workspace.job.pages[0].objects)
    workspace.do(EditNodes(page(workspace), box, ChangeNodes(tuple((0, n) for n in range(6)), "gone")))
    assert len(workspace.job.pages[0].objects) == count - 1, "without nodes it is gone"


def test_what_has_no_outline_to_work_on_says_so(workspace: Workspace) -> None:
    main = workspace.job.masters["text"].recto[0]
    workspace.do(AddShape(page(workspace), Rect(10, 10, 50, 50)))
    workspace.do(AddShape(page(workspace), Rect(80, 10, 50, 50)))
    a, b = workspace.job.pages[0].objects[-2:]
    workspace.do(GroupObjects(page(workspace), (a.id, b.id)))
    group = last(workspace)
    for key in (main.id, group.id, "gone"):
        with pytest.raises(LexigonError):
            workspace.do(EditNodes(page(workspace), key, MoveNodes(((0, 0),), 1.0, 1.0)))
    workspace.do(ChangeFrame(page(workspace), group.id, locked=True))
    with pytest.raises(LexigonError, match="locked"):
        workspace.do(EditNodes(page(workspace), a.id, MoveNodes(((0, 0),), 1.0, 1.0)))


def test_a_text_frame_gets_another_shape_and_its_words_keep_within(workspace: Workspace) -> None:
    workspace.do(AddTextFrame(page(workspace), Rect(100, 100, 120, 90), text="words " * 60))
    frame = last(workspace)
    workspace.do(EditNodes(page(workspace), frame.id, MoveNodes(((0, 1),), -100.0, 0.0)))
    (flow,) = [
        flow for flow in workspace.composition.flows.values() if any(c.slot.frame == frame.id for c in flow.columns)
    ]
    paragraph = flow.lines(0, flow.columns[0].blocks[0].measure, 0)
    widths = [line.measure or 120 for line in paragraph[:3]]
    assert widths == sorted(widths), "the right edge leans outward on the way down"
    assert widths[0] < 60


def test_shapes_are_made_one(workspace: Workspace) -> None:
    for how, wanted in (("unite", 6 * 2500), ("subtract", 2500 * 2), ("intersect", 5000), ("exclude", 10_000)):
        workspace.do(AddShape(page(workspace), Rect(100, 100, 100, 100), spec=FrameSpec(fill=Fill("marker"))))
        lower = last(workspace)
        workspace.do(AddShape(page(workspace), Rect(150, 100, 100, 100)))
        upper = last(workspace)
        change = workspace.do(CombineShapes(chosen(workspace, upper, lower), how))  # type: ignore[arg-type]
        made = last(workspace)
        assert area(workspace, made) == pytest.approx(wanted if how != "subtract" else 5000, rel=1e-3), how
        assert (made.make == lower.make) == (how == "subtract"), "it looks like the lowest, or like the topmost"
        workspace.run(change.inverse)
        assert [one.id for one in workspace.job.pages[0].objects[-2:]] == [lower.id, upper.id]
    workspace.do(CombineShapes(chosen(workspace, lower, upper), "divide"))
    pieces = workspace.job.pages[0].objects[-3:]
    assert [area(workspace, one) for one in pieces] == pytest.approx([5000] * 3, rel=1e-3)
    with pytest.raises(LexigonError, match="Nothing"):
        workspace.do(CombineShapes(chosen(workspace, pieces[0], pieces[2]), "intersect"))
    with pytest.raises(LexigonError, match="two"):
        workspace.do(CombineShapes(chosen(workspace, pieces[0]), "unite"))


def test_a_frame_with_something_in_it_is_kept_and_never_lost(workspace: Workspace) -> None:
    workspace.do(AddTextFrame(page(workspace), Rect(100, 100, 100, 100), text="Tide"))
    text = last(workspace)
    workspace.do(AddShape(page(workspace), Rect(150, 150, 100, 100), Outline()))
    shape = last(workspace)
    with pytest.raises(LexigonError, match="would be lost"):
        workspace.do(CombineShapes(chosen(workspace, shape, text), "unite"))
    workspace.do(CombineShapes(chosen(workspace, shape, text), "subtract"))
    assert last(workspace).text, "a piece is taken out of the frame, its text stays"
    assert area(workspace, last(workspace)) == pytest.approx(10_000 - 3.14159 * 2500 / 4, rel=1e-3)


def test_one_path_of_several_rings_is_made_and_taken_apart(workspace: Workspace) -> None:
    workspace.do(AddShape(page(workspace), Rect(100, 100, 100, 100)))
    outer = last(workspace)
    workspace.do(AddShape(page(workspace), Rect(120, 120, 20, 20)))
    hole = last(workspace)
    workspace.do(AddShape(page(workspace), Rect(300, 100, 40, 40)))
    far = last(workspace)
    workspace.do(CombineShapes(chosen(workspace, outer, hole, far), "compound"))
    whole = last(workspace)
    assert whole.outline
    assert whole.outline.even_odd
    assert len(nodes(workspace, whole)) == 3
    workspace.do(PartShapes(chosen(workspace, whole)))
    parts = workspace.job.pages[0].objects[-2:]
    assert [area(workspace, one) for one in parts] == pytest.approx([9600, 1600], rel=1e-3)
    with pytest.raises(LexigonError, match="several parts"):
        workspace.do(PartShapes(chosen(workspace, parts[1])))


def test_outlines_move_outward_as_copies_below_or_themselves(workspace: Workspace) -> None:
    workspace.do(AddShape(page(workspace), Rect(100, 100, 100, 60)))
    box = last(workspace)
    workspace.do(OffsetShapes(chosen(workspace, box), 10.0))
    below, above = workspace.job.pages[0].objects[-2:]
    assert above == box
    assert below.rect
    assert (below.rect.x, below.rect.width) == pytest.approx((90, 120), abs=1e-3)
    workspace.do(OffsetShapes(chosen(workspace, box), -20.0, copies=False))
    assert area(workspace, last(workspace)) == pytest.approx(60 * 20, rel=1e-3)
    with pytest.raises(LexigonError, match="nothing is left"):
        workspace.do(OffsetShapes(chosen(workspace, last(workspace)), -20.0))


def test_a_path_with_very_many_nodes_is_smoothed(workspace: Workspace) -> None:
    ring = (
        "M"
        + "L".join(
            f"{200 + (80 + (i % 2) * 0.05) * c:.3f} {200 + (80 + (i % 2) * 0.05) * s:.3f}"
            for i, (c, s) in enumerate(ring_of(10_000))
        )
        + "Z"
    )
    workspace.do(AddPath(page(workspace), ring))
    before = area(workspace, last(workspace))
    workspace.do(SmoothPath(page(workspace), last(workspace).id, 0.5))
    assert len(nodes(workspace, last(workspace))[0]) < 16
    assert area(workspace, last(workspace)) == pytest.approx(before, rel=0.01)
    box = bounds(outline_on_page(last(workspace), last(workspace).rect or Rect(0, 0, 0, 0))[0])
    assert box
    assert box.width == pytest.approx(160, abs=1.5)


def ring_of(count: int) -> list[tuple[float, float]]:
    from math import cos, pi, sin

    return [(cos(2 * pi * i / count), sin(2 * pi * i / count)) for i in range(count)]


@pytest.mark.parametrize(
    "change",
    [
        {"kind": "move", "nodes": [], "dx": 1, "dy": 1},
        {"kind": "move", "nodes": [[0, 0]], "dx": 1e12, "dy": 1},
        {"kind": "add", "after": [0, 0], "t": 2},
        {"kind": "change", "nodes": [[0, 0]], "to": "round"},
        {"kind": "extend", "node": [0, 0], "data": "M0 0 script"},
        {"kind": "none"},
        {},
    ],
)
def test_nonsense_is_refused(change: dict[str, object]) -> None:
    with pytest.raises(LexigonError):
        intent_from_plain({"do": "edit-nodes", "page": "p", "object": "f", "change": change})


def test_a_ring_of_parabolas_alone_is_read() -> None:
    """Skia writes none of the ends of a ring that has parabolas alone, such as a disc that was moved outward."""
    import pathops

    from lexigon.core.path.combining import _steps

    path = pathops.Path()
    pen = path.getPen()
    pen.qCurveTo((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0), None)
    pen.closePath()
    steps = _steps(path)
    assert steps[0] == ("M", ((0.0, 5.0),))
    assert [points[-1] for step, points in steps if step == "C"] == [(5.0, 0.0), (10.0, 5.0), (5.0, 10.0), (0.0, 5.0)]
