"""Listings that are ready to be taken, as far as a job has the styles that feed them."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from lexigon.core.document import story_text
from lexigon.core.document.model import CharacterStyle, Job, Listing, ListingSource, ParagraphStyle
from lexigon.core.editing.intents.text.note_kinds import FOOT

SUMMARY = r"\b(summar|standfirst|lead|abstract|zusammenfassung|résumé)"
CAPTION = r"\b(caption|figure|plate|abbildung|legende)"
TABLE = r"\b(table|tabelle|tableau)"
ADVERT = r"\b(advert|anzeige|annonce)"
TERM = r"\b(glossar|term|definition)"
QUERY = r"\b(quer|question to)"


def ready(job: Job) -> list[Listing]:
    """Each once, under a name that no listing of the job bears."""
    used = {one.name.casefold() for one in job.listings.values()}
    listings = []
    for one in _all(job):
        if one.sources and one.name.casefold() not in used:
            used.add(one.name.casefold())
            listings.append(one)
    return listings


def _all(job: Job) -> Iterator[Listing]:
    used = {p.style for story in job.stories.values() for p in story.paragraphs}
    heads = sorted(
        (style.level, at, style.id)
        for at, style in enumerate(job.paragraph_styles.values())
        if style.level and style.id in used
    )
    levels = sorted({level for level, _, _ in heads})
    contents = tuple(ListingSource(key, level=levels.index(level) + 1) for level, _, key in heads)
    yield Listing(story_text.new_id("l"), "Contents", contents)
    summaries = _sources(job.paragraph_styles.values(), SUMMARY, level=2)
    if summaries and heads:
        summed = _levels_above(job, {one.style for one in summaries})
        deepest = max(summed, default=levels[0])
        top = tuple(ListingSource(key, level=1) for level, _, key in heads if level <= deepest)
        yield Listing(story_text.new_id("l"), "Chapters with summaries", (*top, *summaries))
    words = {"separator": ", ", "order": "alphabetical", "merged": True, "ranges": True}
    yield Listing(story_text.new_id("l"), "Glossary", _sources(job.character_styles.values(), TERM), **words)  # type: ignore[arg-type]
    index = (ListingSource("marks", "marks"),)
    yield Listing(
        story_text.new_id("l"), "Index", index, separator=", ", order="alphabetical", ranges=True, letters=True
    )
    kinds = list(job.note_kinds)
    if any(story.kind == "note" for story in job.stories.values()):
        gathered = [kind.id for kind in job.note_kinds.values() if kind.place == "gathered"] or kinds or [FOOT]
        top = tuple(ListingSource(key) for level, _, key in heads if level == levels[0]) if levels else ()
        notes = tuple(ListingSource(key, "notes", level=2) for key in gathered)
        yield Listing(story_text.new_id("l"), "Notes", (*top, *notes), number="none")
    yield Listing(
        story_text.new_id("l"),
        "Queries",
        _sources(job.character_styles.values(), QUERY),
        separator=" ",
        number="before",
    )
    series: dict[str, list[ListingSource]] = {}
    for style in job.paragraph_styles.values():
        if style.para.list is not None and style.para.list.series:
            series.setdefault(style.para.list.series, []).append(ListingSource(style.id, take="sentences"))
    for name, sources in series.items():  # counted through all stories, each with its number
        yield Listing(story_text.new_id("l"), name, tuple(sources))
    worded = [style for style in job.paragraph_styles.values() if not style.para.floats]  # the others hold pictures
    captions = _sources(worded, CAPTION, take="sentences")
    tables = {one.style for one in _sources(job.paragraph_styles.values(), TABLE)}
    yield Listing(story_text.new_id("l"), "Figures", tuple(one for one in captions if one.style not in tables))
    yield Listing(story_text.new_id("l"), "Tables", _sources(job.paragraph_styles.values(), TABLE, take="sentences"))
    yield Listing(story_text.new_id("l"), "Advertisers", _sources(job.paragraph_styles.values(), ADVERT), **words)  # type: ignore[arg-type]


def _sources(
    styles: Iterable[ParagraphStyle | CharacterStyle], pattern: str, **more: object
) -> tuple[ListingSource, ...]:
    return tuple(
        ListingSource(style.id, "words" if isinstance(style, CharacterStyle) else "paragraphs", **more)  # type: ignore[arg-type]
        for style in styles
        if re.search(pattern, f"{style.id} {style.name}", re.IGNORECASE)
    )


def _levels_above(job: Job, styles: set[str]) -> set[int]:
    """The levels of the headings that paragraphs in some styles come after: what summaries are summaries of."""
    levels: set[int] = set()
    for story in job.stories.values():
        above = 0
        for p in story.paragraphs:
            if p.style in styles:
                levels.add(above)
            elif (style := job.paragraph_styles.get(p.style)) is not None and style.level:
                above = style.level
    return levels - {0}
