"""Groups with a box of their own: position, size and rotation by value, and stroke weights that scale only on
request."""

from __future__ import annotations

from dataclasses import astuple, replace
from math import cos, radians, sin

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.document.model import FrameSpec, Object, Outline, Pose, Stroke, bounds_of, mapped, pose_of
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents import Chosen
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect, turned_about
from lexigon.core.paint.display import Display
from lexigon.core.paint.standing import standing
from tests.core.helpers import book

CIRCLE = Rect(100, 100, 40, 40)
BAR = Rect(160, 120, 40, 20)


def grouped() -> tuple[Workspace, str]:
    """A workspace with a circle and a bar in a group of 100 by 40 pt on its first page, and the group's id."""
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(*(do.AddShape(page, rect) for rect in (CIRCLE, BAR)))
    circle, bar = (one.id for one in workspace.job.pages[0].objects)
    workspace.do(do.ChangeFrame(page, circle, outline=Outline("ellipse")), do.GroupObjects(page, (circle, bar)))
    return workspace, group_of(workspace).id


def group_of(workspace: Workspace) -> Object:
    return next(one for one in workspace.job.pages[0].objects if one.group)


def place(workspace: Workspace, group: str, rect: Rect, rotation: float = 0.0, *, strokes: bool = False) -> Object:
    """Set the box of the group, see that it is undone exactly, and do it again."""
    before = job_to_json(workspace.job)
    change = workspace.do(do.PlaceGroup(workspace.job.pages[0].id, group, rect, rotation, strokes))
    after = job_to_json(workspace.job)
    workspace.run(workspace.run(change.inverse))
    assert job_to_json(workspace.job) == after
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    workspace.do(do.PlaceGroup(workspace.job.pages[0].id, group, rect, rotation, strokes))
    return group_of(workspace)


def test_a_group_scaled_in_proportion_keeps_its_circles_round() -> None:
    workspace, key = grouped()
    group = place(workspace, key, Rect(100, 100, 50, 20))
    circle, bar = group.group.objects  # type: ignore[union-attr]
    assert astuple(circle.rect) == pytest.approx((100, 100, 20, 20))  # type: ignore[arg-type]
    assert astuple(bar.rect) == pytest.approx((130, 110, 20, 10))  # type: ignore[arg-type]


def test_a_group_rotated_by_value_has_that_rotation_and_returns_by_the_value_before() -> None:
    workspace, key = grouped()
    group = place(workspace, key, Rect(100, 100, 100, 40), 30.0)
    pose = pose_of(group)
    assert pose is not None
    assert pose.rotation == pytest.approx(30)
    assert astuple(pose.rect) == pytest.approx((100, 100, 100, 40))
    # The circle's centre, 30 pt to the left of the group's own (150, 120), turned clockwise about that.
    circle = group.group.objects[0].rect  # type: ignore[union-attr]
    assert circle is not None
    centre = (circle.x + circle.width / 2, circle.y + circle.height / 2)
    assert centre == pytest.approx((150 - 30 * cos(radians(30)), 120 - 30 * sin(radians(30))))
    back = place(workspace, key, Rect(100, 100, 100, 40), 0.0)
    assert astuple(back.group.objects[0].rect) == pytest.approx(astuple(CIRCLE))  # type: ignore[union-attr, arg-type]
    assert back.group.rotation == 0.0  # type: ignore[union-attr]


@given(
    st.tuples(st.floats(-50, 300), st.floats(-50, 300), st.floats(8, 300), st.floats(8, 300)),
    st.floats(0, 359),
)
def test_a_group_is_where_it_was_put(box: tuple[float, float, float, float], rotation: float) -> None:
    workspace, key = grouped()
    workspace.do(do.PlaceGroup(workspace.job.pages[0].id, key, Rect(*box), rotation))
    pose = pose_of(group_of(workspace))
    assert pose is not None
    assert astuple(pose.rect) == pytest.approx(box, abs=1e-6)
    assert (pose.rotation - rotation + 180) % 360 == pytest.approx(180, abs=1e-6)


def test_the_handles_rotate_a_group_as_values_do() -> None:
    workspace, key = grouped()
    page = workspace.job.pages[0].id
    workspace.do(do.TransformObjects((Chosen(page, key),), turn=30.0))
    by_handle = group_of(workspace)
    other, key = grouped()
    by_value = place(other, key, Rect(100, 100, 100, 40), 30.0)
    assert pose_of(by_handle) == pose_of(by_value)
    workspace.do(do.TransformObjects((Chosen(page, key := by_handle.id),), turn=340.0))
    assert pose_of(group_of(workspace)).rotation == pytest.approx(10)  # type: ignore[union-attr]
    told = standing(Display(workspace.composition).page(0))
    box = next(one["groups"][0][2]["box"] for one in told if one.get("groups"))
    assert box == pytest.approx([100, 100, 100, 40, 10], abs=1e-3)
    assert key


@pytest.mark.parametrize("strokes", [False, True])
def test_stroke_weights_scale_only_on_request(strokes: bool) -> None:
    workspace, key = grouped()
    page = workspace.job.pages[0].id
    circle = group_of(workspace).group.objects[0]  # type: ignore[union-attr]
    workspace.do(do.ChangeFrame(page, circle.id, spec=FrameSpec(stroke=Stroke(2.0, "black", dash=(4.0, 2.0)))))
    scaled = place(workspace, key, Rect(100, 100, 50, 20), strokes=strokes).group.objects[0]  # type: ignore[union-attr]
    stroke = scaled.make.stroke
    assert stroke is not None
    assert (stroke.weight, stroke.dash) == ((1.0, (2.0, 1.0)) if strokes else (2.0, (4.0, 2.0)))


def test_a_clipped_group_has_the_box_of_its_clip_and_keeps_its_rotation_without_it() -> None:
    workspace, key = grouped()
    page = workspace.job.pages[0].id
    workspace.do(do.AddShape(page, Rect(110, 90, 60, 60)))
    workspace.do(do.CutOff(page, (key, workspace.job.pages[0].objects[-1].id)))
    clipped = group_of(workspace)
    assert pose_of(clipped) == Pose(Rect(110, 90, 60, 60))
    place(workspace, clipped.id, Rect(110, 90, 60, 60), 20.0)
    workspace.do(do.ChangeGroup(page, clipped.id, whole=True))
    pose = pose_of(group_of(workspace))
    assert pose is not None
    assert pose.rotation == 20.0


def test_a_locked_group_and_a_box_of_no_size_are_refused() -> None:
    workspace, key = grouped()
    page = workspace.job.pages[0].id
    with pytest.raises(LexigonError):
        workspace.do(do.PlaceGroup(page, key, Rect(0, 0, 0, 20)))
    workspace.do(do.ChangeFrame(page, group_of(workspace).group.objects[0].id, locked=True))  # type: ignore[union-attr]
    locked = replace(group_of(workspace), locked=True)
    assert mapped(locked, turned_about(Rect(0, 0, 0, 0), 90.0)).locked
    assert bounds_of((locked,)) == Rect(100, 100, 100, 40)


def test_a_rule_moves_by_its_ends() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(do.AddRule(page, (40.0, 50.0), (140.0, 50.0)))
    rule = workspace.job.pages[0].objects[-1]
    workspace.do(do.MoveRule(page, rule.id, (40.0, 50.0), (40.0, 130.0)))
    moved = workspace.job.pages[0].objects[-1].place
    assert moved is not None
    assert moved.map is not None
    middle = moved.rect.y + moved.rect.height / 2
    assert moved.map.apply(moved.rect.x, middle) == pytest.approx((40, 50))
    assert moved.map.apply(moved.rect.right, middle) == pytest.approx((40, 130))
    assert moved.rotation == 90
    assert moved.rect.width == 80
    with pytest.raises(LexigonError, match="at least 4 pt"):
        workspace.do(do.MoveRule(page, rule.id, (40.0, 50.0), (41.0, 50.0)))
    workspace.do(do.AddShape(page, Rect(10, 10, 20, 20)))
    with pytest.raises(LexigonError, match="not a rule"):
        workspace.do(do.MoveRule(page, workspace.job.pages[0].objects[-1].id, (40.0, 50.0), (90.0, 50.0)))
