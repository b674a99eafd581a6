"""Check on screen: the findings of a job, each with the page that it is on and the spot."""

from __future__ import annotations

from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.pictures import addresses
from lexigon.core.check.report import report_of
from lexigon.core.document.model import bounds_of
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of


def report(live: OpenJob) -> dict[str, Any]:
    """Return the report of a job, as JSON values."""
    return report_of(live.workspace.composition).to_json()


def spot(live: OpenJob, index: int, subject: str) -> dict[str, Any]:
    """Return a page as SVG, with the boxes of what a finding is about. Points. Raises LexigonError if there is no such
    page."""
    composition, job = live.workspace.composition, live.job
    if not 0 <= index < len(job.pages):
        raise LexigonError("That page is no longer in the job.")
    width, height = job.page_size(index)
    svg = svg_of(Display(composition).page(index).items(), addresses(live.key))
    boxes = [[box.x, box.y, box.width, box.height] for box in _boxes(composition, index, subject)]
    return {"w": width, "h": height, "svg": svg, "boxes": boxes, "label": composition.values.labels[index]}


def _boxes(composition: Composition, index: int, subject: str) -> list[Rect]:
    """The boxes of an object on a page, or of the frames of a story there."""
    job = composition.job
    story = job.stories.get(subject)
    own = {subject, *(story.frames if story is not None else ())}
    return [
        job.frame_rect(frame, index) if frame.place is None else (bounds_of((frame,)) or job.frame_rect(frame, index))
        for frame, _ in job.page_frames(index)
        if frame.id in own or (story is not None and frame.main and subject == job.main_story)
    ]
