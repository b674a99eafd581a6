"""The novel in columns of 34 characters, where every rung of the ladder is used; and text that wraps round pictures."""

from __future__ import annotations

from dataclasses import replace

from benchmarks.measure import Row, book, cpu, report
from lexigon.core.document.model import FrameSpec, Job, Object, Outline, Pose, Wrap
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.type.set_line import SetLine

COLUMN = 152.0
"""Points that hold about 34 characters of the book's type."""


def narrow() -> Job:
    job = book()
    job.brief = replace(job.brief, width=COLUMN * 2 + 12 + 101)
    frames = job.masters["text"]
    halves = {
        side: tuple(f.with_spec(columns=2, gutter=12.0) if f.main else f for f in half)
        for side, half in (("recto", frames.recto), ("verso", frames.verso))
    }
    job.masters["text"] = replace(frames, **halves)  # type: ignore[arg-type]
    return job


def wrapped() -> Job:
    """An ellipse in every third page of the book, text on both its sides."""
    job = book()
    Workspace(job)
    for number, page in enumerate(job.pages):
        if number % 3 == 2:
            frame = Object(
                f"w{number}",
                place=Pose(Rect(150, 250, 110, 110)),
                outline=Outline(),
                make=FrameSpec(wrap=Wrap("both", (9.0, 9.0, 9.0, 9.0), outline=True)),
            )
            job.pages[number] = replace(page, objects=(*page.objects, frame))
    return job


def justified(workspace: Workspace) -> list[SetLine]:
    flow = workspace.composition.main
    assert flow is not None
    return [line for p in flow.paragraphs for lines in p.lines.values() for line in lines if line.stretches]


def main() -> list[Row]:
    jobs = [narrow() for _ in range(3)]
    workspaces: list[Workspace] = []
    seconds = min(cpu(lambda job=job: workspaces.append(Workspace(job))) for job in jobs)
    lines = justified(workspaces[0])
    plain = book()
    Workspace(plain)
    straight = min(cpu(lambda: Workspace(plain)) for _ in range(3))
    obstacles = wrapped()
    around = min(cpu(lambda: Workspace(obstacles)) for _ in range(3))
    return [
        Row(
            "34-character columns, warm",
            seconds,
            "s CPU",
            4.0,
            f"{len(workspaces[0].job.pages)} pages, {len(lines):,} justified lines",
        ),
        Row("mean |r|, 34 characters", sum(abs(line.ratio) for line in lines) / len(lines), ""),
        Row("lines with r > 1, 34 characters", 100 * sum(line.ratio > 1 for line in lines) / len(lines), "%"),
        Row("lines with r > 2, 34 characters", 100 * sum(line.ratio > 2 for line in lines) / len(lines), "%"),
        Row("lines with fitted letters", 100 * sum(line.letters != 0 for line in lines) / len(lines), "%"),
        Row("wrap on every third page", around / straight, "times", 2.0, f"{around:.2f} s against {straight:.2f} s"),
    ]


if __name__ == "__main__":
    report(main())
