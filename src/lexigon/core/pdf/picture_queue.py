"""Pictures of a file, prepared in advance by threads while its pages are painted: Pillow and LittleCMS release the
interpreter's lock while they work.

The content and order of the file do not depend on which is ready first: a picture is written when a given number of
others wait after it, or when all pages are painted.
"""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path

from lexigon.core.colour.profiles import Profile
from lexigon.core.pdf.writer import Ref
from lexigon.core.picture.conversion import Raster, raster
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.looks import Look

AHEAD = 3
"""Pictures that wait, each of some ten megabytes; more would only take memory."""
NOTHING = Raster("L", 1, 1, b"\xff", b"\x00")
"""In the place of one that cannot be read after all."""


class PictureQueue:
    """Pictures on their way to a file; ``write`` puts one where its reference says."""

    def __init__(self, write: Callable[[Raster, Ref], object]) -> None:
        self._write = write
        self._workers: ThreadPoolExecutor | None = None
        self._waiting: deque[tuple[Ref, Future[Raster]]] = deque()

    def add(self, ref: Ref, path: Path, most: tuple[int, int], look: Look, profile: Profile | None) -> None:
        if self._workers is None:
            self._workers = ThreadPoolExecutor(max(min(os.cpu_count() or 1, AHEAD), 1), "pictures")
        self._waiting.append((ref, self._workers.submit(_ready, path, most, look, profile)))
        while len(self._waiting) > AHEAD:
            self._next()

    def finish(self) -> None:
        """Write what waits still."""
        while self._waiting:
            self._next()
        self.close()

    def close(self) -> None:
        """Let go of what waits, as where the file is given up."""
        self._waiting.clear()
        if self._workers is not None:
            self._workers.shutdown(wait=False, cancel_futures=True)
            self._workers = None

    def _next(self) -> None:
        ref, raster = self._waiting.popleft()
        self._write(raster.result(), ref)


def _ready(path: Path, most: tuple[int, int], look: Look, profile: Profile | None) -> Raster:
    try:
        return raster(path, profile, most, look)
    except PictureError:
        return NOTHING
