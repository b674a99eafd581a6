"""Composing the whole book: cold (a fresh process), warm (words known), with first fit, and its memory."""

from __future__ import annotations

import gc
import resource
import tempfile
from dataclasses import replace
from functools import partial
from pathlib import Path

from benchmarks.measure import Row, book, cpu, report, words
from lexigon.core.cache import Cache, use_cache
from lexigon.core.document.model import Job
from lexigon.core.flow.workspace import Workspace
from lexigon.core.type.fonts import shipped
from lexigon.core.type.line_cache import line_cache

WARM = 5
"""The machine is shared and its speed changes from second to second: of the warm runs the fastest counts."""


def first_fit() -> Job:
    job = book()
    body = job.paragraph_styles["body"]
    job.paragraph_styles["body"] = replace(body, para=replace(body.para, breaking="first fit"))
    return job


def _from_cache(job: Job) -> None:
    with line_cache("novel"):
        Workspace(job)


def main() -> list[Row]:
    shipped()
    jobs = [book() for _ in range(1 + WARM)]
    workspaces: list[Workspace] = []
    gc.collect()
    gc.freeze()  # what was loaded before is not the composer's
    cold = cpu(lambda: workspaces.append(Workspace(jobs[0])))
    warm = min(cpu(lambda job=job: workspaces.append(Workspace(job))) for job in jobs[1:])
    with tempfile.TemporaryDirectory() as folder:
        use_cache(Cache(Path(folder)))
        with line_cache("novel"):
            Workspace(book())
        again = cpu(partial(_from_cache, book()))
        use_cache(None)
    others = [first_fit() for _ in range(WARM)]
    first = min(cpu(lambda job=job: Workspace(job)) for job in others)
    flow = workspaces[1].composition.main
    assert flow is not None
    lines = [line for p in flow.paragraphs for lines_ in p.lines.values() for line in lines_]
    inner = [line for line in lines if line.stretches]
    note = f"{words():,} words on {len(jobs[0].pages)} pages, {len(lines):,} lines"
    return [
        Row("compose, cold", cold, "s CPU", 2.0, note),
        Row("compose, warm", warm, "s CPU", 0.6),
        Row("compose, lines from the cache", again, "s CPU", None, "as after a restart"),
        Row("compose, first fit, warm", first, "s CPU", None, "the same with lines taken as they come"),
        Row("mean |r| of justified lines", sum(abs(line.ratio) for line in inner) / len(inner), ""),
        Row("lines with r > 1", 100 * sum(line.ratio > 1 for line in inner) / len(inner), "%"),
        Row("peak of the process", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MB"),
    ]


if __name__ == "__main__":
    report(main())
