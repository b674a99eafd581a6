"""Selection of objects that resemble another one in kind, fill, stroke, style or layer."""

from __future__ import annotations

from collections.abc import Callable

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.cascade import FrameSetting, frame_setting
from lexigon.core.document.model import Object, frames_in
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.holders import holder
from lexigon.core.errors import LexigonError
from lexigon.core.paint.standing import kind_of


def alike(live: OpenJob, page: str, key: str, by: str) -> list[str]:
    """The ids of all objects of the job's pages, or of the same half of a master, that are as an object is in one
    respect."""
    ways: dict[str, Callable[[Object, FrameSetting], object]] = {
        "kind": lambda one, _: kind_of(one),
        "fill": lambda _, make: make.fill,
        "edge": lambda _, make: make.stroke,
        "style": lambda one, _: one.style,
        "layer": lambda one, _: one.layer,
    }
    if by not in ways:
        raise LexigonError("Objects can be the same in kind, fill, stroke, style or layer.")
    place = holder(live.job, page)
    like = ways[by]
    one = next((frame for frame in place.frames if frame.id == key), None)
    if one is None:
        raise EditError("That object is no longer on the page.")
    pages_like = like(one, frame_setting(live.job, one))
    frames = place.frames if place.master else [f for p in live.job.pages for f in frames_in(p.objects)]
    return [frame.id for frame in frames if like(frame, frame_setting(live.job, frame)) == pages_like]
