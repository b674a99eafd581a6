"""A flat card that becomes a folded one: its front stays the front, and nothing of it prints on the back."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Literal

import pytest

from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.setup import folded_out, read_setup
from lexigon.core.document.forms import sheets
from lexigon.core.document.model import Edges, Fill, FrameSpec, Gradient, Outline, Stop
from lexigon.core.editing import intents as do
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import book
from tests.core.test_pictures import pdf, plates


def test_a_flat_card_becomes_a_folded_one_in_one_step() -> None:
    job = book(width=5 * 72.0, height=5 * 72.0)
    job.brief, job.main_story = replace(job.brief, facing=False, margins=Edges(18, 18, 18, 18)), None
    workspace = Workspace(job)
    workspace.do(do.AddPages(1, 1, None))
    front, back = (page.id for page in job.pages)
    workspace.do(do.AddTextFrame(front, Rect(40, 60, 200, 90), text="You are asked"))
    workspace.do(do.AddTextFrame(back, Rect(30, 300, 100, 40), text="Saltmarsh"))
    before = job_to_json(job)
    change = workspace.do(folded_out(job, "top"))
    assert (job.brief.width, job.brief.height) == (360, 720)
    kept, turned = job.pages[0].frames
    assert kept.rect == Rect(40, 420, 200, 90), "the finished front is the lower half"
    assert (turned.rect, turned.turn) == (Rect(230, 20, 100, 40), 180), "the back hangs head over foot above it"
    assert [p.facing for p in sheets.panels_of(job.brief, job.papers, 1)] == ["inside top", "inside bottom"]
    assert job.pages[1].frames == ()
    workspace.run(change.inverse)
    assert job_to_json(job) == before


@pytest.mark.parametrize("direction", ["side", "top"])
def test_artwork_is_clipped_at_the_fold_when_a_card_becomes_a_folded_one(
    direction: Literal["side", "top"], tmp_path: Path
) -> None:
    """The bleed of the front’s artwork does not print on the back, whatever the artwork is; elsewhere it stays."""
    size = {"width": "3 in", "height": "3 in", "unit": "in"} | {
        f"bleed.{edge}": "9 pt" for edge in ("head", "foot", "inner", "outer")
    }
    setup, _ = read_setup({**defaults("card"), **size})
    assert setup is not None
    job = setup.new_job()
    workspace = Workspace(job)
    front, back = (page.id for page in job.pages)
    whole = Rect(-9, -9, 234, 234)
    workspace.do(
        do.PutSwatch(name="Dawn", space="gradient", gradient=Gradient((Stop(0.0, "marker"), Stop(1.0, "paper")))),
        do.AddShape(front, whole, spec=FrameSpec(fill=Fill("black", 0.5))),
        do.AddShape(front, Rect(60, -9, 60, 234), Outline("ellipse"), FrameSpec(fill=Fill("black", 0.5))),
        do.AddShape(back, Rect(80, 20, 40, 60), spec=FrameSpec(fill=Fill("paper"))),
    )
    dawn = next(key for key, one in job.swatches.items() if one.name == "Dawn")
    workspace.do(do.AddShape(front, Rect(-9, 60, 234, 60), spec=FrameSpec(fill=Fill(dawn))))
    before = job_to_json(job)
    change = workspace.do(folded_out(job, direction))
    outside = {panel.name: panel.rect for panel in sheets.panels_of(job.brief, job.papers, 0)}
    image = plates(pdf(workspace), tmp_path)["Black"]
    top, left = (
        (found - round(wanted)) // 2
        for found, wanted in zip(image.shape, (job.brief.height, job.brief.width), strict=True)
    )
    panel = outside["back"]
    x0, y0, x1, y1 = (round(v) for v in (panel.x + left, panel.y + top, panel.right + left, panel.foot + top))
    assert image[y0 + 1 : y1 - 1, x0 + 1 : x1 - 1].max() == 0, "nothing of the front is on the back"
    panel = outside["front"]
    x0, y0, x1, y1 = (round(v) for v in (panel.x + left, panel.y + top, panel.right + left, panel.foot + top))
    for row in (y0 + 2, y1 - 3):
        assert image[row, x0:x1].min() > 0, "the front is covered to its edges"
    far = image[y1 + 5, x0:x1] if direction == "top" else image[y0:y1, x1 + 5]
    assert far.max() > 0, "and has its bleed on the other sides"
    workspace.run(change.inverse)
    assert job_to_json(job) == before
