"""A story as its writers see it: paragraphs with their formatting, notes and queries beside them, and the structure
with word counts."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import Anchor, Job, Paragraph, Span, Story
from lexigon.core.document.story_text import count_words
from lexigon.core.editing.touches import EntryTouch, paragraph_touches, touches_of
from lexigon.core.errors import LexigonError
from lexigon.core.flow.plain_text import field_text
from lexigon.core.flow.workspace import Change
from lexigon.core.manuscript.writers.outgoing import apart

MOST_NOTE = 2000
CLASSES = (
    ("italic", True, "i"),
    ("italic", False, "upright"),
    ("weight", 700, "b"),
    ("underline", True, "u"),
    ("strike", True, "s"),
    ("caps", "small", "sc"),
    ("position", "superior", "sup"),
    ("position", "inferior", "sub"),
)


class Writing:
    """The number of paragraphs of one story that are sent."""

    def __init__(self, live: OpenJob, story: Story) -> None:
        self.live, self.story, self.job = live, story, live.job
        self.cascade = Cascade(live.job)
        counted = live.workspace.composition.notes.numbers(story.id)
        self.numbers = {ref: cited.number for ref, cited in counted.items()}
        self._said: Callable[[Anchor, str, str, int], str] = field_text(live.workspace.composition)
        self.queries = {key for key, style in live.job.character_styles.items() if "query" in style.name.casefold()}
        marker = live.workspace.composition.marked.marker
        self.asking = [
            rule for rule in marker.rules if rule.marking.hidden or rule.marking.character_style in self.queries
        ]

    def rows(self, paragraphs: Iterable[Paragraph]) -> list[dict[str, Any]]:
        return [self.row(p) for p in paragraphs]

    def row(self, p: Paragraph) -> dict[str, Any]:
        """A paragraph: its words with their formatting by offsets, its anchors by what they show, and notes and queries
        beside it."""
        style = self.job.paragraph_styles.get(p.style)
        row: dict[str, Any] = {"id": p.id, "style": p.style, "level": style.level if style else 0, "text": p.text}
        spans, notes, queries = [], [], []
        for span in apart(self.cascade, p) if p.spans else ():
            if span.object is not None:
                spans.append([span.start, span.end, "", *self._kind_and_text(span, p)])
                if span.object.kind == "note" and (note := self.job.stories.get(span.object.ref)):
                    words = "\n".join(one.text for one in note.paragraphs)[:MOST_NOTE]
                    notes.append(
                        {
                            "story": note.id,
                            "number": self.numbers.get(note.id, ""),
                            "text": words,
                            "p": note.paragraphs[0].id,
                            "one": len(note.paragraphs) == 1,
                        }
                    )
                continue
            look = span.type
            spans.append(
                [
                    span.start,
                    span.end,
                    " ".join(
                        [
                            *(name for field, value, name in CLASSES if look and getattr(look, field) == value),
                            *(["leads"] if span.link else []),
                        ]
                    ),
                ]
            )
        for span in p.spans:
            if span.style in self.queries:
                queries.append(p.text[span.start : span.end])
        for rule in self.asking:
            if rule.needs in p.text and (not rule.styles or p.style in rule.styles):
                queries += [p.text[a:b].strip() for a, b in rule.find(p.text)]
        return row | {
            name: value for name, value in (("spans", spans), ("notes", notes), ("queries", queries)) if value
        }

    def _kind_and_text(self, span: Span, p: Paragraph) -> tuple[str, str]:
        """Return the kind of the object, and how it is shown."""
        anchor = span.object
        assert anchor is not None
        if anchor.kind == "note":
            return "note", self.numbers.get(anchor.ref, "*")
        if anchor.kind == "frame":
            inlay = self.job.inlays.get(anchor.ref)
            return "frame", f"[{inlay.name or 'Picture'}]" if inlay else "[Picture]"
        return anchor.kind, self._said(anchor, self.story.id, p.id, span.start) or "\u25c7"


def opening(live: OpenJob, story: Story) -> dict[str, Any]:
    """All of a story, for writing."""
    writing = Writing(live, story)
    styles = [
        {"id": style.id, "name": style.name, "level": style.level} for style in live.job.paragraph_styles.values()
    ]
    return {
        "story": story.id,
        "revision": live.revision,
        "rows": writing.rows(story.paragraphs),
        "styles": styles,
        "structure": structure(live),
    }


def structure(live: OpenJob) -> list[dict[str, Any]]:
    """The headings with the words under each, and where they stand."""
    composition, main = live.workspace.composition, live.job.stories.get(live.job.main_story or "")
    pages = {heading.paragraph: heading.page for heading in composition.running.all}
    levels = {key: style.level for key, style in live.job.paragraph_styles.items()}
    rows: list[dict[str, Any]] = []
    within: list[Paragraph] = []
    for p in main.paragraphs if main else ():
        level = levels.get(p.style, 0)
        if not level:
            within.append(p)
            continue
        if rows:
            rows[-1]["words"] = count_words(within)
        within = []
        page = pages.get(p.id)
        label = composition.values.labels[page] if page is not None else ""
        rows.append(
            {
                "id": p.id,
                "text": p.text.replace("\ufffc", "")[:160],
                "level": level,
                "page": page,
                "label": label,
                "words": 0,
            }
        )
    if rows:
        rows[-1]["words"] = count_words(within)
    return rows


_READ_BY_ALL = ("stories", "paragraph_styles", "character_styles")
"""Tables whose entries show in more paragraphs than the edit names."""


def after(live: OpenJob, story: str, change: Change | None) -> dict[str, Any]:
    """Return the steps by which the client repeats an edit in its own copy of a story."""
    answer: dict[str, Any] = {"revision": live.revision, "count": len(live.job.pages), "steps": []}
    text = live.job.stories.get(story)
    if change is None or text is None:
        return answer
    writing = Writing(live, text)
    splices = list(paragraph_touches(change.edits))
    if any(isinstance(t, EntryTouch) and t.table in _READ_BY_ALL for t in touches_of(change.edits)):
        return answer | {"rows": writing.rows(text.paragraphs)}  # more than one paragraph may show otherwise
    for splice in splices:
        if splice.story == story:
            answer["steps"].append({"at": splice.at, "remove": splice.remove, "rows": writing.rows(splice.insert)})
    notes = {splice.story for splice in splices if splice.story != story}
    answer["again"] = (
        writing.rows(p for p in text.paragraphs if any(span.object and span.object.ref in notes for span in p.spans))
        if notes
        else []
    )
    spans = (span for splice in splices for paragraph in splice.insert for span in paragraph.spans)
    if any(span.object and span.object.kind == "note" for span in spans):
        answer["numbers"] = writing.numbers
    return answer


def story_of(job: Job, key: str) -> Story:
    """A story that can be written in. Raises LexigonError."""
    story = job.stories.get(key)
    if story is None:
        raise LexigonError("That story is no longer in the job.")
    return story
