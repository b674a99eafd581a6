"""Forks of this process (POSIX) that do a part of its work and send what they have made.

A fork has everything that this process has, so nothing has to be handed to it; what it makes comes back as pickled
messages. Nothing may depend on a fork that works: ``receive`` waits no longer than its caller allows.
"""

from __future__ import annotations

import gc
import os
import pickle
import select
import signal
import struct
import threading
from collections.abc import Callable
from contextlib import suppress
from typing import Any, NoReturn

MOST_PROCESSES = 8
SIZE = struct.Struct("<I")
Send = Callable[[object], None]


def processes_available() -> int:
    """Return how many processes may be at work for this one: one for each processor it may use. A process that answers
    requests in several threads starts none, since what a thread holds would stay held in a fork."""
    if threading.current_thread() is not threading.main_thread() or not hasattr(os, "sched_getaffinity"):
        return 1
    return min(len(os.sched_getaffinity(0)), MOST_PROCESSES)


class Fork:
    """Another process, and the messages that it has sent so far."""

    def __init__(self, serve: Callable[[Send], None]) -> None:
        """Start it: there ``serve`` is called, and nothing else happens. Raises OSError if it cannot be started."""
        self._source, target = os.pipe()
        gc.freeze()  # so that looking for garbage there does not copy the memory that is shared
        try:
            self._process = os.fork()
        except OSError:
            os.close(self._source)
            os.close(target)
            raise
        finally:
            gc.unfreeze()
        if self._process == 0:
            _be_fork(self._source, target, serve)
        os.close(target)
        os.set_blocking(self._source, False)
        self._data = bytearray()
        self.messages: list[Any] = []
        self.open = True
        """It may send more."""

    def receive(self, patience: float = 0.0) -> None:
        """Read what is there; with ``patience`` wait so many seconds for something, and end the process if nothing
        comes."""
        if not self.open:
            return
        if patience and not select.select([self._source], [], [], patience)[0]:
            self.end()
            return
        with suppress(BlockingIOError):
            while data := os.read(self._source, 1 << 16):
                self._data += data
            self.end()  # it has ended
        self._unpack()

    def end(self) -> None:
        """End the process, if it has not ended, and let go of what it used."""
        if not self.open:
            return
        self.open = False
        os.close(self._source)
        with suppress(ProcessLookupError):
            os.kill(self._process, signal.SIGKILL)
        with suppress(ChildProcessError):
            os.waitpid(self._process, 0)

    def _unpack(self) -> None:
        at = 0
        while len(self._data) >= at + SIZE.size:
            (length,) = SIZE.unpack_from(self._data, at)
            if len(self._data) < at + SIZE.size + length:
                break
            at += SIZE.size
            self.messages.append(pickle.loads(bytes(self._data[at : at + length])))
            at += length
        del self._data[:at]


def _be_fork(source: int, target: int, serve: Callable[[Send], None]) -> NoReturn:
    """Be the other process until it ends: nothing of this one, such as its exit handlers, may run there."""
    try:
        os.close(source)
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        with os.fdopen(target, "wb") as stream:

            def send(message: object) -> None:
                data = pickle.dumps(message, pickle.HIGHEST_PROTOCOL)
                stream.write(SIZE.pack(len(data)) + data)
                stream.flush()

            serve(send)
    except BaseException:  # whatever went wrong: the process that waits does without
        os._exit(1)
    os._exit(0)
