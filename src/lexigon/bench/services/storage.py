"""Recognises why data cannot be written: a full disk, or a busy database."""

from __future__ import annotations

import errno
from dataclasses import dataclass

from django.db import OperationalError


@dataclass(frozen=True, slots=True)
class Trouble:
    """The reason why something could not be saved: an HTTP status that tells a client whether it may retry, and a
    message."""

    status: int
    heading: str
    words: str


FULL = Trouble(
    507,
    "The disk is full",
    "The disk on which Lexigon keeps its data is full. What was saved is safe. What you do now stays in this window and"
    " is saved as soon as there is room: free some space, or ask whoever runs this server to.",
)
BUSY = Trouble(
    503,
    "The database is busy",
    "The database is busy. Nothing is lost; Lexigon tries again automatically.",
)
_FULL = ("disk is full", "disk i/o error", "readonly database", "unable to open database", "no space left")
_BUSY = ("locked", "busy", "deadlock", "too many connections")


def trouble_of(error: BaseException | None) -> Trouble | None:
    """Return the trouble that prevented writing, from an error or its cause; None for any other error."""
    while error is not None:
        if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT, errno.EROFS):
            return FULL
        if isinstance(error, OperationalError):
            message = str(error).lower()
            if any(word in message for word in _FULL):
                return FULL
            if any(word in message for word in _BUSY):
                return BUSY
        error = error.__cause__ or error.__context__
    return None
