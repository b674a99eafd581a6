"""The cache in the data folder: jobs are opened and exported with the lines that were set before."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from lexigon.bench.models import Job
from lexigon.bench.services import jobs
from lexigon.core.cache import Cache, current_cache, use_cache
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.type import paragraph


@pytest.fixture
def cache(tmp_path: Path) -> Iterator[Cache]:
    before, cache = current_cache(), Cache(tmp_path)
    use_cache(cache)
    yield cache
    use_cache(before)


def pages_of(key: str) -> list[str]:
    """The pages of a job as a process shows them that has just opened it."""
    jobs.forget_all()
    with jobs.opened(key) as live:
        display = Display(live.workspace.composition)
        return [svg_of(display.page(index).items()) for index in range(len(live.job.pages))]


@pytest.mark.django_db
def test_a_job_that_is_opened_again_sets_no_line_of_its_stories(
    cache: Cache, job: Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    use_cache(None)
    plain = pages_of(job.key)
    use_cache(cache)
    assert pages_of(job.key) == plain
    (path,) = cache.folder.glob("lines-*.cache")
    with monkeypatch.context() as patched:
        patched.setattr(paragraph, "_set_lines", lambda *_: pytest.fail("a paragraph was set anew"))
        jobs.forget_all()
        with jobs.opened(job.key):
            pass
    path.write_bytes(b"damaged")
    assert pages_of(job.key) == plain
