"""``lexigon compare``: what a new version of a manuscript changes in a job."""

from __future__ import annotations

import argparse
from pathlib import Path

from lexigon.cli.jobs import open_job, save_job
from lexigon.cli.manuscripts import picture_store
from lexigon.cli.options import add_output
from lexigon.core.document.model import Job
from lexigon.core.editing.intents import PourText
from lexigon.core.errors import LexigonError
from lexigon.core.flow.plain_text import field_text
from lexigon.core.manuscript.pouring import poured
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.versions import compared, mark, merged, words_between
from lexigon.core.manuscript.writers.writing import written_out

WHOSE = {"theirs": " by the writer", "ours": " here", "both": " by both", "unknown": ""}

DESCRIPTION = "List what a new version of a manuscript changes, and apply the changes if you ask for it."
EXAMPLES = (
    "lexigon compare novel.lexigon novel-2.docx --since novel-1.docx",
    "lexigon compare novel.lexigon novel-2.docx --since novel-1.docx --apply usual",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument("manuscript", help="the new version of the manuscript")
    parser.add_argument(
        "--since",
        metavar="FILE",
        help="the version that was imported before: your corrections since then are recognised",
    )
    parser.add_argument(
        "--apply",
        "--take",
        choices=["usual", "all"],
        help="apply the changes: usual (all but where you corrected the job) or all",
    )
    add_output(parser)


def run(options: argparse.Namespace) -> int:
    workspace = open_job(options.job)
    job = workspace.job
    story = job.stories.get(job.main_story or "")
    if story is None:
        raise LexigonError("This job has no main story to compare with.")
    pictures: dict[str, bytes] = {}
    new = _pour(options.manuscript, job, pictures)
    base = {mark(p) for p in _pour(options.since, job, pictures).paragraphs} if options.since else set()
    own = written_out(story, field_text(workspace.composition))
    hunks = compared(own, new.paragraphs, base)
    for hunk in hunks:
        before = own[hunk.ours].text if hunk.kind != "added" else ""
        after = new.paragraphs[hunk.theirs].text if hunk.kind != "removed" else ""
        words = "".join(
            {"=": text, "-": f"[-{text}-]", "+": f"{{+{text}+}}"}[kind] for kind, text in words_between(before, after)
        )
        print(f"{hunk.kind}{WHOSE[hunk.whose]}: {words}")
    print(f"{len(hunks)} paragraph{'s' * (len(hunks) != 1)} differ{'s' * (len(hunks) == 1)}")
    if options.apply:
        chosen = {number for number, hunk in enumerate(hunks) if options.apply == "all" or hunk.usual}
        if chosen:
            workspace.do(merged(job, story, new, hunks, chosen))
        print(f"{save_job(workspace, options, pictures)}: {len(chosen)} applied")
    return 0


def _pour(name: str, job: Job, pictures: dict[str, bytes]) -> PourText:
    """A version of the manuscript as it would be poured into the job; its pictures go to ``pictures``."""
    path = Path(name)
    own = {one.name: one.id for one in job.paragraph_styles.values()}
    manuscript = read(path.read_bytes(), path.name, language=job.brief.language, own=own)
    return poured(job, manuscript, picture_store(pictures))[0]
