"""Composing the book with 1,000 footnotes of 20 words, beside composing it without, and a keystroke among them."""

from __future__ import annotations

import gc
from dataclasses import replace

from benchmarks.listings import keystrokes
from benchmarks.measure import Row, book, cpu, report
from lexigon.core.document.model import OBJECT, Anchor, Job, Paragraph, Span, Story
from lexigon.core.document.story_text import joined, piece
from lexigon.core.editing.intents.text.note_kinds import note_styles
from lexigon.core.flow.workspace import Workspace

COUNT = 1000
WARM = 4
WORDS = "the day on which the letter came is not told, and the almanack of that year gives no other for it"


def noted() -> Job:
    """The novel with a note behind a word in every so many paragraphs."""
    job = book()
    for edit in note_styles(job):
        edit.apply(job)
    story = job.stories[job.main_story or ""]
    long = [at for at, p in enumerate(story.paragraphs) if p.style in ("body", "first") and len(p.text) > 60]
    for number in range(COUNT):
        at = long[number * len(long) // COUNT]
        p = story.paragraphs[at]
        place = p.text.index(" ", 40)
        key = f"n{number}"
        sign = Paragraph("", "", OBJECT, (Span(0, 1, "note-number", object=Anchor("note", key)),))
        cited = joined(joined(piece(p, 0, place), sign), piece(p, place, len(p.text)))
        story.paragraphs[at] = replace(cited, id=p.id, style=p.style)
        job.stories[key] = Story(key, "Note", [Paragraph(f"p{key}", "note", WORDS)], kind="note")
    return job


def main() -> list[Row]:
    pairs = [(book(), noted()) for _ in range(WARM)]
    Workspace(noted())
    gc.collect()
    gc.freeze()
    took = [(cpu(lambda job=plain: Workspace(job)), cpu(lambda job=full: Workspace(job))) for plain, full in pairs]
    bare, with_notes = min(a for a, _ in took), min(b for _, b in took)
    workspace = Workspace(noted())
    return [
        Row("compose with 1,000 notes, warm", with_notes, "s CPU", None, f"{bare:.2f} s without"),
        Row("of what it takes without them", with_notes / bare, "times", 1.6),
        Row("keystroke among 1,000 notes, p95", keystrokes(workspace), "ms CPU", 20.0),
    ]


if __name__ == "__main__":
    report(main())
