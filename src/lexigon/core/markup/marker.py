"""Applying mark-up rules: a paragraph formatted by a job's rules. Its words stay as they are, and so do the job's
paragraphs.

The effect of a rule on a paragraph depends on its words and style, and on the styles of at most ``Marker.reach``
paragraphs before and after it.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import islice
from typing import Literal

import regex

from lexigon.core.document import story_text
from lexigon.core.document.model import Anchor, Job, Marking, Paragraph, Span, TypeSpec
from lexigon.core.errors import LexigonError
from lexigon.core.markup.special_characters import named, pattern_of

SECONDS = 0.05
"""That a pattern may take on one paragraph; one that takes longer does nothing there."""
HIDDEN = Anchor("hidden")
_WORD = re.compile(r"\S+")
_ENDS = r"[.!?…]++[\"”’»)\]]*+(?=\s|$)"
_SENTENCE = re.compile(rf"\S(?:{_ENDS}|.*?(?:(?<![.!?…]){_ENDS}|$))", re.DOTALL)
Stretch = tuple[int, int]


@dataclass(slots=True, frozen=True)
class Opening:
    """The formatting of the first lines of a paragraph, whose text is known only when it is set."""

    lines: int
    style: str
    swatch: str
    plain: bool

    def over(self, p: Paragraph, end: int) -> Paragraph:
        """The paragraph with the text before ``end`` formatted."""
        if self.plain:
            p = story_text.respanned(p, 0, end, None, "")
        look = TypeSpec(swatch=self.swatch) if self.swatch else None
        return story_text.respanned(p, 0, end, look, self.style or None) if look or self.style else p


class MarkingError(LexigonError):
    """A rule that cannot be, in words."""


class MissingStyle(MarkingError):
    """A rule names a style that the job does not have: of a ``kind``, paragraph or character, under a ``name``. It may
    be made."""

    def __init__(self, kind: Literal["paragraph", "character"], name: str) -> None:
        super().__init__(f"There is no {kind} style “{name}” in this job.")
        self.kind, self.name = kind, name


@dataclass(slots=True, frozen=True)
class _Rule:
    marking: Marking
    styles: frozenset[str]
    find: Callable[[str], Iterator[Stretch]]
    needs: str
    """Letters that any match contains, to skip text without them; "" for any text."""


def _rule(marking: Marking, job: Job) -> _Rule:
    return _Rule(without_missing(marking, job), frozenset(marking.styles), finder(marking), _needed(marking))


def _needed(rule: Marking) -> str:
    """Letters that whatever a rule finds must have, where they are easily seen: most rules find nothing in most
    paragraphs."""
    if rule.stretch in ("between", "from"):
        return named(rule.begin)
    if rule.stretch == "up to":
        return named(rule.end)
    if rule.stretch != "pattern" or re.search(r"[|(\[<.{]|\\[^bBdDwWsS\W]", rule.begin):
        return ""
    runs = [
        run[:-1] if behind in ("?", "*") else run for run, behind in re.findall(r"(?<!\\)([^\W_]+)([?*]?)", rule.begin)
    ]
    return max(runs, key=len, default="")


class Marker:
    """The rules of a job that are switched on."""

    def __init__(self, job: Job | None = None) -> None:
        self.rules: list[_Rule] = []
        self.reach = 1
        for one in job.markings.values() if job is not None else ():
            if not one.on or job is None:
                continue
            try:
                self.rules.append(_rule(one, job))
            except MarkingError:
                continue  # it is reported where it is written
            self.reach = max(self.reach, one.count)
        self._placed = tuple(n for n, rule in enumerate(self.rules) if rule.marking.place != "every")
        self._opening = {
            n for n, rule in enumerate(self.rules) if rule.marking.unit == "lines" and rule.marking.stretch == "first"
        }
        self._everywhere: dict[str, tuple[int, ...]] = {}
        """Rules that act wherever a style is, by that."""

    @property
    def idle(self) -> bool:
        return not self.rules

    def acting(self, paragraphs: Sequence[Paragraph], index: int) -> tuple[int, ...]:
        """The numbers of the rules that act on a paragraph, by where it stands."""
        style = paragraphs[index].style
        usual = self._everywhere.get(style)
        if usual is None:
            every = (n for n, rule in enumerate(self.rules) if rule.marking.place == "every")
            usual = self._everywhere[style] = tuple(
                n for n in every if not self.rules[n].styles or style in self.rules[n].styles
            )
        candidates = [n for n in self._placed if stands(self.rules[n].marking, self.rules[n].styles, paragraphs, index)]
        return tuple(sorted((*usual, *candidates))) if candidates else usual

    def opening(self, acting: tuple[int, ...]) -> tuple[Opening, ...]:
        """Return what these rules do to the first lines of a paragraph."""
        if not self._opening:
            return ()
        markings = (self.rules[n].marking for n in acting if n in self._opening)
        return tuple(Opening(one.amount, one.character_style, one.swatch, one.plain) for one in markings)

    def marked(self, p: Paragraph, acting: tuple[int, ...]) -> Paragraph:
        """The paragraph as these rules have it set; itself where they find nothing in it."""
        result = p
        text, rules = p.text, self.rules
        for number in acting:
            rule = rules[number]
            if rule.needs in text:
                result = _marked(result, rule)
        return result


def without_missing(rule: Marking, job: Job) -> Marking:
    """A rule without the styles and colours that its job has no longer."""
    return replace(
        rule,
        paragraph_style=rule.paragraph_style if rule.paragraph_style in job.paragraph_styles else "",
        character_style=rule.character_style if rule.character_style in job.character_styles else "",
        swatch=rule.swatch if rule.swatch in job.swatches else "",
    )


def stands(rule: Marking, styles: frozenset[str], paragraphs: Sequence[Paragraph], index: int) -> bool:
    """Return whether a rule acts on a paragraph, by its style and those about it."""
    style = paragraphs[index].style
    if styles and style not in styles:
        return False
    match rule.place:
        case "every":
            return True
        case "after":
            return any(p.style == rule.beside for p in paragraphs[max(index - rule.count, 0) : index])
        case "before":
            return any(p.style == rule.beside for p in paragraphs[index + 1 : index + 1 + rule.count])
        case "last":
            behind = paragraphs[index + 1] if index + 1 < len(paragraphs) else None
            return behind is None or not _same_run(rule, styles, style, behind.style)
    before = 0
    number = 1 if rule.place == "first" else rule.count
    while (
        before < number
        and index - before - 1 >= 0
        and _same_run(rule, styles, style, paragraphs[index - before - 1].style)
    ):
        before += 1
    return before == number - 1


def _same_run(rule: Marking, styles: frozenset[str], style: str, other: str) -> bool:
    return other in styles if styles else other == style


def finder(rule: Marking, strict: bool = False) -> Callable[[str], Iterator[Stretch]]:
    """Return the function that finds the matches of a rule in a text. Raises MarkingError. A pattern that takes too
    long finds nothing in that text, or raises MarkingError if ``strict``."""
    match rule.stretch:
        case "paragraph":
            return lambda text: iter([(0, len(text))] if text else [])
        case "pattern":
            return _pattern(rule, strict)
        case "between":
            return _between(rule)
        case "up to":
            end = named(rule.end)
            return lambda text: iter(
                [(0, at + len(end) * rule.with_marks)] if end and (at := text.find(end)) > 0 else []
            )
        case "from":
            begin = named(rule.begin)
            return lambda text: iter(
                [(at + len(begin) * (not rule.with_marks), len(text))]
                if begin and (at := text.find(begin)) >= 0
                else []
            )
    if rule.unit == "lines":
        if rule.stretch == "last":
            raise MarkingError("Rules for lines can only name the first ones: first 2 lines.")
        return lambda text: iter(())  # they are known when the text is set (``Opening``)
    return lambda text: iter(_first_or_last(rule, text))


def _pattern(rule: Marking, strict: bool) -> Callable[[str], Iterator[Stretch]]:
    try:
        compiled = regex.compile(pattern_of(rule.begin, escape=False), regex.VERSION1)
    except (regex.error, RecursionError, OverflowError) as error:
        raise MarkingError(f"The regular expression is not valid: {error}.") from error

    def stretches(text: str) -> Iterator[Stretch]:
        try:
            matches = [
                match.span() for match in compiled.finditer(text, timeout=SECONDS) if match.end() > match.start()
            ]
        except TimeoutError as error:
            if strict:
                beginning = " ".join(text.split()[:6])
                raise MarkingError(
                    f"The regular expression takes more than {SECONDS:g} seconds in “{beginning} …” and was not applied"
                    " there. Simplify it."
                ) from error
            return iter(())
        return iter(matches[: rule.times or None])

    return stretches


def _between(rule: Marking) -> Callable[[str], Iterator[Stretch]]:
    begin, end = named(rule.begin), named(rule.end)
    if not begin or not end:
        raise MarkingError("A rule from one mark through another needs both marks.")

    def each(text: str) -> Iterator[Stretch]:
        at = 0
        while (a := text.find(begin, at)) >= 0 and (b := text.find(end, a + len(begin))) >= 0:
            yield (a, b + len(end)) if rule.with_marks else (a + len(begin), b)
            at = b + len(end)

    return lambda text: islice(each(text), rule.times or None)


def _first_or_last(rule: Marking, text: str) -> list[Stretch]:
    if rule.unit == "characters":
        units = [(at, at + 1) for at, sign in enumerate(text) if not sign.isspace()]
    else:
        units = [match.span() for match in (_WORD if rule.unit == "words" else _SENTENCE).finditer(text)]
    if not units:
        return []
    if rule.stretch == "first":
        return [(units[0][0], units[min(rule.amount, len(units)) - 1][1])]
    return [(units[-min(rule.amount, len(units))][0], units[-1][1])]


def _marked(p: Paragraph, rule: _Rule) -> Paragraph:
    marking = rule.marking
    stretches = [(a, b) for a, b in rule.find(p.text) if a < b]
    if not stretches:
        return p
    whole = marking.stretch == "paragraph"
    if whole and marking.paragraph_style:
        p = replace(p, style=marking.paragraph_style)
    if whole and marking.plain:
        p = replace(p, para=None, type=None)
    look = TypeSpec(swatch=marking.swatch) if marking.swatch else None
    for a, b in stretches:
        if marking.plain:
            p = story_text.respanned(p, a, b, None, "")
        if marking.character_style or look:
            p = story_text.respanned(p, a, b, look, marking.character_style or None)
        if marking.hidden:
            anchors = (
                *story_text.cut_spans(p.spans, 0, a),
                Span(a, b, marking.character_style or None, object=HIDDEN),
                *story_text.cut_spans(p.spans, b, len(p.text), b),
            )
            p = replace(p, spans=anchors)
    return p


def stretches(rule: Marking, job: Job, strict: bool = False) -> Iterator[tuple[str, Paragraph, int, int]]:
    """Return where a rule would apply in the stories of a job: the story, the paragraph, start and end. Raises
    MarkingError."""
    find, styles = finder(rule, strict), frozenset(rule.styles)
    for story in sorted(job.stories.values(), key=lambda one: one.id != job.main_story):
        if story.kind != "text":
            continue
        for index, p in enumerate(story.paragraphs):
            if stands(rule, styles, story.paragraphs, index):
                yield from ((story.id, p, a, b) for a, b in find(p.text) if a < b)


def done_once(rule: Marking, job: Job) -> dict[str, tuple[Paragraph, ...]]:
    """The paragraphs that a rule changes, as if it had been set by hand, by text. Raises MarkingError."""
    if rule.hidden:
        raise MarkingError("Text can be hidden only by a rule that is on, so this rule cannot be applied once.")
    if rule.unit == "lines" and rule.stretch == "first":
        raise MarkingError("Lines change whenever the text changes, so a rule for lines cannot be applied once.")
    act = _rule(rule, job)
    replaced: dict[str, tuple[Paragraph, ...]] = {}
    for story in job.stories.values():
        if story.kind != "text":
            continue
        changed = tuple(
            other
            for index, p in enumerate(story.paragraphs)
            if stands(rule, act.styles, story.paragraphs, index)
            and (other := replace(result := _marked(p, act), spans=story_text.tidy(result.spans))) != p
        )
        if changed:
            replaced[story.id] = changed
    return replaced
