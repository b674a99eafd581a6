"""Paths drawn, worked on by their nodes, combined and moved outward, as people do it: on the page, turned or not, undone again."""

from __future__ import annotations

from math import hypot

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Rect
from lexigon.core.job.holders import holder
from lexigon.core.job.intents import (
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
from lexigon.core.job.intents.chosen import Chosen
from lexigon.core.job.intents.paths import (
    AddNode,
    ChangeNodes,
    ExtendLine,
    JoinNodes,
    MoveNodes,
    PutHandle,
    ReverseLines,
    nodes_of,
)
from lexigon.core.job.model import Fill, FrameSpec, Object, Outline, Stroke
from lexigon.core.job.outlining import outline_on_page
from lexigon.core.job.serial import plain
from lexigon.core.path.steps import area_of, bounds, flattened
from tests.core.helpers import book


@pytest.fixture
def desk() -> Desk:
    return Desk(book(facing=False))


def page(desk: Desk) -> str:
    return desk.job.pages[0].id


def last(desk: Desk) -> Object:
    return desk.job.pages[0].objects[-1]


def chosen(desk: Desk, *objects: Object) -> tuple[Chosen, ...]:
    return tuple(Chosen(page(desk), one.id) for one in objects)


def area(desk: Desk, one: Object) -> float:
    """What an object's rings cover; holes are wound the other way."""
    assert one.rect
    return abs(sum(area_of(ring) for ring in flattened(outline_on_page(one, one.rect)[0], 48)))


def nodes(desk: Desk, one: Object) -> list[list[tuple[float, float]]]:
    return [[node.at for node in line.nodes] for line in nodes_of(holder(desk.job, page(desk)), one)]


def test_a_path_stands_where_it_was_drawn_closed_ones_filled_and_lines_drawn(desk: Desk) -> None:
    desk.do(AddPath(page(desk), "M 50 60 C 80 20 120 20 150 60 L 100 140 Z"))
    closed = last(desk)
    assert closed.rect
    assert closed.rect.y == pytest.approx(30.0), "the box is as tight as the curve"
    assert closed.make.fill
    assert closed.make.stroke is None, "a new shape has no outline unless asked"
    desk.do(AddPath(page(desk), "M 50 200 L 150 200"))
    line = last(desk)
    assert line.make.fill is None
    assert line.make.stroke
    assert nodes(desk, line) == [[pytest.approx((50, 200)), pytest.approx((150, 200))]]
    for data in ("", "M 5 5", "L 3 3", "Z"):
        with pytest.raises(LexigonError):
            desk.do(AddPath(page(desk), data))
    with pytest.raises(LexigonError):
        desk.do(AddPath(page(desk), "M 0 0 L 99999999 5"))


def test_a_drawing_by_hand_has_few_nodes(desk: Desk) -> None:
    points = tuple((50 + i, 100 + (i % 2) * 0.3) for i in range(200))
    desk.do(AddFreehand(page(desk), points, 1.5))
    assert len(nodes(desk, last(desk))[0]) == 2
    ring = tuple((100.0 + 40 * x, 100.0 + 40 * y) for x, y in ((0, -1), (1, 0), (0, 1), (-1, 0)))
    desk.do(AddFreehand(page(desk), ring, 1.0, closed=True, spec=FrameSpec(stroke=Stroke(2.0))))
    assert nodes_of(holder(desk.job, page(desk)), last(desk))[0].closed


@pytest.mark.parametrize("rotation", [0.0, 30.0, 200.0])
def test_a_node_goes_where_it_is_put_and_the_others_stay(desk: Desk, rotation: float) -> None:
    """Also of an object that is turned: its box is another one then, about another centre."""
    desk.do(AddShape(page(desk), Rect(60, 80, 120, 70), Outline()))
    desk.do(ChangeFrame(page(desk), last(desk).id, rotation=rotation))
    ((*before,),) = nodes(desk, last(desk))
    change = desk.do(EditNodes(page(desk), last(desk).id, MoveNodes(((0, 1),), 25.0, -40.0)))
    ((*after,),) = nodes(desk, last(desk))
    wanted = [(x + 25, y - 40) if n == 1 else (x, y) for n, (x, y) in enumerate(before)]
    for found, right in zip(after, wanted, strict=True):
        assert hypot(found[0] - right[0], found[1] - right[1]) < 1e-3
    place = last(desk).place
    assert place
    assert place.rotation == pytest.approx(rotation)
    was = plain(desk.job)
    again = desk.run(change.inverse)
    assert last(desk).outline == Outline()
    desk.run(again)
    assert plain(desk.job) == was


@settings(deadline=None, max_examples=30)
@given(
    st.floats(0, 359).map(lambda v: round(v, 1)),
    st.floats(-200, 200).map(lambda v: round(v, 1)),
    st.floats(-200, 200).map(lambda v: round(v, 1)),
)
def test_moving_a_node_and_moving_it_back_leaves_the_outline(rotation: float, dx: float, dy: float) -> None:
    desk = Desk(book(facing=False))
    desk.do(AddPath(page(desk), "M 100 100 C 130 60 170 60 200 100 L 150 180 Z"))
    desk.do(ChangeFrame(page(desk), last(desk).id, rotation=rotation))
    before = nodes(desk, last(desk))
    for sign in (1, -1):
        desk.do(EditNodes(page(desk), last(desk).id, MoveNodes(((0, 2),), sign * dx, sign * dy)))
    for found, right in zip(nodes(desk, last(desk))[0], before[0], strict=True):
        assert hypot(found[0] - right[0], found[1] - right[1]) < 2e-3


def test_every_change_of_nodes(desk: Desk) -> None:
    desk.do(AddShape(page(desk), Rect(100, 100, 100, 60)))
    box = last(desk).id

    def do(change: object) -> list[list[tuple[float, float]]]:
        desk.do(EditNodes(page(desk), box, change))  # type: ignore[arg-type]
        return nodes(desk, last(desk))

    assert len(do(AddNode((0, 0), 0.5))[0]) == 5
    do(ChangeNodes(((0, 1),), "smooth"))
    assert nodes_of(holder(desk.job, page(desk)), last(desk))[0].nodes[1].smooth
    do(PutHandle((0, 1), "after", (170.0, 80.0)))
    do(ChangeNodes(((0, 1),), "sharp"))
    do(ChangeNodes(((0, 1),), "gone"))
    assert area(desk, last(desk)) == pytest.approx(6000, rel=1e-4)
    opened = do(ChangeNodes(((0, 0),), "cut"))
    assert len(opened[0]) == 5
    do(ReverseLines((0,)))
    more = do(ExtendLine((0, 4), "M 0 0 L 100 220"))
    assert more[0][-1] == pytest.approx((100, 220))
    do(JoinNodes((0, 0), (0, 5)))
    assert nodes_of(holder(desk.job, page(desk)), last(desk))[0].closed
    with pytest.raises(LexigonError, match="ends of open lines"):
        do(JoinNodes((0, 0), (0, 1)))
    with pytest.raises(LexigonError, match="no longer"):
        do(ChangeNodes(((3, 9),), "gone"))
    count = len(desk.job.pages[0].objects)
    desk.do(EditNodes(page(desk), box, ChangeNodes(tuple((0, n) for n in range(6)), "gone")))
    assert len(desk.job.pages[0].objects) == count - 1, "without nodes it is gone"


def test_what_has_no_outline_to_work_on_says_so(desk: Desk) -> None:
    main = desk.job.masters["text"].recto[0]
    desk.do(AddShape(page(desk), Rect(10, 10, 50, 50)))
    desk.do(AddShape(page(desk), Rect(80, 10, 50, 50)))
    a, b = desk.job.pages[0].objects[-2:]
    desk.do(GroupObjects(page(desk), (a.id, b.id)))
    group = last(desk)
    for key in (main.id, group.id, "gone"):
        with pytest.raises(LexigonError):
            desk.do(EditNodes(page(desk), key, MoveNodes(((0, 0),), 1.0, 1.0)))
    desk.do(ChangeFrame(page(desk), group.id, locked=True))
    with pytest.raises(LexigonError, match="locked"):
        desk.do(EditNodes(page(desk), a.id, MoveNodes(((0, 0),), 1.0, 1.0)))


def test_a_text_frame_gets_another_shape_and_its_words_keep_within(desk: Desk) -> None:
    desk.do(AddTextFrame(page(desk), Rect(100, 100, 120, 90), text="words " * 60))
    frame = last(desk)
    desk.do(EditNodes(page(desk), frame.id, MoveNodes(((0, 1),), -100.0, 0.0)))
    (flow,) = [flow for flow in desk.composition.flows.values() if any(c.slot.frame == frame.id for c in flow.columns)]
    paragraph = flow.lines(0, flow.columns[0].blocks[0].measure, 0)
    widths = [line.measure or 120 for line in paragraph[:3]]
    assert widths == sorted(widths), "the right edge leans outward on the way down"
    assert widths[0] < 60


def test_shapes_are_made_one(desk: Desk) -> None:
    for how, wanted in (("unite", 6 * 2500), ("subtract", 2500 * 2), ("intersect", 5000), ("exclude", 10_000)):
        desk.do(AddShape(page(desk), Rect(100, 100, 100, 100), spec=FrameSpec(fill=Fill("marker"))))
        lower = last(desk)
        desk.do(AddShape(page(desk), Rect(150, 100, 100, 100)))
        upper = last(desk)
        change = desk.do(CombineShapes(chosen(desk, upper, lower), how))  # type: ignore[arg-type]
        made = last(desk)
        assert area(desk, made) == pytest.approx(wanted if how != "subtract" else 5000, rel=1e-3), how
        assert (made.make == lower.make) == (how == "subtract"), "it looks like the lowest, or like the topmost"
        desk.run(change.inverse)
        assert [one.id for one in desk.job.pages[0].objects[-2:]] == [lower.id, upper.id]
    desk.do(CombineShapes(chosen(desk, lower, upper), "divide"))
    pieces = desk.job.pages[0].objects[-3:]
    assert [area(desk, one) for one in pieces] == pytest.approx([5000] * 3, rel=1e-3)
    with pytest.raises(LexigonError, match="Nothing"):
        desk.do(CombineShapes(chosen(desk, pieces[0], pieces[2]), "intersect"))
    with pytest.raises(LexigonError, match="two"):
        desk.do(CombineShapes(chosen(desk, pieces[0]), "unite"))


def test_a_frame_with_something_in_it_is_kept_and_never_lost(desk: Desk) -> None:
    desk.do(AddTextFrame(page(desk), Rect(100, 100, 100, 100), text="Tide"))
    text = last(desk)
    desk.do(AddShape(page(desk), Rect(150, 150, 100, 100), Outline()))
    shape = last(desk)
    with pytest.raises(LexigonError, match="would be lost"):
        desk.do(CombineShapes(chosen(desk, shape, text), "unite"))
    desk.do(CombineShapes(chosen(desk, shape, text), "subtract"))
    assert last(desk).text, "a piece is taken out of the frame, its text stays"
    assert area(desk, last(desk)) == pytest.approx(10_000 - 3.14159 * 2500 / 4, rel=1e-3)


def test_one_path_of_several_rings_is_made_and_taken_apart(desk: Desk) -> None:
    desk.do(AddShape(page(desk), Rect(100, 100, 100, 100)))
    outer = last(desk)
    desk.do(AddShape(page(desk), Rect(120, 120, 20, 20)))
    hole = last(desk)
    desk.do(AddShape(page(desk), Rect(300, 100, 40, 40)))
    far = last(desk)
    desk.do(CombineShapes(chosen(desk, outer, hole, far), "compound"))
    whole = last(desk)
    assert whole.outline
    assert whole.outline.even_odd
    assert len(nodes(desk, whole)) == 3
    desk.do(PartShapes(chosen(desk, whole)))
    parts = desk.job.pages[0].objects[-2:]
    assert [area(desk, one) for one in parts] == pytest.approx([9600, 1600], rel=1e-3)
    with pytest.raises(LexigonError, match="several parts"):
        desk.do(PartShapes(chosen(desk, parts[1])))


def test_outlines_move_outward_as_copies_below_or_themselves(desk: Desk) -> None:
    desk.do(AddShape(page(desk), Rect(100, 100, 100, 60)))
    box = last(desk)
    desk.do(OffsetShapes(chosen(desk, box), 10.0))
    below, above = desk.job.pages[0].objects[-2:]
    assert above == box
    assert below.rect
    assert (below.rect.x, below.rect.width) == pytest.approx((90, 120), abs=1e-3)
    desk.do(OffsetShapes(chosen(desk, box), -20.0, copies=False))
    assert area(desk, last(desk)) == pytest.approx(60 * 20, rel=1e-3)
    with pytest.raises(LexigonError, match="nothing is left"):
        desk.do(OffsetShapes(chosen(desk, last(desk)), -20.0))


def test_a_path_with_very_many_nodes_is_smoothed(desk: Desk) -> None:
    ring = (
        "M"
        + "L".join(
            f"{200 + (80 + (i % 2) * 0.05) * c:.3f} {200 + (80 + (i % 2) * 0.05) * s:.3f}"
            for i, (c, s) in enumerate(ring_of(10_000))
        )
        + "Z"
    )
    desk.do(AddPath(page(desk), ring))
    before = area(desk, last(desk))
    desk.do(SmoothPath(page(desk), last(desk).id, 0.5))
    assert len(nodes(desk, last(desk))[0]) < 16
    assert area(desk, last(desk)) == pytest.approx(before, rel=0.01)
    box = bounds(outline_on_page(last(desk), last(desk).rect or Rect(0, 0, 0, 0))[0])
    assert box
    assert box.width == pytest.approx(160, abs=1.5)


def ring_of(count: int) -> list[tuple[float, float]]:
    from math import cos, pi, sin

    return [(cos(2 * pi * i / count), sin(2 * pi * i / count)) for i in range(count)]


@pytest.mark.parametrize(
    "change",
    [
        {"kind": "move", "nodes": [], "dx": 1, "dy": 1}, {"kind": "move", "nodes": [[0, 0]], "dx": 1e12, "dy": 1},
        {"kind": "add", "after": [0, 0], "t": 2}, {"kind": "change", "nodes": [[0, 0]], "to": "round"}, {"kind": "extend", "node": [0, 0], "data": "M0 0 script"},
        {"kind": "none"}, {},
    ],
)  # fmt: skip
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
