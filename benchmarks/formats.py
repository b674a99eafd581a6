"""A whole novel in every format that writers use, as pandoc writes it: how long each takes to read, and that all give
the same words, headings and looks; and how fast a text of that length opens to be written in, searched and spelled."""

from __future__ import annotations

import subprocess
import tempfile
from functools import partial
from pathlib import Path

from benchmarks.measure import Row, book, cpu, report
from benchmarks.novel import novel
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.model import Manuscript
from lexigon.core.manuscript.readers.decode import decode
from lexigon.core.manuscript.readers.plain_text import read_plain
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.finding import Query, hits
from lexigon.core.manuscript.review.spelling import Speller, checked
from lexigon.core.manuscript.review.word_lists import Dictionaries
from lexigon.core.manuscript.writers.outgoing import copy_of
from lexigon.core.manuscript.writers.text import write_markdown

FORMS = {"docx": 6.0, "odt": 6.0, "rtf": 3.0, "html": 3.0, "md": 3.0}
"""Seconds of computing that reading may take."""
LEVELS = {"chapter": "chapter", "part": "chapter", "section": "chapter", "title": "chapter"}


def told(read_: Manuscript) -> list[tuple[str, str, tuple[tuple[int, int], ...]]]:
    """What a manuscript says, by what all formats have a sign for: words, whether a heading, emphasis."""
    return [
        (
            " ".join(p.text.split()),
            LEVELS.get(p.style, "text"),
            tuple((s.start, s.end) for s in p.spans if s.style == "emphasis"),
        )
        for p in read_.paragraphs
    ]


def _into(made: list[Manuscript], data: bytes, name: str) -> None:
    made.append(read(data, name))


def main() -> list[Row]:
    job = book()
    plain = read_plain(decode(novel().encode()))
    source = copy_of(job, [job.stories[job.main_story or ""]])
    rows: list[Row] = []
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "copy.md").write_text(write_markdown(source))
        wanted = told(read((folder / "copy.md").read_bytes(), "copy.md"))
        for form, most in FORMS.items():
            path = folder / f"copy.{form}"
            if form != "md":
                subprocess.run(
                    ["pandoc", "-f", "commonmark_x-smart", "copy.md", "-s", "-o", path, "--metadata", "title= "],
                    cwd=folder,
                    check=True,
                    capture_output=True,
                )
            data = path.read_bytes()
            made: list[Manuscript] = []
            rows.append(Row(f"a novel as {form}", cpu(partial(_into, made, data, path.name)), "s", most))
            found = [one for one in told(made[0]) if one[0]]
            same = sum(a == b for a, b in zip(found, wanted, strict=False))
            rows.append(
                Row(
                    f"{form}: paragraphs that differ",
                    float(max(len(found), len(wanted)) - same),
                    "",
                    0.0,
                    f"of {len(wanted)}",
                )
            )
    rows.append(Row("words of the plain text", float(plain.counts["words"]), ""))
    speller = Speller(job, Dictionaries())
    checked(speller)
    rows.append(Row("spelling of the novel", cpu(lambda: checked(speller)), "s"))
    rows.append(Row("a word found in it", cpu(lambda: list(hits(job, Query("carriage")))), "s"))
    workspace = Workspace(job)
    rows.append(
        Row("a pattern found in it", cpu(lambda: list(hits(workspace.job, Query(r"\b(\w+) \1\b", pattern=True)))), "s")
    )
    return rows


if __name__ == "__main__":
    report(main())
