"""The order in which what stands on a page is read: aloud, by the keyboard, and where it becomes plain text."""

from __future__ import annotations

from lexigon.core.job.model import Job, Object

NEAR = 6.0
"""Heads so near to each other, in points, are in one row."""


def reading_order(job: Job, index: int) -> list[Object]:
    """A page's own objects, groups taken apart, as they are read: first those that were given a place, in that order, then the
    others row by row from head to foot, each row from left to right, behind the main text."""
    page = job.pages[index]
    given = {key: at for at, key in enumerate(page.reading)}

    def rank(one: Object) -> tuple[int, int, float, float]:
        rect = job.frame_rect(one, index)
        return given.get(one.id, len(given)), not one.main, round(rect.y / NEAR), rect.x

    return sorted(page.frames, key=rank)
