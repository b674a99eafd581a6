"""Lines of a long story that other processes set, while this one sets those before them.

Each composes a part of the story as if it began there, so it asks for the lines that will be asked for here, and sends
them to the cache of lines (``type/line_cache.py``). Lines that do not arrive in time, or that are set in another way
here, are set here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import replace
from functools import partial
from itertools import accumulate, pairwise

from lexigon.core.document.model import Story
from lexigon.core.flow.story_flow import Progress
from lexigon.core.forks import Fork, Send, processes_available
from lexigon.core.type.line_cache import LineCache, active_line_cache

LEAST_CHARACTERS = 100_000
"""Characters of a story that are worth a process: they take some tenths of a second."""
BATCH = 50
"""Paragraphs of a message."""


@contextmanager
def lines_ahead(story: Story | None, compose: Callable[[Story, Progress], object]) -> Iterator[None]:
    """Have other processes set the lines of later parts of a story, where a cache of lines is in use that has none of
    the job. ``compose`` composes a story and reports its progress."""
    cache, helpers = active_line_cache(), list[Fork]()
    if story is not None and cache is not None and cache.is_new:
        with suppress(OSError):  # there may be no further process
            for part in _parts(story, processes_available()):
                helpers.append(Fork(partial(_serve, part, compose, cache)))
    if cache is not None and helpers:
        cache.helpers = helpers
    try:
        yield
    finally:
        for helper in helpers:
            helper.end()
        if cache is not None and helpers:
            cache.helpers = []


def _parts(story: Story, processes: int) -> list[Story]:
    """Return the parts of a story for other processes: all but the first of equally long ones."""
    ends = list(accumulate(len(paragraph.text) for paragraph in story.paragraphs))
    shares = min(processes, ends[-1] // LEAST_CHARACTERS) if ends else 0
    starts = [next(at for at, end in enumerate(ends) if end >= ends[-1] * share / shares) for share in range(1, shares)]
    return [
        replace(story, paragraphs=story.paragraphs[first:last])
        for first, last in pairwise([*starts, len(story.paragraphs)])
    ]


def _serve(part: Story, compose: Callable[[Story, Progress], object], cache: LineCache, send: Send) -> None:
    """What another process does."""
    sent = cache.count()

    def progress(_: float) -> None:
        nonlocal sent
        if cache.count() >= sent + BATCH:
            send(cache.since(sent))
            sent = cache.count()

    compose(part, progress)
    send(cache.since(sent))
