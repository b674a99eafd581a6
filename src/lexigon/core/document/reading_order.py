"""The reading order of a page: for reading aloud, the keyboard, and plain text."""

from __future__ import annotations

from lexigon.core.document.model import Job, Object

NEAR = 6.0
"""Heads so near to each other, in points, are in one row."""


def reading_order(job: Job, index: int) -> list[Object]:
    """The objects of a page, groups expanded, in reading order: first those that were given a position, in that order,
    then the others row by row from top to bottom, each row from left to right, after the main story."""
    page = job.pages[index]
    order = {key: at for at, key in enumerate(page.reading)}

    def rank(one: Object) -> tuple[int, int, float, float]:
        rect = job.frame_rect(one, index)
        return order.get(one.id, len(order)), not one.main, round(rect.y / NEAR), rect.x

    return sorted(page.frames, key=rank)
