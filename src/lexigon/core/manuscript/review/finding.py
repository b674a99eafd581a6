"""Finding and replacing in a story, or in all of a job: words, patterns, styles and formatting, on both sides.

The search covers every story (notes and anchored frames, too), the cells of tables, and standing copy. A pattern is a
regular expression of the ``regex`` package (with Unicode properties), with a time limit; otherwise the words are
literal, with characters by name (``signs``).
"""

from __future__ import annotations

import time
import unicodedata
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

import regex

from lexigon.core.document import story_text
from lexigon.core.document.cascade import Cascade, TypeSetting
from lexigon.core.document.limits import Key, Language, Name, TypeSize
from lexigon.core.document.model import OBJECT, Cell, Job, Paragraph, Span, StandingCopy, TypeSpec
from lexigon.core.editing.intents.text.rewriting import Rewrite
from lexigon.core.errors import LexigonError
from lexigon.core.manuscript.review.fixes import Fix, fixed
from lexigon.core.markup.special_characters import named, pattern_of
from lexigon.core.numerals import integer

MOST_HITS = 50_000
LONGEST = 2000
"""Characters of a pattern."""
SECONDS = 4.0
"""That a search may take before it is given up."""
BOLD = 600
SAME_SIZE = 0.005
"""The difference, in points, below which two type sizes are equal."""


class SearchError(LexigonError):
    """The search is not possible; the message says why."""


@dataclass(slots=True, frozen=True)
class Query:
    """A search. Styles and the ``swatch`` of words are ids, "" for any, as are the ``family`` of their type and their
    ``language`` (of which de finds every kind of German); ``italic`` and ``bold`` None for either, the ``size`` in
    points None for any."""

    words: str = ""
    pattern: bool = False
    whole: bool = False
    case: bool = False
    marks: bool = True
    """Accents count; without them é is e."""
    style: str = ""
    character: str = ""
    italic: bool | None = None
    bold: bool | None = None
    size: TypeSize | None = None
    family: str = ""
    swatch: str = ""
    language: str = ""
    story: str = ""
    """Only in this text; "" for all of the job."""
    first: str = ""
    """Only from a place of that text on, and up to another: the paragraphs' ids and the offsets in them."""
    first_at: int = 0
    last: str = ""
    last_at: int = 0

    @property
    def nothing(self) -> bool:
        return not (self.words or self.style or self.formatted)

    @property
    def formatted(self) -> bool:
        """Return whether the query asks for formatting of words, as opposed to whole paragraphs."""
        marked = self.character or self.family or self.swatch or self.language
        return bool(marked) or any(one is not None for one in (self.italic, self.bold, self.size))


@dataclass(slots=True, frozen=True)
class Exchange:
    """A replacement; None leaves a value unchanged. ``character`` "-" takes local settings and character styles off."""

    words: str | None = None
    keep_case: bool = False
    style: str | None = None
    character: str | None = None
    italic: bool | None = None
    bold: bool | None = None
    size: TypeSize | None = None
    family: Name | None = None
    swatch: Key | None = None
    language: Language | None = None


Kind = Literal["story", "table", "copy"]


@dataclass(slots=True, frozen=True)
class Where:
    """A paragraph by its place: in a story; in a cell (row, cell, paragraph); a standing copy has one."""

    kind: Kind
    key: str
    cell: tuple[int, int, int] = (0, 0, 0)


@dataclass(slots=True, frozen=True)
class Hit:
    where: Where
    paragraph: Paragraph
    start: int
    end: int
    groups: tuple[str, ...] = ()

    @property
    def text(self) -> str:
        return self.paragraph.text[self.start : self.end]

    @property
    def has_object(self) -> bool:
        """Whether it contains an object, so that it is not replaced."""
        return OBJECT in self.text


def hits(job: Job, query: Query, seconds: float = SECONDS) -> Iterator[Hit]:
    """Every place, in the order of the job. Raises SearchError for a pattern that cannot be read, or that takes too
    long."""
    matches = _matcher(query, time.monotonic() + seconds)
    looks = _Looks(job, query)
    count = 0
    within = _within(job, query)
    for where, p in places(job, query.story):
        if within is not None and p.id not in within:
            continue
        if query.style and p.style != query.style:
            continue
        low, high = within[p.id] if within is not None else (0, len(p.text))
        for start, end, groups in looks.narrowed(p, _through_marks(p, matches)):
            if start < low or end > high:
                continue
            yield Hit(where, p, start, end, groups)
            count += 1
            if count >= MOST_HITS:
                return


def _through_marks(p: Paragraph, matches: Callable[[str], Iterator[Match]]) -> Iterator[Match]:
    """Return what is found in a paragraph as if the marks of an index were not there, which nobody sees."""
    marks = {span.start for span in p.spans if span.object is not None and span.object.kind == "index"}
    if not marks:
        yield from matches(p.text)
        return
    positions = [at for at in range(len(p.text)) if at not in marks]
    for start, end, groups in matches("".join(p.text[at] for at in positions)):
        yield positions[start], positions[end - 1] + 1, groups


def _within(job: Job, query: Query) -> dict[str, tuple[int, int]] | None:
    """The paragraphs of a selected range, with start and end in each; None for no range. Raises SearchError if it is
    gone."""
    if not query.first:
        return None
    paragraphs = job.stories[query.story].paragraphs if query.story in job.stories else []
    numbers = {p.id: n for n, p in enumerate(paragraphs)}
    if query.first not in numbers or query.last not in numbers:
        raise SearchError("The selection is no longer in the story. Search all of it, or select again.")
    (a, ao), (b, bo) = sorted([(numbers[query.first], query.first_at), (numbers[query.last], query.last_at)])
    return {p.id: (ao if n == a else 0, bo if n == b else len(p.text)) for n, p in enumerate(paragraphs[a : b + 1], a)}


def places(job: Job, story: str = "") -> Iterator[tuple[Where, Paragraph]]:
    """The paragraphs of a job: its main story followed by the others, tables, standing copy."""
    order = sorted(job.stories.values(), key=lambda one: one.id != job.main_story)
    for one in order:
        if not story or one.id == story:
            yield from ((Where("story", one.id), p) for p in one.paragraphs)
    if story:
        return
    for table in job.tables.values():
        for r, row in enumerate(table.rows):
            for c, cell in enumerate(row):
                yield from ((Where("table", table.id, (r, c, n)), p) for n, p in enumerate(cell.paragraphs))
    for copy in job.copies.values():
        yield Where("copy", copy.id), Paragraph("", "", copy.text)


Match = tuple[int, int, tuple[str, ...]]


def _matcher(query: Query, until: float) -> Callable[[str], Iterator[Match]]:
    if not query.words:
        return lambda text: iter([(0, len(text), ())] if text else [])
    if len(query.words) > LONGEST:
        raise SearchError(f"The text to find has at most {integer(LONGEST)} characters.")
    words = query.words if query.marks else folded(query.words)
    source = pattern_of(words, escape=not query.pattern)
    if query.whole:
        source = rf"(?<![\p{{L}}\p{{M}}\p{{Nd}}])(?:{source})(?![\p{{L}}\p{{M}}\p{{Nd}}])"
    try:
        compiled = regex.compile(source, regex.VERSION1 | (0 if query.case else regex.IGNORECASE | regex.FULLCASE))
    except (regex.error, RecursionError, OverflowError) as error:
        raise SearchError(f"The regular expression is not valid: {error}.") from error

    def matches(text: str) -> Iterator[Match]:
        left = until - time.monotonic()
        try:
            if left <= 0:
                raise TimeoutError
            for match in compiled.finditer(text if query.marks else folded(text), timeout=left):
                if match.end() > match.start():
                    yield (
                        match.start(),
                        match.end(),
                        tuple(text[a:b] if a >= 0 else "" for a, b in map(match.span, range(1, compiled.groups + 1))),
                    )
        except TimeoutError as error:
            raise SearchError(
                "The regular expression takes too long. Simplify it, or search one story only."
            ) from error

    return matches


def folded(text: str) -> str:
    """Without accents, character for character."""
    if text.isascii():
        return text
    return "".join(unicodedata.normalize("NFD", sign)[0] for sign in text)


class _Looks:
    """Restricts matches to text in a character style or with certain formatting."""

    def __init__(self, job: Job, query: Query) -> None:
        self.query, self.cascade = query, Cascade(job)
        self.asked = query.formatted

    def narrowed(self, p: Paragraph, matches: Iterable[Match]) -> Iterator[Match]:
        if not self.asked:
            yield from matches
            return
        runs = self._runs(p)
        for start, end, groups in matches:
            if self.query.words:
                if any(a <= start and end <= b for a, b in runs):
                    yield start, end, groups
            else:
                yield from ((a, b, ()) for a, b in runs)

    def _runs(self, p: Paragraph) -> list[tuple[int, int]]:
        """The stretches that look as asked, neighbours joined."""
        runs: list[tuple[int, int]] = []
        at = 0
        for span in p.spans:
            if at < span.start:
                self._run(runs, p, at, span.start, None)
            self._run(runs, p, span.start, span.end, span)
            at = span.end
        if at < len(p.text):
            self._run(runs, p, at, len(p.text), None)
        return runs

    def _run(self, runs: list[tuple[int, int]], p: Paragraph, start: int, end: int, span: Span | None) -> None:
        query = self.query
        if query.character and (span.style if span else None) != query.character:
            return
        if not self._fits(self.cascade.type_of(p, span)):
            return
        if runs and runs[-1][1] == start:
            runs[-1] = (runs[-1][0], end)
        else:
            runs.append((start, end))

    def _fits(self, type_: TypeSetting) -> bool:
        """Return whether type has the formatting that the query asks for."""
        query = self.query
        language = query.language.casefold()
        return (
            (query.italic is None or type_.italic == query.italic)
            and (query.bold is None or (type_.weight >= BOLD) == query.bold)
            and (query.size is None or abs(type_.size - query.size) < SAME_SIZE)
            and (not query.family or type_.family.casefold() == query.family.casefold())
            and (not query.swatch or type_.swatch == query.swatch)
            and (not language or f"{type_.language}-".casefold().startswith(f"{language}-"))
        )


def put_for(hit: Hit, exchange: Exchange, pattern: bool) -> str:
    """The words that come in the place of a hit."""
    if exchange.words is None:
        return hit.text
    words = exchange.words
    for number, group in reversed(list(enumerate(hit.groups, 1))):
        words = words.replace(f"<{number}>", group) if pattern else words
    words = named(words.replace("<found>", hit.text)).replace(OBJECT, "").replace("\n", " ")
    return _cased(hit.text, words) if exchange.keep_case else words


def _cased(original: str, replacement: str) -> str:
    """In capitals where that was, or with a capital where that had one."""
    letters = [sign for sign in original if sign.isalpha()]
    if len(letters) > 1 and all(sign.isupper() for sign in letters):
        return replacement.upper()
    if letters and letters[0].isupper():
        return replacement[:1].upper() + replacement[1:]
    return replacement


def exchanged(
    job: Job, query: Query, exchange: Exchange, left: Collection[int] = (), seconds: float = SECONDS
) -> tuple[Rewrite, int, int]:
    """Return the edit that replaces every match but those with these numbers; the number of replacements, and of those
    left because of a note, a picture or a field in them. Raises SearchError if the job lacks a style."""
    for style, table in ((exchange.style, job.paragraph_styles), (exchange.character, job.character_styles)):
        if style and style != "-" and style not in table:
            raise SearchError("That style is no longer in the job.")
    if exchange.swatch and exchange.swatch not in job.swatches:
        raise SearchError("That swatch is no longer in the job.")
    if exchange.words is not None and len(exchange.words) > LONGEST:
        raise SearchError(f"The replacement has at most {integer(LONGEST)} characters.")
    by_paragraph: dict[tuple[Where, str], list[Hit]] = {}
    skipped = count = 0
    for number, hit in enumerate(hits(job, query, seconds)):
        if number in left:
            continue
        if hit.has_object and exchange.words is not None:
            skipped += 1
            continue
        by_paragraph.setdefault((hit.where, hit.paragraph.id), []).append(hit)
        count += 1
    return _rewrite(job, by_paragraph, exchange, query.pattern), count, skipped


def _rewrite(
    job: Job, by_paragraph: Mapping[tuple[Where, str], list[Hit]], exchange: Exchange, pattern: bool
) -> Rewrite:
    return rewrite(job, {key: _replaced(matches, exchange, pattern) for key, matches in by_paragraph.items()})


def rewrite(job: Job, paragraphs: Mapping[tuple[Where, str], Paragraph]) -> Rewrite:
    """Return the edit that replaces paragraphs, given by place and id."""
    stories: dict[str, list[Paragraph]] = {}
    cells: dict[str, dict[tuple[int, int, int], Paragraph]] = {}
    copies: list[StandingCopy] = []
    for (where, _), changed in paragraphs.items():
        if where.kind == "story":
            stories.setdefault(where.key, []).append(changed)
        elif where.kind == "table":
            cells.setdefault(where.key, {})[where.cell] = changed
        else:
            copies.append(replace(job.copies[where.key], text=changed.text))
    tables = tuple(
        replace(
            job.tables[key],
            rows=tuple(
                tuple(replace(cell, paragraphs=_inner(cell, r, c, inner)) for c, cell in enumerate(row))
                for r, row in enumerate(job.tables[key].rows)
            ),
        )
        for key, inner in cells.items()
    )
    return Rewrite({key: tuple(paragraphs) for key, paragraphs in stories.items()}, tables, tuple(copies))


def _inner(cell: Cell, r: int, c: int, changed: Mapping[tuple[int, int, int], Paragraph]) -> tuple[Paragraph, ...]:
    return tuple(changed.get((r, c, n), p) for n, p in enumerate(cell.paragraphs))


def _replaced(matches: list[Hit], exchange: Exchange, pattern: bool) -> Paragraph:
    """A paragraph with all its hits replaced. What comes in is set as what it replaces was at its beginning."""
    p = matches[0].paragraph
    fixes = [Fix(hit.start, hit.end, put_for(hit, exchange, pattern)) for hit in matches]
    ends: list[tuple[int, int]] = []
    shift = 0
    for fix in fixes:
        ends.append((fix.start + shift, fix.start + shift + len(fix.text)))
        shift += len(fix.text) - (fix.end - fix.start)
    if exchange.words is not None:
        text, spans = fixed(p.text, p.spans, fixes)
        p = replace(p, text=text, spans=story_text.tidy(spans))
    look = TypeSpec(
        italic=exchange.italic,
        weight=None if exchange.bold is None else 700 if exchange.bold else 400,
        size=exchange.size,
        family=exchange.family,
        swatch=exchange.swatch,
        language=exchange.language,
    )
    for start, end in ends:
        if start < end and exchange.character == "-":
            p = story_text.respanned(p, start, end, None, "")
        if start < end and (look != TypeSpec() or (exchange.character and exchange.character != "-")):
            p = story_text.respanned(
                p,
                start,
                end,
                look if look != TypeSpec() else None,
                exchange.character if exchange.character != "-" else None,
            )
    if exchange.style:
        p = replace(p, style=exchange.style)
    return p
