"""Pages painted by several processes: the same bytes as one, and nothing that depends on another process."""

from __future__ import annotations

import io
import os
import time
from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime, timezone

import pytest

from lexigon.core.document.model import Fill, Gradient, Job, Paragraph, Span, Stop, Swatch
from lexigon.core.editing.intents import PourText
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.press import page_processes
from lexigon.core.press.document import OutputStopped, Part, write_parts
from lexigon.core.press.page_processes import PageProcesses, RecordingResources
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book, shape, words

WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)


LATE = (Span(2, 30, style="emphasis"),)


def job(seed: int, count: int) -> Job:
    """A job whose second half uses fonts and inks in another order than its first, transparency groups, one of them in
    several places, and a gradient."""
    job = book(288.0, 288.0)
    for name in ("sea", "sand"):
        job.swatches[name] = Swatch(name, name.title(), "cmyk", (0.9, 0.4, 0.1, 0.1), spot=True)
    workspace = Workspace(job)
    body = [
        Paragraph(f"p{number}", "body", words(40, seed * 1000 + number), LATE if number > count * 0.6 else ())
        for number in range(count)
    ]
    first, last = Paragraph("first", "chapter", "A chapter"), Paragraph("last", "chapter", "Another, with ffi and fj")
    workspace.do(PourText("main", (first, *body, last)))
    pages = len(job.pages)
    assert pages > 50
    job.swatches["dusk"] = Swatch("dusk", "Dusk", "gradient", gradient=Gradient((Stop(0.0, "sea"), Stop(1.0, "sand"))))
    for at, swatch, opacity in (
        (2, "sand", 1.0),
        (5, "dusk", 0.5),
        (pages - 9, "sea", 1.0),
        (pages - 8, "sand", 1.0),
        (pages - 6, "dusk", 1.0),
        (pages - 5, "sea", 0.5),
        (pages - 3, "sea", 0.5),
        (pages - 2, "dusk", 0.5),
    ):
        object_ = shape(f"s{at}", Rect(20, 20, 50, 50), fill=Fill(swatch), opacity=opacity)
        job.pages[at] = replace(job.pages[at], objects=(object_,))
    return job


@pytest.fixture(scope="module")
def parts() -> list[Part]:
    """Two jobs, of which one begins after an empty page."""
    workspaces = [Workspace(job(1, 200)), Workspace(job(2, 120))]
    return [
        Part(one.composition, list(range(len(one.job.pages))), blank=bool(number))
        for number, one in enumerate(workspaces)
    ]


def pressed(parts: list[Part], name: str = "print", processes: int = 1, **more: object) -> bytes:
    stream = io.BytesIO()
    write_parts(parts, "A test", recipe(name), stream, WHEN, processes=processes, **more)  # type: ignore[arg-type]
    return stream.getvalue()


@pytest.fixture(autouse=True)
def no_process_is_left(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Every process that a test starts is gone in the end."""
    started: list[int] = []
    fork = os.fork

    def recorded() -> int:
        process = fork()
        started.append(process)
        return process

    monkeypatch.setattr(os, "fork", recorded)
    yield
    for process in started:
        with pytest.raises(ChildProcessError):
            os.waitpid(process, os.WNOHANG)


@pytest.mark.parametrize("name", ["print", "older", "archive", "screen"])
def test_two_processes_write_the_bytes_of_one(parts: list[Part], name: str) -> None:
    assert pressed(parts, name, 2) == pressed(parts, name, 1)


def test_many_processes_write_the_bytes_of_one_and_paint_most_pages(
    parts: list[Part], monkeypatch: pytest.MonkeyPatch
) -> None:
    plain = pressed(parts)
    here: list[int] = []
    page = PageProcesses._taken_over
    monkeypatch.setattr(PageProcesses, "_taken_over", lambda self, *message: here.append(1) or page(self, *message))
    renamed: list[int] = []
    monkeypatch.setattr(page_processes.zlib, "decompress", lambda data: renamed.append(1) or ZLIB(data))
    assert pressed(parts, processes=5) == plain
    count = sum(len(part.pages) for part in parts)
    assert count * 0.7 < len(here) < count * 0.82, "all but its own share"
    assert renamed, "fonts and inks that are first used elsewhere have other names there"


ZLIB = page_processes.zlib.decompress


def test_a_short_file_is_painted_by_one_process(parts: list[Part], monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(os, "fork", lambda: pytest.fail("a process was started"))
    pressed([Part(parts[0].composition, list(range(60)))], processes=8)


@pytest.mark.parametrize("fault", ["ends", "fails", "hangs", "cannot start"])
def test_pages_of_a_process_that_does_not_work_are_painted_here(
    parts: list[Part], fault: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def begin_page(self: RecordingResources) -> None:
        calls.append(1)
        if len(calls) == 12:
            os._exit(1) if fault == "ends" else time.sleep(60) if fault == "hangs" else 1 / 0

    def fork() -> int:
        raise OSError("no more processes")

    calls: list[int] = []
    plain = pressed(parts)
    if fault == "cannot start":
        monkeypatch.setattr(os, "fork", fork)
    monkeypatch.setattr(RecordingResources, "begin_page", begin_page)
    monkeypatch.setattr(page_processes, "PATIENCE", 0.3)
    assert pressed(parts, processes=3) == plain
    assert not calls, "only other processes record what a page asks for"


def test_stopping_ends_all_processes(parts: list[Part]) -> None:
    with pytest.raises(OutputStopped):
        pressed(parts, processes=3, progress=lambda done, total: done < 5)
