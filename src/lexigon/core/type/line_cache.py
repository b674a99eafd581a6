"""The lines of a job's paragraphs, saved from one process to the next.

Lines are found by a digest of everything that they depend on: the text, its runs with the bytes of their fonts, all
values of the style, the measure, and the version of the engine. So an entry is never out of date: what is set in
another way has another digest. ``line_cache`` makes ``set_paragraph`` look here first.
"""

from __future__ import annotations

import struct
from array import array
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from hashlib import blake2b
from itertools import islice
from typing import Any

from lexigon.core.cache import Cache, current_cache, entry_name
from lexigon.core.document.cascade import Setting
from lexigon.core.forks import Fork
from lexigon.core.type.engine import engine_version
from lexigon.core.type.runs import Look, Run
from lexigon.core.type.set_line import SetLine

KEY = 16
"""Bytes of the digest of a paragraph."""
LINE = struct.Struct("<3I7d2?H")
"""A line in the order of the fields of ``SetLine``, with the number of its tabs in place of what they advance."""
HEAD = struct.Struct("<III")
"""The numbers of paragraphs, lines and tabs of an entry."""
MOST_LINES = 400_000
WORTH_WRITING = 20
"""Paragraphs that have to be new before an entry is written again."""


class LineCache:
    """The lines of one job: those read from a cache, and those that were set since."""

    def __init__(self, cache: Cache, job: str) -> None:
        """``job`` names the job in this cache."""
        self.cache = cache
        self.name = entry_name("lines", job, engine_version())
        self.hits = self.misses = 0
        self.helpers: list[Fork] = []
        """Processes that set lines for this one."""
        self._lines: dict[bytes, Sequence[SetLine]] = {}
        self._before = unpack(cache.read(self.name) or b"")
        self._settings: dict[int, tuple[Setting, bytes]] = {}
        self._looks: dict[int, tuple[Look, bytes]] = {}

    def key(self, text: str, runs: Sequence[Run], setting: Setting, *rest: Any) -> bytes:
        """Return the digest of what a paragraph's lines depend on; ``rest`` are the further arguments of
        ``set_paragraph``."""
        places = [(run.start, run.end, run.box) for run in runs]
        digest = blake2b(self._setting(setting), digest_size=KEY)
        for run in runs:
            digest.update(self._look(run.look))
        digest.update(f"{len(text)} {places} {rest}".encode())
        digest.update(text.encode("utf-8", "surrogatepass"))
        return digest.digest()

    def get(self, key: bytes) -> list[SetLine] | None:
        """Return the lines that were set before, or None."""
        lines = self._lines.get(key) or self._before.get(key)
        if lines is None:
            self.misses += 1
            lines = self._from_helpers(key)
            if lines is None:
                return None
        self.hits += 1
        self._lines[key] = lines
        return list(lines)

    def _from_helpers(self, key: bytes) -> Sequence[SetLine] | None:
        """Return lines that another process has set, if they are here by now."""
        for helper in self.helpers:
            helper.receive()
            for message in helper.messages:
                self._before |= message
            helper.messages.clear()
        return self._before.get(key) if self.helpers else None

    @property
    def is_new(self) -> bool:
        """Whether it has no lines yet."""
        return not self._lines and not self._before

    def put(self, key: bytes, lines: list[SetLine]) -> None:
        """Add lines that were just set."""
        self._lines[key] = tuple(lines)

    def count(self) -> int:
        """Return the number of paragraphs that were asked for so far."""
        return len(self._lines)

    def since(self, count: int) -> dict[bytes, Sequence[SetLine]]:
        """Return the paragraphs that were asked for since there were ``count``, for ``add`` in another process."""
        return dict(islice(self._lines.items(), count, None))

    def add(self, lines: Mapping[bytes, Sequence[SetLine]]) -> None:
        """Add paragraphs that another process asked for."""
        self.misses += len(lines.keys() - self._lines.keys() - self._before.keys())
        self._lines |= lines

    def write(self) -> None:
        """Write the entry anew, without the lines that the job did not ask for any more, if that is worth while."""
        if self.misses >= WORTH_WRITING and sum(map(len, self._lines.values())) <= MOST_LINES:
            self.cache.write(self.name, pack(self._lines))

    def _setting(self, setting: Setting) -> bytes:
        cached = self._settings.get(id(setting))
        if cached is None:
            digest = blake2b(repr(setting).encode("utf-8", "surrogatepass"), digest_size=KEY).digest()
            cached = self._settings[id(setting)] = setting, digest
        return cached[1]

    def _look(self, look: Look) -> bytes:
        cached = self._looks.get(id(look))
        if cached is None:
            cut = look.cut
            facts = (cut.face.sha256, sorted(cut.features.items()), cut.language, look.spec)
            facts_of_size = (look.scale, look.tracking, look.size, look.squeeze, look.rise)
            written = repr((facts, facts_of_size)).encode("utf-8", "surrogatepass")
            cached = self._looks[id(look)] = look, blake2b(written, digest_size=KEY).digest()
        return cached[1]


def pack(paragraphs: dict[bytes, Sequence[SetLine]]) -> bytes:
    """Return paragraphs as bytes: their digests, the numbers of their lines, the lines, and the tabs of all lines."""
    counts = array("I", map(len, paragraphs.values()))
    tabs = array("d")
    rows = []
    for lines in paragraphs.values():
        for one in lines:
            tabs.extend(one.tabs)
            rows.append(
                LINE.pack(
                    *(one.start, one.end, one.next),
                    *(one.width, one.ratio, one.indent, one.left, one.measure, one.letters, one.glyphs),
                    *(one.hyphen, one.stretches, len(one.tabs)),
                )
            )
    head = HEAD.pack(len(counts), len(rows), len(tabs))
    return b"".join([head, *paragraphs, counts.tobytes(), *rows, tabs.tobytes()])


def unpack(data: bytes) -> dict[bytes, Sequence[SetLine]]:
    """Return the paragraphs of ``pack``; none where the lengths do not agree."""
    if len(data) < HEAD.size:
        return {}
    number, line_count, tab_count = HEAD.unpack_from(data)
    at = HEAD.size
    first_line = at + number * (KEY + 4)
    first_tab = first_line + line_count * LINE.size
    if len(data) != first_tab + tab_count * 8:
        return {}
    keys = [data[at + i * KEY : at + (i + 1) * KEY] for i in range(number)]
    counts, tabs = array("I"), array("d")
    counts.frombytes(data[at + number * KEY : first_line])
    tabs.frombytes(data[first_tab:])
    rows = LINE.iter_unpack(data[first_line:first_tab])
    if sum(counts) != line_count:
        return {}
    used = 0
    paragraphs: dict[bytes, Sequence[SetLine]] = {}
    for key, count in zip(keys, counts, strict=True):
        lines = []
        for _ in range(count):
            start, end, next_, width, ratio, indent, left, measure, letters, glyphs, hyphen, stretches, own = next(rows)
            line = SetLine(start, end, next_, width, ratio, hyphen, stretches, indent, left, measure, letters, glyphs)
            if own:
                line.tabs = tuple(tabs[used : used + own])
                used += own
            lines.append(line)
        paragraphs[key] = lines
    return paragraphs


_active: ContextVar[LineCache | None] = ContextVar("line_cache", default=None)


def active_line_cache() -> LineCache | None:
    """Return the cache of the job that is being composed."""
    return _active.get()


@contextmanager
def line_cache(job: str) -> Iterator[LineCache | None]:
    """Set paragraphs with the lines that this job had before, and write those that are new in the end. Without a cache
    (``core.cache``) nothing is read or written. Within another ``line_cache`` that one serves."""
    cache = current_cache()
    if cache is None or _active.get() is not None:
        yield _active.get()
        return
    lines = LineCache(cache, job)
    token = _active.set(lines)
    try:
        yield lines
    finally:
        _active.reset(token)
    lines.write()
