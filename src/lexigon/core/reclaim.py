"""Memory that is free, but that the process still holds.

Composing runs without the garbage collector, and what is made meanwhile counts as old (``flow/garbage_collection.py``),
so a full collection hardly ever comes by itself. And glibc keeps the large buffers that pictures and plates were in for
the next ones (mallopt(3), M_MMAP_THRESHOLD): over hundreds of files a process grew to gigabytes."""

from __future__ import annotations

import ctypes
import gc
from contextlib import suppress
from pathlib import Path

PAGE = 4096


def reclaim() -> None:
    """Collect what only cycles hold, and give free memory back to the system. It takes some tenths of a second in a
    process that holds a book."""
    gc.collect()
    with suppress(OSError, AttributeError):  # not glibc
        ctypes.CDLL(None).malloc_trim(0)


def resident() -> int:
    """Bytes of memory that the process takes up now; 0 where the system does not say."""
    try:
        return int(Path("/proc/self/statm").read_text().split()[1]) * PAGE
    except (OSError, ValueError, IndexError):
        return 0
