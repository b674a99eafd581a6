"""What is too fine to print in several inks."""

from __future__ import annotations

import pytest

from lexigon.core.check.findings import findings_of
from lexigon.core.document.model import Fill, FrameSpec, Paragraph, Stroke, TypeSpec
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import book


@pytest.mark.parametrize(
    ("weight", "size", "values", "kinds"),
    [
        (0.1, 8.0, (0.6, 0.5, 0.4, 1.0), {"fine line", "fine type"}),
        (0.25, 8.0, (0.5, 0.5, 0.0, 0.0), {"fine line"}),
        (0.25, 8.0, (0.0, 0.0, 0.0, 1.0), set()),
        (1.0, 12.0, (0.6, 0.5, 0.4, 1.0), set()),
    ],
)
def test_thin_lines_and_small_type_in_several_inks_are_found(
    weight: float, size: float, values: tuple[float, ...], kinds: set[str]
) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(do.PutSwatch(name="Mixed", space="cmyk", values=values))
    mixed = list(workspace.job.swatches)[-1]
    page = workspace.job.pages[0].id
    workspace.do(do.AddShape(page, Rect(40, 60, 100, 80), None, FrameSpec(stroke=Stroke(weight, mixed))))
    workspace.do(do.PourText("main", (Paragraph("p", "body", "Low water", type=TypeSpec(size=size, swatch=mixed)),)))
    found = [one for one in findings_of(workspace.composition) if one.kind.startswith("fine")]
    assert {one.kind for one in found} == kinds
    assert all(one.page == 0 for one in found)


@pytest.mark.parametrize(
    ("fill", "overprint", "found"), [("paper", True, True), ("paper", False, False), ("black", True, False)]
)
def test_white_that_overprints_prints_nothing_which_is_said(fill: str, overprint: bool, found: bool) -> None:
    workspace = Workspace(book(facing=False))
    look = FrameSpec(fill=Fill(fill), overprint=overprint)
    workspace.do(do.AddShape(workspace.job.pages[0].id, Rect(40, 60, 100, 80), None, look))
    assert bool([one for one in findings_of(workspace.composition) if one.kind == "white overprint"]) is found
