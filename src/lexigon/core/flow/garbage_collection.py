"""Composing without the garbage collector."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def uncollected() -> Iterator[None]:
    """Without the garbage collector: a book is millions of small values and no cycles, so it would find nothing.

    What was made meanwhile counts as old at once: looked through as young it would cost a tenth of the composing.
    """
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.freeze()
            gc.unfreeze()  # everything that exists, into the oldest generation, without examining any of it
            gc.enable()
