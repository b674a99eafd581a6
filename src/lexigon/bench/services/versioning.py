"""New versions of a manuscript against a job: what differs and who changed it, and taking it over."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Any

from lexigon.bench.models import Manuscript
from lexigon.bench.services import manuscripts
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.bench.services.origins import base_of, remember
from lexigon.core.document.model import OBJECT, Job
from lexigon.core.editing.intents import PourText
from lexigon.core.errors import LexigonError
from lexigon.core.flow.plain_text import field_text
from lexigon.core.manuscript.pouring import poured
from lexigon.core.manuscript.review.versions import Hunk, compared, mark, merged, words_between
from lexigon.core.manuscript.writers.writing import written_out

MOST_SHOWN = 2000
BEGUN = 1500


@dataclass(slots=True, frozen=True)
class Comparison:
    new: PourText
    hunks: list[Hunk]
    since: str
    """What the version is called that both began with; "" where none is known."""


def compare(live: OpenJob, row: Manuscript) -> Comparison:
    """A manuscript that was looked through against the job's main text."""
    story = live.job.stories.get(live.job.main_story or "")
    if story is None:
        raise LexigonError("This job has no main story to compare with.")
    chosen = (row.account or {}).get("restyled", {})
    changes = {int(number): style for number, style in chosen.items() if number.isdecimal()}
    read = manuscripts.read_row(row, live.job, pouring=True)
    new, _ = poured(live.job, read, manuscripts.keeping(row.job_id), changes)
    new = _with_known_styles(live.job, new)
    base = base_of(row.job_id, {mark(p) for p in new.paragraphs})
    hunks = compared(
        written_out(story, field_text(live.workspace.composition)), new.paragraphs, base.marks if base else ()
    )
    return Comparison(new, hunks, f"{base.name}, {base.when:%-d %B}" if base else "")


def _with_known_styles(job: Job, new: PourText) -> PourText:
    """With what has no style of the job set as running text, as pouring would."""
    styles = {*job.paragraph_styles, *(style.id for style in new.styles)}
    return replace(
        new, paragraphs=tuple(p if p.style in styles else replace(p, style=job.body) for p in new.paragraphs)
    )


def to_json(live: OpenJob, comparison: Comparison) -> dict[str, Any]:
    """Return what differs, for the screen."""
    paragraphs = written_out(live.job.stories[live.job.main_story or ""], field_text(live.workspace.composition))
    names = {style.id: style.name for style in live.job.paragraph_styles.values()}
    rows = []
    for number, hunk in enumerate(comparison.hunks[:MOST_SHOWN]):
        own = paragraphs[hunk.ours] if hunk.kind != "added" else None
        their = comparison.new.paragraphs[hunk.theirs] if hunk.kind != "removed" else None
        before, after = (p.text.replace(OBJECT, "\u25c7")[:BEGUN] if p else "" for p in (own, their))
        restyled = (
            own is not None
            and their is not None
            and {own.style, their.style} - {"first", "body"}
            and own.style != their.style
        )
        rows.append(
            {
                "n": number,
                "kind": hunk.kind,
                "whose": hunk.whose,
                "usual": hunk.usual,
                "words": words_between(before, after),
                "style": f"{names.get(own.style, own.style)} \u2192 {names.get(their.style, their.style)}"
                if restyled and own and their
                else "",
                "looks": before == after and not restyled,
            }
        )
    return {
        "hunks": rows,
        "count": len(comparison.hunks),
        "since": comparison.since,
        "revision": live.revision,
        "same": len(paragraphs),
    }


def take_over(row: Manuscript, user: Any, numbers: Collection[int], revision: int) -> int:
    """Apply the selected changes as one change. Returns the number of pages then. Raises LexigonError if the job has
    changed since the comparison."""
    with opened(row.job_id) as live:
        if live.revision != revision:
            raise LexigonError("The story has changed since it was compared. Nothing was taken over: compare again.")
        comparison = compare(live, row)
        if comparison.hunks and any(not 0 <= number < len(comparison.hunks) for number in numbers):
            raise LexigonError("The selected changes no longer exist. Compare again.")
        if numbers:
            story = live.job.stories[live.job.main_story or ""]
            live.do([merged(live.job, story, comparison.new, comparison.hunks, set(numbers))], user)
        remember(row.job_id, row.name, comparison.new.paragraphs, row)
        count = len(live.job.pages)
    row.delete()
    return count
