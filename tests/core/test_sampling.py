"""Which colour stands at a point: of the topmost, turned or not, in its holes, on its edge, of words and of
pictures."""

from __future__ import annotations

import pytest
from shapely import LineString, Point, Polygon

from lexigon.core.document.cascade import frame_setting
from lexigon.core.document.model import Fill, FrameSpec, Outline, Stroke
from lexigon.core.editing.intents import AddShape, AddTextFrame, ChangeFrame, CombineShapes
from lexigon.core.editing.intents.objects.selection import Chosen
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.sampling import Sample, sample
from lexigon.core.path.shapes import polygon_path, star_polygon
from lexigon.core.path.steps import covers, distance
from tests.core.helpers import book


def at(workspace: Workspace, x: float, y: float) -> Sample | None:
    page = Display(workspace.composition).page(0)
    return sample(page, {one.frame.id: frame_setting(workspace.job, one.frame) for one in page.frames}, x, y)


def test_the_topmost_surface_edge_hole_and_paper() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(AddShape(page, Rect(100, 100, 200, 100), spec=FrameSpec(fill=Fill("black", 0.2))))
    workspace.do(
        AddShape(
            page, Rect(150, 120, 60, 60), Outline(), FrameSpec(fill=Fill("marker"), stroke=Stroke(6.0, "black", 0.5))
        )
    )
    assert at(workspace, 110, 110) == Sample("black", 0.2)
    assert at(workspace, 180, 150) == Sample("marker", 1.0)
    assert at(workspace, 180, 121) == Sample("black", 0.5)
    assert at(workspace, 153, 123) == Sample("black", 0.2), "a corner of its box is not the ellipse"
    assert at(workspace, 20, 20) is None
    ground, disc = workspace.job.pages[0].objects
    workspace.do(CombineShapes((Chosen(page, ground.id), Chosen(page, disc.id)), "subtract"))
    assert at(workspace, 180, 150) is None, "through the hole is paper"
    made = workspace.job.pages[0].objects[-1].id
    workspace.do(ChangeFrame(page, made, rotation=90.0))
    assert at(workspace, 110, 110) is None
    assert at(workspace, 180, 60) == Sample("black", 0.2)


def test_words_have_their_own_colour_and_between_them_is_their_ground() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(100, 100, 200, 60), text="Low water"))
    frame = workspace.job.pages[0].objects[-1].id
    workspace.do(ChangeFrame(page, frame, spec=FrameSpec(fill=Fill("marker", 0.3))))
    art = next(one for one in Display(workspace.composition).page(0).frames if one.frame.id == frame)
    line = art.lines[0]
    assert at(workspace, line.x + 4, line.baseline - 2) == Sample("black", 1.0)
    assert at(workspace, 280, 150) == Sample("marker", 0.3)


@pytest.mark.parametrize("even_odd", [True, False])
def test_points_in_outlines_and_their_distances_are_those_of_another_library(even_odd: bool) -> None:
    ring = [(u * 90, v * 70) for u, v in star_polygon(5, 0.6)]
    steps, ground, line = polygon_path(ring), Polygon(ring), LineString([*ring, ring[0]])
    for x in range(-5, 100, 7):
        for y in range(-5, 80, 6):
            point = Point(x + 0.137, y + 0.211)
            assert covers(steps, even_odd, (point.x, point.y)) == ground.contains(point)
            assert distance(steps, (point.x, point.y)) == pytest.approx(line.distance(point))
