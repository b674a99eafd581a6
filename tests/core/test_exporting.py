"""Objects as a drawing of their own: read by another renderer, and the same as the page that they stand on."""

from __future__ import annotations

from xml.etree import ElementTree

from lexigon.core.document.model import Fill, FrameSpec, Outline, Shadow, Stroke
from lexigon.core.editing.intents import AddShape, AddTextFrame, ChangeFrame, GroupObjects
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.exporting import svg_of_objects
from tests.core.helpers import book

SVG = "{http://www.w3.org/2000/svg}"


def test_a_drawing_has_what_is_chosen_as_large_as_it_is_and_needs_no_font() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(
        AddShape(page, Rect(100, 80, 60, 40), Outline(), FrameSpec(fill=Fill("marker"), stroke=Stroke(4.0, "black")))
    )
    workspace.do(AddShape(page, Rect(300, 80, 60, 40)))
    workspace.do(AddTextFrame(page, Rect(100, 140, 120, 30), text="Low water"))
    shape, other, words = (one.id for one in workspace.job.pages[0].objects)
    art = Display(workspace.composition).page(0)
    root = ElementTree.fromstring(svg_of_objects(art, {shape}, str))
    assert [float(v) for v in root.attrib["viewBox"].split()] == [98, 78, 64, 44], "its line is within it"
    assert root.attrib["width"] == "64pt"
    assert len(root.findall(f".//{SVG}path")) == 1
    both = ElementTree.fromstring(svg_of_objects(art, {shape, words}, str))
    assert not both.findall(f".//{SVG}text"), "words are outlines"
    assert len(both.findall(f".//{SVG}path")) >= 2
    assert svg_of_objects(art, {"gone"}, str) == ""
    workspace.do(ChangeFrame(page, shape, spec=FrameSpec(blend="multiply", shadow=Shadow(swatch="black"))))
    workspace.do(GroupObjects(page, (shape, other)))
    art = Display(workspace.composition).page(0)
    whole = ElementTree.fromstring(svg_of_objects(art, {other}, str))
    assert len(whole.findall(f".//{SVG}filter")) >= 1, "of one in a group the whole group"
    style = whole.find(f"{SVG}style")
    assert style is not None
    assert "mix-blend-mode:multiply" in (style.text or "")
