"""``lexigon copy``: the text of a job as a file."""

from __future__ import annotations

import argparse
from pathlib import Path

from lexigon.cli.jobs import open_job
from lexigon.core.document.story_text import count_words
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.flow.plain_text import field_text, texts_of
from lexigon.core.manuscript.writers.outgoing import copy_of
from lexigon.core.manuscript.writers.writing import ALIVE, FORMS, written

EXAMPLES = ("lexigon copy novel.lexigon --output for-the-author.docx", "lexigon copy novel.lexigon --output novel.md")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument(
        "-o", "--output", "--out", required=True, metavar="FILE", help="the file to write: .docx, .html, .md or .txt"
    )


def run(options: argparse.Namespace) -> int:
    """Markdown with pictures becomes a zip archive of both."""
    target = Path(options.output)
    form = next((one for one in FORMS if target.suffix.lower() == f".{one}"), None)
    if form is None:
        endings = ", ".join(f".{one}" for one in FORMS)
        raise LexigonError(f"The ending of the file name selects the format. Type one of {endings}.", "out")
    composition = open_job(options.job).composition
    files = package.read_files(Path(options.job).read_bytes())
    stories = texts_of(composition)
    copy = copy_of(composition.job, stories, field_text(composition), files.get, alive=form in ALIVE)
    data, suffix = written(copy, composition.job, form)
    target = target.with_suffix(suffix) if suffix != target.suffix.lower() else target
    target.write_bytes(data)
    print(f"{target}: {count_words(p for story in stories for p in story.paragraphs):,} words")
    return 0
