"""Keeps a web process from holding on to memory that it no longer uses."""

from __future__ import annotations

import threading

from lexigon.core.reclaim import reclaim, resident

EVERY = 20.0
"""Seconds between two looks."""
GROWTH = 256 * 2**20
"""Bytes by which a process may grow before it is looked through."""


def watch(over: threading.Event) -> None:
    """Reclaim memory each time the process has grown by ``GROWTH``, until ``over`` is set. Runs in its own thread."""
    last = resident()
    while not over.wait(EVERY):
        if resident() > last + GROWTH:
            reclaim()
            last = resident()


def start_watching() -> None:
    threading.Thread(target=watch, args=(threading.Event(),), name="memory", daemon=True).start()
