"""Clean-ups: what writers do by hand that a page does itself, found in a manuscript, counted, and put right where that
is wanted.

Each is one entry of ``CLEAN_UPS`` with a finder for the text of a paragraph, or with none: those are about whole
paragraphs, and whoever puts paragraphs together asks for them (``Cleaner.is_enabled``). Common practice of typesetters,
no source; the spaces of French after the Imprimerie nationale's rules, from memory."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

from lexigon.core.document.model import OBJECT, Span
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.manuscript.review.fixes import Finder, Fix, by_pattern, fixed
from lexigon.core.manuscript.review.typography import dashes, ellipses, quotes, ranges

EXAMPLES = 3
AROUND = 28
"""Characters shown on each side of an example."""
NARROW, NO_BREAK = "\u202f", "\u00a0"
TYPOGRAPHIC = ("dashes", "ellipses", "ranges", "quotes")
"""What belongs together where only typographic marks are asked for."""


TITLES = {
    "en": "Mr|Mrs|Ms|Miss|Messrs|Dr|St|Sir|Dame|Prof|Rev",
    "de": "Herrn?|Frau|Dr|Prof|St",
    "fr": r"M(?=\.)|MM(?=\.)|Mme|Mmes|Mlle|Dr|Pr|St|Ste",
}
"""Words that a line does not end with where a name follows, with or without a full stop."""

_DIGIT = re.compile(r"\d").search


@dataclass(slots=True, frozen=True)
class CleanUp:
    id: str
    word: str
    """What is found, such as double spaces."""
    became: str
    """What is done about it."""
    find: Finder | None = None
    standard: bool = False
    """Done unless it is switched off."""
    prose: bool = False
    """Not in verse, whose lines and spaces are meant."""


def _stops(text: str, language: str) -> Iterator[Fix]:
    """Spaces before a stop; French has them before its high ones."""
    signs = ",." if language.startswith("fr") else ",.;:!?"
    for match in re.finditer(rf"(?<=[^\W_])[ {NO_BREAK}]+(?=[{signs}](?![.\w]| \.))", text):
        yield Fix(*match.span(), "")


def _spacing(text: str, language: str) -> Iterator[Fix]:
    """No-break spaces where a language has them: French marks, German abbreviations, numbers and their units."""
    fixes: list[Fix] = []
    space = f"[ {NO_BREAK}{NARROW}]"
    if language.startswith("fr"):
        fixes += _spaced(text, rf"(?<=[\w»”)…]){space}*(?=[;!?](?!\w))", NARROW)
        fixes += _spaced(
            text, rf"(?<=[\w»”)…]){space}*(?=:(?:\s|$))|(?<=«){space}*(?=\S)|(?<=\S){space}*(?=»)", NO_BREAK
        )
    if language.startswith("de"):
        fixes += _spaced(text, rf"(?<=\b[zdusivo]\.){space}?(?=[BhaAUÄRTdEeou]\.)", NARROW)
    if _DIGIT(text):
        fixes += _spaced(
            text, rf"(?<=\d){space}(?=(?:mm|cm|m|km|g|kg|l|ml|ha|°C|°F|h|min|Hz|kHz|V|W|kW|€|£|%)(?![\w’']))", NO_BREAK
        )
        fixes += _spaced(text, rf"\b(?:Nr|No|Nos|pp|p|Bd|vol)\.({space})(?=\d)|(?<=§){space}?(?=\d)", NO_BREAK)
    fixes += _spaced(text, rf"(?<=\S){space}(?=[–—]{space})", NO_BREAK)  # a dash does not begin a line
    titles = TITLES.get(language[:2])
    if titles is not None:
        fixes += _spaced(text, rf"\b(?:{titles})\.?({space})(?=[A-ZÀ-Þ])", NO_BREAK)
    end = 0
    for fix in sorted(fixes, key=lambda one: one.start):
        if fix.start >= end:
            yield fix
            end = max(fix.end, fix.start + 1)


def _spaced(text: str, pattern: str, sign: str) -> Iterator[Fix]:
    """Another space where a pattern is found: in place of its group, where that took part, else of all of it."""
    for match in re.finditer(pattern, text):
        group = match.lastindex or 0
        if match[group] != sign:
            yield Fix(*match.span(group), sign)


CLEAN_UPS: tuple[CleanUp, ...] = (
    CleanUp("front", "Front matter that is not in the usual order", "put in order, each on a separate page"),
    CleanUp("empty", "Empty paragraphs used as space", "left out; the styles make the space", standard=True),
    CleanUp("indents", "Indents made of tabs or spaces", "left out; the styles indent", standard=True, prose=True),
    CleanUp("parted", "Sentences broken over two paragraphs", "joined again"),
    CleanUp(
        "lines",
        "Line breaks within a sentence",
        "a space",
        by_pattern(rf"(?<=[^\W\d_]|,) *{LINE_BREAK} *(?=[^\W\d_A-ZÀ-Þ])", " ", doubtful=True, needs=LINE_BREAK),
        prose=True,
    ),
    CleanUp(
        "divided",
        "Words hyphenated by hand (exam- ple)",
        "joined",
        by_pattern(
            rf"(?<=[a-zß-ÿ])-[ {LINE_BREAK}]+(?=[a-zß-ÿ])(?!(?:and|or|to|und|oder|bis|et|ou|y|o|e)\b)",
            "",
            doubtful=True,
            needs="-",
        ),
    ),
    CleanUp("soft", "Soft hyphens", "left out; words are divided by dictionary", by_pattern("\u00ad", needs="\u00ad")),
    CleanUp(
        "tabs", "Tabs within a line", "a space", by_pattern(r"(?<=\S)[ \t]*\t[ \t]*(?=\S)", " ", needs="\t"), prose=True
    ),
    CleanUp(
        "spaces",
        "Double spaces",
        "one space",
        by_pattern(r"(?<=\S) {2,}(?=\S)", " ", needs="  "),
        standard=True,
        prose=True,
    ),
    CleanUp("stops", "Spaces before punctuation", "left out", _stops),
    CleanUp("dashes", "Hyphens used as dashes", "dashes of the language", dashes),
    CleanUp("ellipses", "Three full stops for an ellipsis", "one character", ellipses),
    CleanUp("ranges", "Hyphens between numbers", "dashes", ranges),
    CleanUp("quotes", "Straight quotation marks and apostrophes", "those of the language", quotes),
    CleanUp(
        "spacing", "Spaces where a line must not break", "no-break spaces of the language", _spacing, standard=True
    ),
)
"""In the order in which they are done: each sees what those before it have made, where they are wanted."""
BY_ID = {one.id: one for one in CLEAN_UPS}


def typographic(enabled: bool) -> dict[str, bool]:
    """Typographic characters, and no other clean-up."""
    return dict.fromkeys(TYPOGRAPHIC, enabled)


@dataclass(slots=True, frozen=True)
class Example:
    """A place with what stands about it: as it was, and as it would be."""

    before: str
    was: str
    now: str
    behind: str


@dataclass(slots=True)
class CleanUpFinding:
    """The findings of a clean-up in a manuscript."""

    id: str
    word: str
    became: str
    on: bool
    count: int = 0
    doubtful: int = 0
    examples: list[Example] = field(default_factory=list)

    def add(self, text: str, fix: Fix) -> None:
        self.count += 1
        self.doubtful += fix.doubtful
        if len(self.examples) < EXAMPLES:
            self.examples.append(_example(text, fix))


def _example(text: str, fix: Fix) -> Example:
    text = text.replace(OBJECT, "") if OBJECT not in text[: fix.end] else text.replace(OBJECT, "·")
    return Example(
        text[max(fix.start - AROUND, 0) : fix.start],
        text[fix.start : fix.end],
        fix.text,
        text[fix.end : fix.end + AROUND],
    )


def _base(language: str) -> str:
    return language.split("-")[0].casefold()


def _touches(fix: Fix, start: int, end: int) -> bool:
    """Return whether a fix changes anything of a passage, or lies right at one of its edges within it."""
    return fix.start < end and fix.end > start if fix.start < fix.end else start < fix.start < end


class Cleaner:
    """Does the requested clean-ups, and reports the findings of all of them. ``chosen`` overrides the defaults, by
    id."""

    def __init__(self, language: str = "en-GB", chosen: Mapping[str, bool] = MappingProxyType({})) -> None:
        self.language = language
        self._found = {
            one.id: CleanUpFinding(one.id, one.word, one.became, chosen.get(one.id, one.standard)) for one in CLEAN_UPS
        }
        self.doubts: list[str] = []

    @property
    def findings(self) -> tuple[CleanUpFinding, ...]:
        return tuple(one for one in self._found.values() if one.count)

    def clean(self, text: str, spans: tuple[Span, ...] = (), verse: bool = False) -> tuple[str, tuple[Span, ...]]:
        """The text of a paragraph, with its spans, as it is after the clean-ups that are wanted."""
        for one in CLEAN_UPS:
            if one.find is None or (one.prose and verse):
                continue
            fixes = list(self._fixes(one.find, text, spans))
            if not fixes:
                continue
            places = self._found[one.id]
            for fix in fixes:
                places.add(text, fix)
            if places.on:
                cleaned, spans = fixed(text, spans, fixes)
                self._doubt(cleaned, fixes)
                text = cleaned
        return text, spans

    def _fixes(self, find: Finder, text: str, spans: tuple[Span, ...]) -> Iterable[Fix]:
        """Return what a clean-up finds, by the rules of the language that each place is in: the spaces of French stay
        in French."""
        foreign = [(one.start, one.end, one.type.language) for one in spans if one.type and one.type.language]
        foreign = [one for one in foreign if _base(one[2]) != _base(self.language)]
        if not foreign:
            return find(text, self.language)
        fixes = [fix for fix in find(text, self.language) if not any(_touches(fix, a, b) for a, b, _ in foreign)]
        for language in dict.fromkeys(language for _, _, language in foreign):
            areas = [(a, b) for a, b, other in foreign if other == language]
            fixes += [fix for fix in find(text, language) if any(a <= fix.start and fix.end <= b for a, b in areas)]
        return sorted(fixes, key=lambda fix: fix.start)

    def is_enabled(self, id_: str, text: str, fix: Fix) -> bool:
        """A place that a clean-up of whole paragraphs found; whether it is to be done."""
        places = self._found[id_]
        places.add(text, fix)
        if places.on and fix.doubtful:
            self._doubt(text, [fix])
        return places.on

    def _doubt(self, replacement: str, fixes: Iterable[Fix]) -> None:
        shift = 0
        for fix in fixes:
            at = fix.start + shift
            shift += len(fix.text) - (fix.end - fix.start)
            if fix.doubtful:
                self.doubts.append(replacement[max(at - AROUND, 0) : at + AROUND].strip())
