"""A flag for requests that only read. Such a request writes nothing, so a full disk or a busy database cannot delay
it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_reading = ContextVar("reading", default=False)


def is_reading() -> bool:
    """Return whether what runs now belongs to a request that only reads."""
    return _reading.get()


@contextmanager
def only_reading() -> Iterator[None]:
    """Run the block without permission to write."""
    token = _reading.set(True)
    try:
        yield
    finally:
        _reading.reset(token)
